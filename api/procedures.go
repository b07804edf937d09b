package api

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"net/http"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"uskel/core/climate"
	"uskel/core/condition"
	"uskel/core/contact"
	"uskel/core/plan"
	"uskel/core/plan/fill"
	"uskel/core/plan/mend"
	"uskel/core/procedure"
	"uskel/core/procedure/starters"
	"uskel/core/shop"
	"uskel/core/vehicle"
	"uskel/core/visit"
	"uskel/store"
)

// ProcedureCard is a procedure in the library.
type ProcedureCard struct {
	ID          string            `json:"id"`
	Title       string            `json:"title"`
	Family      string            `json:"family"`
	Fits        string            `json:"fits"`
	Version     int               `json:"version" doc:"newest published; 0 when there is only a draft"`
	PublishedAt *time.Time        `json:"publishedAt,omitempty"`
	By          string            `json:"by,omitempty"`
	Note        string            `json:"note,omitempty"`
	Retired     bool              `json:"retired"`
	Draft       bool              `json:"draft" doc:"somebody is writing at it"`
	Steps       int               `json:"steps"`
	Grades      string            `json:"grades" doc:"grades it takes, as 0 to 2"`
	Verdict     *plan.Suitability `json:"verdict,omitempty" doc:"for the booking asked about"`
	Why         []string          `json:"why,omitempty"`
	Minutes     float64           `json:"minutes,omitempty"`
}

// VersionLine is a published version in a list.
type VersionLine struct {
	Version     int       `json:"version"`
	PublishedAt time.Time `json:"publishedAt"`
	By          string    `json:"by,omitempty"`
	Note        string    `json:"note"`
	Retired     bool      `json:"retired"`
	Washes      int       `json:"washes" doc:"washes that ran it"`
}

// DraftView is a procedure being written.
type DraftView struct {
	Revision  int                 `json:"revision"`
	BasedOn   int                 `json:"basedOn" doc:"version it was made from; 0 for none"`
	Procedure procedure.Procedure `json:"procedure"`
	By        string              `json:"by"`
	At        time.Time           `json:"at"`
}

// ProcedureView is a procedure with its versions and its draft.
type ProcedureView struct {
	ID        string               `json:"id"`
	Published *procedure.Procedure `json:"published,omitempty"`
	Entry     []string             `json:"entry" doc:"conditions of the published version in words"`
	When      map[string]string    `json:"when" doc:"condition of each step in words; absent for always"`
	Versions  []VersionLine        `json:"versions"`
	Draft     *DraftView           `json:"draft,omitempty"`
}

// Tried is a procedure read by the sense check and filled for a vehicle.
type Tried struct {
	Mistakes    []procedure.Mistake `json:"mistakes"`
	Publishable bool                `json:"publishable"`
	Plan        *plan.Plan          `json:"plan,omitempty"`
	Refused     []string            `json:"refused" doc:"why it must not be used on this vehicle"`
	When        map[string]string   `json:"when" doc:"condition of each step in words"`
	Applies     map[string]int      `json:"applies" doc:"for each step, how many of the yard's looked-over vehicles it would apply to"`
	Yard        int                 `json:"yard" doc:"looked-over vehicles in the yard today"`
}

// TryOn is a vehicle to try a procedure on: a made-up one, or one from the yard.
type TryOn struct {
	Vehicle  vehicle.Vehicle    `json:"vehicle"`
	LookOver condition.LookOver `json:"lookOver"`
	Weather  *climate.Weather   `json:"weather,omitempty" doc:"the station's when absent"`
}

// ProcedureID is a procedure's path parameter.
type ProcedureID struct {
	ID string `path:"id" maxLength:"80" pattern:"^[a-z0-9][a-z0-9-]*$" patternDescription:"small letters, digits and hyphens"`
}

