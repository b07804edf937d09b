package audit

import (
	"encoding/csv"
	"math/rand"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/prove"
)

// The limits for 25 audits around 20 %, by R: qbinom(0.00135, 25, 0.2) is 0 and qbinom(1 - 0.00135, 25, 0.2) is 12; for 40
// audits around 30 % they are 4 and 21.
func TestTheLimitsOfAWeek(t *testing.T) {
	for _, c := range []struct {
		n, bottom, top int
		middle         float64
	}{{25, 0, 12, 0.2}, {40, 4, 21, 0.3}} {
		k := Week{Audits: c.n}
		k.limit(c.middle)
		assert.InDelta(t, float64(c.bottom)/float64(c.n), k.Bottom, 1e-9)
		assert.InDelta(t, float64(c.top)/float64(c.n), k.Top, 1e-9)
	}
}

// Weeks begin on Monday where the shop stands, also over the day on which clocks are set.
func TestWeeksAreTheShopsOwn(t *testing.T) {
	zone, err := time.LoadLocation("Europe/Lisbon")
	require.NoError(t, err)
	now := time.Date(2026, 4, 1, 12, 0, 0, 0, zone) // a Wednesday; clocks were set on 29 March
	sunday := auditOf("ann", 0, sill)
	sunday.At = time.Date(2026, 3, 29, 23, 30, 0, 0, zone)
	monday := auditOf("ann", 0)
	monday.At = time.Date(2026, 3, 30, 0, 10, 0, 0, zone)
	monday.Version = 2
	old := auditOf("ann", 0, sill)
	old.At = time.Date(2026, 3, 1, 0, 0, 0, 0, zone)
	w := ByWeek([]Audited{monday, sunday, old}, Which{}, 2, now)
	require.Len(t, w.Weeks, 2)
	assert.Equal(t, [4]int{1, 1, 1, 0}, [4]int{w.Weeks[0].Audits, w.Weeks[0].With, w.Weeks[1].Audits, w.Weeks[1].With})
	require.Len(t, w.Marks, 1)
	assert.Equal(t, "Maintenance, version 2", w.Marks[0].Label)
	rows, err := csv.NewReader(strings.NewReader(w.CSV())).ReadAll()
	require.NoError(t, err)
	assert.Equal(t, []string{"2026-03-23", "1", "1", "1", "100.0"}, rows[1][:5])
}

// Of 2,000 runs of 12 weeks on which nothing changes hardly any is told to hold something; a week that goes from 20 % to 70 % is.
func TestWeeksTellWhatIsMoreThanChance(t *testing.T) {
	now := monday.AddDate(0, 0, 7*11+6)
	run := func(seed int64, last float64) bool {
		dice := rand.New(rand.NewSource(seed))
		var all []Audited
		for i := range 12 * 25 {
			share := 0.2
			if i >= 11*25 {
				share = last
			}
			var found []Finding
			if dice.Float64() < share {
				found = []Finding{sill}
			}
			all = append(all, auditOf("ann", i/25*7, found...))
		}
		return len(ByWeek(all, Which{}, 12, now).Says) > 0
	}
	still, told, pages := 0, 0, prove.Seeds(t, 2000)
	for seed := range int64(pages) {
		if run(seed, 0.2) {
			still++
		}
	}
	for seed := range int64(100) {
		if run(seed, 0.7) {
			told++
		}
	}
	assert.LessOrEqual(t, 20*still, pages, "one in twenty at the most")
	assert.Greater(t, told, 90)
}

// Findings come in bunches: some hasty washes leave many. Limits by chance alone would tell of weeks in which nothing changed; these hold,
// and a week with three times as many is told.
func TestFindingsPerAuditComeInBunches(t *testing.T) {
	now := monday.AddDate(0, 0, 7*11+6)
	run := func(seed int64, last float64) (beyond, spread float64) {
		dice := rand.New(rand.NewSource(seed))
		var all []Audited
		for i := range 12 * 30 {
			share := 0.15
			if i >= 11*30 {
				share = last
			}
			var found []Finding
			if dice.Float64() < share {
				for range 2 + dice.Intn(5) {
					found = append(found, sill)
				}
			}
			all = append(all, auditOf("ann", i/30*7, found...))
		}
		w := ByWeek(all, Which{}, 12, now)
		for _, k := range w.Weeks[:11] {
			if k.Beyond {
				beyond++
			}
		}
		if last > 0.15 && w.Weeks[11].Beyond {
			return 1, w.Spread
		}
		return beyond, w.Spread
	}
	still, told, spread, pages := 0.0, 0.0, 0.0, prove.Seeds(t, 400)
	for seed := range int64(pages) {
		b, s := run(seed, 0.15)
		still, spread = still+b, spread+s/float64(pages)
	}
	for seed := range int64(100) {
		b, _ := run(seed, 0.6)
		told += b
	}
	assert.Greater(t, spread, 2.0)
	assert.LessOrEqual(t, still, 0.11*float64(pages), "one in a hundred weeks at the most")
	assert.Greater(t, told, 90.0)
}
