-- +goose Up

-- Every change that somebody has made.
CREATE TABLE trail (
  id          INTEGER PRIMARY KEY,
  at          DATETIME NOT NULL,             -- of the last of those that were taken together
  since       DATETIME NOT NULL,             -- of the first
  customer_id TEXT NOT NULL DEFAULT '',      -- whose it was, '' for the operator's
  by          TEXT NOT NULL,
  client      TEXT NOT NULL,
  did         TEXT NOT NULL,                 -- "publish"
  kind        TEXT NOT NULL,                 -- "pocket"
  of          TEXT NOT NULL,                 -- its key, name or id
  names       TEXT NOT NULL DEFAULT '[]',    -- what of it
  number      INTEGER NOT NULL DEFAULT 0,
  note        TEXT NOT NULL DEFAULT ''
);
CREATE INDEX trail_by_customer ON trail(customer_id, id);
CREATE INDEX trail_by_object ON trail(kind, of, id);

ALTER TABLE pockets ADD COLUMN draft_by TEXT NOT NULL DEFAULT '';
-- The number of the newest publication, whether it is in use or was ended.
ALTER TABLE pockets ADD COLUMN newest INTEGER NOT NULL DEFAULT 0;
UPDATE pockets SET newest = publication;
-- An ended publication shows nothing; it stands in the history as the others do.
ALTER TABLE publications ADD COLUMN ends INTEGER NOT NULL DEFAULT 0;

-- What is to be published, restored or ended at a moment.
CREATE TABLE schedules (
  id          INTEGER PRIMARY KEY,
  key         TEXT NOT NULL REFERENCES pockets(key),
  customer_id TEXT NOT NULL,
  due         DATETIME NOT NULL,
  moment      TEXT NOT NULL,                 -- as it was asked for, with its zone
  does        TEXT NOT NULL,                 -- "publish", "restore" or "unpublish"
  number      INTEGER NOT NULL DEFAULT 0,    -- of the publication to restore
  publication BLOB NOT NULL,                 -- what is to be published, as it was then
  created_at  DATETIME NOT NULL,
  by          TEXT NOT NULL,
  client      TEXT NOT NULL,
  ended_at    DATETIME,
  outcome     TEXT NOT NULL DEFAULT '',      -- '' while it waits, "done", "cancelled" or "failed"
  why         TEXT NOT NULL DEFAULT '',      -- it failed
  made        INTEGER NOT NULL DEFAULT 0     -- number of the publication that came of it
);
CREATE INDEX schedules_waiting ON schedules(due) WHERE ended_at IS NULL;
CREATE INDEX schedules_of ON schedules(key, id);

-- Circumstances to see a pocket in.
CREATE TABLE preview_cases (
  key   TEXT NOT NULL REFERENCES pockets(key),
  name  TEXT NOT NULL,
  place INTEGER NOT NULL,
  about BLOB NOT NULL,
  PRIMARY KEY (key, name)
) WITHOUT ROWID;
