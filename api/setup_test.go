package api_test

import (
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/alexedwards/argon2id"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/api"
	"uskel/core/climate"
	"uskel/core/plan"
	"uskel/core/shop"
	"uskel/core/vehicle"
	"uskel/demo"
	"uskel/demo/demotest"
	"uskel/devices"
	"uskel/store/storetest"
)

// bare is a server on an empty database, as a shop's own is, and the code that it printed.
func bare(t *testing.T) (*place, string) {
	t.Helper()
	return bareAt(t, func() time.Time { return morning })
}

// bareAt is the same by another clock.
func bareAt(t *testing.T, now func() time.Time) (*place, string) {
	t.Helper()
	s := storetest.Open(t)
	code := api.NewCode()
	hash, err := argon2id.CreateHash(code, api.HashParams)
	require.NoError(t, err)
	require.NoError(t, s.SetSetupCode(ctx, hash))
	instruments := &devices.Recorded{Log: s, Where: s.Where, Now: now}
	return serve(t, s, func(c *api.Config) {
		c.Station, c.Meter, c.Outbox, c.Told = instruments.Station(), instruments.Meter(), devices.ByHand{}, instruments.Forget
		c.Refused, c.Now = []string{demo.Password}, now
	}), code
}

func answers(code string) map[string]any {
	return map[string]any{
		"code":     code,
		"shopName": "Quay Wash",
		"units":    "metric",
		"currency": "€",
		"timeZone": "Europe/Lisbon",
		"places":   []map[string]any{{"kind": "open yard", "runoff": true}, {"kind": "garage"}},
		"water":    map[string]any{"hardness": 9, "unit": "German degrees"},
		"shelf":    []string{"shampoo", "foam"},
		"prices":   []map[string]any{{"service": "basic", "amount": 4500}},
		"founder":  map[string]any{"name": "Una Wick", "signIn": "Una", "password": "gravel lantern quay"},
	}
}

// From an empty database: the set-up page opens with the printed code, once; then a car can be looked over and planned.
func TestAShopIsSetUpOnce(t *testing.T) {
	s, code := bare(t)
	una := s.nobody()
	view := told[api.SetupView](una, "GET", "/setup", nil)
	assert.True(t, view.Open)
	assert.Len(t, view.Choices.Places, 4)
	assert.Len(t, view.Questions, 21)

	una.do("POST", "/api/setup", answers("0000-0000")).problem(422)
	wrong := answers(code)
	wrong["timeZone"] = "Sea/Bottom"
	wrong["founder"].(map[string]any)["password"] = "saltwater"
	refused := una.do("POST", "/api/setup", wrong).problem(422)
	assert.Contains(t, refused.says(), "body.timeZone")
	assert.Contains(t, refused.says(), "body.founder.password")
	empty, err := s.store.Empty(ctx)
	require.NoError(t, err)
	assert.True(t, empty, "nothing was saved")

	me := told[api.Me](una, "POST", "/setup", answers(strings.ToLower(code)))
	assert.Equal(t, shop.Owner, me.Role)
	assert.Equal(t, "Quay Wash", me.ShopName)
	assert.False(t, told[api.SetupView](una, "GET", "/setup", nil).Open)
	s.nobody().do("POST", "/api/setup", answers(code)).problem(409)

	yard := told[api.Yard](una, "GET", "/yard", nil)
	assert.Equal(t, climate.Assumed, yard.WeatherFrom.Source)
	assert.Equal(t, climate.Told, yard.WaterFrom.Source)
	assert.InDelta(t, 9*17.848, float64(yard.Water.Hardness), 0.01)
	assert.Len(t, told[[]api.ProcedureCard](una, "GET", "/procedures", nil), 18)
	assert.Len(t, told[api.Shelf](una, "GET", "/shelf", nil).Products, 2)
	demoAgain, err := demo.Ours(ctx, s.store)
	require.NoError(t, err)
	assert.False(t, demoAgain)
}