func (s *server) registerProcedures(api huma.API) {
	operation(
		s,
		api,
		get("/procedures", "procedures", "The library; with a booking, whether each would suit it"),
		shop.See,
		s.procedures,
	)
	operation(
		s,
		api,
		get("/procedures/{id}", "procedure", "A procedure, its versions and its draft"),
		shop.See,
		func(ctx context.Context, in *ProcedureID) (*Out[ProcedureView], error) {
			return s.procedureView(ctx, in.ID)
		},
	)
	operation(
		s,
		api,
		get("/procedures/{id}/versions/{version}", "procedureVersion", "One published version"),
		shop.See,
		s.procedureVersion,
	)
	operation(
		s,
		api,
		get("/procedures/{id}/difference", "procedureDifference", "What changed from one version to another, in words"),
		shop.See,
		s.procedureDifference,
	)
	operation(
		s,
		api,
		get("/procedures/{id}/effect", "procedureEffect", "What publishing the draft would do to the cars that wait today"),
		shop.Write,
		s.procedureEffect,
	)
	operation(
		s,
		api,
		post("/procedures", "newProcedure", "Begin a procedure: blank, a copy, or an earlier version again"),
		shop.Write,
		s.newProcedure,
	)
	operation(s, api, put("/procedures/{id}/draft", "saveDraft", "Save the draft"), shop.Write, s.saveDraft)
	operation(
		s,
		api,
		huma.Operation{
			Method:      http.MethodDelete,
			Path:        "/procedures/{id}/draft",
			OperationID: "dropDraft",
			Summary:     "Delete the draft",
		},
		shop.Write,
		func(ctx context.Context, in *ProcedureID) (*struct{}, error) {
			return nil, s.Store.DropDraft(ctx, in.ID)
		},
	)
	operation(
		s,
		api,
		post("/procedures/{id}/publish", "publish", "Publish the draft as the next version"),
		shop.Write,
		s.publish,
	)
	operation(
		s,
		api,
		post("/procedures/{id}/retire", "retire", "Hide a procedure from the chooser, or bring it back"),
		shop.Write,
		s.retire,
	)
	operation(
		s,
		api,
		post("/procedures-try", "tryProcedure", "Sense check and plan of a procedure that need not be saved"),
		shop.Write,
		s.try,
	)
	operation(
		s,
		api,
		file(get("/procedures/{id}/export", "exportProcedure", "A procedure as a JSON document or as Markdown"),
			"application/json", "text/markdown"),
		shop.See,
		s.exportProcedure,
	)
	operation(
		s,
		api,
		file(get("/procedures/{id}/code", "procedureCode", "A code that opens the procedure on a phone"), "image/png"),
		shop.See,
		s.procedureCode,
	)
	reads := post("/procedures-import", "importProcedure", "Read a procedure document into a draft")
	reads.SkipValidateBody = true // the document's own reader says line and field
	operation(s, api, reads, shop.Write, s.importProcedure)
	operation(
		s,
		api,
		get("/questions", "questions", "What practitioners disagree on, with both reasons and the default"),
		shop.See,
		func(context.Context, *struct{}) (*Out[[]QuestionView], error) {
			return out(questions())
		},
	)
	operation(
		s,
		api,
		get("/procedure.schema.json", "procedureSchema", "JSON Schema (2020-12) of a procedure document"),
		shop.See,
		func(context.Context, *struct{}) (*Out[map[string]any], error) {
			return out(ProcedureSchema())
		},
	)
}

// QuestionView is a disagreement with its default in words.
type QuestionView struct {
	condition.Question
	Default string `json:"default"`
}

func questions() []QuestionView {
	var all []QuestionView
	for _, q := range condition.Questions() {
		all = append(all, QuestionView{q, procedure.Defaults(q.Fact)})
	}
	return all
}

