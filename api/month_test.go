package api_test

import (
	"cmp"
	"fmt"
	"maps"
	"math"
	"math/rand"
	"net/url"
	"slices"
	"strings"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/api"
	"uskel/core/audit"
	"uskel/core/condition"
	"uskel/core/contact"
	"uskel/core/plan"
	"uskel/core/procedure"
	"uskel/core/prove"
	"uskel/core/shop"
	"uskel/core/timing"
	"uskel/core/vehicle"
	"uskel/core/visit"
	"uskel/core/wash"
)

// month is a shop that lives from its first day on, through the API alone, and what its people would have written down themselves: no
// figure in the record comes from what the shop later says.
type month struct {
	*place
	t      *testing.T
	rng    *rand.Rand
	now    atomic.Int64 // the shop's clock
	zone   *time.Location
	lead   *caller
	people map[string]*caller // by sign-in
	ids    map[string]string
	hands  []string // sign-ins of who washes
	places []condition.Place
	cars   []string // ids
	plates []string
	turns  int
	agenda []deed
	record record
}

// deed is something that is done at a moment.
type deed struct {
	at time.Time
	do func(at time.Time)
}

// record is what the shop's people would have written down.
type record struct {
	washes          map[string]int // by who was given them
	planned, actual float64        // min
	stages          map[string][]float64
	kept, missed    int
	late            int
	left            map[string]float64 // ml by product since it was counted
	used            map[string]float64
	launderings     map[string]int // by set
	audits, with    int
	rework          float64
	short           int // plans that said that a product is short
}

func (m *month) clock() time.Time { return time.Unix(0, m.now.Load()).UTC() }

// at is a moment of a day of October, where the shop stands.
func (m *month) at(day, hour, minute int) time.Time {
	return time.Date(2026, time.October, day, hour, minute, 0, 0, m.zone)
}

func (m *month) is(at time.Time) { m.now.Store(at.UnixNano()) }

// later puts something on the agenda; live does all that is on it, in its order.
func (m *month) later(at time.Time, do func(time.Time)) { m.agenda = append(m.agenda, deed{at, do}) }

func (m *month) live() {
	for len(m.agenda) > 0 {
		next := 0
		for i, d := range m.agenda {
			if d.at.Before(m.agenda[next].at) {
				next = i
			}
		}
		d := m.agenda[next]
		m.agenda = slices.Delete(m.agenda, next, next+1)
		m.is(d.at)
		d.do(d.at)
	}
}

// found sets the shop up from an empty database and takes its people in.
func found(t *testing.T) *month {
	t.Helper()
	zone, err := time.LoadLocation("Europe/Lisbon")
	require.NoError(t, err)
	m := &month{t: t, rng: rand.New(rand.NewSource(7)), zone: zone, people: map[string]*caller{}, ids: map[string]string{},
		record: record{washes: map[string]int{}, stages: map[string][]float64{}, left: map[string]float64{}, used: map[string]float64{},
			launderings: map[string]int{}}}
	m.is(m.at(5, 7, 0))
	s, code := bareAt(t, m.clock)
	m.place, m.lead = s, s.nobody()
	usual := told[api.SetupView](m.lead, "GET", "/setup", nil).Choices.Usual
	said := answers(code)
	said["places"] = []map[string]any{{"kind": "covered bay", "runoff": true}, {"kind": "garage", "runoff": true}}
	said["shelf"], said["labour"], said["launder"], said["cubicMetre"] = usual, 2400, 25, 480
	costs := []map[string]any{}
	for i, class := range usual {
		costs = append(costs, map[string]any{"class": class, "perLitre": 700 + 130*i})
	}
	said["costs"] = costs
	m.ids["una"] = told[api.Me](m.lead, "POST", "/setup", said).ID
	m.people["una"] = m.lead
	m.places = told[api.SettingsView](m.lead, "GET", "/settings", nil).Settings.Places
	for _, p := range []struct {
		name, signIn string
		role         shop.Role
	}{{"Ada Fenn", "ada", shop.Washer}, {"Bo Quill", "bo", shop.Washer}, {"Cy Marl", "cy", shop.Trainee}, {"Eve Sand", "eve", shop.Washer},
		{"Dag Reed", "dag", shop.Auditor}} {
		hired := told[api.NewHand](m.lead, "POST", "/staff", map[string]string{"name": p.name, "signIn": p.signIn, "role": string(p.role)})
		m.people[p.signIn] = s.nobody()
		m.ids[p.signIn] = told[api.Me](m.people[p.signIn], "POST", "/session/code",
			map[string]string{"name": p.signIn, "code": hired.Code, "password": "gravel lantern quay"}).ID
	}
	m.hands = []string{"ada", "bo", "cy", "eve"}
	for _, p := range told[api.Shelf](m.lead, "GET", "/shelf", nil).Products {
		m.count(p.ID, 40_000)
	}
	return m
}

