-- +goose Up
-- A document without what somebody wrote into it by hand: what it says of the car and of the work stays.
-- +goose StatementBegin
CREATE FUNCTION without_notes(doc jsonb) RETURNS jsonb LANGUAGE plpgsql IMMUTABLE AS $$
BEGIN
    IF jsonb_typeof(doc) = 'object' THEN
        RETURN (SELECT coalesce(jsonb_object_agg(k, CASE WHEN k IN ('note', 'notes', 'why') AND jsonb_typeof(v) = 'string' THEN '""'::jsonb
            ELSE without_notes(v) END), '{}') FROM jsonb_each(doc) e (k, v));
    ELSIF jsonb_typeof(doc) = 'array' THEN
        RETURN (SELECT coalesce(jsonb_agg(without_notes(v) ORDER BY n), '[]') FROM jsonb_array_elements(doc) WITH ORDINALITY a (v, n));
    END IF;
    RETURN doc;
END $$;
-- +goose StatementEnd
-- What lay about of people and vehicles that were forgotten before.
DELETE FROM sign_ins i USING people p WHERE p.id = i.person_id AND p.sign_in LIKE 'gone-%'
    AND NOT EXISTS (SELECT 1 FROM sessions x WHERE x.sign_in_id = i.id);
DELETE FROM sign_in_codes c USING people p WHERE p.id = c.person_id AND p.sign_in LIKE 'gone-%';
UPDATE calibrations c SET title = 'Forgotten vehicle' FROM audits a JOIN washes w ON w.id = a.wash_id JOIN bookings b ON b.id = w.booking_id
    JOIN vehicles v ON v.id = b.vehicle_id WHERE a.id = c.audit_id AND v.plate LIKE 'gone-%';

-- +goose Down
DROP FUNCTION without_notes(jsonb);
