package api

import (
	"cmp"
	"context"
	"errors"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"uskel/core/condition"
	"uskel/core/drill"
	"uskel/core/plan"
	"uskel/core/practice"
	"uskel/core/procedure"
	"uskel/core/procedure/starters"
	"uskel/core/shop"
	"uskel/core/vehicle"
	"uskel/store"
)

// RunView is a drill: what it is made from and every action so far. The device plays it by the same core.
type RunView struct {
	ID      string           `json:"id"`
	Title   string           `json:"title"`
	Person  PersonRef        `json:"person"`
	Drill   drill.Task       `json:"drill"`
	Actions []drill.Action   `json:"actions"`
	Version int              `json:"version"`
	Mine    bool             `json:"mine"`
	Result  *drill.RunResult `json:"result,omitempty"`
}

// RunLine is a run in a list.
type RunLine struct {
	ID         string          `json:"id"`
	Title      string          `json:"title"`
	Kind       drill.Kind      `json:"kind"`
	Skill      procedure.Skill `json:"skill"`
	Level      int             `json:"level"`
	Person     PersonRef       `json:"person"`
	StartedAt  time.Time       `json:"startedAt"`
	FinishedAt *time.Time      `json:"finishedAt,omitempty"`
	Passed     *bool           `json:"passed,omitempty"`
}

const listedRuns = 12

func (s *server) registerRuns(api huma.API) {
	operation(s, api, get("/drill-runs", "drillRuns", "The newest drills: your own, or everybody's for whoever signs off"),
		shop.Practise, s.listRuns)
	operation(s, api, post("/drill-runs", "startRun", "Start a drill made from a looked-over vehicle"), shop.Practise, s.startRun)
	operation(s, api, get("/drill-runs/{id}", "drillRun", "A drill"), shop.Practise, s.run)
	operation(s, api, put("/drill-runs/{id}/actions", "playRun", "The actions so far"), shop.Practise, s.playRun)
	operation(s, api, post("/drill-runs/{id}/finish", "finishRun", "Set a finished run beside the drill as taught"), shop.Practise,
		s.finishRun)
	operation(s, api, post("/drill-runs/{id}/again", "runAgain", "Start the same drill again, from one of its actions"), shop.Practise,
		s.runAgain)
}

func (s *server) listRuns(ctx context.Context, _ *struct{}) (*Out[[]RunLine], error) {
	person := who(ctx).ID
	if who(ctx).Role.May(shop.SignOff) {
		person = ""
	}
	rows, err := s.Store.Runs(ctx, person, listedRuns)
	lines := make([]RunLine, len(rows))
	for i, r := range rows {
		lines[i] = RunLine{r.ID, r.Title, r.Kind, r.Skill, r.Level, ref(r.Person), r.StartedAt.UTC(), r.FinishedAt, r.Passed}
	}
	return &Out[[]RunLine]{lines}, err
}

// seedShift leaves a seed as many bits as a number has in a browser: the drill is played there by the same core.
const seedShift = 10

func (s *server) startRun(ctx context.Context, in *In[struct {
	BookingID string        `json:"bookingId,omitempty" format:"uuid" doc:"a practice car when absent"`
	Level     int           `json:"level" minimum:"1" maximum:"3"`
	What      practice.What `json:"what"`
}]) (*Out[RunView], error) {
	booking, l, err := s.practiceOn(ctx, in.Body.BookingID)
	if err != nil {
		return nil, err
	}
	filmed := len(l.Filmed) > 0 || l.Watching(vehicle.FilmEdges)
	l = forPractice(l)
	f, err := s.fillHour(ctx, booking, l, plan.Arranged{Procedure: starters.Maintenance().ID})
	if err != nil {
		return nil, err
	}
	made, err := f.made()
	if err != nil {
		return nil, err
	}
	id := store.NewID()
	d, err := practice.Make(in.Body.What, in.Body.Level, seedOf(id)>>seedShift, practice.Car{Title: booking.Vehicle.Label,
		Procedure: starters.Maintenance(), Job: f.job, Plan: made, Filmed: filmed, Vessels: f.settings.Vessels})
	if err != nil {
		return nil, conflict(sentenceCase(err.Error()) + ".")
	}
	return s.addRun(ctx, store.DrillRun{ID: id, Title: booking.Vehicle.Label, Level: in.Body.Level, Drill: d, Actions: []drill.Action{}})
}

