-- +goose Up
CREATE TABLE people (
    id            uuid PRIMARY KEY,
    name          text NOT NULL,
    sign_in       text NOT NULL UNIQUE,
    role          text NOT NULL CHECK (role IN ('lead', 'washer', 'trainee', 'auditor')),
    password_hash text NOT NULL,
    active        boolean NOT NULL DEFAULT true
);

-- Sessions of the scs package's pgxstore.
CREATE TABLE sessions (
    token  text PRIMARY KEY,
    data   bytea NOT NULL,
    expiry timestamptz NOT NULL
);
CREATE INDEX sessions_expiry ON sessions (expiry);

CREATE TABLE settings (
    id      int PRIMARY KEY CHECK (id = 1),
    version int NOT NULL,
    doc     jsonb NOT NULL
);

CREATE TABLE vehicles (
    id    uuid PRIMARY KEY,
    plate text NOT NULL UNIQUE,
    label text NOT NULL,
    spec  jsonb NOT NULL
);

CREATE TABLE bookings (
    id          uuid PRIMARY KEY,
    vehicle_id  uuid NOT NULL REFERENCES vehicles,
    arrives_at  timestamptz NOT NULL,
    promised_at timestamptz NOT NULL CHECK (promised_at > arrives_at),
    service     text NOT NULL,
    place       jsonb NOT NULL,
    washer_id   uuid REFERENCES people,
    version     int NOT NULL DEFAULT 1
);
CREATE INDEX bookings_arrives_at ON bookings (arrives_at);

CREATE TABLE look_overs (
    booking_id uuid PRIMARY KEY REFERENCES bookings,
    version    int NOT NULL,
    doc        jsonb NOT NULL,
    by_id      uuid NOT NULL REFERENCES people,
    at         timestamptz NOT NULL
);

CREATE TABLE procedures (
    id           text NOT NULL,
    version      int NOT NULL,
    doc          jsonb NOT NULL,
    published_at timestamptz NOT NULL,
    PRIMARY KEY (id, version)
);

CREATE TABLE checklists (
    id           text NOT NULL,
    version      int NOT NULL,
    doc          jsonb NOT NULL,
    published_at timestamptz NOT NULL,
    PRIMARY KEY (id, version)
);

CREATE TABLE products (
    id  text PRIMARY KEY,
    doc jsonb NOT NULL
);

-- A wash keeps the plan it ran, whatever happens to the procedure later.
CREATE TABLE washes (
    id          uuid PRIMARY KEY,
    booking_id  uuid NOT NULL REFERENCES bookings,
    plan        jsonb NOT NULL,
    title       text NOT NULL GENERATED ALWAYS AS (plan->>'title') STORED,
    version     int NOT NULL GENERATED ALWAYS AS ((plan->>'version')::int) STORED,
    overall     int NOT NULL GENERATED ALWAYS AS ((plan->>'overall')::int) STORED,
    steps       jsonb NOT NULL, -- the plan's steps as the fold of the log needs them
    rework      jsonb NOT NULL DEFAULT '[]',
    washer_id   uuid NOT NULL REFERENCES people,
    created_at  timestamptz NOT NULL,
    finished_at timestamptz,
    summary     jsonb
);
CREATE UNIQUE INDEX washes_booking ON washes (booking_id);
CREATE INDEX washes_finished ON washes (finished_at);

-- Append-only: taps are inserted once, by the id the device made, and never changed.
CREATE TABLE wash_events (
    id          uuid PRIMARY KEY,
    wash_id     uuid NOT NULL REFERENCES washes,
    kind        text NOT NULL,
    step        text NOT NULL,
    at          timestamptz NOT NULL,
    seq         int NOT NULL,
    body        text NOT NULL,
    undoes      text NOT NULL,
    by_id       uuid NOT NULL REFERENCES people,
    received_at timestamptz NOT NULL
);
CREATE INDEX wash_events_wash ON wash_events (wash_id);

CREATE TABLE audits (
    id                uuid PRIMARY KEY,
    wash_id           uuid NOT NULL UNIQUE REFERENCES washes,
    auditor_id        uuid NOT NULL REFERENCES people,
    checklist_id      text NOT NULL,
    checklist_version int NOT NULL,
    started_at        timestamptz NOT NULL,
    closed_at         timestamptz,
    result            jsonb,
    FOREIGN KEY (checklist_id, checklist_version) REFERENCES checklists (id, version)
);

CREATE TABLE audit_items (
    audit_id uuid NOT NULL REFERENCES audits,
    item     text NOT NULL,
    version  int NOT NULL,
    answer   jsonb NOT NULL,
    by_id    uuid NOT NULL REFERENCES people,
    at       timestamptz NOT NULL,
    PRIMARY KEY (audit_id, item)
);

CREATE TABLE sign_offs (
    id         uuid PRIMARY KEY,
    person_id  uuid NOT NULL REFERENCES people,
    skill      text NOT NULL,
    wash_id    uuid REFERENCES washes,
    trainer_id uuid NOT NULL REFERENCES people,
    criteria   jsonb NOT NULL,
    passed     boolean NOT NULL,
    at         timestamptz NOT NULL,
    CHECK (person_id <> trainer_id)
);
CREATE INDEX sign_offs_person ON sign_offs (person_id);

CREATE TABLE drills (
    id          uuid PRIMARY KEY,
    person_id   uuid NOT NULL REFERENCES people,
    title       text NOT NULL,
    body        text NOT NULL,
    drill       jsonb NOT NULL,
    moves       jsonb NOT NULL,
    version     int NOT NULL,
    started_at  timestamptz NOT NULL,
    finished_at timestamptz,
    result      jsonb
);
CREATE INDEX drills_person ON drills (person_id);
