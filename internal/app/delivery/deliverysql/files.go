package deliverysql

import (
	"context"
	"glasspocket/internal/store"
)

// VisibleFile implements delivery.Store.
func (s *DeliveryStore) VisibleFile(ctx context.Context, digest, name string) (file string, err error) {
	return file, store.Translated(s.Read.GetContext(ctx, &file, `SELECT a.file FROM asset_files AS a WHERE a.digest = ? AND a.name = ? AND (
		EXISTS (SELECT 1 FROM release_assets WHERE digest = a.digest) OR EXISTS (SELECT 1 FROM widget_draft_assets WHERE digest = a.digest)
		OR EXISTS (SELECT 1 FROM assets AS x JOIN customers AS c ON c.id = x.customer_id WHERE x.digest = a.digest AND c.withheld_at IS NULL)
		OR EXISTS (SELECT 1 FROM source_images AS x JOIN customers AS c ON c.id = x.customer_id WHERE x.digest = a.digest AND c.withheld_at IS NULL))`, digest, name))
}

// FileBytes implements delivery.Store.
func (s *DeliveryStore) FileBytes(ctx context.Context, file string) (bytes []byte, err error) {
	return bytes, store.Translated(s.Read.GetContext(ctx, &bytes, "SELECT bytes FROM files WHERE digest = ?", file))
}

// SealedScript implements delivery.Store.
func (s *DeliveryStore) SealedScript(ctx context.Context, digest, key string) (script []byte, err error) {
	return script, store.Translated(s.Read.GetContext(ctx, &script, `SELECT x.script FROM sealed AS x JOIN pockets AS p ON p.key = x.key JOIN customers AS c ON c.id = p.customer_id
		WHERE x.digest = ? AND x.key = ? AND p.withheld_at IS NULL AND c.withheld_at IS NULL`, digest, key))
}
