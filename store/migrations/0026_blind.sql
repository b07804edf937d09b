-- +goose Up
-- Whatever is looked at a second time without the first being seen is offered to one named person, who says yes or no. Until it is
-- walked, declined, or the car has left, that person reads the first nowhere.
CREATE TABLE blind_offers (
    kind        text NOT NULL CHECK (kind IN ('second walk', 'set walk', 'second grades')),
    subject_id  uuid NOT NULL, -- an audit, a walk of the set, a booking
    person_id   uuid NOT NULL REFERENCES people,
    by_id       uuid NOT NULL REFERENCES people,
    state       text NOT NULL CHECK (state IN ('offered', 'accepted', 'declined', 'done')),
    at          timestamptz NOT NULL,
    answered_at timestamptz,
    PRIMARY KEY (kind, subject_id, person_id)
);
CREATE UNIQUE INDEX blind_offers_one ON blind_offers (kind, subject_id) WHERE kind <> 'set walk' AND state IN ('offered', 'accepted');
CREATE INDEX blind_offers_open ON blind_offers (person_id) WHERE state IN ('offered', 'accepted');
-- Who has read what was found in an audit, or how a vehicle was graded: whoever has is not asked.
CREATE TABLE looks_read (
    person_id  uuid NOT NULL REFERENCES people,
    subject_id uuid NOT NULL, -- an audit or a booking
    at         timestamptz NOT NULL,
    PRIMARY KEY (subject_id, person_id)
);

-- +goose Down
DROP TABLE looks_read, blind_offers;
