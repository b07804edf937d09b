package api_test

import (
	"archive/zip"
	"bytes"
	"encoding/csv"
	"image/jpeg"
	"net/http"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/api"
	"uskel/core/shop"
	"uskel/demo"
	"uskel/demo/demotest"
	"uskel/store"
)

// hires adds somebody with the demo's password and signs them in.
func (s *place) hires(name, signIn string, role shop.Role) *caller {
	s.t.Helper()
	known, err := s.store.PersonBySignIn(ctx, "maren")
	require.NoError(s.t, err)
	p := store.Person{
		ID:           store.NewID(),
		Name:         name,
		SignIn:       signIn,
		Role:         role,
		PasswordHash: known.PasswordHash,
		Active:       true,
	}
	require.NoError(s.t, s.store.AddPerson(ctx, p))
	return s.as(signIn)
}

func (c *caller) member(signIn string) api.StaffMember {
	c.t.Helper()
	for _, m := range told[api.Staff](c, "GET", "/staff", nil).People {
		if m.SignIn == signIn {
			return m
		}
	}
	require.FailNow(c.t, "nobody signs in as "+signIn)
	return api.StaffMember{}
}

type change struct {
	Name    string    `json:"name"`
	SignIn  string    `json:"signIn"`
	Role    shop.Role `json:"role"`
	Active  bool      `json:"active"`
	Version int       `json:"version"`
}

func (m member) as(role shop.Role, active bool) change {
	return change{m.Name, m.SignIn, role, active, m.Version}
}

// member is a member whose change is being written.
type member api.StaffMember

// Somebody new comes in by a one-time code, which opens once and with a password of their own.
func TestSomebodyNewComesInByACode(t *testing.T) {
	s := open(t)
	lead := s.as("maren")
	hand := told[api.NewHand](
		lead,
		"POST",
		"/staff",
		map[string]string{"name": "Tove Ask", "signIn": "Tove", "role": "washer"},
	)
	assert.True(t, lead.member("tove").Waiting)
	s.nobody().do("POST", "/api/session", map[string]string{"name": "tove", "password": "x"}).problem(401)

	enter := func(code, password string) reply {
		return s.nobody().
			do("POST", "/api/session/code", map[string]string{"name": "tove", "code": code, "password": password})
	}
	assert.Contains(t, enter(hand.Code, "short").problem(422).says(), "at least 10 letters")
	enter("0000-0000", "gravel lantern quay").problem(401)
	tove := s.nobody()
	me := told[api.Me](
		tove,
		"POST",
		"/session/code",
		map[string]string{"name": "tove", "code": hand.Code, "password": "gravel lantern quay"},
	)
	assert.Equal(t, shop.Washer, me.Role)
	assert.Contains(t, me.Rights, shop.Wash)
	assert.NotContains(t, me.Rights, shop.Set)
	enter(hand.Code, "another good one").problem(401)
	m := lead.member("tove")
	assert.False(t, m.Waiting)
	require.Len(t, m.SignIns, 1)
	assert.Equal(t, shop.ByCode, m.SignIns[0].How)
	require.NotNil(t, m.SeenAt)

	lead.do("POST", "/api/staff", map[string]string{"name": "Other", "signIn": "TOVE", "role": "washer"}).problem(422)
	lead.do("POST", "/api/staff", map[string]string{"name": "Other", "signIn": "two words", "role": "washer"}).
		problem(422)
}

// A lead who resets a password ends what was opened by it; the old one opens no more.
func TestAResetEndsWhatWasOpen(t *testing.T) {
	s := open(t)
	lead, osk := s.as("maren"), s.as("osk")
	code := told[api.OneTime](lead, "POST", "/staff/"+lead.id("osk")+"/code", nil)
	osk.do("GET", "/api/session", nil).problem(401)
	s.nobody().do("POST", "/api/session", map[string]string{"name": "osk", "password": demo.Password}).problem(401)
	told[api.Me](
		s.nobody(),
		"POST",
		"/session/code",
		map[string]string{"name": "OSK", "code": code.Code, "password": "gravel lantern quay"},
	)
	lead.do("POST", "/api/staff/"+lead.id("maren")+"/code", nil).problem(409)
	lead.do("POST", "/api/staff/"+store.NewID()+"/code", nil).problem(404)
	owner := s.hires("Odile Penn", "odile", shop.Owner)
	lead.do("POST", "/api/staff/"+lead.id("odile")+"/code", nil).problem(403)
	told[api.OneTime](owner, "POST", "/staff/"+lead.id("maren")+"/code", nil)
}

