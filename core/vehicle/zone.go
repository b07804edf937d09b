// Package vehicle describes what is washed: bodies, their zones with band, facing, surface and area,
// the paint and the watch list (docs/trade.md, section 2).
package vehicle

import (
	"slices"
	"strings"
)

// Zone is one washable part of a vehicle. The same names are used in look-over, plan, bay and audit.
type Zone string

// The zones. Left and right are as seen by the driver.
const (
	Roof        Zone = "roof"
	Bonnet      Zone = "bonnet"
	BootLid     Zone = "boot-lid"
	Windscreen  Zone = "windscreen"
	RearGlass   Zone = "rear-glass"
	GlassLeft   Zone = "glass-left"
	GlassRight  Zone = "glass-right"
	MirrorLeft  Zone = "mirror-left"
	MirrorRight Zone = "mirror-right"
	UpperLeft   Zone = "upper-left"
	UpperRight  Zone = "upper-right"
	LowerLeft   Zone = "lower-left"
	LowerRight  Zone = "lower-right"
	Front       Zone = "front"
	Rear        Zone = "rear"
	WheelFL     Zone = "wheel-fl"
	WheelFR     Zone = "wheel-fr"
	WheelRL     Zone = "wheel-rl"
	WheelRR     Zone = "wheel-rr"
	TyreFL      Zone = "tyre-fl"
	TyreFR      Zone = "tyre-fr"
	TyreRL      Zone = "tyre-rl"
	TyreRR      Zone = "tyre-rr"
	ArchFL      Zone = "arch-fl"
	ArchFR      Zone = "arch-fr"
	ArchRL      Zone = "arch-rl"
	ArchRR      Zone = "arch-rr"
	Shuts       Zone = "shuts"
	Underside   Zone = "underside"
	Tips        Zone = "tips"
)

// Band is the height band, which decides the order of washing and which cloth may touch.
type Band string

// The bands, clean first.
const (
	Upper  Band = "upper"
	Middle Band = "middle"
	Lower  Band = "lower"
	Wheels Band = "wheels"
	InShut Band = "shuts"
	Under  Band = "under"
	Trim   Band = "trim"
)

// Values lists the bands.
func (Band) Values() []string {
	return []string{"upper", "middle", "lower", "wheels", "shuts", "under", "trim"}
}

// Facing is the direction a zone looks in, which decides the sun on it and how water leaves it.
type Facing string

// The facings.
const (
	FacesUp    Facing = "up"
	FacesFront Facing = "front"
	FacesRear  Facing = "rear"
	FacesLeft  Facing = "left"
	FacesRight Facing = "right"
	FacesDown  Facing = "down"
	FacesAll   Facing = "all"
)

// Values lists the facings.
func (Facing) Values() []string {
	return []string{"up", "front", "rear", "left", "right", "down", "all"}
}

// Surface is what a zone is made of.
type Surface string

// The surfaces.
const (
	Paint  Surface = "paint"
	Glass  Surface = "glass"
	Fabric Surface = "fabric"
	Rim    Surface = "rim"
	Rubber Surface = "rubber"
	Liner  Surface = "liner"
	Metal  Surface = "metal"
)

// Values lists the surfaces.
func (Surface) Values() []string {
	return []string{"paint", "glass", "fabric", "rim", "rubber", "liner", "metal"}
}

