package api

import (
	"cmp"
	"context"
	"errors"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"uskel/core/procedure"
	"uskel/core/ready"
	"uskel/core/shop"
	"uskel/core/skills"
	"uskel/core/vehicle"
	"uskel/core/wash"
	"uskel/store"
)

// Training is who can do what.
type Training struct {
	People  []Learner       `json:"people"`
	Rubrics []skills.Rubric `json:"rubrics"`
	Cars    []DrillCar      `json:"cars" doc:"looked-over vehicles a drill can be made from"`
	Running []Watchable     `json:"running" doc:"washes that run and can be watched, for whoever signs off"`
	Helped  []ready.Helped  `json:"helped,omitempty" doc:"whether findings fell after a drill, for whoever signs off"`
}

// Learner is a person and their skills.
type Learner struct {
	PersonRef
	Skills []SkillHeld `json:"skills"`
	Next   string      `json:"next,omitempty" doc:"the next skill in teaching order"`
	ToDo   []string    `json:"toDo,omitempty" doc:"what a lead has to do for them, the most urgent first"`
}

// SkillHeld is one skill of one person.
type SkillHeld struct {
	Skill procedure.Skill `json:"skill"`
	Held  bool            `json:"held"`
	// Lapses is when the sign-off lapses, or has lapsed; Refresher whether it is to be watched again.
	Lapses    *time.Time `json:"lapses,omitempty"`
	Refresher bool       `json:"refresher,omitempty"`
	// Evidence is for whoever signs off, and for oneself.
	Evidence *ready.Evidence `json:"evidence,omitempty"`
	At       *time.Time      `json:"at,omitempty"`
	By       string          `json:"by,omitempty"`
	// Findings since the sign-off, where the shop lets them make it lapse.
	Findings int `json:"findings,omitempty"`
	// Needs is how far somebody is on the way to a sign-off; Proposed whether all of it is there.
	Needs    []skills.Need `json:"needs,omitempty"`
	Proposed bool          `json:"proposed,omitempty"`
	// Watched are the washes that were watched for it, the newest first.
	Watched []WatchedFor `json:"watched,omitempty"`
}

// WatchedFor is a wash that was watched for a skill: what was marked, criterion by criterion.
type WatchedFor struct {
	WashID string       `json:"washId"`
	Label  string       `json:"label" doc:"of the vehicle"`
	At     time.Time    `json:"at" doc:"the newest mark"`
	Marks  skills.Marks `json:"marks" doc:"by criterion: 0 not seen, 1 with help, 2 alone"`
}

// DrillCar is a vehicle a drill can be made from.
type DrillCar struct {
	BookingID string          `json:"bookingId"`
	Label     string          `json:"label"`
	Plate     string          `json:"plate"`
	Spec      vehicle.Vehicle `json:"spec"`
}

func (s *server) registerTraining(api huma.API) {
	operation(s, api, get("/training", "training", "Skills and rubrics, and the cars that drills are made from"), shop.See, s.training)
	operation(
		s,
		api,
		post("/sign-offs", "signOff", "Sign someone off for a skill after watching a wash"),
		shop.SignOff,
		s.signOff,
	)
}

func (s *server) training(ctx context.Context, _ *struct{}) (*Out[Training], error) {
	people, err := s.Store.People(ctx)
	if err != nil {
		return nil, err
	}
	record, err := s.skillsRecord(ctx)
	if err != nil {
		return nil, err
	}
	t := Training{Rubrics: record.rubrics, People: []Learner{}, Cars: []DrillCar{}, Running: []Watchable{}}
	for _, p := range people {
		if p.Role == shop.Auditor || !p.Active {
			continue
		}
		l := record.learner(p, s.Now())
		if p.ID == who(ctx).ID || who(ctx).Role.May(shop.SignOff) {
			record.weigh(&l)
		}
		if who(ctx).Role.May(shop.SignOff) && !p.Role.Leads() {
			l.ToDo = l.toDo()
		}
		t.People = append(t.People, l)
	}
	day, err := s.today(ctx)
	if err != nil {
		return nil, err
	}
	views, err := s.Store.Bookings(ctx, day.AddDate(0, 0, -1), day.AddDate(0, 0, 1))
	if err != nil {
		return nil, err
	}
	t.of(ctx, views)
	if who(ctx).Role.May(shop.SignOff) {
		practised, err := s.Store.Practised(ctx, s.Now().AddDate(0, 0, -2*ready.HelpedDays))
		if err != nil {
			return nil, err
		}
		t.Helped = ready.DidHelp(practised)
	}
	return &Out[Training]{t}, nil
}

// of are the cars of the day that drills are made from, and the washes that run, for whoever watches.
func (t *Training) of(ctx context.Context, views []store.BookingView) {
	for _, v := range views {
		vehicle := v.Booking.Vehicle
		if v.LookOver != nil {
			t.Cars = append(t.Cars, DrillCar{v.Booking.ID, vehicle.Label, vehicle.Plate, vehicle.Spec})
		}
		if v.Wash != nil && v.Booking.Stage.Washing() && v.Wash.FinishedAt == nil && v.Wash.WasherID != who(ctx).ID &&
			who(ctx).Role.May(shop.SignOff) {
			t.Running = append(t.Running, Watchable{v.Wash.ID, vehicle.Label, ref(v.Wash.Washer)})
		}
	}
}

