package api_test

import (
	"bytes"
	"encoding/json"
	"os"
	"strings"
	"testing"

	"github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/api"
	"uskel/core/condition"
	"uskel/core/procedure"
	"uskel/core/procedure/starters"
)

type saveDraft struct {
	Revision  int                 `json:"revision"`
	Procedure procedure.Procedure `json:"procedure"`
}

// A procedure's life: a copy, edits, a mistake that blocks, the version, what washes keep, what changed, restoring.
func TestWritingAProcedure(t *testing.T) {
	s := open(t)
	lead := s.as("maren")
	begun := into[api.ProcedureView](
		lead.do("POST", "/api/procedures", map[string]string{"id": "yard-wash", "title": "Yard wash", "from": "maintenance"}).
			is(200),
	)
	require.NotNil(t, begun.Draft)
	doc := into[api.ProcedureView](lead.get("/api/procedures/yard-wash").is(200)).Draft.Procedure
	assert.Equal(t, "Yard wash", doc.Title)
	assert.Empty(t, begun.Versions)

	doc.Stages[1].Steps[1].Cautions = nil // the first rinse no longer says where the jet must not point
	saved := into[api.DraftView](
		lead.do("PUT", "/api/procedures/yard-wash/draft", saveDraft{begun.Draft.Revision, doc}).is(200),
	)
	stale := lead.do("PUT", "/api/procedures/yard-wash/draft", saveDraft{begun.Draft.Revision, begun.Draft.Procedure}).
		problem(409)
	assert.Contains(t, stale.says(), "Maren Tolley saved this draft")
	assert.Contains(t, stale.says(), "caution")

	refused := lead.do("POST", "/api/procedures/yard-wash/publish", map[string]any{"revision": saved.Revision, "note": "First of our own"}).
		problem(422)
	assert.Contains(t, refused.says(), "rinse: No word of where the jet must not point.")
	saved = into[api.DraftView](
		lead.do("PUT", "/api/procedures/yard-wash/draft", saveDraft{saved.Revision, begun.Draft.Procedure}).is(200),
	)
	lead.do("POST", "/api/procedures/yard-wash/publish", map[string]any{"revision": saved.Revision - 1, "note": "First of our own"}).
		problem(409)
	view := into[api.ProcedureView](
		lead.do("POST", "/api/procedures/yard-wash/publish", map[string]any{"revision": saved.Revision, "note": "First of our own"}).
			is(200),
	)
	require.Len(t, view.Versions, 1)
	assert.Equal(t, "Maren Tolley", view.Versions[0].By)
	assert.Nil(t, view.Draft)

	second := into[api.ProcedureView](
		lead.do("POST", "/api/procedures", map[string]any{"id": "yard-wash", "from": "yard-wash"}).is(200),
	).Draft
	second.Procedure.Stages[5].Steps[0].Time.Body = 3
	again := into[api.DraftView](
		lead.do("PUT", "/api/procedures/yard-wash/draft", saveDraft{second.Revision, second.Procedure}).is(200),
	)
	edits := into[[]procedure.Edit](lead.get("/api/procedures/yard-wash/difference?from=1&to=0").is(200))
	require.Len(t, edits, 1, "%v", edits)
	lead.do("POST", "/api/procedures/yard-wash/publish", map[string]any{"revision": again.Revision, "note": "Slower rinse"}).
		is(200)
	assert.Equal(t, edits, into[[]procedure.Edit](lead.get("/api/procedures/yard-wash/difference?from=1&to=2").is(200)))

	// Version 1 again, as a draft; the published ones stay.
	restored := into[api.ProcedureView](
		lead.do("POST", "/api/procedures", map[string]any{"id": "yard-wash", "from": "yard-wash", "version": 1}).
			is(200),
	)
	assert.Empty(
		t,
		procedure.Difference(
			into[procedure.Procedure](lead.get("/api/procedures/yard-wash/versions/1").is(200)),
			restored.Draft.Procedure,
		),
	)
	lead.do("DELETE", "/api/procedures/yard-wash/draft", nil).is(204)

	// Retired, it is offered no more; washes that ran it keep it.
	offered := func() bool {
		return strings.Contains(
			string(lead.get("/api/bookings/"+lead.booking("CAB 14").ID+"/plan").is(200).body),
			"yard-wash",
		)
	}
	assert.True(t, offered())
	lead.do("POST", "/api/procedures/yard-wash/retire", map[string]bool{"retired": true}).is(200)
	assert.False(t, offered())
	lead.do("POST", "/api/procedures/yard-wash/retire", map[string]bool{"retired": false}).is(200)
	assert.True(t, offered())
}

