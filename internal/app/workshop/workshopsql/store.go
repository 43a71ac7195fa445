// Package workshopsql stores what package workshop works with.
package workshopsql

import (
	"glasspocket/internal/app/audit/auditsql"
	"glasspocket/internal/store"
)

// WorkshopStore implements workshop.Store.
type WorkshopStore struct{ auditsql.DB }

// New returns the store in db.
func New(db *store.DB) *WorkshopStore { return &WorkshopStore{auditsql.DB{DB: db}} }
