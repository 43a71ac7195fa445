-- +goose Up

-- Dry runs of releases, so that they go on after a restart.
CREATE TABLE dry_runs (
  id        TEXT PRIMARY KEY,
  widget    TEXT NOT NULL,
  digest    TEXT NOT NULL,                   -- of the files
  after     INTEGER NOT NULL,                -- number of the newest release at its start
  began     DATETIME NOT NULL,
  of        INTEGER NOT NULL,                -- pockets
  by        TEXT NOT NULL,
  folder    BLOB NOT NULL,                   -- the files, as JSON
  result    BLOB NOT NULL DEFAULT X'',       -- JSON, when it is done
  cancelled INTEGER NOT NULL DEFAULT 0
);
