package api

import (
	"cmp"
	"context"
	"errors"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"uskel/core/audit"
	"uskel/core/condition"
	"uskel/core/contact"
	"uskel/core/measure"
	"uskel/core/plan"
	"uskel/core/plan/judge"
	"uskel/core/plan/mend"
	"uskel/core/procedure"
	"uskel/core/procedure/starters"
	"uskel/core/shop"
	"uskel/core/skills"
	"uskel/core/stock"
	"uskel/core/vehicle"
	"uskel/store"
)

// BodyView is a body for drawing and grading.
type BodyView struct {
	Body    vehicle.Body    `json:"body"`
	Label   string          `json:"label"`
	Profile vehicle.Profile `json:"profile"`
	Parts   []vehicle.Part  `json:"parts"`
}

// Words are what the look-over offers to choose from.
type Words struct {
	Bodies []BodyView             `json:"bodies"`
	Grades []condition.GradeFacts `json:"grades"`
	Watch  []WatchView            `json:"watch"`
	Matter []condition.Matter     `json:"matter" doc:"bonded matter"`
	Facts  []condition.FactInfo   `json:"facts" doc:"what a condition can ask about"`
	Lists  Lists                  `json:"lists"`
}

// OverName is what a round can go over, with what one of its parts is called and the parts that can be put in an order.
type OverName struct {
	Over  procedure.Over `json:"over"`
	One   string         `json:"one"`
	Parts []string       `json:"parts"`
}

func oversNamed() []OverName {
	var all []OverName
	for _, name := range procedure.Over("").Values() {
		over := procedure.Over(name)
		all = append(all, OverName{over, over.One(), append([]string{}, over.PartKeys()...)})
	}
	return all
}

// Lists are what a step of a procedure is chosen from.
type Lists struct {
	Zones      []string              `json:"zones"`
	Techniques []string              `json:"techniques"`
	Skills     []string              `json:"skills"`
	Classes    []string              `json:"classes" doc:"product classes"`
	Acts       []string              `json:"acts" doc:"what takes soil off without touching"`
	Media      []string              `json:"media" doc:"what touches paint"`
	Overs      []OverName            `json:"overs" doc:"what rounds go over"`
	Orders     []string              `json:"orders" doc:"in which order rounds take their parts"`
	Waters     []string              `json:"waters"`
	Families   []starters.FamilyName `json:"families" doc:"method families"`
	Levels     []string              `json:"levels" doc:"how far a service is finished"`
	Tyres      []string              `json:"tyres" doc:"how a service leaves the tyres"`
	Leaves     []string              `json:"leaves" doc:"what a service may leave"`
	Options    []string              `json:"options" doc:"what may be left out when time is short"`
	Readings   []string              `json:"readings"`
	Findings   []audit.Kind          `json:"findings" doc:"what an audit may find"`
	Remedies   []audit.Act           `json:"remedies" doc:"what is done about findings"`
}

// WatchView is a watch item and what it changes.
type WatchView struct {
	Watch vehicle.Watch `json:"watch"`
	Label string        `json:"label"`
	Means string        `json:"means"`
	Bars  bool          `json:"bars"`
}

// LookOverView is a saved look-over with what follows from it.
type LookOverView struct {
	Booking    BookingCard          `json:"booking"`
	Version    int                  `json:"version" doc:"0 before the first save"`
	LookOver   condition.LookOver   `json:"lookOver"`
	By         string               `json:"by,omitempty"`
	At         *time.Time           `json:"at,omitempty"`
	Assessment condition.Assessment `json:"assessment"`
	Photos     []PhotoView          `json:"photos" doc:"how the vehicle came"`
}

// Judged is a look-over judged while it is being made.
type Judged struct {
	Assessment condition.Assessment `json:"assessment"`
	Choices    []ChoiceLine         `json:"choices"`
}

// ChoiceLine is a procedure's verdict without its plan.
type ChoiceLine struct {
	Title   string           `json:"title"`
	Family  string           `json:"family"`
	Verdict plan.Suitability `json:"verdict"`
	Why     []string         `json:"why"`
	Minutes float64          `json:"minutes"`
	Index   float64          `json:"index"`
}

