package demo

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"math"
	"math/rand"
	"slices"
	"time"

	"github.com/alexedwards/argon2id"
	"github.com/google/uuid"

	"uskel/api"
	"uskel/core/audit"
	"uskel/core/condition"
	"uskel/core/contact"
	"uskel/core/measure"
	"uskel/core/plan"
	"uskel/core/plan/judge"
	"uskel/core/procedure"
	"uskel/core/procedure/starters"
	"uskel/core/shelf"
	"uskel/core/shop"
	"uskel/core/skills"
	"uskel/core/vehicle"
	"uskel/core/visit"
	"uskel/core/wash"
	"uskel/devices"
	"uskel/store"
)

// Seed fixes the demo.
const Seed = 7

// How far back the demo's finished washes go: half a year, so that charts and learning have something to show, or a
// fortnight where that suffices.
const (
	HalfYear  = 26 * 7
	Fortnight = 14
)

// Load fills an empty database with the demo shop as it stands at a moment, with so many days of finished washes.
func Load(ctx context.Context, s *store.Store, now time.Time, days int) error {
	l := loader{
		ctx:   ctx,
		store: s,
		now:   now.UTC().Truncate(time.Second),
		days:  days,
		dice: rand.New(
			rand.NewSource(Seed),
		),
		later:    rand.New(rand.NewSource(Seed + 1)),
		people:   map[string]string{},
		vehicles: map[string]string{},
		washed:   map[string]int{},
	}
	for _, part := range []func() error{l.shop, l.signOffs, l.history, l.learning, l.takenUp, l.today, l.calibrated} {
		if err := part(); err != nil {
			return fmt.Errorf("demo: %w", err)
		}
	}
	return nil
}

// mostUsed is the procedure that most of the yard's vehicles get.
const mostUsed = "maintenance"

// Loaded reports whether a shop is there already.
func Loaded(ctx context.Context, s *store.Store) (bool, error) {
	people, err := s.People(ctx)
	return len(people) > 0, err
}

// Ours reports whether a database is a demo: it is marked as one, or it was loaded before demos were marked, which
// its lead's id tells.
func Ours(ctx context.Context, s *store.Store) (bool, error) {
	if marked, err := s.IsDemo(ctx); err != nil || marked {
		return marked, err
	}
	empty, err := s.Empty(ctx)
	if err != nil || empty {
		return false, err
	}
	lead, err := s.PersonBySignIn(ctx, Hands[0].SignIn)
	if errors.Is(err, store.ErrNotFound) {
		return false, nil
	}
	return err == nil && lead.ID == idFrom(rand.New(rand.NewSource(Seed))), err
}

// EnsureToday books today's vehicles when the demo is started on another day than it was loaded.
func EnsureToday(ctx context.Context, s *store.Store, now time.Time) error {
	views, err := s.Bookings(ctx, now.Add(-6*time.Hour), now.Add(12*time.Hour))
	if err != nil || len(views) > 0 {
		return err
	}
	l := loader{
		ctx:   ctx,
		store: s,
		now:   now.UTC().Truncate(time.Second),
		dice: rand.New(
			rand.NewSource(Seed + int64(now.YearDay())),
		),
		later:    rand.New(rand.NewSource(-Seed - int64(now.YearDay()))),
		people:   map[string]string{},
		vehicles: map[string]string{},
		washed:   map[string]int{},
	}
	people, err := s.People(ctx)
	if err != nil {
		return err
	}
	for _, p := range people {
		l.people[p.SignIn] = p.ID
	}
	for _, c := range cars {
		found, err := s.Vehicles(ctx, c.plate, 0, 1) // by plate: a grown demo has copies, whose plates are longer
		if err != nil || len(found) == 0 {
			return fmt.Errorf("the demo's %s: %w", c.plate, cmp.Or(err, store.ErrNotFound))
		}
		l.vehicles[c.plate] = found[0].ID
	}
	return l.today()
}

