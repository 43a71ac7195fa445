// Package releasesql stores what package release works with.
package releasesql

import (
	"glasspocket/internal/app/audit/auditsql"
	"glasspocket/internal/store"
)

// ReleaseStore implements release.Store.
type ReleaseStore struct{ auditsql.DB }

// New returns the store in db.
func New(db *store.DB) *ReleaseStore { return &ReleaseStore{auditsql.DB{DB: db}} }
