package api

import (
	"context"
	"encoding/csv"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"uskel/core/climate"
	"uskel/core/measure"
	"uskel/core/shop"
	"uskel/store"
)

// ReadingTold is a reading as it is typed in or posted: of the weather now or by a forecast, or of the water.
type ReadingTold struct {
	Kind     store.ReadingKind    `json:"kind"`
	At       time.Time            `json:"at,omitempty" doc:"what moment it tells of; now when absent"`
	Temp     *float64             `json:"temp,omitempty" minimum:"-30" maximum:"55" doc:"degC"`
	RH       *float64             `json:"rh,omitempty" minimum:"2" maximum:"100" doc:"relative humidity, %"`
	Wind     *float64             `json:"wind,omitempty" minimum:"0" maximum:"40" doc:"m/s"`
	Rain     float64              `json:"rain,omitempty" minimum:"0" maximum:"200" doc:"mm/h"`
	Sky      climate.Sky          `json:"sky,omitempty"`
	Hardness *float64             `json:"hardness,omitempty" minimum:"0" doc:"of the water"`
	Unit     measure.HardnessUnit `json:"unit,omitempty" doc:"of the hardness; mg/l when absent"`
	Solids   float64              `json:"solids,omitempty" minimum:"0" maximum:"10000" doc:"mg/l dissolved; by the hardness when absent"`
}

// ReadingLine is a reading that was told.
type ReadingLine struct {
	Kind    store.ReadingKind `json:"kind"`
	At      time.Time         `json:"at"`
	TakenAt time.Time         `json:"takenAt"`
	Source  string            `json:"source"`
	Weather *climate.Reading  `json:"weather,omitempty"`
	Water   *climate.Water    `json:"water,omitempty"`
}

// ReadingsView is what is known of weather and water now, and what was told last.
type ReadingsView struct {
	Around
	Told []ReadingLine `json:"told" doc:"the newest first"`
}

// mostTold is how many readings are taken at once: a forecast of two weeks by the hour is 336.
const mostTold = 500

func (s *server) registerReadings(api huma.API) {
	operation(
		s,
		api,
		get("/readings", "readings", "Weather and water as they are known, and what was told last"),
		shop.See,
		s.readings,
	)
	operation(
		s,
		api,
		post("/readings", "tellReading", "Type readings in"),
		shop.LookOver,
		func(ctx context.Context, in *In[[]ReadingTold]) (*Out[ReadingsView], error) {
			by := who(ctx)
			if err := s.takeReadings(
				ctx,
				in.Body,
				store.Reading{Source: "typed in by " + by.Name, ByID: &by.ID},
			); err != nil {
				return nil, err
			}
			return s.readings(ctx, nil)
		},
	)
	operation(
		s,
		api,
		post("/sensor/readings", "postReadings", "Post readings with a sensor's token"),
		nobody,
		s.postReadings,
	)
}

// linesTold is how many of the last readings are shown.
const linesTold = 40

func (s *server) readings(ctx context.Context, _ *struct{}) (*Out[ReadingsView], error) {
	a, err := s.around(ctx, s.Now())
	if err != nil {
		return nil, err
	}
	rows, err := s.Store.Readings(ctx, linesTold)
	if err != nil {
		return nil, err
	}
	v := ReadingsView{Around: a, Told: make([]ReadingLine, len(rows))}
	for i, row := range rows {
		line := ReadingLine{Kind: row.Kind, At: row.At.UTC(), TakenAt: row.TakenAt.UTC(), Source: row.Source}
		if row.Kind == store.WaterReading {
			line.Water = &climate.Water{}
			err = json.Unmarshal(row.Doc, line.Water)
		} else {
			line.Weather = &climate.Reading{}
			err = json.Unmarshal(row.Doc, line.Weather)
		}
		if err != nil {
			return nil, err
		}
		v.Told[i] = line
	}
	return out(v)
}

func (s *server) postReadings(ctx context.Context, in *struct {
	Authorization string `header:"Authorization" maxLength:"200"`
	Body          []ReadingTold
}) (*struct{}, error) {
	token, bearer := strings.CutPrefix(in.Authorization, "Bearer ")
	d, err := s.Store.DeviceBy(ctx, store.Sensor, tokenHash(strings.TrimSpace(token)))
	if errors.Is(err, store.ErrNotFound) || err == nil && !bearer {
		return nil, huma.NewError(
			http.StatusUnauthorized,
			"Send the sensor's token: Authorization: Bearer and the token. A lead makes one under Settings.",
		)
	}
	if err != nil {
		return nil, err
	}
	if err := s.takeReadings(ctx, in.Body, store.Reading{Source: d.Name, DeviceID: &d.ID}); err != nil {
		return nil, err
	}
	return nil, s.Store.DeviceSeen(ctx, d.ID, s.Now())
}

// takeReadings checks readings and stores them, all or none.
func (s *server) takeReadings(ctx context.Context, told []ReadingTold, from store.Reading) error {
	rows, err := ReadingRows(told, from, s.Now())
	if err != nil {
		return invalidLines(err)
	}
	if err := s.Store.AddReadings(ctx, rows); err != nil {
		return err
	}
	s.Told()
	return nil
}

// invalidLines is a 422 whose every line names its field itself.
func invalidLines(err error) error {
	details := []error{}
	for _, line := range strings.Split(err.Error(), "\n") {
		field, text, _ := strings.Cut(line, ": ")
		details = append(details, &huma.ErrorDetail{Location: "body." + field, Message: text})
	}
	return huma.NewError(http.StatusUnprocessableEntity, "Some of this cannot be; nothing was saved.", details...)
}

