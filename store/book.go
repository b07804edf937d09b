package store

import (
	"cmp"
	"context"
	"encoding/json"
	"maps"
	"slices"
	"sync"
	"time"

	"github.com/jackc/pgx/v5"

	"uskel/core/shop"
	"uskel/core/timing"
)

// book holds the timed washes that the statistics read, as far back as was asked, so that a look at a year does not
// read a year from the database. What changed is read anew before each look: a wash says when its times were last
// worked out. Washes in it are shared and must not be changed.
type book struct {
	mu        sync.Mutex
	since     time.Time // washes finished from then on are in it
	seen      time.Time // the newest moment at which the times of a wash in it were worked out, by the database's clock
	at        map[string]time.Time
	washes    []timing.Wash // by finish, then id
	version   int64
	standards timing.Standards
	people    []Person
	texts     map[string]string // every text once: steps are called alike in thousands of washes
}

// Times are the washes of a stretch of time as they stand in the book. The same version and bounds are the same washes.
type Times struct {
	Washes  []timing.Wash
	Version int64
	From    int
	To      int
}

const (
	// unsettled is how far back changes are read again: a change may be committed after one that was worked out later.
	unsettled = time.Minute
	// bookKept is how far back the book may reach before it lets go of what is older: further than anybody may ask.
	bookKept = 400 * 24 * time.Hour
)

// Timed gives the washes finished from one moment up to another, oldest first, as if planned by today's standards.
func (s *Store) Timed(ctx context.Context, from, to time.Time) (Times, error) {
	people, err := s.People(ctx)
	if err != nil {
		return Times{}, err
	}
	standards, err := s.Standards(ctx)
	if err != nil {
		return Times{}, err
	}
	b := s.book
	b.mu.Lock()
	defer b.mu.Unlock()
	if err := b.refresh(ctx, s, from, to); err != nil {
		return Times{}, err
	}
	b.follow(people, standards)
	at := func(t time.Time) int {
		i, _ := slices.BinarySearchFunc(
			b.washes,
			t,
			func(w timing.Wash, t time.Time) int { return w.Finished.Compare(t) },
		)
		return i
	}
	first, last := at(from), at(to)
	last = max(first, last)
	return Times{b.washes[first:last:last], b.version, first, last}, nil
}

// refresh reads what the book lacks: what changed since the last look, and what lies further back.
func (b *book) refresh(ctx context.Context, s *Store, from, to time.Time) error {
	if b.at == nil || b.since.Before(to.Add(-bookKept)) {
		b.since, b.seen, b.at, b.texts = from, time.Time{}, map[string]time.Time{}, map[string]string{}
		b.washes, b.people = nil, nil
		b.version++
	}
	rows := []timedRow{}
	if !b.seen.IsZero() {
		changed, err := s.changedSince(ctx, b.seen.Add(-unsettled), b.at)
		if err != nil {
			return err
		}
		if len(changed) > 0 {
			if rows, err = s.timedRows(
				ctx,
				"w.id = ANY($1::uuid[]) AND (w.finished_at IS NULL OR w.finished_at >= $2)",
				changed,
				b.since,
			); err != nil {
				return err
			}
		}
	}
	if b.seen.IsZero() || from.Before(b.since) {
		until := b.since
		if b.seen.IsZero() {
			until = endOfTime
		}
		more, err := s.timedRows(ctx, "w.finished_at >= $1 AND w.finished_at < $2", from, until)
		if err != nil {
			return err
		}
		rows = append(rows, more...)
		if from.Before(b.since) {
			b.since = from
		}
	}
	b.take(rows)
	return nil
}

// endOfTime is later than any wash.
var endOfTime = time.Date(9999, 1, 1, 0, 0, 0, 0, time.UTC)

// changedSince are the ids of washes whose times were worked out since a moment, those aside that are known as they
// are.
func (s *Store) changedSince(ctx context.Context, since time.Time, known map[string]time.Time) ([]string, error) {
	rows, err := s.Pool.Query(ctx, "SELECT id::text, times_at FROM washes WHERE times_at > $1", since)
	if err != nil {
		return nil, translate(err, "washes")
	}
	var id string
	var at time.Time
	var changed []string
	_, err = pgx.ForEachRow(rows, []any{&id, &at}, func() error {
		if !known[id].Equal(at) {
			changed = append(changed, id)
		}
		return nil
	})
	return changed, translate(err, "washes")
}