// practiceOn is the car that is practised on: one of the shop's as it was looked over, or the practice car, so that a shop can
// train before its first customer.
func (s *server) practiceOn(ctx context.Context, booking string) (store.Booking, condition.LookOver, error) {
	if booking == "" {
		spec, look := practice.Library()
		return store.Booking{Vehicle: store.Vehicle{Label: "Practice car", Spec: spec}, ArrivesAt: s.Now(), PromisedAt: s.Now()}, look, nil
	}
	v, err := s.Store.Booking(ctx, booking)
	if err != nil {
		return store.Booking{}, condition.LookOver{}, err
	}
	l, err := looked(v)
	return v.Booking, l, err
}

// forPractice is a look-over for a drill with the mitt: it takes the standard two-bucket wash wherever the car really stands,
// and of what is watched only what tells how easily the paint marks counts.
func forPractice(l condition.LookOver) condition.LookOver {
	l.Place.Supply, l.Place.Runoff, l.Place.Also = condition.PressureWasher, true, nil
	l.Watch = slices.DeleteFunc(slices.Clone(l.Watch), func(w vehicle.Watch) bool { return w != vehicle.GlossBlack })
	return l
}

func (s *server) addRun(ctx context.Context, r store.DrillRun) (*Out[RunView], error) {
	r.PersonID, r.StartedAt, r.Kind, r.Skill = who(ctx).ID, s.Now(), r.Drill.Kind, r.Drill.Skill()
	if err := s.Store.AddRun(ctx, r); err != nil {
		return nil, err
	}
	return s.runView(ctx, r)
}

func (s *server) runView(ctx context.Context, r store.DrillRun) (*Out[RunView], error) {
	p, err := s.Store.Person(ctx, r.PersonID)
	return &Out[RunView]{RunView{r.ID, r.Title, ref(p), r.Drill, r.Actions, r.Version, r.PersonID == who(ctx).ID, r.Result}}, err
}

// seenRun finds a run that the person signed in may see: their own, or any for whoever signs off.
func (s *server) seenRun(ctx context.Context, id string) (store.DrillRun, error) {
	r, err := s.Store.Run(ctx, id)
	return r, cmp.Or(err, maySee(ctx, r.PersonID))
}

func (s *server) run(ctx context.Context, in *ID) (*Out[RunView], error) {
	r, err := s.seenRun(ctx, in.ID)
	if err != nil {
		return nil, err
	}
	return s.runView(ctx, r)
}

// openRun finds a run that the person signed in may still play.
func (s *server) openRun(ctx context.Context, id string) (store.DrillRun, error) {
	r, err := s.seenRun(ctx, id)
	return r, cmp.Or(err, mayPlay(ctx, r.PersonID, r.FinishedAt))
}

// RunSaved is the version of a run that was saved.
type RunSaved struct {
	Version int `json:"version"`
}

func (s *server) playRun(ctx context.Context, in *struct {
	ID
	Body struct {
		Version int            `json:"version" minimum:"0"`
		Actions []drill.Action `json:"actions" maxItems:"600"`
	}
}) (*Out[RunSaved], error) {
	r, err := s.openRun(ctx, in.ID.ID)
	if err != nil {
		return nil, err
	}
	if _, err := r.Drill.Replay(in.Body.Actions); err != nil {
		return nil, invalid("actions", err)
	}
	r.Actions, r.Version = in.Body.Actions, in.Body.Version
	saved, err := s.Store.SaveRun(ctx, r)
	if errors.Is(err, store.ErrStale) {
		return nil, conflict("The drill went on somewhere else: open it again.")
	}
	return &Out[RunSaved]{RunSaved{saved.Version}}, err
}

func (s *server) finishRun(ctx context.Context, in *ID) (*Out[RunView], error) {
	r, err := s.openRun(ctx, in.ID)
	if err != nil {
		return nil, err
	}
	result, err := r.Drill.Judge(r.Actions)
	if err != nil {
		return nil, conflict(sentenceCase(err.Error()) + ".")
	}
	now := s.Now()
	r.Result, r.Passed, r.FinishedAt = &result, &result.Passed, &now
	if r, err = s.Store.SaveRun(ctx, r); errors.Is(err, store.ErrStale) {
		return nil, conflict("This drill is finished.")
	} else if err != nil {
		return nil, err
	}
	return s.runView(ctx, r)
}

func (s *server) runAgain(ctx context.Context, in *struct {
	ID
	Body struct {
		From int `json:"from" minimum:"0" maximum:"600" doc:"how many of its actions stay"`
	}
}) (*Out[RunView], error) {
	r, err := s.seenRun(ctx, in.ID.ID)
	if err != nil {
		return nil, err
	}
	if in.Body.From > len(r.Actions) {
		return nil, invalid("from", errors.New("from: it has no so many actions"))
	}
	return s.addRun(ctx, store.DrillRun{ID: store.NewID(), Title: r.Title, Level: r.Level, Drill: r.Drill,
		Actions: r.Actions[:in.Body.From]})
}