// Roles change, people are let go and come back; their history stays. The last lead stays lead.
func TestStaffChanges(t *testing.T) {
	s := open(t)
	lead, osk := s.as("maren"), s.as("osk")
	put := func(by *caller, signIn string, role shop.Role, active bool) reply {
		m := lead.member(signIn)
		return by.do("PUT", "/api/staff/"+m.ID, member(m).as(role, active))
	}
	assert.Contains(t, put(lead, "maren", shop.Washer, true).problem(409).says(), "make another person lead first")
	put(lead, "maren", shop.Lead, false).problem(409)
	put(lead, "osk", shop.Lead, true).is(204)
	put(osk, "maren", shop.Washer, true).is(204)
	lead.do("GET", "/api/staff", nil).problem(403)
	lead = osk
	stale := lead.member("ines")
	put(lead, "ines", shop.Auditor, true).is(204)
	lead.do("PUT", "/api/staff/"+stale.ID, member(stale).as(shop.Washer, true)).problem(409)

	ines := s.as("ines")
	put(lead, "ines", shop.Auditor, false).is(204)
	ines.do("GET", "/api/yard", nil).problem(401)
	s.nobody().do("POST", "/api/session", map[string]string{"name": "ines", "password": demo.Password}).problem(401)
	assert.NotEmpty(t, told[[]api.WashLine](lead, "GET", "/times/washes?days=60", nil))
	put(lead, "ines", shop.Washer, true).is(204)
	s.as("ines")
	put(lead, "ines", shop.Owner, true).problem(403)
}

// Two leads who let each other go at once: one of them stays.
func TestTwoLeadsDoNotLetEachOtherGo(t *testing.T) {
	s := open(t)
	maren := s.as("maren")
	m := maren.member("osk")
	maren.do("PUT", "/api/staff/"+m.ID, member(m).as(shop.Lead, true)).is(204)
	osk := s.as("osk")
	statuses := make([]int, 2)
	var both sync.WaitGroup
	for i, c := range []struct {
		by   *caller
		what change
		id   string
	}{{maren, member(maren.member("osk")).as(shop.Washer, false), maren.id("osk")},
		{osk, member(osk.member("maren")).as(shop.Washer, false), maren.id("maren")}} {
		both.Go(func() { statuses[i] = c.by.do("PUT", "/api/staff/"+c.id, c.what).status })
	}
	both.Wait()
	assert.Contains(t, statuses, 204)
	people, err := s.store.People(ctx)
	require.NoError(t, err)
	leads := 0
	for _, p := range people {
		if p.Active && p.Role.Leads() {
			leads++
		}
	}
	assert.Equal(t, 1, leads, "%v", statuses)
}

func TestOnesOwnPasswordAndSignIns(t *testing.T) {
	s := open(t)
	here, elsewhere := s.signsIn("osk"), s.signsIn("osk")
	lines := told[[]api.SignInLine](here, "GET", "/sign-ins", nil)
	require.Len(t, lines, 3, "these two, and the one that the shop was opened with")
	here.do("PUT", "/api/session/password", map[string]string{"was": "wrong", "new": "gravel lantern quay"}).
		problem(422)
	here.do("PUT", "/api/session/password", map[string]string{"was": demo.Password, "new": "osk"}).problem(422)
	here.do("PUT", "/api/session/password", map[string]string{"was": demo.Password, "new": "gravel lantern quay"}).
		is(204)
	here.do("GET", "/api/session", nil).is(200)
	elsewhere.do("GET", "/api/session", nil).problem(401)

	third := s.nobody()
	third.do("POST", "/api/session", map[string]string{"name": "Osk ", "password": "gravel lantern quay"}).is(200)
	theirs := told[[]api.SignInLine](third, "GET", "/sign-ins", nil)
	for _, l := range theirs {
		if l.Here {
			s.signsIn("ines").do("DELETE", "/api/sign-ins/"+l.ID, nil).is(204) // nothing of hers: nothing ends
			third.do("GET", "/api/session", nil).is(200)
			here.do("DELETE", "/api/sign-ins/"+l.ID, nil).is(204)
		}
	}
	third.do("GET", "/api/session", nil).problem(401)
	lead := s.signsIn("maren")
	lead.do("DELETE", "/api/sign-ins/"+lead.member("osk").SignIns[0].ID, nil).is(204)
	here.do("GET", "/api/session", nil).problem(401)
}

