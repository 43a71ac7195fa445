// Package sourcesql stores what package source works with.
package sourcesql

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"strings"
	"time"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/app/audit"
	"glasspocket/internal/app/audit/auditsql"
	"glasspocket/internal/app/source"
	"glasspocket/internal/item"
	"glasspocket/internal/paging"
	"glasspocket/internal/problem"
	"glasspocket/internal/store"
	"glasspocket/internal/work"
	"glasspocket/internal/work/worksql"
)

// SourceStore implements source.Store.
type SourceStore struct {
	auditsql.DB
}

// New returns the store in db.
func New(db *store.DB) *SourceStore { return &SourceStore{auditsql.DB{DB: db}} }

// row is a source with its task.
type row struct {
	ID           string     `db:"id"`
	CustomerID   string     `db:"customer_id"`
	Name         string     `db:"name"`
	Reader       string     `db:"reader"`
	Address      string     `db:"address"`
	FileName     string     `db:"file_name"`
	Options      string     `db:"options"`
	SecretIn     string     `db:"secret_in"`
	SecretName   string     `db:"secret_name"`
	Secret       []byte     `db:"secret"`
	CreatedAt    time.Time  `db:"created_at"`
	CreatedBy    string     `db:"created_by"`
	Revision     int        `db:"revision"`
	Items        int        `db:"items"`
	Stock        int64      `db:"stock"`
	About        string     `db:"about"`
	ChangedAt    *time.Time `db:"changed_at"`
	FailingSince *time.Time `db:"failing_since"`
	Why          string     `db:"why"`
	Hint         string     `db:"hint"`
	EndedAt      *time.Time `db:"ended_at"`
	Push         string     `db:"push"`
	PushToken    string     `db:"push_token"`
	Due          *time.Time `db:"due"`
	Progress     []byte     `db:"progress"`
}

func (r row) source() (s source.Source, err error) {
	s = source.Source{ID: r.ID, CustomerID: r.CustomerID, Name: r.Name, Reader: r.Reader, Address: r.Address, FileName: r.FileName, SecretIn: r.SecretIn, SecretName: r.SecretName, Secret: r.Secret,
		CreatedAt: r.CreatedAt, CreatedBy: r.CreatedBy, Revision: r.Revision, Items: r.Items, Stock: r.Stock, ChangedAt: r.ChangedAt,
		Health: source.Health{FailingSince: r.FailingSince, Why: r.Why, Hint: r.Hint, EndedAt: r.EndedAt}}
	if r.Due != nil {
		s.Next = *r.Due
	}
	if len(r.Progress) > 0 {
		err = json.Unmarshal(r.Progress, &s.Progress)
	}
	err = errors.Join(err, json.Unmarshal([]byte(r.Options), &s.Options), json.Unmarshal([]byte(r.About), &s.About), json.Unmarshal([]byte(r.Push), &s.Push))
	s.Push.Token = r.PushToken
	return s, err
}

const selectSources = "SELECT s.*, t.due, t.about AS progress FROM sources AS s LEFT JOIN tasks AS t ON t.kind = 'fetch' AND t.key = s.id AND t.key <> '' AND t.ended_at IS NULL "

// Source implements source.Store.
func (s *SourceStore) Source(ctx context.Context, id string) (source.Source, error) {
	var r row
	if err := s.Read.GetContext(ctx, &r, selectSources+"WHERE s.id = ?", id); err != nil {
		return source.Source{}, store.Translated(err)
	}
	return r.source()
}

// Sources implements source.Store.
func (s *SourceStore) Sources(ctx context.Context, customer string, p paging.Page) ([]source.Source, error) {
	name, id, _ := strings.Cut(p.After, "\x00")
	var rows []row
	if err := s.Read.SelectContext(ctx, &rows, selectSources+"WHERE s.customer_id = ? AND (s.name COLLATE NOCASE, s.id) > (? COLLATE NOCASE, ?) ORDER BY s.name COLLATE NOCASE, s.id LIMIT ?", customer, name, id, p.Limit); err != nil {
		return nil, store.Translated(err)
	}
	list := make([]source.Source, len(rows))
	for i, r := range rows {
		var err error
		if list[i], err = r.source(); err != nil {
			return nil, err
		}
	}
	return list, nil
}

// CountSources implements source.Store.
func (s *SourceStore) CountSources(ctx context.Context, customer string) (n int, err error) {
	return n, store.Translated(s.Read.GetContext(ctx, &n, "SELECT count(*) FROM sources WHERE customer_id = ?", customer))
}

const sourceUses = "SELECT DISTINCT key FROM uses WHERE customer_id = ? AND kind = 'source' AND id = ? AND key <> '' ORDER BY key LIMIT 100"

// SourceUses implements source.Store.
func (s *SourceStore) SourceUses(ctx context.Context, customer, id string) (keys []string, err error) {
	return keys, store.Translated(s.Read.SelectContext(ctx, &keys, sourceUses, customer, id))
}

