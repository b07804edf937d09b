package api

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"reflect"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"

	"uskel/core/audit"
	"uskel/core/condition"
	"uskel/core/plan"
	"uskel/core/plan/fill"
	"uskel/core/procedure/starters"
	"uskel/core/shop"
	"uskel/core/vehicle"
	"uskel/core/visit"
	"uskel/core/wash"
	"uskel/store"
)

// AuditView is an audit with everything needed to walk it.
type AuditView struct {
	ID        string                    `json:"id"`
	WashID    string                    `json:"washId"`
	Plate     string                    `json:"plate"`
	Label     string                    `json:"label"`
	Spec      vehicle.Vehicle           `json:"spec"`
	Washer    PersonRef                 `json:"washer"`
	Auditor   PersonRef                 `json:"auditor"`
	Checklist audit.Checklist           `json:"checklist"`
	Zones     map[string][]vehicle.Zone `json:"zones" doc:"zones of each item on this body"`
	OutScope  []condition.OutOfScope    `json:"outScope"`
	Ordered   string                    `json:"ordered" doc:"the service; empty of a wash from before there were services"`
	Leaves    []condition.Leave         `json:"leaves" doc:"what it leaves: accepted, and told to the customer"`
	Answers   map[string]ItemView       `json:"answers"`
	Result    audit.Result              `json:"result" doc:"so far, or final once closed"`
	ClosedAt  *time.Time                `json:"closedAt,omitempty"`
	Round     int                       `json:"round" doc:"1 for the first; one more each time the wash is looked at again after rework"`
	Signer    *PersonRef                `json:"signer,omitempty" doc:"who signed, who need not have opened it"`
	WashedToo bool                      `json:"washedToo,omitempty" doc:"somebody who signed or answered it turned out to have washed"`
	Remarks   []Remark                  `json:"remarks" doc:"answers that came after it was signed: beside the result, never in it"`
	Stage     visit.Stage               `json:"stage" doc:"where the vehicle stands"`
	Light     audit.Light               `json:"light,omitempty" doc:"absent until it is said"`
	Skips     map[string]string         `json:"skips" doc:"items that this wash does not ask for, each with why"`
	MayAudit  bool                      `json:"mayAudit"`
	Rework    []wash.PlannedStep        `json:"rework"`
	Photos    []PhotoView               `json:"photos" doc:"of this audit, and of the look-over before the wash"`
	Unproven  []string                  `json:"unproven" doc:"items whose findings want a photo before it is signed"`
	Disputes  []DisputeView             `json:"disputes"`
	// Disputable are items that the person signed in may dispute.
	Disputable []string      `json:"disputable" doc:"items whose findings the person signed in, who washed, may dispute"`
	Settled    *audit.Result `json:"settled,omitempty" doc:"the signed result without what was settled for whoever washed: beside it"`
}

// ItemView is an answer with its version.
type ItemView struct {
	Version int          `json:"version"`
	Answer  audit.Answer `json:"answer"`
	By      string       `json:"by"`
	At      time.Time    `json:"at"`
}

// Remark is an answer that came after the audit was signed.
type Remark struct {
	Item   string       `json:"item"`
	Answer audit.Answer `json:"answer"`
	By     string       `json:"by"`
	At     time.Time    `json:"at"`
}

// AuditLine is a finished wash and its audit, if any.
type AuditLine struct {
	Wash    WashLine    `json:"wash"`
	AuditID string      `json:"auditId,omitempty"`
	Mine    bool        `json:"mine" doc:"washed by the person signed in, who must not audit it"`
	Score   *int        `json:"score,omitempty" doc:"by the newest audit"`
	Passed  *bool       `json:"passed,omitempty" doc:"by the newest audit"`
	AtOnce  *bool       `json:"atOnce,omitempty" doc:"passed by the first audit: what the wash came to before any rework"`
	Stage   visit.Stage `json:"stage" doc:"where the vehicle stands"`
	// Asked is said of washes that nobody has audited yet.
	Asked *audit.Asked `json:"asked,omitempty" doc:"whether it is to be audited, and why"`
}

