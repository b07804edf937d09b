-- +goose Up
-- Where somebody is known is a device, by a token of its own, no address: others share an address.
DROP TABLE sign_in_places;
CREATE TABLE known_devices (
    person_id  uuid NOT NULL REFERENCES people,
    token_hash text NOT NULL,
    at         timestamptz NOT NULL,
    PRIMARY KEY (person_id, token_hash)
);
-- Wrong digits on a shared tablet, each until it is over a night old, the person signs in rightly, or a lead clears them.
CREATE TABLE digit_tries (
    id        bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    device_id uuid NOT NULL REFERENCES devices,
    person_id uuid NOT NULL,
    at        timestamptz NOT NULL DEFAULT clock_timestamp()
);
CREATE INDEX digit_tries_device ON digit_tries (device_id);

-- +goose Down
DROP TABLE digit_tries, known_devices;
CREATE TABLE sign_in_places (
    person_id uuid NOT NULL REFERENCES people,
    address   text NOT NULL,
    at        timestamptz NOT NULL,
    PRIMARY KEY (person_id, address)
);
