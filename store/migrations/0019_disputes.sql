-- +goose Up
-- Whoever washed disputes what an audit found at an item; a lead settles it. What was signed stays as it is.
CREATE TABLE disputes (
    id         uuid PRIMARY KEY,
    audit_id   uuid NOT NULL REFERENCES audits,
    item       text NOT NULL,
    note       text NOT NULL,
    by_id      uuid NOT NULL REFERENCES people,
    at         timestamptz NOT NULL,
    upheld     boolean,
    answer     text NOT NULL DEFAULT '',
    settler_id uuid REFERENCES people,
    settled_at timestamptz,
    UNIQUE (audit_id, item),
    CHECK ((settled_at IS NULL) = (upheld IS NULL) AND (settled_at IS NULL) = (settler_id IS NULL))
);
CREATE INDEX disputes_open ON disputes (at) WHERE settled_at IS NULL;
-- A finding of a signed audit counts unless it was let pass, or disputed and settled for whoever washed.
-- +goose StatementBegin
CREATE FUNCTION finding_counts(audit uuid, finding jsonb) RETURNS boolean LANGUAGE sql STABLE AS $$
    SELECT (finding ->> 'counts')::boolean AND NOT EXISTS (
        SELECT 1 FROM disputes d WHERE d.audit_id = audit AND d.upheld AND d.item = finding ->> 'item')
$$;
-- +goose StatementEnd

-- +goose Down
DROP FUNCTION finding_counts(uuid, jsonb);
DROP TABLE disputes;