func (s *server) procedures(ctx context.Context, in *struct {
	Booking string `query:"booking" format:"uuid"`
}) (*Out[[]ProcedureCard], error) {
	versions, err := s.Store.Versions(ctx, "")
	if err != nil {
		return nil, err
	}
	drafts, err := s.Store.Drafts(ctx)
	if err != nil {
		return nil, err
	}
	cards := []ProcedureCard{}
	at := map[string]int{}
	for _, v := range versions { // newest first within each
		if _, seen := at[v.ID]; seen {
			continue
		}
		at[v.ID] = len(cards)
		published := v.PublishedAt.UTC()
		card := ProcedureCard{
			ID:          v.ID,
			Title:       v.Doc.Title,
			Family:      v.Doc.Family,
			Fits:        v.Doc.Fits,
			Version:     v.Version,
			PublishedAt: &published,
			Note:        v.Note,
			Retired:     v.RetiredAt != nil,
			Steps:       len(v.Doc.Steps()),
			Grades:      grades(v.Doc),
		}
		if v.By != nil {
			card.By = v.By.Name
		}
		cards = append(cards, card)
	}
	for _, d := range drafts {
		if i, seen := at[d.ID]; seen {
			cards[i].Draft = true
			continue
		}
		cards = append(
			cards,
			ProcedureCard{
				ID:     d.ID,
				Title:  d.Doc.Title,
				Family: d.Doc.Family,
				Fits:   d.Doc.Fits,
				Draft:  true,
				Steps:  len(d.Doc.Steps()),
				Grades: grades(d.Doc),
			},
		)
	}
	if in.Booking != "" {
		if err := s.judgeCards(ctx, cards, in.Booking); err != nil {
			return nil, err
		}
	}
	return out(cards)
}

// judgeCards says of each published procedure whether it would suit a booking.
func (s *server) judgeCards(ctx context.Context, cards []ProcedureCard, booking string) error {
	v, err := s.Store.Booking(ctx, booking)
	if err != nil {
		return err
	}
	l, err := looked(v)
	if err != nil {
		return err
	}
	f, err := s.fillHour(ctx, v.Booking, l, arrangedOf(v.Booking))
	if err != nil {
		return err
	}
	for _, c := range f.choices {
		for i := range cards {
			if cards[i].ID == c.Procedure {
				cards[i].Verdict, cards[i].Why = &c.Verdict, c.Why
				if c.Plan != nil {
					cards[i].Minutes = c.Plan.Minutes
				}
			}
		}
	}
	return nil
}

// grades are the overall grades a procedure's entry lets in, in words.
func grades(p procedure.Procedure) string {
	least, most := -1, -1
	entry := make([]procedure.Rule, len(p.Entry))
	for i, e := range p.Entry {
		entry[i] = e.Rule
	}
	for g := range int(contact.Worst) + 1 {
		if procedure.Possible(
			procedure.All(procedure.All(entry...), procedure.Exactly(condition.GradeOverall, float64(g))),
		) {
			if least < 0 {
				least = g
			}
			most = g
		}
	}
	switch {
	case least < 0:
		return "none"
	case least == most:
		return fmt.Sprint(least)
	}
	return fmt.Sprintf("%d to %d", least, most)
}

func (s *server) procedureView(ctx context.Context, id string) (*Out[ProcedureView], error) {
	versions, err := s.Store.Versions(ctx, id)
	if err != nil {
		return nil, err
	}
	view := ProcedureView{ID: id, Versions: []VersionLine{}, Entry: []string{}, When: map[string]string{}}
	ran, err := s.Store.WashesByVersion(ctx, id)
	if err != nil {
		return nil, err
	}
	for _, v := range versions {
		line := VersionLine{
			Version:     v.Version,
			PublishedAt: v.PublishedAt.UTC(),
			Note:        v.Note,
			Retired:     v.RetiredAt != nil,
			Washes:      ran[v.Version],
		}
		if v.By != nil {
			line.By = v.By.Name
		}
		view.Versions = append(view.Versions, line)
	}
	if len(versions) > 0 {
		p := versions[0].Doc
		view.Published, view.When = &p, inWords(p)
		for _, e := range p.Entry {
			view.Entry = append(view.Entry, e.Rule.Sentence())
		}
	}
	d, err := s.Store.Draft(ctx, id)
	switch {
	case err == nil:
		view.Draft = &DraftView{d.Revision, d.BasedOn, d.Doc, d.By.Name, d.At.UTC()}
	case !errors.Is(err, store.ErrNotFound):
		return nil, err
	case len(versions) == 0:
		return nil, store.NoSuch("procedure")
	}
	return out(view)
}

