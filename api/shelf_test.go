package api_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/api"
	"uskel/core/climate"
	"uskel/core/measure"
)

func amount(n float64, unit string) map[string]any { return map[string]any{"amount": n, "unit": unit} }

// The bench's answers over HTTP; the arithmetic has its tests in core/measure.
func TestMixingBench(t *testing.T) {
	c := open(t).as("pia")
	made := into[measure.Readings](
		c.do("POST", "/api/mix-made", map[string]any{"product": amount(2, "US fl oz"), "water": amount(18, "US fl oz")}).
			is(200),
	)
	assert.Equal(t, "1 + 9", made.PartsPlusParts)

	panel := into[struct{ Bottle, OnPanel measure.Readings }](
		c.do("POST", "/api/mix-on-panel", map[string]any{"product": amount(100, "ml"), "water": amount(900, "ml"), "flow": 4.5, "emptying": 120}).
			is(200),
	)
	assert.Equal(t, "1 in 10", panel.Bottle.OnePartIn)
	assert.Equal(t, "1 in 100", panel.OnPanel.OnePartIn)
	assert.Contains(
		t,
		c.do("POST", "/api/mix-on-panel", map[string]any{"product": amount(100, "ml"), "water": amount(900, "ml"), "flow": 0, "emptying": 120}).
			problem(422).
			says(),
		"flow 0 l/min",
	)

	printed := func(first, second int) map[string]any {
		return map[string]any{"first": first, "second": second, "reading": "one part in"}
	}
	stronger := into[measure.Restrength](
		c.do("POST", "/api/mix-restrength", map[string]any{"have": printed(1, 10), "want": printed(1, 5), "amount": amount(1, "l")}).
			is(200),
	)
	assert.Equal(t, measure.Ml(125), stronger.Product)
	assert.Contains(
		t,
		c.do("POST", "/api/mix-restrength", map[string]any{"have": printed(1, 0), "want": printed(1, 5), "amount": amount(1, "l")}).
			problem(422).
			says(),
		"have",
	)

	water := into[api.WaterAnswer](
		c.do("POST", "/api/mix-water", map[string]any{"unit": "German degrees", "hardness": 10, "solids": 300,
			"capacity": 1000, "used": 500, "aWash": 20}).
			is(200),
	)
	assert.Equal(t, "hard", water.Class)
	assert.InDelta(t, 178.48, water.Units["mg/l CaCO3"], 0.01)
	assert.Equal(t, 141, *water.Washes)
	assert.InDelta(t, 18, water.Panel, 0.01, "300 mg/l in 60 g/m2")
	meter := into[api.WaterAnswer](c.do("POST", "/api/mix-water", map[string]any{"unit": "mg/l CaCO3"}).is(200))
	assert.Equal(t, "very hard", meter.Class, "what the meter reads")
	assert.Nil(t, meter.Washes)
}

func TestStockIsCountedDownByWashes(t *testing.T) {
	s := open(t)
	lead := s.as("maren")
	find := func(sh api.Shelf, id string) api.ShelfItem {
		for _, p := range sh.Products {
			if p.ID == id {
				return p
			}
		}
		require.FailNow(t, "no "+id)
		return api.ShelfItem{}
	}
	foam := find(into[api.Shelf](lead.get("/api/shelf").is(200)), "spume")
	require.NotNil(t, foam.Forecast)
	assert.Positive(t, foam.Stock.Used.Ml(), "washes since the count have used some")
	assert.InDelta(t, foam.Stock.Counted.Ml()-foam.Stock.Used.Ml(), foam.Forecast.Left.Ml(), 0.01)
	assert.Positive(t, foam.Forecast.PerDay)

	counted := find(
		into[api.Shelf](
			lead.do("PUT", "/api/shelf/spume/count", map[string]any{"version": foam.Version, "left": amount(2, "US gal"), "leadDays": 5}).
				is(200),
		),
		"spume",
	)
	assert.InDelta(t, 2*3785.411784, counted.Forecast.Left.Ml(), 0.01)
	assert.Zero(t, counted.Stock.Used.Ml())
	lead.do("PUT", "/api/shelf/spume/count", map[string]any{"version": foam.Version, "left": amount(1, "l"), "leadDays": 5}).
		problem(409)
	lead.do("PUT", "/api/shelf/nectar/count", map[string]any{"version": 0, "left": amount(1, "l"), "leadDays": 5}).
		problem(404)
}

