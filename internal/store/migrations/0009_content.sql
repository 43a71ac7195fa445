-- +goose Up

-- Everything that a customer sets in a pocket is one value.
ALTER TABLE pockets ADD COLUMN content TEXT NOT NULL DEFAULT '{}';
UPDATE pockets SET content = CASE WHEN cues = ''
  THEN json_object('title', title, 'language', language, 'settings', json(CAST(settings AS TEXT)))
  ELSE json_object('title', title, 'language', language, 'settings', json(CAST(settings AS TEXT)), 'cues', json(cues)) END;
ALTER TABLE publications ADD COLUMN content TEXT NOT NULL DEFAULT '{}';
UPDATE publications SET content = CASE WHEN cues = ''
  THEN json_object('title', title, 'language', language, 'settings', json(CAST(settings AS TEXT)), 'follow', json(iif(follow, 'true', 'false')))
  ELSE json_object('title', title, 'language', language, 'settings', json(CAST(settings AS TEXT)), 'cues', json(cues), 'follow', json(iif(follow, 'true', 'false'))) END;
-- In a scheduled publication, the cues were a text.
UPDATE schedules SET publication = CAST(json_remove(CASE WHEN coalesce(json_extract(CAST(publication AS TEXT), '$.cues'), '') = ''
  THEN json_remove(CAST(publication AS TEXT), '$.cues')
  ELSE json_set(CAST(publication AS TEXT), '$.cues', json(json_extract(CAST(publication AS TEXT), '$.cues'))) END, '$.brand') AS BLOB);

-- What settings refer to, so that nobody has to search in them. kind is "asset" or "brand"; of is
-- "draft", "live", "schedule ID", or "" for the customer's brand, which has no key.
CREATE TABLE uses (
  customer_id TEXT NOT NULL,
  kind        TEXT NOT NULL,
  id          TEXT NOT NULL,                 -- digest of an asset, name of a brand value
  key         TEXT NOT NULL,                 -- of the pocket
  of          TEXT NOT NULL,
  PRIMARY KEY (customer_id, kind, id, key, of)
) WITHOUT ROWID;
CREATE INDEX uses_of ON uses(key, of);
INSERT INTO uses SELECT p.customer_id, 'asset', a.digest, p.key, 'draft' FROM assets AS a JOIN pockets AS p ON p.customer_id = a.customer_id WHERE instr(p.content, a.digest) > 0;
INSERT INTO uses SELECT p.customer_id, 'asset', a.digest, p.key, 'live' FROM assets AS a JOIN pockets AS p ON p.customer_id = a.customer_id
  JOIN publications AS b ON b.key = p.key AND b.number = p.publication WHERE instr(b.content, a.digest) > 0;
INSERT INTO uses SELECT s.customer_id, 'asset', a.digest, s.key, 'schedule ' || s.id FROM assets AS a JOIN schedules AS s ON s.customer_id = a.customer_id
  WHERE s.ended_at IS NULL AND instr(CAST(s.publication AS TEXT), a.digest) > 0;
INSERT INTO uses SELECT c.id, 'asset', a.digest, '', '' FROM assets AS a JOIN customers AS c ON c.id = a.customer_id WHERE instr(CAST(c.brand AS TEXT), a.digest) > 0;
-- The names of brand values were a text with a space around each.
INSERT INTO uses WITH RECURSIVE split(customer_id, key, of, rest, name) AS (
    SELECT customer_id, key, 'draft', ltrim(brand_draft), '' FROM pockets WHERE brand_draft <> ''
    UNION ALL SELECT customer_id, key, 'live', ltrim(brand_published), '' FROM pockets WHERE brand_published <> '' AND publication > 0
    UNION ALL SELECT customer_id, key, of, substr(rest, instr(rest, ' ') + 1), substr(rest, 1, instr(rest, ' ') - 1) FROM split WHERE rest <> '')
  SELECT DISTINCT customer_id, 'brand', name, key, of FROM split WHERE name <> '';

