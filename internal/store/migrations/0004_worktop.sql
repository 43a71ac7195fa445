-- +goose Up

-- A widget's files being edited, until they are released; one draft a widget.
CREATE TABLE widget_drafts (
  widget       TEXT PRIMARY KEY,
  revision     INTEGER NOT NULL,
  release      INTEGER NOT NULL DEFAULT 0,   -- the number of the release that the files were last the same as, 0 for none
  created_at   DATETIME NOT NULL,
  changed_at   DATETIME NOT NULL,
  changed_by   TEXT NOT NULL
);

CREATE TABLE widget_draft_files (
  widget     TEXT NOT NULL REFERENCES widget_drafts(widget) ON DELETE CASCADE,
  path       TEXT NOT NULL,
  bytes      BLOB NOT NULL,
  digest     TEXT NOT NULL,
  changed_at DATETIME NOT NULL,
  changed_by TEXT NOT NULL,
  PRIMARY KEY (widget, path)
) WITHOUT ROWID;

-- What was made of a draft's assets.
CREATE TABLE widget_draft_assets (
  widget TEXT NOT NULL REFERENCES widget_drafts(widget) ON DELETE CASCADE,
  path   TEXT NOT NULL,
  digest TEXT NOT NULL,
  info   BLOB NOT NULL,
  PRIMARY KEY (widget, path)
) WITHOUT ROWID;
CREATE INDEX widget_draft_assets_by_digest ON widget_draft_assets(digest);

-- What a release is for, and to how many of a hundred pockets it is rolled out: those with a
-- lot below its share.
ALTER TABLE releases ADD COLUMN note TEXT NOT NULL DEFAULT '';
ALTER TABLE releases ADD COLUMN share INTEGER NOT NULL DEFAULT 100;
ALTER TABLE pockets ADD COLUMN lot INTEGER NOT NULL DEFAULT 0;
UPDATE pockets SET lot = abs(random()) % 100;
CREATE INDEX pockets_following ON pockets(widget, key) WHERE follow AND publication > 0;
