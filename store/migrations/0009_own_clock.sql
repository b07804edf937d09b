-- +goose Up
-- A demo has its own day: its clock goes ahead of the machine's, so that whoever opens it at midnight sees a shop at work.
ALTER TABLE shop_kind ADD COLUMN ahead_seconds integer NOT NULL DEFAULT 0 CHECK (ahead_seconds >= 0);

-- +goose Down
ALTER TABLE shop_kind DROP COLUMN ahead_seconds;
