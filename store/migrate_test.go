package store_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/drill"
	"uskel/core/procedure"
	"uskel/core/visit"
	"uskel/core/wash"
	"uskel/store"
	"uskel/store/storetest"
)

// before0007 is a small shop as a server left it whose vehicles had no stage, whose products went by name, cloths by
// colour and places by name.
const before0007 = `
INSERT INTO people (id, name, sign_in, role, password_hash) VALUES
	('00000000-0000-4000-8000-000000000001', 'Ann', 'ann', 'lead', 'x'), ('00000000-0000-4000-8000-000000000002', 'Bo', 'bo', 'washer', 'x'),
	('00000000-0000-4000-8000-000000000003', 'Cy', 'cy', 'auditor', 'x');
INSERT INTO settings (id, version, doc) VALUES (1, 1,
	'{"shopName":"Yard","timeZone":"UTC","places":[{"name":"Bay","cover":"indoors","supply":"hose"}],
	"machines":[{"name":"blower","count":2}]}');
INSERT INTO vehicles (id, plate, label, spec) VALUES ('00000000-0000-4000-8000-000000000010', 'OLD 1', 'old hatch', '{"body":"hatch"}');
INSERT INTO products (id, doc) VALUES ('foam', '{"id":"foam","name":"Old foam"}');
INSERT INTO stock (product_id, counted_ml, counted_at, lead_days, version) VALUES ('foam', 1000, '2026-04-10T11:00:00Z', 5, 1);
INSERT INTO cloths (id, kind, colour, count, wash_limit, since) VALUES ('00000000-0000-4000-8000-000000000020',
	'mitt', 'tide: paint', 4, 60, '2026-01-01');
INSERT INTO procedures (id, version, doc, published_at) VALUES ('maintenance', 1, '{"id":"maintenance","version":1}', '2026-01-01');
INSERT INTO checklists (id, version, doc, published_at) VALUES ('starter', 1, '{"id":"starter","version":1,"items":[]}', '2026-01-01');
INSERT INTO bookings (id, vehicle_id, arrives_at, promised_at, service, place, washer_id)
	SELECT ('00000000-0000-4000-8000-00000000003' || n)::uuid, '00000000-0000-4000-8000-000000000010',
		'2026-04-10T08:00:00Z', '2026-04-10T10:00:00Z', 'basic', '{"name":"Bay"}', NULL
	FROM generate_series(0, 5) n;
INSERT INTO look_overs (booking_id, version, doc, by_id, at)
	SELECT id, 1, '{"grades":{},"protection":{"kind":"wax","ageDays":3,"water":"beads"},"salt":true}',
		'00000000-0000-4000-8000-000000000001',
		'2026-04-10T08:05:00Z' FROM bookings WHERE id::text > '00000000-0000-4000-8000-000000000030';
INSERT INTO washes (id, booking_id, plan, steps, rework, uses, washer_id, created_at, finished_at, summary)
	SELECT ('00000000-0000-4000-8000-00000000004' || right(id::text, 1))::uuid, id,
		'{"procedure":"maintenance","title":"Maintenance","version":1,"overall":2,"family":"F4"}',
		'[{"id":"foam","stage":"Pre-wash","title":"Foam","minutes":2,"product":"Old foam"},
		{"id":"wax","stage":"Protect","title":"Wax","minutes":2}]',
		CASE right(id::text, 1) WHEN '5' THEN
			'[{"id":"rework-1","stage":"Rework","title":"Front","minutes":2,"rework":true}]' ELSE '[]' END::jsonb,
		'{"products":{"Old foam":100},"cloths":{"tide: paint":2}}', '00000000-0000-4000-8000-000000000002', '2026-04-10T08:10:00Z',
		CASE WHEN right(id::text, 1) > '2' THEN timestamptz '2026-04-10T10:30:00Z' + (right(id::text, 1))::int * interval '1 hour' END,
		'{"stages":[],"steps":[],"dwelling":[],"planned":4,"minutes":4}' FROM bookings WHERE right(id::text, 1) > '1';
INSERT INTO wash_events (id, wash_id, kind, step, at, seq, body, undoes, by_id, received_at, detail) VALUES
	('00000000-0000-4000-8000-000000000051', '00000000-0000-4000-8000-000000000043', 'hand over', 'foam',
		'2026-04-10T08:20:00Z', 1, '', '', '00000000-0000-4000-8000-000000000002', '2026-04-10T08:20:00Z',
		'{"to":"00000000-0000-4000-8000-000000000001"}'),
	('00000000-0000-4000-8000-000000000052', '00000000-0000-4000-8000-000000000045', 'finish', '',
		'2026-04-10T15:30:00Z', 2, '', '', '00000000-0000-4000-8000-000000000002', '2026-04-10T15:30:00Z', '{}');
INSERT INTO audits (id, wash_id, auditor_id, checklist_id, checklist_version, started_at, closed_at, result) VALUES
	('00000000-0000-4000-8000-000000000064', '00000000-0000-4000-8000-000000000044',
		'00000000-0000-4000-8000-000000000003', 'starter', 1, '2026-04-10T15:00:00Z', '2026-04-10T15:10:00Z',
		'{"score":0,"passed":false,"findings":[],"open":[]}'),
	('00000000-0000-4000-8000-000000000065', '00000000-0000-4000-8000-000000000045',
		'00000000-0000-4000-8000-000000000003', 'starter', 1, '2026-04-10T16:00:00Z', '2026-04-10T16:10:00Z',
		'{"score":80,"passed":true,"findings":[],"open":[]}');
`

