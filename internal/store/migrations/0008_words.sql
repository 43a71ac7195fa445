-- +goose Up

-- One word for one thing, in the stored data as in the API and on every screen.
ALTER TABLE trail RENAME TO audit;
DROP INDEX trail_by_customer;
DROP INDEX trail_by_object;
CREATE INDEX audit_by_customer ON audit(customer_id, id);
CREATE INDEX audit_by_object ON audit(kind, of, id);
UPDATE audit SET did = 'revoke' WHERE did = 'end' AND kind IN ('token', 'session', 'invitation', 'handover');
UPDATE audit SET did = CASE did WHEN 'end' THEN 'delete' WHEN 'begin' THEN 'start' WHEN 'copy' THEN 'duplicate' WHEN 'picture' THEN 'image' ELSE did END;

ALTER TABLE begun RENAME TO guest_pockets;
DROP INDEX begun_until;
CREATE INDEX guest_pockets_until ON guest_pockets(expires_at);
UPDATE customers SET name = 'Guests' WHERE id = '(nobody)';

UPDATE jobs SET does = CASE does WHEN 'end' THEN 'delete' WHEN 'copy' THEN 'duplicate' ELSE does END;
-- A job that is under way keeps its request, which names what it does as well.
UPDATE jobs SET ask = CAST(json_set(CAST(ask AS TEXT), '$.does', does) AS BLOB) WHERE json_extract(CAST(ask AS TEXT), '$.does') IN ('end', 'copy');

ALTER TABLE publications RENAME COLUMN ends TO unpublished;

-- Handovers keep which delivery was handed over.
UPDATE handovers SET about = CAST(json_remove(json_set(CAST(about AS TEXT), '$.delivery', json_extract(CAST(about AS TEXT), '$.form')), '$.form') AS BLOB)
  WHERE json_extract(CAST(about AS TEXT), '$.form') IS NOT NULL;

-- Own host profiles: a step's image, and the deliveries of a pitfall. json() writes without
-- spaces, and inside a string a quotation mark has a backslash before it, so only keys match.
ALTER TABLE host_pictures RENAME TO host_images;
UPDATE hosts SET profile = CAST(replace(replace(json(CAST(profile AS TEXT)), '"picture":', '"image":'), '"forms":[', '"deliveries":[') AS BLOB);
