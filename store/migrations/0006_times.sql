-- +goose Up
-- What some taps say besides: bonded matter and where, who takes a step over.
ALTER TABLE wash_events ADD COLUMN detail jsonb NOT NULL DEFAULT '{}';

-- The shop's standard times. Rows are added, never changed: the newest of a step is in use, the others are its history.
CREATE TABLE standards (
    id    uuid PRIMARY KEY,
    step  text NOT NULL,
    doc   jsonb NOT NULL,
    why   text NOT NULL,
    by_id uuid NOT NULL REFERENCES people,
    at    timestamptz NOT NULL
);
CREATE INDEX standards_step ON standards (step, at);

-- What the statistics ask of a plan, so that they need not read it.
ALTER TABLE washes ADD COLUMN procedure text NOT NULL GENERATED ALWAYS AS (coalesce(plan->>'procedure', '')) STORED;
ALTER TABLE washes ADD COLUMN air float8 NOT NULL GENERATED ALWAYS AS (coalesce((plan->'air'->>'temp')::float8, 0)) STORED;
ALTER TABLE washes ADD COLUMN started_at timestamptz;
