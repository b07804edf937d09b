package store

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgconn"

	"uskel/core/condition"
	"uskel/core/shop"
	"uskel/core/stock"
	"uskel/core/timing"
	"uskel/core/visit"
	"uskel/core/wash"
)

// Seen is what somebody had before them when they began a wash; a version of 0 is not asked about.
type Seen struct{ Booking, LookOver int }

// AddWash stores a wash with its plan and takes its vehicle into the bay; a booking has one. When the booking or the
// look-over is not what was seen, it is ErrStale; when the vehicle stands elsewhere, a *visit.NotNow.
func (s *Store) AddWash(ctx context.Context, w Wash, seen Seen) (Wash, error) {
	w.Planned, w.Serviced = w.Plan.Taps(w.Varies), w.Plan.Services()
	for i := range w.Planned {
		w.Planned[i].Looks = w.Looks[w.Planned[i].ID]
	}
	if w.Rework == nil {
		w.Rework = []wash.PlannedStep{}
	}
	err := s.atVisit(ctx, "id = ?", w.BookingID, func(in *Store, v *held) error {
		if err := v.move(visit.Begin); err != nil {
			return err
		}
		look, err := find[LookOver](ctx, in, "look-over", "booking_id = ?", v.ID)
		if err != nil {
			return err
		}
		if seen.Booking != 0 && seen.Booking != v.Version || seen.LookOver != 0 && seen.LookOver != look.Version {
			return stale("plan")
		}
		w.Frozen.Booking, w.Frozen.LookOver = v.Version, look.Version
		sets, err := in.ClothSets(ctx)
		if err != nil {
			return err
		}
		w.Uses = stock.UsesOf(w.Plan, sets)
		return translate(in.with(ctx).Omit("Booking", "Washer").Create(&w).Error, "wash")
	})
	return w, err
}

// Wash finds a wash with its booking, vehicle and washer.
func (s *Store) Wash(ctx context.Context, id string) (Wash, error) {
	var w Wash
	err := s.with(ctx).
		Joins("Washer").
		Joins("Booking").
		Joins("Booking.Vehicle").
		Where("washes.id = ?", id).
		Take(&w).
		Error
	return w, translate(err, "wash")
}

// WashHead finds a wash without its plan, as taps need it.
func (s *Store) WashHead(ctx context.Context, id string) (Wash, error) {
	var w Wash
	err := s.with(ctx).Omit("Plan").Joins("Washer").Joins("Booking").Where("washes.id = ?", id).Take(&w).Error
	return w, translate(err, "wash")
}

// WashLine is a finished wash in a list, with what its audit came to.
type WashLine struct {
	ID, Plate, Label, WasherID, WasherName, Procedure, Title, AuditID string
	WasherRole                                                        shop.Role
	Version, Overall, Kept, Missed, Findings                          int
	Planned, Minutes                                                  float64
	Score                                                             *int  // by the first audit, as the findings are: what the wash came to
	Latest                                                            *int  // score by the newest audit
	Passed                                                            *bool // by the newest audit
	AtOnce                                                            *bool // passed by the first audit
	Stage                                                             visit.Stage
	Mine                                                              bool // washed by whoever asks
	FinishedAt                                                        time.Time
}

// WashQuery is which finished washes are listed.
type WashQuery struct {
	Since, Before time.Time // from the one up to the other
	Most          int
	Asks          string // who asks: they are told which they washed
	Of            string // only those given to this person; everybody's when empty
}

