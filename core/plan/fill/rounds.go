package fill

import (
	"cmp"
	"slices"
	"strings"

	"uskel/core/climate"
	"uskel/core/contact"
	"uskel/core/film"
	"uskel/core/measure"
	"uskel/core/plan"
	"uskel/core/procedure"
	"uskel/core/schedule"
	"uskel/core/vehicle"
)

// portion is a piece of a car in a round: a wheel, a side, a panel or a section.
type portion struct {
	key, label string
	at         schedule.Place
	zones      []vehicle.Zone
}

// placed is a step of the procedure with its stage.
type placed struct {
	stage procedure.Stage
	step  procedure.Step
}

// withRest gives what belongs to no part, shuts or underside, to the last.
func withRest(parts []portion, touched []vehicle.Part) []portion {
	if len(parts) == 0 {
		return nil
	}
	for _, p := range touched {
		if !slices.ContainsFunc(parts, func(r portion) bool { return slices.Contains(r.zones, p.Zone) }) {
			last := &parts[len(parts)-1]
			last.zones = append(last.zones, p.Zone)
		}
	}
	return parts
}

// cornerPlaces are where one stands at a wheel, by corner.
var cornerPlaces = map[string]schedule.Place{
	"fl": schedule.FrontLeft, "fr": schedule.FrontRight, "rr": schedule.RearRight, "rl": schedule.RearLeft,
}

func byCorner(touched []vehicle.Part) []portion {
	var parts []portion
	for _, key := range procedure.OverWheels.PartKeys() {
		part := portion{key: key, at: cornerPlaces[key], label: string(cornerPlaces[key])}
		for _, p := range touched {
			if p.Zone.Corner() == key {
				part.zones = append(part.zones, p.Zone)
			}
		}
		if len(part.zones) > 0 {
			parts = append(parts, part)
		}
	}
	return parts
}

// sidePlaces are where one stands at a side; at the top one goes round.
var sidePlaces = map[vehicle.Side]schedule.Place{
	vehicle.LeftSide: schedule.LeftSide, vehicle.RightSide: schedule.RightSide,
	vehicle.FrontSide: schedule.FrontEnd, vehicle.RearSide: schedule.RearEnd,
}

func bySide(touched []vehicle.Part) []portion {
	var parts []portion
	for _, key := range procedure.OverSides.PartKeys() {
		side := vehicle.Side(key)
		part := portion{key: key, at: sidePlaces[side], label: side.Label()}
		for _, p := range touched {
			if p.Zone.Side() == side {
				part.zones = append(part.zones, p.Zone)
			}
		}
		if len(part.zones) > 0 {
			parts = append(parts, part)
		}
	}
	return parts
}

// panels are a side's zones one by one; a mirror goes with the glass behind it, a wheel with its tyre and arch.
func panels(side portion) []portion {
	var parts []portion
	for _, z := range side.zones {
		home := z
		switch {
		case z == vehicle.MirrorLeft:
			home = vehicle.GlassLeft
		case z == vehicle.MirrorRight:
			home = vehicle.GlassRight
		case z.Corner() != "":
			home = vehicle.Zone("wheel-" + z.Corner())
		}
		at := slices.IndexFunc(parts, func(p portion) bool { return p.key == string(home) })
		if at < 0 {
			parts = append(parts, portion{key: string(home), label: home.Label(), at: side.at})
			at = len(parts) - 1
		}
		parts[at].zones = append(parts[at].zones, z)
	}
	return parts
}

// evener is by how much the largest section may grow in each try to even sections out.
const evener = 1.05

// shownParts is how many names a section's label lists.
const shownParts = 3

func listed(labels []string) string {
	if len(labels) > shownParts {
		labels = append(slices.Clone(labels[:shownParts-1]), "more")
	}
	if len(labels) < 2 {
		return strings.Join(labels, "")
	}
	return strings.Join(labels[:len(labels)-1], ", ") + " and " + labels[len(labels)-1]
}

// wetSpell is a film inside a round: the step that leaves it, the one that takes care of it, and how long it may lie.
type wetSpell struct {
	from, to int
	film     climate.Film
	least    measure.Seconds // it must work so long
	most     measure.Seconds // its label; 0 where none says
}

