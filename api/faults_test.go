package api_test

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/api"
	"uskel/core/audit"
	"uskel/core/contact"
	"uskel/core/vehicle"
	"uskel/core/wash"
	"uskel/demo/demotest"
	"uskel/store"
	"uskel/store/storetest"
)

// fingerprint is a hash of every row of every table but the sessions, so that a test can say that nothing changed.
func (s *place) fingerprint() string {
	s.t.Helper()
	var tables []string
	rows, err := s.store.Pool.Query(
		ctx,
		`SELECT table_name FROM information_schema.tables WHERE table_schema = 'public' AND table_name <> 'sessions' ORDER BY 1`,
	)
	require.NoError(s.t, err)
	for rows.Next() {
		var name string
		require.NoError(s.t, rows.Scan(&name))
		tables = append(tables, name)
	}
	require.NoError(s.t, rows.Err())
	print := ""
	for _, name := range tables {
		var hash string
		err := s.store.Pool.QueryRow(ctx,
			fmt.Sprintf(`SELECT coalesce(md5(string_agg(r, ',' ORDER BY r)), '') FROM (SELECT t::text AS r FROM %s t) x`, name)).
			Scan(&hash)
		require.NoError(s.t, err)
		print += name + " " + hash + "\n"
	}
	return print
}

// Bad input gets a clear 4xx that names the field, and changes nothing.
func TestBadInputChangesNothing(t *testing.T) {
	s := open(t)
	lead := s.as("maren")
	fresh, looked, running := lead.booking("PLT 7"), lead.booking("CAB 14"), lead.booking("VLT 30")
	nowhere := "00000000-0000-4000-8000-000000000000"
	lookOver := "/api/bookings/" + fresh.ID + "/look-over"
	taps := "/api/washes/" + running.WashID + "/events"
	event := func(rest string) string {
		return `{"events":[{"id":"6f1c1f0e-6f0e-4f1e-8f0e-6f1c1f0e6f0e",` + rest + `}]}`
	}
	before := s.fingerprint()
	for _, c := range []struct {
		method, path, body string
		status             int
		says               string
	}{
		{"PUT", lookOver, `{`, 400, "unexpected end of JSON"},
		{"PUT", lookOver, `{"version":0,"lookOver":{"grades":{"roof":7}}}`, 422, "lookOver"},
		{"PUT", lookOver, strings.Replace(whole, `"roof":1`, `"roof":9`, 1), 422, "grades.roof: grade 9 must be 0 to 4"},
		{"PUT", lookOver, strings.Replace(whole, `"roof":1`, `"sunroof":1`, 1), 422, "grades.sunroof: no such zone"},
		{"PUT", lookOver, strings.Replace(whole, `"roof":1`, `"roof":"one"`, 1), 422, "body.lookOver.grades"},
		{"PUT", lookOver, strings.Replace(whole, `"budget":90`, `"budget":-4`, 1), 422, "body.lookOver.budget: expected number >= 0"},
		{"PUT", lookOver, strings.Replace(whole, `"budget":90`, `"budget":90,"mood":"grim"`, 1), 422, "body.lookOver.mood: unexpected property"},
		{"PUT", lookOver, strings.Replace(whole, `"kind":"wax"`, `"kind":"honey"`, 1), 422, "body.lookOver.protection.kind"},
		{"PUT", lookOver, strings.Replace(whole, `"notes":""`, `"notes":"`+strings.Repeat("x", 2100)+`"`, 1), 422, "body.lookOver.notes"},
		{"PUT", lookOver, strings.Replace(whole, `"notes":""`, `"notes":"`+strings.Repeat("x", 2<<20)+`"`, 1), 413, ""},
		{"PUT", "/api/bookings/" + nowhere + "/look-over", whole, 404, "no such booking"},
		{"PUT", "/api/bookings/seven/look-over", whole, 422, "path.id"},
		{"PUT", "/api/bookings/" + looked.ID + "/look-over", whole, 409, "Maren Tolley saved this"},
		{"POST", "/api/bookings", `{"vehicleId":"` + nowhere +
			`","arrivesAt":"2026-04-14T12:00:00Z","promisedAt":"2026-04-14T11:00:00Z","service":"basic","place":` +
			anyPlace + `}`, 422, "promisedAt: must be after arrivesAt"},
		{"POST", "/api/bookings", `{"vehicleId":"` + nowhere +
			`","arrivesAt":"2026-04-14T12:00:00Z","promisedAt":"2026-04-14T13:00:00Z","service":"basic","place":` +
			anyPlace + `}`, 404, "no such vehicle"},
		{"POST", "/api/vehicles",
			`{"plate":"VLT 30","label":"twin","spec":` + carOf(16) + `}`, 409, "plate VLT 30"},
		{"POST", "/api/vehicles",
			`{"plate":"NEW 1","label":"odd","spec":` + carOf(99) + `}`, 422, "body.spec.wheels.inches"},
		{"PUT", "/api/bookings/" + fresh.ID + "/washer", `{"washerId":"` + lead.id("hesper") + `","version":1}`, 422, "does not wash"},
		{"PUT", "/api/bookings/" + running.ID + "/washer", `{"washerId":"` + lead.id("ines") + `","version":1}`, 409, "stays in its record"},
		{"POST", "/api/bookings/" + looked.ID + "/wash", `{"procedure":"polka","washerId":"` + lead.id("ines") + `"}`,
			422, `no published procedure "polka"`},
		{"POST", taps, `{"events":[]}`, 422, "body.events"},
		{"POST", taps, event(`"kind":"dance","at":"2026-04-14T10:20:00Z","seq":1`), 422, "body.events[0].kind"},
		{"POST", taps, event(`"kind":"done","step":"polish","at":"2026-04-14T10:20:00Z","seq":1`), 422, `no such step`},
		{"POST", taps, event(`"kind":"skip","step":"foam","at":"2026-04-14T10:20:00Z","seq":1`), 422, "say why the step is skipped"},
		{"POST", taps, event(`"kind":"note","at":"2036-04-14T10:20:00Z","seq":1`), 422, "the device's clock is wrong"},
		{"POST", taps, event(`"kind":"note","at":"yesterday","seq":1`), 422, "body.events[0].at"},
		{"POST", "/api/mix", `{"first":1,"second":0,"reading":"parts plus parts","amount":1,"unit":"l"}`, 422, "above zero"},
		{"POST", "/api/mix", `{"first":1,"second":10,"amount":1,"unit":"l"}`, 422, "reading"},
		{"POST", "/api/mix", `{"first":1,"second":10,"reading":"one part in","amount":-1,"unit":"l"}`, 422, "amount"},
		{"PUT", "/api/settings",
			`{"version":9,"settings":{"shopName":"Other yard","units":"metric","currency":"¤",` +
				`"seed":7,"timeZone":"UTC","places":[` + anyPlace + `]}}`,
			409, "body.settings.machines[0].name: machine 1, name: theirs is “Pressure washer”, yours is nothing"},
		{"PUT", "/api/settings",
			`{"version":1,"settings":{"shopName":"Other yard","units":"metric","currency":"¤",` +
				`"seed":7,"timeZone":"Sea/Bottom","places":[` + anyPlace + `]}}`, 422, "not in the time zone database"},
		{"PUT", "/api/settings",
			`{"version":1,"settings":{"shopName":"Other yard","units":"metric","currency":"¤",` +
				`"seed":7,"timeZone":"UTC","places":[]}}`, 422, "settings.places"},
		{"GET", "/api/times?days=9999", "", 422, "query.days"},
		{"GET", "/api/times?daze=9", "", 422, "query.daze"},
		{"GET", "/api/nothing", "", 404, "nothing at this address"},
		{"PATCH", "/api/yard", `{}`, 405, "does not take PATCH"},
	} {
		var body any
		if c.body != "" {
			body = c.body
		}
		p := lead.do(c.method, c.path, body).problem(c.status)
		assert.Contains(t, p.says(), c.says, "%s %s %.80s", c.method, c.path, c.body)
	}
	assert.Equal(t, before, s.fingerprint(), "nothing has changed")
}