// WashLines lists finished washes, newest first, in one query that leaves the plans where they are.
func (s *Store) WashLines(ctx context.Context, q WashQuery) ([]WashLine, error) {
	rows := []WashLine{}
	err := s.with(ctx).
		Table("washes w").
		Select(`w.id, v.plate, v.label, p.id AS washer_id, p.name AS washer_name, p.role AS washer_role,
		w.procedure, w.title, w.version, w.overall, w.finished_at, b.stage, w.washer_id = ? OR ? = ANY(w.washers) AS mine,
		(w.summary->>'planned')::float8 AS planned, (w.summary->>'minutes')::float8 AS minutes,
		(w.summary->>'kept')::int AS kept, (w.summary->>'missed')::int AS missed,
		coalesce(w.audit_id::text, '') AS audit_id, (a.result->>'score')::int AS score,
			coalesce(jsonb_array_length(a.result->'findings'), 0) AS findings,
		(z.result->>'score')::int AS latest, (z.result->>'passed')::bool AS passed,
		(a.result->>'passed')::bool AS at_once`, q.Asks, q.Asks).
		Joins("JOIN bookings b ON b.id = w.booking_id JOIN vehicles v ON v.id = b.vehicle_id JOIN people p ON "+
			"p.id = w.washer_id LEFT JOIN audits a ON a.wash_id = w.id AND a.round = 1 LEFT JOIN audits z ON z.id "+
			"= w.audit_id").
		Where("w.finished_at >= ? AND w.finished_at < ? AND (? = '' OR "+
			"w.washer_id::text = ?)", q.Since, q.Before, q.Of, q.Of).
		Order("w.finished_at DESC, w.id").
		Limit(q.Most).
		Scan(&rows).
		Error
	return rows, translate(err, "washes")
}

// WashSteps reads the steps of several washes in one query.
func (s *Store) WashSteps(ctx context.Context, ids []string) (map[string][]wash.PlannedStep, error) {
	var rows []Wash
	err := s.with(ctx).Select("id", "steps", "rework").Where("id IN ?", ids).Find(&rows).Error
	steps := map[string][]wash.PlannedStep{}
	for _, w := range rows {
		steps[w.ID] = w.Steps()
	}
	return steps, translate(err, "washes")
}

// Events reads a wash's log.
func (s *Store) Events(ctx context.Context, washID string) ([]wash.Event, error) {
	byWash, err := s.EventsOf(ctx, []string{washID})
	return byWash[washID], err
}

// EventsOf reads the logs of several washes in one query.
func (s *Store) EventsOf(ctx context.Context, washIDs []string) (map[string][]wash.Event, error) {
	byWash := map[string][]wash.Event{}
	if len(washIDs) == 0 {
		return byWash, nil
	}
	rows, err := list[eventRow](ctx, s, "events", "at, seq, id", "wash_id IN ?", washIDs)
	for _, r := range rows {
		byWash[r.WashID] = append(byWash[r.WashID], r.event())
	}
	return byWash, err
}

// Since is how far somebody has read a wash's log.
type Since struct {
	WashID string
	No     int64
}

// Came is a tap with its place in the order in which taps came.
type Came struct {
	WashID string
	No     int64 // counted within the wash, from 1, without a gap
	Event  wash.Event
}

// EventsSince reads what came to the logs of some washes after what was read of them, in the order in which it came, in one query.
func (s *Store) EventsSince(ctx context.Context, read []Since) (map[string][]Came, error) {
	came := map[string][]Came{}
	if len(read) == 0 {
		return came, nil
	}
	ids, from := make([]string, len(read)), make([]int64, len(read))
	for i, r := range read {
		ids[i], from[i] = r.WashID, r.No
	}
	// The logs of a day may hold hundreds of thousands of taps: they are read without reflection. What is new of each is found by its
	// own index, whatever the database thinks of how many there are.
	rows, err := s.Pool.Query(ctx, `SELECT e.id::text, e.wash_id::text, e.kind, e.step, e.at, e.seq, e.body, e.undoes, e.by_id::text,
			e.detail, e.device, e.late, e.no
		FROM unnest($1::uuid[], $2::bigint[]) r (id, no)
		CROSS JOIN LATERAL (SELECT * FROM wash_events e WHERE e.wash_id = r.id AND e.no > r.no ORDER BY e.no OFFSET 0) e`, ids, from)
	if err != nil {
		return nil, translate(err, "events")
	}
	defer rows.Close()
	for rows.Next() {
		c, err := cameOf(rows)
		if err != nil {
			return nil, err
		}
		came[c.WashID] = append(came[c.WashID], c)
	}
	return came, translate(rows.Err(), "events")
}