func TestTryingAProcedure(t *testing.T) {
	s := open(t)
	lead := s.as("maren")
	look := into[api.LookOverView](lead.get("/api/bookings/" + lead.booking("CAB 14").ID + "/look-over").is(200))
	p := starters.Maintenance()
	p.Stages[1].Steps[0].When = procedure.All(
		procedure.Min(condition.GradeLower, 4),
		procedure.Max(condition.GradeOverall, 2),
	)
	tried := into[api.Tried](
		lead.do("POST", "/api/procedures-try", map[string]any{"procedure": p,
			"on": map[string]any{"vehicle": look.Booking.Spec, "lookOver": look.LookOver}}).
			is(200),
	)
	assert.False(t, tried.Publishable)
	assert.Equal(t, "never-applies", tried.Mistakes[0].Rule)
	require.NotNil(t, tried.Plan)
	assert.Positive(t, tried.Plan.Minutes)
	assert.Positive(t, tried.Yard)
	assert.Equal(t, tried.Yard, tried.Applies["mitt"])

	pinned := starters.Maintenance()
	pinned.Pins = procedure.Pins{"moon phase": "full"}
	assert.Contains(
		t,
		lead.do("POST", "/api/procedures-try", map[string]any{"procedure": pinned}).problem(422).says(),
		"moon phase",
	)

	tried = into[api.Tried](
		lead.do("POST", "/api/procedures-try", map[string]any{"procedure": starters.RinselessTowels(),
			"on": map[string]any{"vehicle": look.Booking.Spec, "lookOver": look.LookOver}}).
			is(200),
	)
	assert.Nil(t, tried.Plan)
	assert.Contains(t, tried.Refused[0], "Rinseless drags")
}

func TestLibraryForACar(t *testing.T) {
	lead := open(t).as("maren")
	cards := into[[]api.ProcedureCard](lead.get("/api/procedures?booking=" + lead.booking("CAB 14").ID).is(200))
	assert.Len(t, cards, 18)
	recommended := 0
	for _, c := range cards {
		require.NotNil(t, c.Verdict, c.Title)
		if *c.Verdict == "recommended" {
			recommended++
		}
		assert.NotEmpty(t, c.Grades)
	}
	assert.Equal(t, 1, recommended)
}

// Export then import gives the same document; what is no procedure is refused with line and field, and nothing is
// saved.
func TestImportAndExport(t *testing.T) {
	s := open(t)
	lead := s.as("maren")
	document := lead.get("/api/procedures/maintenance/export").is(200)
	assert.Equal(t, "application/json", document.header.Get("Content-Type"))
	imported := into[api.ProcedureView](lead.do("POST", "/api/procedures-import", string(document.body)).is(200))
	again, err := procedure.Encode(imported.Draft.Procedure)
	require.NoError(t, err)
	assert.Equal(t, string(document.body), string(again), "byte for byte")
	assert.Contains(
		t,
		string(lead.get("/api/procedures/maintenance/export?format=markdown").is(200).body),
		"# Shop maintenance wash",
	)

	before := s.fingerprint()
	broken := strings.Replace(string(document.body), `"technique": "rinse"`, `"technik": "rinse"`, 1)
	p := lead.do("POST", "/api/procedures-import", broken).problem(422)
	assert.Regexp(t, `line \d+: technik: there is no such field`, p.says())
	lead.do("POST", "/api/procedures-import", `{"id":`).problem(422)
	assert.Contains(t, lead.do("POST", "/api/procedures-import", string(document.body)).problem(409).says(), "already")
	assert.Equal(t, before, s.fingerprint())
}

// Every exported document satisfies the published JSON Schema (2020-12), by the jsonschema package, and the schema
// refuses what Decode refuses. The published file is the one that is served.
func TestDocumentsSatisfyThePublishedSchema(t *testing.T) {
	published, err := os.ReadFile("../docs/formats/procedure.schema.json")
	require.NoError(t, err)
	want, err := json.Marshal(api.ProcedureSchema())
	require.NoError(t, err)
	require.JSONEq(t, string(want), string(published), "write it anew: ./run schema")

	compiler := jsonschema.NewCompiler()
	doc, err := jsonschema.UnmarshalJSON(bytes.NewReader(published))
	require.NoError(t, err)
	require.NoError(t, compiler.AddResource("procedure.json", doc))
	schema, err := compiler.Compile("procedure.json")
	require.NoError(t, err)
	valid := func(text []byte) error {
		instance, err := jsonschema.UnmarshalJSON(bytes.NewReader(text))
		require.NoError(t, err)
		return schema.Validate(instance)
	}
	for _, p := range starters.Starters() {
		text, err := procedure.Encode(p)
		require.NoError(t, err)
		assert.NoError(t, valid(text), p.Title)
		for _, bad := range [][2]string{{`"technique": "`, `"technique": "un`}, {`"version": 1`, `"version": "1"`},
			{`"zones": "`, `"zonez": "`}} {
			assert.Error(t, valid(bytes.Replace(text, []byte(bad[0]), []byte(bad[1]), 1)), "%s, %s", p.Title, bad[1])
		}
	}
}

func TestQuestionsHaveBothReasonsAndADefault(t *testing.T) {
	all := into[[]api.QuestionView](open(t).as("osk").get("/api/questions").is(200))
	assert.Len(t, all, 21)
	for _, q := range all {
		assert.GreaterOrEqual(t, len(q.Schools), 2, q.Text)
		assert.NotEmpty(t, q.Default, q.Text)
		for _, school := range q.Schools {
			assert.NotEmpty(t, school.Reason)
		}
	}
}