// What setting up says of a place is what the shop then finds there: a car in an open yard from which nothing may run off is told to be
// impossible before, and is; the same in a garage is told to be possible, and is. The plan calls cloths as the shop marks them, and
// says which prices it lacks.
func TestAPlaceIsWhatSettingUpSaidOfIt(t *testing.T) {
	for kind, can := range map[shop.PlaceKind]bool{shop.OpenYard: false, shop.Garage: true} {
		s, code := bare(t)
		una := s.nobody()
		offers := told[api.SetupView](una, "GET", "/setup", nil).Choices.Offers
		at := slices.IndexFunc(offers, func(o shop.PlaceOffer) bool { return o.Kind == kind && !o.Runoff })
		assert.Equal(t, can, !strings.HasPrefix(offers[at].Says, "Nothing can be washed here"))
		said := answers(code)
		said["places"] = []map[string]any{{"kind": kind, "runoff": false}}
		said["shelf"] = []string{"rinseless concentrate", "shampoo"}
		said["costs"] = []map[string]any{{"class": "shampoo", "perLitre": 900}}
		said["launder"], said["labour"] = 25, 2400
		told[api.Me](una, "POST", "/setup", said)

		place := told[api.SettingsView](una, "GET", "/settings", nil).Settings.Places[0]
		car := told[api.VehicleCard](una, "POST", "/vehicles", map[string]any{"plate": "AA 11", "label": "Grey saloon",
			"spec": vehicle.Vehicle{Body: vehicle.Saloon, Shade: vehicle.Mid, Finish: vehicle.Ordinary,
				Wheels: vehicle.WheelSpec{Inches: 16, Spokes: vehicle.PlainSpokes}}})
		card := told[api.BookingCard](una, "POST", "/bookings", map[string]any{"vehicleId": car.ID, "arrivesAt": morning,
			"promisedAt": morning.Add(6 * time.Hour), "service": "basic", "place": place})
		look := told[api.LookOverView](una, "GET", "/bookings/"+card.ID+"/look-over", nil)
		for _, p := range vehicle.Saloon.Parts() {
			look.LookOver.Grades[p.Zone] = 1
		}
		look = told[api.LookOverView](una, "PUT", "/bookings/"+card.ID+"/look-over",
			map[string]any{"version": look.Version, "lookOver": look.LookOver})
		view := told[api.PlanView](una, "GET", "/bookings/"+card.ID+"/plan", nil)
		done := slices.IndexFunc(view.Choices, func(c plan.Choice) bool { return c.Verdict != plan.Refused && c.Delivers })
		assert.Equal(t, can, done >= 0, "%s: %s", kind, offers[at].Says)
		if !can {
			assert.NotEmpty(t, view.Undelivered)
			continue
		}
		assert.Subset(t, offers[at].Light, []string{view.Choices[done].Title}, "one that was named")
		made := view.Choices[done].Plan
		require.NotNil(t, made)
		own := map[string]bool{"": true}
		for _, c := range told[api.Shelf](una, "GET", "/shelf", nil).Cloths {
			own[c.Colour] = true
		}
		for _, step := range made.Steps {
			assert.True(t, own[step.Colour], "%s is marked %q, which the shop does not have", step.Cloth, step.Colour)
		}
		assert.Equal(t, []string{"Rinseless concentrate", "water"}, made.Costs.Without)
		assert.Positive(t, made.Costs.Cloths)

		now := told[api.Shelf](una, "GET", "/shelf", nil)
		assert.Empty(t, view.Short, "nobody has counted")
		for _, p := range now.Products {
			told[api.Shelf](una, "PUT", "/shelf/"+p.ID+"/count", map[string]any{"version": p.Version, "leadDays": 3,
				"left": map[string]any{"amount": 3, "unit": "ml"}})
		}
		view = told[api.PlanView](una, "GET", "/bookings/"+card.ID+"/plan", nil)
		require.NotEmpty(t, view.Short)
		assert.Contains(t, view.Short[0], "Rinseless concentrate: ")
		assert.Contains(t, view.Short[0], "and 3 are left: fetch")
	}
}

// Two who set up at once set one shop up.
func TestTwoWhoSetUpAtOnce(t *testing.T) {
	s, code := bare(t)
	statuses := make([]int, 4)
	var all sync.WaitGroup
	for i := range statuses {
		all.Go(func() { statuses[i] = s.nobody().do("POST", "/api/setup", answers(code)).status })
	}
	all.Wait()
	won := 0
	for _, status := range statuses {
		if status == 200 {
			won++
		} else {
			assert.Equal(t, 409, status)
		}
	}
	assert.Equal(t, 1, won, "%v", statuses)
	people, err := s.store.People(ctx)
	require.NoError(t, err)
	assert.Len(t, people, 1)
}

// The code is not guessed: ten tries at once, then one each ten seconds.
func TestTheSetUpCodeIsNotGuessed(t *testing.T) {
	s, code := bare(t)
	for range 10 {
		s.nobody().do("POST", "/api/setup", answers("0000-0000")).problem(422)
	}
	s.nobody().do("POST", "/api/setup", answers(code)).problem(429)
}

// Without a database's shop there is nothing to see, and nothing breaks.
func TestAnEmptyShopRefusesAllElse(t *testing.T) {
	s, _ := bare(t)
	s.nobody().do("GET", "/api/session", nil).problem(401)
	s.nobody().do("POST", "/api/session", map[string]string{"name": "una", "password": "x"}).problem(401)
	assert.False(t, told[api.TabletView](s.nobody(), "GET", "/tablet", nil).Shared)
}

func (c *caller) bearer(token string, body any) int {
	c.t.Helper()
	return c.sent("POST", "/api/sensor/readings", body, map[string]string{"Authorization": "Bearer " + token}).status
}