// cameOf reads one row.
func cameOf(rows pgx.Rows) (Came, error) {
	var (
		c      Came
		detail []byte
	)
	e := &c.Event
	err := rows.Scan(&e.ID, &c.WashID, &e.Kind, &e.Step, &e.At, &e.Seq, &e.Text, &e.Undoes, &e.By, &detail, &e.Device, &e.Late, &c.No)
	if err == nil && !bytes.Equal(detail, noDetail) {
		err = json.Unmarshal(detail, &e.Detail)
	}
	e.At = e.At.UTC()
	return c, err
}

// noDetail is what most taps say beside what they are.
var noDetail = []byte("{}")

// Refused is a tap of a batch that cannot be taken, with the reason. Nothing of its batch was written.
type Refused struct {
	Index int
	Why   error
}

func (r *Refused) Error() string { return fmt.Sprintf("events[%d]: %v", r.Index, r.Why) }

// Tap writes taps to a wash's log and keeps the times of a wash that its log says is finished, or takes them back
// when the finish was undone. A tap that is there already is left alone, so that sending twice changes nothing; all
// of a batch is written or none. A tap that cannot be taken is a *Refused. Batches for one visit wait for each other,
// so that the times kept are those of the whole log. It gives the number of events in the log.
func (s *Store) Tap(ctx context.Context, washID string, events []wash.Event, received time.Time) (int, error) {
	count, done, err := s.tapOpen(ctx, washID, events, received)
	if done || err != nil {
		return int(count), err
	}
	err = s.atVisit(ctx, ofWash, washID, func(in *Store, v *held) error {
		head, err := in.head(ctx, washID)
		if err != nil {
			return err
		}
		if events, err = in.admit(ctx, head, events); err != nil {
			return err
		}
		if count, err = in.append(ctx, washID, events, received); err != nil {
			return err
		}
		ends := slices.ContainsFunc(events, func(e wash.Event) bool { return e.Kind == wash.Finish })
		if head.FinishedAt != nil || ends {
			log, err := in.Events(ctx, washID)
			if err != nil {
				return err
			}
			count = int64(len(log))
			return in.keepTimes(ctx, v, washID, log)
		}
		if count > mostTaps {
			return &Refused{0, fmt.Errorf("a wash has %d taps at most: something taps by itself", mostTaps)}
		}
		return nil
	})
	return int(count), err
}

// tapOpen writes the taps of a wash that is under way in one round trip, and is done unless they finish it, undo something, or the wash
// is finished or closed: then nothing was written. The booking is held first; the second statement sees what those wrote who held it.
func (s *Store) tapOpen(ctx context.Context, washID string, events []wash.Event, received time.Time) (log int64, done bool, err error) {
	decides := func(e wash.Event) bool { return e.Kind == wash.Undo || e.Kind == wash.Finish }
	if len(events) == 0 || slices.ContainsFunc(events, decides) {
		return 0, false, nil
	}
	batch, err := tapBatch(events)
	if err != nil {
		return 0, false, err
	}
	both := &pgx.Batch{}
	both.Queue("SELECT FROM bookings WHERE id = (SELECT booking_id FROM washes WHERE id = $1) FOR NO KEY UPDATE", washID)
	both.Queue(putTaps, washID, received, batch, mostTaps)
	results := s.Pool.SendBatch(ctx, both)
	defer func() { err = errors.Join(err, results.Close()) }()
	if held, err := results.Exec(); err != nil || held.RowsAffected() == 0 {
		return 0, false, err
	}
	log, done, err = put(results.QueryRow())
	return log, done, err
}

// mostTaps is how many taps one wash takes: a long one has some three hundred.
const mostTaps = 20_000

// tapHead is what says how a wash takes taps.
type tapHead struct {
	ID                   string
	FinishedAt, ClosedAt *time.Time
}