type loader struct {
	ctx      context.Context
	store    *store.Store
	now      time.Time
	days     int
	dice     *rand.Rand
	later    *rand.Rand        // ids of what became of a wash, so that they do not change what is made up
	washed   map[string]int    // washes so far, by sign-in
	people   map[string]string // id by sign-in
	vehicles map[string]string // id by plate
}

// id makes ids that are the same for the same seed.
func (l *loader) id() string { return idFrom(l.dice) }

func idFrom(dice *rand.Rand) string {
	id, err := uuid.NewRandomFromReader(dice)
	if err != nil {
		panic(err)
	}
	return id.String()
}

func (l *loader) shop() error {
	hash, err := argon2id.CreateHash(Password, api.HashParams)
	if err != nil {
		return err
	}
	for _, h := range Hands {
		p := store.Person{ID: h.id(l), Name: h.Name, SignIn: h.SignIn, Role: h.Role, PasswordHash: hash, Active: true}
		l.people[h.SignIn] = p.ID
		if err := l.store.AddPerson(l.ctx, p); err != nil {
			return err
		}
	}
	if err := l.store.SaveSettings(
		l.ctx,
		shop.Settings{
			ShopName: "Slipside Wash Yard",
			Units:    "metric",
			Currency: "¤",
			TimeZone: "UTC",
			Vessels:  vessels,
			Places:   []condition.Place{coveredBay, openBay, slipCorner},
			Machines: []shop.Equipment{{ID: "pressure washer", Name: "Pressure washer", Count: 1},
				{ID: "hose", Name: "Hose", Count: 2}, {ID: "blower", Name: "Blower",
					Count: 1}},
			Shifts:   l.shifts(),
			Labour:   1800,
			Drawn:    new(60),
			Launder:  40,
			Water:    420,
			Lapses:   10,
			Services: services(),
			Seed:     Seed,
		},
		0,
	); err != nil {
		return err
	}
	for _, c := range cars {
		v := store.Vehicle{ID: l.id(), Plate: c.plate, Label: c.label, Spec: c.spec}
		l.vehicles[c.plate] = v.ID
		if err := l.store.AddVehicle(l.ctx, v); err != nil {
			return err
		}
	}
	for _, p := range starters.Starters() {
		lead := l.people["maren"]
		if err := l.store.Publish(
			l.ctx,
			store.Version{Doc: p, PublishedAt: l.now.AddDate(0, -8, 0), Note: "The starter procedures.", ByID: &lead},
		); err != nil {
			return err
		}
	}
	for _, p := range products {
		if err := l.store.SaveProduct(l.ctx, p, 0); err != nil {
			return err
		}
	}
	for i, p := range products {
		if err := l.store.Count(
			l.ctx,
			store.StockCount{
				ProductID: p.ID,
				CountedMl: float64(1900 + 800*(i*5%8)),
				CountedAt: l.now.AddDate(0, 0, -10),
				LeadDays:  6,
			},
		); err != nil {
			return err
		}
	}
	for _, c := range cloths {
		c.ID, c.Since = l.id(), l.now.AddDate(0, 0, -Fortnight)
		if c.Colour == dryingColour {
			c.Since = l.now.AddDate(0, 0, -l.days)
		}
		if err := l.store.AddCloths(l.ctx, c); err != nil {
			return err
		}
	}
	for _, list := range audit.Starters() {
		if err := l.store.PublishChecklist(l.ctx, list, l.now.AddDate(0, -8, 0)); err != nil {
			return err
		}
	}
	return l.publishOnTheWay()
}

