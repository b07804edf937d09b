package api_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/api"
	"uskel/core/audit"
	"uskel/core/photo/phototest"
	"uskel/core/shop"
	"uskel/core/vehicle"
	"uskel/core/visit"
	"uskel/core/wash"
	"uskel/demo"
)

// kept finds in which tables a text stands, in whatever column, document or file.
func (s *place) kept(text string) (tables []string) {
	s.t.Helper()
	rows, err := s.store.Pool.Query(ctx, "SELECT tablename FROM pg_tables WHERE schemaname = 'public'")
	require.NoError(s.t, err)
	var all []string
	for rows.Next() {
		var name string
		require.NoError(s.t, rows.Scan(&name))
		all = append(all, name)
	}
	require.NoError(s.t, rows.Err())
	for _, name := range all {
		var n int
		sql := fmt.Sprintf(`SELECT count(*) FROM %q t WHERE t::text ILIKE '%%' || $1 || '%%'
			OR t::text LIKE '%%' || encode(convert_to($1, 'UTF8'), 'hex') || '%%'`, name) // bytes read as hex
		require.NoError(s.t, s.store.Pool.QueryRow(ctx, sql, text).Scan(&n))
		if n > 0 {
			tables = append(tables, name)
		}
	}
	return tables
}

// A vehicle that is forgotten is gone: whatever was written of it by hand, at any point of its visit, stands nowhere any more; what was
// found and signed stays, without the words.
func TestAForgottenVehicleIsGone(t *testing.T) {
	s := open(t)
	const mark = "quagga"
	owner, hesper, jory, lis := s.hires("Odile Penn", "odile", shop.Owner), s.as("hesper"), s.as("jory"), s.as("lis")
	b := owner.booking("CAB 12") // washed by Jory
	_, err := s.store.Pool.Exec(ctx, "UPDATE vehicles SET plate = 'QUAGGA 1', plate_key = 'QUAGGA1', label = 'quagga taxi' WHERE id = $1",
		b.VehicleID)
	require.NoError(t, err)
	_, err = s.store.Pool.Exec(ctx, `UPDATE look_overs SET doc = doc || '{"notes": "the quagga is called Rex"}' WHERE booking_id = $1`, b.ID)
	require.NoError(t, err)
	owner.do("POST", "/api/washes/"+b.WashID+"/events", events{[]wash.Event{{ID: uuid.NewString(), Kind: wash.Note, At: morning, Seq: 1,
		Text: "quagga hair on the seats"}}}).is(200)
	owner.do("POST", "/api/bookings/"+b.ID+"/notice", map[string]string{"text": "your quagga is nearly done"}).is(200)

	a := into[api.AuditView](hesper.do("POST", "/api/washes/"+b.WashID+"/audit", nil).is(200))
	taken := bytes.Replace(phototest.Taken(90, 60), []byte("GPSLatitude"), []byte("quagga-rear"), 1)
	require.Contains(t, string(taken), "quagga-rear")
	hesper.photo("audits/"+a.ID, uuid.NewString(), vehicle.Roof, taken).is(200)
	assert.Empty(t, s.kept("quagga-rear"), "what a camera wrote into a photo is not kept at all")
	found := audit.Answer{Verdict: audit.Found, Note: "quagga", Findings: []audit.Finding{
		{Zone: vehicle.LowerLeft, Kind: audit.DirtLeft, Severity: audit.Minor, Note: "a quagga rubbed here"}}}
	answers := map[string]audit.Answer{}
	for _, id := range a.Result.Open {
		answers[id] = audit.Answer{Verdict: audit.Pass, Findings: []audit.Finding{}}
		if id == "lower" {
			answers[id] = found
		}
		hesper.do("PUT", "/api/audits/"+a.ID+"/items/"+id, map[string]any{"version": 0, "answer": answers[id]}).is(200)
	}
	signed := into[api.AuditView](hesper.do("POST", "/api/audits/"+a.ID+"/close", nil).is(200))
	hesper.do("PUT", "/api/audits/"+a.ID+"/items/lower", map[string]any{"version": 1, "answer": found}).is(200) // a remark
	dispute := map[string]any{"id": uuid.NewString(), "item": "lower", "note": "the quagga was there before"}
	jory.do("POST", "/api/audits/"+a.ID+"/disputes", dispute).is(200)
	owner.do("POST", "/api/disputes/"+fmt.Sprint(dispute["id"])+"/settle", map[string]any{"upheld": false, "answer": "no quagga"}).is(200)
	w := into[api.WashView](owner.get("/api/washes/" + b.WashID).is(200))
	owner.do("POST", "/api/washes/"+b.WashID+"/corrections", map[string]any{"step": w.Plan.Steps[0].ID, "minutes": 3,
		"why": "the quagga kicked"}).is(200)
	_, err = s.store.Pool.Exec(ctx, `INSERT INTO second_looks (id, audit_id, auditor_id, light, answers, at) SELECT gen_random_uuid(), $1,
		id, 'lamp', '{"lower": {"verdict": "finding", "note": "quagga", "findings": [{"zone": "roof", "kind": "dirt left", "severity": "minor",
		"note": "a quagga"}]}}', now() FROM people WHERE sign_in = 'bram'`, a.ID)
	require.NoError(t, err)
	put := map[string]any{"id": uuid.NewString(), "title": "The quagga taxi", "truth": answers}
	owner.do("POST", "/api/audits/"+a.ID+"/calibration", put).is(200)
	lis.do("POST", "/api/blind", takes(audit.SetWalk, fmt.Sprint(put["id"]), owner.id("lis"))).is(204)
	lis.do("POST", "/api/calibration/"+fmt.Sprint(put["id"])+"/walks", map[string]any{"id": uuid.NewString(), "light": audit.Lamp,
		"answers": answers}).is(200)
	owner.say(b.ID, visit.Release, "the quagga waits").is(200)
	require.Greater(t, len(s.kept(mark)), 9, "so that there is something to forget")

	owner.do("POST", "/api/vehicles/"+b.VehicleID+"/forget", nil).is(204)
	assert.Empty(t, s.kept(mark))
	assert.NotContains(t, string(owner.get("/api/export").is(200).body), mark)
	after := into[api.AuditView](owner.get("/api/audits/" + a.ID).is(200))
	assert.Equal(t, signed.Result.Score, after.Result.Score, "what was signed stays")
	require.Len(t, after.Result.Findings, len(signed.Result.Findings))
	assert.Equal(t, audit.DirtLeft, after.Result.Findings[0].Kind)
	for _, p := range after.Photos {
		assert.Fail(t, "a photo is left", p.ID)
	}
}