// head reads it: only of a wash that is there, as its booking was found by it.
func (s *Store) head(ctx context.Context, washID string) (h tapHead, err error) {
	err = s.with(ctx).Raw("SELECT id, finished_at, closed_at FROM washes WHERE id = ?", washID).Scan(&h).Error
	return h, translate(err, "wash")
}

// admit decides what becomes of each tap by the log as it is. Where nothing is undone or finished and the wash is open,
// all of them count and nothing need be read.
func (s *Store) admit(ctx context.Context, head tapHead, events []wash.Event) ([]wash.Event, error) {
	closed := wash.Closed(head.ClosedAt != nil)
	read := func(e wash.Event) bool { return e.Kind == wash.Undo || e.Kind == wash.Finish }
	if !bool(closed) && !slices.ContainsFunc(events, read) {
		return events, nil
	}
	log, err := s.Events(ctx, head.ID)
	if err != nil {
		return nil, err
	}
	steps, err := s.WashSteps(ctx, []string{head.ID})
	if err != nil {
		return nil, err
	}
	admitted := make([]wash.Event, 0, len(events))
	for i, e := range events {
		if !slices.ContainsFunc(log, func(was wash.Event) bool { return was.ID == e.ID }) {
			taken, err := closed.Admit(e, steps[head.ID], slices.Concat(log, admitted))
			if err != nil {
				return nil, &Refused{i, err}
			}
			e = taken
		}
		admitted = append(admitted, e)
	}
	return admitted, nil
}

// tapRow is a tap as the database unpacks it: a batch goes there as one JSON array, which costs the driver and the
// planner a fraction of a parameter for each column.
type tapRow struct {
	ID     string      `json:"id"`
	Kind   wash.Kind   `json:"kind"`
	Step   string      `json:"step"`
	At     time.Time   `json:"at"`
	Seq    int         `json:"seq"`
	Body   string      `json:"body"`
	Undoes string      `json:"undoes"`
	ByID   string      `json:"by_id"`
	Detail wash.Detail `json:"detail"`
	Device string      `json:"device"`
	Late   bool        `json:"late"`
}

// tapBatch is taps as the database unpacks them, each id once.
func tapBatch(events []wash.Event) (string, error) {
	rows, ids := make([]tapRow, 0, len(events)), make([]string, 0, len(events))
	for _, e := range events {
		if slices.Contains(ids, e.ID) {
			continue
		}
		ids = append(ids, e.ID)
		rows = append(rows, tapRow{e.ID, e.Kind, e.Step, e.At.UTC().Truncate(time.Microsecond), e.Seq, e.Text, e.Undoes, e.By,
			e.Detail, e.Device, e.Late})
	}
	batch, err := json.Marshal(rows)
	return string(batch), err
}

// putTaps writes the taps of a batch that the wash has not yet, numbered on from the last one: of wash $1, received at $2, as tapRows $3.
// With $4, which is how many it may have at most then, only those of a wash that is neither finished nor closed. It gives how many the
// log has then and whether the wash was looked at; an id that another wash has is a duplicate key.
const putTaps = `WITH last AS (SELECT coalesce(max(no), 0) AS no FROM wash_events WHERE wash_id = $1),
	head AS (SELECT w.id, last.no AS last FROM washes w, last WHERE w.id = $1 AND ($4::int IS NULL OR
		w.finished_at IS NULL AND w.closed_at IS NULL AND last.no + jsonb_array_length($3::jsonb) <= $4)),
	put AS (INSERT INTO wash_events (id, wash_id, kind, step, at, seq, body, undoes, by_id, received_at, detail, device, late, no)
		SELECT t.id, head.id, t.kind, t.step, t.at, t.seq, t.body, t.undoes, t.by_id, $2, t.detail, t.device, t.late,
			head.last + row_number() OVER ()
		FROM head, jsonb_to_recordset($3::jsonb) AS t(id uuid, kind text, step text, at timestamptz, seq int, body text,
			undoes text, by_id uuid, detail jsonb, device text, late boolean)
		WHERE NOT EXISTS (SELECT 1 FROM wash_events e WHERE e.id = t.id AND e.wash_id = $1) RETURNING no)
	SELECT coalesce((SELECT last FROM head), 0) + count(*), EXISTS (SELECT 1 FROM head) FROM put`

