package shop

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/condition"
	"uskel/core/measure"
	"uskel/core/procedure"
	"uskel/core/schedule"
)

// A shift is what the clock on the wall says, also on the two days on which clocks are changed: in Paris on 29 March
// 2026 the night has an hour less, on 25 October an hour more (IANA time zone database).
func TestShiftsWhenClocksAreChanged(t *testing.T) {
	zone, err := time.LoadLocation("Europe/Paris")
	require.NoError(t, err)
	shift := Shift{PersonID: "p", From: 8 * 60, To: 17 * 60, BreakFrom: 12 * 60, BreakTo: 12*60 + 30}
	const hour = measure.Seconds(3600)
	for _, c := range []struct {
		month    time.Month
		day      int
		less     measure.Seconds
		dayHours measure.Seconds
	}{{3, 28, 0, 24}, {3, 29, hour, 23}, {10, 25, -hour, 25}} {
		midnight := time.Date(2026, c.month, c.day, 0, 0, 0, 0, zone)
		assert.Equal(
			t,
			[]schedule.Span{{Start: 0, End: 8*hour - c.less}, {Start: 12*hour - c.less, End: 12*hour + 1800 - c.less},
				{Start: 17*hour - c.less, End: c.dayHours * hour}},
			shift.Off(midnight),
			"%s %d",
			c.month,
			c.day,
		)
	}
}

func ids() func() string {
	n := 0
	return func() string { n++; return fmt.Sprint("id", n) }
}

// The shortest answers make a shop that can begin.
func TestTheShortestSetUp(t *testing.T) {
	a := Answers{ShopName: " Quay Wash ", Units: measure.Metric, Currency: "€", TimeZone: "Europe/Lisbon"}
	s, err := a.Settings(ids())
	require.NoError(t, err)
	assert.Equal(t, "Quay Wash", s.ShopName)
	require.Len(t, s.Places, 1)
	assert.Equal(t, "Covered bay", s.Places[0].Name)
	assert.False(t, s.Places[0].Runoff, "nobody has asked whether water may run off")
	assert.Len(t, s.Machines, 3)
	assert.Empty(t, a.Products())
	assert.NoError(t, s.Check(nil))
}

func TestSetUpWithAllAnswers(t *testing.T) {
	a := Answers{
		ShopName: "Quay Wash",
		Units:    measure.US,
		Currency: "$",
		TimeZone: "America/New_York",
		Places: []PlaceAnswer{
			{Kind: Garage},
			{Kind: Mobile, Name: "On the road"},
			{Kind: OpenYard, Runoff: true, Heading: 90},
		},
		Water:  &WaterAnswer{Hardness: 12, Unit: measure.GrainsUSGal},
		Pins:   map[condition.Fact]string{condition.OverFoam: condition.RinseItOff},
		Shelf:  []procedure.ProductClass{procedure.Shampoo, procedure.FoamProduct, procedure.Shampoo},
		Prices: []Price{{"signature", 4500}},
	}
	s, err := a.Settings(ids())
	require.NoError(t, err)
	assert.Equal(t, "On the road", s.Places[1].Name)
	assert.True(t, s.Places[2].Runoff)
	require.Len(t, s.Services, 1, "what has a price is sold")
	assert.Equal(t, "signature", s.Services[0].ID)
	assert.EqualValues(t, 4500, s.Services[0].Price)
	a.Prices = nil
	plain, err := a.Settings(ids())
	require.NoError(t, err)
	assert.Len(t, plain.Services, 2, "the two maintenance washes")
	assert.Equal(
		t,
		[]string{"hose", "blower", "pressure washer"},
		[]string{s.Machines[0].ID, s.Machines[1].ID, s.Machines[2].ID},
		"each machine once",
	)
	products := a.Products()
	require.Len(t, products, 2)
	assert.Equal(t, "Shampoo", products[0].Name)
	for _, p := range products {
		assert.NoError(t, p.Check())
	}
}

func TestSetUpNamesWhatCannotBe(t *testing.T) {
	good := Answers{ShopName: "Quay Wash", Units: measure.Metric, Currency: "€", TimeZone: "UTC"}
	for says, change := range map[string]func(*Answers){
		"timeZone":            func(a *Answers) { a.TimeZone = "Sea/Bottom" },
		"places[1].name":      func(a *Answers) { a.Places = []PlaceAnswer{{Kind: Garage}, {Kind: Garage}} },
		"places[0].kind":      func(a *Answers) { a.Places = []PlaceAnswer{{Kind: "pond"}} },
		"water":               func(a *Answers) { a.Water = &WaterAnswer{Hardness: 9000, Unit: measure.MgPerLitre} },
		"pins.foam body":      func(a *Answers) { a.Pins = map[condition.Fact]string{condition.FoamBody: "purple"} },
		"machines[1].name":    func(a *Answers) { a.Machines = []Equipment{{Name: "Hose", Count: 1}, {Name: "Hose", Count: 2}} },
		"shifts[0].personId":  nil,
		"shifts[0].to":        nil,
		"shifts[0].breakFrom": nil,
	} {
		if change == nil {
			s, err := good.Settings(ids())
			require.NoError(t, err)
			s.Shifts = []Shift{{PersonID: "nobody", From: 600, To: 500, BreakFrom: 100, BreakTo: 90}}
			assert.ErrorContains(t, s.Check([]string{"somebody"}), says)
			continue
		}
		a := good
		change(&a)
		_, err := a.Settings(ids())
		assert.ErrorContains(t, err, says)
	}
}

// Every template makes a place at which something can be washed, and every choice that is offered can be taken.
func TestEverythingOfferedCanBeTaken(t *testing.T) {
	c := Offered()
	for _, p := range c.Places {
		a := Answers{
			ShopName: "x",
			Units:    measure.Metric,
			Currency: "€",
			TimeZone: "UTC",
			Places:   []PlaceAnswer{{Kind: p.Kind}},
			Shelf:    c.Classes,
			Prices:   []Price{{c.Services[0].ID, 1}},
		}
		s, err := a.Settings(ids())
		require.NoError(t, err, p.Kind)
		assert.Equal(t, p.Cover, s.Places[0].Cover)
		assert.Len(t, a.Products(), len(c.Classes))
	}
	assert.Subset(t, c.Classes, c.Usual)
}
