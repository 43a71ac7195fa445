// Package publishsql stores what package publish works with.
package publishsql

import (
	"glasspocket/internal/app/audit/auditsql"
	"glasspocket/internal/content/contentsql"
	"glasspocket/internal/store"
)

// PublishStore implements publish.Store.
type PublishStore struct{ auditsql.DB }

// New returns the store in db.
func New(db *store.DB) (*PublishStore, error) {
	return &PublishStore{auditsql.DB{DB: db}}, db.Hot(append([]string{pointPocket, insertPublication}, contentsql.Hot...)...)
}
