package api_test

import (
	"net/url"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/api"
	"uskel/core/audit"
	"uskel/core/procedure"
	"uskel/core/visit"
	"uskel/store"
)

// What the audits prove is worked out from the first audits that the page lists.
func TestAuditProof(t *testing.T) {
	s := open(t)
	hesper := s.as("hesper")
	audited, bad := 0, 0
	for _, line := range into[[]api.AuditLine](hesper.get("/api/audits").is(200)) {
		if line.AtOnce != nil {
			audited++
			if !*line.AtOnce {
				bad++
			}
		}
	}
	p := into[api.AuditProof](hesper.get("/api/audit-proof").is(200))
	assert.Equal(t, audited, p.Audited)
	assert.Equal(t, bad, p.Bad)
	assert.Positive(t, audited)
	assert.NotEmpty(t, p.Says)
}

// The plan of audits says of every wash that waits whether it is to be looked at, and why; the draw is the shop's to set.
func TestWhichWashesAreAudited(t *testing.T) {
	s := open(t)
	lead := s.as("maren")
	waiting := func() []api.AuditLine {
		lines := into[[]api.AuditLine](lead.get("/api/audits").is(200))
		return slices.DeleteFunc(lines, func(l api.AuditLine) bool { return l.Stage != visit.ToAudit || l.AuditID != "" })
	}
	set := func(share, first int) {
		view := into[api.SettingsView](lead.get("/api/settings").is(200))
		view.Settings.Drawn, view.Settings.Trainee, view.Settings.Version = &share, &first, &first
		lead.do("PUT", "/api/settings", map[string]any{"version": view.Version, "settings": view.Settings}).is(200)
	}
	require.NotEmpty(t, waiting())
	// A complaint of long ago is no reason any more.
	_, err := s.store.Pool.Exec(ctx, "UPDATE visit_moves SET at = at - interval '1 year' WHERE move = 'come back'")
	require.NoError(t, err)
	set(0, 0)
	for _, l := range waiting() {
		require.NotNil(t, l.Asked)
		assert.False(t, l.Asked.Asked, l.Asked.Why)
	}
	set(0, 100)
	always := 0
	for _, l := range waiting() {
		if l.Asked.Asked {
			always++
			assert.Contains(t, l.Asked.Why, "of the first 100")
		}
	}
	assert.Positive(t, always)
	set(100, 0)
	for _, l := range waiting() {
		assert.Equal(t, audit.Asked{Asked: true, Why: "every wash is audited"}, *l.Asked)
	}
	set(30, 0)
	p := into[api.AuditProof](lead.get("/api/audit-proof").is(200))
	assert.Contains(t, []int{15, 30, 60}, p.Plan.Share)
	assert.Positive(t, p.Plan.Finds)
}

// What is new of a wash is found in the records: a trainee's last sign-off and what was washed since, and a product that came into
// use of late; of what has been in use for long nothing is said.
func TestWhatIsNewOfAWash(t *testing.T) {
	s := open(t)
	lead := s.as("maren")
	var last, earlier struct {
		ID  string
		At  time.Time
		Own string
	}
	row := s.store.Pool.QueryRow(ctx, `SELECT w.id::text, w.finished_at, (SELECT min(k) FROM jsonb_object_keys(w.uses -> 'products') k)
		FROM washes w WHERE w.washer_id = $1 AND w.finished_at IS NOT NULL ORDER BY w.finished_at DESC LIMIT 1`, lead.id("pia"))
	require.NoError(t, row.Scan(&last.ID, &last.At, &last.Own))
	row = s.store.Pool.QueryRow(ctx, `SELECT w.id::text, w.finished_at FROM washes w WHERE w.washer_id = $1 AND w.finished_at < $2
		ORDER BY w.finished_at DESC LIMIT 1`, lead.id("pia"), last.At)
	require.NoError(t, row.Scan(&earlier.ID, &earlier.At))
	candidate := func() audit.Candidate {
		got, err := s.store.Candidates(ctx, []string{last.ID}, 10)
		require.NoError(t, err)
		require.Len(t, got, 1)
		return got[0]
	}
	c := candidate()
	assert.True(t, c.Trainee)
	assert.Positive(t, c.SinceSkill)

	require.NoError(t, s.store.AddSignOff(ctx, store.SignOff{ID: store.NewID(), PersonID: lead.id("pia"), Skill: procedure.SkillDry,
		TrainerID: lead.id("maren"), Criteria: map[string]bool{}, Passed: true, At: earlier.At.Add(-time.Minute)}))
	c = candidate()
	assert.Equal(t, procedure.SkillDry, c.Skill)
	assert.Equal(t, 1, c.SinceSkill, "one wash lies between")
	require.NoError(t, s.store.AddSignOff(ctx, store.SignOff{ID: store.NewID(), PersonID: lead.id("pia"), Skill: procedure.SkillMitt,
		TrainerID: lead.id("maren"), Criteria: map[string]bool{}, Passed: false, At: earlier.At.Add(time.Minute)}))
	assert.Equal(t, procedure.SkillDry, candidate().Skill, "what was not passed is no sign-off")

	exec := func(sql string, args ...any) {
		_, err := s.store.Pool.Exec(ctx, sql, args...)
		require.NoError(t, err)
	}
	why := func() string {
		c := candidate()
		c.Trainee, c.OfVersion, c.CameBack = false, 99, time.Time{}
		return audit.Sampling{Version: 11}.Asks(c, audit.Normal).Why
	}
	exec("UPDATE use_days SET day = day - 300")
	assert.NotContains(t, why(), "new product", "all has been in use for long")
	exec("INSERT INTO use_days (thing, day, amount) VALUES ('product ' || $1, ($2::timestamptz AT TIME ZONE 'UTC')::date, 1)",
		last.Own, last.At)
	assert.NotContains(t, why(), "new product", "it was used before")
	exec("DELETE FROM use_days WHERE thing = 'product ' || $1 AND day < ($2::timestamptz AT TIME ZONE 'UTC')::date", last.Own, last.At)
	c = candidate()
	assert.NotEmpty(t, c.Product)
	assert.LessOrEqual(t, c.OfProduct, 10)
	assert.Contains(t, why(), "with a new product, "+c.Product)
}

