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

-- What a customer's new pockets start from, and what settings can refer to.
ALTER TABLE customers ADD COLUMN revision INTEGER NOT NULL DEFAULT 1;
ALTER TABLE customers ADD COLUMN zone TEXT NOT NULL DEFAULT 'UTC';
ALTER TABLE customers ADD COLUMN language TEXT NOT NULL DEFAULT '';
ALTER TABLE customers ADD COLUMN sites BLOB NOT NULL DEFAULT X'5B5D';
ALTER TABLE customers ADD COLUMN brand BLOB NOT NULL DEFAULT X'5B5D';
ALTER TABLE customers ADD COLUMN brand_revision INTEGER NOT NULL DEFAULT 0;
-- The names of the brand that draft and publication refer to, with a space around each.
ALTER TABLE pockets ADD COLUMN brand_draft TEXT NOT NULL DEFAULT '';
ALTER TABLE pockets ADD COLUMN brand_published TEXT NOT NULL DEFAULT '';
CREATE INDEX pockets_branded ON pockets(customer_id, key) WHERE brand_draft <> '' OR brand_published <> '';
-- The revision of the brand that a rendering was made with, -1 when it refers to none.
ALTER TABLE renderings ADD COLUMN brand INTEGER NOT NULL DEFAULT -1;

-- Who may join a customer, by a link that is good once.
CREATE TABLE invitations (
  id          INTEGER PRIMARY KEY,
  digest      TEXT NOT NULL UNIQUE,
  customer_id TEXT NOT NULL REFERENCES customers(id),
  role        TEXT NOT NULL,
  name        TEXT NOT NULL DEFAULT '',      -- of who is invited, for people
  created_at  DATETIME NOT NULL,
  created_by  TEXT NOT NULL,
  expires_at  DATETIME NOT NULL,
  used_at     DATETIME,
  used_by     TEXT NOT NULL DEFAULT ''
);
CREATE INDEX invitations_of ON invitations(customer_id, id);

-- Pockets that somebody without an account has begun; whoever has the secret may go on.
CREATE TABLE begun (
  key        TEXT PRIMARY KEY REFERENCES pockets(key),
  digest     TEXT NOT NULL UNIQUE,
  created_at DATETIME NOT NULL,
  expires_at DATETIME NOT NULL
);
CREATE INDEX begun_until ON begun(expires_at);

-- Long work, one item a pocket, so that it goes on after a restart.
CREATE TABLE jobs (
  id          TEXT PRIMARY KEY,
  does        TEXT NOT NULL,
  customer_id TEXT NOT NULL DEFAULT '',
  ask         BLOB NOT NULL,
  by          TEXT NOT NULL,
  client      TEXT NOT NULL,
  role        TEXT NOT NULL,
  created_at  DATETIME NOT NULL,
  ended_at    DATETIME,
  state       TEXT NOT NULL,                 -- "running", "done", "cancelled" or "failed"
  why         TEXT NOT NULL DEFAULT '',
  of          INTEGER NOT NULL,              -- items
  done        INTEGER NOT NULL DEFAULT 0,    -- of those
  failed      INTEGER NOT NULL DEFAULT 0
);
CREATE INDEX jobs_running ON jobs(created_at) WHERE state = 'running';
CREATE INDEX jobs_of ON jobs(customer_id, created_at);
CREATE TABLE job_items (
  job     TEXT NOT NULL REFERENCES jobs(id) ON DELETE CASCADE,
  number  INTEGER NOT NULL,
  key     TEXT NOT NULL,
  ask     BLOB NOT NULL DEFAULT X'',
  outcome TEXT NOT NULL DEFAULT '',          -- '' while it waits, "done" or "failed"
  made    TEXT NOT NULL DEFAULT '',          -- the key of what came of it
  why     TEXT NOT NULL DEFAULT '',
  hint    TEXT NOT NULL DEFAULT '',
  PRIMARY KEY (job, number)
) WITHOUT ROWID;
CREATE INDEX job_items_by_outcome ON job_items(job, outcome, number);
-- Whom pockets belong to that were begun without an account.
INSERT INTO customers (id, name, created_at) VALUES ('(nobody)', 'Nobody yet', '1970-01-01 00:00:00+00:00');

-- For lists in any order, of all customers and of one.
CREATE INDEX pockets_by_title ON pockets(title COLLATE NOCASE, key);
CREATE INDEX pockets_of_by_title ON pockets(customer_id, title COLLATE NOCASE, key);
-- What is rare among them is found by these.
CREATE INDEX pockets_by_state ON pockets((CASE WHEN publication = 0 THEN 0 WHEN published_revision = revision THEN 1 ELSE 2 END));
CREATE INDEX pockets_withheld ON pockets(key) WHERE withheld_at IS NOT NULL;
CREATE INDEX pockets_held ON pockets(widget, release_number) WHERE publication > 0 AND NOT follow;
CREATE INDEX pockets_by_change ON pockets(draft_at, key);
CREATE INDEX pockets_of_by_change ON pockets(customer_id, draft_at, key);
CREATE VIRTUAL TABLE pocket_words USING fts5(title, key, content = 'pockets', content_rowid = 'rowid', tokenize = 'trigram');
INSERT INTO pocket_words (rowid, title, key) SELECT rowid, title, key FROM pockets;
-- +goose StatementBegin
CREATE TRIGGER pocket_words_add AFTER INSERT ON pockets BEGIN
  INSERT INTO pocket_words (rowid, title, key) VALUES (new.rowid, new.title, new.key);
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER pocket_words_change AFTER UPDATE OF title ON pockets WHEN old.title <> new.title BEGIN
  INSERT INTO pocket_words (pocket_words, rowid, title, key) VALUES ('delete', old.rowid, old.title, old.key);
  INSERT INTO pocket_words (rowid, title, key) VALUES (new.rowid, new.title, new.key);
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER pocket_words_end AFTER DELETE ON pockets BEGIN
  INSERT INTO pocket_words (pocket_words, rowid, title, key) VALUES ('delete', old.rowid, old.title, old.key);
END;
-- +goose StatementEnd
