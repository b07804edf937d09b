-- +goose Up
-- What belongs to a yard says which. There is one so far; a second gets its own rows, not its own queries.
CREATE TABLE yards (
    id   uuid PRIMARY KEY,
    name text NOT NULL
);
INSERT INTO yards (id, name) VALUES ('00000000-0000-7000-8000-000000000001', 'Yard');
ALTER TABLE people ADD COLUMN yard_id uuid NOT NULL DEFAULT '00000000-0000-7000-8000-000000000001' REFERENCES yards;
ALTER TABLE settings ADD COLUMN yard_id uuid NOT NULL DEFAULT '00000000-0000-7000-8000-000000000001' REFERENCES yards;
ALTER TABLE bookings ADD COLUMN yard_id uuid NOT NULL DEFAULT '00000000-0000-7000-8000-000000000001' REFERENCES yards;
ALTER TABLE washes ADD COLUMN yard_id uuid NOT NULL DEFAULT '00000000-0000-7000-8000-000000000001' REFERENCES yards;
ALTER TABLE stock ADD COLUMN yard_id uuid NOT NULL DEFAULT '00000000-0000-7000-8000-000000000001' REFERENCES yards;
ALTER TABLE cloths ADD COLUMN yard_id uuid NOT NULL DEFAULT '00000000-0000-7000-8000-000000000001' REFERENCES yards;
ALTER TABLE standards ADD COLUMN yard_id uuid NOT NULL DEFAULT '00000000-0000-7000-8000-000000000001' REFERENCES yards;
ALTER TABLE notices ADD COLUMN yard_id uuid NOT NULL DEFAULT '00000000-0000-7000-8000-000000000001' REFERENCES yards;

-- Where a vehicle stands (core/visit), changed only with its booking's row held.
ALTER TABLE bookings ADD COLUMN stage text NOT NULL DEFAULT 'booked'
    CHECK (stage IN ('booked', 'cancelled', 'did not come', 'looked over', 'in the bay',
    'broken off', 'to audit', 'being audited', 'rework', 'failed', 'ready', 'handed over', 'come back'));
UPDATE bookings b SET stage = 'looked over' WHERE EXISTS (SELECT 1 FROM look_overs l WHERE l.booking_id = b.id);
UPDATE bookings b SET stage = CASE
        WHEN w.finished_at IS NULL THEN 'in the bay'
        WHEN a.id IS NULL THEN 'to audit'
        WHEN a.closed_at IS NULL THEN 'being audited'
        WHEN jsonb_array_length(w.rework) > (SELECT count(DISTINCT e.step) FROM wash_events e WHERE e.wash_id = w.id
            AND e.step LIKE 'rework-%' AND e.kind IN ('done', 'skip')) THEN 'rework'
        WHEN (a.result->>'passed')::bool THEN 'ready'
        ELSE 'failed'
    END
    FROM washes w LEFT JOIN audits a ON a.wash_id = w.id WHERE w.booking_id = b.id;
-- How often each version was washed by is read without the washes.
CREATE INDEX washes_version ON washes (procedure, version);
CREATE INDEX bookings_promised_at ON bookings (promised_at);
CREATE INDEX bookings_vehicle ON bookings (vehicle_id);

-- What somebody said of a visit, oldest first: cancelled, broken off, handed over, and what was taken back.
CREATE TABLE visit_moves (
    id         uuid PRIMARY KEY,
    booking_id uuid NOT NULL REFERENCES bookings,
    move       text NOT NULL,
    from_stage text NOT NULL,
    to_stage   text NOT NULL,
    why        text NOT NULL,
    by_id      uuid NOT NULL REFERENCES people,
    at         timestamptz NOT NULL
);
CREATE INDEX visit_moves_booking ON visit_moves (booking_id, at);

-- A wash is closed once its audit has begun, it was released or handed over. What was frozen as it began: version, arrangement, answers.
ALTER TABLE washes
    ADD COLUMN closed_at timestamptz,
    ADD COLUMN frozen    jsonb NOT NULL DEFAULT '{}',
    ADD COLUMN audit_id  uuid REFERENCES audits,
    ADD COLUMN washers   uuid[] NOT NULL DEFAULT '{}',
    ADD COLUMN covered   boolean NOT NULL DEFAULT false,
    ADD COLUMN serviced  boolean NOT NULL DEFAULT false,
    ADD COLUMN times_at  timestamptz;