// inWords gives each step's condition as a sentence.
func inWords(p procedure.Procedure) map[string]string {
	words := map[string]string{}
	for _, step := range p.Steps() {
		if !step.When.Always() {
			words[step.ID] = step.When.Sentence()
		}
	}
	return words
}

// versionOf finds a version; 0 is the draft.
func (s *server) versionOf(ctx context.Context, id string, version int) (procedure.Procedure, error) {
	if version == 0 {
		d, err := s.Store.Draft(ctx, id)
		return d.Doc, err
	}
	versions, err := s.Store.Versions(ctx, id)
	for _, v := range versions {
		if v.Version == version {
			return v.Doc, nil
		}
	}
	return procedure.Procedure{}, cmp.Or(err, store.NoSuch(fmt.Sprintf("version %d", version)))
}

func (s *server) procedureVersion(ctx context.Context, in *struct {
	ProcedureID
	Version int `path:"version" minimum:"1"`
}) (*Out[procedure.Procedure], error) {
	p, err := s.versionOf(ctx, in.ID, in.Version)
	return &Out[procedure.Procedure]{p}, err
}

func (s *server) procedureDifference(ctx context.Context, in *struct {
	ProcedureID
	From int `query:"from" minimum:"0" doc:"version; 0 is the draft"`
	To   int `query:"to" minimum:"0" doc:"version; 0 is the draft"`
}) (*Out[[]procedure.Edit], error) {
	from, err := s.versionOf(ctx, in.ID, in.From)
	if err != nil {
		return nil, err
	}
	to, err := s.versionOf(ctx, in.ID, in.To)
	return &Out[[]procedure.Edit]{procedure.Difference(from, to)}, err
}

func (s *server) procedureEffect(ctx context.Context, in *ProcedureID) (*Out[mend.Effect], error) {
	draft, err := s.Store.Draft(ctx, in.ID)
	if err != nil {
		return nil, err
	}
	versions, err := s.Store.Versions(ctx, in.ID)
	if err != nil {
		return nil, err
	}
	var before *procedure.Procedure
	for i, v := range versions {
		if before == nil || v.Version > before.Version {
			before = &versions[i].Doc
		}
	}
	waiting, err := s.waiting(ctx)
	if err != nil {
		return nil, err
	}
	effect, err := mend.EffectOf(before, draft.Doc, waiting)
	return &Out[mend.Effect]{effect}, err
}

// waiting are today's vehicles that are looked over and whose wash has not begun.
func (s *server) waiting(ctx context.Context) ([]mend.Waiting, error) {
	day, err := s.today(ctx)
	if err != nil {
		return nil, err
	}
	views, err := s.Store.Standing(ctx, day, day.AddDate(0, 0, 1))
	if err != nil {
		return nil, err
	}
	b, err := s.basis(ctx)
	if err != nil {
		return nil, err
	}
	now, err := s.around(ctx, s.Now())
	if err != nil {
		return nil, err
	}
	var waiting []mend.Waiting
	for _, v := range views {
		if v.LookOver == nil || v.Booking.Stage != visit.LookedOver {
			continue
		}
		job := b.job(v.Booking, v.LookOver.Doc, now, plan.Arranged{})
		waiting = append(waiting, mend.Waiting{Plate: v.Booking.Vehicle.Plate, Job: job})
	}
	return waiting, nil
}