// shifts lie around the moment the shop is loaded, so that there is always somebody there to look at: long ones with
// half an hour's break.
func (l *loader) shifts() []shop.Shift {
	minute := l.now.Hour()*60 + l.now.Minute()
	from, to := max(0, minute-4*60)/30*30, min(24*60, minute+8*60)/30*30
	var shifts []shop.Shift
	for i, h := range Hands {
		if h.Role == shop.Auditor {
			continue
		}
		rest := min(to-30, minute/30*30+60+30*(i%3))
		shifts = append(
			shifts,
			shop.Shift{PersonID: l.people[h.SignIn], From: from, To: to, BreakFrom: rest, BreakTo: rest + 30},
		)
	}
	return shifts
}

// signOffs: washers hold everything, trainees the first few skills in teaching order.
func (l *loader) signOffs() error {
	for _, h := range Hands {
		held := map[shop.Role]int{shop.Lead: 0, shop.Washer: 9, shop.Trainee: 4}[h.Role]
		if h.SignIn == "cal" {
			held = 2
		}
		for i, name := range procedure.Skill("").Values()[:held] {
			rubric, err := skills.RubricOf(skills.Starters(), procedure.Skill(name))
			if err != nil {
				return err
			}
			criteria := map[string]bool{}
			for _, c := range rubric.Criteria {
				criteria[c.ID] = true
			}
			days := 300 - 9*i - map[string]int{"ines": 60, "jory": 110}[h.SignIn]
			if h.Role == shop.Trainee {
				days = 40 - 6*i
			}
			err = l.store.AddSignOff(
				l.ctx,
				store.SignOff{
					ID:        l.id(),
					PersonID:  l.people[h.SignIn],
					Skill:     procedure.Skill(name),
					TrainerID: l.people["maren"],
					Criteria:  criteria,
					Passed:    true,
					At:        l.now.AddDate(0, 0, -days),
				},
			)
			if err != nil {
				return err
			}
		}
	}
	return nil
}

// story is a wash to be told: which car, where, who, how dirty, how far it has come.
type story struct {
	car      car
	place    condition.Place
	hand     Hand
	grade    contact.Grade
	service  string
	arrives  time.Time
	promised time.Time
	salt     bool
	bonded   []condition.Bonded
	until    float64 // share of the steps that are done; 1 for a finished wash
	audited  bool
	ago      int // days
}

// What happened in the half year, in days before the shop is loaded. The times tell of each.
const (
	newFoam    = 70 // another foam: it clings, and takes longer to put on and off
	newVersion = 63 // the maintenance wash lays things out in the order of use
	hardWater  = 52 // for a week the softener was off: spots
	badTowels  = 33 // a batch of towels that does not take water up
	complaint  = 4  // the vehicles of that day came back with a complaint
	pia, cal   = 95, 38
)

func (l *loader) history() error {
	for day := l.days; day >= 1; day-- {
		if (l.days-day)%7 == 6 {
			continue // the yard rests
		}
		if day == badTowels {
			if err := l.badBatch(); err != nil {
				return err
			}
		}
		if day == newVersion {
			if err := l.revise(); err != nil {
				return err
			}
		}
		for i, h := range l.shift(day) {
			if err := l.tell(l.past(day, i, h)); err != nil {
				return err
			}
		}
	}
	return nil
}

// interrupted plays the inside of a step: the mitt's rinses where it asks for them, now and then a pause.
func (l *loader) interrupted(
	s wash.PlannedStep,
	length time.Duration,
	care float64,
	wait func(time.Duration),
	tap func(wash.Kind, string),
) {
	if s.Rinses > 0 {
		rinses := 0
		for range s.Rinses {
			if l.dice.Float64() < care {
				rinses++
			}
		}
		for range rinses {
			wait(length / time.Duration(rinses+1))
			tap(wash.Rinsed, s.ID)
		}
		wait(length / time.Duration(rinses+1))
		return
	}
	if l.dice.Intn(40) != 0 {
		wait(length)
		return
	}
	wait(length / 2)
	tap(wash.Pause, s.ID)
	wait(time.Duration(60+l.dice.Intn(180)) * time.Second)
	tap(wash.Resume, s.ID)
	wait(length / 2)
}

