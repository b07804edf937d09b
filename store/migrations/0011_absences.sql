-- +goose Up
-- Who is not there on a day: what was given to them is laid out with the others until they are back.
CREATE TABLE absences (
    person_id uuid NOT NULL REFERENCES people,
    day       date NOT NULL,
    by_id     uuid NOT NULL REFERENCES people,
    at        timestamptz NOT NULL,
    PRIMARY KEY (person_id, day)
);
CREATE TRIGGER tell_new AFTER INSERT ON absences REFERENCING NEW TABLE AS changed
    FOR EACH STATEMENT EXECUTE FUNCTION tell_change('absence', 'person_id');
CREATE TRIGGER tell_gone AFTER DELETE ON absences REFERENCING OLD TABLE AS changed
    FOR EACH STATEMENT EXECUTE FUNCTION tell_change('absence', 'person_id');

-- +goose Down
DROP TABLE absences;