func (s *server) newProcedure(ctx context.Context, in *In[struct {
	ID      string `json:"id" pattern:"^[a-z0-9][a-z0-9-]*$" patternDescription:"small letters, digits and hyphens" maxLength:"80"`
	Title   string `json:"title,omitempty" maxLength:"120" doc:"for a blank one or a copy"`
	From    string `json:"from,omitempty" maxLength:"80" doc:"procedure to begin from"`
	Version int    `json:"version,omitempty" minimum:"0" doc:"its version; the newest when absent"`
}]) (*Out[ProcedureView], error) {
	b := in.Body
	doc := starters.Blank(b.ID, b.Title)
	if b.From != "" {
		versions, err := s.Store.Versions(ctx, b.From)
		if err != nil {
			return nil, err
		}
		if len(versions) == 0 {
			return nil, store.NoSuch("procedure")
		}
		if b.Version == 0 {
			b.Version = versions[0].Version
		}
		if doc, err = s.versionOf(ctx, b.From, b.Version); err != nil {
			return nil, err
		}
		doc.ID, doc.Title = b.ID, cmp.Or(b.Title, doc.Title)
	}
	if b.From != b.ID {
		if there, err := s.Store.Versions(ctx, b.ID); err != nil || len(there) > 0 {
			return nil, cmp.Or(err, conflict("There is a procedure “"+b.ID+"” already: choose another short name."))
		}
		doc.Standard, b.Version = false, 0
	}
	_, err := s.Store.SaveDraft(
		ctx,
		store.Draft{ID: b.ID, BasedOn: b.Version, Doc: doc, ByID: who(ctx).ID, At: s.Now()},
	)
	if errors.Is(err, store.ErrStale) {
		return nil, conflict("There is a draft of “" + b.ID + "” already: publish it or throw it away first.")
	}
	if err != nil {
		return nil, err
	}
	return s.procedureView(ctx, b.ID)
}

func (s *server) saveDraft(ctx context.Context, in *struct {
	ProcedureID
	Body struct {
		Revision  int                 `json:"revision" minimum:"1" doc:"the revision this was made from"`
		Procedure procedure.Procedure `json:"procedure"`
	}
}) (*Out[DraftView], error) {
	if err := condition.CheckPins(in.Body.Procedure.Pins); err != nil {
		return nil, invalid("procedure", err)
	}
	if in.Body.Procedure.ID != in.ID {
		return nil, invalid("procedure.id", fmt.Errorf("%q: the draft is of %q", in.Body.Procedure.ID, in.ID))
	}
	d, err := s.Store.SaveDraft(
		ctx,
		store.Draft{ID: in.ID, Revision: in.Body.Revision, Doc: in.Body.Procedure, ByID: who(ctx).ID, At: s.Now()},
	)
	if errors.Is(err, store.ErrStale) {
		now, again := s.Store.Draft(ctx, in.ID)
		if again != nil {
			return nil, again
		}
		return nil, staleDraft(now, in.Body.Procedure, s.local(ctx, now.At))
	}
	return &Out[DraftView]{DraftView{d.Revision, d.BasedOn, d.Doc, who(ctx).Name, d.At.UTC()}}, err
}

// staleDraft says in words what the other one changed.
func staleDraft(saved store.Draft, mine procedure.Procedure, at time.Time) error {
	var details []error
	for _, e := range procedure.Difference(mine, saved.Doc) {
		if len(details) < mostChanges {
			details = append(details, &huma.ErrorDetail{Location: "body.procedure." + e.Step, Message: e.Says})
		}
	}
	return huma.NewError(
		http.StatusConflict,
		fmt.Sprintf(
			"%s saved this draft at %s. Look at theirs, then save yours again.",
			saved.By.Name,
			at.Format("15:04"),
		),
		details...)
}

