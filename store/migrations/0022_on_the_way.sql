-- +goose Up
-- Looks on the way of a wash and what was left out are taps like the others; both are read over many washes at once.
CREATE INDEX wash_events_told ON wash_events (at) WHERE kind IN ('checked', 'skip');

-- +goose Down
DROP INDEX wash_events_told;
