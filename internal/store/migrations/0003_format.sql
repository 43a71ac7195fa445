-- +goose Up

-- What is offered of an asset, whoever brought it; the bytes lie in files, each once.
CREATE TABLE asset_files (
  digest TEXT NOT NULL,                      -- of the asset
  name   TEXT NOT NULL,                      -- the last part of the address
  file   TEXT NOT NULL REFERENCES files(digest),
  PRIMARY KEY (digest, name)
) WITHOUT ROWID;

-- Assets that customers have uploaded.
CREATE TABLE assets (
  customer_id TEXT NOT NULL REFERENCES customers(id),
  digest      TEXT NOT NULL,
  info        BLOB NOT NULL,
  created_at  DATETIME NOT NULL,
  created_by  TEXT NOT NULL,
  PRIMARY KEY (customer_id, digest)
);
CREATE INDEX assets_by_digest ON assets(digest);

-- Assets that lie in a release's folder.
CREATE TABLE release_assets (
  release_id INTEGER NOT NULL REFERENCES releases(id),
  path       TEXT NOT NULL,
  digest     TEXT NOT NULL,
  info       BLOB NOT NULL,
  PRIMARY KEY (release_id, path)
) WITHOUT ROWID;
CREATE INDEX release_assets_by_digest ON release_assets(digest);
CREATE INDEX release_files_by_file ON release_files(digest);
CREATE INDEX asset_files_by_file ON asset_files(file);
