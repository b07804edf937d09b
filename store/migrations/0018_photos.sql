-- +goose Up
-- Photos of a look-over or an audit, pinned to a zone. The pictures lie apart, so that a list of photos reads none of them.
CREATE TABLE photos (
    id         uuid PRIMARY KEY,
    subject    text NOT NULL CHECK (subject IN ('look-over', 'audit')),
    subject_id uuid NOT NULL,
    zone       text NOT NULL,
    item       text NOT NULL,
    note       text NOT NULL,
    width      integer NOT NULL,
    height     integer NOT NULL,
    by_id      uuid NOT NULL REFERENCES people,
    at         timestamptz NOT NULL,
    late       boolean NOT NULL
);
CREATE INDEX photos_subject ON photos (subject_id, at);
CREATE TABLE photo_pictures (
    photo_id uuid PRIMARY KEY REFERENCES photos ON DELETE CASCADE,
    large    bytea NOT NULL,
    small    bytea NOT NULL
);

-- +goose Down
DROP TABLE photo_pictures;
DROP TABLE photos;
