-- +goose Up
-- What somebody does about a pattern of findings, by when, and what the audits say of it afterwards.
CREATE TABLE remedies (
    id           uuid PRIMARY KEY,
    version      integer NOT NULL,
    doc          jsonb NOT NULL,
    owner_id     uuid NOT NULL REFERENCES people,
    opened_at    timestamptz NOT NULL,
    by_id        uuid NOT NULL REFERENCES people,
    acted_at     timestamptz,
    acted_by_id  uuid REFERENCES people,
    published    integer,
    closed_at    timestamptz,
    closed_by_id uuid REFERENCES people,
    measured     jsonb,
    CHECK ((closed_at IS NULL) = (measured IS NULL))
);
CREATE INDEX remedies_open ON remedies (opened_at) WHERE closed_at IS NULL;

-- +goose Down
DROP TABLE remedies;
