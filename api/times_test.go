package api_test

import (
	"bytes"
	"encoding/csv"
	"fmt"
	"slices"
	"strconv"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/api"
	"uskel/core/timing"
	"uskel/core/wash"
	"uskel/store"
)

// A standard that the lead accepts changes the next plan's minutes and says so; the one before stays as history, and
// the paces of people do not count it twice.
func TestAnAcceptedStandardChangesPlans(t *testing.T) {
	s := open(t)
	lead := s.as("maren")
	b := lead.booking("CAB 14")
	planned := func() api.PlanView { return into[api.PlanView](lead.get("/api/bookings/" + b.ID + "/plan").is(200)) }
	before := planned()
	step := before.Choices[0].Plan.Steps[len(before.Choices[0].Plan.Steps)/2]
	minutes := func(v api.PlanView) (float64, float64) {
		for _, s := range v.Choices[0].Plan.Steps {
			if s.ID == step.ID {
				return s.Minutes, s.Written
			}
		}
		require.Fail(t, "the step is gone")
		return 0, 0
	}
	was, written := minutes(before)
	require.Positive(t, written)
	assert.InDelta(t, written, was, 1e-9)

	accept := map[string]any{
		"standard": timing.Standard{Step: step.ID, Form: timing.Factored, Factor: 1.5},
		"why":      "it takes longer here",
		"was":      timing.Written(step.ID),
	}
	line := told[api.StandardLine](lead, "POST", "/times/standards", accept)
	assert.Equal(t, "150 % of the written time", line.Words)
	now, still := minutes(planned())
	assert.InDelta(t, 1.5*written, now, 0.051)
	assert.InDelta(t, written, still, 1e-9)
	found := false
	for _, s := range planned().Choices[0].Plan.Steps {
		for _, f := range s.Figures {
			found = found ||
				s.ID == step.ID && f.Name == "Minutes" &&
					f.Source == "The shop's standard, from its own timings (Times)"
		}
	}
	assert.True(t, found, "the number says where it came from")

	assert.Contains(
		t,
		lead.do("POST", "/api/times/standards", accept).problem(409).says(),
		"accepted for this step meanwhile",
	)
	accept["was"], accept["standard"] = line.Standard, timing.Standard{Step: step.ID, Form: timing.Factored, Factor: 20}
	lead.do("POST", "/api/times/standards", accept).problem(422)
	accept["standard"] = timing.Written("moonwalk")
	assert.Contains(
		t,
		lead.do("POST", "/api/times/standards", accept).problem(422).says(),
		"no published procedure has a step",
	)
	accept["standard"] = timing.Written(step.ID)
	told[api.StandardLine](lead, "POST", "/times/standards", accept)
	back, _ := minutes(planned())
	assert.InDelta(t, was, back, 1e-9)
	history := into[api.StandardsView](lead.get("/api/times/standards?days=30").is(200)).History
	require.Len(t, history, 2)
	assert.Equal(t, "as written", history[0].Words)
	assert.Equal(t, "Maren Tolley", history[0].By)
}

// The proposals count practised people's timings, and what is different stands first.
func TestStandardsAreProposed(t *testing.T) {
	s := open(t)
	v := into[api.StandardsView](s.as("maren").get("/api/times/standards?days=30").is(200))
	assert.True(t, v.Measured)
	assert.Less(t, v.Allowances, 6, "what the pauses were")
	require.NotEmpty(t, v.Proposals)
	seenSame := false
	learning := 0
	for _, p := range v.Proposals {
		assert.False(t, p.Different && seenSame, "what differs comes first")
		seenSame = seenSame || !p.Different
		if p.N > 1 {
			assert.LessOrEqual(t, p.Low, p.High)
			assert.NoError(t, p.Propose.Check(), p.Step)
		}
		learning += p.Learning
	}
	assert.Positive(t, learning, "the trainees' timings are told apart")
	assert.NotEmpty(t, v.Ratings)
}

