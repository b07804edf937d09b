-- +goose Up
-- Taps are numbered within their wash, without a gap: the last number is how many there are, without counting.
ALTER TABLE wash_events ALTER COLUMN no DROP IDENTITY;
UPDATE wash_events e SET no = n.nth FROM (SELECT id, row_number() OVER (PARTITION BY wash_id ORDER BY no) AS nth FROM wash_events) n
    WHERE n.id = e.id AND n.nth <> e.no;
DROP INDEX wash_events_no;
CREATE UNIQUE INDEX wash_events_no ON wash_events (wash_id, no);

-- +goose Down
DROP INDEX wash_events_no;
ALTER TABLE wash_events DROP COLUMN no;
ALTER TABLE wash_events ADD COLUMN no bigint GENERATED ALWAYS AS IDENTITY;
CREATE INDEX wash_events_no ON wash_events (wash_id, no);
