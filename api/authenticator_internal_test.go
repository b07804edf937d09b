package api

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
)

// The codes are those of RFC 6238, appendix B (SHA-1; its last six of eight digits), for the secret that it uses; from memory.
func TestCodesAreThoseOfTheStandard(t *testing.T) {
	const secret = "GEZDGNBVGY3TQOJQGEZDGNBVGY3TQOJQ" // 12345678901234567890 in base 32
	for at, code := range map[int64]string{59: "287082", 1111111109: "081804", 1111111111: "050471", 1234567890: "005924",
		2000000000: "279037", 20000000000: "353130"} {
		now := time.Unix(at, 0)
		step, ok := stepOf(secret, code[:3]+" "+code[3:], now)
		assert.True(t, ok, at)
		assert.Equal(t, at/30, step)
		for _, off := range []time.Duration{30 * time.Second, -30 * time.Second} {
			_, ok = stepOf(secret, code, now.Add(off))
			assert.True(t, ok, "a clock that is half a minute off")
		}
		for _, off := range []time.Duration{61 * time.Second, 24 * time.Hour} {
			_, ok = stepOf(secret, code, now.Add(off))
			assert.False(t, ok, "a code of before")
		}
	}
	_, ok := stepOf("", "287082", time.Unix(59, 0))
	assert.False(t, ok, "whoever has no secret has no code")
}
