package api

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"uskel/core/procedure"
	"uskel/core/shop"
	"uskel/core/skills"
	"uskel/core/wash"
	"uskel/store"
)

// WatchedWash is a wash as a trainer watches it: its steps as they stand, and what is watched for in each.
type WatchedWash struct {
	WashID  string          `json:"washId"`
	Label   string          `json:"label"`
	Plate   string          `json:"plate"`
	People  []PersonRef     `json:"people" doc:"who washes; the trainer is not among them"`
	Steps   []WatchStep     `json:"steps"`
	Rubrics []skills.Rubric `json:"rubrics" doc:"of the skills that this wash shows"`
	Marks   []WatchMark     `json:"marks" doc:"the oldest first"`
	Now     time.Time       `json:"now"`
}

// WatchStep is a step of the wash with what it shows.
type WatchStep struct {
	ID       string          `json:"id"`
	Title    string          `json:"title"`
	Skill    procedure.Skill `json:"skill"`
	Criteria []string        `json:"criteria" doc:"ids of what is watched for in it"`
	Minutes  float64         `json:"minutes" doc:"planned"`
	Status   wash.Status     `json:"status"`
	HandsOn  int             `json:"handsOn" doc:"s so far"`
	By       string          `json:"by,omitempty" doc:"id of who has it in hand, or had it last"`
}

// WatchMark is what was seen of a criterion. The device makes its id, so that it can be sent twice.
type WatchMark struct {
	ID        string          `json:"id" format:"uuid"`
	PersonID  string          `json:"personId" format:"uuid"`
	Skill     procedure.Skill `json:"skill"`
	Version   int             `json:"version" minimum:"0" doc:"of the rubric"`
	Criterion string          `json:"criterion" maxLength:"40"`
	Mark      skills.Mark     `json:"mark" minimum:"0" maximum:"2" doc:"0 not seen, 1 with help, 2 alone"`
	Step      string          `json:"step" maxLength:"80"`
	Note      string          `json:"note,omitempty" maxLength:"60" doc:"in three words"`
	At        time.Time       `json:"at"`
}

// Watchable is a running wash that can be watched.
type Watchable struct {
	WashID string    `json:"washId"`
	Label  string    `json:"label"`
	Washer PersonRef `json:"washer"`
}

func (s *server) registerWatch(api huma.API) {
	operation(s, api, get("/washes/{id}/watch", "watch", "A wash as a trainer watches it"), shop.SignOff, s.watch)
	operation(s, api, post("/washes/{id}/watch", "mark", "What a trainer saw in a wash, criterion by criterion"), shop.SignOff, s.mark)
}

func (s *server) watch(ctx context.Context, in *ID) (*Out[WatchedWash], error) {
	w, err := s.Store.Wash(ctx, in.ID)
	if err != nil {
		return nil, err
	}
	log, err := s.Store.Events(ctx, w.ID)
	if err != nil {
		return nil, err
	}
	rubrics, err := s.Store.Rubrics(ctx)
	if err != nil {
		return nil, err
	}
	rows, err := s.Store.WatchedIn(ctx, w.ID)
	if err != nil {
		return nil, err
	}
	people, err := s.Store.People(ctx)
	if err != nil {
		return nil, err
	}
	v := WatchedWash{WashID: w.ID, Label: w.Booking.Vehicle.Label, Plate: w.Booking.Vehicle.Plate, People: []PersonRef{},
		Marks: make([]WatchMark, len(rows)), Now: s.Now()}
	state := wash.Fold(w.Steps(), log)
	v.show(w, state, rubrics)
	crew := append(crewOf(w, state, log), wash.Washers(w.WasherID, w.Steps(), log)...)
	for _, p := range people {
		if slices.Contains(crew, p.ID) && p.ID != who(ctx).ID {
			v.People = append(v.People, ref(p))
		}
	}
	for i, r := range rows {
		v.Marks[i] = WatchMark{r.ID, r.PersonID, r.Skill, r.Version, r.Criterion, r.Mark, r.Step, r.Note, r.At.UTC()}
	}
	return out(v)
}

// show are the steps that show a skill, as they stand, with the rubrics of these skills.
func (v *WatchedWash) show(w store.Wash, state wash.State, rubrics []skills.Rubric) {
	v.Steps, v.Rubrics = []WatchStep{}, []skills.Rubric{}
	for _, step := range w.Plan.Steps {
		at := slices.IndexFunc(state.Steps, func(x wash.StepState) bool { return x.ID == step.ID })
		rubric, err := skills.RubricOf(rubrics, step.Skill)
		if at < 0 || err != nil {
			continue
		}
		now := state.Steps[at]
		line := WatchStep{step.ID, step.Title, step.Skill, []string{}, step.Minutes, now.Status, int(now.HandsOn), now.By}
		for _, c := range rubric.SeenIn(step.Skill, step.Technique) {
			line.Criteria = append(line.Criteria, c.ID)
		}
		v.Steps = append(v.Steps, line)
		if !slices.ContainsFunc(v.Rubrics, func(r skills.Rubric) bool { return r.Skill == rubric.Skill }) {
			v.Rubrics = append(v.Rubrics, rubric)
		}
	}
}

// watchedLate is how long after a wash what was seen in it is still taken: a device may have been without a connection.
const watchedLate = 9 * 24 * time.Hour

func (s *server) mark(ctx context.Context, in *struct {
	ID
	Body struct {
		Marks []WatchMark `json:"marks" minItems:"1" maxItems:"200"`
	}
}) (*Out[WatchedWash], error) {
	w, err := s.Store.WashHead(ctx, in.ID.ID)
	if err != nil {
		return nil, err
	}
	log, err := s.Store.Events(ctx, w.ID)
	if err != nil {
		return nil, err
	}
	crew := append(crewOf(w, wash.Fold(w.Steps(), log), log), wash.Washers(w.WasherID, w.Steps(), log)...)
	rows := make([]store.WatchedRow, len(in.Body.Marks))
	for i, m := range in.Body.Marks {
		field := fmt.Sprintf("marks[%d]", i)
		switch {
		case m.PersonID == who(ctx).ID:
			return nil, forbidden("You cannot mark your own work.")
		case !slices.Contains(crew, m.PersonID):
			return nil, invalid(field+".personId", errors.New("that wash was done by somebody else"))
		case m.At.After(s.Now().Add(2*time.Minute)) || m.At.Before(s.Now().Add(-watchedLate)):
			return nil, invalid(field+".at", errors.New("at: within nine days, and not ahead of the shop's clock"))
		}
		rubric, err := s.rubricAt(ctx, m.Skill, m.Version)
		if err != nil {
			return nil, invalid(field, err)
		}
		if _, known := rubric.Criterion(m.Criterion); !known {
			return nil, invalid(field+".criterion", fmt.Errorf("the rubric for %s has no such criterion", m.Skill))
		}
		rows[i] = store.WatchedRow{ID: m.ID, WashID: w.ID, PersonID: m.PersonID, TrainerID: who(ctx).ID, Skill: m.Skill, Version: m.Version,
			Criterion: m.Criterion, Mark: m.Mark, Step: m.Step, Note: m.Note, At: m.At, Received: s.Now()}
	}
	if err := s.Store.AddWatched(ctx, rows); err != nil {
		return nil, err
	}
	return s.watch(ctx, &ID{w.ID})
}