// count says how much of a product there is.
func (m *month) count(id string, ml float64) {
	for _, p := range told[api.Shelf](m.lead, "GET", "/shelf", nil).Products {
		if p.ID == id {
			told[api.Shelf](m.lead, "PUT", "/shelf/"+id+"/count", map[string]any{"version": p.Version, "leadDays": 3,
				"left": map[string]any{"amount": ml, "unit": "ml"}})
		}
	}
	m.record.left[id] = ml
}

// car is one that came before, found by its plate however it is typed, or a new one.
func (m *month) car(i int) string {
	if i < len(m.cars) {
		typed := []string{m.plates[i], strings.ToLower(m.plates[i]), strings.ReplaceAll(m.plates[i], " ", "-"),
			strings.ReplaceAll(m.plates[i], " ", "")}[m.rng.Intn(4)]
		cards := told[[]api.VehicleCard](m.lead, "GET", "/vehicles?find="+url.QueryEscape(typed), nil)
		require.Equal(m.t, []string{m.cars[i]}, idsOfCards(cards), typed)
		return m.cars[i]
	}
	plate := fmt.Sprintf("QY %d%c", 100+i, 'A'+rune(i%26))
	spec := vehicle.Vehicle{Body: []vehicle.Body{vehicle.Saloon, vehicle.Hatch, vehicle.Estate}[i%3], Shade: vehicle.Mid,
		Finish: vehicle.Ordinary, Wheels: vehicle.WheelSpec{Inches: 16 + i%3, Spokes: vehicle.PlainSpokes}}
	card := told[api.VehicleCard](m.lead, "POST", "/vehicles", map[string]any{"plate": plate, "label": fmt.Sprintf("car %d", i), "spec": spec})
	m.cars, m.plates = append(m.cars, card.ID), append(m.plates, plate)
	return card.ID
}

func idsOfCards(cards []api.VehicleCard) []string {
	ids := []string{}
	for _, c := range cards {
		ids = append(ids, c.ID)
	}
	return ids
}

// comes books a car, looks it over and has it washed by somebody from a moment on; then says when they are through.
func (m *month) comes(car string, at time.Time, who string, promise time.Duration, then func(time.Time)) {
	promised := at.Add(promise)
	card := told[api.BookingCard](m.lead, "POST", "/bookings", map[string]any{"vehicleId": car, "arrivesAt": at.Add(-10 * time.Minute),
		"promisedAt": promised, "service": "basic", "place": m.places[m.rng.Intn(2)]})
	path := "/bookings/" + card.ID
	look := told[api.LookOverView](m.lead, "GET", path+"/look-over", nil)
	overall := contact.Grade(m.rng.Intn(3))
	for _, p := range card.Spec.Body.Parts() {
		look.LookOver.Grades[p.Zone] = overall
		if p.Band == vehicle.Lower || p.Band == vehicle.Wheels {
			look.LookOver.Grades[p.Zone] = min(3, overall+contact.Grade(m.rng.Intn(2)))
		}
	}
	look.LookOver.TyreShine = m.rng.Intn(2) == 0
	told[api.LookOverView](m.lead, "PUT", path+"/look-over", map[string]any{"version": look.Version, "lookOver": look.LookOver})
	view := told[api.PlanView](m.lead, "GET", path+"/plan", nil)
	best := slices.IndexFunc(view.Choices, func(c plan.Choice) bool { return c.Plan != nil })
	require.GreaterOrEqual(m.t, best, 0, view.Undelivered)
	m.priced(*view.Choices[best].Plan)
	if len(view.Short) > 0 {
		m.record.short++
	}
	w := told[api.WashView](m.lead, "POST", path+"/wash", map[string]any{"procedure": view.Choices[best].Procedure, "washerId": m.ids[who]})
	taps, end := m.washes(w, at.Add(2*time.Minute))
	if end.After(promised) {
		m.record.late++
	}
	m.record.washes[who]++
	m.later(end.Add(time.Second), func(now time.Time) {
		m.people[who].send(w.ID, taps...).is(200)
		m.through(card.ID, w, who, now, then)
	})
}

