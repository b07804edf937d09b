package plan

import (
	"slices"

	"uskel/core/condition"
	"uskel/core/procedure"
)

// Way is in which direction a step goes over the car, for the picture in the bay.
type Way string

// The ways. Never circles (docs/trade.md, section 6).
const (
	NoWay     Way = ""
	WayAlong  Way = "along"       // straight, with the airflow
	WayDown   Way = "down"        // from the top
	WayUp     Way = "up"          // from the bottom
	WaySides  Way = "up and down" // up and down on the sides, along on the flats
	WayCrossH Way = "both ways"   // one after the other
)

// Values lists the ways.
func (Way) Values() []string {
	return []string{string(WayAlong), string(WayDown), string(WayUp), string(WaySides), string(WayCrossH)}
}

// wayOf follows how the disagreements on direction are settled for this job. What touches paint goes straight; a
// rinse after the contact wash always goes down, one before it may come up where foam is rinsed from the bottom.
func (f *filler) wayOf(s procedure.Step) Way {
	from := func(question condition.Fact) Way {
		if f.facts[question].Text == condition.FromBottom {
			return WayUp
		}
		return WayDown
	}
	wheels := s.Zones == procedure.AllWheels || s.Zones == procedure.Rims || s.Zones == procedure.Tyres
	switch s.Technique {
	case procedure.ContactWash, procedure.ContactTowel:
		switch f.facts[condition.StrokeDirection].Text {
		case condition.UpAndDown:
			return WaySides
		case condition.Crosshatch:
			return WayCrossH
		}
		return WayAlong
	case procedure.Dry:
		if s.Machine != "" || wheels {
			return WayDown
		}
		return WayAlong
	case procedure.Finish:
		if wheels || s.Zones == procedure.NoZones || s.Zones == procedure.AllShuts {
			return NoWay
		}
		return WayAlong
	case procedure.Rinse:
		if f.foamed(s.Ends) && !f.contacted {
			return from(condition.FoamOffFrom)
		}
		return WayDown
	case procedure.Apply:
		class := s.Class
		if s.Dose != nil {
			class = s.Dose.Class
		}
		if wheels {
			return from(condition.CleanerFrom)
		}
		if class == procedure.FoamProduct || class == procedure.CitrusWash {
			return from(condition.FoamFrom)
		}
		return WayDown
	}
	return NoWay
}

// foamed reports whether any of some steps put foam on.
func (f *filler) foamed(ids []string) bool {
	return slices.ContainsFunc(f.plan.Steps, func(s FilledStep) bool {
		return slices.Contains(ids, s.ID) && s.foams()
	})
}

// foams reports whether the step puts foam on.
func (s FilledStep) foams() bool {
	return s.Class == procedure.FoamProduct || s.Mix != nil && s.Mix.Class == procedure.FoamProduct
}
