// Package store keeps all data in a single SQLite database in a data folder. It opens the database,
// updates its schema, groups the writes, and makes backups. The queries of each subject are beside
// the subject.
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

	"glasspocket/internal/problem"
)

// File is the database's name in the data folder.
const File = "glasspocket.db"

// pragmas: with FULL, every commit waits for the disk, so that acknowledged data is safe.
const pragmas = "?_pragma=journal_mode(WAL)&_pragma=synchronous(FULL)&_pragma=busy_timeout(5000)&_pragma=foreign_keys(1)&_time_format=sqlite"

// DB is an open database. It is safe for concurrent use.
type DB struct {
	Read    *sqlx.DB // for queries
	file    string
	lookups []*Lookups
	write   *writer
	lock    *os.File
}

// Open opens the data folder. It creates the folder and updates its schema if necessary. Only one
// program at a time can open a folder.
func Open(ctx context.Context, folder string) (*DB, error) {
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

func open(ctx context.Context, file string) (*DB, error) {
	single, err := sqlx.Open(keeping, file+pragmas)
	if err != nil {
		return nil, err
	}
	single.SetMaxOpenConns(1)
	if err := migrate(ctx, single, file); err != nil {
		single.Close()
		return nil, err
	}
	pool, err := sqlx.Open(keeping, file+pragmas+"&_pragma=query_only(1)")
	if err != nil {
		single.Close()
		return nil, err
	}
	pool.SetMaxOpenConns(8)
	pool.SetMaxIdleConns(8)
	s := &DB{Read: pool, file: file}
	if s.write, err = newWriter(single); err != nil {
		single.Close()
		pool.Close()
		return nil, err
	}
	return s, nil
}

// Write runs a write, and returns when it is durable or has not happened. If ctx ends while the
// write waits, the write can still happen: the result is then unknown, as with any broken
// connection. run may be called again after an error of another write.
func (s *DB) Write(ctx context.Context, run func(*sqlx.Tx) error) error { return s.write.do(ctx, run) }

// WritePatiently is Write for what nobody waits for. It waits a moment for other writes, so that many
// that come one by one need few commits.
func (s *DB) WritePatiently(ctx context.Context, run func(*sqlx.Tx) error) error {
	return s.write.commission(ctx, &job{run: run, told: make(chan error, 1), patient: true})
}

// Hot prepares statements of a hot path for Exec. Call it before the database is used concurrently.
func (s *DB) Hot(statements ...string) error { return s.write.prepare(statements...) }

// Exec runs a statement inside a Write. Hot ones run below database/sql, which takes about as long for
// a statement as SQLite does. All others go through the driver of kept.go.
func (s *DB) Exec(tx *sqlx.Tx, query string, args ...any) (sql.Result, error) {
	return s.write.hot.exec(tx, query, args...)
}

// Close waits for pending writes.
func (s *DB) Close() error {
	err := s.write.close()
	for _, l := range s.lookups {
		err = errors.Join(err, l.close())
	}
	err = errors.Join(err, s.Read.Close())
	if s.lock != nil {
		s.lock.Close()
	}
	return err
}

// Ping returns an error if the database does not respond.
func (s *DB) Ping(ctx context.Context) error {
	var one int
	return s.Read.GetContext(ctx, &one, "SELECT 1")
}

// Trouble returns the disk error of the newest write, or nil.
func (s *DB) Trouble() error {
	if trouble := s.write.trouble.Load(); trouble != nil {
		return trouble
	}
	return nil
}

// Healthy returns an error if writes do not reach the disk. After a failed write it tries a row of
// a few pages, so that it notices when the disk has room again.
func (s *DB) Healthy(ctx context.Context) error {
	if s.Trouble() == nil {
		return nil
	}
	err := s.write.do(ctx, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(ctx, "INSERT OR REPLACE INTO facts (name, value) VALUES ('probe', hex(zeroblob(16384)))")
		return err
	})
	if err != nil {
		return err
	}
	return s.write.do(ctx, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(ctx, "DELETE FROM facts WHERE name = 'probe'")
		return err
	})
}

// Waiting returns how many writes wait for the next commit, Commits how many commits there have
// been.
func (s *DB) Waiting() int   { return len(s.write.queue) }
func (s *DB) Commits() int64 { return s.write.commits.Load() }

// Fact returns a fact about this installation. It stores first if there is none.
func (s *DB) Fact(ctx context.Context, name, first string) (string, error) {
	err := s.write.do(ctx, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(ctx, "INSERT INTO facts (name, value) VALUES (?, ?) ON CONFLICT DO NOTHING", name, first)
		return err
	})
	if err != nil {
		return "", err
	}
	var value string
	err = s.Read.GetContext(ctx, &value, "SELECT value FROM facts WHERE name = ?", name)
	return value, err
}

// Translated converts the driver's errors to those of app.
func Translated(err error) error {
	if errors.Is(err, sql.ErrNoRows) {
		return problem.ErrNotFound
	}
	var e *sqlite.Error
	if errors.As(err, &e) {
		switch code := e.Code(); {
		case code == sqlite3.SQLITE_CONSTRAINT_PRIMARYKEY, code == sqlite3.SQLITE_CONSTRAINT_UNIQUE:
			return problem.ErrExists
		case code&0xff == sqlite3.SQLITE_FULL:
			return &problem.Error{Kind: problem.Unavailable, Code: "disk-full", What: "The disk is full. Nothing was saved.", Hint: "Free some space, then try again. Visitors are not affected."}
		case code&0xff == sqlite3.SQLITE_CORRUPT, code&0xff == sqlite3.SQLITE_NOTADB:
			return &problem.Error{Kind: problem.Unavailable, Code: "database-damaged", What: "The database is damaged.", Hint: "Stop the service and restore a backup: glasspocketd restore -data DIR FILE. Pockets in memory are still served."}
		case code&0xff == sqlite3.SQLITE_READONLY, code&0xff == sqlite3.SQLITE_IOERR, code&0xff == sqlite3.SQLITE_CANTOPEN:
			return &problem.Error{Kind: problem.Unavailable, Code: "disk-fails", What: "The database cannot be written. Nothing was saved.", Hint: "Check the disk and the owner of the data folder. Visitors are not affected."}
		}
	}
	return err
}

// UTC and UTCOrNil return times as they are stored.
func UTC(t time.Time) time.Time { return t.UTC() }

func UTCOrNil(t *time.Time) any {
	if t == nil {
		return nil
	}
	return t.UTC()
}
