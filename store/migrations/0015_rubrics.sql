-- +goose Up
-- Lessons and rubrics as the shop writes them: one document a skill, every version kept.
CREATE TABLE rubrics (
    skill   text NOT NULL,
    version int NOT NULL CHECK (version > 0),
    body    jsonb NOT NULL,
    by_id   uuid NOT NULL REFERENCES people,
    at      timestamptz NOT NULL,
    PRIMARY KEY (skill, version)
);

-- What a trainer saw in a wash, criterion by criterion. The device makes the ids; the newest mark of a criterion counts.
CREATE TABLE watched (
    id         uuid PRIMARY KEY,
    wash_id    uuid NOT NULL REFERENCES washes,
    person_id  uuid NOT NULL REFERENCES people,
    trainer_id uuid NOT NULL REFERENCES people,
    skill      text NOT NULL,
    version    int NOT NULL,
    criterion  text NOT NULL,
    mark       int NOT NULL CHECK (mark BETWEEN 0 AND 2),
    step       text NOT NULL,
    note       text NOT NULL,
    at         timestamptz NOT NULL,
    received   timestamptz NOT NULL,
    CHECK (person_id <> trainer_id)
);
CREATE INDEX watched_wash ON watched (wash_id);
CREATE INDEX watched_person ON watched (person_id, at);

ALTER TABLE sign_offs ADD COLUMN version int NOT NULL DEFAULT 0;

-- What had changed in a procedure since somebody last did it, told and confirmed.
CREATE TABLE changes_seen (
    person_id uuid NOT NULL REFERENCES people,
    procedure text NOT NULL,
    version   int NOT NULL,
    was       int NOT NULL,
    at        timestamptz NOT NULL,
    PRIMARY KEY (person_id, procedure, version)
);

CREATE INDEX washes_washer_version ON washes (washer_id, procedure, version);

-- +goose Down
DROP INDEX washes_washer_version;
DROP TABLE changes_seen, watched, rubrics;
ALTER TABLE sign_offs DROP COLUMN version;
