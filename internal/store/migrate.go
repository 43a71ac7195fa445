package store

import (
	"context"
	"embed"
	"errors"
	"fmt"
	"io/fs"

	"github.com/jmoiron/sqlx"
	"github.com/pressly/goose/v3"
)

//go:embed migrations/*.sql
var migrations embed.FS

func steps(db *sqlx.DB) (*goose.Provider, error) {
	files, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return nil, err
	}
	return goose.NewProvider(goose.DialectSQLite3, db.DB, files)
}

// migrate updates the schema step by step, with a copy of the database before each step. It refuses
// a database that a newer program has written.
func migrate(ctx context.Context, db *sqlx.DB, file string) error {
	p, err := steps(db)
	if err != nil {
		return err
	}
	have, want, err := p.GetVersions(ctx)
	if err != nil {
		return fmt.Errorf("the database %s cannot be read: %w. If it is damaged, restore a backup: glasspocketd restore -data DIR FILE", file, err)
	}
	if have > want {
		return fmt.Errorf("the database %s was written by a newer glasspocketd (schema %d; this program knows %d). Use that program, or restore a backup from before: glasspocketd restore -data DIR FILE", file, have, want)
	}
	for ; have < want; have++ {
		if have > 0 {
			if err := copyTo(ctx, db, fmt.Sprintf("%s.before-%d", file, have+1)); err != nil {
				return fmt.Errorf("the copy before the schema change could not be written, so nothing was changed: %w", err)
			}
		}
		if _, err := p.UpByOne(ctx); err != nil && !errors.Is(err, goose.ErrNoNextVersion) {
			return fmt.Errorf("the schema could not be changed to %d. The database is unchanged: %w", have+1, err)
		}
	}
	return nil
}
