-- +goose Up
-- A signed audit is walked again by somebody else who does not see what the first found: how far auditors agree.
CREATE TABLE second_looks (
    id         uuid PRIMARY KEY,
    audit_id   uuid NOT NULL UNIQUE REFERENCES audits,
    auditor_id uuid NOT NULL REFERENCES people,
    light      text NOT NULL,
    answers    jsonb NOT NULL,
    at         timestamptz NOT NULL
);
CREATE INDEX second_looks_at ON second_looks (at);

-- +goose Down
DROP TABLE second_looks;
