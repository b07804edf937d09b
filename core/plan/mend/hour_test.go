package mend_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/day"
	"uskel/core/plan"
	"uskel/core/plan/mend"
	"uskel/core/plan/plantest"
	"uskel/core/procedure/starters"
)

func TestAWashBeginsInItsSlot(t *testing.T) {
	now := time.Date(2026, 7, 1, 10, 0, 0, 0, time.UTC)
	slot := now.Add(2 * time.Hour)
	assert.Equal(t, slot, day.Begins(now, now.Add(time.Hour), &slot))
	assert.Equal(t, now.Add(time.Hour), day.Begins(now, now.Add(time.Hour), nil), "without a slot, when it comes")
	early := now.Add(-time.Hour)
	assert.Equal(t, now, day.Begins(now, early, &early), "never in the past")
}

// Side by side in the sun at noon, the whole car at once in the evening: the later hour is told, if it is before the
// promise.
func TestABetterHourIsTold(t *testing.T) {
	noon := time.Date(2026, 7, 1, 12, 0, 0, 0, time.UTC)
	at := func(hour int, j plan.Job) mend.Hour {
		return mend.Hour{At: noon.Add(time.Duration(hour) * time.Hour), Plan: plantest.Resolve(t, starters.HoseTwoBucket(), j)}
	}
	shade := plantest.Typical("F1")
	sun := at(0, plantest.InSun(180))
	later := []mend.Hour{at(1, plantest.InSun(200)), at(5, shade), at(6, shade)}
	better := mend.Better(sun, later, noon.Add(9*time.Hour))
	require.NotNil(t, better)
	assert.Equal(t, noon.Add(5*time.Hour), better.At, "the first of those as good")
	assert.Contains(t, better.Says, "the whole car at once")
	assert.Contains(t, better.Says, "suds last")
	assert.Nil(t, mend.Better(sun, later, noon.Add(5*time.Hour+30*time.Minute)), "not ready by the promise")
	assert.Nil(t, mend.Better(at(0, shade), later, noon.Add(9*time.Hour)), "nothing to gain")
}
