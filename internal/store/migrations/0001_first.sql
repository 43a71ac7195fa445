-- +goose Up
CREATE TABLE facts (
  name  TEXT PRIMARY KEY,
  value TEXT NOT NULL
) STRICT;

CREATE TABLE customers (
  id         TEXT PRIMARY KEY,
  name       TEXT NOT NULL,
  created_at DATETIME NOT NULL
);

CREATE TABLE users (
  id            INTEGER PRIMARY KEY,
  name          TEXT NOT NULL UNIQUE,
  role          TEXT NOT NULL,
  customer_id   TEXT NOT NULL DEFAULT '',   -- '' for the operator's own people
  password_hash TEXT NOT NULL
);

CREATE TABLE sessions (
  digest     TEXT PRIMARY KEY,
  user_id    INTEGER NOT NULL REFERENCES users(id),
  expires_at DATETIME NOT NULL
);

CREATE TABLE tokens (
  id          INTEGER PRIMARY KEY,
  digest      TEXT NOT NULL UNIQUE,
  name        TEXT NOT NULL,
  user_id     INTEGER NOT NULL REFERENCES users(id),
  customer_id TEXT NOT NULL DEFAULT '',
  created_at  DATETIME NOT NULL,
  expires_at  DATETIME NOT NULL
);
CREATE INDEX tokens_of ON tokens(user_id);

-- Files of releases, each stored once whoever uses it.
CREATE TABLE files (
  digest TEXT PRIMARY KEY,
  bytes  BLOB NOT NULL
);

CREATE TABLE releases (
  id         INTEGER PRIMARY KEY,
  widget     TEXT NOT NULL,
  number     INTEGER NOT NULL,
  digest     TEXT NOT NULL,
  style      TEXT NOT NULL,   -- built
  mount      TEXT NOT NULL,   -- built
  created_at DATETIME NOT NULL,
  created_by TEXT NOT NULL,
  UNIQUE (widget, number)
);
CREATE INDEX releases_by_digest ON releases(digest);

CREATE TABLE release_files (
  release_id INTEGER NOT NULL REFERENCES releases(id),
  path       TEXT NOT NULL,
  digest     TEXT NOT NULL REFERENCES files(digest),
  PRIMARY KEY (release_id, path)
) WITHOUT ROWID;

CREATE TABLE pockets (
  key                TEXT PRIMARY KEY,
  customer_id        TEXT NOT NULL REFERENCES customers(id),
  widget             TEXT NOT NULL,
  title              TEXT NOT NULL,
  language           TEXT NOT NULL,
  starter            TEXT NOT NULL,
  settings           BLOB NOT NULL,
  revision           INTEGER NOT NULL,
  draft_at           DATETIME NOT NULL,
  created_at         DATETIME NOT NULL,
  publication        INTEGER NOT NULL DEFAULT 0,
  published_at       DATETIME NOT NULL DEFAULT '1970-01-01 00:00:00+00:00',
  published_revision INTEGER NOT NULL DEFAULT 0,
  release_number     INTEGER NOT NULL DEFAULT 0
);
CREATE INDEX pockets_of ON pockets(customer_id, key);

CREATE TABLE publications (
  key            TEXT NOT NULL REFERENCES pockets(key),
  number         INTEGER NOT NULL,
  customer_id    TEXT NOT NULL,
  release_id     INTEGER NOT NULL REFERENCES releases(id),
  release_number INTEGER NOT NULL,
  settings       BLOB NOT NULL,
  language       TEXT NOT NULL,
  title          TEXT NOT NULL,
  heights        BLOB NOT NULL,
  revision       INTEGER NOT NULL,
  at             DATETIME NOT NULL,
  by             TEXT NOT NULL,
  client         TEXT NOT NULL,
  PRIMARY KEY (key, number)
);

-- What the current publication looks like, compressed; it can always be made again.
CREATE TABLE renderings (
  key         TEXT PRIMARY KEY,
  publication INTEGER NOT NULL,
  identity    TEXT NOT NULL,
  script      BLOB NOT NULL,
  json        BLOB NOT NULL,
  page        BLOB NOT NULL
);
