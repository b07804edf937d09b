package plan

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/procedure"
)

func TestAWashBeginsInItsSlot(t *testing.T) {
	now := time.Date(2026, 7, 1, 10, 0, 0, 0, time.UTC)
	slot := now.Add(2 * time.Hour)
	assert.Equal(t, slot, Begins(now, now.Add(time.Hour), &slot))
	assert.Equal(t, now.Add(time.Hour), Begins(now, now.Add(time.Hour), nil), "without a slot, when it comes")
	early := now.Add(-time.Hour)
	assert.Equal(t, now, Begins(now, early, &early), "never in the past")
}

// Side by side in the sun at noon, the whole car at once in the evening: the later hour is told, if it is before the
// promise.
func TestABetterHourIsTold(t *testing.T) {
	noon := time.Date(2026, 7, 1, 12, 0, 0, 0, time.UTC)
	at := func(hour int, j Job) Hour {
		return Hour{noon.Add(time.Duration(hour) * time.Hour), resolve(t, procedure.HoseTwoBucket(), j)}
	}
	shade := typical("F1")
	sun := at(0, inSun(180))
	later := []Hour{at(1, inSun(200)), at(5, shade), at(6, shade)}
	better := Better(sun, later, noon.Add(9*time.Hour))
	require.NotNil(t, better)
	assert.Equal(t, noon.Add(5*time.Hour), better.At, "the first of those as good")
	assert.Contains(t, better.Says, "the whole car at once")
	assert.Contains(t, better.Says, "suds last")
	assert.Nil(t, Better(sun, later, noon.Add(5*time.Hour+30*time.Minute)), "not ready by the promise")
	assert.Nil(t, Better(at(0, shade), later, noon.Add(9*time.Hour)), "nothing to gain")
}
