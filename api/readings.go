package api

import (
	"context"
	"encoding/json"
	"errors"
	"net/http"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"uskel/core/climate"
	"uskel/core/shop"
	"uskel/store"
)

// ReadingLine is a reading that was told.
type ReadingLine struct {
	Kind    climate.ReadingKind `json:"kind"`
	At      time.Time           `json:"at"`
	TakenAt time.Time           `json:"takenAt"`
	Source  string              `json:"source"`
	Weather *climate.Reading    `json:"weather,omitempty"`
	Water   *climate.Water      `json:"water,omitempty"`
}

// ReadingsView is what is known of weather and water now, and what was told last.
type ReadingsView struct {
	Around
	Told []ReadingLine `json:"told" doc:"the newest first"`
}

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
		func(ctx context.Context, in *In[[]climate.ReadingTold]) (*Out[ReadingsView], error) {
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
	sensor := post("/sensor/readings", "postReadings", "Post readings with a sensor's token")
	sensor.Security = []map[string][]string{{bySensor: {}}}
	operation(
		s,
		api,
		sensor,
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
		if row.Kind == climate.WaterReading {
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
	Body          []climate.ReadingTold
}) (*struct{}, error) {
	token, bearer := strings.CutPrefix(in.Authorization, "Bearer ")
	d, err := s.Store.DeviceBy(ctx, shop.Sensor, tokenHash(strings.TrimSpace(token)))
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
func (s *server) takeReadings(ctx context.Context, told []climate.ReadingTold, from store.Reading) error {
	rows, err := ReadingRows(told, from, s.Now())
	if err != nil {
		return invalid("", err)
	}
	if err := s.Store.AddReadings(ctx, rows); err != nil {
		return err
	}
	s.Told()
	return nil
}

// ReadingRows turns readings as they were told into rows; what cannot be is named by its place and field.
func ReadingRows(told []climate.ReadingTold, from store.Reading, now time.Time) ([]store.Reading, error) {
	taken, err := climate.Take(told, now)
	if err != nil {
		return nil, err
	}
	rows := make([]store.Reading, len(taken))
	for i, t := range taken {
		rows[i] = from
		rows[i].ID, rows[i].Kind, rows[i].At, rows[i].TakenAt = store.NewID(), t.Kind, t.At, now
		if rows[i].Doc, err = json.Marshal(t.Of); err != nil {
			return nil, err
		}
	}
	return rows, nil
}
