-- +goose Up
-- Drills of several kinds: washing by hand is one of them. What was played before is washing by hand.
ALTER TABLE drill_runs ADD COLUMN kind text NOT NULL DEFAULT 'washing', ADD COLUMN skill text NOT NULL DEFAULT 'mitt';
UPDATE drill_runs SET drill = jsonb_build_object('kind', 'washing', 'mitt', drill);
UPDATE drill_runs SET result = jsonb_build_object(
    'passed', result -> 'passed', 'why', result -> 'why', 'remarks', result -> 'remarks',
    'figures', jsonb_build_array(
        jsonb_build_object('label', 'Scratch risk', 'yours', result -> 'index', 'plan', result -> 'planIndex', 'unit', ''),
        jsonb_build_object('label', 'Rinses', 'yours', result -> 'rinses', 'plan', result -> 'planRinses', 'unit', ''),
        jsonb_build_object('label', 'Time', 'yours', result -> 'seconds', 'plan', result -> 'planSeconds', 'unit', 's')))
WHERE result IS NOT NULL;
ALTER TABLE drill_runs ALTER COLUMN kind DROP DEFAULT, ALTER COLUMN skill DROP DEFAULT;

-- +goose Down
UPDATE drill_runs SET drill = drill -> 'mitt';
ALTER TABLE drill_runs DROP COLUMN kind, DROP COLUMN skill;
