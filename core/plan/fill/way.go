package fill

import (
	"slices"

	"uskel/core/condition"
	"uskel/core/plan"
	"uskel/core/procedure"
)

// wayOf follows how the disagreements on direction are settled for this job. What touches paint goes straight; a
// rinse after the contact wash always goes down, one before it may come up where foam is rinsed from the bottom.
func (f *filler) wayOf(s procedure.Step) plan.Way {
	from := func(question condition.Fact) plan.Way {
		if f.facts[question].Text == condition.FromBottom {
			return plan.WayUp
		}
		return plan.WayDown
	}
	wheels := s.Zones == procedure.AllWheels || s.Zones == procedure.Rims || s.Zones == procedure.Tyres
	switch s.Technique {
	case procedure.ContactWash, procedure.ContactTowel:
		switch f.facts[condition.StrokeDirection].Text {
		case condition.UpAndDown:
			return plan.WaySides
		case condition.Crosshatch:
			return plan.WayCrossH
		}
		return plan.WayAlong
	case procedure.Dry:
		if s.Machine != "" || wheels {
			return plan.WayDown
		}
		return plan.WayAlong
	case procedure.Finish:
		if wheels || s.Zones == procedure.NoZones || s.Zones == procedure.AllShuts {
			return plan.NoWay
		}
		return plan.WayAlong
	case procedure.Rinse:
		if f.foamed(s.Ends) && !f.contacted {
			return from(condition.FoamOffFrom)
		}
		return plan.WayDown
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
		return plan.WayDown
	}
	return plan.NoWay
}

// foamed reports whether any of some steps put foam on.
func (f *filler) foamed(ids []string) bool {
	return slices.ContainsFunc(f.plan.Steps, func(s plan.FilledStep) bool {
		return slices.Contains(ids, s.ID) && s.Foams()
	})
}
