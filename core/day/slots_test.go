package day_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"uskel/core/day"
)

func TestTheBestSlotsAreUnlike(t *testing.T) {
	type slot struct {
		who   string
		pain  int
		ready int
	}
	worth := func(s slot) day.SlotWorth {
		return day.SlotWorth{Who: s.who, Pain: s.pain, Ready: time.Date(2026, 4, 14, s.ready, 0, 0, 0, time.UTC)}
	}
	osk9, osk10, pia11, jory, late := slot{"osk", 0, 9}, slot{"osk", 0, 10}, slot{"pia", 0, 11}, slot{"jory", 5, 9}, slot{"cal", 90, 8}
	assert.Equal(t, []slot{osk9, pia11, jory}, day.BestSlots([]slot{late, jory, pia11, osk10, osk9}, worth), "three people")
	assert.Equal(t, []slot{osk9, pia11, osk10}, day.BestSlots([]slot{osk10, pia11, osk9}, worth), "then a second of one")
	assert.Empty(t, day.BestSlots(nil, worth))
}