func (s *server) publish(ctx context.Context, in *struct {
	ProcedureID
	Body struct {
		Revision int    `json:"revision" minimum:"1"`
		Note     string `json:"note" minLength:"3" maxLength:"500" doc:"What changed and why"`
	}
}) (*Out[ProcedureView], error) {
	d, err := s.Store.Draft(ctx, in.ID)
	if err != nil {
		return nil, err
	}
	d.Doc.Version = 1
	if err := d.Doc.Check(); err != nil {
		return nil, invalid("procedure", err)
	}
	labels, err := s.labels(ctx)
	if err != nil {
		return nil, err
	}
	var errs []string
	for _, m := range procedure.SenseCheck(d.Doc, labels) {
		if m.Severity == procedure.Error {
			errs = append(errs, fmt.Sprintf("%s: %s", cmp.Or(m.Step, m.Rule), m.Says))
		}
	}
	if len(errs) > 0 {
		return nil, invalid("procedure", errors.New(strings.Join(errs, "\n")))
	}
	if _, err := s.Store.PublishDraft(ctx, in.ID, in.Body.Revision, in.Body.Note, who(ctx).ID, s.Now()); err != nil {
		return nil, err
	}
	return s.procedureView(ctx, in.ID)
}

func (s *server) retire(ctx context.Context, in *struct {
	ProcedureID
	Body struct {
		Retired bool `json:"retired"`
	}
}) (*Out[ProcedureView], error) {
	var at *time.Time
	if in.Body.Retired {
		now := s.Now()
		at = &now
	}
	if err := s.Store.Retire(ctx, in.ID, at); err != nil {
		return nil, err
	}
	return s.procedureView(ctx, in.ID)
}

// labels are what the sense check must know of the shelf.
func (s *server) labels(ctx context.Context) ([]procedure.Label, error) {
	shelf, err := s.Store.Products(ctx)
	labels := make([]procedure.Label, len(shelf))
	for i, p := range shelf {
		labels[i] = procedure.Label{
			Class:    p.Class,
			Name:     p.Name,
			DwellMax: p.DwellMax,
			Ratio:    p.Ratio,
			Reading:  p.Reading,
			Cold:     p.ColdWater,
		}
	}
	return labels, err
}

func (s *server) try(ctx context.Context, in *In[struct {
	Procedure procedure.Procedure `json:"procedure"`
	On        *TryOn              `json:"on,omitempty"`
}]) (*Out[Tried], error) {
	labels, err := s.labels(ctx)
	if err != nil {
		return nil, err
	}
	p := in.Body.Procedure
	if err := condition.CheckPins(p.Pins); err != nil {
		return nil, invalid("procedure", err)
	}
	t := Tried{
		Mistakes: append(append([]procedure.Mistake{}, p.Unusable()...), procedure.SenseCheck(p, labels)...),
		Refused:  []string{},
		When:     inWords(p),
		Applies:  map[string]int{},
	}
	t.Publishable = procedure.Publishable(t.Mistakes)
	if err := s.countYard(ctx, p, &t); err != nil {
		return nil, err
	}
	on := in.Body.On
	if on == nil {
		return out(t)
	}
	if err := cmp.Or(on.Vehicle.Check(), on.LookOver.Check()); err != nil {
		return nil, invalid("on", err)
	}
	b, err := s.basis(ctx)
	if err != nil {
		return nil, err
	}
	now, err := s.around(ctx, s.Now())
	if err != nil {
		return nil, err
	}
	job := b.job(store.Booking{Vehicle: store.Vehicle{Spec: on.Vehicle}}, on.LookOver, now, plan.Arranged{})
	if on.Weather != nil {
		if err := on.Weather.Check(); err != nil {
			return nil, invalid("on.weather", err)
		}
		job.Weather = *on.Weather
	}
	made, err := fill.Resolve(p, job)
	var refusal *plan.Refusal
	switch {
	case errors.As(err, &refusal):
		t.Refused = refusal.Reasons
	case err != nil:
		return nil, err
	default:
		t.Plan = &made
	}
	return out(t)
}

