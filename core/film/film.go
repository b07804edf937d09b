// Package film is the wet clock: what each zone of a vehicle is wet with, since when, and until what takes it off, wets
// it again or lets it dry. It is written from its definition alone (docs/models.md, wet clock) and shares nothing with
// whoever laid the work out, so that it can be held against any plan: of the schedule, of the bay, of a drill.
package film

import (
	"cmp"
	"slices"

	"uskel/core/climate"
	"uskel/core/measure"
	"uskel/core/vehicle"
)

// Coat is what an activity leaves on the vehicle.
type Coat struct {
	Film    climate.Film
	Product bool            // dried product stains: a dwell not kept; dried water leaves spots
	Least   measure.Seconds // a product works at least so long before anything touches it; 0 for what only lies there
	Most    measure.Seconds // by its label; 0 where no label says
	MayDry  bool            // by the school chosen: it is wetted again before it is touched
}

// Leg is a stretch of an activity's route: one zone, from one share of the activity's time to another, 0 to 1. Back is
// set where the zone is gone over from its end to its beginning, as by a foam put on from the bottom.
type Leg struct {
	Zone     vehicle.Zone
	From, To float64
	Back     bool
}

// Act is an activity as it is laid out or as it happened, in seconds from the same moment as all others.
type Act struct {
	ID         string
	Start, End measure.Seconds
	Route      []Leg
	On         *Coat    // what it leaves on the zones of its route
	Off        []string // ids of activities whose coats it takes off there, in part where its route is in part theirs
	Wets       []string // ids of activities whose coats it wets again there: their drying begins anew, their label does not
}

// Window is how long a film stays wet enough on a zone from a moment on. It is asked anew where a film is wetted again:
// by then the sun may stand elsewhere.
type Window func(zone vehicle.Zone, film climate.Film, from measure.Seconds) measure.Seconds

// Outcome is how it went with a coat on a zone.
type Outcome string

// The outcomes. Too soon is a touch before the product has worked, over the label one after its time; dried is what
// dried before it was taken off or wetted again; left on is what nothing takes off.
const (
	Kept      Outcome = "kept"
	TooSoon   Outcome = "too soon"
	OverLabel Outcome = "over the label"
	Dried     Outcome = "dried"
	LeftOn    Outcome = "left on"
)

// Values lists the outcomes.
func (Outcome) Values() []string {
	return []string{string(Kept), string(TooSoon), string(OverLabel), string(Dried), string(LeftOn)}
}

// Wait is how long a coat was on a zone, at the spots of it where that was longest and shortest.
type Wait struct {
	On       string // the activity that put it on
	Off      string // the one that takes it off; empty when nothing does
	Zone     vehicle.Zone
	Film     climate.Film
	Product  bool
	Longest  measure.Seconds // from being put on to being taken off
	Shortest measure.Seconds
	Unwetted measure.Seconds // the longest stretch without being wetted, which is what dries
	Window   measure.Seconds // how long it stays wet in that stretch
	Outcome  Outcome
	By       measure.Seconds // how much it misses; 0 when kept
	At       measure.Seconds // the moment from which it goes wrong; when its last stretch ends, if it does not
}

// spot is where on a zone is looked, as a share along its route of putting on: both ends, between which waits change
// evenly.
var spots = [2]float64{0, 1}

// Check follows every coat on every zone. A stretch of a route that is taken twice counts where it is taken first for
// taking off, and where it is taken last for putting on: what is put on again is wet again. Only acts that begin after
// the coat is on can take it off or wet it. The waits come in the order of the acts, zone by zone.
func Check(acts []Act, window Window) []Wait {
	waits := []Wait{}
	for _, on := range acts {
		if on.On == nil {
			continue
		}
		for _, leg := range on.Route {
			waits = append(waits, follow(on, leg, acts, window))
		}
	}
	return waits
}