-- A rendering has the list of what it was made from, and all that serving it needs.
CREATE TABLE served (
  key         TEXT PRIMARY KEY,
  publication INTEGER NOT NULL,
  customer_id TEXT NOT NULL,
  widget      TEXT NOT NULL,
  lot         INTEGER NOT NULL,
  follow      INTEGER NOT NULL,
  withheld    INTEGER NOT NULL DEFAULT 0,    -- the pocket, not its customer
  inputs      TEXT NOT NULL,                 -- JSON: kind, id, and revision or digest; the release is the first
  ancestors   TEXT NOT NULL DEFAULT '',      -- sources of frame-ancestors, '' for all
  refused     INTEGER NOT NULL DEFAULT 0,    -- the release that did not take the publication
  sums        TEXT NOT NULL,
  script      BLOB NOT NULL,                 -- brotli, as the next two
  json        BLOB NOT NULL,
  page        BLOB NOT NULL,
  release_id  INTEGER GENERATED ALWAYS AS (inputs ->> '$[0].revision') VIRTUAL
);
INSERT INTO served (key, publication, customer_id, widget, lot, follow, withheld, inputs, refused, sums, script, json, page)
  SELECT r.key, r.publication, p.customer_id, p.widget, p.lot, p.follow, p.withheld_at IS NOT NULL,
    CASE WHEN r.brand < 0 THEN json_array(json_object('kind', 'release', 'id', p.widget, 'revision', r.release_id), json_object('kind', 'program', 'digest', r.identity))
    ELSE json_array(json_object('kind', 'release', 'id', p.widget, 'revision', r.release_id), json_object('kind', 'program', 'digest', r.identity), json_object('kind', 'brand', 'id', p.customer_id, 'revision', r.brand)) END,
    r.refused, r.sums, r.script, r.json, r.page FROM renderings AS r JOIN pockets AS p ON p.key = r.key;
DROP TABLE renderings;
ALTER TABLE served RENAME TO renderings;

DROP TRIGGER pocket_words_add;
DROP TRIGGER pocket_words_change;
DROP TRIGGER pocket_words_end;
DROP INDEX pockets_by_title;
DROP INDEX pockets_of_by_title;
DROP INDEX pockets_branded;
ALTER TABLE pockets DROP COLUMN settings;
ALTER TABLE pockets DROP COLUMN title;
ALTER TABLE pockets DROP COLUMN language;
ALTER TABLE pockets DROP COLUMN cues;
ALTER TABLE pockets DROP COLUMN cues_published;
ALTER TABLE pockets DROP COLUMN brand_draft;
ALTER TABLE pockets DROP COLUMN brand_published;
ALTER TABLE publications DROP COLUMN settings;
ALTER TABLE publications DROP COLUMN title;
ALTER TABLE publications DROP COLUMN language;
ALTER TABLE publications DROP COLUMN cues;
ALTER TABLE publications DROP COLUMN follow;
ALTER TABLE pockets ADD COLUMN title TEXT GENERATED ALWAYS AS (content ->> '$.title') VIRTUAL;
CREATE INDEX pockets_by_title ON pockets(title COLLATE NOCASE, key);
CREATE INDEX pockets_of_by_title ON pockets(customer_id, title COLLATE NOCASE, key);
-- +goose StatementBegin
CREATE TRIGGER pocket_words_add AFTER INSERT ON pockets BEGIN
  INSERT INTO pocket_words (rowid, title, key) VALUES (new.rowid, new.title, new.key);
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER pocket_words_change AFTER UPDATE OF content ON pockets WHEN old.title <> new.title BEGIN
  INSERT INTO pocket_words (pocket_words, rowid, title, key) VALUES ('delete', old.rowid, old.title, old.key);
  INSERT INTO pocket_words (rowid, title, key) VALUES (new.rowid, new.title, new.key);
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER pocket_words_end AFTER DELETE ON pockets BEGIN
  INSERT INTO pocket_words (pocket_words, rowid, title, key) VALUES ('delete', old.rowid, old.title, old.key);
END;
-- +goose StatementEnd
