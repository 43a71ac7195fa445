package customersql

import (
	"cmp"
	"context"
	"encoding/json"
	"time"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/app/audit"
	"glasspocket/internal/app/customer"
	"glasspocket/internal/paging"
	"glasspocket/internal/problem"
	"glasspocket/internal/store"
)

// AddCustomer implements customer.Store.
func (s *CustomerStore) AddCustomer(ctx context.Context, c customer.Customer, rec *audit.Record) error {
	return s.Write(ctx, rec, func(tx *sqlx.Tx) error { return Add(ctx, tx, c) })
}

// Add adds a customer in a transaction.
func Add(ctx context.Context, tx *sqlx.Tx, c customer.Customer) error {
	_, err := tx.ExecContext(ctx, "INSERT INTO customers (id, name, created_at, zone, language, sites, brand) VALUES (?, ?, ?, ?, ?, ?, ?)",
		c.ID, c.Name, store.UTC(c.CreatedAt), cmp.Or(c.Zone, "UTC"), c.Language, listOf(c.Sites), listOf(c.Brand))
	return err
}

// listOf returns a JSON list, an empty one for nil.
func listOf(text json.RawMessage) []byte {
	if len(text) == 0 {
		return []byte("[]")
	}
	return text
}

// Customer implements customer.Store.
func (s *CustomerStore) Customer(ctx context.Context, id string) (c customer.Customer, err error) {
	return c, store.Translated(s.Read.GetContext(ctx, &c, "SELECT * FROM customers WHERE id = ?", id))
}

// HasCustomer implements customer.Store.
func (s *CustomerStore) HasCustomer(ctx context.Context, id string) (there bool, err error) {
	return there, store.Translated(s.Read.GetContext(ctx, &there, "SELECT EXISTS (SELECT 1 FROM customers WHERE id = ?)", id))
}

// Customers implements customer.Store.
func (s *CustomerStore) Customers(ctx context.Context, only, search string, p paging.Page) (list []customer.Customer, err error) {
	text := store.Containing(search)
	return list, store.Translated(s.Read.SelectContext(ctx, &list, `SELECT * FROM customers WHERE (? = '' OR id = ?) AND id <> ? AND id > ? AND (? = '' OR name LIKE ? ESCAPE '\' OR id LIKE ? ESCAPE '\') ORDER BY id LIMIT ?`,
		only, only, customer.NobodysCustomer, p.After, search, text, text, p.Limit))
}

// CustomerNames implements customer.Store.
func (s *CustomerStore) CustomerNames(ctx context.Context, ids []string) (map[string]string, error) {
	names := map[string]string{}
	if len(ids) == 0 {
		return names, nil
	}
	query, args, err := sqlx.In("SELECT id, name FROM customers WHERE id IN (?)", ids)
	if err != nil {
		return nil, err
	}
	var rows []struct {
		ID   string `db:"id"`
		Name string `db:"name"`
	}
	if err := s.Read.SelectContext(ctx, &rows, query, args...); err != nil {
		return nil, store.Translated(err)
	}
	for _, r := range rows {
		names[r.ID] = r.Name
	}
	return names, nil
}

// SaveCustomer implements customer.Store.
func (s *CustomerStore) SaveCustomer(ctx context.Context, c customer.Customer, revision int, rec *audit.Record) error {
	return s.Write(ctx, rec, func(tx *sqlx.Tx) error {
		// In another time zone, the dates of items are on other days. Their pockets are overdue then.
		if _, err := tx.ExecContext(ctx, `UPDATE renderings SET until = ?1 WHERE key IN (SELECT key FROM uses WHERE customer_id = ?2 AND kind = 'source' AND of = 'live')
			AND EXISTS (SELECT 1 FROM customers WHERE id = ?2 AND zone <> ?3)`, store.UTC(time.Unix(0, 0)), c.ID, c.Zone); err != nil {
			return err
		}
		r, err := tx.ExecContext(ctx, "UPDATE customers SET name = ?, zone = ?, language = ?, sites = ?, brand = ?, brand_revision = ?, revision = revision + 1 WHERE id = ? AND revision = ?",
			c.Name, c.Zone, c.Language, []byte(c.Sites), []byte(c.Brand), c.BrandRevision, c.ID, revision)
		if err := store.OneRow(r, err, problem.ErrChanged); err != nil {
			return err
		}
		if _, err := tx.ExecContext(ctx, "DELETE FROM uses WHERE customer_id = ? AND key = ''", c.ID); err != nil {
			return err
		}
		for _, digest := range c.Assets {
			if _, err := tx.ExecContext(ctx, "INSERT INTO uses (customer_id, kind, id, key, of) VALUES (?, 'asset', ?, '', '') ON CONFLICT DO NOTHING", c.ID, digest); err != nil {
				return err
			}
		}
		return nil
	})
}

// WithholdCustomer implements customer.Store.
func (s *CustomerStore) WithholdCustomer(ctx context.Context, id string, w customer.Withheld, rec *audit.Record) error {
	return s.Write(ctx, rec, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "UPDATE customers SET withheld_at = ?, withheld_why = ? WHERE id = ?", store.UTCOrNil(w.At), w.Why, id)
		return store.OneRow(r, err, problem.ErrNotFound)
	})
}
