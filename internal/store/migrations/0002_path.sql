-- +goose Up

-- A withdrawn release is used for nothing new; what was published with it stays.
ALTER TABLE releases ADD COLUMN withdrawn_at DATETIME;

-- Whether new publications follow the widget's newest release, and why visitors get nothing.
ALTER TABLE pockets ADD COLUMN follow INTEGER NOT NULL DEFAULT 0;
ALTER TABLE pockets ADD COLUMN withheld_at DATETIME;
ALTER TABLE pockets ADD COLUMN withheld_why TEXT NOT NULL DEFAULT '';
ALTER TABLE customers ADD COLUMN withheld_at DATETIME;
ALTER TABLE customers ADD COLUMN withheld_why TEXT NOT NULL DEFAULT '';

ALTER TABLE publications ADD COLUMN follow INTEGER NOT NULL DEFAULT 0;
ALTER TABLE publications ADD COLUMN restores INTEGER NOT NULL DEFAULT 0; -- the number of the one that it brings back

-- The release that a rendering was made with: a following publication's changes.
ALTER TABLE renderings ADD COLUMN release_id INTEGER NOT NULL DEFAULT 0;
ALTER TABLE renderings ADD COLUMN sums TEXT NOT NULL DEFAULT ''; -- of the three parts, to notice damage; '' is not checked
UPDATE renderings SET release_id = coalesce((SELECT release_id FROM publications AS p WHERE p.key = renderings.key AND p.number = renderings.publication), 0);

ALTER TABLE users ADD COLUMN created_at DATETIME NOT NULL DEFAULT '1970-01-01 00:00:00+00:00';

-- '' acts as its maker does; a narrower role acts as that.
ALTER TABLE tokens ADD COLUMN role TEXT NOT NULL DEFAULT '';

-- Sessions get a number, so that one can be ended without knowing its secret.
CREATE TABLE numbered_sessions (
  id         INTEGER PRIMARY KEY,
  digest     TEXT NOT NULL UNIQUE,
  previous   TEXT NOT NULL DEFAULT '', -- the digest before the last rotation, good for a moment more
  user_id    INTEGER NOT NULL REFERENCES users(id),
  created_at DATETIME NOT NULL,
  rotated_at DATETIME NOT NULL,
  expires_at DATETIME NOT NULL,
  client     TEXT NOT NULL DEFAULT ''
);
INSERT INTO numbered_sessions (digest, user_id, created_at, rotated_at, expires_at)
  SELECT digest, user_id, expires_at, expires_at, expires_at FROM sessions;
DROP TABLE sessions;
ALTER TABLE numbered_sessions RENAME TO sessions;
CREATE INDEX sessions_of ON sessions(user_id);
CREATE INDEX sessions_before ON sessions(previous);