// spell is a product on the zones of a step: how long it takes to put on and to take off, and how much longer than from the
// end of the one to the beginning of the other a zone waits, at the longest and at the shortest.
type spell struct {
	putting, taking   measure.Seconds
	longest, shortest measure.Seconds
	opposite          bool // taken off by the way opposite to that by which it was put on
}

func zonesOfParts(parts []vehicle.Part) []vehicle.Zone {
	zones := make([]vehicle.Zone, len(parts))
	for i, p := range parts {
		zones[i] = p.Zone
	}
	return zones
}

// along follows two routes zone by zone, at both ends of each: at share k of the one and m of the other a spot waits
// (1 - k) of the putting on and m of the taking off (docs/models.md, wet clock).
func (w spell) along(on, off []film.Leg) (longest, shortest measure.Seconds) {
	shortest = w.putting + w.taking
	for _, leg := range on {
		at := slices.IndexFunc(off, func(l film.Leg) bool { return l.Zone == leg.Zone })
		if at < 0 {
			continue
		}
		for _, spot := range []float64{0, 1} {
			there := spot
			if leg.Back != off[at].Back {
				there = 1 - spot
			}
			k := leg.From + spot*(leg.To-leg.From)
			m := off[at].From + there*(off[at].To-off[at].From)
			wait := measure.Seconds((1-k)*float64(w.putting) + m*float64(w.taking))
			longest, shortest = max(longest, wait), min(shortest, wait)
		}
	}
	return longest, shortest
}

// bounds are what that comes to at most and at least when it is done in so many sections, whatever the zones.
func (w spell) bounds(sections int) (longest, shortest measure.Seconds) {
	on, off := w.putting/measure.Seconds(sections), w.taking/measure.Seconds(sections)
	if w.opposite {
		return on + off, 0
	}
	return max(on, off), min(on, off)
}

// fetching is what a section costs besides its share of the work: tools taken up again (model).
const fetching = 10 * measure.Second

// rinsesPerM2 is what rinsing the mitt adds to its strokes before the cadence is known, min/m2 by grade (model).
var rinsesPerM2 = [contact.Worst + 1]float64{0.14, 0.14, 0.25, 0.35, 0.35}

// run adds the steps of a round that apply: part by part where the round's condition holds and there is more than one
// part, else one after the other for the whole car.
func (f *filler) run(r procedure.Round, steps []placed) error {
	var each []procedure.Step
	for _, s := range steps {
		if s.step.Once == procedure.EachPart {
			each = append(each, s.step)
		}
	}
	parts := f.partsOf(r, each)
	if len(parts) < 2 {
		return f.addAll(steps, func(procedure.Once) bool { return true })
	}
	if err := f.addAll(steps, func(o procedure.Once) bool { return o == procedure.OnceBefore }); err != nil {
		return err
	}
	for n, part := range parts {
		f.part = &plan.RoundPart{Round: r.ID, Title: r.Title, Over: r.Over, One: r.Over.One(),
			Key: part.key, Label: part.label, N: n + 1, Of: len(parts), At: part.at}
		f.only = map[vehicle.Zone]bool{}
		for _, z := range part.zones {
			f.only[z] = true
		}
		err := f.addAll(steps, func(o procedure.Once) bool { return o == procedure.EachPart })
		f.part, f.only = nil, nil
		if err != nil {
			return err
		}
	}
	return f.addAll(steps, func(o procedure.Once) bool { return o == procedure.OnceAfter })
}

// addAll adds those steps that are wanted; in a part only what has something to do there.
func (f *filler) addAll(steps []placed, wanted func(procedure.Once) bool) error {
	for _, s := range steps {
		here := func(p vehicle.Part) bool { return f.on(s.step, p) }
		nothing := f.part != nil && s.step.Zones != procedure.NoZones && !slices.ContainsFunc(f.parts, here)
		if nothing || !wanted(s.step.Once) {
			continue
		}
		if err := f.add(s.stage, s.step); err != nil {
			return err
		}
	}
	return nil
}

// on reports whether a step works on a part of the vehicle, in the part of the round that is being filled.
func (f *filler) on(s procedure.Step, p vehicle.Part) bool {
	return s.On(p) && (f.only == nil || f.only[p.Zone])
}

