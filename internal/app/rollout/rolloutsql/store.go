// Package rolloutsql stores what package rollout works with.
package rolloutsql

import (
	"glasspocket/internal/app/audit/auditsql"
	"glasspocket/internal/store"
)

// RolloutStore implements rollout.Store.
type RolloutStore struct{ auditsql.DB }

// New returns the store in db.
func New(db *store.DB) *RolloutStore { return &RolloutStore{auditsql.DB{DB: db}} }