// past makes up a finished wash of a day.
func (l *loader) past(day, i int, h Hand) story {
	start := l.now.Truncate(24*time.Hour).AddDate(0, 0, -day).Add(8*time.Hour + time.Duration(i)*95*time.Minute)
	t := story{
		car:      cars[l.dice.Intn(len(cars))],
		place:    l.placeFor(i),
		hand:     h,
		grade:    contact.Grade(l.dice.Intn(3)),
		service:  "basic",
		arrives:  start,
		promised: start.Add(100 * time.Minute),
		salt:     l.dice.Intn(3) == 0,
		until:    1,
		audited:  true,
		ago:      day,
	}
	if t.place.Key() == slipCorner.Key() {
		t.grade, t.salt = min(t.grade, 1), false
	}
	if l.dice.Intn(3) == 0 {
		t.service = "signature"
	}
	l.washed[h.SignIn]++
	if h.Role == shop.Trainee { // a trainee's times fall by Wright's curve (docs/models.md), not below a practised person's
		t.hand.pace = max(1.02, h.pace*math.Pow(float64(l.washed[h.SignIn]), math.Log2(0.88)))
		if l.dice.Intn(4) == 0 { // in haste, and it shows
			t.hand.pace, t.hand.care = 0.85*t.hand.pace, t.hand.care-0.12
		}
	}
	return t
}

// revise publishes the second version of the procedure that is washed by most.
func (l *loader) revise() error {
	for _, p := range starters.Starters() {
		if p.ID != mostUsed {
			continue
		}
		p.Version = 2
		for i := range p.Stages {
			for k, step := range p.Stages[i].Steps {
				if step.Technique == procedure.Prepare && i == 0 {
					p.Stages[i].Steps[k].Text += " Lay things out in the order of their use, on the side where " +
						"the work begins."
				}
			}
		}
		lead := l.people["maren"]
		return l.store.Publish(
			l.ctx,
			store.Version{
				Doc:         p,
				PublishedAt: l.now.AddDate(0, 0, -newVersion),
				Note:        "Lay out in the order of use: setting up took too long.",
				ByID:        &lead,
			},
		)
	}
	return fmt.Errorf("there is no starter procedure %q", mostUsed)
}

// shift picks who washes on a day, in order.
func (l *loader) shift(day int) []Hand {
	begun := map[string]int{"pia": pia, "cal": cal}
	working := slices.DeleteFunc(slices.Clone(Hands), func(h Hand) bool {
		first, trainee := begun[h.SignIn]
		return h.Role == shop.Lead || h.Role == shop.Auditor || trainee && day > first
	})
	l.dice.Shuffle(len(working), func(i, j int) { working[i], working[j] = working[j], working[i] })
	return working
}

func (l *loader) placeFor(i int) condition.Place {
	return []condition.Place{coveredBay, openBay, coveredBay, slipCorner, openBay}[i%5]
}

// today stands around the moment it is loaded: some done, one in the bay, some still to come.
func (l *loader) today() error {
	hand := func(signIn string) Hand {
		return Hands[slices.IndexFunc(Hands, func(h Hand) bool { return h.SignIn == signIn })]
	}
	at := func(minutes int) time.Time { return l.now.Add(time.Duration(minutes) * time.Minute) }
	bugs := []condition.Bonded{
		{Matter: condition.Bugs, Zone: vehicle.Front},
		{Matter: condition.Tar, Zone: vehicle.LowerLeft},
	}
	stories := []story{
		{cars[0], coveredBay, hand("ines"), 1, "basic", at(-195), at(-110), false, nil, 1, true, 0},
		{cars[5], openBay, hand("jory"), 2, "signature", at(-150), at(-45), true, bugs, 1, false, 0},
		{cars[7], coveredBay, hand("osk"), 1, "signature", at(-24), at(75), true, nil, 0.35, false, 0},
		{cars[6], openBay, hand("ines"), 2, "basic", at(-8), at(90), true, bugs, 0, false, 0},
		{cars[8], slipCorner, hand("pia"), 1, "basic", at(-5), at(100), false, nil, 0, false, 0},
		{cars[2], openBay, hand("jory"), 3, "basic", at(35), at(150), true, nil, -1, false, 0},
		{cars[4], coveredBay, hand("osk"), 1, "signature", at(80), at(190), false, nil, -1, false, 0},
		{cars[3], openBay, hand("cal"), 2, "basic", at(130), at(270), true, nil, -1, false, 0},
		{cars[9], coveredBay, hand("ines"), 2, "basic", at(170), at(290), false, nil, -1, false, 0},
	}
	for _, t := range stories {
		if err := l.tell(t); err != nil {
			return err
		}
	}
	return nil
}