// priced holds what a plan costs against sums of its own, at what was said when the shop was set up.
func (m *month) priced(p plan.Plan) {
	product, laundered := 0.0, map[string]float64{}
	for _, s := range p.Steps {
		if s.If != nil && !s.If.Expected {
			continue
		}
		for id, ml := range taken(s, nil) {
			product += ml * m.price(id) / 1000
		}
		if n, kind, each := cloths(s); each {
			laundered[s.ID] = n
		} else if n > 0 {
			laundered[kind] = math.Max(laundered[kind], n)
		}
	}
	all := 0.0
	for _, n := range laundered {
		all += n
	}
	assert.InDelta(m.t, product, float64(p.Costs.Product), 2, p.Title)
	assert.InDelta(m.t, 25*all, float64(p.Costs.Cloths), 0.01, p.Title)
	assert.InDelta(m.t, 480*p.Litres/1000, float64(p.Costs.Water), 1, p.Title)
	assert.Empty(m.t, p.Costs.Without)
}

// price is what a litre of a product costs, as it was said when the shop was set up.
func (m *month) price(id string) float64 {
	at := slices.IndexFunc(shop.Offered().Usual, func(c procedure.ProductClass) bool { return strings.ReplaceAll(string(c), " ", "-") == id })
	return float64(700 + 130*at)
}

// taken is what a step takes of products by its plan, ml, or as much more as somebody put in more.
func taken(s plan.FilledStep, poured *float64) map[string]float64 {
	ml := map[string]float64{}
	id, share := s.ProductID, 1.0
	if s.Mix != nil {
		id = s.Mix.ID
	}
	if poured != nil {
		if s.Mix != nil {
			share = *poured / s.Mix.Millis.Ml()
		} else {
			share = *poured / s.Taken
		}
	}
	if id != "" && s.Taken > 0 {
		ml[id] += s.Taken * share
	}
	for _, b := range s.Added {
		ml[b.ID] += b.Ml
	}
	return ml
}

// cloths is how many cloths a step names, of what, and whether they are fresh ones for it alone.
func cloths(s plan.FilledStep) (n float64, kind string, each bool) {
	if _, err := fmt.Sscanf(s.Cloth, "%f", &n); err != nil {
		return 0, "", false
	}
	return n, s.Cloth + " " + s.Colour, s.Technique == procedure.ContactTowel && s.Panels != nil
}