// AuditProof is what the audits of the last two weeks prove, and what the plan for the next ones finds.
type AuditProof struct {
	audit.Proof
	Plan   audit.SamplingView `json:"plan"`
	Scores string             `json:"scores" doc:"how far a score depends on who walks, as far as that is known"`
}

func (s *server) registerAudit(api huma.API) {
	operation(s, api, get("/audits", "audits", "Finished washes and their audits"), shop.See, s.audits)
	operation(s, api, get("/audit-proof", "auditProof", "What the audits of the last two weeks prove of all washes"), shop.See, s.auditProof)
	operation(
		s,
		api,
		post("/washes/{id}/audit", "startAudit", "Start auditing a finished wash"),
		shop.Audit,
		s.startAudit,
	)
	operation(s, api, get("/signed-audits", "signedAudits", "All signed audits, the newest first, a page at a time"), shop.See, s.signedAudits)
	operation(s, api, get("/washed-too", "washedToo", "Signed audits whose auditor turned out to have washed"), shop.Correct, s.washedToo)
	operation(s, api, get("/washes/{id}/audit-start", "auditStart", "The walk as it would begin now, for a device to keep"), shop.Audit,
		s.auditStart)
	operation(s, api, get("/audits/{id}", "audit", "An audit"), shop.See, s.audit)
	operation(s, api, put("/audits/{id}/items/{item}", "answer", "Answer an item"), shop.Audit, s.answer)
	operation(s, api, put("/audits/{id}/light", "setLight", "Say in which light an audit is walked"), shop.Audit, s.setLight)
	operation(s, api, post("/audits/{id}/close", "closeAudit", "Sign the audit"), shop.SignAudit, s.closeAudit)
}

// finishedOfLate are the washes finished in the last two weeks, newest first.
func (s *server) finishedOfLate(ctx context.Context) ([]store.WashLine, error) {
	return s.Store.WashLines(ctx, store.WashQuery{Since: s.Now().AddDate(0, 0, -14), Before: s.Now(), Most: mostLines, Asks: who(ctx).ID})
}

// auditProof is what the first audits of the last two weeks prove of all washes.
func (s *server) auditProof(ctx context.Context, _ *struct{}) (*Out[AuditProof], error) {
	washes, err := s.finishedOfLate(ctx)
	if err != nil {
		return nil, err
	}
	plan, err := s.sampling(ctx)
	passed := firstResults(washes)
	if err != nil {
		return nil, err
	}
	twice, err := s.Store.Twice(ctx, s.Now().Add(-agreedFor), mostAgreed)
	return &Out[AuditProof]{AuditProof{audit.Prove(passed), plan.Explain(audit.LevelAfter(passed), float64(len(washes))/2),
		audit.Agree(twice, false).OfScores()}}, err
}

// firstResults are the first audits' results, the newest first.
func firstResults(washes []store.WashLine) []bool {
	passed := []bool{}
	for _, w := range washes {
		if w.AtOnce != nil {
			passed = append(passed, *w.AtOnce)
		}
	}
	return passed
}

// sampling is the shop's plan of which washes are audited.
func (s *server) sampling(ctx context.Context) (audit.Sampling, error) {
	settings, _, err := s.Store.Settings(ctx)
	or := func(said *int, usual int) int {
		if said == nil {
			return usual
		}
		return *said
	}
	return audit.Sampling{Share: or(settings.Drawn, audit.DefaultShare), Trainee: or(settings.Trainee, audit.DefaultTrainee),
		Version: or(settings.Version, audit.DefaultVersion)}, err
}

// asked says of the washes that nobody has audited whether they are to be.
func (s *server) asked(ctx context.Context, washes []store.WashLine) (map[string]audit.Asked, error) {
	var open []string
	for _, w := range washes {
		if w.Stage == visit.ToAudit && w.AuditID == "" {
			open = append(open, w.ID)
		}
	}
	plan, err := s.sampling(ctx)
	if err != nil {
		return nil, err
	}
	candidates, err := s.Store.Candidates(ctx, open, max(plan.Trainee, plan.Version))
	level, asked := audit.LevelAfter(firstResults(washes)), map[string]audit.Asked{}
	for _, c := range candidates {
		asked[c.ID] = plan.Asks(c, level)
	}
	return asked, err
}