// The 90 and the 30 days were in the statement once; core decides now, and says of every wash of the demo what the statement
// said, and of some whose complaint or first use is moved to either side of the bound.
func TestWhatIsNewIsAsTheStatementSaid(t *testing.T) {
	s := open(t)
	_, err := s.store.Pool.Exec(ctx, `UPDATE visit_moves SET at = at - make_interval(days => 80 + (abs(hashtext(id::text)) % 20))
		WHERE move = 'come back'`)
	require.NoError(t, err)
	_, err = s.store.Pool.Exec(ctx, "UPDATE use_days SET day = day - 25")
	require.NoError(t, err)
	rows, err := s.store.Pool.Query(ctx, `SELECT w.id::text,
		EXISTS (SELECT 1 FROM visit_moves m JOIN bookings before ON before.id = m.booking_id WHERE before.vehicle_id = b.vehicle_id
			AND m.move = 'come back' AND m.at < w.finished_at AND m.at > w.finished_at - interval '90 days'),
		EXISTS (SELECT 1 FROM jsonb_object_keys(w.uses -> 'products') k (id) CROSS JOIN LATERAL
			(SELECT min(d.day)::timestamp AT TIME ZONE 'UTC' AS first FROM use_days d WHERE d.thing = 'product ' || k.id) u
			WHERE u.first > w.finished_at - interval '30 days')
		FROM washes w JOIN bookings b ON b.id = w.booking_id WHERE w.finished_at IS NOT NULL`)
	require.NoError(t, err)
	said, ids := map[string][2]bool{}, []string{}
	for rows.Next() {
		var id string
		var was [2]bool
		require.NoError(t, rows.Scan(&id, &was[0], &was[1]))
		said[id], ids = was, append(ids, id)
	}
	require.NoError(t, rows.Err())
	got, err := s.store.Candidates(ctx, ids, 50)
	require.NoError(t, err)
	require.Len(t, got, len(ids))
	back, fresh := 0, 0
	for _, c := range got {
		c.Trainee, c.OfVersion = false, 99
		asks := func(c audit.Candidate) string { return audit.Sampling{Version: 60}.Asks(c, audit.Normal).Why }
		assert.Equal(t, said[c.ID][0], strings.Contains(asks(c), "came back"), c.ID)
		c.CameBack, c.OfVersion = time.Time{}, 99
		assert.Equal(t, said[c.ID][1], strings.Contains(asks(c), "new product"), c.ID)
		if said[c.ID][0] {
			back++
		}
		if said[c.ID][1] {
			fresh++
		}
	}
	for _, n := range []int{back, fresh} {
		assert.True(t, n > 0 && n < len(ids), "%d of %d: some are and some are not", n, len(ids))
	}
}

// All signed audits are listed a page at a time, each once, the newest first, also where many were signed at one moment.
func TestAllSignedAuditsAreListed(t *testing.T) {
	s := open(t)
	c := s.as("osk")
	_, err := s.store.Pool.Exec(ctx, `UPDATE audits SET closed_at = date_trunc('day', closed_at) WHERE closed_at IS NOT NULL`)
	require.NoError(t, err)
	var all int
	require.NoError(t, s.store.Pool.QueryRow(ctx, "SELECT count(*) FROM audits WHERE closed_at IS NOT NULL").Scan(&all))
	seen, address := map[string]bool{}, "/api/signed-audits"
	last := time.Now().AddDate(100, 0, 0)
	for page := range 20 {
		got := into[api.SignedAudits](c.get(address).is(200))
		for _, a := range got.Audits {
			assert.False(t, seen[a.ID], "page %d", page)
			seen[a.ID] = true
			assert.False(t, a.At.After(last))
			last = a.At
			address = "/api/signed-audits?before=" + url.QueryEscape(a.At.Format(time.RFC3339Nano)) + "&id=" + a.ID
		}
		if !got.More {
			break
		}
	}
	assert.Len(t, seen, all)
	assert.Greater(t, all, 50, "there is more than a page")
}
