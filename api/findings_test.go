package api_test

import (
	"bytes"
	"encoding/csv"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/api"
	"uskel/core/audit"
)

// The lead asks who has most on a sill; a washer sees what was found on their own washes, and nobody else's by name.
func TestWhoHasMostOnTheSills(t *testing.T) {
	s := open(t)
	lead, osk, hesper := s.as("maren"), s.as("osk"), s.as("hesper")
	all := into[api.FindingsView](lead.get("/api/findings?weeks=4").is(200))
	require.Positive(t, all.Findings)
	assert.False(t, all.Own)
	tally := func(v api.FindingsView, by audit.By) []audit.Row {
		for _, x := range v.Tallies {
			if x.By == by {
				return x.Rows
			}
		}
		return nil
	}
	zone := tally(all, audit.ByZone)[0]
	there := into[api.FindingsView](lead.get("/api/findings?weeks=4&zone=" + zone.Key).is(200))
	assert.Equal(t, zone.Findings, there.Findings)
	assert.Equal(t, zone.With, there.With)
	assert.Equal(t, all.Audits, there.Audits)
	sum := 0
	for _, r := range tally(there, audit.ByWasher) {
		sum += r.Findings
	}
	assert.Equal(t, zone.Findings, sum, "each by whoever washed")
	for _, f := range there.Newest {
		assert.Equal(t, zone.Key, string(f.Finding.Zone))
	}
	who := tally(there, audit.ByWasher)[0]
	one := into[api.FindingsView](lead.get("/api/findings?weeks=4&zone=" + zone.Key + "&washer=" + who.Key).is(200))
	assert.Equal(t, who.Findings, one.Findings)
	assert.Equal(t, who.Of, one.Audits)

	mine := into[api.FindingsView](osk.get("/api/findings?weeks=4&washer=" + who.Key).is(200))
	assert.True(t, mine.Own)
	assert.Less(t, mine.Audits, all.Audits)
	assert.Nil(t, tally(mine, audit.ByWasher))
	for _, f := range mine.Newest {
		assert.Equal(t, "Osk Pellow", f.Washer)
	}
	assert.Nil(t, tally(into[api.FindingsView](hesper.get("/api/findings").is(200)), audit.ByWasher), "a ranking is for the lead")

	rows, err := csv.NewReader(bytes.NewReader(lead.get("/api/findings/export?weeks=4&zone=" + zone.Key).is(200).body)).ReadAll()
	require.NoError(t, err)
	assert.Len(t, rows, zone.Findings+1)
	table := func(query string) string {
		return string(hesper.get("/api/findings/export?weeks=4" + query).is(200).body)
	}
	assert.Equal(t, table(""), table("&washer="+who.Key), "nor as a table")
	lead.get("/api/findings?zone=sunroof").is(422)
	lead.get("/api/findings?weeks=0").is(422)
}

// A week's audits are shared out for the lead: no more than there is time for, everybody's first two before the rest, where most is
// found.
func TestAWeeksAuditsAreSharedOut(t *testing.T) {
	s := open(t)
	lead := s.as("maren")
	split := into[audit.Split](lead.get("/api/audit-split?audits=14").is(200))
	given := 0
	each, washes := map[string]int{}, map[string]int{}
	for _, c := range split.Cells {
		given += c.Audits
		each[c.Name], washes[c.Name] = each[c.Name]+c.Audits, washes[c.Name]+c.Washes
	}
	for name, n := range each {
		assert.GreaterOrEqual(t, n, min(2, washes[name]), name)
	}
	assert.Equal(t, 14, given)
	assert.Greater(t, split.Finds, split.ByChance, "some find more than others in the demo")
	s.as("osk").get("/api/audit-split").problem(403)
	weeks := into[audit.Weeks](lead.get("/api/audit-weeks?weeks=4").is(200))
	assert.Len(t, weeks.Weeks, 4)
	assert.Contains(t, string(lead.get("/api/audit-weeks/export?weeks=4").is(200).body), "week of,audits")
}