// washes is one wash as it is tapped, from a moment on, and how it goes into the record.
func (m *month) washes(w api.WashView, at time.Time) (taps []wash.Event, end time.Time) {
	day := dwells{m: m, late: m.rng.Intn(15) == 0}
	answers, seq, stages, laundered := map[string]procedure.YesOrNo{}, 0, map[string]float64{}, map[string]float64{}
	add := func(kind wash.Kind, step string) *wash.Event {
		seq++
		taps = append(taps, tap(kind, step, at, seq))
		return &taps[len(taps)-1]
	}
	for i, s := range w.Steps {
		if s.If != nil && !answered(*s.If, answers) {
			continue
		}
		if s.If == nil && m.rng.Intn(40) == 0 && s.Dwell == nil && s.Asks == nil && len(s.Ends) == 0 {
			add(wash.Skip, s.ID).Text = "not needed on this car"
			continue
		}
		at = day.wait(s, at)
		began := at
		add(wash.Start, s.ID)
		minutes := math.Round(s.Minutes*(0.8+0.6*m.rng.Float64())*60) / 60
		at = at.Add(time.Duration(math.Round(minutes*60)) * time.Second)
		filled := w.Plan.Steps[i]
		var poured *float64
		if filled.Taken > 0 && m.rng.Intn(12) == 0 {
			ml := math.Round(filled.Taken * 1.4)
			if filled.Mix != nil {
				ml = math.Round(filled.Mix.Millis.Ml() * 1.4)
			}
			poured = &ml
			add(wash.Poured, s.ID).Ml = poured
		}
		if s.Asks != nil {
			answers[s.ID] = []procedure.YesOrNo{procedure.SaysYes, procedure.SaysNo}[m.rng.Intn(2)]
			add(wash.Answer, s.ID).Says = answers[s.ID]
		}
		add(wash.Done, s.ID)
		day.put(s, began, at)
		m.record.planned, m.record.actual = m.record.planned+s.Minutes, m.record.actual+minutes
		stages[s.Stage] += minutes
		m.uses(filled, poured, laundered)
		at = at.Add(time.Duration(5+m.rng.Intn(20)) * time.Second)
	}
	add(wash.Finish, "").Text = "all is shut"
	for stage, minutes := range stages {
		m.record.stages[stage] = append(m.record.stages[stage], minutes)
	}
	for set, n := range laundered {
		m.record.launderings[strings.SplitN(set, "|", 2)[0]] += int(n)
	}
	m.record.kept, m.record.missed = m.record.kept+day.kept, m.record.missed+day.missed+len(day.wet)
	return taps, at
}

func answered(on wash.OnAnswer, said map[string]procedure.YesOrNo) bool {
	return slices.ContainsFunc(on.Steps, func(step string) bool { return said[step] == on.Says })
}

// uses writes down what a step took.
func (m *month) uses(s plan.FilledStep, poured *float64, laundered map[string]float64) {
	for id, ml := range taken(s, poured) {
		m.record.used[id] += ml
		m.record.left[id] -= ml
	}
	n, kind, each := cloths(s)
	key := s.Colour + "|" + kind
	switch {
	case s.Colour == "" || n == 0:
	case each:
		laundered[s.Colour+"|"+s.ID] = n
	default:
		laundered[key] = math.Max(laundered[key], n)
	}
}

// dwells follows the products that lie on one car.
type dwells struct {
	m            *month
	late         bool // today somebody is too late with one
	wet          []lies
	kept, missed int
}

type lies struct {
	step                   string
	since, dry, labelEnded time.Time
	from                   time.Duration
}

// wait holds a step back until what it takes off has worked, and says how that went.
func (d *dwells) wait(s wash.PlannedStep, at time.Time) time.Time {
	for _, l := range d.wet {
		if slices.Contains(s.Ends, l.step) && at.Before(l.since.Add(l.from)) {
			at = l.since.Add(l.from).Add(2 * time.Second)
		}
	}
	for _, l := range d.wet {
		if d.late && slices.Contains(s.Ends, l.step) {
			at, d.late = latest(at, l.dry.Add(90*time.Second)), false
		}
	}
	d.wet = slices.DeleteFunc(d.wet, func(l lies) bool {
		if !slices.Contains(s.Ends, l.step) {
			return false
		}
		if at.After(l.dry.Add(5 * time.Second)) { // so much later is forgiven to a tap
			d.missed++
		} else {
			d.kept++
		}
		return true
	})
	return at
}

func latest(a, b time.Time) time.Time {
	if a.Before(b) {
		return b
	}
	return a
}

