package api_test

import (
	"bytes"
	"encoding/json"
	"os"
	"slices"
	"testing"
	"time"

	"github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/api"
	"uskel/core/audit"
	"uskel/core/condition"
	"uskel/core/procedure"
	"uskel/core/vehicle"
	"uskel/core/wash"
)

// The lead writes a new version; the audit that is under way keeps its own, the next one is walked by the new.
func TestAChecklistIsWritten(t *testing.T) {
	s := open(t)
	lead, hesper := s.as("maren"), s.as("hesper")
	b := lead.booking("CAB 12")
	a := into[api.AuditView](hesper.do("POST", "/api/washes/"+b.WashID+"/audit", nil).is(200))
	require.Equal(t, 1, a.Checklist.Version)

	lists := into[[]api.ChecklistView](hesper.get("/api/checklists").is(200))
	require.Len(t, lists, len(audit.Offered()))
	list := lists[0].List
	assert.True(t, lists[0].InUse)
	list.Items[0].Done = "The edge is as pale as the middle."
	body := map[string]any{"version": 1, "list": list}
	hesper.do("PUT", "/api/checklists/"+list.ID, body).is(403)
	tried := into[api.ChecklistView](lead.do("POST", "/api/checklists-tried", list).is(200))
	assert.Positive(t, tried.Way.Metres)
	versions := into[[]api.ChecklistView](lead.do("PUT", "/api/checklists/"+list.ID, body).is(200))
	require.Len(t, versions, 2)
	assert.Equal(t, []string{"Drying towel and buckets: done when: The edge is as pale as the middle."}, versions[0].Changed)
	assert.Equal(t, "Maren Tolley", versions[0].By)
	assert.Contains(t, lead.do("PUT", "/api/checklists/"+list.ID, map[string]any{"version": 2, "list": list}).problem(422).says(),
		"nothing is different")
	lead.do("PUT", "/api/checklists/"+list.ID, body).is(409)
	list.Items[1].Title = " "
	assert.Contains(t, lead.do("PUT", "/api/checklists/"+list.ID, map[string]any{"version": 2, "list": list}).problem(422).says(),
		"items[1].title")

	assert.Equal(t, 1, into[api.AuditView](hesper.get("/api/audits/"+a.ID).is(200)).Checklist.Version)
	lead.get("/api/checklists/none").is(404)
	assert.Contains(t, string(lead.get("/api/checklists/"+list.ID+"/export?format=markdown").is(200).body), "# Final walk")
	assert.Contains(t, string(lead.get("/api/checklists/"+list.ID+"/export?format=csv&version=1").is(200).body), "look at,zones")
}

// A wash is walked by the list for it, less what it does not ask for; another can be chosen.
func TestTheListThatAWashIsWalkedBy(t *testing.T) {
	s := open(t)
	lead, hesper := s.as("maren"), s.as("hesper")
	list := audit.Starter()
	list.Items[0].When = procedure.Be(condition.WantsInside, "yes") // which was not ordered
	lead.do("PUT", "/api/checklists/"+list.ID, map[string]any{"version": 1, "list": list}).is(200)
	b := lead.booking("CAB 12")
	a := into[api.AuditView](hesper.do("POST", "/api/washes/"+b.WashID+"/audit", nil).is(200))
	assert.Equal(t, 2, a.Checklist.Version)
	assert.NotContains(t, a.Result.Open, list.Items[0].ID)
	assert.Contains(t, a.Skips[list.Items[0].ID], "inside")
	assert.Contains(t, a.Result.Open, "tips", "which were")
	lead.do("POST", "/api/washes/"+b.WashID+"/audit?checklist=none", nil).is(404)
}

