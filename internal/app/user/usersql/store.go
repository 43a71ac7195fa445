// Package usersql stores what package user works with.
package usersql

import (
	"glasspocket/internal/app/audit/auditsql"
	"glasspocket/internal/store"
)

// UserStore implements user.Store.
type UserStore struct{ auditsql.DB }

// New returns the store in db.
func New(db *store.DB) *UserStore { return &UserStore{auditsql.DB{DB: db}} }