// KnownSources implements source.Store.
func (s *SourceStore) KnownSources(ctx context.Context, customer string, ids []string) (known []string, err error) {
	query, args, err := sqlx.In("SELECT id FROM sources WHERE customer_id = ? AND id IN (?)", customer, ids)
	if err != nil {
		return nil, err
	}
	return known, store.Translated(s.Read.SelectContext(ctx, &known, query, args...))
}

// Stock implements source.Store.
func (s *SourceStore) Stock(ctx context.Context, id string) (stock item.Stock, revision int64, err error) {
	var r struct {
		Stock    []byte `db:"stock"`
		Revision int64  `db:"revision"`
	}
	if err := s.Read.GetContext(ctx, &r, "SELECT i.stock, s.stock AS revision FROM source_items AS i JOIN sources AS s ON s.id = i.source_id WHERE i.source_id = ?", id); err != nil {
		return stock, 0, store.Translated(err)
	}
	stock, err = unpack(r.Stock)
	return stock, r.Revision, err
}

// SourceFile implements source.Store.
func (s *SourceStore) SourceFile(ctx context.Context, id string) (file []byte, err error) {
	return file, store.Translated(s.Read.GetContext(ctx, &file, "SELECT file FROM source_items WHERE source_id = ?", id))
}

// AddSource implements source.Store.
func (s *SourceStore) AddSource(ctx context.Context, src source.Source, got source.Got, rec *audit.Record) error {
	options, err := json.Marshal(src.Options)
	if err != nil {
		return err
	}
	packed, err := packIfAny(got.Stock)
	if err != nil {
		return err
	}
	return s.Write(ctx, rec, func(tx *sqlx.Tx) error {
		if _, err := tx.ExecContext(ctx, "INSERT INTO sources (id, customer_id, name, reader, address, file_name, options, secret_in, secret_name, secret, created_at, created_by, revision) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
			src.ID, src.CustomerID, src.Name, src.Reader, src.Address, src.FileName, string(options), src.SecretIn, src.SecretName, append([]byte{}, src.Secret...), store.UTC(src.CreatedAt), src.CreatedBy, src.Revision); err != nil {
			return err
		}
		return saveFetch(ctx, tx, src.ID, got, packed)
	})
}

// SaveSource implements source.Store.
func (s *SourceStore) SaveSource(ctx context.Context, src source.Source, revision int, rec *audit.Record) error {
	options, err := json.Marshal(src.Options)
	if err != nil {
		return err
	}
	return s.Write(ctx, rec, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "UPDATE sources SET name = ?, address = ?, file_name = ?, options = ?, secret_in = ?, secret_name = ?, secret = ?, revision = revision + 1 WHERE id = ? AND revision = ?",
			src.Name, src.Address, src.FileName, string(options), src.SecretIn, src.SecretName, append([]byte{}, src.Secret...), src.ID, revision)
		return store.OneRow(r, err, problem.ErrChanged)
	})
}

// DeleteSource implements source.Store.
func (s *SourceStore) DeleteSource(ctx context.Context, id string, rec *audit.Record) (uses []string, err error) {
	err = s.Write(ctx, rec, func(tx *sqlx.Tx) error {
		uses = nil // because the write may run again
		var customer string
		if err := tx.GetContext(ctx, &customer, "SELECT customer_id FROM sources WHERE id = ?", id); errors.Is(err, sql.ErrNoRows) {
			return problem.ErrNotFound
		} else if err != nil {
			return err
		}
		if err := tx.SelectContext(ctx, &uses, sourceUses, customer, id); err != nil {
			return err
		}
		if len(uses) > 0 {
			rec.Skip()
			return nil
		}
		if err := worksql.Cancel(tx, source.FetchTask, id, rec.At); err != nil {
			return err
		}
		if err := dropPicturesOf(ctx, tx, id); err != nil {
			return err
		}
		_, err := tx.ExecContext(ctx, "DELETE FROM sources WHERE id = ?", id)
		return err
	})
	return uses, err
}

// Fetches implements source.Store.
func (s *SourceStore) Fetches(ctx context.Context, id string, limit int) (list []source.Fetch, err error) {
	return list, store.Translated(s.Read.SelectContext(ctx, &list, "SELECT id, at, last_at, times, status, bytes, took, added, changed, removed, by, why FROM fetches WHERE source_id = ? ORDER BY id DESC LIMIT ?", id, limit))
}

// SaveFetch implements source.Store.
func (s *SourceStore) SaveFetch(ctx context.Context, id string, got source.Got, rec *audit.Record) error {
	packed, err := packIfAny(got.Stock)
	if err != nil {
		return err
	}
	save := func(tx *sqlx.Tx) error { return saveFetch(ctx, tx, id, got, packed) }
	if got.Leased != nil && rec == nil { // nobody waits for it
		return s.WritePatiently(ctx, save)
	}
	return s.Write(ctx, rec, save)
}

// packIfAny packs a stock. Do it before a transaction, for which others wait.
func packIfAny(stock *item.Stock) ([]byte, error) {
	if stock == nil {
		return nil, nil
	}
	return pack(*stock)
}

