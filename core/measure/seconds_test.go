package measure

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
)

// Spans as people say them: under a quarter of an hour the seconds count, above it they do not.
func TestSecondsAsPeopleSayThem(t *testing.T) {
	for span, said := range map[Seconds]string{0: "0 s", 40: "40 s", 60: "1 min", 330: "5 min 30 s",
		899: "14 min 59 s", 900: "15 min", 930: "16 min", 5400: "90 min",
		7140: "119 min", 7200: "2 h", 7530: "2 h 6 min", 46800: "13 h"} {
		assert.Equal(t, said, span.String())
	}
	assert.Equal(t, Seconds(2), SecondsOf(1500*time.Millisecond), "rounded to the nearest second")
	assert.Equal(t, 90*time.Second, Seconds(90).Duration())
	assert.InDelta(t, 1.5, Seconds(90).Minutes(), 1e-12)
}
