-- +goose Up
-- A case of the shop's own may show photos.
ALTER TABLE photos DROP CONSTRAINT photos_subject_check;
ALTER TABLE photos ADD CONSTRAINT photos_subject_check CHECK (subject IN ('look-over', 'audit', 'case'));

-- +goose Down
DELETE FROM photos WHERE subject = 'case';
ALTER TABLE photos DROP CONSTRAINT photos_subject_check;
ALTER TABLE photos ADD CONSTRAINT photos_subject_check CHECK (subject IN ('look-over', 'audit'));
