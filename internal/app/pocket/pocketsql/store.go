// Package pocketsql stores what package pocket works with.
package pocketsql

import (
	"glasspocket/internal/app/audit/auditsql"
	"glasspocket/internal/store"
)

// PocketStore implements pocket.Store.
type PocketStore struct{ auditsql.DB }

// New returns the store in db.
func New(db *store.DB) *PocketStore { return &PocketStore{auditsql.DB{DB: db}} }