// Chart, learning and where the minutes go answer from the same washes; a series that is not there is named.
func TestChartsAndLearning(t *testing.T) {
	s := open(t)
	lead := s.as("maren")
	dry := into[timing.ChartView](lead.get("/api/times/chart?days=30&of=Dry").is(200))
	assert.Equal(t, "% of standard", dry.Unit)
	assert.Greater(t, dry.Chart.Mean, 105.0, "the bad towels")
	assert.Equal(t, 24, dry.Chart.Base)
	assert.Greater(t, len(dry.Chart.Points), 35)
	assert.Positive(t, dry.Learning)
	assert.NotNil(t, dry.Drifting)
	assert.Contains(t, dry.Series, into[timing.ChartView](lead.get("/api/times/chart?days=30").is(200)).Of)
	for _, of := range dry.Series {
		lead.get("/api/times/chart?days=30&of=" + plus(of)).is(200)
	}
	assert.Contains(t, lead.get("/api/times/chart?of=Polish").problem(422).says(), "Polish")

	everybody := into[api.LearningView](lead.get("/api/times/learning?days=30").is(200))
	assert.Greater(t, len(everybody.People), 3)
	assert.True(t, everybody.People[0].Trainee)
	own := into[api.LearningView](s.as("pia").get("/api/times/learning?days=30").is(200))
	require.Len(t, own.People, 1)
	assert.Equal(t, "Pia Lunt", own.People[0].Name)
	assert.Empty(
		t,
		into[api.LearningView](s.as("hesper").get("/api/times/learning?days=30").is(200)).People,
		"an auditor washes nothing",
	)

	times := into[timing.Totals](lead.get("/api/times?days=30").is(200))
	require.NotEmpty(t, times.Savings)
	for i := range times.Savings[1:] {
		assert.GreaterOrEqual(t, times.Savings[i].Minutes, times.Savings[i+1].Minutes)
	}
	assert.Less(t, times.Rinses, times.Asked, "somebody skips rinses")
}

// Times are told apart by each thing there is, stages and steps.
func TestTimesByKind(t *testing.T) {
	s := open(t)
	auditor := s.as("hesper")
	for _, by := range timing.Grouping("").Values() {
		for _, steps := range []string{"false", "true"} {
			asks := auditor
			if by == string(timing.ByPerson) {
				asks = s.as("maren") // whose times are whose is for the lead
			}
			b := into[timing.Breakdown](asks.get("/api/times/by?days=30&by=" + by + "&steps=" + steps).is(200))
			assert.NotEmpty(t, b.Kinds, by)
			assert.NotEmpty(t, b.Lines, by)
			for _, line := range b.Lines {
				assert.Len(t, line.Cells, len(b.Kinds))
			}
		}
	}
	auditor.get("/api/times/by?by=moon").problem(422)
}

// column reads a column of a table that was exported.
func (c *caller) column(table, head string) []string {
	c.t.Helper()
	_, data := c.fetch("/times/export?days=12&table=" + table)
	rows, err := csv.NewReader(bytes.NewReader(data)).ReadAll()
	require.NoError(c.t, err)
	at := slices.Index(rows[0], head)
	require.GreaterOrEqual(c.t, at, 0, "%s has %q", table, rows[0])
	var column []string
	for _, row := range rows[1:] {
		column = append(column, row[at])
	}
	return column
}

func sum(t *testing.T, column []string) float64 {
	t.Helper()
	total := 0.0
	for _, text := range column {
		x, err := strconv.ParseFloat(text, 64)
		require.NoError(t, err)
		total += x
	}
	return total
}