func TestClothsCountUpAndRetire(t *testing.T) {
	s := open(t)
	lead := s.as("maren")
	sh := into[api.Shelf](lead.get("/api/shelf").is(200))
	worn := 0
	for _, c := range sh.Cloths {
		if c.Wear.Each > 0 {
			worn++
		}
	}
	assert.Positive(t, worn, "finished washes have used cloths")
	sh = into[api.Shelf](
		lead.do("POST", "/api/cloths", map[string]any{"kind": "drying towel", "colour": "white: drying", "count": 12, "limit": 200}).
			is(200),
	)
	before := len(sh.Cloths)
	for _, c := range sh.Cloths {
		if c.Count == 12 {
			assert.Zero(t, c.Wear.Each, "a new set")
			sh = into[api.Shelf](lead.do("POST", "/api/cloths/"+c.ID+"/retire", nil).is(200))
			lead.do("POST", "/api/cloths/"+c.ID+"/retire", nil).problem(409)
		}
	}
	assert.Len(t, sh.Cloths, before-1)
	lead.do("POST", "/api/cloths", map[string]any{"kind": "", "colour": "x", "count": 0, "limit": 1}).problem(422)
}

func TestHoursOfTheDay(t *testing.T) {
	hours := into[[]climate.Hour](open(t).as("osk").get("/api/weather").is(200))
	assert.Len(t, hours, 16)
	assert.Equal(t, 6, hours[0].At.Hour())
	for _, h := range hours {
		assert.Len(t, h.Sides, 4)
		assert.NotEmpty(t, h.Verdict)
	}
}

func TestLabelsAreWritten(t *testing.T) {
	s := open(t)
	lead := s.as("maren")
	find := func(sh api.Shelf, id string) *api.ShelfItem {
		for i := range sh.Products {
			if sh.Products[i].ID == id {
				return &sh.Products[i]
			}
		}
		return nil
	}
	product := map[string]any{
		"id":           "",
		"name":         "Tidewrack foam",
		"class":        "foam",
		"ratio":        map[string]int{"product": 1, "water": 19},
		"reading":      "one part in",
		"dwellMax":     300,
		"costPerLitre": 900,
		"ph":           7,
		"cautions":     "eye protection",
		"coldWater":    false,
		"forbidsHot":   true,
		"forbids":      []string{"fabric"},
	}
	body := map[string]any{"label": 0, "product": product}
	added := find(into[api.Shelf](lead.do("PUT", "/api/shelf/tidewrack", body).is(200)), "tidewrack")
	require.NotNil(t, added)
	assert.Equal(t, "1 in 20", added.Readings.OnePartIn)
	assert.Contains(t, added.Shop, "parts plus parts", "the shop's procedures read foam otherwise than this label")
	lead.do("PUT", "/api/shelf/tidewrack", body).problem(409)

	product["dwellMin"] = 900
	assert.Contains(
		t,
		lead.do("PUT", "/api/shelf/tidewrack", map[string]any{"label": added.Label, "product": product}).
			problem(422).
			says(),
		"dwellMin",
	)
	product["dwellMin"], product["costPerLitre"] = 60, 950
	lead.do("PUT", "/api/shelf/tidewrack", map[string]any{"label": added.Label, "product": product}).is(200)
	product["costPerLitre"] = 990
	assert.Contains(
		t,
		lead.do("PUT", "/api/shelf/tidewrack", map[string]any{"label": added.Label, "product": product}).
			problem(409).
			says(),
		"costPerLitre: theirs is 950, yours is 990",
	)
}
