package deliverysql

import (
	"context"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/app/audit/auditsql"
	"glasspocket/internal/app/delivery"
	"glasspocket/internal/render"
	"glasspocket/internal/store"
)

// A late rendering of an older publication must not replace a newer one.
const upsertRendering = `INSERT INTO renderings (key, publication, release_id, identity, sums, brand, script, json, page, refused) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
	ON CONFLICT (key) DO UPDATE SET publication = excluded.publication, release_id = excluded.release_id, identity = excluded.identity, sums = excluded.sums, brand = excluded.brand, refused = excluded.refused, script = excluded.script, json = excluded.json, page = excluded.page
	WHERE excluded.publication >= publication`

// PutRendering stores a rendering in a transaction.
func PutRendering(db auditsql.DB, tx *sqlx.Tx, r delivery.Rendering) error {
	_, err := db.Exec(tx, upsertRendering, r.Key, r.Publication, r.ReleaseID, r.Identity, r.Sums, r.Brand, r.Script, r.JSON, r.Page, r.Refused)
	return err
}

// SaveRendering implements delivery.Store.
func (s *DeliveryStore) SaveRendering(ctx context.Context, r delivery.Rendering) error {
	return s.Write(ctx, nil, func(tx *sqlx.Tx) error { return PutRendering(s.DB, tx, r) })
}

// current uses primary keys only, and reads one document of three, because it runs for everything
// that is not cached.
const current = `SELECT r.key, r.publication, r.release_id, r.identity, r.sums, r.brand, c.brand_revision, r.%s AS document, p.customer_id, p.widget, p.follow, p.cues_published, c.sites,
		p.withheld_at IS NOT NULL OR c.withheld_at IS NOT NULL AS withheld,
		CASE WHEN p.follow THEN coalesce((SELECT id FROM releases WHERE widget = p.widget AND withdrawn_at IS NULL AND share > p.lot ORDER BY number DESC LIMIT 1),
			(SELECT id FROM releases WHERE widget = p.widget AND withdrawn_at IS NULL ORDER BY number LIMIT 1), 0) ELSE 0 END AS newest
	FROM renderings AS r JOIN pockets AS p ON p.key = r.key JOIN customers AS c ON c.id = p.customer_id WHERE r.key = ?`

var columns = [...]string{render.Script: "script", render.JSON: "json", render.Page: "page"}

// Current implements delivery.Store.
func (s *DeliveryStore) Current(ctx context.Context, key string, part render.Part) (c delivery.Current, err error) {
	return c, store.Translated(s.current[part].GetContext(ctx, &c, key))
}

// Refuse implements delivery.Store.
func (s *DeliveryStore) Refuse(ctx context.Context, key string, publication int, release int64) error {
	return s.Write(ctx, nil, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(ctx, "UPDATE renderings SET refused = ? WHERE key = ? AND publication = ? AND release_id <> ?", release, key, publication, release)
		return err
	})
}