// The same washes lie under every page and every table: what one adds up, the others add up to.
func TestThePagesOfTheTimesAgree(t *testing.T) {
	s := open(t)
	lead := s.as("maren")
	times := into[timing.Totals](lead.get("/api/times?days=12").is(200))
	washes := into[[]api.WashLine](lead.get("/api/times/washes?days=12").is(200))
	learning := into[api.LearningView](lead.get("/api/times/learning?days=12").is(200))
	whole := into[timing.ChartView](lead.get("/api/times/chart?days=12&of=whole+wash").is(200))
	require.Greater(t, times.Count, 10)

	planned, actual, kept, missed, findings := 0.0, 0.0, 0, 0, 0
	byPerson := map[string]int{}
	for _, w := range washes {
		planned, actual, kept, missed, findings = planned+w.Planned, actual+w.Actual, kept+w.Kept, missed+w.Missed, findings+w.Findings
		byPerson[w.Washer.Name]++
	}
	assert.Len(t, washes, times.Count)
	assert.InDelta(t, times.Planned, planned, 0.01)
	assert.InDelta(t, times.Actual, actual, 0.01)
	assert.Equal(t, []int{times.Kept, times.Missed}, []int{kept, missed})

	assert.Len(t, lead.column("washes", "who"), times.Count)
	assert.InDelta(t, times.Actual, sum(t, lead.column("washes", "hands-on min")), 0.01)
	assert.InDelta(t, times.Planned, sum(t, lead.column("washes", "standard min")), 0.01)
	assert.InDelta(t, times.Idle, sum(t, lead.column("washes", "product working alone min"))/float64(times.Count), 0.01)
	assert.InDelta(t, float64(findings), sum(t, lead.column("washes", "findings")), 0)

	shares := 0.0
	for _, x := range times.Shares {
		shares += x.Share
	}
	assert.InDelta(t, 1, shares, 0.01)
	assert.Equal(
		t,
		times.Count,
		len(whole.Chart.Points)+whole.Learning,
		"a point for everybody's wash but the trainees'",
	)

	repeated := 0
	for _, l := range learning.People {
		assert.Len(t, l.Washes, byPerson[l.Name], l.Name)
		for i, w := range l.Washes {
			assert.Equal(t, l.Before+i+1, w.N)
		}
		repeated += len(l.Washes)
	}
	assert.Equal(t, times.Count, repeated)
	assert.True(
		t,
		slices.ContainsFunc(learning.People, func(l timing.Learning) bool { return l.Before > 0 }),
		"the demo's people washed before these days",
	)

	// However stage times are told apart, as many are told.
	told := map[string]int{}
	for _, by := range timing.Grouping("").Values() {
		for _, line := range into[timing.Breakdown](lead.get("/api/times/by?days=12&by=" + by).is(200)).Lines {
			n := 0
			for _, c := range line.Cells {
				n += c.N + c.Apart
			}
			if first, seen := told[line.Title]; seen {
				assert.Equal(t, first, n, "%s by %s", line.Title, by)
			}
			told[line.Title] = n
		}
	}
	for _, stage := range times.Stages {
		assert.Equal(t, stage.Washes, told[stage.Stage], stage.Stage)
	}
	assert.NotEmpty(t, told)
}

func plus(text string) string {
	return string(bytes.ReplaceAll([]byte(text), []byte(" "), []byte("+")))
}

// Every table comes as CSV that a parser reads, as wide in every line, and no text in it is a formula.
func TestTimesAreExported(t *testing.T) {
	s := open(t)
	lead := s.as("maren")
	for table, least := range map[string]int{"washes": 50, "steps": 500, "stages": 6, "standards": 10, "savings": 3,
		"learning": 50, "chart": 30, "shares": 6, "by": 12} {
		kind, data := lead.fetch("/times/export?days=30&table=" + table)
		assert.Contains(t, kind, "text/csv")
		rows, err := csv.NewReader(bytes.NewReader(data)).ReadAll()
		require.NoError(t, err, table)
		assert.Greater(t, len(rows), least, table)
	}
	_, data := lead.fetch("/times/export?days=30&table=stages")
	assert.NotContains(t, string(data), "'-", "a number below zero is a number, not a formula to be kept from running")
	_, data = lead.fetch("/times/export?days=30&table=steps")
	assert.Contains(t, string(data), ",Pia Lunt,", "who did it, by name")
	_, data = lead.fetch("/times/export?days=30&table=washes")
	rows, err := csv.NewReader(bytes.NewReader(data)).ReadAll()
	require.NoError(t, err)
	for _, row := range rows[1:] {
		at, err := time.Parse(time.RFC3339, row[0])
		require.NoError(t, err)
		assert.False(t, at.After(morning))
		_, err = strconv.ParseFloat(row[9], 64)
		require.NoError(t, err)
	}
}