// whole is a look-over that is right.
// anyPlace is a place that can be.
const anyPlace = `{"name":"Bay","cover":"indoors","supply":"hose","runoff":true,"blower":true,"heading":0}`

// carOf is a vehicle on wheels of so many inches.
func carOf(inches int) string {
	return fmt.Sprintf(`{"body":"hatch","shade":"white","finish":"ordinary","wheels":{"inches":%d,"spokes":"open",`+
		`"bare":false},"electric":false}`, inches)
}

const whole = `{"version":0,"lookOver":{"grades":{"roof":1},"bonded":[],"watch":[],"salt":false,
"protection":{"kind":"wax","ageDays":3,"water":"beads"},
"place":` + anyPlace + `,"budget":90,"service":"basic","tyreShine":false,"notes":""}}`

func TestTheGoodLookOverIsGood(t *testing.T) {
	s := open(t)
	lead := s.as("maren")
	lead.do("PUT", "/api/bookings/"+lead.booking("PLT 7").ID+"/look-over", whole).is(200)
}

// The second of two who save the same thing is told what the first one changed, and nothing of the first is lost.
func TestTheSecondSaveIsToldWhatChanged(t *testing.T) {
	s := open(t)
	lead, washer := s.as("maren"), s.as("ines")
	b := lead.booking("CAB 14")
	path := "/api/bookings/" + b.ID + "/look-over"
	view := into[api.LookOverView](lead.get(path).is(200))
	mine := view.LookOver
	mine.Grades = map[vehicle.Zone]contact.Grade{}
	for z, g := range view.LookOver.Grades {
		mine.Grades[z] = g
	}
	view.LookOver.Grades[vehicle.Roof], mine.Grades[vehicle.Roof] = 4, 0
	washer.do("PUT", path, saveLookOver{view.Version, view.LookOver}).is(200)
	p := lead.do("PUT", path, saveLookOver{view.Version, mine}).problem(409)
	assert.Contains(t, p.Detail, "Ines Varga saved this at 10:20")
	require.Len(t, p.Errors, 1)
	assert.Equal(t, "body.lookOver.grades.roof", p.Errors[0].Location)
	assert.Equal(t, "roof, grade: theirs is 4, yours is 0", p.Errors[0].Message)
	assert.EqualValues(t, 4, into[api.LookOverView](lead.get(path).is(200)).LookOver.Grades[vehicle.Roof])
}

