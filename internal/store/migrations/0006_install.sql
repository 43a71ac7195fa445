-- +goose Up

-- When and where a pocket shows: of the draft, of each publication, and of the current one.
ALTER TABLE pockets ADD COLUMN cues TEXT NOT NULL DEFAULT '';
ALTER TABLE pockets ADD COLUMN cues_published TEXT NOT NULL DEFAULT '';
ALTER TABLE publications ADD COLUMN cues TEXT NOT NULL DEFAULT '';

-- Publications as scripts that never change: pages name them by their digest.
CREATE TABLE sealed (
  digest      TEXT PRIMARY KEY,              -- SHA-256 of the script, hex
  key         TEXT NOT NULL REFERENCES pockets(key),
  publication INTEGER NOT NULL,
  address     TEXT NOT NULL,
  integrity   TEXT NOT NULL,                 -- by Subresource Integrity
  policy      TEXT NOT NULL,                 -- the narrowest under which it shows
  script      BLOB NOT NULL,                 -- brotli
  at          DATETIME NOT NULL,
  by          TEXT NOT NULL
);
CREATE INDEX sealed_of ON sealed(key, at);

-- Pages with steps for somebody who has no account.
CREATE TABLE handovers (
  id          INTEGER PRIMARY KEY,
  digest      TEXT NOT NULL UNIQUE,          -- of the secret in its link
  key         TEXT NOT NULL REFERENCES pockets(key),
  customer_id TEXT NOT NULL,
  about       BLOB NOT NULL,                 -- host, where, form and how it stands
  note        TEXT NOT NULL DEFAULT '',
  created_at  DATETIME NOT NULL,
  created_by  TEXT NOT NULL,
  seen_at     DATETIME                       -- when it was last opened
);
CREATE INDEX handovers_of ON handovers(key, id);

-- The operator's own kinds of host, and own versions of those that ship.
CREATE TABLE hosts (
  name     TEXT PRIMARY KEY,
  profile  BLOB NOT NULL,                    -- the file as it was written
  revision INTEGER NOT NULL,
  at       DATETIME NOT NULL,
  by       TEXT NOT NULL
) WITHOUT ROWID;
CREATE TABLE host_pictures (
  host  TEXT NOT NULL REFERENCES hosts(name) ON DELETE CASCADE,
  file  TEXT NOT NULL,
  kind  TEXT NOT NULL,                       -- media type
  bytes BLOB NOT NULL,
  PRIMARY KEY (host, file)
) WITHOUT ROWID;
