package fill

import (
	"fmt"
	"time"

	"uskel/core/contact"
	"uskel/core/measure"
	"uskel/core/plan"
	"uskel/core/procedure"
	"uskel/core/timing"
	"uskel/core/vehicle"
)

// midSizeArea is the area a step works on, on that car.
func midSizeArea(s procedure.Step) float64 {
	if s.Zones != procedure.ChosenZones {
		return midSizeAreas[s.Zones]
	}
	return vehicle.Hatch.AreaOf(s.Only) / hatchScale
}

// panelsOf is the group whose drying counts for a step; chosen zones dry as the outside does, on its worst side.
func panelsOf(s procedure.Step) procedure.ZoneGroup {
	if s.Zones == procedure.ChosenZones {
		return procedure.Outside
	}
	return s.Zones
}

// hatchScale is what the hatch is of the mid-size car.
const hatchScale = 0.85

// midSizeAreas are the areas of the groups on the mid-size car that hands-on times are given for, m2.
var midSizeAreas = func() map[procedure.ZoneGroup]float64 {
	areas := map[procedure.ZoneGroup]float64{}
	for _, name := range procedure.ZoneGroup("").Values() {
		g := procedure.ZoneGroup(name)
		for _, p := range vehicle.Hatch.Parts() {
			if g.Has(p) {
				areas[g] += p.Area / hatchScale
			}
		}
	}
	return areas
}()

// soilFactors scale hands-on time with grade (model, docs/models.md).
var soilFactors = [contact.Worst + 1]float64{0.85, 1, 1.15, 1.35, 1.7}

func (f *filler) minutes(step *plan.FilledStep, s procedure.Step) {
	total, from := s.Time.Fixed/f.partsNow(), ""
	if total > 0 {
		from = fmt.Sprintf("%.1f min fixed", total)
	}
	if s.Time.Body > 0 {
		size := step.Area / midSizeArea(s)
		soil := 1.0
		if s.Time.Soiled {
			soil = f.meanSoil(step.Zones)
		}
		total += s.Time.Body * size * soil
		from = join(from, fmt.Sprintf("%.1f min x %.2f for size x %.2f for soil", s.Time.Body, size, soil))
	}
	if s.Time.PerWheel > 0 {
		wheels := 0.0
		for _, z := range []vehicle.Zone{vehicle.WheelFL, vehicle.WheelFR, vehicle.WheelRL, vehicle.WheelRR} {
			if f.only != nil && !f.only[z] {
				continue
			}
			w := f.job.Vehicle.Wheels.Factor()
			if s.Time.Soiled {
				w *= soilFactors[f.job.LookOver.Grades[z]]
			}
			wheels += w
		}
		total += s.Time.PerWheel * wheels
		from = join(
			from,
			fmt.Sprintf("%.1f min a wheel x %.2f wheels' worth (size, spokes, soil)", s.Time.PerWheel, wheels),
		)
	}
	if line := f.drawnRound(step, s); line > 0 {
		total += line
		from = join(from, fmt.Sprintf("%.1f min to draw the line round", line))
	}
	step.Written = f.rounded(total)
	step.Minutes = step.Written
	source := "Starting standard, common practice; factors are our model"
	if own, has := f.job.Standards[s.ID]; has && own.Form != timing.AsWritten {
		step.Minutes = f.rounded(own.Of(f.partsNow()).Minutes(total, step.Area, int(f.assessed.Overall)))
		from, source = fmt.Sprintf(
			"%s; as written %.1f min: %s",
			own.Words(),
			step.Written,
			from,
		), "The shop's standard, from its own timings (Times)"
	}
	step.Figures = append(step.Figures, plan.Figure{Name: "Minutes", Value: fmt.Sprintf("%.1f min", step.Minutes), From: from, Source: source})
}

// partsNow is in how many parts the step that is being filled is done.
func (f *filler) partsNow() float64 {
	if f.part == nil {
		return 1
	}
	return float64(f.part.Of)
}

func join(a, b string) string {
	if a == "" {
		return b
	}
	return a + " + " + b
}

// meanSoil is the soil factor of the zones, weighted by area.
func (f *filler) meanSoil(zones []vehicle.Zone) float64 {
	sum, area := 0.0, 0.0
	want := map[vehicle.Zone]bool{}
	for _, z := range zones {
		want[z] = true
	}
	for _, p := range f.parts {
		if want[p.Zone] {
			sum += soilFactors[f.job.LookOver.Grades[p.Zone]] * p.Area
			area += p.Area
		}
	}
	if area == 0 {
		return 1
	}
	return sum / area
}

// wheelsUnderFoam is what the wheels take in the procedure's own step for doing them while foam works; by the maintenance
// wash's rate where it has none.
func (f *filler) wheelsUnderFoam(p procedure.Procedure) time.Duration {
	for _, s := range p.Steps() {
		if s.During != "" && s.Zones == procedure.AllWheels {
			perWheel := s.Time.PerWheel / maintenanceWheel
			return time.Duration(float64(f.wheels) * perWheel)
		}
	}
	return f.wheels
}

// walked is what walking from wheel to wheel and a slower hand add to the wheels' time (model).
const walked = 1.15

// maintenanceWheel is what a wheel takes in the maintenance wash, min (docs/models.md).
const maintenanceWheel = 3.5

// rounded is to a tenth of a minute; parts of a step more finely, so that they add up.
func (f *filler) rounded(minutes float64) float64 {
	if f.part != nil {
		return measure.Hundredths(minutes)
	}
	return measure.Tenths(minutes)
}