// PlanView is every procedure judged and filled for a booking.
type PlanView struct {
	Booking     BookingCard          `json:"booking"`
	Version     int                  `json:"version" doc:"of the look-over"`
	Choices     []plan.Choice        `json:"choices" doc:"all, the best first; one with its plan"`
	Undelivered string               `json:"undelivered,omitempty" doc:"why nothing that delivers what was ordered can be done"`
	Around      Around               `json:"around" doc:"what it was made for"`
	Holders     map[string][]string  `json:"holders" doc:"who is signed off, by skill"`
	Missing     map[string][]string  `json:"missing" doc:"skills the booked washer does not hold, by procedure"`
	Assess      condition.Assessment `json:"assessment"`
	Look        condition.LookOver   `json:"lookOver"`
	Made        time.Time            `json:"made"`
	At          time.Time            `json:"at" doc:"the hour whose weather it is made for"`
	Better      *mend.BetterHour     `json:"better,omitempty" doc:"an hour before the promise at which the shown plan goes clearly better"`
	Ways        []mend.WayOut        `json:"ways,omitempty" doc:"where not every dwell is kept: the two cheapest ways that keep them"`
	Short       []string             `json:"short,omitempty" doc:"products that were counted, of which too little is left for the shown plan"`
}

func (s *server) registerPlan(api huma.API) {
	operation(
		s,
		api,
		get("/words", "words", "Bodies, grades and lists for the look-over"),
		shop.See,
		func(context.Context, *struct{}) (*Out[Words], error) {
			return out(words())
		},
	)
	operation(s, api, get("/bookings/{id}/look-over", "lookOver", "A booking's look-over"), shop.See, s.lookOver)
	operation(
		s,
		api,
		put("/bookings/{id}/look-over", "saveLookOver", "Save a look-over"),
		shop.LookOver,
		s.saveLookOver,
	)
	operation(
		s,
		api,
		post("/bookings/{id}/judge", "judge", "Judge a look-over without saving it"),
		shop.LookOver,
		s.judge,
	)
	operation(s, api, get("/bookings/{id}/plan", "plan", "The plan for a booking, here and now"), shop.See, s.plan)
}

func words() Words {
	w := Words{
		Grades: condition.Grades(),
		Facts:  condition.AllFacts(),
		Lists: Lists{
			procedure.ZoneGroup("").Values(),
			procedure.Technique("").Values(),
			procedure.Skill("").Values(),
			procedure.ProductClass("").
				Values(),
			contact.Act("").Values(),
			contact.Cloth("").Values(),
			oversNamed(),
			procedure.RoundOrder("").Values(),
			procedure.Water("").Values(),
			starters.FamilyNames(),
			condition.Level("").Values(),
			condition.TyreFinish("").Values(),
			condition.Leave("").Values(),
			condition.Option("").Values(),
			measure.Reading("").Values(),
			audit.Kinds(),
			audit.Acts(),
		},
	}
	for _, name := range vehicle.Body("").Values() {
		b := vehicle.Body(name)
		w.Bodies = append(w.Bodies, BodyView{b, b.Label(), b.Profile(), b.Parts()})
	}
	for _, name := range vehicle.Watch("").Values() {
		x := vehicle.Watch(name)
		w.Watch = append(w.Watch, WatchView{x, x.Label(), x.Means(), x.Bars()})
	}
	for _, name := range condition.Matter("").Values() {
		w.Matter = append(w.Matter, condition.Matter(name))
	}
	return w
}

// blank is a look-over before the first tap: the place and service are the booking's.
func blank(b store.Booking, menu condition.Menu) condition.LookOver {
	ordered := menu.Of(b.Service)
	return condition.LookOver{
		TyreShine:  ordered.Tyres == condition.SatinTyres || ordered.Tyres == condition.GlossTyres,
		Grades:     map[vehicle.Zone]contact.Grade{},
		Bonded:     []condition.Bonded{},
		Watch:      []vehicle.Watch{},
		Service:    b.Service,
		Place:      b.Place,
		Protection: condition.Protection{Kind: condition.Unknown, Water: condition.NotSeen},
		Budget:     int(b.PromisedAt.Sub(b.ArrivesAt).Minutes()),
	}
}