UPDATE washes w SET audit_id = a.id, closed_at = a.started_at FROM audits a WHERE a.wash_id = w.id;
UPDATE washes w SET
    washers = ARRAY(SELECT DISTINCT x FROM unnest(ARRAY[w.washer_id] || ARRAY(SELECT e.by_id FROM wash_events e
        WHERE e.wash_id = w.id AND e.kind NOT IN ('note', 'bonded', 'help', 'undo', 'skip'))
        || ARRAY(SELECT (e.detail->>'to')::uuid FROM wash_events e WHERE e.wash_id = w.id AND e.kind = 'hand over')) x),
    covered = EXISTS (SELECT 1 FROM jsonb_array_elements(w.steps) s WHERE s->>'id' IN ('seal', 'topup', 'wax')),
    serviced = coalesce(w.plan->>'family', '') = 'F4',
    times_at = w.finished_at;
-- The statistics read washes as they were timed, and those that changed since.
CREATE INDEX washes_times_at ON washes (times_at) INCLUDE (id);

ALTER TABLE wash_events
    ADD COLUMN device text NOT NULL DEFAULT '',
    ADD COLUMN late   boolean NOT NULL DEFAULT false;

-- The lead's corrections of closed washes. The log and the times by it stay as they were.
CREATE TABLE corrections (
    id      uuid PRIMARY KEY,
    wash_id uuid NOT NULL REFERENCES washes,
    doc     jsonb NOT NULL,
    by_id   uuid NOT NULL REFERENCES people,
    at      timestamptz NOT NULL
);
CREATE INDEX corrections_wash ON corrections (wash_id, at);

-- A wash that failed is put right and audited again; each round stays as it was signed, with who signed it.
ALTER TABLE audits
    ADD COLUMN round     int NOT NULL DEFAULT 1,
    ADD COLUMN signer_id uuid REFERENCES people;
UPDATE audits SET signer_id = auditor_id WHERE closed_at IS NOT NULL;
ALTER TABLE audits DROP CONSTRAINT audits_wash_id_key;
ALTER TABLE audits ADD CONSTRAINT audits_wash_round UNIQUE (wash_id, round);
CREATE INDEX audits_auditor ON audits (auditor_id);

-- Answers that came after an audit was signed: beside it, never in it.
CREATE TABLE audit_remarks (
    id       uuid PRIMARY KEY,
    audit_id uuid NOT NULL REFERENCES audits,
    item     text NOT NULL,
    answer   jsonb NOT NULL,
    by_id    uuid NOT NULL REFERENCES people,
    at       timestamptz NOT NULL
);
CREATE INDEX audit_remarks_audit ON audit_remarks (audit_id, at);

-- What vehicles need next, worked out as their washes finish.
ALTER TABLE vehicles
    ADD COLUMN care   jsonb,
    ADD COLUMN due_at timestamptz;
CREATE INDEX vehicles_due_at ON vehicles (due_at);

-- What washes took off the shelf, by day: products in ml, cloths in launderings.
CREATE TABLE use_days (
    thing  text NOT NULL,
    day    date NOT NULL,
    amount float8 NOT NULL,
    PRIMARY KEY (thing, day)
);
-- A count in the middle of a day does not count what was used of it before.
ALTER TABLE stock ADD COLUMN before_ml float8 NOT NULL DEFAULT 0;

-- Things go by id: what washes used of products by name, and of cloths by colour, is put to the ones that are there now.
UPDATE washes w SET uses = jsonb_build_object(
    'products', coalesce((SELECT jsonb_object_agg(coalesce(p.id, u.key), u.value)
        FROM jsonb_each(w.uses->'products') u LEFT JOIN products p ON p.doc->>'name' = u.key), '{}'),
    'cloths', coalesce((SELECT jsonb_object_agg(c.id::text, u.value) FROM jsonb_each(w.uses->'cloths') u
        JOIN LATERAL (SELECT id FROM cloths WHERE colour = u.key
            ORDER BY retired_at IS NULL DESC, since DESC LIMIT 1) c ON true), '{}'));