// take puts rows into the book, in place of what was there of the same washes.
func (b *book) take(rows []timedRow) {
	if len(rows) == 0 {
		return
	}
	gone := map[string]bool{}
	for _, r := range rows {
		gone[r.wash.ID] = true
		if r.at.After(b.seen) {
			b.seen = r.at
		}
	}
	next := make([]timing.Wash, 0, len(b.washes)+len(rows))
	for _, w := range b.washes {
		if !gone[w.ID] {
			next = append(next, w)
		}
	}
	for _, r := range rows {
		b.at[r.wash.ID] = r.at
		if r.finished {
			next = append(next, b.standards.Rebase([]timing.Wash{b.intern(r.wash)})[0])
		}
	}
	slices.SortFunc(
		next,
		func(x, y timing.Wash) int { return cmp.Or(x.Finished.Compare(y.Finished), cmp.Compare(x.ID, y.ID)) },
	)
	b.washes = next
	b.version++
	b.people = nil // names are given anew
}

// follow gives the washes the names that people have now, and the shop's standards of today.
func (b *book) follow(people []Person, standards timing.Standards) {
	if !maps.Equal(standards, b.standards) {
		b.washes, b.standards = standards.Rebase(b.washes), standards
		b.version++
	}
	if slices.Equal(people, b.people) {
		return
	}
	learners, names := []string{}, map[string]Person{}
	for _, p := range people {
		names[p.ID] = p
		if p.Role == shop.Trainee {
			learners = append(learners, p.ID)
		}
	}
	b.washes = slices.Clone(b.washes)
	for i := range b.washes {
		w := &b.washes[i]
		w.Name, w.Trainee, w.Learners = names[w.Person].Name, names[w.Person].Role == shop.Trainee, learners
	}
	b.people = people
	b.version++
}

// intern keeps every text of a wash once.
func (b *book) intern(w timing.Wash) timing.Wash {
	for _, text := range []*string{&w.Label, &w.Person, &w.Procedure, &w.Title, &w.Body, &w.Place} {
		*text = b.once(*text)
	}
	for i := range w.Times.Steps {
		s := &w.Times.Steps[i]
		for _, text := range []*string{&s.Step, &s.Stage, &s.Title, &s.Product, &s.ProductID, &s.By} {
			*text = b.once(*text)
		}
		for k := range s.Parts {
			s.Parts[k].Part = b.once(s.Parts[k].Part)
		}
	}
	for i := range w.Times.Stages {
		w.Times.Stages[i].Stage = b.once(w.Times.Stages[i].Stage)
	}
	return w
}

func (b *book) once(text string) string {
	if known, there := b.texts[text]; there {
		return known
	}
	b.texts[text] = text
	return text
}

// timedRow is a wash as it is read, and when its times were worked out.
type timedRow struct {
	wash     timing.Wash
	at       time.Time
	finished bool
}

// timedRows reads timed washes that a condition finds, in one statement that leaves the plans where they are. What
// was found is what the first audit found: later rounds see what was put right.
func (s *Store) timedRows(ctx context.Context, where string, args ...any) ([]timedRow, error) {
	rows, err := s.Pool.Query(ctx, `SELECT w.id, v.label, w.washer_id, w.procedure, w.title, w.version, w.overall,
		w.finished_at, w.summary, w.air, w.times_at,
		v.spec->>'body', b.place->>'name', coalesce(jsonb_array_length(a.result->'findings'), 0), (a.result->>'score')::int,
		coalesce(greatest(extract(epoch FROM w.started_at - greatest(b.arrives_at, coalesce(b.starts_at, b.arrives_at))) / 60, 0), 0)::float8,
		coalesce(extract(epoch FROM w.finished_at - b.promised_at) / 60, 0)::float8
		FROM washes w JOIN bookings b ON b.id = w.booking_id JOIN vehicles v ON v.id = b.vehicle_id
		LEFT JOIN audits a ON a.wash_id = w.id AND a.round = 1
		WHERE `+where, args...)
	if err != nil {
		return nil, translate(err, "washes")
	}
	read, err := pgx.CollectRows(rows, scanTimed)
	return read, translate(err, "washes")
}

func scanTimed(row pgx.CollectableRow) (timedRow, error) {
	var r timedRow
	var finished, at *time.Time
	var summary []byte
	w := &r.wash
	err := row.Scan(
		&w.ID,
		&w.Label,
		&w.Person,
		&w.Procedure,
		&w.Title,
		&w.Version,
		&w.Grade,
		&finished,
		&summary,
		&w.Air,
		&at,
		&w.Body,
		&w.Place,
		&w.Findings,
		&w.Score,
		&w.Waited,
		&w.Late,
	)
	if err != nil {
		return r, err
	}
	if at != nil {
		r.at = *at
	}
	if finished == nil {
		return r, nil
	}
	r.finished, w.Finished = true, finished.UTC()
	return r, json.Unmarshal(summary, &w.Times)
}