// put is a product put on, which may keep what lies under it wet.
func (d *dwells) put(s wash.PlannedStep, began, done time.Time) {
	if s.Dwell == nil {
		return
	}
	dries := done.Add(s.Dwell.To.Duration())
	for i, l := range d.wet {
		if slices.Contains(s.Rewets, l.step) && !began.After(l.dry.Add(5*time.Second)) && dries.After(l.dry) {
			d.wet[i].dry = dries
			if l.labelEnded.Before(dries) {
				d.wet[i].dry = latest(l.dry, l.labelEnded)
			}
		}
	}
	d.wet = append(d.wet, lies{s.ID, done, dries, done.Add(s.Dwell.Label.Duration()), s.Dwell.From.Duration()})
}

// through is what follows a wash: one in four is audited, one in three of these with a finding that is put right; then the car goes.
func (m *month) through(booking string, w api.WashView, who string, now time.Time, then func(time.Time)) {
	if m.rng.Intn(4) > 0 {
		m.lead.say(booking, visit.Release, "no time for an audit").is(200)
		m.lead.say(booking, visit.HandOver, "").is(200)
		then(now.Add(5 * time.Minute))
		return
	}
	m.record.audits++
	dag := m.people["dag"]
	a := told[api.AuditView](dag, "POST", "/washes/"+w.ID+"/audit", nil)
	if m.rng.Intn(3) == 0 {
		m.record.with++
		at := slices.IndexFunc(a.Checklist.Items, func(i audit.Item) bool {
			return len(i.Kinds) > 0 && len(a.Zones[i.ID]) > 0 && !i.Photo && slices.Contains(a.Result.Open, i.ID)
		})
		item := a.Checklist.Items[at]
		dag.do("PUT", "/api/audits/"+a.ID+"/items/"+item.ID, map[string]any{"version": 0, "answer": audit.Answer{Verdict: audit.Found,
			Findings: []audit.Finding{{Zone: a.Zones[item.ID][0], Kind: item.Kinds[0], Severity: audit.Minor}}}}).is(200)
		a = told[api.AuditView](dag, "GET", "/audits/"+a.ID, nil)
	}
	dag.passAll(a)
	a = told[api.AuditView](dag, "POST", "/audits/"+a.ID+"/close", nil)
	end := now.Add(20 * time.Minute)
	if a.Stage != visit.Rework {
		m.lead.say(booking, visit.HandOver, "").is(200)
		then(end)
		return
	}
	m.later(end, func(now time.Time) {
		var taps []wash.Event
		for i, s := range a.Rework {
			taken := time.Duration(90+m.rng.Intn(400)) * time.Second
			taps = append(taps, tap(wash.Start, s.ID, now, 900+2*i), tap(wash.Done, s.ID, now.Add(taken), 901+2*i))
			m.record.rework += taken.Minutes()
			now = now.Add(taken)
		}
		m.is(now)
		m.people[who].send(w.ID, taps...).is(200)
		if told[api.LookOverView](m.lead, "GET", "/bookings/"+booking+"/look-over", nil).Booking.Stage == visit.ToAudit {
			m.lead.say(booking, visit.Release, "put right and seen").is(200)
		}
		m.lead.say(booking, visit.HandOver, "").is(200)
		then(now.Add(5 * time.Minute))
	})
}

// works has somebody wash car after car on a day.
func (m *month) works(who string, day, cars int, promise func() time.Duration) {
	left := cars
	var next func(time.Time)
	next = func(at time.Time) {
		if left == 0 {
			return
		}
		left--
		m.later(at, func(at time.Time) {
			m.comes(m.car(m.turn()), at, who, promise(), next)
		})
	}
	next(m.at(day, 8, 20*slices.Index(m.hands, who)))
}

// turn is which car comes next: there are sixty, and each comes again after some days.
func (m *month) turn() int {
	m.turns++
	return (m.turns - 1) % 60
}

