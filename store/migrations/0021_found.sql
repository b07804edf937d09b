-- +goose Up
-- What audits found is read over many weeks at once: what is asked of each wash lies beside its times, and comebacks are found by time.
ALTER TABLE washes ADD COLUMN minutes float8 NOT NULL GENERATED ALWAYS AS (coalesce((summary ->> 'minutes')::float8, 0)) STORED;
ALTER TABLE washes ADD COLUMN risk float8 NOT NULL GENERATED ALWAYS AS (coalesce((plan ->> 'index')::float8, 0)) STORED;
CREATE INDEX visit_moves_back ON visit_moves (at) WHERE move = 'come back';

-- +goose Down
DROP INDEX visit_moves_back;
ALTER TABLE washes DROP COLUMN minutes, DROP COLUMN risk;