// At dusk marks cannot be judged; what does not apply needs a reason; too little looked at is not signed.
func TestTooLittleIsNotSigned(t *testing.T) {
	s := open(t)
	lead, hesper := s.as("maren"), s.as("hesper")
	b := lead.booking("CAB 12")
	a := into[api.AuditView](hesper.do("POST", "/api/washes/"+b.WashID+"/audit", nil).is(200))
	path := "/api/audits/" + a.ID
	put := func(item string, version int, answer audit.Answer) reply {
		return hesper.do("PUT", path+"/items/"+item, map[string]any{"version": version, "answer": answer})
	}
	hesper.do("PUT", path+"/light", map[string]string{"light": "moon"}).is(422)
	dusk := into[api.AuditView](hesper.do("PUT", path+"/light", map[string]audit.Light{"light": audit.Dusk}).is(200))
	assert.Equal(t, audit.Dusk, dusk.Light)
	assert.Equal(t, []string{"upper", "glass"}, dusk.Result.TooDark)
	assert.NotContains(t, dusk.Result.Open, "upper")

	not := audit.Answer{Verdict: audit.NotApplicable, Findings: []audit.Finding{}}
	assert.Contains(t, put("shuts", 0, not).problem(422).says(), "say why")
	not.Note = "locked by the owner"
	for _, id := range dusk.Result.Open {
		if id == "shuts" || id == "water" {
			put(id, 0, not).is(200)
			continue
		}
		put(id, 0, audit.Answer{Verdict: audit.Pass, Findings: []audit.Finding{}}).is(200)
	}
	assert.Contains(t, hesper.do("POST", path+"/close", nil).problem(409).says(), "64 % of the list was looked at")

	// An answer whose reply was lost is sent again, and is fine; another one is told.
	put("water", 0, not).is(200)
	put("water", 0, audit.Answer{Verdict: audit.Pass, Findings: []audit.Finding{}}).is(409)
	put("water", 1, audit.Answer{Verdict: audit.Pass, Findings: []audit.Finding{}}).is(200)
	signed := into[api.AuditView](hesper.do("POST", path+"/close", nil).is(200))
	assert.True(t, signed.Result.Passed)
	assert.InDelta(t, 8.0/11, signed.Result.Seen, 1e-9)
	hesper.do("PUT", path+"/light", map[string]audit.Light{"light": audit.Lamp}).is(409)
}

// Two drips are let pass by the list: told, not counted, nothing to put right.
func TestWhatTheListLetsPass(t *testing.T) {
	s := open(t)
	lead, hesper := s.as("maren"), s.as("hesper")
	b := lead.booking("CAB 12")
	a := into[api.AuditView](hesper.do("POST", "/api/washes/"+b.WashID+"/audit", nil).is(200))
	drips := audit.Answer{Verdict: audit.Found, Findings: []audit.Finding{
		{Zone: vehicle.MirrorLeft, Kind: audit.Drips, Severity: audit.Minor, Amount: 2}}}
	now := into[api.AuditView](hesper.do("PUT", "/api/audits/"+a.ID+"/items/front", map[string]any{"version": 0, "answer": drips}).is(200))
	require.Len(t, now.Result.Findings, 1)
	assert.False(t, now.Result.Findings[0].Counts)
	assert.Zero(t, now.Result.Findings[0].Rework)
	assert.Equal(t, "let pass by the list: drips: up to 2", now.Result.Findings[0].Cause)
}

// Every list that Uskel brings satisfies the published JSON Schema (2020-12), by the jsonschema package; the schema refuses
// what the core refuses.
func TestChecklistsSatisfyThePublishedSchema(t *testing.T) {
	published, err := os.ReadFile("../docs/formats/checklist.schema.json")
	require.NoError(t, err)
	want, err := json.Marshal(api.ChecklistSchema())
	require.NoError(t, err)
	require.JSONEq(t, string(want), string(published), "write it anew: ./run schema")
	compiler := jsonschema.NewCompiler()
	doc, err := jsonschema.UnmarshalJSON(bytes.NewReader(published))
	require.NoError(t, err)
	require.NoError(t, compiler.AddResource("checklist.json", doc))
	schema, err := compiler.Compile("checklist.json")
	require.NoError(t, err)
	valid := func(text []byte) error {
		instance, err := jsonschema.UnmarshalJSON(bytes.NewReader(text))
		require.NoError(t, err)
		return schema.Validate(instance)
	}
	for _, c := range audit.Starters() {
		text, err := json.Marshal(c)
		require.NoError(t, err)
		assert.NoError(t, valid(text), c.ID)
		for _, bad := range [][2]string{{`"kinds":["`, `"kinds":["un`}, {`"version":1`, `"version":"1"`}, {`"zones":"`, `"zonez":"`}} {
			assert.Error(t, valid(bytes.Replace(text, []byte(bad[0]), []byte(bad[1]), 1)), "%s, %s", c.ID, bad[1])
		}
	}
}