func (s *server) lookOver(ctx context.Context, in *ID) (*Out[LookOverView], error) {
	v, err := s.Store.Booking(ctx, in.ID)
	if err != nil {
		return nil, err
	}
	return s.lookOverView(ctx, v)
}

func (s *server) lookOverView(ctx context.Context, v store.BookingView) (*Out[LookOverView], error) {
	states, err := s.runningStates(ctx, []store.BookingView{v})
	if err != nil {
		return nil, err
	}
	menu, err := s.menu(ctx)
	if err != nil {
		return nil, err
	}
	view := LookOverView{Booking: s.card(ctx, v, states, menu), LookOver: blank(v.Booking, menu)}
	if l := v.LookOver; l != nil {
		by, err := s.Store.Person(ctx, l.ByID)
		if err != nil {
			return nil, err
		}
		at := l.At.UTC()
		view.Version, view.LookOver, view.By, view.At = l.Version, l.Doc, by.Name, &at
	}
	view.Assessment = condition.Assess(v.Booking.Vehicle.Spec, view.LookOver, menu)
	view.Photos, err = s.photosOf(ctx, v.Booking.ID)
	return &Out[LookOverView]{view}, err
}

func (s *server) saveLookOver(ctx context.Context, in *struct {
	ID
	Body struct {
		Version  int                `json:"version" minimum:"0" doc:"The version this was made from; 0 for the first"`
		LookOver condition.LookOver `json:"lookOver"`
	}
}) (*Out[LookOverView], error) {
	if err := in.Body.LookOver.Check(); err != nil {
		return nil, invalid("lookOver", err)
	}
	v, err := s.Store.Booking(ctx, in.ID.ID)
	if err != nil {
		return nil, err
	}
	saved, err := s.Store.SaveLookOver(
		ctx,
		store.LookOver{
			BookingID: in.ID.ID,
			Version:   in.Body.Version,
			Doc:       in.Body.LookOver,
			ByID:      who(ctx).ID,
			At:        s.Now(),
		},
	)
	if errors.Is(err, store.ErrStale) {
		if now, err := s.Store.Booking(ctx, in.ID.ID); err == nil && now.LookOver != nil {
			return nil, stale(
				"lookOver",
				in.Body.LookOver,
				theirs{now.LookOver.Doc, s.name(ctx, now.LookOver.ByID), s.local(ctx, now.LookOver.At)},
			)
		}
	}
	if err != nil {
		return nil, err
	}
	v.LookOver = &saved
	return s.lookOverView(ctx, v)
}

func (s *server) judge(ctx context.Context, in *struct {
	ID
	Body condition.LookOver
}) (*Out[Judged], error) {
	if err := in.Body.Check(); err != nil {
		return nil, invalid("", err)
	}
	v, err := s.Store.Booking(ctx, in.ID.ID)
	if err != nil {
		return nil, err
	}
	f, err := s.fillHour(ctx, v.Booking, in.Body, arrangedOf(v.Booking))
	if err != nil {
		return nil, err
	}
	j := Judged{Assessment: condition.Assess(f.job.Vehicle, in.Body, f.job.Menu), Choices: []ChoiceLine{}}
	for _, c := range f.choices {
		line := ChoiceLine{Title: c.Title, Family: c.Family, Verdict: c.Verdict, Why: c.Why}
		line.Minutes, line.Index = c.Minutes, c.Index
		j.Choices = append(j.Choices, line)
	}
	return out(j)
}

// looked refuses a booking without a look-over.
func looked(v store.BookingView) (condition.LookOver, error) {
	if v.LookOver == nil {
		return condition.LookOver{}, conflict("Look the vehicle over first: the plan follows from what was seen.")
	}
	return v.LookOver.Doc, nil
}