// tell writes one story: booking, and as far as it has come look-over, wash, taps and audit.
func (l *loader) tell(t story) error {
	washer := l.people[t.hand.SignIn]
	b := store.Booking{ID: l.id(), VehicleID: l.vehicles[t.car.plate], ArrivesAt: t.arrives, PromisedAt: t.promised,
		Service: t.service, Place: t.place, WasherID: &washer, Version: 1, Stage: visit.Booked}
	if err := l.store.AddBooking(l.ctx, b); err != nil || t.until < 0 {
		return err
	}
	look := l.lookOver(t)
	if _, err := l.store.SaveLookOver(
		l.ctx,
		store.LookOver{BookingID: b.ID, Doc: look, ByID: l.people["maren"], At: t.arrives.Add(4 * time.Minute)},
	); err != nil {
		return err
	}
	if err := l.cameWith(t, b.ID); err != nil || t.until == 0 {
		return err
	}
	best, err := l.best(t, look)
	if err != nil {
		return err
	}
	if err := l.gradedAgain(t, b.ID, look, best); err != nil {
		return err
	}
	made := *best.Plan
	w := store.Wash{
		ID:        l.id(),
		BookingID: b.ID,
		Plan:      made,
		WasherID:  washer,
		CreatedAt: t.arrives.Add(
			6 * time.Minute,
		),
		Frozen: plan.Frozen{Arranged: plan.Arranged{Procedure: made.Procedure}},
		Looks:  l.onTheWay(t, made),
	}
	if w, err = l.store.AddWash(l.ctx, w, store.Seen{}); err != nil {
		return err
	}
	events := l.besidesTaps(t, w, l.taps(t, w, washer))
	if _, err := l.store.Tap(l.ctx, w.ID, events, l.now); err != nil || t.until < 1 || !t.audited {
		return err
	}
	return l.checked(t, w, washer, wash.Fold(w.Steps(), events).Finished)
}

// checked is what becomes of a finished wash: it is audited, what was found is put right and looked at again, and the
// vehicle goes home. Today's wait for their customers.
func (l *loader) checked(t story, w store.Wash, washer string, finished time.Time) error {
	at := finished.Add(9 * time.Minute)
	if err := l.audit(t, w, l.id(), at, l.answer); err != nil {
		return err
	}
	if err := l.photographed(t, w.ID, at.Add(3*time.Minute)); err != nil {
		return err
	}
	v, err := l.store.Booking(l.ctx, w.BookingID)
	if err != nil {
		return err
	}
	at = at.Add(10 * time.Minute)
	if v.Booking.Stage == visit.Rework {
		if err := l.putRight(t, v, washer, at); err != nil {
			return err
		}
		if v, err = l.store.Booking(l.ctx, w.BookingID); err != nil {
			return err
		}
		at = at.Add(20 * time.Minute)
	}
	if v.Booking.Stage == visit.ToAudit {
		well := func(story, audit.Item) audit.Answer {
			return audit.Answer{Verdict: audit.Pass, Findings: []audit.Finding{}}
		}
		if err := l.audit(t, w, idFrom(l.later), at, well); err != nil {
			return err
		}
	}
	if err := l.second(t, w, at.Add(5*time.Minute)); err != nil {
		return err
	}
	if t.ago == 0 {
		return nil
	}
	return l.home(t, w.BookingID, v.Booking.Stage, at.Add(15*time.Minute))
}