// tablet is a browser that a lead has made a shared tablet and signed out on.
func (s *place) tablet() *caller {
	s.t.Helper()
	c := s.signsIn("maren")
	c.do("POST", "/api/devices", map[string]string{"kind": "tablet", "name": "Bay tablet"}).is(200)
	c.do("DELETE", "/api/session", nil).is(204)
	return c
}

// draws sets somebody's digits, which the server draws.
func (c *caller) draws() string {
	c.t.Helper()
	return into[api.Digits](c.do("PUT", "/api/session/digits", map[string]string{"password": demo.Password}).is(200)).Digits
}

// other are digits that are not these.
func other(digits string) string { return string('0'+('9'-digits[0])) + digits[1:] }

// On a shared tablet people come and go by four digits, which are enough to wash and not to sign or to set.
func TestASharedTablet(t *testing.T) {
	s := open(t)
	osk := s.signsIn("osk")
	osk.do("PUT", "/api/session/digits", map[string]string{"password": "wrong"}).problem(422)
	lead := s.signsIn("maren")
	osks, marens := osk.draws(), lead.draws()
	digits := func(who, four string) map[string]string {
		return map[string]string{"personId": lead.id(who), "digits": four}
	}
	s.nobody().do("POST", "/api/session/digits", digits("osk", osks)).problem(401)
	assert.False(
		t,
		told[api.TabletView](s.nobody(), "GET", "/tablet", nil).Shared,
		"a stranger's browser learns no names",
	)

	tablet := s.tablet()
	view := told[api.TabletView](tablet, "GET", "/tablet", nil)
	assert.True(t, view.Shared)
	assert.Equal(t, "Bay tablet", view.Name)
	assert.Len(t, view.People, len(demo.Hands))
	tablet.do("POST", "/api/session/digits", digits("ines", osks)).problem(401)
	tablet.do("POST", "/api/session/digits", digits("osk", other(osks))).problem(401)
	me := told[api.Me](tablet, "POST", "/session/digits", digits("osk", osks))
	assert.True(t, me.Shared)
	assert.Equal(t, 10, me.Lock)
	tablet.do("GET", "/api/yard", nil).is(200)
	tablet.do("PUT", "/api/session/password", map[string]string{"was": osks, "new": "gravel lantern quay"}).
		problem(422)

	// The lead takes it over; settings ask for the password, and for ten minutes not again.
	told[api.Me](tablet, "POST", "/session/digits", digits("maren", marens))
	settings := told[api.SettingsView](tablet, "GET", "/settings", nil)
	refused := tablet.do("PUT", "/api/settings", settings).problem(403)
	assert.Contains(t, refused.says(), "session.password")
	assert.Contains(t, tablet.do("GET", "/api/staff", nil).problem(403).says(), "Type your password")
	tablet.do("POST", "/api/session/confirm", map[string]string{"password": marens}).problem(422)
	tablet.do("POST", "/api/session/confirm", map[string]string{"password": demo.Password}).is(204)
	tablet.do("PUT", "/api/settings", settings).is(200)
	told[api.Me](tablet, "POST", "/session/digits", digits("osk", osks))
	told[api.Me](tablet, "POST", "/session/digits", digits("maren", marens))
	tablet.do("GET", "/api/staff", nil).problem(403)

	// Ended by a lead, it opens nothing, and whoever was on it is signed out.
	devices := told[api.Staff](lead, "GET", "/staff", nil).Devices
	require.Len(t, devices, 1)
	lead.do("DELETE", "/api/devices/"+devices[0].ID, nil).is(204)
	tablet.do("GET", "/api/yard", nil).problem(401)
	tablet.do("POST", "/api/session/digits", digits("osk", osks)).problem(401)
	lead.do("GET", "/api/yard", nil).is(200)
}