// countYard says to how many of the yard's looked-over vehicles each step would apply.
func (s *server) countYard(ctx context.Context, p procedure.Procedure, t *Tried) error {
	day, err := s.today(ctx)
	if err != nil {
		return err
	}
	views, err := s.Store.Standing(ctx, day, day.AddDate(0, 0, 1))
	if err != nil {
		return err
	}
	b, err := s.basis(ctx)
	if err != nil {
		return err
	}
	now, err := s.around(ctx, s.Now())
	if err != nil {
		return err
	}
	both := map[int]int{}
	for _, v := range views {
		if v.LookOver == nil {
			continue
		}
		t.Yard++
		job := b.job(v.Booking, v.LookOver.Doc, now, plan.Arranged{})
		facts := fill.Facts(p, job)
		for _, step := range p.Steps() {
			if step.When.Holds(facts) {
				t.Applies[step.ID]++
			}
		}
		for i, m := range t.Mistakes {
			if m.Other != "" && applies(p, m.Step, facts) && applies(p, m.Other, facts) {
				both[i]++
			}
		}
	}
	for i, m := range t.Mistakes {
		if m.Other != "" {
			t.Mistakes[i].Says += fmt.Sprintf(" In the yard today: %d of %d.", both[i], t.Yard)
		}
	}
	return nil
}

func applies(p procedure.Procedure, id string, facts condition.Facts) bool {
	s, err := p.Step(id)
	return err == nil && s.When.Holds(facts)
}

func (s *server) exportProcedure(ctx context.Context, in *struct {
	ProcedureID
	Version int    `query:"version" minimum:"0" doc:"the newest when 0"`
	Format  string `query:"format" enum:"json,markdown" default:"json"`
}) (*Document, error) {
	versions, err := s.Store.Versions(ctx, in.ID)
	if err != nil {
		return nil, err
	}
	for _, v := range versions {
		if in.Version != 0 && v.Version != in.Version {
			continue
		}
		name := fmt.Sprintf("%s-%d", v.ID, v.Version)
		if in.Format == "markdown" {
			return documentOf(name, in.Format, []byte(procedure.Markdown(v.Doc))), nil
		}
		data, err := procedure.Encode(v.Doc)
		return documentOf(name, in.Format, data), err
	}
	return nil, store.NoSuch("procedure")
}

// Picture is a PNG.
type Picture struct {
	ContentType string `header:"Content-Type"`
	Body        []byte
}

// address is a page of the shop as people reach it. Requests are not asked: whoever sends one could name a host of
// their own.
func (s *server) address(path string) string {
	return strings.TrimSuffix(cmp.Or(s.Public, "http://localhost"), "/") + path
}

func (s *server) procedureCode(ctx context.Context, in *ProcedureID) (*Picture, error) {
	if _, err := s.procedureView(ctx, in.ID); err != nil {
		return nil, err
	}
	png, err := codePicture(s.address("/procedures/" + in.ID))
	return &Picture{"image/png", png}, err
}

func (s *server) importProcedure(ctx context.Context, in *struct {
	RawBody []byte `contentType:"application/json"`
}) (*Out[ProcedureView], error) {
	p, err := procedure.Decode(in.RawBody)
	var format *procedure.FormatError
	if errors.As(err, &format) {
		return nil, huma.NewError(
			http.StatusUnprocessableEntity,
			"This document is no procedure; nothing was saved.",
			&huma.ErrorDetail{
				Location: fmt.Sprintf("line %d", format.Line),
				Message:  cmp.Or(strings.TrimPrefix(format.Field+": "+format.Says, ": "), format.Says),
			},
		)
	}
	if err != nil {
		return nil, err
	}
	based := 0
	versions, err := s.Store.Versions(ctx, p.ID)
	if err != nil {
		return nil, err
	}
	if len(versions) > 0 {
		based = versions[0].Version
	}
	_, err = s.Store.SaveDraft(ctx, store.Draft{ID: p.ID, BasedOn: based, Doc: p, ByID: who(ctx).ID, At: s.Now()})
	if errors.Is(err, store.ErrStale) {
		return nil, conflict("There is a draft of “" + p.ID + "” already: publish it or throw it away first.")
	}
	if err != nil {
		return nil, err
	}
	return s.procedureView(ctx, p.ID)
}
