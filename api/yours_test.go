package api_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/api"
	"uskel/core/visit"
)

// Everybody is told what is in their hands, their next car with what to fetch, and a trainee the next skill.
func TestYours(t *testing.T) {
	s := open(t)
	osk := into[api.Yours](s.as("osk").get("/api/yours").is(200))
	require.NotNil(t, osk.Hand)
	assert.Equal(t, "VLT 30", osk.Hand.Plate)
	assert.NotEmpty(t, osk.Hand.Step)
	require.NotNil(t, osk.Next, "booked for him later in the day")
	assert.Equal(t, "VOW 1", osk.Next.Plate)
	assert.Equal(t, visit.Booked, osk.Next.Stage)
	assert.Empty(t, osk.Next.Fetch, "nobody has looked it over")
	assert.Empty(t, osk.Skill)

	ines := into[api.Yours](s.as("ines").get("/api/yours").is(200))
	assert.Nil(t, ines.Hand)
	require.NotNil(t, ines.Next)
	assert.Equal(t, "CAB 14", ines.Next.Plate)
	require.NotEmpty(t, ines.Next.Fetch)
	assert.Positive(t, ines.Next.Minutes)
	seen := map[string]bool{}
	for _, f := range ines.Next.Fetch {
		assert.False(t, seen[f.What+f.Vessel], "once: %s", f.What)
		seen[f.What+f.Vessel] = true
		assert.NotEmpty(t, f.For)
	}

	pia := into[api.Yours](s.as("pia").get("/api/yours").is(200))
	assert.NotEmpty(t, pia.Skill)
	hesper := into[api.Yours](s.as("hesper").get("/api/yours").is(200))
	assert.Equal(t, api.Yours{}, hesper, "an auditor washes nothing")
}

// A vehicle's page tells its visits, the newest first, a page at a time.
func TestAVehicleAndItsVisits(t *testing.T) {
	s := open(t)
	c := s.as("pia")
	card := c.booking("TID 101")
	v := into[api.VehicleView](c.get("/api/vehicles/" + card.VehicleID).is(200))
	assert.Equal(t, "TID 101", v.Plate)
	require.NotEmpty(t, v.Visits)
	first := v.Visits[0]
	assert.Equal(t, card.ID, first.BookingID)
	require.NotNil(t, first.Score)
	assert.Equal(t, *first.Score < 100, len(first.Findings) > 0, "findings are what costs points")
	require.NotNil(t, first.Overall)
	for i := 1; i < len(v.Visits); i++ {
		assert.False(t, v.Visits[i].At.After(v.Visits[i-1].At))
	}
	older := into[api.VehicleView](c.get("/api/vehicles/" + card.VehicleID + "?before=" +
		first.At.Format("2006-01-02T15:04:05Z")).is(200))
	assert.Len(t, older.Visits, len(v.Visits)-1)
	c.get("/api/vehicles/6f1f9e3c-0000-4000-8000-000000000000").is(404)
}
