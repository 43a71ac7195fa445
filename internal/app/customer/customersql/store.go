// Package customersql stores what package customer works with.
package customersql

import (
	"glasspocket/internal/app/audit/auditsql"
	"glasspocket/internal/store"
)

// CustomerStore implements customer.Store.
type CustomerStore struct{ auditsql.DB }

// New returns the store in db.
func New(db *store.DB) *CustomerStore { return &CustomerStore{auditsql.DB{DB: db}} }
