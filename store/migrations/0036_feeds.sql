-- +goose Up
-- A calendar that follows the bookings by a secret address.
ALTER TABLE devices DROP CONSTRAINT devices_kind_check;
ALTER TABLE devices ADD CONSTRAINT devices_kind_check CHECK (kind IN ('tablet', 'sensor', 'calendar'));

-- +goose Down
DELETE FROM devices WHERE kind = 'calendar';
ALTER TABLE devices DROP CONSTRAINT devices_kind_check;
ALTER TABLE devices ADD CONSTRAINT devices_kind_check CHECK (kind IN ('tablet', 'sensor'));
