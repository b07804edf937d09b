-- +goose Up
-- What a finished wash was counted to have taken off the shelf, by its taps: to be taken back when its finish is undone.
ALTER TABLE washes ADD COLUMN used jsonb;
UPDATE washes SET used = uses WHERE finished_at IS NOT NULL;

-- +goose Down
ALTER TABLE washes DROP COLUMN used;
