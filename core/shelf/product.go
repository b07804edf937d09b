package shelf

import (
	"errors"
	"fmt"
	"slices"

	"uskel/core/measure"
	"uskel/core/procedure"
	"uskel/core/vehicle"
	"uskel/core/wrong"
)

// SunLabel is what a product's label says of the sun.
type SunLabel string

// What labels say.
const (
	InAnyLight SunLabel = ""
	NeverInSun SunLabel = "never in the sun"
)

// Values lists what labels say; nothing is said as nothing.
func (SunLabel) Values() []string { return []string{string(InAnyLight), string(NeverInSun)} }

// Product is what stands on the shelf for a class. Its label wins over the procedure's dwell.
type Product struct {
	ID         string                 `json:"id" maxLength:"80"`
	Name       string                 `json:"name" minLength:"1" maxLength:"80"`
	Class      procedure.ProductClass `json:"class"`
	Ratio      *measure.Ratio         `json:"ratio,omitempty" doc:"The label's ratio; absent when used neat"`
	Reading    measure.Reading        `json:"reading" doc:"How the label prints it"`
	DwellMin   measure.Seconds        `json:"dwellMin,omitempty" minimum:"0" doc:"Label's shortest dwell, s"`
	DwellMax   measure.Seconds        `json:"dwellMax" minimum:"0" doc:"Label's longest dwell, s; 0 when it names none"`
	WorksOn    []vehicle.Surface      `json:"worksOn,omitempty" maxItems:"10" doc:"surfaces it is made for; any when empty"`
	Forbids    []vehicle.Surface      `json:"forbids,omitempty" maxItems:"10" doc:"surfaces it must not meet"`
	Sheet      string                 `json:"sheet,omitempty" maxLength:"400" doc:"where its safety data sheet is"`
	CostPerL   measure.Money          `json:"costPerLitre" doc:"minor units per litre"`
	PH         float64                `json:"ph" minimum:"0" maximum:"14"`
	Cautions   string                 `json:"cautions" maxLength:"400"`
	ColdWater  bool                   `json:"coldWater" doc:"Wants cold water"`
	ForbidsHot bool                   `json:"forbidsHot"`
	Sun        SunLabel               `json:"sun,omitempty" doc:"What the label says of the sun"`
}

// Check names what cannot be on a label.
func (p Product) Check() error {
	var errs []error
	if p.DwellMax > 0 && p.DwellMin > p.DwellMax {
		errs = append(errs, wrong.At("dwellMin", "%s: longer than the longest, %s", p.DwellMin, p.DwellMax))
	}
	if p.CostPerL < 0 {
		errs = append(errs, wrong.At("costPerLitre", "%d: zero or more", p.CostPerL))
	}
	for _, surface := range p.WorksOn {
		if slices.Contains(p.Forbids, surface) {
			errs = append(errs, wrong.At("forbids", "%q: it is also said to work on it", surface))
		}
	}
	return errors.Join(errs...)
}

// Forbidden finds a surface among some parts that the label keeps the product off.
func (p Product) Forbidden(parts []vehicle.Part) (vehicle.Surface, bool) {
	for _, part := range parts {
		if slices.Contains(p.Forbids, part.Surface) || len(p.WorksOn) > 0 && !slices.Contains(p.WorksOn, part.Surface) {
			return part.Surface, true
		}
	}
	return "", false
}

// Otherwise names a procedure that reads a product's ratio in another way than its label: 1:10 in ten parts of water is
// a tenth stronger than one part in ten.
func (p Product) Otherwise(reads Reads) string {
	if p.Ratio == nil {
		return ""
	}
	for _, reading := range p.Reading.Values() {
		if title, there := reads[p.Class][measure.Reading(reading)]; there && measure.Reading(reading) != p.Reading {
			return fmt.Sprintf("%s reads it “%s”", title, reading)
		}
	}
	return ""
}