// What is looked at on the way is frozen with the wash; whoever washes answers it, what was found and put right is counted, and an
// older list is not walked round a finished car. A look that wants a reading takes none without, and lets none pass beyond.
func TestChecksOnTheWay(t *testing.T) {
	s := open(t)
	lead, osk, hesper := s.as("maren"), s.as("osk"), s.as("hesper")
	b := lead.booking("VLT 30")
	w := into[api.WashView](osk.get("/api/washes/" + b.WashID).is(200))
	at := slices.IndexFunc(w.Steps, func(s wash.PlannedStep) bool { return len(s.Looks) > 0 })
	require.Positive(t, at)
	step := w.Steps[at]
	assert.Equal(t, procedure.Dry, step.Technique)
	assert.Len(t, w.State.Steps[at].Due, 2)

	way := func(c *caller) audit.WayRow {
		rows := into[api.FindingsView](c.get("/api/findings?weeks=1").is(200)).Way
		i := slices.IndexFunc(rows, func(r audit.WayRow) bool { return r.Look == "before-drying/gaps" })
		require.GreaterOrEqual(t, i, 0)
		return rows[i]
	}
	before, own := way(lead), way(osk)
	look := func(n int, found string) wash.Event {
		e := tap(wash.Checked, step.ID, morning.Add(time.Duration(n)*20*time.Second), 700+n)
		e.Look, e.Found = step.Looks[1].ID, found
		return e
	}
	assert.Contains(t, osk.send(b.WashID, look(0, "rust")).problem(422).says(), `found: "rust"`)
	s.as("ines").send(b.WashID, look(0, "")).problem(403)
	found := look(0, string(audit.FoamLeft))
	osk.send(b.WashID, found, look(1, "")).is(200)
	w = into[api.WashView](osk.get("/api/washes/" + b.WashID).is(200))
	assert.Equal(t, []string{step.Looks[0].ID}, w.State.Steps[at].Due)
	after := way(lead)
	assert.Equal(t, []int{before.Made + 1, before.Found + 1}, []int{after.Made, after.Found})
	assert.Equal(t, own.Made+1, way(osk).Made)
	osk.send(b.WashID, undoOf(found, 710)).is(200)
	assert.Equal(t, []int{before.Made + 1, before.Found}, []int{way(lead).Made, way(lead).Found}, "what was taken back is not counted")

	start := "/api/washes/" + lead.booking("CAB 12").WashID + "/audit?checklist="
	assert.Contains(t, hesper.do("POST", start+"before-drying", nil).problem(409).says(), "on the way")
	most := 5.0
	list := audit.Checklist{ID: "reads", Title: "Reads", Items: []audit.Item{{ID: "water", Title: "Water before the towel",
		Zones: procedure.PaintOnly, Kinds: []audit.Kind{audit.Drips}, Reading: &audit.Reading{What: "water left", Unit: "%", Most: &most}}}}
	lead.do("PUT", "/api/checklists/reads", map[string]any{"version": 0, "list": list}).is(200)
	a := into[api.AuditView](hesper.do("POST", start+"reads", nil).is(200))
	answer := func(read *float64) reply {
		given := audit.Answer{Verdict: audit.Pass, Findings: []audit.Finding{}, Reading: read}
		return hesper.do("PUT", "/api/audits/"+a.ID+"/items/water", map[string]any{"version": 0, "answer": given})
	}
	assert.Contains(t, answer(nil).problem(422).says(), "say what was read")
	assert.Contains(t, answer(new(7.5)).problem(422).says(), "7.5 % is more than 5")
	assert.Equal(t, 4.0, *into[api.AuditView](answer(new(4.0)).is(200)).Answers["water"].Answer.Reading)
}
