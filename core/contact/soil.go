// Package contact models grit: what lies on a panel, what a cloth picks up, hides and drags, what the
// buckets take away and give back, and from that the plan of flips and rinses with the least harm.
// Equations and values are our own (model) and are explained and calibrated in docs/models.md.
package contact

// Grade is the soil grade of a zone, 0 clean to 4 caked (docs/trade.md, section 3).
type Grade int

// Worst is the highest grade.
const Worst Grade = 4

// Soil is grit on a panel in mg/m2: loose grit that water moves and adherent grit that it hardly does.
type Soil struct{ Loose, Adherent float64 }

// All is the whole, mg/m2.
func (s Soil) All() float64 { return s.Loose + s.Adherent }

// soilByGrade is the grit before any rinse, g/m2 (model).
var soilByGrade = [Worst + 1]struct{ all, adherent float64 }{{0.3, 0.03}, {1.5, 0.12}, {5, 0.30}, {15, 0.60}, {50, 1.2}}

// SoilOf is the grit of a grade before any rinse; grades out of range count as the nearest.
func SoilOf(g Grade) Soil {
	s := soilByGrade[min(max(g, 0), Worst)]
	return Soil{(s.all - s.adherent) * 1000, s.adherent * 1000}
}

// Act is something that takes grit off without touching.
type Act string

// The acts.
const (
	HoseRinse Act = "hose rinse"
	HoseJet   Act = "hose jet rinse" // a hose with a jet nozzle, between hose and pressure washer
	JetRinse  Act = "jet rinse"
	Foam      Act = "foam"
	Citrus    Act = "citrus pre-wash"
	// WetDown is a rinseless pre-spray left to work: it dissolves and drains part, and wraps what is left.
	WetDown Act = "pre-spray"
)

// Values lists the acts.
func (Act) Values() []string {
	return []string{string(HoseRinse), string(HoseJet), string(JetRinse), string(Foam), string(Citrus), string(WetDown)}
}

// leaves is the share of loose and adherent grit that an act leaves (model).
var leaves = map[Act]Soil{
	HoseRinse: {0.25, 0.95},
	HoseJet:   {0.17, 0.93},
	JetRinse:  {0.10, 0.90},
	Foam:      {0.20, 0.65},
	Citrus:    {0.30, 0.45},
	WetDown:   {0.25, 0.80},
}

// wraps is what grit counts of its weight in the cloth when it is touched with an act's product still on it (model).
var wraps = map[Act]float64{WetDown: 0.4, Foam: 0.6}

// Wrapped is the share that grit counts of its weight for drag and load when it is touched with an act's product still
// on it: 1 where the product wraps nothing.
func Wrapped(act Act) float64 {
	if share, wraps := wraps[act]; wraps {
		return share
	}
	return 1
}

// Beaded is what of the loose grit a pre-wash leaves where protected paint beads: it lets go more easily (model).
const Beaded = 0.7

// After is the soil that an act leaves. Effect is the share of the act that was given: a dwell cut
// short or dried loses its effect in proportion.
func (s Soil) After(act Act, effect float64) Soil {
	left, known := leaves[act]
	if !known {
		return s
	}
	effect = min(max(effect, 0), 1)
	return Soil{s.Loose * (1 - effect*(1-left.Loose)), s.Adherent * (1 - effect*(1-left.Adherent))}
}

// AfterAll applies acts in full, one after the other.
func (s Soil) AfterAll(acts ...Act) Soil {
	for _, a := range acts {
		s = s.After(a, 1)
	}
	return s
}
