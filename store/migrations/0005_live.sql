-- +goose Up
-- Every save tells those who listen, at its commit and in the order of commits: a number, what kind of thing, and which. A statement tells once of each.
CREATE SEQUENCE change_no;
-- +goose StatementBegin
CREATE FUNCTION tell_change() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
    saved record;
BEGIN
    FOR saved IN EXECUTE format('SELECT DISTINCT %I::text AS ref FROM changed', TG_ARGV[1]) LOOP
        PERFORM pg_notify('uskel_changes', nextval('change_no') || ' ' || TG_ARGV[0] || ' ' || saved.ref);
    END LOOP;
    RETURN NULL;
END $$;
-- +goose StatementEnd
CREATE TRIGGER tell_new AFTER INSERT ON wash_events REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION tell_change('wash', 'wash_id');
CREATE TRIGGER tell_new AFTER INSERT ON washes REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION tell_change('wash', 'id');
CREATE TRIGGER tell_change AFTER UPDATE ON washes REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION tell_change('wash', 'id');
CREATE TRIGGER tell_new AFTER INSERT ON bookings REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION tell_change('booking', 'id');
CREATE TRIGGER tell_change AFTER UPDATE ON bookings REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION tell_change('booking', 'id');
CREATE TRIGGER tell_new AFTER INSERT ON look_overs REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION tell_change('look-over', 'booking_id');
CREATE TRIGGER tell_change AFTER UPDATE ON look_overs REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION tell_change('look-over', 'booking_id');
CREATE TRIGGER tell_new AFTER INSERT ON audits REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION tell_change('audit', 'id');
CREATE TRIGGER tell_change AFTER UPDATE ON audits REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION tell_change('audit', 'id');
CREATE TRIGGER tell_new AFTER INSERT ON audit_items REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION tell_change('audit', 'audit_id');
CREATE TRIGGER tell_change AFTER UPDATE ON audit_items REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION tell_change('audit', 'audit_id');
CREATE TRIGGER tell_new AFTER INSERT ON notices REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION tell_change('notice', 'booking_id');