// home hands a vehicle over. Now and then one comes back.
func (l *loader) home(t story, booking string, stage visit.Stage, at time.Time) error {
	say := func(m visit.Move, why string) error {
		at = at.Add(5 * time.Minute)
		return l.store.Say(l.ctx, store.VisitMove{ID: idFrom(l.later), BookingID: booking, Move: m, Why: why,
			ByID: l.people["maren"], At: at}, "")
	}
	if stage == visit.Failed {
		if err := say(visit.Release, "Shown to the customer: a wash does not take it off."); err != nil {
			return err
		}
	}
	if err := say(visit.HandOver, ""); err != nil || t.ago != complaint {
		return err
	}
	at = at.Add(3 * time.Hour)
	if err := say(visit.ComeBack, "Streaks on the windscreen against the sun."); err != nil {
		return err
	}
	return say(visit.HandOver, "Glass done again while the customer waited.")
}

// putRight does the rework that an audit asked for.
func (l *loader) putRight(t story, v store.BookingView, washer string, at time.Time) error {
	var events []wash.Event
	for _, s := range v.Wash.Rework {
		for _, kind := range []wash.Kind{wash.Start, wash.Done} {
			events = append(events, wash.Event{ID: idFrom(l.later), Kind: kind, Step: s.ID,
				At: at.Truncate(time.Microsecond), Seq: 1000 + len(events), By: washer})
			at = at.Add(time.Duration(s.Minutes * t.hand.pace * float64(time.Minute)))
		}
	}
	_, err := l.store.Tap(l.ctx, v.Wash.ID, events, l.now)
	return err
}

func (l *loader) lookOver(t story) condition.LookOver {
	look := condition.LookOver{
		Grades:     map[vehicle.Zone]contact.Grade{},
		Bonded:     t.bonded,
		Watch:      t.car.watch,
		Salt:       t.salt,
		Protection: t.car.protection,
		Place:      t.place,
		Budget:     int(t.promised.Sub(t.arrives).Minutes()),
		Service:    t.service,
		TyreShine:  t.service == "signature",
	}
	if look.Bonded == nil {
		look.Bonded = []condition.Bonded{}
	}
	if look.Watch == nil {
		look.Watch = []vehicle.Watch{}
	}
	for _, p := range t.car.spec.Body.Parts() {
		g := t.grade
		switch p.Band {
		case vehicle.Lower, vehicle.Wheels:
			g++
		case vehicle.InShut, vehicle.Trim, vehicle.Under:
			g = 1
		}
		if l.dice.Intn(6) == 0 {
			g--
		}
		look.Grades[p.Zone] = min(max(g, 0), contact.Worst)
	}
	if t.place.Key() == slipCorner.Key() { // carried water only: such cars are booked light
		for z, g := range look.Grades {
			look.Grades[z] = min(g, 1)
		}
	}
	return look
}

// best is the wash that is recommended for a look-over.
func (l *loader) best(t story, look condition.LookOver) (plan.Choice, error) {
	at := t.arrives.Add(6 * time.Minute)
	weather, _, err := devices.Station{Seed: Seed}.Read(l.ctx, at)
	if err != nil {
		return plan.Choice{}, err
	}
	water, _, err := devices.Meter{Seed: Seed}.Read(l.ctx, at)
	if err != nil {
		return plan.Choice{}, err
	}
	job := plan.Job{
		Vehicle:  t.car.spec,
		LookOver: look,
		Weather:  weather,
		Hardness: water.Hardness,
		Solids:   water.Solids,
		Shelf:    shelfAt(t.ago),
		Menu:     services(),
	}
	ordered := job.Menu.Of(look.Service)
	others := func(p procedure.Procedure) bool { return !ordered.Delivers(p.ID, p.Family) }
	best := judge.Choose(slices.DeleteFunc(starters.Starters(), others), job)[0] // others never come first, and filling takes time
	if best.Plan == nil {
		return plan.Choice{}, fmt.Errorf("no wash for the %s: %v", t.car.label, best.Why)
	}
	if best.Plan.Procedure == mostUsed && t.ago <= newVersion && l.days > newVersion {
		best.Plan.Version = 2
	}
	return best, nil
}

