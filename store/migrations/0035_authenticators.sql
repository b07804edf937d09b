-- +goose Up
-- An authenticator app that somebody who leads has switched on, and codes for the day on which it is lost. A step of its clock opens once.
CREATE TABLE authenticators (
    person_id uuid PRIMARY KEY REFERENCES people (id) ON DELETE CASCADE,
    secret text NOT NULL,
    on_at timestamptz,
    last_step bigint NOT NULL DEFAULT 0
);
CREATE TABLE recovery_codes (
    person_id uuid NOT NULL REFERENCES authenticators (person_id) ON DELETE CASCADE,
    hash text NOT NULL,
    used_at timestamptz,
    PRIMARY KEY (person_id, hash)
);

-- +goose Down
DROP TABLE recovery_codes;
DROP TABLE authenticators;
