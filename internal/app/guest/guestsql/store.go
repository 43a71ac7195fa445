// Package guestsql stores what package guest works with.
package guestsql

import (
	"glasspocket/internal/app/audit/auditsql"
	"glasspocket/internal/store"
)

// GuestStore implements guest.Store.
type GuestStore struct{ auditsql.DB }

// New returns the store in db.
func New(db *store.DB) *GuestStore { return &GuestStore{auditsql.DB{DB: db}} }
