package fill

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"time"

	"uskel/core/climate"
	"uskel/core/condition"
	"uskel/core/contact"
	"uskel/core/measure"
	"uskel/core/plan"
	"uskel/core/procedure"
	"uskel/core/shelf"
	"uskel/core/vehicle"
)

// site is what every procedure for a job shares: the car's parts, the weather at it, and how long each group of
// panels stays wet there.
type site struct {
	job     plan.Job
	here    climate.Weather
	parts   []vehicle.Part
	windows map[wetGroup]driest
	panels  map[plan.WetPanel]measure.Seconds
	// What follows from the job alone: its facts, but for how long a procedure's foam may work, and the soil before
	// the first step.
	facts    condition.Facts
	assessed condition.Assessment
	service  condition.Service
	soiled   map[vehicle.Zone]contact.Soil
	wheels   time.Duration
	mitts    map[string]mittPlan
}

// mittPlan is a contact wash worked out once: procedures with the same pre-wash meet the same grit.
type mittPlan struct {
	plan contact.Plan
	err  error
}

func newSite(job plan.Job) *site {
	s := &site{
		job:     job,
		here:    job.LookOver.Place.Air(job.Weather),
		parts:   job.Vehicle.Body.Parts(),
		windows: map[wetGroup]driest{},
		panels:  map[plan.WetPanel]measure.Seconds{},
		assessed: condition.Assess(
			job.Vehicle,
			job.LookOver,
			job.Menu,
		),
		service: job.Menu.Of(job.LookOver.Service),
		soiled:  map[vehicle.Zone]contact.Soil{},
		wheels:  wheelWork(job),
		mitts:   map[string]mittPlan{},
	}
	for _, part := range s.parts {
		s.soiled[part.Zone] = contact.SoilOf(job.LookOver.Grades[part.Zone])
	}
	s.facts = condition.FactsOf(
		job.Vehicle,
		job.LookOver,
		job.Menu,
		condition.Surroundings{
			FoamWindow: s.driest(procedure.Outside, climate.FoamFilm).window.Duration(),
			SudsWindow: s.driest(procedure.Outside, climate.SudsFilm).window.Duration(),
			WheelLabel: wheelLabel(job).Duration(),
			Hardness:   job.Hardness,
			Here:       s.here,
			Past:       job.Past,
			Now:        job.At,
			Trainee:    job.Trainee,
			Buckets:    job.Buckets,
		},
	)
	return s
}

// wheelLabel is the longest that a wheel cleaner on the shelf may work by its label; a day where none says.
func wheelLabel(j plan.Job) measure.Seconds {
	for _, p := range j.Shelf {
		if p.Class == procedure.WheelCleaner && p.DwellMax > 0 {
			return p.DwellMax
		}
	}
	return 24 * measure.Hour
}

// makeMitt plans a contact wash, or gives the plan made before for the same grit.
func (s *site) makeMitt(
	water measure.Celsius,
	medium contact.Cloth,
	l contact.Lacquer,
	patches []contact.Patch,
	second bool,
	aim float64,
) (contact.Plan, error) {
	key := fmt.Sprint(water, medium, l, second, aim)
	for _, p := range patches {
		key += string(p.Zone) + strconv.FormatFloat(p.Grit, 'f', 1, 64) + strconv.FormatFloat(p.Weight, 'f', 1, 64) +
			strconv.FormatFloat(p.Scale, 'f', 0, 64)
	}
	made, known := s.mitts[key]
	if !known {
		made.plan, made.err = contact.MakeIn(water, medium, l, patches, second, aim)
		s.mitts[key] = made
	}
	return made.plan, made.err
}

// driest is where a film dries first, and after how long.
type driest struct {
	zone   vehicle.Zone
	window measure.Seconds
}

// driest is the shortest drying window over a group's surfaces.
func (s *site) driest(g procedure.ZoneGroup, film climate.Film) driest {
	if known, ok := s.windows[wetGroup{g, film}]; ok {
		return known
	}
	var zones []vehicle.Zone
	for _, part := range s.parts {
		if g.Has(part) {
			zones = append(zones, part.Zone)
		}
	}
	shortest := s.driestOn(zones, film)
	s.windows[wetGroup{g, film}] = shortest
	return shortest
}

// driestOn is the shortest drying window over some zones.
func (s *site) driestOn(zones []vehicle.Zone, film climate.Film) driest {
	shortest := driest{window: math.MaxInt32}
	for _, part := range s.parts {
		if !slices.Contains(zones, part.Zone) {
			continue
		}
		key := plan.WetPanel{Facing: part.Facing, Surface: part.Surface, Film: film}
		window, known := s.panels[key]
		if !known {
			panel := climate.Panel{
				Facing:  part.Facing,
				Surface: part.Surface,
				Shade:   s.job.Vehicle.Shade,
				Heading: s.job.LookOver.Place.Heading,
			}
			window = measure.SecondsOf(s.here.Dry(panel, film).Window)
			s.panels[key] = window
		}
		if window < shortest.window {
			shortest = driest{part.Zone, window}
		}
	}
	return shortest
}

type wetGroup struct {
	zones procedure.ZoneGroup
	film  climate.Film
}

// wheelWork is what four wheels take by hand at the maintenance wash's rate (docs/models.md).
func wheelWork(job plan.Job) time.Duration {
	minutes := 0.0
	for _, z := range []vehicle.Zone{vehicle.WheelFL, vehicle.WheelFR, vehicle.WheelRL, vehicle.WheelRR} {
		minutes += maintenanceWheel * job.Vehicle.Wheels.Factor() * soilFactors[job.LookOver.Grades[z]]
	}
	return time.Duration(minutes * float64(time.Minute))
}

// marked is how the shop marks the cloth that a step asks for: by its own colour where it has one for that, else as the procedure says.
func marked(j plan.Job, cloth, colour string) string {
	if set, there := shelf.SetFor(cloth, colour, j.Cloths); there {
		return set.Colour
	}
	return colour
}
