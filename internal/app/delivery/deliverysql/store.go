// Package deliverysql stores what package delivery works with.
package deliverysql

import (
	"fmt"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/app/audit/auditsql"
	"glasspocket/internal/store"
)

// DeliveryStore implements delivery.Store.
type DeliveryStore struct {
	auditsql.DB
	current [len(columns)]*sqlx.Stmt // by part
}

// New returns the store in db.
func New(db *store.DB) (*DeliveryStore, error) {
	s := &DeliveryStore{DB: auditsql.DB{DB: db}}
	for part, column := range columns {
		var err error
		if s.current[part], err = db.Prepare(fmt.Sprintf(current, column)); err != nil {
			return nil, err
		}
	}
	return s, db.Hot(upsertRendering)
}