// overnight is a car that is begun one evening and not finished: it is in the yard the next morning, and goes as it is.
func (m *month) overnight() {
	var booking string
	m.later(m.at(8, 19, 0), func(at time.Time) {
		card := told[api.BookingCard](m.lead, "POST", "/bookings", map[string]any{"vehicleId": m.car(len(m.cars)), "arrivesAt": at,
			"promisedAt": at.Add(time.Hour), "service": "basic", "place": m.places[0]})
		booking = card.ID
		look := told[api.LookOverView](m.lead, "GET", "/bookings/"+booking+"/look-over", nil)
		for _, p := range card.Spec.Body.Parts() {
			look.LookOver.Grades[p.Zone] = 1
		}
		told[api.LookOverView](m.lead, "PUT", "/bookings/"+booking+"/look-over", map[string]any{"version": 0, "lookOver": look.LookOver})
		view := told[api.PlanView](m.lead, "GET", "/bookings/"+booking+"/plan", nil)
		w := told[api.WashView](m.lead, "POST", "/bookings/"+booking+"/wash", map[string]any{"procedure": view.Choices[0].Procedure,
			"washerId": m.ids["ada"]})
		m.people["ada"].send(w.ID, tap(wash.Start, w.Steps[0].ID, at, 1)).is(200)
	})
	m.later(m.at(9, 7, 30), func(time.Time) {
		there := func() bool {
			cards := told[api.Yard](m.lead, "GET", "/yard", nil).Bookings
			return slices.ContainsFunc(cards, func(c api.BookingCard) bool { return c.ID == booking && c.Stage == visit.InBay })
		}
		assert.True(m.t, there(), "begun yesterday, and nobody closed it")
		m.lead.say(booking, visit.BreakOff, "the pump is broken").is(200)
		m.lead.say(booking, visit.HandOver, "fetched as it was").is(200)
		assert.False(m.t, there())
	})
}

// leaves lets somebody go, who is offered nowhere from then on.
func (m *month) leaves(who string, at time.Time) {
	m.later(at, func(time.Time) {
		m.lead.get("/api/staff").problem(403) // the password was typed long ago
		m.lead.do("POST", "/api/session/confirm", map[string]string{"password": "gravel lantern quay"}).is(204)
		was := m.lead.member(who)
		m.lead.do("PUT", "/api/staff/"+m.ids[who], member(was).as(was.Role, false)).is(204)
		m.people[who].get("/api/yard").problem(401)
		for _, path := range []string{"/api/people", "/api/day", "/api/yard"} {
			assert.NotContains(m.t, string(m.lead.get(path).is(200).body), m.ids[who], path)
		}
	})
}

// TestAMonthInAShop lives October in a shop that begins with an empty database: 300 washes, absences, a product that runs out, somebody
// who leaves, a car that stays overnight, and the night in which the clocks go back. What the shop then says is held against what its
// people wrote down.
func TestAMonthInAShop(t *testing.T) {
	prove.Long(t)
	m := found(t)
	promise := func() time.Duration {
		if m.rng.Intn(8) == 0 {
			return 40 * time.Minute
		}
		return 4 * time.Hour
	}
	for day := 5; day <= 30; day++ {
		if wd := m.at(day, 12, 0).Weekday(); wd == time.Saturday || wd == time.Sunday {
			continue
		}
		m.later(m.at(day, 6, 50), func(time.Time) { m.day(day, promise) })
	}
	m.overnight()
	m.leaves("eve", m.at(20, 6, 30))
	m.later(m.at(14, 6, 40), func(time.Time) {
		assert.Zero(t, m.record.short, "nothing is short while there is enough")
		m.count("shampoo", 60)
	})
	m.later(m.at(15, 6, 40), func(time.Time) {
		assert.Positive(t, m.record.short, "plans say that the shampoo runs out")
		m.count("shampoo", 40_000)
		m.record.short = 0
	})
	m.later(m.at(25, 0, 40), func(at time.Time) { // until after the clocks went back, at two to one
		m.comes(m.car(m.turn()), at, "ada", 4*time.Hour, func(time.Time) {})
	})
	m.live()
	m.is(m.at(31, 12, 0))
	assert.Zero(t, m.record.short)
	m.holds()
}