// follow is one coat on one zone.
func follow(on Act, leg Leg, acts []Act, window Window) Wait {
	w := Wait{On: on.ID, Zone: leg.Zone, Film: on.On.Film, Product: on.On.Product, Outcome: Kept, Shortest: -1}
	off, offLeg, taken := takes(on, leg, acts)
	if !taken {
		w.Outcome, w.Shortest, w.At = LeftOn, 0, on.at(leg, 1)
		return w
	}
	w.Off = off.ID
	var dries measure.Seconds            // by how much it dries at the worst spot
	var latest, earliest measure.Seconds // when it is taken off where it was on longest, and shortest
	for _, spot := range spots {
		put := on.at(leg, spot)
		gone := off.at(offLeg, across(leg, offLeg, spot))
		wait := gone - put
		if wait > w.Longest {
			w.Longest, latest = wait, gone
		}
		if w.Shortest < 0 || wait < w.Shortest {
			w.Shortest, earliest = wait, gone
		}
		since, lies := put, on.On.Film
		for _, wet := range append(wettings(on, leg, spot, acts), wetting{gone, lies}) {
			if wet.at <= since || wet.at > gone {
				continue
			}
			stays, dry := window(leg.Zone, lies, since), wet.at-since
			if over := dry - stays; w.Unwetted == 0 || over > dries {
				dries, w.Unwetted, w.Window, w.At = over, dry, stays, since+min(stays, dry)
			}
			since, lies = wet.at, wet.film
		}
	}
	w.judge(*on.On, dries)
	switch w.Outcome {
	case OverLabel:
		w.At = latest - w.By
	case TooSoon:
		w.At = earliest
	}
	return w
}

// judge says what the waits come to; what dries is worst, then what is over its label, then what is touched too soon.
func (w *Wait) judge(coat Coat, dries measure.Seconds) {
	switch {
	case dries > 0 && !coat.MayDry:
		w.Outcome, w.By = Dried, dries
	case coat.Most > 0 && w.Longest > coat.Most:
		w.Outcome, w.By = OverLabel, w.Longest-coat.Most
	case w.Shortest < coat.Least:
		w.Outcome, w.By = TooSoon, coat.Least-w.Shortest
	}
}

// takes is the act that takes a coat off a zone first.
func takes(on Act, leg Leg, acts []Act) (Act, Leg, bool) {
	var first Act
	var there Leg
	found := false
	for _, a := range acts {
		if !slices.Contains(a.Off, on.ID) || a.Start < on.at(leg, 0) {
			continue
		}
		at := slices.IndexFunc(a.Route, func(l Leg) bool { return l.Zone == leg.Zone })
		if at >= 0 && (!found || a.at(a.Route[at], 0) < first.at(there, 0)) {
			first, there, found = a, a.Route[at], true
		}
	}
	return first, there, found
}

// wetting is a moment at which a spot is wetted again, and the film that lies there from then on: that of a coat put
// over it, or else its own.
type wetting struct {
	at   measure.Seconds
	film climate.Film
}

// wettings are those of a spot of a zone, in order.
func wettings(on Act, leg Leg, spot float64, acts []Act) []wetting {
	var all []wetting
	for _, a := range acts {
		if !slices.Contains(a.Wets, on.ID) || a.Start < on.at(leg, 0) {
			continue
		}
		for _, l := range a.Route {
			if l.Zone == leg.Zone {
				lies := on.On.Film
				if a.On != nil {
					lies = a.On.Film
				}
				all = append(all, wetting{a.at(l, across(leg, l, spot)), lies})
			}
		}
	}
	slices.SortFunc(all, func(a, b wetting) int { return cmp.Compare(a.at, b.at) })
	return all
}

// at is when an act is at a spot of a leg, a share along the leg in the direction it is gone.
func (a Act) at(leg Leg, along float64) measure.Seconds {
	share := leg.From + along*(leg.To-leg.From)
	return a.Start + measure.Seconds(share*float64(a.End-a.Start)+0.5)
}

// across gives a spot of one leg as a share along another leg over the same zone: the same where both go the same way,
// the other end where they meet.
func across(one, other Leg, along float64) float64 {
	if one.Back != other.Back {
		return 1 - along
	}
	return along
}