func (s *server) plan(ctx context.Context, in *struct {
	ID
	Procedure string `query:"procedure" maxLength:"80" doc:"the procedure whose plan is wanted; the arranged or recommended one when absent"`
	AsNow     bool   `query:"asNow" doc:"for this moment's weather, instead of that of the hour it is to begin"`
}) (*Out[PlanView], error) {
	v, err := s.Store.Booking(ctx, in.ID.ID)
	if err != nil {
		return nil, err
	}
	l, err := looked(v)
	if err != nil {
		return nil, err
	}
	arranged := arrangedOf(v.Booking)
	arranged.AsNow = in.AsNow
	f, err := s.fillHour(ctx, v.Booking, l, arranged)
	if err != nil {
		return nil, err
	}
	states, err := s.runningStates(ctx, []store.BookingView{v})
	if err != nil {
		return nil, err
	}
	keepOnly(f.choices, cmp.Or(in.Procedure, f.arranged.Procedure))
	view := PlanView{Booking: s.card(ctx, v, states, f.job.Menu), Version: v.LookOver.Version, Choices: f.choices, Around: f.around,
		Assess: condition.Assess(f.job.Vehicle, l, f.job.Menu),
		Look:   l, Made: s.Now(), At: f.at, Missing: map[string][]string{}}
	left, err := s.left(ctx)
	if err != nil {
		return nil, err
	}
	for _, c := range view.Choices {
		if c.Plan != nil && v.Wash == nil {
			view.Short = stock.Short(*c.Plan, f.shelf, left)
			if view.Ways, err = s.waysOut(ctx, f, v.Booking, *c.Plan); err != nil {
				return nil, err
			}
			if view.Better, err = s.betterHour(ctx, f, v.Booking, *c.Plan); err != nil {
				return nil, err
			}
		}
	}
	if !slices.ContainsFunc(f.choices, func(c plan.Choice) bool { return c.Delivers && c.Verdict != plan.Refused }) {
		view.Undelivered = judge.NothingDelivers(f.choices, f.job)
	}
	if err := s.holders(ctx, &view); err != nil {
		return nil, err
	}
	return out(view)
}

// keepOnly leaves the plan of one procedure, or of the first when it is not among the possible ones.
func keepOnly(choices []plan.Choice, procedure string) {
	wanted := max(
		0,
		slices.IndexFunc(choices, func(c plan.Choice) bool { return c.Procedure == procedure && c.Plan != nil }),
	)
	for i := range choices {
		if i != wanted {
			choices[i].Plan = nil
		}
	}
}

// holders fills in who is signed off for what, and what the booked washer still lacks.
func (s *server) holders(ctx context.Context, view *PlanView) error {
	people, err := s.Store.People(ctx)
	if err != nil {
		return err
	}
	offs, err := s.signOffs(ctx)
	if err != nil {
		return err
	}
	view.Holders = map[string][]string{}
	held := map[string][]procedure.Skill{}
	for _, p := range people {
		held[p.ID] = skillsOf(p, offs)
	}
	for _, name := range procedure.Skill("").Values() {
		view.Holders[name] = []string{}
		for _, p := range people {
			if slices.Contains(held[p.ID], procedure.Skill(name)) {
				view.Holders[name] = append(view.Holders[name], p.Name)
			}
		}
	}
	if view.Booking.Washer == nil {
		return nil
	}
	for _, c := range view.Choices {
		if c.Plan == nil {
			continue
		}
		for _, step := range c.Plan.Steps {
			skill := string(step.Skill)
			if skill != "" && !slices.Contains(view.Missing[c.Procedure], skill) &&
				!slices.Contains(held[view.Booking.Washer.ID], step.Skill) {
				view.Missing[c.Procedure] = append(view.Missing[c.Procedure], skill)
			}
		}
	}
	return nil
}

// skillsOf are the skills that somebody holds: what the schedule, the plan and the training page all go by.
func skillsOf(p store.Person, offs []skills.SignOff) []procedure.Skill {
	return skills.Held(p.ID, p.Role.Leads(), offs)
}

func (s *server) signOffs(ctx context.Context) ([]skills.SignOff, error) {
	rows, err := s.Store.SignOffs(ctx)
	if err != nil {
		return nil, err
	}
	settings, _, err := s.Store.Settings(ctx)
	if err != nil {
		return nil, err
	}
	counted, err := s.withFindings(ctx, rows, lapse(settings))
	return skills.InForce(counted, s.Now(), lapse(settings)), err
}

func trainingOffs(rows []store.SignOff) []skills.SignOff {
	offs := make([]skills.SignOff, len(rows))
	for i, r := range rows {
		offs[i] = skills.SignOff{Person: r.PersonID, Skill: r.Skill, Passed: r.Passed, At: r.At}
	}
	return offs
}