// ofVisits are the operations in whose texts somebody may write of a vehicle or of who brings it: the test above plants its marker in what
// each of them keeps, or, where it says so, they keep nothing.
var ofVisits = map[string]string{
	"addVehicle": "", "saveLookOver": "", "tap": "", "notice": "", "say": "", "answer": "", "dispute": "", "settleDispute": "", "correct": "",
	"secondLook": "", "addCalibration": "", "walkCalibration": "", "mark": "of the person; forgotten with either",
	"judge": "keeps nothing", "tryProcedure": "keeps nothing",
}

// ofTheShop are operations whose texts are the shop's own words, about how it works and not about whom.
var ofTheShop = []string{"addCloths", "addDevice", "addOwnCase", "addRemedy", "saveRemedy", "acceptStandard", "importProcedure", "mix",
	"newProcedure", "playRun", "publish", "publishChecklist", "tryChecklist", "saveDraft", "saveProduct", "saveRubric",
	"saveSettings", "setUp"}

// ofPeople are those in which somebody is named; their test is below.
var ofPeople = []string{"hire", "changePerson", "signIn", "signInByCode", "signInByDigits", "turnOnAuthenticator", "confirm", "setDigits",
	"setPassword"}

// refersOnly are operations whose texts name things by their ids.
var refersOnly = []string{"addBooking", "changeBooking", "arrange", "dropOnSlot", "fit", "giveSlot", "startWash", "timeline", "whatIf"}

// Every operation that takes a free text is known here: whoever adds one says where it is forgotten.
func TestEveryFreeTextIsForgottenSomewhere(t *testing.T) {
	var d described
	text, err := api.Description()
	require.NoError(t, err)
	require.NoError(t, json.Unmarshal(text, &d))
	var free func(s *schema, deep int) bool
	free = func(s *schema, deep int) bool {
		if s == nil || deep > 12 {
			return false
		}
		if s.Ref != "" {
			return free(d.Components.Schemas[s.Ref[strings.LastIndex(s.Ref, "/")+1:]], deep+1)
		}
		if s.Type == "string" && len(s.Enum) == 0 && s.Format == "" {
			return true
		}
		for name, p := range s.Properties {
			if name != "$schema" && free(p, deep+1) {
				return true
			}
		}
		more, _ := s.AdditionalProperties.(map[string]any)
		return free(s.Items, deep+1) || more["type"] == "string" || more["$ref"] != nil
	}
	known := slices.Concat(slices.Collect(maps.Keys(ofVisits)), ofTheShop, ofPeople, refersOnly)
	taking := 0
	for path, ops := range d.Paths {
		for method, op := range ops {
			if free(op.RequestBody.Content["application/json"].Schema, 0) {
				taking++
				assert.Contains(t, known, op.OperationID, "%s %s takes a free text: say where it is forgotten", method, path)
			}
		}
	}
	assert.Greater(t, taking, 45)
}

// A person who is forgotten is gone: their name, where they signed in and by what, and what was written about them; what they washed
// and signed stays, under a number.
func TestAForgottenPersonIsGone(t *testing.T) {
	s := open(t)
	owner := s.hires("Odile Penn", "odile", shop.Owner)
	m := owner.member("jory")
	renamed := member(m).as(m.Role, true)
	renamed.Name, renamed.SignIn = "Quagga Dunn", "quagga"
	owner.do("PUT", "/api/staff/"+m.ID, renamed).is(204)
	jory := s.nobody()
	jory.sent("POST", "/api/session", map[string]string{"name": "quagga", "password": demo.Password},
		map[string]string{"User-Agent": "quagga browser"}).is(200)
	_, err := s.store.Pool.Exec(ctx, "UPDATE watched SET note = 'quagga slow' WHERE person_id = $1", m.ID)
	require.NoError(t, err)
	require.NotEmpty(t, s.kept("quagga"))
	m = owner.member("quagga")
	owner.do("PUT", "/api/staff/"+m.ID, member(m).as(m.Role, false)).is(204)
	owner.do("POST", "/api/staff/"+m.ID+"/forget", nil).is(204)
	assert.Empty(t, s.kept("quagga"))
	var left int
	require.NoError(t, s.store.Pool.QueryRow(ctx, `SELECT (SELECT count(*) FROM sign_ins WHERE person_id = $1)
		+ (SELECT count(*) FROM known_devices WHERE person_id = $1) + (SELECT count(*) FROM sign_in_codes WHERE person_id = $1)`,
		m.ID).Scan(&left))
	assert.Zero(t, left, "no address of theirs is left")
	jory.get("/api/yard").is(401)
}