// put reads what putTaps did.
func put(row interface{ Scan(...any) error }) (log int64, done bool, err error) {
	err = row.Scan(&log, &done)
	var pg *pgconn.PgError
	if errors.As(err, &pg) && pg.Code == duplicateKey {
		return 0, false, of("event ids are used on another wash", ErrTaken)
	}
	return log, done, translate(err, "events")
}

// append writes taps within a transaction that holds the visit, and gives how many the log has then.
func (s *Store) append(ctx context.Context, washID string, events []wash.Event, received time.Time) (log int64, err error) {
	batch, err := tapBatch(events)
	if err != nil {
		return 0, err
	}
	log, _, err = put(s.with(ctx).Statement.ConnPool.QueryRowContext(ctx, putTaps, washID, received, batch, nil))
	return log, err
}

// keepTimes stores or takes back what follows from a finished wash, when the log's finish, or the times under it,
// have changed: its times, who washed, what it took off the shelf, what its vehicle needs next, and where the vehicle
// stands. The booking must be held.
func (s *Store) keepTimes(ctx context.Context, v *held, washID string, log []wash.Event) error {
	var w Wash
	err := s.with(ctx).Select("id", "steps", "rework", "uses", "used", "washer_id", "finished_at", "serviced",
		"audit_id").Where("id = ?", washID).Take(&w).Error
	if err != nil {
		return translate(err, "wash")
	}
	state := wash.Fold(w.Steps(), log)
	if state.Finished.IsZero() && w.FinishedAt == nil {
		return nil
	}
	if err := s.storeTimes(ctx, w, state, log); err != nil {
		return err
	}
	if err := s.countUses(ctx, w, state); err != nil {
		return err
	}
	if err := s.keepCare(ctx, v.VehicleID); err != nil {
		return err
	}
	return s.moveByTaps(ctx, v, w, state)
}

// storeTimes keeps the times of a wash as its log, and the lead's corrections, have them.
func (s *Store) storeTimes(ctx context.Context, w Wash, state wash.State, log []wash.Event) error {
	var started, finished *time.Time
	var summary any
	if !state.Finished.IsZero() {
		corrections, err := s.Corrections(ctx, w.ID)
		if err != nil {
			return err
		}
		text, err := json.Marshal(timing.Of(w.Steps(), state.Corrected(docsOf(corrections))))
		if err != nil {
			return err
		}
		end := state.Finished.UTC()
		finished, summary = &end, string(text)
		if begin := state.Started.UTC(); !state.Started.IsZero() {
			started = &begin
		}
	}
	washers, err := json.Marshal(wash.Washers(w.WasherID, w.Steps(), log))
	if err != nil {
		return err
	}
	hands, err := json.Marshal(wash.Hands(w.WasherID, log))
	if err != nil {
		return err
	}
	err = s.with(ctx).
		Exec(`UPDATE washes SET started_at = ?, finished_at = ?, summary = ?::jsonb, covered = ?, times_at = clock_timestamp(),
		washers = ARRAY(SELECT x::uuid FROM jsonb_array_elements_text(?::jsonb) x),
		hands = ARRAY(SELECT x::uuid FROM jsonb_array_elements_text(?::jsonb) x) WHERE id = ?`,
			started, finished, summary, state.Covered(w.Steps()), string(washers), string(hands), w.ID).
		Error
	if err != nil || w.AuditID == nil {
		return translate(err, "wash")
	}
	return s.markSigners(ctx, w.ID, wash.TooLate(log))
}

func docsOf(rows []Correction) []wash.Correction {
	docs := make([]wash.Correction, len(rows))
	for i, r := range rows {
		docs[i] = r.Doc
	}
	return docs
}