func (s *server) audits(ctx context.Context, _ *struct{}) (*Out[[]AuditLine], error) {
	washes, err := s.finishedOfLate(ctx)
	if err != nil {
		return nil, err
	}
	asked, err := s.asked(ctx, washes)
	if err != nil {
		return nil, err
	}
	veil, err := s.Store.Veil(ctx, who(ctx).ID)
	if err != nil {
		return nil, err
	}
	lines := make([]AuditLine, len(washes))
	for i, w := range washes {
		if veil.Audits[w.AuditID] { // that there is one may be known, what it found not
			w.Score, w.Latest, w.Passed, w.AtOnce, w.Findings = nil, nil, nil, nil, 0
		}
		line := lineOf(w)
		if !reader(ctx).Sees(w.WasherID) { // what was found is for all, how long it took is not
			line.Planned, line.Actual = 0, 0
		}
		lines[i] = AuditLine{
			Wash:    line,
			AuditID: w.AuditID,
			Mine:    w.Mine,
			Score:   w.Latest,
			Passed:  w.Passed,
			AtOnce:  w.AtOnce,
			Stage:   w.Stage,
		}
		if a, is := asked[w.ID]; is {
			lines[i].Asked = &a
		}
	}
	return out(lines)
}

// mostLines is how many finished washes a page of them gives.
const mostLines = 400

func (s *server) startAudit(ctx context.Context, in *struct {
	ID
	Checklist string `query:"checklist" maxLength:"40" doc:"the list to walk; the one for this wash when absent"`
	Version   int    `query:"version" minimum:"0" doc:"of that list, of a walk begun without a connection; the newest when 0"`
	Audit     string `query:"audit" format:"uuid" doc:"made by a device that began without a connection; sent twice it changes nothing"`
}) (*Out[AuditView], error) {
	w, err := s.Store.Wash(ctx, in.ID.ID)
	if err != nil {
		return nil, err
	}
	a, err := s.toBegin(ctx, w, in.Checklist, in.Version)
	if err != nil {
		return nil, err
	}
	a.ID = cmp.Or(in.Audit, store.NewID())
	if a, err = s.Store.StartAudit(ctx, a); err != nil {
		return nil, err
	}
	if err := s.noteRead(ctx, who(ctx), a.ID); err != nil {
		return nil, err
	}
	return s.auditView(ctx, a.ID)
}

// SignedAudit is a signed audit in the list of all of them.
type SignedAudit struct {
	ID       string    `json:"id"`
	At       time.Time `json:"at"`
	Label    string    `json:"label"`
	Plate    string    `json:"plate"`
	Washer   string    `json:"washer"`
	Auditor  string    `json:"auditor"`
	Title    string    `json:"title" doc:"of the procedure"`
	List     string    `json:"list" doc:"it was walked by"`
	Score    int       `json:"score"`
	Passed   bool      `json:"passed"`
	Findings int       `json:"findings"`
	Round    int       `json:"round"`
	// WashedToo is told to the lead, who has it audited again.
	WashedToo bool `json:"washedToo,omitempty" doc:"somebody who signed or answered it turned out to have washed"`
}

// SignedAudits is a page of signed audits.
type SignedAudits struct {
	Audits []SignedAudit `json:"audits"`
	More   bool          `json:"more" doc:"there are older ones: ask for those before the last"`
}

// signedPage is how many signed audits a page has.
const signedPage = 40

func (s *server) signedAudits(ctx context.Context, in *struct {
	Before time.Time `query:"before" doc:"the moment of the last one seen; for the next page"`
	ID     string    `query:"id" maxLength:"36" doc:"and its id"`
}) (*Out[SignedAudits], error) {
	rows, err := s.Store.Signed(ctx, in.Before, in.ID, signedPage+1)
	if err != nil {
		return nil, err
	}
	veil, err := s.Store.Veil(ctx, who(ctx).ID)
	if err != nil {
		return nil, err
	}
	page := SignedAudits{Audits: []SignedAudit{}, More: len(rows) > signedPage}
	for _, r := range rows[:min(len(rows), signedPage)] {
		if !veil.Audits[r.ID] {
			page.Audits = append(page.Audits, signedAudit(r))
		}
	}
	return out(page)
}

