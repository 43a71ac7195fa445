// Package deliverysql stores what package delivery works with.
package deliverysql

import (
	"fmt"

	"glasspocket/internal/app/audit/auditsql"
	"glasspocket/internal/render"
	"glasspocket/internal/store"

	"github.com/maypok86/otter/v2"
)

// DeliveryStore implements delivery.Store.
type DeliveryStore struct {
	auditsql.DB
	current *store.Lookups // by part
	inputs  *otter.Cache[string, render.Inputs]
}

// inputsKept is how many lists of inputs are kept as values: few differ.
const inputsKept = 4096

// New returns the store in db.
func New(db *store.DB) (*DeliveryStore, error) {
	s := &DeliveryStore{DB: auditsql.DB{DB: db}, inputs: otter.Must(&otter.Options[string, render.Inputs]{MaximumSize: inputsKept})}
	var queries [len(columns)]string
	for part, column := range columns {
		queries[part] = fmt.Sprintf(current, column)
	}
	var err error
	if s.current, err = db.Lookups(queries[:]...); err != nil {
		return nil, err
	}
	return s, db.Hot(upsertRendering)
}
