package store

import (
	"context"
	"encoding/json"
	"errors"
	"time"

	"gorm.io/gorm"

	"uskel/core/climate"
)

// Reading is a reading as it was told: doc is a climate.Reading or, of water, a climate.Water.
type Reading struct {
	ID       string
	Kind     climate.ReadingKind
	At       time.Time
	Doc      json.RawMessage
	Source   string // who or what told it, in words
	ByID     *string
	DeviceID *string
	TakenAt  time.Time
}

// AddReadings stores readings, all or none.
func (s *Store) AddReadings(ctx context.Context, rows []Reading) error {
	if len(rows) == 0 {
		return nil
	}
	return translate(s.with(ctx).Create(&rows).Error, "readings")
}

// mostReadings is how many readings of a span are looked at, the newest first: an instrument that posts each minute has
// 4,320 in three days.
const mostReadings = 5000

// Told are the readings of the weather and the forecasts that tell of a span of time. Of one moment the one that came
// last counts.
func (s *Store) Told(ctx context.Context, from, to time.Time) (readings, forecasts []climate.Reading, err error) {
	var rows []Reading
	err = s.with(ctx).
		Raw(`SELECT DISTINCT ON (kind, at) kind, at, doc FROM readings WHERE kind IN ('weather', 'forecast') AND at BETWEEN ? AND ?
		ORDER BY kind, at DESC, taken_at DESC, id DESC LIMIT ?`, from, to, mostReadings).
		Scan(&rows).
		Error
	if err != nil {
		return nil, nil, translate(err, "readings")
	}
	for _, row := range rows {
		var r climate.Reading
		if err := json.Unmarshal(row.Doc, &r); err != nil {
			return nil, nil, translate(err, "readings")
		}
		r.At = row.At.UTC()
		if row.Kind == climate.ForecastReading {
			forecasts = append(forecasts, r)
		} else {
			readings = append(readings, r)
		}
	}
	return readings, forecasts, nil
}

// Supply is the newest reading of the water; nil when there is none.
func (s *Store) Supply(ctx context.Context) (*climate.Water, time.Time, error) {
	var row Reading
	err := s.with(ctx).Where("kind = ?", climate.WaterReading).Order("at DESC, taken_at DESC, id DESC").Take(&row).Error
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return nil, time.Time{}, nil
	}
	if err != nil {
		return nil, time.Time{}, translate(err, "readings")
	}
	var w climate.Water
	return &w, row.At.UTC(), translate(json.Unmarshal(row.Doc, &w), "readings")
}

// Readings are the newest that were told.
func (s *Store) Readings(ctx context.Context, most int) ([]Reading, error) {
	rows := []Reading{}
	err := s.with(ctx).Order("taken_at DESC, id DESC").Limit(most).Find(&rows).Error
	return rows, translate(err, "readings")
}

// usualLatitude is taken for a shop that has not said where it stands, degrees north.
const usualLatitude = 45

// Where is the shop's latitude, degrees north, and its clock; about the middle of the north and UTC when nothing is
// set up.
func (s *Store) Where(ctx context.Context) (float64, *time.Location, error) {
	settings, _, err := s.Settings(ctx)
	if errors.Is(err, ErrNotFound) {
		return usualLatitude, time.UTC, nil
	}
	if err != nil {
		return 0, nil, err
	}
	zone, err := time.LoadLocation(settings.TimeZone)
	if settings.Latitude == nil {
		return usualLatitude, zone, err
	}
	return *settings.Latitude, zone, err
}