// shelfAt is the shelf so many days ago: the foam had another name.
func shelfAt(ago int) []shelf.Product {
	if ago <= newFoam {
		return products
	}
	before := slices.Clone(products)
	for i := range before {
		if before[i].Class == procedure.FoamProduct {
			before[i].ID, before[i].Name = "scud", "Scud foam"
		}
	}
	return before
}

// slower is what the events of the half year do to a step's time.
func (t story) slower(procedureID string, s wash.PlannedStep) float64 {
	switch {
	case s.Stage == "Dry" && t.ago <= badTowels:
		return 1.25
	case s.Stage == "Last look" && t.ago <= hardWater && t.ago > hardWater-7:
		return 1.5
	case s.ProductID == "spume" && t.ago <= newFoam:
		return 1.55
	case procedureID == mostUsed && s.Technique == procedure.Prepare && t.ago > newVersion:
		return 1.25
	}
	return 1
}

// inHand is the procedure's step that is in hand in a bay: the buckets are filled while foam works.
const inHand = "fill"

// upTo is how many steps are begun of a wash: all of one that is finished, else up to the one in hand.
func upTo(steps []wash.PlannedStep, finished bool) int {
	at := slices.IndexFunc(steps, func(s wash.PlannedStep) bool { return cmp.Or(s.Base, s.ID) == inHand })
	if finished || at < 0 {
		return len(steps)
	}
	return at + 1
}

// taps plays a wash with the person's pace and spread. Dwell is waited for; some rinses come late, some steps wait
// for a machine or are paused.
func (l *loader) taps(t story, w store.Wash, washer string) []wash.Event {
	var events []wash.Event
	now := w.CreatedAt.Add(time.Minute)
	if t.until >= 1 {
		now = now.Add(time.Duration(l.dice.Intn(8)) * time.Minute)
	}
	tap := func(kind wash.Kind, step string) {
		events = append(
			events,
			wash.Event{
				ID:   l.id(),
				Kind: kind,
				Step: step,
				At:   now.Truncate(time.Microsecond),
				Seq:  len(events),
				By:   washer,
			},
		)
	}
	steps := slices.DeleteFunc(w.Steps(), func(s wash.PlannedStep) bool { return s.If != nil && !s.If.Expected })
	free := map[string]time.Time{}
	last := upTo(steps, t.until >= 1)
	for i, s := range steps[:last] {
		for _, id := range s.Ends {
			if now.Before(free[id]) {
				now = free[id]
			}
		}
		tap(wash.Start, s.ID)
		if i == last-1 && t.until < 1 {
			break // in hand now
		}
		length := time.Duration(
			s.Minutes * t.hand.pace * t.slower(
				w.Plan.Procedure,
				s,
			) * math.Exp(
				t.hand.spread*l.dice.NormFloat64(),
			) * float64(time.Minute),
		)
		l.interrupted(s, length, t.hand.care, func(d time.Duration) { now = now.Add(d) }, tap)
		tap(wash.Done, s.ID)
		if s.Dwell != nil {
			free[s.ID] = now.Add(s.Dwell.From.Duration())
		}
		now = now.Add(4 * time.Second)
		if t.until >= 1 && l.dice.Intn(14) == 0 { // somebody else has the lance
			now = now.Add(time.Duration(30+l.dice.Intn(120)) * time.Second)
		}
	}
	if t.until >= 1 {
		tap(wash.Finish, "")
		return events
	}
	// The last tap of a running wash lies in the last minutes, whatever the dice said before.
	shift := l.now.Add(-90 * time.Second).Sub(events[len(events)-1].At)
	for i := range events {
		events[i].At = events[i].At.Add(shift)
	}
	return events
}