// day is a working day: fifteen cars among those who are there.
func (m *month) day(day int, promise func() time.Duration) {
	hands := slices.Clone(m.hands)
	if day >= 20 {
		hands = slices.DeleteFunc(hands, func(h string) bool { return h == "eve" })
	}
	if day == 13 || day == 28 { // somebody is ill
		told[api.AbsentView](m.lead, "PUT", "/day/absent", map[string]any{"personId": m.ids["bo"], "absent": true})
		hands = slices.DeleteFunc(hands, func(h string) bool { return h == "bo" })
	}
	each := 15 / len(hands)
	for i, h := range hands {
		cars := each
		if i < 15%len(hands) {
			cars++
		}
		m.works(h, day, cars, promise)
	}
}

// holds is what the shop says, against the record.
func (m *month) holds() {
	t, r := m.t, m.record
	all := 0
	for _, n := range r.washes {
		all += n
	}
	require.Equal(t, 301, all)
	totals := told[timing.Totals](m.lead, "GET", "/times?days=30", nil)
	assert.Equal(t, all, totals.Count)
	assert.InDelta(t, r.planned, totals.Planned, 0.01*float64(all), "planned minutes")
	assert.InDelta(t, r.actual, totals.Actual, 0.01*float64(all), "hands-on minutes")
	assert.Equal(t, []int{r.kept, r.missed}, []int{totals.Kept, totals.Missed}, "dwells kept and not")
	assert.Equal(t, all-r.late, totals.InTime, "promises kept")
	for _, stage := range slices.SortedFunc(maps.Keys(r.stages), func(a, b string) int { return len(r.stages[b]) - len(r.stages[a]) })[:3] {
		at := slices.IndexFunc(totals.Stages, func(s timing.Summary) bool { return s.Stage == stage })
		assert.InDelta(t, middle(r.stages[stage]), totals.Stages[at].Median, 0.02, stage)
		assert.Equal(t, len(r.stages[stage]), totals.Stages[at].Washes, stage)
	}
	washed, before := map[string]int{}, time.Time{}
	for {
		lines := told[[]api.WashLine](m.lead, "GET", "/times/washes?days=30&before="+url.QueryEscape(before.Format(time.RFC3339Nano)), nil)
		for _, l := range lines {
			washed[l.Washer.ID]++
			before = l.At
		}
		if len(lines) == 0 || len(washed) > 0 && sumOf(washed) >= all {
			break
		}
	}
	for who, n := range r.washes {
		assert.Equal(t, n, washed[m.ids[who]], who)
	}
	m.shelfHolds()
	counted := told[audit.Counted](m.lead, "GET", "/findings?weeks=6", nil)
	assert.Equal(t, []int{r.audits, r.with}, []int{counted.Audits, counted.With}, "audits, and those with a finding")
	assert.InDelta(t, r.rework, counted.Rework, 0.01*float64(r.with), "minutes of rework, by the taps")
}

// shelfHolds is what the shelf says of the four products that are used most, and of all cloths.
func (m *month) shelfHolds() {
	t, r := m.t, m.record
	now := told[api.Shelf](m.lead, "GET", "/shelf", nil)
	most := slices.SortedFunc(maps.Keys(r.used), func(a, b string) int { return cmp.Compare(r.used[b], r.used[a]) })[:4]
	assert.Contains(t, most, "shampoo")
	for _, p := range now.Products {
		if slices.Contains(most, p.ID) {
			require.NotNil(t, p.Forecast, p.ID)
			assert.InDelta(t, r.left[p.ID], p.Forecast.Left.Ml(), 2, p.ID)
		}
	}
	worn := 0
	for _, c := range now.Cloths {
		assert.InDelta(t, float64(r.launderings[c.Colour])/float64(c.Count), c.Wear.Each, 0.051, c.Kind)
		if c.Wear.Each > 10 {
			worn++
		}
	}
	assert.GreaterOrEqual(t, worn, 2, "mitts and towels wear")
}

func sumOf(counts map[string]int) (all int) {
	for _, n := range counts {
		all += n
	}
	return all
}

// middle is the median.
func middle(values []float64) float64 {
	sorted := slices.Sorted(slices.Values(values))
	return (sorted[(len(sorted)-1)/2] + sorted[len(sorted)/2]) / 2
}
