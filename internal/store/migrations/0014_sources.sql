-- +goose Up

-- Where content comes from that is not typed in. A source is fetched once for all the pockets of its
-- customer. When it is fetched next, and what the last fetch learned for that, is in its task.
CREATE TABLE sources (
  id            TEXT PRIMARY KEY,
  customer_id   TEXT NOT NULL REFERENCES customers(id) ON DELETE CASCADE,
  name          TEXT NOT NULL,
  reader        TEXT NOT NULL,
  address       TEXT NOT NULL,               -- '' for an uploaded file
  file_name     TEXT NOT NULL DEFAULT '',
  options       TEXT NOT NULL DEFAULT '{}',  -- JSON
  secret_in     TEXT NOT NULL DEFAULT '',    -- how the secret is sent; '' without one
  secret_name   TEXT NOT NULL DEFAULT '',
  secret        BLOB NOT NULL DEFAULT X'',   -- encrypted with the key file
  created_at    DATETIME NOT NULL,
  created_by    TEXT NOT NULL,
  revision      INTEGER NOT NULL,            -- of the columns above
  items         INTEGER NOT NULL DEFAULT 0,
  stock         INTEGER NOT NULL DEFAULT 0,  -- revision of the items
  about         TEXT NOT NULL DEFAULT '{}',  -- JSON: what the source says about itself
  changed_at    DATETIME,                    -- of the items
  failing_since DATETIME,
  why           TEXT NOT NULL DEFAULT '',    -- the last fetch failed
  hint          TEXT NOT NULL DEFAULT '',
  ended_at      DATETIME,                    -- it says that it is gone
  push          TEXT NOT NULL DEFAULT '{}',  -- JSON: its subscription at a WebSub hub
  push_token    TEXT NOT NULL DEFAULT ''     -- in the address that the hub calls
);
CREATE UNIQUE INDEX sources_pushed ON sources(push_token) WHERE push_token <> '';
CREATE INDEX sources_of ON sources(customer_id, name COLLATE NOCASE, id);
CREATE INDEX sources_failing ON sources(failing_since) WHERE failing_since IS NOT NULL;

-- Apart from their sources, because they are much larger.
CREATE TABLE source_items (
  source_id TEXT PRIMARY KEY REFERENCES sources(id) ON DELETE CASCADE,
  stock     BLOB NOT NULL,                   -- JSON, compressed
  file      BLOB NOT NULL DEFAULT X''        -- of an upload
);

-- What came of the fetches. A repeated result is one row.
CREATE TABLE fetches (
  id        INTEGER PRIMARY KEY,
  source_id TEXT NOT NULL REFERENCES sources(id) ON DELETE CASCADE,
  at        DATETIME NOT NULL,
  last_at   DATETIME NOT NULL,
  times     INTEGER NOT NULL DEFAULT 1,
  status    INTEGER NOT NULL DEFAULT 0,      -- of HTTP, 0 for no response
  bytes     INTEGER NOT NULL DEFAULT 0,
  took      INTEGER NOT NULL DEFAULT 0,      -- milliseconds
  added     INTEGER NOT NULL DEFAULT 0,
  changed   INTEGER NOT NULL DEFAULT 0,
  removed   INTEGER NOT NULL DEFAULT 0,
  by        TEXT NOT NULL DEFAULT '',        -- who asked for it, '' for the service
  why       TEXT NOT NULL DEFAULT ''         -- it failed
);
CREATE INDEX fetches_of ON fetches(source_id, id);

-- The images of items, stored and served as our own assets.
CREATE TABLE source_images (
  source_id   TEXT NOT NULL REFERENCES sources(id) ON DELETE CASCADE,
  address     TEXT NOT NULL,                 -- at the source
  customer_id TEXT NOT NULL,
  digest      TEXT NOT NULL DEFAULT '',      -- of the asset, '' if there is none
  info        BLOB NOT NULL DEFAULT X'',     -- asset.Info, as JSON
  bytes       INTEGER NOT NULL DEFAULT 0,    -- of all forms
  fetched_at  DATETIME NOT NULL,
  why         TEXT NOT NULL DEFAULT '',      -- there is none
  unused_at   DATETIME,                      -- since then no item of the source has it
  PRIMARY KEY (source_id, address)
) WITHOUT ROWID;
CREATE INDEX source_images_by_digest ON source_images(digest) WHERE digest <> '';
CREATE INDEX source_images_of ON source_images(customer_id);
CREATE INDEX source_images_unused ON source_images(unused_at) WHERE unused_at IS NOT NULL;

-- When the items of a rendering change by themselves, because one expires.
ALTER TABLE renderings ADD COLUMN until DATETIME;
CREATE INDEX renderings_until ON renderings(until) WHERE until IS NOT NULL;
CREATE INDEX uses_of_sources ON uses(id, of, key) WHERE kind = 'source';
