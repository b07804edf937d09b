package api

import (
	"context"
	"errors"
	"hash/fnv"
	"math"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"uskel/core/cases"
	"uskel/core/plan"
	"uskel/core/procedure"
	"uskel/core/shop"
	"uskel/store"
)

// dealt is how many cases somebody has in hand at once: a few minutes between two cars.
const dealt = 3

// CaseView is a case as it is put to somebody: without its answer.
type CaseView struct {
	ID      string          `json:"id"`
	Kind    string          `json:"kind"`
	Title   string          `json:"title"`
	Skill   procedure.Skill `json:"skill"`
	Level   int             `json:"level" doc:"1 to 3"`
	Scene   []string        `json:"scene" doc:"what is known, a line each"`
	Ask     string          `json:"ask"`
	Choices []string        `json:"choices,omitempty" doc:"absent where a number is asked"`
	Unit    string          `json:"unit,omitempty" doc:"of the number that is asked"`
	Photos  []PhotoView     `json:"photos,omitempty" doc:"what a case of the shop's own shows"`
}

// Dealt are somebody's open cases and how today went.
type Dealt struct {
	Cases    []CaseView `json:"cases"`
	Answered int        `json:"answered" doc:"today"`
	Right    int        `json:"right" doc:"today"`
}

// CaseJudged is what an answer was worth.
type CaseJudged struct {
	Right  bool         `json:"right"`
	Answer cases.Answer `json:"answer"`
	Due    time.Time    `json:"due" doc:"when the kind is asked again"`
	Days   int          `json:"days" doc:"until then; 0 is today"`
}

// CaseRecord is what somebody knows, by kind.
type CaseRecord struct {
	Person PersonRef   `json:"person"`
	Kinds  []KindKnown `json:"kinds"`
	Due    int         `json:"due" doc:"kinds whose turn it is"`
}

// KindKnown is a kind of case and what somebody remembers of it.
type KindKnown struct {
	Kind     string          `json:"kind"`
	Title    string          `json:"title"`
	Skill    procedure.Skill `json:"skill"`
	Answered int             `json:"answered"`
	Right    int             `json:"right"`
	Chance   float64         `json:"chance" doc:"that it is known now, 0 to 1"`
	Due      *time.Time      `json:"due,omitempty"`
}

// PhotoOfOwn is a photo of one of the shop's own cases.
type PhotoOfOwn struct {
	Case  string    `json:"case"`
	Photo PhotoView `json:"photo"`
}

// CaseRecords are own records, or everybody's for whoever signs off, and the shop's own cases.
type CaseRecords struct {
	People []CaseRecord `json:"people"`
	Own    []cases.Own  `json:"own,omitempty" doc:"for whoever signs off"`
	Photos []PhotoOfOwn `json:"photos,omitempty" doc:"of these cases"`
}

func (s *server) registerCases(api huma.API) {
	operation(s, api, post("/cases", "dealCases", "Your open judgement cases; more are dealt when there are few"), shop.Practise, s.dealCases)
	operation(s, api, post("/cases/{id}/answer", "answerCase", "Answer a case, once"), shop.Practise, s.answerCase)
	operation(s, api, get("/cases", "caseRecords", "What is known, by kind of case"), shop.Practise, s.caseRecords)
	operation(s, api, post("/own-cases", "addOwnCase", "Write a case of the shop's own"), shop.SignOff, s.addOwnCase)
	operation(s, api, remove("/own-cases/{id}", "archiveOwnCase", "Take a case of the shop's own out of use"), shop.SignOff, s.archiveOwnCase)
}

// caseKinds are the kinds of case there are: those that are worked out, and the shop's own.
func (s *server) caseKinds(ctx context.Context) ([]cases.Kind, []cases.Own, error) {
	rows, err := s.Store.OwnCases(ctx)
	kinds, own := cases.Kinds(), []cases.Own{}
	for _, r := range rows {
		r.Body.ID = r.ID
		own = append(own, r.Body)
		kinds = append(kinds, r.Body.Kind())
	}
	return kinds, own, err
}