// zoneFacts holds, in the order of a walk round the car, each zone's constant facts and its area in m2 on a mid-size
// five-door. Areas: docs/trade.md, section 2 (model). Glass is 2.6 m2 in all there; the split is ours (model).
var zoneFacts = []Part{
	{Roof, "roof", Upper, FacesUp, Paint, 1.6},
	{Bonnet, "bonnet", Upper, FacesUp, Paint, 1.4},
	{BootLid, "boot lid", Upper, FacesUp, Paint, 0.7},
	{Windscreen, "windscreen", Upper, FacesUp, Glass, 1.0},
	{RearGlass, "rear glass", Upper, FacesRear, Glass, 0.6},
	{GlassLeft, "side glass, left", Upper, FacesLeft, Glass, 0.5},
	{GlassRight, "side glass, right", Upper, FacesRight, Glass, 0.5},
	{MirrorLeft, "mirror, left", Upper, FacesLeft, Paint, 0.05},
	{MirrorRight, "mirror, right", Upper, FacesRight, Paint, 0.05},
	{UpperLeft, "upper doors and wings, left", Middle, FacesLeft, Paint, 1.5},
	{UpperRight, "upper doors and wings, right", Middle, FacesRight, Paint, 1.5},
	{LowerLeft, "lower doors and sill, left", Lower, FacesLeft, Paint, 1.0},
	{LowerRight, "lower doors and sill, right", Lower, FacesRight, Paint, 1.0},
	{Rear, "rear bumper", Lower, FacesRear, Paint, 1.0},
	{Front, "front bumper and grille", Lower, FacesFront, Paint, 0.9},
	{WheelFL, "wheel, front left", Wheels, FacesLeft, Rim, 0.25},
	{TyreFL, "tyre, front left", Wheels, FacesLeft, Rubber, 0.15},
	{ArchFL, "arch, front left", Wheels, FacesLeft, Liner, 0.3},
	{WheelRL, "wheel, rear left", Wheels, FacesLeft, Rim, 0.25},
	{TyreRL, "tyre, rear left", Wheels, FacesLeft, Rubber, 0.15},
	{ArchRL, "arch, rear left", Wheels, FacesLeft, Liner, 0.3},
	{WheelRR, "wheel, rear right", Wheels, FacesRight, Rim, 0.25},
	{TyreRR, "tyre, rear right", Wheels, FacesRight, Rubber, 0.15},
	{ArchRR, "arch, rear right", Wheels, FacesRight, Liner, 0.3},
	{WheelFR, "wheel, front right", Wheels, FacesRight, Rim, 0.25},
	{TyreFR, "tyre, front right", Wheels, FacesRight, Rubber, 0.15},
	{ArchFR, "arch, front right", Wheels, FacesRight, Liner, 0.3},
	{Shuts, "door, boot and filler shuts", InShut, FacesAll, Paint, 0.8},
	{Underside, "underside", Under, FacesDown, Metal, 3.5},
	{Tips, "exhaust tips", Trim, FacesRear, Metal, 0.02},
}

var zoneIndex = func() map[Zone]int {
	index := make(map[Zone]int, len(zoneFacts))
	for i, p := range zoneFacts {
		index[p.Zone] = i
	}
	return index
}()

// Values lists the zones in the order of a walk round the car.
func (Zone) Values() []string {
	names := make([]string, len(zoneFacts))
	for i, p := range zoneFacts {
		names[i] = string(p.Zone)
	}
	return names
}

// Known reports whether z is a zone.
func (z Zone) Known() bool { _, ok := zoneIndex[z]; return ok }

// Label is the zone's name as said in the bay; empty for an unknown zone.
func (z Zone) Label() string { return z.facts().Label }

// Band is the zone's height band.
func (z Zone) Band() Band { return z.facts().Band }

// Surface is what the zone is made of on a car with a painted roof.
func (z Zone) Surface() Surface { return z.facts().Surface }

// Painted reports whether the zone is paint that the mitt touches in a contact wash. Shuts are
// painted but have their own towel and their own step.
func (z Zone) Painted() bool { return z.facts().Surface == Paint && z.facts().Band != InShut }

func (z Zone) facts() Part {
	if i, ok := zoneIndex[z]; ok {
		return zoneFacts[i]
	}
	return Part{}
}

// ListLabels joins the zones' names for a sentence.
func ListLabels(zones []Zone) string {
	names := make([]string, len(zones))
	for i, z := range zones {
		names[i] = z.Label()
	}
	return strings.Join(names, ", ")
}

// Part is a zone on a particular body, with its area in m2.
type Part struct {
	Zone    Zone    `json:"zone"`
	Label   string  `json:"label"`
	Band    Band    `json:"band"`
	Facing  Facing  `json:"facing"`
	Surface Surface `json:"surface"`
	Area    float64 `json:"area" doc:"m2"`
}

func Meet(a, b []Zone) bool {
	return slices.ContainsFunc(a, func(z Zone) bool { return slices.Contains(b, z) })
}
