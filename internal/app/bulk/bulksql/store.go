// Package bulksql stores what package bulk works with.
package bulksql

import (
	"glasspocket/internal/app/audit/auditsql"
	"glasspocket/internal/store"
)

// BulkStore implements bulk.Store.
type BulkStore struct{ auditsql.DB }

// New returns the store in db.
func New(db *store.DB) *BulkStore { return &BulkStore{auditsql.DB{DB: db}} }