// refs are the ids of the plan's steps that a reference of the procedure means: in its round the one of the same part, if
// there is one, elsewhere all that were made from it.
func (f *filler) refs(ids []string) []string {
	var all []string
	for _, id := range ids {
		made, expanded := f.expanded[id]
		here := ""
		if f.part != nil {
			here = id + plan.PartSign + f.part.Key
		}
		switch {
		case !expanded:
			all = append(all, id)
		case slices.Contains(made, here):
			all = append(all, here)
		case f.part == nil || f.roundOf(made[0]) != f.part.Round:
			all = append(all, made...)
		}
	}
	return all
}

// forget takes back that a step was made for a part: it is left out.
func (f *filler) forget(id, made string) {
	f.expanded[id] = slices.DeleteFunc(f.expanded[id], func(x string) bool { return x == made })
	if len(f.expanded[id]) == 0 {
		delete(f.expanded, id)
	}
}

// roundOf is the round that a step of the plan was made by.
func (f *filler) roundOf(id string) string {
	for _, s := range f.plan.Steps {
		if s.ID == id && s.Part != nil {
			return s.Part.Round
		}
	}
	return ""
}

// partsOf are the parts that a round is done in here, in order; none where it is done for the whole car.
func (f *filler) partsOf(r procedure.Round, steps []procedure.Step) []portion {
	if !r.When.Holds(f.facts) || len(steps) == 0 {
		return nil
	}
	var touched []vehicle.Part
	for _, p := range f.parts {
		if slices.ContainsFunc(steps, func(s procedure.Step) bool { return s.On(p) }) {
			touched = append(touched, p)
		}
	}
	var parts []portion
	switch r.Over {
	case procedure.OverWheels:
		parts = byCorner(touched)
	case procedure.OverSides:
		parts = bySide(touched)
	case procedure.OverPanels:
		for _, side := range f.ordered(r, bySide(touched)) {
			parts = append(parts, panels(side)...)
		}
		return withRest(parts, touched)
	case procedure.OverSections:
		var zones []vehicle.Zone
		for _, side := range f.ordered(r, bySide(touched)) {
			zones = append(zones, side.zones...)
		}
		return withRest(f.sections(steps, zones), touched)
	}
	return withRest(f.ordered(r, parts), touched)
}

// ordered puts parts in the round's order.
func (f *filler) ordered(r procedure.Round, parts []portion) []portion {
	parts = slices.Clone(parts)
	var rank func(portion) int
	switch r.Order {
	case procedure.SunnyFirst: // where it dries first the sun is, and there it is begun
		rank = func(p portion) int { return int(f.driestOn(p.zones, climate.SudsFilm).window) }
	case procedure.DirtiestLast:
		rank = func(p portion) int {
			worst := contact.Grade(0)
			for _, z := range p.zones {
				worst = max(worst, f.job.LookOver.Grades[z])
			}
			return int(worst)
		}
	case procedure.AsGiven:
		rank = func(p portion) int {
			if at := slices.Index(r.Given, p.key); at >= 0 {
				return at
			}
			return len(r.Given)
		}
	default:
		return parts
	}
	slices.SortStableFunc(parts, func(a, b portion) int { return cmp.Compare(rank(a), rank(b)) })
	return parts
}

// sections joins zones, in order, into as few sections as may be in which every film is taken care of in time, as alike
// in area as that allows; one section, the whole car, where nothing dries.
func (f *filler) sections(steps []procedure.Step, zones []vehicle.Zone) []portion {
	films := f.filmsOf(steps)
	total := f.areaOf(zones)
	fewest := f.cutZones(films, steps, zones, total)
	best := fewest
	for cap := total / float64(len(fewest)); len(fewest) > 1 && cap < total; cap *= evener {
		if cut := f.cutZones(films, steps, zones, cap); len(cut) == len(fewest) {
			best = cut
			break
		}
	}
	parts := make([]portion, len(best))
	for i, section := range best {
		parts[i] = f.sectionOf(section)
	}
	return parts
}

