-- +goose Up
-- What nobody has closed yet is looked for at every look at the yard: its cost does not grow with what was.
CREATE INDEX bookings_standing ON bookings (arrives_at) WHERE stage NOT IN ('cancelled', 'did not come', 'handed over');

-- +goose Down
DROP INDEX bookings_standing;