func signedAudit(r store.SignedLine) SignedAudit {
	return SignedAudit{r.ID, r.At.UTC(), r.Label, r.Plate, r.Washer, r.Auditor, r.Title, r.List, r.Score, r.Passed, r.Findings, r.Round,
		r.WashedToo}
}

// washedToo tells the lead of audits that somebody signed or answered who turned out to have washed.
func (s *server) washedToo(ctx context.Context, _ *struct{}) (*Out[[]SignedAudit], error) {
	rows, err := s.Store.WashedToo(ctx, signedPage)
	lines := make([]SignedAudit, len(rows))
	for i, r := range rows {
		lines[i] = signedAudit(r)
	}
	return &Out[[]SignedAudit]{lines}, err
}

// toBegin is an audit of a wash as it would begin now.
func (s *server) toBegin(ctx context.Context, w store.Wash, chosen string, version int) (store.Audit, error) {
	facts, err := s.factsOf(ctx, w)
	if err != nil {
		return store.Audit{}, err
	}
	list, err := s.listFor(ctx, chosen, version, w.Plan.Family, facts)
	return store.Audit{WashID: w.ID, AuditorID: who(ctx).ID, ChecklistID: list.ID, ChecklistVersion: list.Version, StartedAt: s.Now(),
		Skips: list.Skips(facts)}, err
}

// auditStart is the walk of a wash as it would begin now: kept on a device, so that a walk can begin without a connection.
func (s *server) auditStart(ctx context.Context, in *ID) (*Out[AuditView], error) {
	w, err := s.Store.Wash(ctx, in.ID)
	if err != nil {
		return nil, err
	}
	a, err := s.toBegin(ctx, w, "", 0)
	if err != nil {
		return nil, err
	}
	a.ID, a.Auditor = uuid.Nil.String(), who(ctx)
	if err := s.Store.AsBegun(ctx, &a, w); err != nil {
		return nil, err
	}
	return s.viewOfAudit(ctx, a, w)
}

// factsOf is what is known of a wash, for the rules of a checklist.
func (s *server) factsOf(ctx context.Context, w store.Wash) (condition.Facts, error) {
	v, err := s.Store.Booking(ctx, w.BookingID)
	if err != nil {
		return nil, err
	}
	l, err := looked(v)
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
	facts := fill.Facts(starters.Maintenance(), b.job(v.Booking, l, now, plan.Arranged{}))
	facts[condition.TraineeWashes] = condition.YesOrNo(w.Washer.Role == shop.Trainee)
	return facts, nil
}

// listFor is the newest version of the list that an auditor chose, or of the one for a wash.
func (s *server) listFor(ctx context.Context, chosen string, version int, family string, facts condition.Facts) (audit.Checklist, error) {
	if chosen != "" {
		list, err := s.Store.Checklist(ctx, chosen, version)
		if err == nil && list.At != audit.WhenFinished {
			return list, conflict(fmt.Sprintf("%q is made on the way of a wash: choose a list for finished ones.", list.Title))
		}
		return list, err
	}
	lists, err := s.newestLists(ctx)
	if err != nil {
		return audit.Checklist{}, err
	}
	list, ok := audit.For(lists, family, facts)
	if !ok {
		return list, conflict("No checklist is for this wash: choose one, or publish one for all washes.")
	}
	return list, nil
}

// newestLists are the newest versions of all checklists in use.
func (s *server) newestLists(ctx context.Context) ([]audit.Checklist, error) {
	rows, err := s.Store.Checklists(ctx)
	lists := make([]audit.Checklist, len(rows))
	for i, r := range rows {
		lists[i] = r.Doc
	}
	return lists, err
}

func (s *server) setLight(ctx context.Context, in *struct {
	ID
	Body struct {
		Light audit.Light `json:"light"`
	}
}) (*Out[AuditView], error) {
	if !slices.Contains(in.Body.Light.Values(), string(in.Body.Light)) {
		return nil, invalid("light", fmt.Errorf("light %q: use one of %q", in.Body.Light, in.Body.Light.Values()))
	}
	if err := s.Store.SetLight(ctx, in.ID.ID, who(ctx).ID, in.Body.Light); err != nil {
		return nil, err
	}
	return s.auditView(ctx, in.ID.ID)
}

