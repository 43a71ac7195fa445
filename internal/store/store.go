// Package store keeps all data in a single SQLite database in a data folder.
package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"syscall"
	"time"

	"github.com/jmoiron/sqlx"
	"modernc.org/sqlite"
	sqlite3 "modernc.org/sqlite/lib"

	"glasspocket/internal/app"
)

// File is the database's name in the data folder.
const File = "glasspocket.db"

// pragmas: with FULL, every commit waits for the disk, so that acknowledged data is safe.
const pragmas = "?_pragma=journal_mode(WAL)&_pragma=synchronous(FULL)&_pragma=busy_timeout(5000)&_pragma=foreign_keys(1)&_time_format=sqlite"

// Store implements app.Store.
type Store struct {
	read    *sqlx.DB
	current [len(columns)]*sqlx.Stmt // by part, prepared: see the query
	write   *writer
	lock    *os.File
}

var _ app.Store = (*Store)(nil)

// Open opens the data folder. It creates the folder and updates its schema if necessary. Only one
// program at a time can open a folder.
func Open(ctx context.Context, folder string) (*Store, error) {
	if err := os.MkdirAll(folder, 0o700); err != nil {
		return nil, cannotWrite(folder, err)
	}
	lock, err := hold(folder)
	if err != nil {
		return nil, err
	}
	s, err := open(ctx, filepath.Join(folder, File))
	if err != nil {
		lock.Close()
		return nil, err
	}
	s.lock = lock
	return s, nil
}

func cannotWrite(folder string, err error) error {
	return fmt.Errorf("the data folder %s is not writable (%v). Name another with -data, or make it writable for this user", folder, errors.Unwrap(err))
}

// hold locks the folder. The kernel releases the lock however the program ends.
func hold(folder string) (*os.File, error) {
	f, err := os.OpenFile(filepath.Join(folder, "lock"), os.O_CREATE|os.O_RDWR, 0o600)
	if err != nil {
		return nil, cannotWrite(folder, err)
	}
	if err := syscall.Flock(int(f.Fd()), syscall.LOCK_EX|syscall.LOCK_NB); err != nil {
		pid := make([]byte, 16)
		n, _ := f.Read(pid)
		f.Close()
		return nil, fmt.Errorf("another glasspocketd (process %s) uses the data folder %s. Stop it, or name another folder with -data", pid[:n], folder)
	}
	f.Truncate(0)
	fmt.Fprintf(f, "%d", os.Getpid())
	return f, nil
}

func open(ctx context.Context, file string) (*Store, error) {
	single, err := sqlx.Open("sqlite", file+pragmas)
	if err != nil {
		return nil, err
	}
	single.SetMaxOpenConns(1)
	if err := migrate(ctx, single, file); err != nil {
		single.Close()
		return nil, err
	}
	pool, err := sqlx.Open("sqlite", file+pragmas+"&_pragma=query_only(1)")
	if err != nil {
		single.Close()
		return nil, err
	}
	pool.SetMaxOpenConns(8)
	pool.SetMaxIdleConns(8)
	s := &Store{read: pool}
	for part, column := range columns {
		if s.current[part], err = pool.PreparexContext(ctx, fmt.Sprintf(current, column)); err != nil {
			break
		}
	}
	if err == nil {
		s.write, err = newWriter(single)
	}
	if err == nil {
		err = s.readSealed(ctx)
	}
	if err != nil {
		single.Close()
		pool.Close()
		return nil, err
	}
	return s, nil
}

// Close waits for pending writes.
func (s *Store) Close() error {
	err := s.write.close()
	for _, stmt := range s.current {
		err = errors.Join(err, stmt.Close())
	}
	err = errors.Join(err, s.read.Close())
	if s.lock != nil {
		s.lock.Close()
	}
	return err
}

// Ping returns an error if the database does not respond.
func (s *Store) Ping(ctx context.Context) error {
	var one int
	return s.read.GetContext(ctx, &one, "SELECT 1")
}

// Trouble returns the disk error of the newest write, or nil.
func (s *Store) Trouble() error {
	if trouble := s.write.trouble.Load(); trouble != nil {
		return trouble
	}
	return nil
}

// Healthy returns an error if writes do not reach the disk. After a failed write it tries a row of
// a few pages, so that it notices when the disk has room again.
func (s *Store) Healthy(ctx context.Context) error {
	if s.Trouble() == nil {
		return nil
	}
	err := s.write.do(ctx, nil, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(ctx, "INSERT OR REPLACE INTO facts (name, value) VALUES ('probe', hex(zeroblob(16384)))")
		return err
	})
	if err != nil {
		return err
	}
	return s.write.do(ctx, nil, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(ctx, "DELETE FROM facts WHERE name = 'probe'")
		return err
	})
}

// Waiting returns how many writes wait for the next commit, Commits how many commits there have
// been.
func (s *Store) Waiting() int   { return len(s.write.queue) }
func (s *Store) Commits() int64 { return s.write.commits.Load() }

// Fact returns a fact about this installation. It stores first if there is none.
func (s *Store) Fact(ctx context.Context, name, first string) (string, error) {
	err := s.write.do(ctx, nil, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(ctx, "INSERT INTO facts (name, value) VALUES (?, ?) ON CONFLICT DO NOTHING", name, first)
		return err
	})
	if err != nil {
		return "", err
	}
	var value string
	err = s.read.GetContext(ctx, &value, "SELECT value FROM facts WHERE name = ?", name)
	return value, err
}

// translated converts the driver's errors to those of app.
func translated(err error) error {
	if errors.Is(err, sql.ErrNoRows) {
		return app.ErrNotFound
	}
	var e *sqlite.Error
	if errors.As(err, &e) {
		switch code := e.Code(); {
		case code == sqlite3.SQLITE_CONSTRAINT_PRIMARYKEY, code == sqlite3.SQLITE_CONSTRAINT_UNIQUE:
			return app.ErrExists
		case code&0xff == sqlite3.SQLITE_FULL:
			return &app.Error{Kind: app.Unavailable, Code: "disk-full", What: "The disk is full. Nothing was saved.", Hint: "Free some space, then try again. Visitors are not affected."}
		case code&0xff == sqlite3.SQLITE_CORRUPT, code&0xff == sqlite3.SQLITE_NOTADB:
			return &app.Error{Kind: app.Unavailable, Code: "database-damaged", What: "The database is damaged.", Hint: "Stop the service and restore a backup: glasspocketd restore -data DIR FILE. Pockets in memory are still served."}
		case code&0xff == sqlite3.SQLITE_READONLY, code&0xff == sqlite3.SQLITE_IOERR, code&0xff == sqlite3.SQLITE_CANTOPEN:
			return &app.Error{Kind: app.Unavailable, Code: "disk-fails", What: "The database cannot be written. Nothing was saved.", Hint: "Check the disk and the owner of the data folder. Visitors are not affected."}
		}
	}
	return err
}

func utc(t time.Time) time.Time { return t.UTC() }

func utcOrNil(t *time.Time) any {
	if t == nil {
		return nil
	}
	return t.UTC()
}
