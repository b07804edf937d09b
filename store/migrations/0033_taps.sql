-- +goose Up
-- Taps in the order in which they came: those of one wash wait for each other, so that what came after a number is what is new.
ALTER TABLE wash_events ADD COLUMN no bigint GENERATED ALWAYS AS IDENTITY;
CREATE INDEX wash_events_no ON wash_events (wash_id, no);
DROP INDEX wash_events_wash;

-- +goose Down
CREATE INDEX wash_events_wash ON wash_events (wash_id);
DROP INDEX wash_events_no;
ALTER TABLE wash_events DROP COLUMN no;