func (s *server) audit(ctx context.Context, in *ID) (*Out[AuditView], error) {
	return s.auditView(ctx, in.ID)
}

func (s *server) auditView(ctx context.Context, id string) (*Out[AuditView], error) {
	a, err := s.Store.Audit(ctx, id)
	if err != nil {
		return nil, err
	}
	w, err := s.Store.Wash(ctx, a.WashID)
	if err != nil {
		return nil, err
	}
	return s.viewOfAudit(ctx, a, w)
}

// viewOfAudit is an audit with everything needed to walk it, begun or not.
func (s *server) viewOfAudit(ctx context.Context, a store.Audit, w store.Wash) (*Out[AuditView], error) {
	list, err := s.Store.Checklist(ctx, a.ChecklistID, a.ChecklistVersion)
	if err != nil {
		return nil, err
	}
	people, err := s.Store.People(ctx)
	if err != nil {
		return nil, err
	}
	log, err := s.Store.Events(ctx, w.ID)
	if err != nil {
		return nil, err
	}
	washed := declared(w, log)
	names := map[string]string{}
	for _, p := range people {
		names[p.ID] = p.Name
	}
	spec := w.Booking.Vehicle.Spec
	view := AuditView{
		ID:        a.ID,
		WashID:    w.ID,
		Plate:     w.Booking.Vehicle.Plate,
		Label:     w.Booking.Vehicle.Label,
		Spec:      spec,
		Washer:    ref(w.Washer),
		Auditor:   ref(a.Auditor),
		Checklist: list,
		Zones:     map[string][]vehicle.Zone{},
		Light:     a.Light,
		Skips:     a.Skips,
		OutScope:  washed.OutScope,
		Ordered:   washed.Ordered.Name,
		Leaves:    append([]condition.Leave{}, washed.Ordered.Leaves...),
		Answers:   map[string]ItemView{},
		ClosedAt:  a.ClosedAt,
		WashedToo: a.WashedToo,
		Rework:    w.Rework,
		Round:     a.Round,
		Remarks:   []Remark{},
		Stage:     w.Booking.Stage,
	}
	if a.Signer != nil {
		signer := ref(*a.Signer)
		view.Signer = &signer
	}
	for _, r := range a.Remarks {
		view.Remarks = append(view.Remarks, Remark{r.Item, r.Answer, names[r.ByID], r.At.UTC()})
	}
	for _, item := range list.Items {
		view.Zones[item.ID] = item.On(spec.Body)
	}
	for _, item := range a.Items {
		view.Answers[item.Item] = ItemView{item.Version, item.Answer, names[item.ByID], item.At.UTC()}
	}
	view.Result = audit.Judge(list, a.Answers(), washed, a.Walked())
	if a.Result != nil {
		view.Result = *a.Result
	}
	if view.Photos, err = s.photosOf(ctx, a.ID, w.BookingID); err != nil {
		return nil, err
	}
	view.Unproven = list.Unproven(a.Answers(), photographed(view.Photos))
	if err := s.disputed(ctx, &view, a, w, log); err != nil {
		return nil, err
	}
	view.MayAudit = who(ctx).Role.May(shop.Audit) && audit.MayAudit(who(ctx).ID, wash.Hands(w.WasherID, log)) == nil
	return out(view)
}