// The crew taps: who was planned to help, who a step was handed to; others only say that they came to help. A
// hand-over to somebody who does not wash is refused.
func TestWhoTapsOnAWash(t *testing.T) {
	s := open(t)
	washer, helper := s.as("osk"), s.as("pia")
	b := washer.booking("VLT 30")
	path := "/api/washes/" + b.WashID
	view := into[api.WashView](washer.get(path).is(200))
	assert.True(t, view.MayTap)
	assert.False(t, into[api.WashView](helper.get(path).is(200)).MayTap)
	seq := 0
	event := func(kind wash.Kind, step, to string) map[string]any {
		seq++
		return map[string]any{
			"events": []any{
				map[string]any{
					"id":   store.NewID(),
					"kind": kind,
					"step": step,
					"to":   to,
					"at":   morning.Add(time.Duration(seq) * time.Second),
					"seq":  seq,
				},
			},
		}
	}
	helper.do("POST", path+"/events", event(wash.Done, view.State.Current, "")).is(403)
	helper.do("POST", path+"/events", event(wash.Helped, "", "")).is(200)
	ids := map[string]string{}
	for _, p := range view.People {
		ids[p.Name] = p.ID
	}
	assert.NotContains(t, ids, "Hesper Quill", "an auditor takes no step over")
	assert.Contains(
		t,
		washer.do("POST", path+"/events", event(wash.HandOver, view.State.Current, store.NewID())).problem(422).says(),
		"does not wash here",
	)
	washer.do("POST", path+"/events", event(wash.HandOver, view.State.Current, ids["Pia Lunt"])).is(200)
	now := into[api.WashView](helper.get(path).is(200))
	assert.True(t, now.MayTap)
	assert.Equal(t, []wash.Hand{{By: ids["Pia Lunt"], Step: view.State.Current}}, now.State.Hands)
	helper.do("POST", path+"/events", event(wash.Done, view.State.Current, "")).is(200)

	found := event(wash.Bonded, "", "")
	found["events"].([]any)[0].(map[string]any)["matter"] = "tar"
	assert.Contains(t, washer.do("POST", path+"/events", found).problem(422).says(), "zone")
}

// A tap reaches listening screens with the wash's pulse in it: they need not ask.
func TestATapBringsItsPulse(t *testing.T) {
	s := open(t)
	washer := s.as("osk")
	b := washer.booking("VLT 30")
	screen := s.as("maren").listen(t, "")
	screen.until("all", "")
	id := store.NewID()
	washer.do("POST", "/api/washes/"+b.WashID+"/events", map[string]any{"events": []any{map[string]any{"id": id,
		"kind": "help", "at": morning, "seq": 1}}}).
		is(200)
	told := api.Told{}
	for told.Topic != "wash" {
		select {
		case told = <-screen.told:
		case <-time.After(patience):
			require.Fail(t, "nothing was told")
		}
	}
	require.NotNil(t, told.Pulse)
	assert.Equal(t, id, told.Pulse.Last)
	require.NotNil(t, told.Pulse.Help)
	assert.Positive(t, told.Pulse.Left)
	card := washer.booking("VLT 30")
	require.NotNil(t, card.Pulse)
	assert.NotNil(t, card.Pulse.Help, fmt.Sprint("the yard says the same: ", card.Pulse))
}

// Tar that was found in the bay and left is declared: an audit does not count it. The lead's word decides what the
// washer asked.
func TestWhatIsLeftInTheBayIsDeclared(t *testing.T) {
	s := open(t)
	washer, lead, auditor := s.as("osk"), s.as("maren"), s.as("hesper")
	b := washer.booking("VLT 30")
	path := "/api/washes/" + b.WashID
	seq := 0
	send := func(c *caller, kind wash.Kind, remedy wash.Remedy) {
		seq++
		event := map[string]any{
			"id":   store.NewID(),
			"kind": kind,
			"at":   morning.Add(time.Duration(seq) * time.Second),
			"seq":  seq,
		}
		if remedy != "" {
			event["matter"], event["zone"], event["remedy"] = "tar", "lower-left", remedy
		}
		c.do("POST", path+"/events", map[string]any{"events": []any{event}}).is(200)
	}
	send(washer, wash.Bonded, wash.AskLead)
	assert.Equal(t, 1, lead.booking("VLT 30").Pulse.Asks)
	send(lead, wash.Bonded, wash.Leave)
	assert.Zero(t, lead.booking("VLT 30").Pulse.Asks)
	send(washer, wash.Finish, "")
	a := into[api.AuditView](auditor.do("POST", path+"/audit", nil).is(200))
	found := false
	for _, o := range a.OutScope {
		found = found || o.Matter == "tar"
	}
	assert.True(t, found)
	before := into[api.WashView](washer.get(path).is(200)).Plan.OutScope
	assert.NotEqual(t, len(before), len(a.OutScope), "the plan itself stays as it was")
}
