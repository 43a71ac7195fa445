package store

import (
	"context"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/asset"
	"glasspocket/internal/digest"
)

// PutFile stores bytes once, however many owners they have, and returns their digest.
func PutFile(ctx context.Context, tx *sqlx.Tx, bytes []byte) (string, error) {
	name := digest.Of(bytes)
	_, err := tx.ExecContext(ctx, "INSERT INTO files (digest, bytes) VALUES (?, ?) ON CONFLICT DO NOTHING", name, append([]byte{}, bytes...))
	return name, err
}

// PutAsset stores an asset's files in a transaction.
func PutAsset(ctx context.Context, tx *sqlx.Tx, made asset.Made) error {
	for i, form := range made.Forms {
		if i >= len(made.Files) {
			break // opened from the store, so it is stored already
		}
		file, err := PutFile(ctx, tx, made.Files[i])
		if err != nil {
			return err
		}
		if _, err := tx.ExecContext(ctx, "INSERT INTO asset_files (digest, name, file) VALUES (?, ?, ?) ON CONFLICT DO NOTHING", made.Digest, form.Name, file); err != nil {
			return err
		}
	}
	return nil
}

// DropAsset deletes the bytes of an asset without its former owner, unless others have it.
func DropAsset(ctx context.Context, tx *sqlx.Tx, digest string) error {
	var left int
	if err := tx.GetContext(ctx, &left, `SELECT (SELECT count(*) FROM assets WHERE digest = ?) + (SELECT count(*) FROM release_assets WHERE digest = ?)
		+ (SELECT count(*) FROM widget_draft_assets WHERE digest = ?) + (SELECT count(*) FROM source_images WHERE digest = ?)`, digest, digest, digest, digest); err != nil || left > 0 {
		return err
	}
	var files []string
	if err := tx.SelectContext(ctx, &files, "SELECT file FROM asset_files WHERE digest = ?", digest); err != nil {
		return err
	}
	if _, err := tx.ExecContext(ctx, "DELETE FROM asset_files WHERE digest = ?", digest); err != nil {
		return err
	}
	for _, f := range files {
		if _, err := tx.ExecContext(ctx, `DELETE FROM files WHERE digest = ? AND NOT EXISTS (SELECT 1 FROM asset_files WHERE file = files.digest)
			AND NOT EXISTS (SELECT 1 FROM release_files WHERE digest = files.digest)`, f); err != nil {
			return err
		}
	}
	return nil
}
