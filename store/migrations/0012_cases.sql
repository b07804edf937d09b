-- +goose Up
-- Judgement cases as they were dealt and answered, and what somebody remembers of each kind.
CREATE TABLE cases (
    id          uuid PRIMARY KEY,
    person_id   uuid NOT NULL REFERENCES people,
    kind        text NOT NULL,
    skill       text NOT NULL,
    body        jsonb NOT NULL,
    dealt_at    timestamptz NOT NULL,
    answered_at timestamptz,
    given       jsonb,
    correct     boolean
);
CREATE INDEX cases_open ON cases (person_id) WHERE answered_at IS NULL;
CREATE INDEX cases_answered ON cases (person_id, answered_at);

CREATE TABLE recalls (
    person_id uuid NOT NULL REFERENCES people,
    kind      text NOT NULL,
    skill     text NOT NULL,
    body      jsonb NOT NULL,
    PRIMARY KEY (person_id, kind)
);

CREATE TABLE own_cases (
    id       uuid PRIMARY KEY,
    body     jsonb NOT NULL,
    by_id    uuid NOT NULL REFERENCES people,
    at       timestamptz NOT NULL,
    archived boolean NOT NULL DEFAULT false
);

-- +goose Down
DROP TABLE own_cases;
DROP TABLE recalls;
DROP TABLE cases;
