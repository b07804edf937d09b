package store

import (
	"context"
	"encoding/json"
	"slices"
	"sync"
	"time"

	"uskel/core/audit"
	"uskel/core/climate"
	"uskel/core/visit"
	"uskel/core/wash"
)

// foundSQL reads first audits; what is told of few of them is read apart (backs, upheld), so that many are read in a moment.
const foundSQL = `SELECT a.id::text, a.wash_id::text, b.id::text, v.label, v.plate, a.closed_at, w.washer_id::text, p.name, w.procedure,
	w.title, w.version, coalesce(b.place ->> 'name', ''), coalesce(b.place ->> 'cover', ''), w.minutes, w.risk,
	ARRAY(SELECT jsonb_object_keys(w.uses -> 'cloths')), ARRAY(SELECT jsonb_object_keys(w.uses -> 'products')),
	coalesce(nullif(nullif(a.result -> 'findings', 'null'), '[]')::text, '')
	FROM audits a JOIN washes w ON w.id = a.wash_id JOIN bookings b ON b.id = w.booking_id JOIN vehicles v ON v.id = b.vehicle_id
	JOIN people p ON p.id = w.washer_id
	WHERE a.round = 1 AND a.closed_at >= $1 AND a.closed_at < $2 AND ($3 = '' OR w.washer_id::text = $3)
	ORDER BY a.closed_at DESC, a.id LIMIT $4`

// signedFindings holds the findings of signed audits as they were unpacked: what is signed stays, and unpacking is most of what
// counting many audits costs. What is in it is shared and must not be changed.
type signedFindings struct {
	mu sync.Mutex
	by map[string]signedText
}

type signedText struct {
	text     string
	findings []audit.Traced
}

// mostSigned is how many are held: the weeks that a busy shop looks at, some 40 MB.
const mostSigned = 25_000

func (f *signedFindings) of(id, text string) ([]audit.Traced, error) {
	f.mu.Lock()
	held, known := f.by[id]
	f.mu.Unlock()
	if known && held.text == text {
		return held.findings, nil
	}
	var findings []audit.Traced
	if err := json.Unmarshal([]byte(text), &findings); err != nil {
		return nil, err
	}
	f.mu.Lock()
	defer f.mu.Unlock()
	if f.by == nil || len(f.by) >= mostSigned {
		f.by = map[string]signedText{}
	}
	f.by[id] = signedText{text, findings}
	return findings, nil
}

// complainedWithin is how soon a complaint says that something was missed.
const complainedWithin = 7 * 24 * time.Hour

// FoundIn are the first audits that were signed in a time, with what they found, the newest first; of one washer when one is named.
func (s *Store) FoundIn(ctx context.Context, since, before time.Time, washer string, most int) ([]audit.Audited, error) {
	backs, err := s.backs(ctx, since)
	if err != nil {
		return nil, err
	}
	upheld, err := s.upheld(ctx, since)
	if err != nil {
		return nil, err
	}
	sets, err := s.clothNames(ctx)
	if err != nil {
		return nil, err
	}
	products, err := s.productNames(ctx)
	if err != nil {
		return nil, err
	}
	left, err := s.leftOut(ctx, since)
	if err != nil {
		return nil, err
	}
	reworked, err := s.reworked(ctx, since)
	if err != nil {
		return nil, err
	}
	rows, err := s.Pool.Query(ctx, foundSQL, since, before, washer, most)
	if err != nil {
		return nil, translate(err, "audits")
	}
	defer rows.Close()
	all := []audit.Audited{}
	for rows.Next() {
		var a audit.Audited
		var booking, cover, findings string
		var cloths, used []string
		if err := rows.Scan(&a.ID, &a.WashID, &booking, &a.Label, &a.Plate, &a.At, &a.WasherID, &a.Washer, &a.Procedure, &a.Title,
			&a.Version, &a.Place, &cover, &a.Minutes, &a.Risk, &cloths, &used, &findings); err != nil {
			return nil, translate(err, "audits")
		}
		a.Cover, a.Left = climate.Cover(cover), left[a.WashID]
		a.Cloths, a.Products = namesOf(cloths, sets), namesOf(used, products)
		if findings != "" {
			signed, err := s.signed.of(a.ID, findings)
			if err != nil {
				return nil, err
			}
			if done, asked := reworked[a.ID]; asked {
				signed = audit.Reworked(signed, done.took, done.through)
			}
			a.Findings = audit.Unsettle(signed, upheld[a.ID])
		}
		for _, back := range backs[booking] {
			a.CameBack = a.CameBack || back.After(a.At) && back.Before(a.At.Add(complainedWithin))
		}
		all = append(all, a)
	}
	return all, translate(rows.Err(), "audits")
}

// reworkDone is what was tapped of the rework that an audit asked for: min by step, and whether the vehicle is through.
type reworkDone struct {
	took    map[string]float64
	through bool
}

// reworked is what the rework of first audits signed since a moment took.
func (s *Store) reworked(ctx context.Context, since time.Time) (map[string]reworkDone, error) {
	rows, err := s.Pool.Query(ctx, `SELECT a.id::text, b.stage, t.step, t.actual FROM audits a JOIN washes w ON w.id = a.wash_id
		JOIN bookings b ON b.id = w.booking_id
		LEFT JOIN LATERAL (SELECT st ->> 'step' AS step, (st ->> 'actual')::float8 AS actual
			FROM jsonb_array_elements(w.summary -> 'steps') st WHERE (st ->> 'rework')::bool) t ON true
		WHERE a.round = 1 AND a.closed_at >= $1 AND jsonb_array_length(w.rework) > 0`, since)
	if err != nil {
		return nil, translate(err, "rework")
	}
	defer rows.Close()
	done := map[string]reworkDone{}
	for rows.Next() {
		var id string
		var stage visit.Stage
		var step *string
		var minutes *float64
		if err := rows.Scan(&id, &stage, &step, &minutes); err != nil {
			return nil, translate(err, "rework")
		}
		if _, there := done[id]; !there {
			done[id] = reworkDone{map[string]float64{}, !stage.Open()}
		}
		if step != nil && minutes != nil {
			done[id].took[*step] = *minutes
		}
	}
	return done, translate(rows.Err(), "rework")
}

