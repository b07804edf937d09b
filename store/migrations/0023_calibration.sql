-- +goose Up
-- Walks whose findings a lead has confirmed, who knows these, and how others walked them without.
CREATE TABLE calibrations (
    id         uuid PRIMARY KEY,
    audit_id   uuid NOT NULL REFERENCES audits,
    title      text NOT NULL,
    truth      jsonb NOT NULL,
    knows      jsonb NOT NULL,
    by_id      uuid NOT NULL REFERENCES people,
    at         timestamptz NOT NULL,
    retired_at timestamptz
);
CREATE TABLE calibration_walks (
    id             uuid PRIMARY KEY,
    calibration_id uuid NOT NULL REFERENCES calibrations,
    auditor_id     uuid NOT NULL REFERENCES people,
    light          text NOT NULL,
    answers        jsonb NOT NULL,
    at             timestamptz NOT NULL,
    UNIQUE (calibration_id, auditor_id)
);

-- Vehicles that two people graded, the second without seeing the first: what each grade comes to in minutes and in the choice of
-- the procedure is worked out when the second is given, and stays.
CREATE TABLE second_grades (
    id         uuid PRIMARY KEY,
    booking_id uuid NOT NULL UNIQUE REFERENCES bookings,
    first_id   uuid NOT NULL REFERENCES people,
    by_id      uuid NOT NULL REFERENCES people,
    doc        jsonb NOT NULL,
    at         timestamptz NOT NULL
);
CREATE INDEX second_grades_at ON second_grades (at);

-- +goose Down
DROP TABLE second_grades, calibration_walks, calibrations;
