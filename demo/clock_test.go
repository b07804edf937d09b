package demo_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"uskel/demo"
)

// Whenever the demo is started, its shop is at work, and its clock never goes back.
func TestTheDemoOpensInWorkingHours(t *testing.T) {
	start := time.Date(2026, 4, 14, 0, 0, 0, 0, time.UTC)
	ahead := time.Duration(0)
	for minutes := 0; minutes < 10*24*60; minutes += 37 {
		real := start.Add(time.Duration(minutes) * time.Minute)
		next := demo.Ahead(real, ahead)
		assert.GreaterOrEqual(t, next, ahead)
		hour := real.Add(next).Hour()
		assert.True(t, hour >= 8 && hour < 15, "%s there, at %s", real.Add(next), real)
		ahead = next
	}
	noon := start.Add(12 * time.Hour)
	assert.Zero(t, demo.Ahead(noon, 0), "at noon its clock is the machine's")
	assert.Equal(t, 10*time.Hour+20*time.Minute, demo.Ahead(start, 0), "at midnight it is twenty past ten there")
}
