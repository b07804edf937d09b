-- +goose Up
-- Published versions never change; retiring one only hides it from the chooser.
ALTER TABLE procedures
    ADD COLUMN note       text NOT NULL DEFAULT '',
    ADD COLUMN by_id      uuid REFERENCES people,
    ADD COLUMN retired_at timestamptz;

-- One draft a procedure; revision counts its saves.
CREATE TABLE drafts (
    id       text PRIMARY KEY,
    revision int NOT NULL,
    based_on int NOT NULL,
    doc      jsonb NOT NULL,
    by_id    uuid NOT NULL REFERENCES people,
    at       timestamptz NOT NULL
);
