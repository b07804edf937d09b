-- +goose Up
-- A plate is one however it is typed: by its letters and digits. Where history has one vehicle under several spellings, the first keeps
-- the plate and the others stay, told apart by their ids.
ALTER TABLE vehicles ADD COLUMN plate_key text NOT NULL DEFAULT '';
UPDATE vehicles v SET plate_key = k.key || CASE WHEN k.n > 1 THEN '#' || v.id ELSE '' END
    FROM (SELECT id, key, row_number() OVER (PARTITION BY key ORDER BY id) AS n
        FROM (SELECT id, upper(regexp_replace(plate, '[^[:alnum:]]', '', 'g')) AS key FROM vehicles) x) k WHERE k.id = v.id;
CREATE UNIQUE INDEX vehicles_by_plate ON vehicles (plate_key) WHERE plate_key <> '';

-- +goose Down
DROP INDEX vehicles_by_plate;
ALTER TABLE vehicles DROP COLUMN plate_key;