// seedOf makes the seed of somebody's case from what cannot be foreseen: its own new id.
func seedOf(id string) int64 {
	h := fnv.New64a()
	h.Write([]byte(id))
	return int64(h.Sum64() >> 1)
}

func (s *server) dealCases(ctx context.Context, _ *struct{}) (*Out[Dealt], error) {
	kinds, _, err := s.caseKinds(ctx)
	if err != nil {
		return nil, err
	}
	me := who(ctx).ID
	known, err := s.Store.Recalls(ctx, me)
	if err != nil {
		return nil, err
	}
	world, now := cases.World{}, s.Now()
	rows, err := s.Store.DealCases(ctx, me, func(open []store.CaseRow) ([]store.CaseRow, error) {
		if len(open) >= dealt {
			return nil, nil
		}
		if world, err = s.caseWorld(ctx); err != nil {
			return nil, err
		}
		return deal(me, kinds, known, open, world, now)
	})
	if err != nil {
		return nil, err
	}
	d := Dealt{Cases: []CaseView{}}
	for _, r := range rows {
		c := r.Body
		view := CaseView{r.ID, c.Kind, c.Title, c.Skill, c.Level, c.Scene, c.Ask, c.Choices, c.Unit, nil}
		if id, own := cases.OwnID(c.Kind); own {
			if view.Photos, err = s.photosOf(ctx, id); err != nil {
				return nil, err
			}
		}
		d.Cases = append(d.Cases, view)
	}
	day, err := s.today(ctx)
	if err != nil {
		return nil, err
	}
	d.Answered, d.Right, err = s.Store.AnsweredSince(ctx, me, day)
	return &Out[Dealt]{d}, err
}

// deal deals somebody as many cases as are missing.
func deal(me string, kinds []cases.Kind, known []cases.Recall, open []store.CaseRow, world cases.World,
	now time.Time) ([]store.CaseRow, error) {
	var have []string
	for _, r := range open {
		have = append(have, r.Kind)
	}
	var rows []store.CaseRow
	for _, pick := range cases.Deal(kinds, known, now, dealt-len(open), have, seedOf(store.NewID())) {
		id := store.NewID()
		made, err := cases.MakeFrom(kinds, pick.Kind, seedOf(id), pick.Level, world)
		if err != nil {
			return nil, err
		}
		rows = append(rows, store.CaseRow{ID: id, PersonID: me, Kind: made.Kind, Skill: made.Skill, Body: made, DealtAt: now})
	}
	return rows, nil
}

// caseWorld is what cases are made from here: the cars looked over yesterday and today, the shelf, the shop's schools.
func (s *server) caseWorld(ctx context.Context) (cases.World, error) {
	b, err := s.basis(ctx)
	if err != nil {
		return cases.World{}, err
	}
	w := cases.World{Shelf: b.shelf, Pins: b.settings.Pins, Menu: b.settings.Menu()}
	day, err := s.today(ctx)
	if err != nil {
		return w, err
	}
	views, err := s.Store.Bookings(ctx, day.AddDate(0, 0, -1), day.AddDate(0, 0, 1))
	if err != nil {
		return w, err
	}
	around, err := s.around(ctx, s.Now())
	if err != nil {
		return w, err
	}
	for _, v := range views {
		if v.LookOver != nil {
			w.Jobs = append(w.Jobs, b.job(v.Booking, v.LookOver.Doc, around, plan.Arranged{}))
		}
	}
	return w, nil
}