// Guessed digits: five at once, then the person's digits rest, on all tablets; their password still opens.
func TestDigitsAreNotGuessed(t *testing.T) {
	s := open(t)
	osk := s.as("osk")
	right := osk.draws()
	one, second := s.tablet(), s.tablet()
	body := map[string]string{"personId": osk.id("osk"), "digits": other(right)}
	statuses := make([]int, 12)
	var all sync.WaitGroup
	for i := range statuses {
		all.Go(func() { statuses[i] = []*caller{one, second}[i%2].do("POST", "/api/session/digits", body).status })
	}
	all.Wait()
	wrong := 0
	for _, status := range statuses {
		if status == http.StatusUnauthorized {
			wrong++
		}
	}
	assert.Equal(t, 5, wrong, "%v", statuses)
	body["digits"] = right
	one.do("POST", "/api/session/digits", body).problem(429)
	s.as("osk")
}

// What a password confirms on a tablet holds for a while and no longer.
func TestAConfirmedPasswordRunsOut(t *testing.T) {
	at := morning
	var lock sync.Mutex
	clock := func() time.Time { lock.Lock(); defer lock.Unlock(); return at }
	s := serve(t, demotest.Open(t), func(c *api.Config) { c.Now = clock })
	lead := s.signsIn("maren")
	marens := lead.draws()
	tablet := s.tablet()
	told[api.Me](tablet, "POST", "/session/digits", map[string]string{"personId": lead.id("maren"), "digits": marens})
	tablet.do("POST", "/api/session/confirm", map[string]string{"password": demo.Password}).is(204)
	tablet.do("GET", "/api/staff", nil).is(200)
	lock.Lock()
	at = at.Add(11 * time.Minute)
	lock.Unlock()
	tablet.do("GET", "/api/staff", nil).problem(403)
}

// The owner takes all records away as tables; secrets are not among them, and what stands in a table is read back.
func TestTheOwnerTakesTheRecordsAway(t *testing.T) {
	s := open(t)
	owner := s.hires("Odile Penn", "odile", shop.Owner)
	got := owner.get("/api/export").is(200)
	z, err := zip.NewReader(bytes.NewReader(got.body), int64(len(got.body)))
	require.NoError(t, err)
	counts, err := s.store.Counts(ctx)
	require.NoError(t, err)
	assert.Len(t, z.File, 41+counts["photos"])
	for _, f := range z.File {
		file, err := f.Open()
		require.NoError(t, err)
		if strings.HasPrefix(f.Name, "photos/") {
			_, err := jpeg.Decode(file)
			require.NoError(t, err, f.Name)
			continue
		}
		rows, err := csv.NewReader(file).ReadAll()
		require.NoError(t, err, f.Name)
		assert.Len(t, rows, counts[strings.TrimSuffix(f.Name, ".csv")]+1, f.Name)
		if f.Name == "people.csv" {
			assert.Equal(t, []string{"id", "name", "sign_in", "role", "active"}, rows[0])
		}
	}
	assert.NotContains(t, string(got.body), "argon2id")
}

// Names that are to be forgotten go, and what was washed stays.
func TestForgetting(t *testing.T) {
	s := open(t)
	owner := s.hires("Odile Penn", "odile", shop.Owner)
	before, err := s.store.Counts(ctx)
	require.NoError(t, err)
	m := owner.member("jory")
	owner.do("POST", "/api/staff/"+m.ID+"/forget", nil).problem(409)
	owner.do("PUT", "/api/staff/"+m.ID, member(m).as(m.Role, false)).is(204)
	owner.do("POST", "/api/staff/"+m.ID+"/forget", nil).is(204)
	card := told[[]api.VehicleCard](owner, "GET", "/vehicles", nil)[0]
	for _, b := range told[api.Yard](owner, "GET", "/yard", nil).Bookings {
		if b.Plate == card.Plate {
			owner.do("POST", "/api/bookings/"+b.ID+"/notice", map[string]string{"text": "Your " + card.Plate}).is(200)
		}
	}
	owner.do("POST", "/api/vehicles/"+card.ID+"/forget", nil).is(204)
	for _, path := range []string{"/api/staff", "/api/people", "/api/vehicles", "/api/times/learning?days=60", "/api/times/washes?days=60",
		"/api/outbox", "/api/yard"} {
		text := string(owner.get(path).is(200).body)
		assert.NotContains(t, text, "Jory", path)
		assert.NotContains(t, text, card.Plate, path)
	}
	after, err := s.store.Counts(ctx)
	require.NoError(t, err)
	for _, table := range []string{"people", "washes", "wash_events", "vehicles", "audits"} {
		assert.Equal(t, before[table], after[table], table)
	}
}