// cutZones takes zones into a section as long as it keeps in time and under an area, m2.
func (f *filler) cutZones(films []wetSpell, steps []procedure.Step, zones []vehicle.Zone, most float64) [][]vehicle.Zone {
	var cut [][]vehicle.Zone
	var now []vehicle.Zone
	for _, z := range zones {
		next := append(slices.Clone(now), z)
		if len(now) > 0 && (f.areaOf(next) > most+1e-9 || !f.inTime(films, steps, next)) {
			cut, next = append(cut, now), []vehicle.Zone{z}
		}
		now = next
	}
	if len(now) > 0 {
		cut = append(cut, now)
	}
	return cut
}

func (f *filler) areaOf(zones []vehicle.Zone) float64 {
	area := 0.0
	for _, p := range f.parts {
		if slices.Contains(zones, p.Zone) {
			area += p.Area
		}
	}
	return area
}

// sectionOf names a section by the sides it covers whole and the zones it has besides.
func (f *filler) sectionOf(zones []vehicle.Zone) portion {
	var keys, labels []string
	left := slices.Clone(zones)
	for _, key := range procedure.OverSides.PartKeys() {
		side := vehicle.Side(key)
		whole := true
		for _, p := range f.parts {
			if p.Zone.Side() == side && procedure.Outside.Has(p) {
				whole = whole && slices.Contains(zones, p.Zone)
			}
		}
		if whole {
			keys, labels = append(keys, key), append(labels, side.Label())
			left = slices.DeleteFunc(left, func(z vehicle.Zone) bool { return z.Side() == side })
		}
	}
	for _, z := range left {
		keys = append(keys, string(z))
		if z.Corner() == "" {
			labels = append(labels, z.Label())
		}
	}
	at := schedule.Around
	if len(keys) == 1 {
		at = sidePlaces[zones[0].Side()]
	}
	return portion{key: keys[0], label: listed(labels), at: at, zones: zones}
}

// filmsOf are the films that the steps of a round leave and take care of themselves: products with a dwell, suds after
// the mitt until the rinse, and water after a rinse until it is dried, where what dries would show.
func (f *filler) filmsOf(steps []procedure.Step) []wetSpell {
	var films []wetSpell
	add := func(i int, w wetSpell, ends func(procedure.Step) bool) {
		if j := slices.IndexFunc(steps[i+1:], ends); j >= 0 {
			w.from, w.to = i, i+1+j
			films = append(films, w)
		}
	}
	spots := climate.Residue(f.job.Solids, climate.DrainedWater.Grams(vehicle.FacesLeft)) > plan.SpotsShow
	for i, s := range steps {
		switch {
		case s.Dwell != nil:
			most := s.Dwell.Max
			if p, ok := f.product(s.ProductClass(), s.Product); ok && p.DwellMax > 0 {
				most = min(most, p.DwellMax)
			}
			add(i, wetSpell{film: filmOf(s), least: min(s.Dwell.Min, most), most: most},
				func(t procedure.Step) bool { return slices.Contains(t.Ends, s.ID) })
		case s.Touches():
			add(i, wetSpell{film: climate.SudsFilm}, func(t procedure.Step) bool {
				return t.Technique == procedure.Rinse || t.Technique == procedure.Dry
			})
		case s.Technique == procedure.Rinse && spots && s.Water != procedure.Deionised:
			add(i, wetSpell{film: climate.DrainedWater}, func(t procedure.Step) bool { return t.Technique != procedure.Prepare })
		}
	}
	return films
}

// inTime reports whether every film on some zones is taken care of before it dries and before its label ends, by the wet
// clock's longest wait (docs/models.md): both steps and what lies between.
func (f *filler) inTime(films []wetSpell, steps []procedure.Step, zones []vehicle.Zone) bool {
	for _, w := range films {
		between := measure.Seconds(0)
		for _, s := range steps[w.from+1 : w.to] {
			between += fetching + f.roughly(s, zones)
		}
		on, off := f.roughly(steps[w.from], zones), f.roughly(steps[w.to], zones)
		wait := max(between+fetching, w.least) + f.longest(steps[w.from], steps[w.to], on, off)
		wet := slices.DeleteFunc(slices.Clone(zones), func(z vehicle.Zone) bool { return !f.works(steps[w.from], z) })
		if len(wet) == 0 {
			continue
		}
		if float64(wait) > dryingMargin*float64(f.driestOn(wet, w.film).window) || w.most > 0 && wait > w.most {
			return false
		}
	}
	return true
}

