-- +goose Up
-- How a booking's wash is arranged: procedure, people, what was moved by hand; and when it is to begin.
ALTER TABLE bookings ADD COLUMN arranged jsonb;
ALTER TABLE bookings ADD COLUMN starts_at timestamptz;

-- Notices to customers, as handed to the outbox.
CREATE TABLE notices (
    id         uuid PRIMARY KEY,
    booking_id uuid NOT NULL REFERENCES bookings,
    text       text NOT NULL,
    by_id      uuid NOT NULL REFERENCES people,
    at         timestamptz NOT NULL
);
CREATE INDEX notices_at ON notices (at);

