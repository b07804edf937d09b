-- +goose Up
-- The owner may take the shop's records away and have names forgotten.
ALTER TABLE people DROP CONSTRAINT people_role_check;
ALTER TABLE people ADD CONSTRAINT people_role_check CHECK (role IN ('owner', 'lead', 'washer', 'trainee', 'auditor'));
-- People sign in on a shared tablet by four digits. Nobody signs in by an empty hash.
ALTER TABLE people
    ADD COLUMN pin_hash text NOT NULL DEFAULT '',
    ADD COLUMN version  int  NOT NULL DEFAULT 1;

-- A code that opens once: for somebody new, or who forgot their password.
CREATE TABLE sign_in_codes (
    person_id uuid PRIMARY KEY REFERENCES people,
    hash      text NOT NULL,
    until     timestamptz NOT NULL
);
-- The code that the server printed for setting an empty database up.
CREATE TABLE setup_code (
    only_row boolean PRIMARY KEY DEFAULT true CHECK (only_row),
    hash     text NOT NULL
);

-- What is signed in by itself: a tablet that people share, and a sensor that posts readings.
CREATE TABLE devices (
    id         uuid PRIMARY KEY,
    yard_id    uuid NOT NULL DEFAULT '00000000-0000-7000-8000-000000000001' REFERENCES yards,
    kind       text NOT NULL CHECK (kind IN ('tablet', 'sensor')),
    name       text NOT NULL,
    token_hash text NOT NULL UNIQUE,
    by_id      uuid NOT NULL REFERENCES people,
    at         timestamptz NOT NULL,
    seen_at    timestamptz,
    ended_at   timestamptz
);

-- Who signed in where. A sign-in lasts as long as its session.
CREATE TABLE sign_ins (
    id        uuid PRIMARY KEY,
    person_id uuid NOT NULL REFERENCES people,
    device_id uuid REFERENCES devices,
    how       text NOT NULL CHECK (how IN ('password', 'code', 'digits')),
    agent     text NOT NULL,
    address   text NOT NULL,
    at        timestamptz NOT NULL,
    seen_at   timestamptz NOT NULL
);
CREATE INDEX sign_ins_person ON sign_ins (person_id, seen_at DESC);
-- Sessions of the version before know no sign-in that could be listed or ended: people sign in once more.
DELETE FROM sessions;
ALTER TABLE sessions ADD COLUMN sign_in_id uuid REFERENCES sign_ins ON DELETE CASCADE;
CREATE INDEX sessions_sign_in ON sessions (sign_in_id);

-- Readings of weather and water as they were typed in, posted or dropped as a file, and forecasts for later hours.
CREATE TABLE readings (
    id        uuid PRIMARY KEY,
    yard_id   uuid NOT NULL DEFAULT '00000000-0000-7000-8000-000000000001' REFERENCES yards,
    kind      text NOT NULL CHECK (kind IN ('weather', 'forecast', 'water')),
    at        timestamptz NOT NULL, -- what moment it tells of
    doc       jsonb NOT NULL,
    source    text NOT NULL,
    by_id     uuid REFERENCES people,
    device_id uuid REFERENCES devices,
    taken_at  timestamptz NOT NULL
);
CREATE INDEX readings_at ON readings (kind, at DESC, taken_at DESC);
CREATE TRIGGER tell_new AFTER INSERT ON readings REFERENCING NEW TABLE AS changed FOR EACH STATEMENT
    EXECUTE FUNCTION tell_change('reading', 'id');

-- A notice is sent by an outbox, or somebody tells the customer and says so. Those of before went through the simulated one.
ALTER TABLE notices ADD COLUMN sent_at timestamptz;
UPDATE notices SET sent_at = at;
CREATE INDEX notices_unsent ON notices (at) WHERE sent_at IS NULL;
