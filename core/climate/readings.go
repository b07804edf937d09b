package climate

import (
	"cmp"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"math"
	"slices"
	"strconv"
	"strings"
	"time"

	"uskel/core/measure"
	"uskel/core/wrong"
)

// ReadingKind is what a reading tells of.
type ReadingKind string

// The kinds of reading.
const (
	WeatherReading  ReadingKind = "weather"
	ForecastReading ReadingKind = "forecast"
	WaterReading    ReadingKind = "water"
)

// Values lists the kinds.
func (ReadingKind) Values() []string {
	return []string{string(WeatherReading), string(ForecastReading), string(WaterReading)}
}

// ReadingTold is a reading as it is typed in or posted: of the weather now or by a forecast, or of the water.
type ReadingTold struct {
	_ struct{} `additionalProperties:"true"` // instruments say more than is asked; it is passed over

	Kind     ReadingKind          `json:"kind"`
	At       time.Time            `json:"at,omitempty" doc:"what moment it tells of; now when absent"`
	Temp     *float64             `json:"temp,omitempty" minimum:"-30" maximum:"55" doc:"degC"`
	RH       *float64             `json:"rh,omitempty" minimum:"2" maximum:"100" doc:"relative humidity, %"`
	Wind     *float64             `json:"wind,omitempty" minimum:"0" maximum:"40" doc:"m/s"`
	Rain     float64              `json:"rain,omitempty" minimum:"0" maximum:"200" doc:"mm/h"`
	Sky      Sky                  `json:"sky,omitempty"`
	Hardness *float64             `json:"hardness,omitempty" minimum:"0" doc:"of the water"`
	Unit     measure.HardnessUnit `json:"unit,omitempty" doc:"of the hardness; mg/l when absent"`
	Solids   float64              `json:"solids,omitempty" minimum:"0" maximum:"10000" doc:"mg/l dissolved; by the hardness when absent"`
}

// mostTold is how many readings are taken at once: a forecast of two weeks by the hour is 336.
const mostTold = 500

// How far from now a reading may lie: clocks that are wrong are told so.
const (
	readingAhead  = 15 * time.Minute
	forecastAhead = 16 * 24 * time.Hour
	readingBehind = 7 * 24 * time.Hour
)

// Taken is a reading that was checked: a Reading of the weather, or the Water.
type Taken struct {
	Kind ReadingKind
	At   time.Time
	Of   any
}

// Take checks readings that were told together at a moment, all or none. What cannot be is named by its place and field,
// one line each: "[2].temp: say it".
func Take(told []ReadingTold, now time.Time) ([]Taken, error) {
	if len(told) == 0 || len(told) > mostTold {
		return nil, wrong.At("[]", "from 1 to %d readings at once", mostTold)
	}
	taken := make([]Taken, len(told))
	var errs []error
	for i, t := range told {
		var err error
		if taken[i], err = t.take(now); err != nil {
			errs = append(errs, wrong.In(fmt.Sprintf("[%d]", i), err))
		}
	}
	return taken, errors.Join(errs...)
}

func (t ReadingTold) take(now time.Time) (Taken, error) {
	taken := Taken{Kind: t.Kind, At: t.At.UTC()}
	if t.At.IsZero() {
		taken.At = now
	}
	ahead := readingAhead
	if t.Kind == ForecastReading {
		ahead = forecastAhead
	}
	if taken.At.After(now.Add(ahead)) || taken.At.Before(now.Add(-readingBehind)) {
		return taken, wrong.At("at", "%s is too far from now, %s: check the clock",
			taken.At.Format(time.RFC3339), now.Format(time.RFC3339))
	}
	var err error
	if t.Kind == WaterReading {
		taken.Of, err = t.water()
	} else {
		taken.Of, err = t.weather(taken.At)
	}
	return taken, err
}

func (t ReadingTold) water() (Water, error) {
	if t.Hardness == nil && t.Solids > 0 { // a meter of dissolved solids alone
		return Supply(measure.Hardness(math.Min(mostHardness, math.Round(t.Solids/solidsPerHardness))), t.Solids), nil
	}
	if t.Hardness == nil {
		return Water{}, wrong.At("hardness", "enter it, from a strip or a meter; or solids, from a meter")
	}
	hardness, err := measure.NewHardness(*t.Hardness, cmp.Or(t.Unit, measure.MgPerLitre))
	if err != nil {
		return Water{}, wrong.In("hardness", err)
	}
	return Supply(hardness, t.Solids), nil
}

// weather is what was told, with what was not: whoever has a thermometer alone is heard too.
func (t ReadingTold) weather(at time.Time) (Reading, error) {
	r := Reading{At: at, Temp: mild.Temp, RH: mild.RH, Wind: mild.Wind, Rain: t.Rain, Sky: t.Sky} // in place of what is not told
	numbers := []struct {
		part  ReadingPart
		value *float64
		into  func(float64)
	}{
		{OfTemp, t.Temp, func(x float64) { r.Temp = measure.Celsius(x) }},
		{OfRH, t.RH, func(x float64) { r.RH = x / 100 }},
		{OfWind, t.Wind, func(x float64) { r.Wind = x }},
	}
	for _, n := range numbers {
		switch {
		case n.value == nil:
			r.Lacks = append(r.Lacks, n.part)
		case math.IsNaN(*n.value):
			return Reading{}, wrong.At(string(n.part), "a number")
		default:
			n.into(*n.value)
		}
	}
	if t.Sky == "" {
		r.Lacks = append(r.Lacks, OfSky)
	}
	if len(r.Lacks) == len(parts) && t.Rain == 0 {
		return Reading{}, wrong.At("temp", "say one of temp, rh, wind, rain or sky")
	}
	return r, r.Check()
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
	if !slices.Contains(heads, "kind") { // other columns that Uskel does not know are passed over
		return nil, fmt.Errorf("line 1: there is no column kind: use %q", readingColumns)
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
			t.Kind = ReadingKind(cell)
			if !slices.Contains(t.Kind.Values(), cell) {
				err = fmt.Errorf("use one of %q", t.Kind.Values())
			}
		case "at":
			t.At, err = time.Parse(time.RFC3339, cell)
		case "sky":
			t.Sky = Sky(cell)
		default:
			if !slices.Contains(readingColumns, head) {
				continue
			}
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