func TestTwoAuditorsSaveTheSameItem(t *testing.T) {
	s := open(t)
	one, two := s.as("hesper"), s.as("ines")
	b := one.booking("CAB 12")
	a := into[api.AuditView](one.do("POST", "/api/washes/"+b.WashID+"/audit", nil).is(200))
	assert.Equal(
		t,
		a.ID,
		into[api.AuditView](two.do("POST", "/api/washes/"+b.WashID+"/audit", nil).is(200)).ID,
		"they walk the same audit",
	)
	path := "/api/audits/" + a.ID + "/items/shuts"
	finding := audit.Answer{
		Verdict:  audit.Found,
		Findings: []audit.Finding{{Zone: vehicle.Shuts, Kind: audit.GreasyShuts, Severity: audit.Minor}},
	}
	one.do("PUT", path, map[string]any{"version": 0, "answer": finding}).is(200)
	p := two.do("PUT", path, map[string]any{"version": 0, "answer": audit.Answer{Verdict: audit.Pass, Findings: []audit.Finding{}}}).
		problem(409)
	assert.Contains(t, p.says(), "Hesper Quill saved this")
	assert.Contains(t, p.says(), "answer: theirs is “finding”, yours is “pass”")
	saved := into[api.AuditView](two.get("/api/audits/" + a.ID).is(200)).Answers["shuts"]
	assert.Equal(t, audit.Found, saved.Answer.Verdict)
	two.do("PUT", path, map[string]any{"version": saved.Version, "answer": finding}).is(200)
}

// The database goes away in the middle of the day: callers are told, nothing is half saved, and the server goes on by
// itself once it is back.
func TestTheDatabaseGoesAwayAndComesBack(t *testing.T) {
	wire, address := storetest.NewWire(t, demotest.URL(t))
	db, err := store.Open(ctx, address)
	require.NoError(t, err)
	t.Cleanup(db.Close)
	s := serve(t, db)
	washer := s.as("osk")
	b := washer.booking("VLT 30")
	path := "/api/washes/" + b.WashID
	before := into[api.WashView](washer.get(path).is(200))
	note := events{[]wash.Event{tap(wash.Note, "", morning, 1)}}

	wire.Cut()
	assert.Contains(t, washer.get("/api/yard").problem(503).says(), "database is away")
	r := washer.do("POST", path+"/events", note)
	assert.Contains(t, r.problem(503).says(), "Nothing was saved")
	assert.NotEmpty(t, r.header.Get("Retry-After"))
	assert.Contains(t, washer.get("/api/ready").problem(503).says(), "does not answer")
	washer.get("/api/health").is(200)
	assert.Contains(
		t,
		string(washer.get("/bay/"+b.WashID).is(200).body),
		"<title>Uskel</title>",
		"the front end is served all the same",
	)

	wire.Mend()
	require.Eventually(
		t,
		func() bool { return washer.get("/api/yard").status == 200 },
		10*time.Second,
		50*time.Millisecond,
		"it recovers without a restart",
	)
	washer.do("POST", path+"/events", note).is(200)
	after := into[api.WashView](washer.get(path).is(200))
	assert.Len(t, after.Events, len(before.Events)+1)
}

func TestFrontEndFiles(t *testing.T) {
	c := open(t).nobody()
	assert.Contains(t, c.get("/assets/app.js").is(200).header.Get("Cache-Control"), "immutable")
	page := c.get("/look-over/some/where").is(200)
	assert.Equal(t, "no-cache", page.header.Get("Cache-Control"))
	assert.Contains(t, page.header.Get("Content-Security-Policy"), "default-src 'self'")
	c.do("POST", "/", `{}`).is(405)
}

// A full disk is said as such, by what is refused and by the question whether the server can do its work, until there is room again;
// what only reads goes on.
func TestAFullDiskIsSaid(t *testing.T) {
	s := open(t)
	washer := s.as("osk")
	b := washer.booking("VLT 30")
	path := "/api/washes/" + b.WashID + "/events"
	note := events{[]wash.Event{tap(wash.Note, "", morning, 1)}}
	storetest.FillDisk(t, s.store, "wash_events", "disk_probe")
	r := washer.do("POST", path, note)
	assert.Contains(t, r.problem(503).says(), "disk of the shop's database is full")
	assert.NotEmpty(t, r.header.Get("Retry-After"))
	assert.Contains(t, washer.get("/api/ready").problem(503).says(), "is full")
	washer.get("/api/yard").is(200)
	for _, table := range []string{"wash_events", "disk_probe"} {
		_, err := s.store.Pool.Exec(ctx, "DROP TRIGGER full_disk ON "+table)
		require.NoError(t, err)
	}
	washer.get("/api/ready").is(200)
	washer.do("POST", path, note).is(200)
}