// audit walks the checklist and signs; what an earlier round found nothing at is answered already.
func (l *loader) audit(
	t story,
	w store.Wash,
	id string,
	at time.Time,
	answer func(story, audit.Item) audit.Answer,
) error {
	list, auditor := audit.Starter(), l.auditor(t, w)
	tips := services().Of(t.service).Tips
	skips := list.Skips(condition.Facts{condition.WantsTips: condition.YesOrNo(tips)})
	a, err := l.store.StartAudit(l.ctx, store.Audit{ID: id, WashID: w.ID, AuditorID: auditor, ChecklistID: list.ID,
		ChecklistVersion: list.Version, StartedAt: at, Light: audit.Lamp, Skips: skips})
	if err != nil {
		return err
	}
	given := map[string]audit.Answer{}
	for _, item := range a.Items {
		given[item.Item] = item.Answer
	}
	for _, item := range list.Items {
		if _, done := given[item.ID]; done || !a.Walked().Asks(item) {
			continue
		}
		given[item.ID] = audit.Answer{Verdict: audit.Pass, Findings: []audit.Finding{}}
		if item.When.Always() { // what only some washes ask for has always been well
			given[item.ID] = answer(t, item)
		}
		if a.Round == 1 {
			given[item.ID] = l.besides(t, w, item, at, given[item.ID])
		}
		if _, err := l.store.SaveItem(l.ctx, store.AuditItem{AuditID: a.ID, Item: item.ID, Answer: given[item.ID],
			ByID: auditor, At: at}); err != nil {
			return err
		}
	}
	return l.store.CloseAudit(l.ctx, a.ID, auditor, at.Add(6*time.Minute), func(store.Signing) (audit.Result, error) {
		return audit.Judge(list, given, w.Plan, a.Walked()), nil
	})
}

func (l *loader) answer(t story, item audit.Item) audit.Answer {
	care := t.hand.care
	if slices.Contains(item.Kinds, audit.BondedMatter) && t.ago <= hardWater && t.ago > hardWater-7 {
		care -= 0.5 // spots
	}
	if l.dice.Float64() < care {
		return audit.Answer{Verdict: audit.Pass, Findings: []audit.Finding{}}
	}
	zone := vehicle.LowerLeft
	for _, p := range t.car.spec.Body.Parts() {
		if item.Zones.Has(p) && (l.dice.Intn(3) == 0 || zone == vehicle.LowerLeft) {
			zone = p.Zone
		}
	}
	f := audit.Finding{Zone: zone, Kind: item.Kinds[0], Severity: audit.Minor}
	if l.dice.Intn(3) == 0 {
		f.Severity = audit.Major
	}
	if f.Kind == audit.Drips {
		f.Amount = 3 // two are let pass
	}
	if f.Kind == audit.BondedMatter {
		f.Matter = condition.WaterSpots
	}
	return audit.Answer{Verdict: audit.Found, Findings: []audit.Finding{f}}
}

// services are what the yard sells, with its prices.
func services() condition.Menu {
	prices := map[string]measure.Money{"basic": 4500, "signature": 7500, "rinse-and-dry": 3200, "ten-minutes": 1900, "express": 3500,
		"touchless": 2900, "rinseless": 4900, "coating-service": 14000, "wheels-only": 2400, "show": 26000, "winter-rescue": 6900}
	menu := condition.StarterMenu()
	for i := range menu {
		menu[i].Price = prices[menu[i].ID]
	}
	return menu
}