INSERT INTO use_days (thing, day, amount)
    SELECT x.thing, x.day, sum(x.amount) FROM (
        SELECT 'product ' || u.key AS thing, (w.finished_at AT TIME ZONE 'UTC')::date AS day, (u.value #>> '{}')::float8 AS amount FROM washes w, jsonb_each(w.uses->'products') u WHERE w.finished_at IS NOT NULL
        UNION ALL
        SELECT 'cloths ' || u.key, (w.finished_at AT TIME ZONE 'UTC')::date, (u.value #>> '{}')::float8
            FROM washes w, jsonb_each(w.uses->'cloths') u WHERE w.finished_at IS NOT NULL
    ) x GROUP BY x.thing, x.day;
UPDATE stock s SET before_ml = coalesce((SELECT sum((w.uses->'products'->>s.product_id)::float8) FROM washes w
    WHERE w.finished_at < s.counted_at AND (w.finished_at AT TIME ZONE 'UTC')::date = (s.counted_at AT TIME ZONE 'UTC')::date), 0);

-- Places and machines are known by ids from now on: those there are keep the names they had as their ids.
UPDATE settings SET doc = doc || jsonb_build_object('places', (SELECT jsonb_agg(CASE WHEN p ? 'id' THEN p
    ELSE p || jsonb_build_object('id', p->>'name') END ORDER BY n)
    FROM jsonb_array_elements(doc->'places') WITH ORDINALITY AS t(p, n))) WHERE jsonb_typeof(doc->'places') = 'array'
        AND jsonb_array_length(doc->'places') > 0;
UPDATE settings SET doc = doc || jsonb_build_object('machines', (SELECT jsonb_agg(CASE WHEN p ? 'id' THEN p
    ELSE p || jsonb_build_object('id', p->>'name') END ORDER BY n)
    FROM jsonb_array_elements(doc->'machines') WITH ORDINALITY AS t(p, n)))
        WHERE jsonb_typeof(doc->'machines') = 'array' AND jsonb_array_length(doc->'machines') > 0;
UPDATE bookings SET place = place || jsonb_build_object('id', place->>'name') WHERE NOT place ? 'id';

-- The newest sign-off of each skill says whether it is held.
CREATE INDEX sign_offs_newest ON sign_offs (person_id, skill, at DESC);
CREATE INDEX drills_started ON drills (started_at);

-- Sign-in is slowed for all servers together; a name is not locked out where it was signed in before.
CREATE TABLE sign_in_limits (
    key    text PRIMARY KEY,
    tokens float8 NOT NULL,
    at     timestamptz NOT NULL
);
CREATE TABLE sign_in_places (
    person_id uuid NOT NULL REFERENCES people,
    address   text NOT NULL,
    at        timestamptz NOT NULL,
    PRIMARY KEY (person_id, address)
);
-- Sessions are found by a hash that a restored backup does not have; the old ones are ended.
TRUNCATE sessions;



-- What kind of shop this database holds: a demo is never put into a real one, nor a real one wiped for it.
CREATE TABLE shop_kind (
    only_row boolean PRIMARY KEY DEFAULT true CHECK (only_row),
    demo     boolean NOT NULL
);

CREATE TRIGGER tell_new AFTER INSERT ON visit_moves REFERENCING NEW TABLE AS changed FOR EACH STATEMENT
    EXECUTE FUNCTION tell_change('booking', 'booking_id');
CREATE TRIGGER tell_new AFTER INSERT ON audit_remarks REFERENCING NEW TABLE AS changed FOR EACH STATEMENT
    EXECUTE FUNCTION tell_change('audit', 'audit_id');
CREATE TRIGGER tell_new AFTER INSERT ON corrections REFERENCING NEW TABLE AS changed FOR EACH STATEMENT
    EXECUTE FUNCTION tell_change('wash', 'wash_id');
-- A session that ends is told to all servers, so that screens that follow with it end, too.
CREATE TRIGGER tell_gone AFTER DELETE ON sessions REFERENCING OLD TABLE AS changed FOR EACH STATEMENT
    EXECUTE FUNCTION tell_change('session', 'token');