func saveFetch(ctx context.Context, tx *sqlx.Tx, id string, got source.Got, packed []byte) error {
	r, err := tx.ExecContext(ctx, "UPDATE sources SET failing_since = ?, why = ?, hint = ?, ended_at = ?, address = iif(? = '', address, ?) WHERE id = ?",
		store.UTCOrNil(got.Health.FailingSince), got.Health.Why, got.Health.Hint, store.UTCOrNil(got.Health.EndedAt), got.Address, got.Address, id)
	if err := store.OneRow(r, err, problem.ErrNotFound); err != nil {
		return err
	}
	if got.About != nil {
		about, err := json.Marshal(got.About)
		if err != nil {
			return err
		}
		if _, err := tx.ExecContext(ctx, "UPDATE sources SET about = ? WHERE id = ?", string(about), id); err != nil {
			return err
		}
	}
	if got.Stock != nil {
		if _, err := tx.ExecContext(ctx, "INSERT INTO source_items (source_id, stock) VALUES (?, ?) ON CONFLICT (source_id) DO UPDATE SET stock = excluded.stock", id, packed); err != nil {
			return err
		}
		if err := keepPictures(ctx, tx, id, got.Stock.Items, got.At); err != nil {
			return err
		}
		if _, err := tx.ExecContext(ctx, "UPDATE sources SET items = ?, stock = ?, changed_at = ? WHERE id = ?", len(got.Stock.Items), got.Revision, store.UTC(got.At), id); err != nil {
			return err
		}
	}
	if got.File != nil {
		if _, err := tx.ExecContext(ctx, "UPDATE source_items SET file = ? WHERE source_id = ?", got.File, id); err != nil {
			return err
		}
	}
	if err := saveEntry(ctx, tx, id, got.Fetch); err != nil {
		return err
	}
	var customer, name string
	if err := tx.QueryRowxContext(ctx, "SELECT customer_id, name FROM sources WHERE id = ?", id).Scan(&customer, &name); err != nil {
		return err
	}
	var used bool
	if got.Renew {
		if err := tx.GetContext(ctx, &used, "SELECT EXISTS (SELECT 1 FROM uses WHERE customer_id = ? AND kind = 'source' AND id = ? AND of = 'live')", customer, id); err != nil {
			return err
		}
	}
	if used {
		if err := worksql.Add(tx, source.RenewalOf(id, customer, name, got.Revision, got.At)); err != nil {
			return err
		}
	}
	if t := got.Leased; t != nil && got.Next.IsZero() {
		return nil
	} else if t != nil {
		about, err := json.Marshal(got.Progress)
		if err != nil {
			return err
		}
		return worksql.Postpone(ctx, tx, work.Postponed{Task: t.ID, Lease: t.Lease, Due: got.Next, Attempts: t.Attempts - 1, About: about})
	}
	return plan(ctx, tx, id, customer, name, got)
}

// plan sets when the source is fetched next, unless an attempt of its task is running.
func plan(ctx context.Context, tx *sqlx.Tx, id, customer, name string, got source.Got) error {
	if got.Next.IsZero() {
		return worksql.Cancel(tx, source.FetchTask, id, got.At)
	}
	about, err := json.Marshal(got.Progress)
	if err != nil {
		return err
	}
	if _, err := tx.ExecContext(ctx, "UPDATE tasks SET due = ?, about = ? WHERE kind = ? AND key = ? AND ended_at IS NULL AND lease = ''", store.UTC(got.Next), about, source.FetchTask, id); err != nil {
		return err
	}
	return worksql.Add(tx, work.Task{Kind: source.FetchTask, Key: id, CustomerID: customer, Of: name, About: about, CreatedAt: got.At, Due: got.Next})
}

// saveEntry adds an entry to the history, or counts it if it is like the last one.
func saveEntry(ctx context.Context, tx *sqlx.Tx, id string, f *source.Fetch) error {
	if f == nil {
		return nil
	}
	if f.Added == 0 && f.Changed == 0 && f.Removed == 0 && f.By == "" {
		r, err := tx.ExecContext(ctx, `UPDATE fetches SET times = times + 1, last_at = ? WHERE id = (SELECT max(id) FROM fetches WHERE source_id = ?) AND status = ? AND why = ? AND added = 0 AND changed = 0 AND removed = 0 AND by = ''`,
			store.UTC(f.At), id, f.Status, f.Why)
		if err != nil {
			return err
		}
		if n, err := r.RowsAffected(); n > 0 || err != nil {
			return err
		}
	}
	if _, err := tx.ExecContext(ctx, "INSERT INTO fetches (source_id, at, last_at, status, bytes, took, added, changed, removed, by, why) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
		id, store.UTC(f.At), store.UTC(f.At), f.Status, f.Bytes, f.Took, f.Added, f.Changed, f.Removed, f.By, f.Why); err != nil {
		return err
	}
	_, err := tx.ExecContext(ctx, "DELETE FROM fetches WHERE source_id = ?1 AND id <= (SELECT id FROM fetches WHERE source_id = ?1 ORDER BY id DESC LIMIT 1 OFFSET ?2)", id, source.FetchesMost)
	return err
}
