-- +goose Up

-- Where a customer's pockets were installed, so that the next one needs no questions. One row for
-- each site; an unknown site is ''.
CREATE TABLE places (
  customer_id TEXT NOT NULL REFERENCES customers(id) ON DELETE CASCADE,
  site        TEXT NOT NULL,
  host        TEXT NOT NULL,
  position    TEXT NOT NULL,
  used_at     TIMESTAMP NOT NULL,
  PRIMARY KEY (customer_id, site)
) WITHOUT ROWID;