// learningRecord is what is known of everybody's skills.
type learningRecord struct {
	rubrics  []skills.Rubric
	offs     []store.SignOff
	counted  []skills.SignOff // the same, with the findings since
	rule     skills.Lapse
	evidence map[string]map[procedure.Skill][]ready.Counted
	had      map[string]map[procedure.Skill]skills.Had
	watched  []store.WatchedOf
}

// lapse is the shop's rule of when a sign-off lapses.
func lapse(settings shop.Settings) skills.Lapse {
	return skills.Lapse{Months: settings.Lapses, Findings: settings.LapseOn}
}

// looksBackDays is how far back watched washes and drills count for a sign-off.
const looksBackDays = 180

func (s *server) skillsRecord(ctx context.Context) (learningRecord, error) {
	var r learningRecord
	settings, _, err := s.Store.Settings(ctx)
	if err != nil {
		return r, err
	}
	r.rule = lapse(settings)
	if r.rubrics, err = s.Store.Rubrics(ctx); err != nil {
		return r, err
	}
	if r.offs, err = s.Store.SignOffs(ctx); err != nil {
		return r, err
	}
	if r.counted, err = s.withFindings(ctx, r.offs, r.rule); err != nil {
		return r, err
	}
	if r.evidence, err = s.evidence(ctx, settings); err != nil {
		return r, err
	}
	if r.watched, err = s.Store.Watched(ctx, s.Now().AddDate(0, 0, -looksBackDays)); err != nil {
		return r, err
	}
	r.had, err = s.had(ctx, r.watched)
	return r, err
}

// withFindings are the sign-offs with the findings since each, where the shop lets these make them lapse.
func (s *server) withFindings(ctx context.Context, offs []store.SignOff, rule skills.Lapse) ([]skills.SignOff, error) {
	if rule.Findings == 0 {
		return trainingOffs(offs), nil
	}
	findings, err := s.Store.FindingsSince(ctx, s.Now().AddDate(0, 0, -skills.FindingDays))
	return skills.WithFindings(trainingOffs(offs), findings), err
}

// had is what everybody has of what a sign-off needs, by person and skill.
func (s *server) had(ctx context.Context, watched []store.WatchedOf) (map[string]map[procedure.Skill]skills.Had, error) {
	since := s.Now().AddDate(0, 0, -looksBackDays)
	passed, err := s.Store.DrillsPassed(ctx, since)
	all := map[string]map[procedure.Skill]skills.Had{}
	of := func(person string, skill procedure.Skill) skills.Had {
		if all[person] == nil {
			all[person] = map[procedure.Skill]skills.Had{}
		}
		return all[person][skill]
	}
	wash := ""
	for _, w := range watched { // by person, wash and skill
		h := of(w.PersonID, w.Skill)
		if key := w.PersonID + w.WashID + string(w.Skill); key != wash {
			wash, h.Washes = key, append(h.Washes, skills.Marks{})
		}
		h.Washes[len(h.Washes)-1][w.Criterion] = w.Mark
		all[w.PersonID][w.Skill] = h
	}
	for _, p := range passed {
		h := of(p.PersonID, p.Skill)
		if h.Passed == nil {
			h.Passed = map[int]int{}
		}
		h.Passed[p.Level] += p.Passed
		all[p.PersonID][p.Skill] = h
	}
	return all, err
}

// learner is somebody with their skills in the order of teaching.
func (r learningRecord) learner(p store.Person, now time.Time) Learner {
	l := Learner{PersonRef: ref(p)}
	held := skillsOf(p, skills.InForce(r.counted, now, r.rule))
	l.Next = string(skills.Next(r.rubrics, held))
	for _, rubric := range r.rubrics {
		line := SkillHeld{Skill: rubric.Skill, Held: slices.Contains(held, rubric.Skill)}
		for i, o := range r.offs { // newest first
			if o.PersonID == p.ID && o.Skill == line.Skill {
				at := o.At.UTC()
				line.At, line.By = &at, o.Trainer.Name
				line.lapsing(r.counted[i], now, r.rule, p.Role.Leads())
				break
			}
		}
		l.Skills = append(l.Skills, line)
	}
	return l
}

// evidence is what was seen of everybody's skills, by person and skill.
func (s *server) evidence(ctx context.Context, settings shop.Settings) (map[string]map[procedure.Skill][]ready.Counted, error) {
	rows, err := s.Store.Evidence(ctx, s.Now(), cmp.Or(settings.Fades, ready.UsualHalfLife))
	seen := map[string]map[procedure.Skill][]ready.Counted{}
	for _, r := range rows {
		if seen[r.PersonID] == nil {
			seen[r.PersonID] = map[procedure.Skill][]ready.Counted{}
		}
		seen[r.PersonID][r.Skill] = append(seen[r.PersonID][r.Skill], r.Counted)
	}
	return seen, err
}

