-- +goose Up
-- Who washed is settled when a wash closes; all who had a hand in it, late or at rework, walk round it no more.
ALTER TABLE washes ADD COLUMN hands uuid[] NOT NULL DEFAULT '{}';
-- Somebody who signed or answered an audit turned out to have washed: the lead is told, and the audit says so.
ALTER TABLE audits ADD COLUMN washed_too boolean NOT NULL DEFAULT false;

-- +goose StatementBegin
CREATE FUNCTION pg_temp.deeds(of uuid, settled boolean) RETURNS uuid[] LANGUAGE sql AS $$
    SELECT ARRAY(SELECT DISTINCT x FROM (
        SELECT w.washer_id AS x FROM washes w WHERE w.id = of
        UNION ALL
        SELECT unnest(ARRAY[e.by_id, CASE WHEN e.kind = 'hand over' THEN nullif(e.detail ->> 'to', '')::uuid END])
        FROM wash_events e JOIN washes w ON w.id = e.wash_id
        WHERE e.wash_id = of AND e.kind IN ('start', 'done', 'pause', 'resume', 'reopen', 'rinsed', 'dropped', 'dried', 'helped',
            'finish', 'hand over')
        AND NOT EXISTS (SELECT 1 FROM wash_events u WHERE u.wash_id = of AND u.kind = 'undo' AND u.undoes = e.id::text
            AND u.by_id = e.by_id)
        AND NOT (settled AND (e.late OR EXISTS (SELECT 1 FROM jsonb_array_elements(w.rework) r WHERE r ->> 'id' = e.step)))
    ) y WHERE x IS NOT NULL)
$$;
-- +goose StatementEnd
UPDATE washes SET washers = pg_temp.deeds(id, true), hands = pg_temp.deeds(id, false) WHERE finished_at IS NOT NULL;
UPDATE audits a SET washed_too = true FROM washes w WHERE w.id = a.wash_id AND a.closed_at IS NOT NULL
    AND EXISTS (SELECT 1 FROM wash_events e WHERE e.wash_id = w.id AND e.late AND e.kind <> 'undo' AND e.by_id = ANY(w.hands)
        AND (e.by_id = a.signer_id OR e.by_id = a.auditor_id
            OR EXISTS (SELECT 1 FROM audit_items i WHERE i.audit_id = a.id AND i.by_id = e.by_id)));
CREATE INDEX audits_washed_too ON audits (closed_at) WHERE washed_too;

-- +goose Down
DROP INDEX audits_washed_too;
ALTER TABLE audits DROP COLUMN washed_too;
ALTER TABLE washes DROP COLUMN hands;