func (s *server) answer(ctx context.Context, in *struct {
	ID
	Item string `path:"item" maxLength:"80"`
	Body struct {
		Version int          `json:"version" minimum:"0" doc:"The version this answer was made from; 0 for the first"`
		Answer  audit.Answer `json:"answer"`
	}
}) (*Out[AuditView], error) {
	if err := in.Body.Answer.Check(); err != nil {
		return nil, invalid("answer", err)
	}
	a, err := s.Store.Audit(ctx, in.ID.ID)
	if err != nil {
		return nil, err
	}
	list, err := s.Store.Checklist(ctx, a.ChecklistID, a.ChecklistVersion)
	if err != nil {
		return nil, err
	}
	at := slices.IndexFunc(list.Items, func(i audit.Item) bool { return i.ID == in.Item })
	if at < 0 {
		return nil, invalid("item", fmt.Errorf("the checklist has no item %q", in.Item))
	}
	if err := list.Items[at].Proves(in.Body.Answer); err != nil {
		return nil, invalid("answer", err)
	}
	if in.Body.Answer.Findings == nil {
		in.Body.Answer.Findings = []audit.Finding{}
	}
	if err := s.provenBefore(ctx, a, in.Body.Answer); err != nil {
		return nil, err
	}
	_, err = s.Store.SaveItem(
		ctx,
		store.AuditItem{
			AuditID: a.ID,
			Item:    in.Item,
			Version: in.Body.Version,
			Answer:  in.Body.Answer,
			ByID:    who(ctx).ID,
			At:      s.Now(),
		},
	)
	if errors.Is(err, store.ErrStale) {
		if err := s.staleAnswer(ctx, a.ID, in.Item, in.Body.Answer); err != nil {
			return nil, err
		}
		return s.auditView(ctx, a.ID)
	}
	if err != nil {
		return nil, err
	}
	return s.auditView(ctx, a.ID)
}

// provenBefore refuses a finding that is said to have been there before the wash where no photo of the look-over shows it.
func (s *server) provenBefore(ctx context.Context, a store.Audit, given audit.Answer) error {
	if !slices.ContainsFunc(given.Findings, func(f audit.Finding) bool { return f.Before }) {
		return nil
	}
	w, err := s.Store.WashHead(ctx, a.WashID)
	if err != nil {
		return err
	}
	photos, err := s.photosOf(ctx, w.BookingID)
	if err != nil {
		return err
	}
	for i, f := range given.Findings {
		if f.Before && !shownBefore(photos, f.Zone) {
			return invalid("answer", fmt.Errorf("findings[%d].before: the look-over has no photo of %s from before the wash", i, f.Zone.Label()))
		}
	}
	return nil
}

// staleAnswer says what the other auditor answered. The same answer of the same person, sent again as its reply was lost, is
// fine.
func (s *server) staleAnswer(ctx context.Context, auditID, item string, mine audit.Answer) error {
	a, err := s.Store.Audit(ctx, auditID)
	if err != nil {
		return err
	}
	for _, saved := range a.Items {
		if saved.Item == item && saved.ByID == who(ctx).ID && reflect.DeepEqual(saved.Answer, mine) {
			return nil
		}
		if saved.Item == item {
			return stale("answer", mine, theirs{saved.Answer, s.name(ctx, saved.ByID), s.local(ctx, saved.At)})
		}
	}
	return store.ErrStale
}

// declared is a wash's plan with what was found and left in the bay as out of scope, too.
func declared(w store.Wash, log []wash.Event) plan.Plan {
	p := w.Plan
	p.OutScope = append(slices.Clone(p.OutScope), wash.Fold(w.Steps(), log).Noted(p.Ordered)...)
	return p
}

func (s *server) closeAudit(ctx context.Context, in *ID) (*Out[AuditView], error) {
	err := s.Store.CloseAudit(ctx, in.ID, who(ctx).ID, s.Now(), func(of store.Signing) (audit.Result, error) {
		list, err := s.Store.Checklist(ctx, of.Audit.ChecklistID, of.Audit.ChecklistVersion)
		if err != nil {
			return audit.Result{}, err
		}
		result := audit.Judge(list, of.Audit.Answers(), declared(of.Wash, of.Log), of.Audit.Walked())
		if len(result.Open) > 0 {
			return result, conflict(
				fmt.Sprintf("%d items have no answer yet: walk the whole list before signing.", len(result.Open)),
			)
		}
		photos, err := s.photosOf(ctx, of.Audit.ID)
		if err != nil {
			return result, err
		}
		if lacking := list.Unproven(of.Audit.Answers(), photographed(photos)); len(lacking) > 0 {
			return result, conflict(fmt.Sprintf("%d findings want a photo before it is signed: take them, or wait until they have been sent.",
				len(lacking)))
		}
		if result.Incomplete {
			return result, conflict(result.Because + " Look at more, or have the lead release it without an audit.")
		}
		return result, nil
	})
	if err != nil {
		return nil, err
	}
	return s.auditView(ctx, in.ID)
}