// moveByTaps moves the vehicle on as its taps say.
func (s *Store) moveByTaps(ctx context.Context, v *held, w Wash, state wash.State) error {
	passed := false
	if w.AuditID != nil {
		a, err := find[Audit](ctx, s, "audit", "id = ?", *w.AuditID)
		if err != nil {
			return err
		}
		passed = a.Result != nil && a.Result.Passed
	}
	if m := v.Stage.Tapped(!state.Finished.IsZero(), state.ReworkLeft(w.Steps()), passed); m != "" {
		return v.move(m)
	}
	return nil
}

// keepCare works out what a vehicle needs next from its finished washes.
func (s *Store) keepCare(ctx context.Context, vehicleID string) error {
	var last struct {
		Washed, Covered, Serviced *time.Time
		Protection                *string
		Salt                      bool
	}
	err := s.with(ctx).Raw(`SELECT max(w.finished_at) AS washed,
		max(w.finished_at) FILTER (WHERE w.covered) AS covered, max(w.finished_at) FILTER (WHERE w.serviced) AS serviced,
		(array_agg(l.doc->>'protection' ORDER BY w.finished_at DESC))[1] AS protection,
			coalesce((array_agg((l.doc->>'salt')::bool ORDER BY w.finished_at DESC))[1], false) AS salt
		FROM washes w JOIN bookings b ON b.id = w.booking_id JOIN look_overs l ON l.booking_id = b.id
		WHERE b.vehicle_id = ? AND w.finished_at IS NOT NULL`, vehicleID).Scan(&last).Error
	if err != nil {
		return translate(err, "vehicle")
	}
	var care, due any
	if last.Washed != nil {
		c := condition.Care{Past: condition.Past{Washed: last.Washed.UTC(), Covered: orZero(last.Covered),
			Serviced: orZero(last.Serviced), Salt: last.Salt}}
		if last.Protection != nil {
			if err := json.Unmarshal([]byte(*last.Protection), &c.Protection); err != nil {
				return fmt.Errorf("protection: %w", err)
			}
		}
		text, err := json.Marshal(c)
		if err != nil {
			return err
		}
		care = string(text)
		if list := c.Due(); len(list) > 0 {
			due = list[0].At
		}
	}
	return translate(
		s.with(ctx).Exec("UPDATE vehicles SET care = ?::jsonb, due_at = ? WHERE id = ?", care, due, vehicleID).Error,
		"vehicle",
	)
}

func orZero(t *time.Time) time.Time {
	if t == nil {
		return time.Time{}
	}
	return t.UTC()
}

// Correct keeps the lead's correction of a closed wash beside its log, and works its times out anew.
func (s *Store) Correct(ctx context.Context, c Correction) error {
	return s.atVisit(ctx, ofWash, c.WashID, func(in *Store, _ *held) error {
		w, err := in.Wash(ctx, c.WashID)
		if err != nil {
			return err
		}
		if w.FinishedAt == nil || w.ClosedAt == nil {
			return ErrOpen
		}
		log, err := in.Events(ctx, c.WashID)
		if err != nil {
			return err
		}
		state := wash.Fold(w.Steps(), log)
		if err := c.Doc.Check(state); err != nil {
			return &Refused{0, err}
		}
		if err := in.with(ctx).Omit("By").Create(&c).Error; err != nil {
			return translate(err, "correction")
		}
		return in.storeTimes(ctx, w, state, log)
	})
}

// ErrOpen means that a wash is not closed yet: its own people still undo and tap.
var ErrOpen = errors.New("the wash is not closed yet")

// Corrections lists the corrections of a wash, oldest first.
func (s *Store) Corrections(ctx context.Context, washID string) ([]Correction, error) {
	rows := []Correction{}
	err := s.with(ctx).
		Joins("By").
		Where("wash_id = ?", washID).
		Order("corrections.at, corrections.id").
		Find(&rows).
		Error
	return rows, translate(err, "corrections")
}