// How far from now a reading may lie: clocks that are wrong are told so.
const (
	readingAhead  = 15 * time.Minute
	forecastAhead = 16 * 24 * time.Hour
	readingBehind = 7 * 24 * time.Hour
)

// ReadingRows turns readings as they were told into rows; what cannot be is named by its place and field.
func ReadingRows(told []ReadingTold, from store.Reading, now time.Time) ([]store.Reading, error) {
	if len(told) == 0 || len(told) > mostTold {
		return nil, fmt.Errorf("[]: from 1 to %d readings at once", mostTold)
	}
	rows := make([]store.Reading, len(told))
	var errs []error
	for i, t := range told {
		row, err := t.row(from, now)
		if err != nil {
			errs = append(errs, fmt.Errorf("[%d].%w", i, err))
		}
		rows[i] = row
	}
	return rows, errors.Join(errs...)
}

func (t ReadingTold) row(from store.Reading, now time.Time) (store.Reading, error) {
	row := from
	row.ID, row.Kind, row.At, row.TakenAt = store.NewID(), t.Kind, t.At.UTC(), now
	if t.At.IsZero() {
		row.At = now
	}
	ahead := readingAhead
	if t.Kind == store.ForecastReading {
		ahead = forecastAhead
	}
	if row.At.After(now.Add(ahead)) || row.At.Before(now.Add(-readingBehind)) {
		return row, fmt.Errorf(
			"at: %s is too far from now, %s: look whether the clock is right",
			row.At.Format(time.RFC3339),
			now.Format(time.RFC3339),
		)
	}
	doc, err := t.doc(row.At)
	if err != nil {
		return row, err
	}
	row.Doc, err = json.Marshal(doc)
	return row, err
}

// doc is what is told, checked.
func (t ReadingTold) doc(at time.Time) (any, error) {
	if t.Kind == store.WaterReading {
		if t.Hardness == nil {
			return nil, errors.New("hardness: say it, from a strip or a meter")
		}
		unit := t.Unit
		if unit == "" {
			unit = measure.MgPerLitre
		}
		hardness, err := measure.NewHardness(*t.Hardness, unit)
		if err != nil {
			return nil, fmt.Errorf("hardness: %w", err)
		}
		return climate.Supply(hardness, t.Solids), nil
	}
	for name, value := range map[string]*float64{"temp": t.Temp, "rh": t.RH, "wind": t.Wind} {
		if value == nil || math.IsNaN(*value) {
			return nil, fmt.Errorf("%s: say it", name)
		}
	}
	r := climate.Reading{
		At:   at,
		Temp: measure.Celsius(*t.Temp),
		RH:   *t.RH / 100,
		Wind: *t.Wind,
		Rain: t.Rain,
		Sky:  t.Sky,
	}
	if err := r.Check(); err != nil {
		return nil, fmt.Errorf("weather: %w", err)
	}
	return r, nil
}

// readingColumns are the heads of a file of readings, in any order; docs/formats/readings.md describes them.
var readingColumns = []string{
	"kind",
	"at",
	"temp_c",
	"rh_percent",
	"wind_m_s",
	"rain_mm_h",
	"sky",
	"hardness_mg_l",
	"solids_mg_l",
}

// ReadReadings reads a file of readings: CSV (RFC 4180) with a line of heads. What cannot be is named by its line and
// column.
func ReadReadings(file io.Reader) ([]ReadingTold, error) {
	reader := csv.NewReader(file)
	reader.TrimLeadingSpace = true
	heads, err := reader.Read()
	if err != nil {
		return nil, fmt.Errorf("line 1: the heads: %w", err)
	}
	heads[0] = strings.TrimPrefix(heads[0], "\ufeff")
	for _, head := range heads {
		if !slices.Contains(readingColumns, head) {
			return nil, fmt.Errorf("line 1: there is no column %q: use %q", head, readingColumns)
		}
	}
	var told []ReadingTold
	for line := 2; ; line++ {
		cells, err := reader.Read()
		if errors.Is(err, io.EOF) {
			return told, nil
		}
		if err != nil {
			return nil, fmt.Errorf("line %d: %w", line, err)
		}
		if len(told) == mostTold {
			return nil, fmt.Errorf("line %d: at most %d readings in a file", line, mostTold)
		}
		t, err := readingOf(heads, cells)
		if err != nil {
			return nil, fmt.Errorf("line %d: %w", line, err)
		}
		told = append(told, t)
	}
}

func readingOf(heads, cells []string) (ReadingTold, error) {
	var t ReadingTold
	for i, head := range heads {
		cell := strings.TrimSpace(cells[i])
		if cell == "" {
			continue
		}
		var err error
		var number float64
		switch head {
		case "kind":
			t.Kind = store.ReadingKind(cell)
			if !slices.Contains(t.Kind.Values(), cell) {
				err = fmt.Errorf("use one of %q", t.Kind.Values())
			}
		case "at":
			t.At, err = time.Parse(time.RFC3339, cell)
		case "sky":
			t.Sky = climate.Sky(cell)
		default:
			if number, err = strconv.ParseFloat(cell, 64); err == nil && (math.IsNaN(number) || math.IsInf(number, 0)) {
				err = errors.New("a number")
			}
		}
		if err != nil {
			return t, fmt.Errorf("%s %q: %w", head, cell, err)
		}
		switch head {
		case "temp_c":
			t.Temp = &number
		case "rh_percent":
			t.RH = &number
		case "wind_m_s":
			t.Wind = &number
		case "rain_mm_h":
			t.Rain = number
		case "hardness_mg_l":
			t.Hardness = &number
		case "solids_mg_l":
			t.Solids = number
		}
	}
	if t.Kind == "" {
		return t, errors.New("kind: weather, forecast or water")
	}
	return t, nil
}