// Weather and water come from what people type in and sensors post; what was told is what plans are made for, and
// where it came from is said.
func TestReadings(t *testing.T) {
	s, code := bare(t)
	una := s.nobody()
	told[api.Me](una, "POST", "/setup", answers(code))
	view := told[api.ReadingsView](una, "POST", "/readings", []map[string]any{
		{"kind": "weather", "temp": 21.5, "rh": 40, "wind": 3, "sky": "clear"},
		{"kind": "forecast", "at": morning.Add(5 * time.Hour), "temp": 25, "rh": 35, "wind": 5, "sky": "some cloud"},
		{"kind": "forecast", "at": morning.Add(7 * time.Hour), "temp": 29, "rh": 35, "wind": 5, "sky": "some cloud"}})
	assert.Equal(t, climate.Told, view.WeatherFrom.Source)
	assert.InDelta(t, 21.5, float64(view.Weather.Temp), 1e-9)
	assert.Greater(t, view.Weather.SunAltitude, 20.0, "a spring morning in Lisbon")
	assert.Equal(t, "typed in by Una Wick", view.Told[0].Source)
	hours := told[[]climate.Hour](una, "GET", "/weather", nil)
	at := morning.Add(6 * time.Hour).Truncate(time.Hour)
	for _, h := range hours {
		if h.At.Equal(at) {
			assert.InDelta(t, 26.33, float64(h.Weather.Temp), 0.02, "between the hours of the forecast")
		}
	}

	for says, reading := range map[string]map[string]any{
		"[0].temp":     {"kind": "weather"},
		"[0].sky":      {"kind": "weather", "temp": 20, "sky": "green"},
		"[0].hardness": {"kind": "water"},
		"[0].at":       {"kind": "weather", "at": morning.Add(time.Hour), "temp": 20, "rh": 40, "wind": 3, "sky": "clear"},
	} {
		assert.Contains(t, una.do("POST", "/api/readings", []map[string]any{reading}).problem(422).says(), says)
	}

	sensor := told[api.Token](una, "POST", "/devices", map[string]string{"kind": "sensor", "name": "Mast"})
	water := []map[string]any{{"kind": "water", "hardness": 70, "solids": 110}}
	assert.Equal(t, 401, s.nobody().bearer("wrong", water))
	assert.Equal(t, 204, s.nobody().bearer(sensor.Token, water))
	assert.Equal(t, 422, s.nobody().bearer(sensor.Token, []map[string]any{}))
	view = told[api.ReadingsView](una, "GET", "/readings", nil)
	assert.Equal(t, climate.Water{Hardness: 70, Solids: 110, Class: "moderately hard"}, view.Water)
	assert.Equal(t, "Mast", view.Told[0].Source)
	una.do("DELETE", "/api/devices/"+sensor.ID, nil).is(204)
	assert.Equal(t, 401, s.nobody().bearer(sensor.Token, water))
}

// A sensor that has only a thermometer, and says more than is asked, is heard; what is assumed beside it is said.
func TestASensorSaysWhatItHas(t *testing.T) {
	s, code := bare(t)
	una := s.nobody()
	told[api.Me](una, "POST", "/setup", answers(code))
	device := told[api.Token](una, "POST", "/devices", map[string]string{"name": "Yard thermometer", "kind": "sensor"})
	assert.Equal(t, 204, s.nobody().bearer(device.Token, []map[string]any{{"kind": "weather", "temp": 27.5, "battery": 0.87, "id": "t1"}}))
	assert.Equal(t, 422, s.nobody().bearer(device.Token, []map[string]any{{"kind": "weather", "battery": 0.87}}))
	view := told[api.ReadingsView](una, "GET", "/readings", nil)
	assert.InDelta(t, 27.5, float64(view.Weather.Temp), 1e-9)
	assert.InDelta(t, 2, view.Weather.Wind, 1e-9)
	assert.Contains(t, view.WeatherFrom.Says, "humidity, wind and sky assumed")
	assert.Equal(t, []climate.ReadingPart{climate.OfRH, climate.OfWind, climate.OfSky}, view.Told[0].Weather.Lacks)
}

// A notice of a shop without a service for messages waits until somebody has told the customer.
func TestNoticesThatSomebodyTells(t *testing.T) {
	s := serve(t, demotest.Open(t), func(c *api.Config) { c.Outbox = devices.ByHand{} })
	lead := s.as("maren")
	id := lead.booking("CAB 14").ID
	n := told[api.NoticeView](lead, "POST", "/bookings/"+id+"/notice", map[string]string{"text": "a little later"})
	assert.True(t, n.Waits)
	waiting, _, err := s.store.Unsent(ctx)
	require.NoError(t, err)
	assert.Equal(t, 1, waiting)
	lead.do("POST", "/api/outbox/"+n.ID+"/told", nil).is(204)
	lead.do("POST", "/api/outbox/"+n.ID+"/told", nil).problem(409)
	waiting, _, err = s.store.Unsent(ctx)
	require.NoError(t, err)
	assert.Zero(t, waiting)
}
