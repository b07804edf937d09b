package contact

import (
	"fmt"
	"math"

	"uskel/core/vehicle"
)

// FreshPlan is a wash in which every face is used once and nothing is rinsed: folded towels, or many mitts.
type FreshPlan struct {
	Cloths, Faces                    int
	PerFace, Index, Left, Drag, Harm float64
}

// mostCloths is where such a wash stops being one.
const mostCloths = 40

// Fresh counts the cloths for a wash without a rinse bucket: a fresh face whenever the one in use reaches the paint's
// limit, and one for each zone, so that nothing travels from zone to zone.
func Fresh(cloth Cloth, l Lacquer, patches []Patch) (FreshPlan, error) {
	var t FreshPlan
	for _, p := range patches {
		reach := cloth.reach(Face{}, p.cuts(), p.Area, l.Limit)
		if reach <= 0 {
			return FreshPlan{}, fmt.Errorf(
				"%.0f mg/m2 of grit on the %s is too much for a %s: rinse and foam first",
				p.Grit,
				p.Zone.Label(),
				cloth,
			)
		}
		n := int(math.Ceil(p.Area/reach - 1e-9))
		_, drag := cloth.touch(Face{}, p.cuts(), p.Area/float64(n))
		if p.Zone.Surface() == vehicle.Glass {
			drag *= glassHarm
		}
		t.Faces += n
		t.Drag += drag * float64(n)
		t.Harm += p.marks(l, drag*float64(n))
		t.Left += (1 - picksUp) * p.Grit * p.Area
	}
	t.Cloths = int(math.Ceil(float64(t.Faces) / float64(cloth.Faces())))
	if t.Cloths > mostCloths {
		return FreshPlan{}, fmt.Errorf(
			"it would take %d of %s (%d faces): rinse and foam first",
			t.Cloths,
			cloth,
			t.Faces,
		)
	}
	t.Index, t.PerFace = Index(t.Harm), perFace(cloth, l, patches)
	return t, nil
}

// Given is the same wash with so many cloths, whatever the dirt: every face does the same area, over from one zone to
// the next, and nothing is rinsed. What that costs the paint is in the index.
func Given(cloth Cloth, l Lacquer, patches []Patch, cloths int) FreshPlan {
	t := FreshPlan{Cloths: cloths, Faces: cloths * cloth.Faces()}
	area := 0.0
	for _, p := range patches {
		area += p.Area
	}
	t.PerFace = area / float64(t.Faces)
	face, room := Face{}, t.PerFace
	for _, p := range order(patches) {
		for left := p.Area; left > 1e-9; {
			if room <= 1e-9 {
				face, room = Face{}, t.PerFace
			}
			stretch := min(left, room)
			var drag float64
			face, drag = cloth.touch(face, p.cuts(), stretch)
			if p.Zone.Surface() == vehicle.Glass {
				drag *= glassHarm
			}
			t.Drag += drag
			t.Harm += p.marks(l, drag)
			left, room = left-stretch, room-stretch
		}
		t.Left += (1 - picksUp) * p.Grit * p.Area
	}
	t.Index = Index(t.Harm)
	return t
}

// perFace is what a clean face does of the dirtiest zone above the lower band before its exposed grit passes the
// limit, m2.
func perFace(cloth Cloth, lacquer Lacquer, patches []Patch) float64 {
	dirtiest := 0.0
	for _, p := range patches {
		if p.Band == vehicle.Upper {
			dirtiest = max(dirtiest, p.cuts())
		}
	}
	return cloth.reach(Face{}, dirtiest, 20, lacquer.Limit)
}
