-- +goose Up
-- Checklists are written by the shop: who published a version. An audit keeps in which light it was walked, and what its wash did
-- not ask for, each with why.
ALTER TABLE checklists ADD COLUMN by_id uuid REFERENCES people;
ALTER TABLE audits ADD COLUMN light text NOT NULL DEFAULT '', ADD COLUMN skips jsonb NOT NULL DEFAULT '{}';

-- +goose Down
ALTER TABLE checklists DROP COLUMN by_id;
ALTER TABLE audits DROP COLUMN light, DROP COLUMN skips;