// What an older server left is brought to where it stands now: vehicles to their stages, what was used to ids, washes
// to whoever washed.
func TestAnOlderShopIsBroughtAlong(t *testing.T) {
	s, err := store.Open(ctx, storetest.Bare(t))
	require.NoError(t, err)
	defer s.Close()
	require.NoError(t, s.MigrateTo(ctx, 6))
	_, err = s.Pool.Exec(ctx, before0007)
	require.NoError(t, err)
	lacks, _, err := s.Schema(ctx)
	require.NoError(t, err)
	assert.Positive(t, lacks)
	require.NoError(t, s.Migrate(ctx))

	day := time.Date(2026, 4, 10, 0, 0, 0, 0, time.UTC)
	views, err := s.Bookings(ctx, day, day.AddDate(0, 0, 1))
	require.NoError(t, err)
	stages := map[string]visit.Stage{}
	for _, v := range views {
		stages[v.Booking.ID[35:]] = v.Booking.Stage
		assert.Equal(t, "Bay", v.Booking.Place.ID, "a place keeps the name it had as its id")
	}
	assert.Equal(t, map[string]visit.Stage{"0": visit.Booked, "1": visit.LookedOver, "2": visit.InBay,
		"3": visit.ToAudit, "4": visit.Failed, "5": visit.Rework}, stages)

	used, err := s.UsedProducts(ctx, day)
	require.NoError(t, err)
	assert.EqualValues(t, 300, used["foam"].Since, "three washes finished after the count")
	worn, err := s.UsedCloths(ctx)
	require.NoError(t, err)
	assert.EqualValues(t, 6, worn["00000000-0000-4000-8000-000000000020"].Since)

	ann := "00000000-0000-4000-8000-000000000001"
	lines, err := s.WashLines(ctx, store.WashQuery{Since: day, Before: day.AddDate(0, 0, 2), Most: 10, Asks: ann})
	require.NoError(t, err)
	require.Len(t, lines, 3)
	mine := 0
	for _, l := range lines {
		if l.Mine {
			mine++
		}
	}
	assert.Equal(t, 1, mine, "who took a step over washed")

	// The yard goes on: rework is done, and the vehicle is ready; what is signed is signed by whoever opened it.
	washID := "00000000-0000-4000-8000-000000000045"
	e := event(wash.Done, "rework-1", 10, "00000000-0000-4000-8000-000000000002")
	e.At = day.Add(17 * time.Hour)
	_, err = s.Tap(ctx, washID, []wash.Event{e}, day.Add(17*time.Hour))
	require.NoError(t, err)
	assert.Equal(t, visit.Ready, standing(t, s, "00000000-0000-4000-8000-000000000035"))
	a, err := s.Audit(ctx, "00000000-0000-4000-8000-000000000064")
	require.NoError(t, err)
	assert.Equal(t, "Cy", a.Signer.Name)
}