// lapsing says when a sign-off lapses, or what let it; leads, who sign others off, hold theirs.
func (l *SkillHeld) lapsing(o skills.SignOff, now time.Time, rule skills.Lapse, leads bool) {
	if leads {
		return
	}
	if lapses, ever := o.LapsesAt(rule); ever {
		lapses = lapses.UTC()
		l.Lapses = &lapses
	}
	l.Refresher = o.RefresherDue(now, rule)
	if rule.Findings > 0 {
		l.Findings = o.Findings
	}
}

// weigh sets the evidence beside each skill, and what of its sign-off's needs is there.
func (r learningRecord) weigh(l *Learner) {
	for i, line := range l.Skills {
		seen := r.evidence[l.ID][line.Skill]
		e := ready.Weigh(line.Skill, seen)
		l.Skills[i].Evidence = &e
		had := r.had[l.ID][line.Skill]
		for _, c := range seen {
			if c.Source == ready.FromAudit {
				had.Audits = c.Well
			}
		}
		rubric, err := skills.RubricOf(r.rubrics, line.Skill)
		if err != nil {
			continue
		}
		l.Skills[i].Needs = rubric.Progress(had)
		l.Skills[i].Proposed = skills.Proposed(l.Skills[i].Needs) && (!line.Held || line.Refresher)
		l.Skills[i].Watched = r.watchedFor(l.ID, line.Skill)
	}
}

func (l Learner) toDo() []string {
	standing := make([]ready.StandsIn, len(l.Skills))
	for i, s := range l.Skills {
		standing[i] = ready.StandsIn{Skill: s.Skill, Held: s.Held, Proposed: s.Proposed, Refresher: s.Refresher, Needs: s.Needs}
	}
	return ready.ToDo(standing)
}

// watchedFor are the washes of somebody that were watched for a skill, the newest first.
func (r learningRecord) watchedFor(person string, skill procedure.Skill) []WatchedFor {
	washes := []WatchedFor{}
	for _, w := range r.watched { // by person, wash and skill
		if w.PersonID != person || w.Skill != skill {
			continue
		}
		if n := len(washes); n == 0 || washes[n-1].WashID != w.WashID {
			washes = append(washes, WatchedFor{WashID: w.WashID, Label: w.Label, At: w.At.UTC(), Marks: skills.Marks{}})
		}
		last := &washes[len(washes)-1]
		last.Marks[w.Criterion] = w.Mark
		if w.At.After(last.At) {
			last.At = w.At.UTC()
		}
	}
	slices.SortStableFunc(washes, func(a, b WatchedFor) int { return b.At.Compare(a.At) })
	return washes
}

func (s *server) signOff(ctx context.Context, in *In[struct {
	PersonID string          `json:"personId" format:"uuid"`
	Skill    procedure.Skill `json:"skill"`
	WashID   string          `json:"washId,omitempty" format:"uuid" doc:"The wash that was watched"`
	Criteria map[string]bool `json:"criteria"`
}]) (*Out[Learner], error) {
	b := in.Body
	if b.PersonID == who(ctx).ID {
		return nil, forbidden("You cannot sign off your own work.")
	}
	rubrics, err := s.Store.Rubrics(ctx)
	if err != nil {
		return nil, err
	}
	rubric, err := skills.RubricOf(rubrics, b.Skill)
	if err != nil {
		return nil, invalid("", err)
	}
	passed, err := rubric.Ready(b.Criteria)
	if err != nil {
		return nil, invalid("", err)
	}
	p, err := s.Store.Person(ctx, b.PersonID)
	if err != nil {
		return nil, err
	}
	o := store.SignOff{
		ID:        store.NewID(),
		PersonID:  p.ID,
		Skill:     b.Skill,
		TrainerID: who(ctx).ID,
		Criteria:  b.Criteria,
		Version:   rubric.Version,
		Passed:    passed,
		At:        s.Now(),
	}
	if b.WashID != "" {
		w, err := s.Store.Wash(ctx, b.WashID)
		if err != nil {
			return nil, err
		}
		log, err := s.Store.Events(ctx, w.ID)
		if err != nil {
			return nil, err
		}
		if !slices.Contains(wash.Washers(w.WasherID, w.Steps(), log), p.ID) {
			return nil, invalid("washId", errors.New("that wash was done by somebody else"))
		}
		o.WashID = &b.WashID
	}
	if err := s.Store.AddSignOff(ctx, o); err != nil {
		return nil, err
	}
	record, err := s.skillsRecord(ctx)
	return &Out[Learner]{record.learner(p, s.Now())}, err
}

// maySee refuses whoever may not see a person's drill: it is theirs, and for whoever signs off.
func maySee(ctx context.Context, person string) error {
	if person != who(ctx).ID && !who(ctx).Role.May(shop.SignOff) {
		return forbidden("This is somebody else's drill.")
	}
	return nil
}

// mayPlay refuses whoever may not go on with a person's drill: only they may, until it is finished.
func mayPlay(ctx context.Context, person string, finished *time.Time) error {
	switch {
	case person != who(ctx).ID:
		return forbidden("Only whoever started a drill can play it.")
	case finished != nil:
		return conflict("This drill is finished.")
	}
	return nil
}
