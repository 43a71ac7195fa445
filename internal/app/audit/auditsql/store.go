// Package auditsql stores the audit. It gives the other subjects a database whose writes record who
// changed what.
package auditsql

import (
	"context"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/app/audit"
	"glasspocket/internal/store"
	"glasspocket/internal/work/worksql"
)

// AuditStore implements audit.Store.
type AuditStore struct{ DB }

// New returns the store in db.
func New(db *store.DB) (*AuditStore, error) { return &AuditStore{DB{db}}, db.Hot(insertEntry) }

// DB is a database whose writes are recorded.
type DB struct{ *store.DB }

// Write is store.DB.Write. In the same transaction it stores rec, if given.
func (db DB) Write(ctx context.Context, rec *audit.Record, run func(*sqlx.Tx) error) error {
	if rec == nil {
		return db.DB.Write(ctx, run)
	}
	as := rec.Entry
	return db.DB.Write(ctx, func(tx *sqlx.Tx) error {
		rec.Entry = as // because the write may run again
		if err := run(tx); err != nil {
			return err
		}
		if rec.Task != nil {
			if err := worksql.Complete(tx, *rec.Task, rec.At); err != nil {
				return err
			}
		}
		return db.note(tx, rec.Entry)
	})
}
