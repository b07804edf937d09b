-- +goose Up
-- Written to and taken back, to see whether there is room to write.
CREATE TABLE disk_probe (filler text NOT NULL);

-- +goose Down
DROP TABLE disk_probe;