// namesOf are the names of what a wash took; it is kept by its id.
func namesOf(used []string, known map[string]string) []string {
	names := make([]string, 0, len(used))
	for _, id := range used {
		if name, is := known[id]; is && !slices.Contains(names, name) {
			names = append(names, name)
		}
	}
	return names
}

// clothNames names the sets of cloths, each with since when: batches of one kind are told apart by that.
func (s *Store) clothNames(ctx context.Context) (map[string]string, error) {
	rows, err := list[ClothRow](ctx, s, "cloths", "id", "true")
	names := map[string]string{}
	for _, c := range rows {
		names[c.ID] = c.Kind + ", " + c.Colour + ", since " + c.Since.UTC().Format("2 Jan 2006")
	}
	return names, err
}

// productNames names the products by their ids, in whatever version.
func (s *Store) productNames(ctx context.Context) (map[string]string, error) {
	rows, err := list[productRow](ctx, s, "products", "id", "true")
	names := map[string]string{}
	for _, p := range rows {
		names[p.ID] = p.Doc.Name
	}
	return names, err
}

// leftOut are the titles of the steps that were left out in the bay since a time, by wash, unless that was taken back or the step
// was taken in hand after all.
func (s *Store) leftOut(ctx context.Context, since time.Time) (map[string][]string, error) {
	var rows []struct{ WashID, Title string }
	err := s.with(ctx).Raw(`SELECT DISTINCT e.wash_id, planned.doc ->> 'title' AS title FROM wash_events e JOIN washes w ON w.id = e.wash_id
		CROSS JOIN LATERAL jsonb_array_elements(w.steps) AS planned(doc)
		WHERE e.kind = 'skip' AND e.at >= ? AND NOT e.late AND planned.doc ->> 'id' = e.step
		AND NOT EXISTS (SELECT 1 FROM wash_events u WHERE u.wash_id = e.wash_id AND NOT u.late
			AND (u.kind = 'undo' AND u.undoes = e.id::text AND u.by_id = e.by_id OR u.kind = 'reopen' AND u.step = e.step AND u.at > e.at))
		ORDER BY title`, since.Add(-longestWash)).Scan(&rows).Error
	left := map[string][]string{}
	for _, r := range rows {
		left[r.WashID] = append(left[r.WashID], r.Title)
	}
	return left, translate(err, "steps")
}

// longestWash is how long before its audit a wash may have begun.
const longestWash = 48 * time.Hour

// backs is when visits came back since a moment, by booking.
func (s *Store) backs(ctx context.Context, since time.Time) (map[string][]time.Time, error) {
	var rows []VisitMove
	err := s.with(ctx).Where("move = 'come back' AND at >= ?", since).Find(&rows).Error
	backs := map[string][]time.Time{}
	for _, m := range rows {
		backs[m.BookingID] = append(backs[m.BookingID], m.At)
	}
	return backs, translate(err, "moves")
}

// upheld are the items that were settled for whoever washed, by audit, of disputes since a moment.
func (s *Store) upheld(ctx context.Context, since time.Time) (map[string][]string, error) {
	rows, err := list[Dispute](ctx, s, "disputes", "id", "upheld AND at >= ?", since)
	items := map[string][]string{}
	for _, d := range rows {
		items[d.AuditID] = append(items[d.AuditID], d.Item)
	}
	return items, err
}

// LookedAt is what looks on the way came to since a time, by wash; of one washer's washes when one is named. What was taken back
// counts for nothing.
func (s *Store) LookedAt(ctx context.Context, since time.Time, washer string) (map[string][]wash.Looked, error) {
	rows, err := s.Pool.Query(ctx, `SELECT e.wash_id::text, e.at, e.by_id::text, coalesce(e.detail ->> 'look', ''),
		coalesce(e.detail ->> 'found', '') FROM wash_events e JOIN washes w ON w.id = e.wash_id
		WHERE e.kind = 'checked' AND e.at >= $1 AND NOT e.late AND ($2 = '' OR w.washer_id::text = $2)
		AND NOT EXISTS (SELECT 1 FROM wash_events u WHERE u.wash_id = e.wash_id AND u.kind = 'undo' AND NOT u.late
			AND u.undoes = e.id::text AND u.by_id = e.by_id)
		ORDER BY e.at, e.seq, e.id`, since, washer)
	if err != nil {
		return nil, translate(err, "looks")
	}
	defer rows.Close()
	logs, looks := map[string][]wash.Event{}, map[string][]wash.Looked{}
	for rows.Next() {
		var id string
		e := wash.Event{Kind: wash.Checked}
		if err := rows.Scan(&id, &e.At, &e.By, &e.Look, &e.Found); err != nil {
			return nil, translate(err, "looks")
		}
		e.At = e.At.UTC()
		logs[id] = append(logs[id], e)
	}
	for id, log := range logs {
		looks[id] = wash.LookedAt(log)
	}
	return looks, translate(rows.Err(), "looks")
}
