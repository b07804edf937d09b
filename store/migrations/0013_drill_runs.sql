-- +goose Up
-- Drills that are played by hand: what they were made from, every action, and how it came out.
CREATE TABLE drill_runs (
    id          uuid PRIMARY KEY,
    person_id   uuid NOT NULL REFERENCES people,
    title       text NOT NULL,
    level       int NOT NULL,
    drill       jsonb NOT NULL,
    actions     jsonb NOT NULL,
    version     int NOT NULL DEFAULT 0,
    started_at  timestamptz NOT NULL,
    finished_at timestamptz,
    passed      boolean,
    result      jsonb
);
CREATE INDEX drill_runs_person ON drill_runs (person_id, started_at DESC);

-- What was found in the last months is looked up for evidence.
CREATE INDEX audits_closed ON audits (closed_at);

-- +goose Down
DROP INDEX audits_closed;
DROP TABLE drill_runs;
