// Package installsql stores what package install works with.
package installsql

import (
	"context"

	"glasspocket/internal/app/audit/auditsql"
	"glasspocket/internal/store"
)

// InstallStore implements install.Store.
type InstallStore struct{ auditsql.DB }

// New returns the store in db. It completes the rows of scripts that older programs have sealed.
func New(ctx context.Context, db *store.DB) (*InstallStore, error) {
	s := &InstallStore{auditsql.DB{DB: db}}
	return s, s.readSealed(ctx)
}
