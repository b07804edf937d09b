package plan

import (
	"time"

	"uskel/core/climate"
	"uskel/core/condition"
	"uskel/core/contact"
	"uskel/core/film"
	"uskel/core/measure"
	"uskel/core/procedure"
	"uskel/core/shelf"
	"uskel/core/timing"
	"uskel/core/vehicle"
)

// Job is everything a plan is made from.
type Job struct {
	Vehicle  vehicle.Vehicle
	LookOver condition.LookOver
	Weather  climate.Weather // outside; the place's cover is applied here
	Hardness measure.Hardness
	Solids   float64 // dissolved solids, mg/l
	Shelf    []shelf.Product
	Pins     procedure.Pins // the shop's way of settling disagreements
	// Standards are the shop's own times; a step without one takes what its procedure says.
	Standards timing.Standards
	// Arranged is what the lead arranged for one procedure; others are filled as they are written.
	Arranged Arranged
	// At is the hour of the wash, Past what was done to the vehicle before, Trainee whether who washes is still learning.
	At      time.Time
	Past    condition.Past
	Trainee bool
	// Launder is what laundering a cloth costs, WaterPrice a cubic metre of water, minor units.
	Launder, WaterPrice measure.Money
	// Cloths are the sets that the shop has: a step's cloth is called by the shop's own mark for what it is for.
	Cloths []shelf.ClothStock
	// Buckets is how many rinse buckets the shop has; one when zero.
	Buckets int
	// Menu is what the shop sells; the look-over names the service by its id.
	Menu condition.Menu
	// Aim is the scratch risk that contact steps are planned to stay under; contact.DefaultAim when zero.
	Aim float64
}

// Lacquer is how easily the vehicle's paint marks, with what was put on all of it.
func (j Job) Lacquer() contact.Lacquer {
	shield := contact.NoShield
	switch j.LookOver.Protection.Kind {
	case condition.FilmWrap:
		shield = contact.FilmedPaint
	case condition.Coating:
		shield = contact.CoatedPaint
	}
	return contact.LacquerOf(j.Vehicle, j.LookOver.Watching(vehicle.GlossBlack), shield)
}

// Sheen is how water stands on the job's paint.
func (j Job) Sheen() film.Sheen {
	switch p := j.LookOver.Protection; {
	case p.Water == condition.Beads:
		return film.Beading
	case p.Kind == condition.Bare || p.Water == condition.Flat:
		return film.LyingFlat
	}
	return film.Plain
}

// Windows are how long films stay wet on the job's vehicle, zone by zone, in the weather that the job is planned for.
func (j Job) Windows() film.Window {
	here := j.LookOver.Place.Air(j.Weather)
	known := map[WetPanel]measure.Seconds{}
	return func(zone vehicle.Zone, of climate.Film, _ measure.Seconds) measure.Seconds {
		part, err := j.Vehicle.Body.Part(zone)
		if err != nil {
			return 0
		}
		key := WetPanel{part.Facing, part.Surface, of}
		if _, there := known[key]; !there {
			panel := climate.Panel{Facing: part.Facing, Surface: part.Surface, Shade: j.Vehicle.Shade,
				Heading: j.LookOver.Place.Heading}
			known[key] = measure.SecondsOf(here.Dry(panel, of).Window)
		}
		return known[key]
	}
}
