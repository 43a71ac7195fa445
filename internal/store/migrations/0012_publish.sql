-- +goose Up

-- SQLite computes each generated column in every write of its row, even if nothing that it depends
-- on has changed. A publication writes a row of both tables, so what was generated is now an
-- expression in the indexes, and in the queries that need it.
ALTER TABLE renderings DROP COLUMN release_id;

DROP TRIGGER pocket_words_add;
DROP TRIGGER pocket_words_change;
DROP TRIGGER pocket_words_end;
DROP TABLE pocket_words;
DROP INDEX pockets_by_title;
DROP INDEX pockets_of_by_title;
ALTER TABLE pockets DROP COLUMN title;
CREATE INDEX pockets_by_title ON pockets((content ->> '$.title') COLLATE NOCASE, key);
CREATE INDEX pockets_of_by_title ON pockets(customer_id, (content ->> '$.title') COLLATE NOCASE, key);

-- What is searched by words.
CREATE VIEW pocket_texts AS SELECT rowid, content ->> '$.title' AS title, key FROM pockets;
CREATE VIRTUAL TABLE pocket_words USING fts5(title, key, content = 'pocket_texts', content_rowid = 'rowid', tokenize = 'trigram');
INSERT INTO pocket_words (pocket_words) VALUES ('rebuild');
-- +goose StatementBegin
CREATE TRIGGER pocket_words_add AFTER INSERT ON pockets BEGIN
  INSERT INTO pocket_words (rowid, title, key) VALUES (new.rowid, new.content ->> '$.title', new.key);
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER pocket_words_change AFTER UPDATE OF content ON pockets WHEN old.content ->> '$.title' <> new.content ->> '$.title' BEGIN
  INSERT INTO pocket_words (pocket_words, rowid, title, key) VALUES ('delete', old.rowid, old.content ->> '$.title', old.key);
  INSERT INTO pocket_words (rowid, title, key) VALUES (new.rowid, new.content ->> '$.title', new.key);
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER pocket_words_end AFTER DELETE ON pockets BEGIN
  INSERT INTO pocket_words (pocket_words, rowid, title, key) VALUES ('delete', old.rowid, old.content ->> '$.title', old.key);
END;
-- +goose StatementEnd
