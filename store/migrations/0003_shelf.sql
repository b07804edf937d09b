-- +goose Up
ALTER TABLE products ADD COLUMN version int NOT NULL DEFAULT 1;

-- What a wash's plan takes off the shelf: ml by product, cloths by colour.
ALTER TABLE washes ADD COLUMN uses jsonb NOT NULL DEFAULT '{}';

-- What stood on the shelf when it was last counted; washes since are counted from their plans.
CREATE TABLE stock (
    product_id text PRIMARY KEY REFERENCES products,
    counted_ml double precision NOT NULL CHECK (counted_ml >= 0),
    counted_at timestamptz NOT NULL,
    lead_days  int NOT NULL,
    version    int NOT NULL
);

CREATE TABLE cloths (
    id        uuid PRIMARY KEY,
    kind      text NOT NULL,
    colour    text NOT NULL,
    count     int NOT NULL CHECK (count > 0),
    wash_limit int NOT NULL CHECK (wash_limit > 0),
    since     timestamptz NOT NULL,
    retired_at timestamptz
);