// before0008 is a sign-in and a notice as a server left them that knew neither devices nor waiting notices.
const before0008 = `
INSERT INTO people (id, name, sign_in, role, password_hash) VALUES ('00000000-0000-4000-8000-000000000001', 'Ann', 'ann', 'lead', 'x');
INSERT INTO vehicles (id, plate, label, spec) VALUES ('00000000-0000-4000-8000-000000000010', 'OLD 1', 'old hatch', '{"body":"hatch"}');
INSERT INTO bookings (id, vehicle_id, arrives_at, promised_at, service, place) VALUES ('00000000-0000-4000-8000-000000000030',
	'00000000-0000-4000-8000-000000000010', '2026-04-10T08:00:00Z', '2026-04-10T10:00:00Z', 'basic', '{"id":"bay","name":"Bay"}');
INSERT INTO notices (id, booking_id, text, by_id, at) VALUES ('00000000-0000-4000-8000-000000000070',
	'00000000-0000-4000-8000-000000000030',
	'Ready', '00000000-0000-4000-8000-000000000001', '2026-04-10T10:00:00Z');
INSERT INTO sessions (token, data, expiry) VALUES ('x', 'y', now() + interval '1 day');
`

// A shop of the version before gets its door: people as they were, notices that were sent, and everybody signs in
// once more.
func TestAShopOfTheVersionBeforeGetsItsDoor(t *testing.T) {
	s, err := store.Open(ctx, storetest.Bare(t))
	require.NoError(t, err)
	defer s.Close()
	require.NoError(t, s.MigrateTo(ctx, 7))
	_, err = s.Pool.Exec(ctx, before0008)
	require.NoError(t, err)
	require.NoError(t, s.Migrate(ctx))
	ann, err := s.PersonBySignIn(ctx, "ann")
	require.NoError(t, err)
	assert.Equal(
		t,
		store.Person{ID: ann.ID, Name: "Ann", SignIn: "ann", Role: "lead", PasswordHash: "x", Active: true, Version: 1},
		ann,
	)
	waiting, _, err := s.Unsent(ctx)
	require.NoError(t, err)
	assert.Zero(t, waiting)
	counts, err := s.Counts(ctx)
	require.NoError(t, err)
	assert.Zero(t, counts["sessions"])
	assert.Equal(t, 1, counts["notices"])
	require.NoError(t, s.Migrate(ctx), "a second time changes nothing")
}

// before0014 are a run that was judged and one that goes on, as a server left them that knew washing by hand alone.
const before0014 = `
INSERT INTO people (id, name, sign_in, role, password_hash) VALUES ('00000000-0000-4000-8000-000000000001', 'Ann', 'ann', 'lead', 'x');
INSERT INTO drill_runs (id, person_id, title, drill, actions, level, started_at, finished_at, result) VALUES
	('00000000-0000-4000-8000-000000000080', '00000000-0000-4000-8000-000000000001', 'old', '{"title":"old","level":2}', '[]', 2,
		'2026-04-10T08:00:00Z', '2026-04-10T08:05:00Z', '{"passed":true,"why":[],"remarks":[],"index":40.5,"planIndex":38,"rinses":2,
		"planRinses":1,"seconds":300,"planSeconds":210}'),
	('00000000-0000-4000-8000-000000000081', '00000000-0000-4000-8000-000000000001', 'open', '{"title":"open","level":1}', '[]', 1,
		'2026-04-11T08:00:00Z', NULL, NULL);
`

// Drills that were played when there was one kind are washing by hand, with the figures that they had.
func TestOldDrillsAreWashingByHand(t *testing.T) {
	s, err := store.Open(ctx, storetest.Bare(t))
	require.NoError(t, err)
	defer s.Close()
	require.NoError(t, s.MigrateTo(ctx, 13))
	_, err = s.Pool.Exec(ctx, before0014)
	require.NoError(t, err)
	require.NoError(t, s.Migrate(ctx))

	run, err := s.Run(ctx, "00000000-0000-4000-8000-000000000080")
	require.NoError(t, err)
	assert.Equal(t, drill.ByHand, run.Drill.Kind)
	assert.Equal(t, "old", run.Drill.Mitt.Title)
	assert.Equal(t, procedure.SkillMitt, run.Skill)
	require.NotNil(t, run.Result)
	assert.True(t, run.Result.Passed)
	require.Len(t, run.Result.Figures, 3)
	assert.Equal(t, drill.RunFigure{Label: "Scratch risk", Yours: 40.5, Plan: new(38.0)}, run.Result.Figures[0])
	assert.Equal(t, 300.0, run.Result.Figures[2].Yours)

	run, err = s.Run(ctx, "00000000-0000-4000-8000-000000000081")
	require.NoError(t, err)
	assert.Equal(t, "open", run.Drill.Mitt.Title)
	assert.Nil(t, run.Result)
}
