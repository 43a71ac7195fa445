-- +goose Up

-- The token that a token was made with: it ends with it.
ALTER TABLE tokens ADD COLUMN parent INTEGER REFERENCES tokens(id) ON DELETE CASCADE;
CREATE INDEX tokens_from ON tokens(parent);

-- The assets that a sealed script shows. Scripts sealed before are read once, at the next start.
ALTER TABLE sealed ADD COLUMN read INTEGER NOT NULL DEFAULT 0;
CREATE TABLE sealed_assets (
  sealed TEXT NOT NULL REFERENCES sealed(digest) ON DELETE CASCADE,
  asset  TEXT NOT NULL,
  PRIMARY KEY (sealed, asset)
) WITHOUT ROWID;

-- The release that did not take the publication, so that visitors get the one above; 0 for none.
ALTER TABLE renderings ADD COLUMN refused INTEGER NOT NULL DEFAULT 0;