func (s *server) answerCase(ctx context.Context, in *struct {
	ID
	Body cases.Given
}) (*Out[CaseJudged], error) {
	row, err := s.Store.Case(ctx, in.ID.ID)
	if err != nil {
		return nil, err
	}
	if row.PersonID != who(ctx).ID {
		return nil, forbidden("This case was put to somebody else.")
	}
	right, err := row.Body.Judge(in.Body)
	if err != nil {
		return nil, invalid("answer", err)
	}
	now := s.Now()
	row.AnsweredAt, row.Given, row.Correct = &now, &in.Body, &right
	recall, err := s.Store.AnswerCase(ctx, row, func(r cases.Recall) (cases.Recall, error) { return r.After(now, in.Body.Rated(right)) })
	if errors.Is(err, store.ErrStale) {
		return nil, conflict("This case is answered already.")
	}
	return &Out[CaseJudged]{CaseJudged{right, row.Body.Answer, recall.Due.UTC(), int(math.Round(recall.Due.Sub(now).Hours() / 24))}}, err
}

func (s *server) caseRecords(ctx context.Context, _ *struct{}) (*Out[CaseRecords], error) {
	kinds, own, err := s.caseKinds(ctx)
	if err != nil {
		return nil, err
	}
	all := CaseRecords{People: []CaseRecord{}}
	now := s.Now()
	if !who(ctx).Role.May(shop.SignOff) {
		known, err := s.Store.Recalls(ctx, who(ctx).ID)
		all.People = append(all.People, recordOf(who(ctx), kinds, known, now))
		return &Out[CaseRecords]{all}, err
	}
	all.Own = own
	if all.Photos, err = s.photosOfOwn(ctx, own); err != nil {
		return nil, err
	}
	everybody, err := s.Store.AllRecalls(ctx)
	if err != nil {
		return nil, err
	}
	people, err := s.Store.People(ctx)
	for _, p := range people {
		if p.Role == shop.Trainee || p.Role == shop.Washer || p.ID == who(ctx).ID {
			all.People = append(all.People, recordOf(p, kinds, everybody[p.ID], now))
		}
	}
	return &Out[CaseRecords]{all}, err
}

func recordOf(p store.Person, kinds []cases.Kind, known []cases.Recall, now time.Time) CaseRecord {
	r := CaseRecord{Person: ref(p), Kinds: []KindKnown{}}
	of := map[string]cases.Recall{}
	for _, k := range known {
		of[k.Kind] = k
	}
	for _, k := range kinds {
		recall, there := of[k.ID]
		line := KindKnown{Kind: k.ID, Title: k.Title, Skill: k.Skill, Answered: recall.Answered, Right: recall.Right, Chance: recall.Chance(now)}
		if there {
			due := recall.Due.UTC()
			line.Due = &due
		}
		if !there || !recall.Due.After(now) {
			r.Due++
		}
		r.Kinds = append(r.Kinds, line)
	}
	return r
}

// photosOfOwn are the photos that the shop's own cases show.
func (s *server) photosOfOwn(ctx context.Context, own []cases.Own) ([]PhotoOfOwn, error) {
	ids := make([]string, len(own))
	for i, o := range own {
		ids[i] = o.ID
	}
	if len(ids) == 0 {
		return nil, nil
	}
	rows, err := s.Store.Photos(ctx, ids...)
	photos := make([]PhotoOfOwn, len(rows))
	for i, p := range rows {
		photos[i] = PhotoOfOwn{p.SubjectID, photoView(p, who(ctx).ID)}
	}
	return photos, err
}

func (s *server) addOwnCase(ctx context.Context, in *In[cases.Own]) (*Out[cases.Own], error) {
	own := in.Body
	if err := own.Check(); err != nil {
		return nil, invalid("case", err)
	}
	own.ID = store.NewID()
	err := s.Store.AddOwnCase(ctx, store.OwnCase{ID: own.ID, Body: own, ByID: who(ctx).ID, At: s.Now()})
	return &Out[cases.Own]{own}, err
}

func (s *server) archiveOwnCase(ctx context.Context, in *ID) (*struct{}, error) {
	return nil, s.Store.ArchiveOwnCase(ctx, in.ID)
}