// longest is how much longer than from the end of the one to the beginning of the other the zone waits that waits longest,
// where one step puts a film on and another takes it off: by the same route the longer of the two, by opposite routes both.
func (f *filler) longest(on, off procedure.Step, putting, taking measure.Seconds) measure.Seconds {
	if (f.wayOf(on) == plan.WayUp) != (f.wayOf(off) == plan.WayUp) {
		return putting + taking
	}
	return max(putting, taking)
}

// spellOf is that of a step that is being filled. A rinse that goes over more than the product is on reaches the product's
// zones when their turn comes.
func (f *filler) spellOf(step *plan.FilledStep, s procedure.Step) spell {
	at := slices.IndexFunc(f.all, func(t procedure.Step) bool { return slices.Contains(t.Ends, s.ID) })
	if s.Dwell.Each || s.Waits() || at < 0 {
		return spell{}
	}
	return f.until(step, s, f.all[at])
}

// coverBy is until when what wets a product again must begin, from the end of its putting on, for no zone to dry; 0 where
// nothing does.
func (f *filler) coverBy(step *plan.FilledStep, s procedure.Step, usable measure.Seconds) measure.Seconds {
	at := slices.IndexFunc(f.all, func(t procedure.Step) bool { return slices.Contains(t.Rewets, s.ID) })
	if s.Dwell.Each || at < 0 {
		return 0
	}
	return max(0, usable-f.until(step, s, f.all[at]).longest)
}

// until is the spell of a step up to another that comes later.
func (f *filler) until(step *plan.FilledStep, s, off procedure.Step) spell {
	w := spell{putting: measure.Seconds(step.Minutes * 60)}
	var on, under []vehicle.Part
	for _, p := range f.parts {
		if f.on(s, p) {
			on = append(on, p)
		}
		if f.on(off, p) {
			under = append(under, p)
		}
	}
	w.opposite = (f.wayOf(s) == plan.WayUp) != (f.wayOf(off) == plan.WayUp)
	w.taking = f.roughly(off, zonesOfParts(under))
	switch {
	case step.PerWheel && off.Time.PerWheel > 0: // a wheel is rinsed as it was sprayed, each for itself
		w.putting, w.taking = w.putting/measure.Seconds(len(plan.Corners)), w.taking/measure.Seconds(len(plan.Corners))
		w.longest, w.shortest = w.bounds(1)
	case f.rounds[off.Round] && off.Round != s.Round: // off part by part: the last part waits for all the others
		for _, t := range f.all {
			if t.Round == off.Round && t.ID != off.ID && t.Once == procedure.EachPart {
				w.taking += f.roughly(t, zonesOfParts(f.parts))
			}
		}
		w.longest, w.shortest = w.bounds(1)
	default:
		w.longest, w.shortest = w.along(plan.Routed(f.wayOf(s), on), plan.Routed(f.wayOf(off), under))
	}
	return w
}

func (f *filler) works(s procedure.Step, z vehicle.Zone) bool {
	return slices.ContainsFunc(f.parts, func(p vehicle.Part) bool { return p.Zone == z && s.On(p) })
}

// roughly is how long a step takes on some zones, before the plan of that section is made.
func (f *filler) roughly(s procedure.Step, zones []vehicle.Zone) measure.Seconds {
	area, minutes, wheels := 0.0, 0.0, map[string]bool{}
	var worked []vehicle.Zone
	for _, p := range f.parts {
		if !s.On(p) || !slices.Contains(zones, p.Zone) {
			continue
		}
		worked, area = append(worked, p.Zone), area+p.Area
		if s.Touches() {
			grade := f.job.LookOver.Grades[p.Zone]
			minutes += p.Area * (strokeTime[grade] + rinsesPerM2[grade])
		}
		if corner := p.Zone.Corner(); corner != "" {
			wheels[corner] = true
		}
	}
	if mid := midSizeArea(s); mid > 0 && !s.Touches() {
		soil := 1.0
		if s.Time.Soiled {
			soil = f.meanSoil(worked)
		}
		minutes = s.Time.Body * area / mid * soil
	}
	minutes += s.Time.PerWheel * float64(len(wheels)) * f.job.Vehicle.Wheels.Factor()
	return measure.Seconds(minutes * 60)
}
