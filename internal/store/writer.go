package store

import (
	"context"
	"database/sql"
	"errors"
	"sync"
	"sync/atomic"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/app"
)

// groupMost is the largest number of writes in a commit.
const groupMost = 512

// writer runs all writes on one connection. Writes that arrive during a commit share the next one,
// so that many need a single fsync. Each is acknowledged only after its commit.
type writer struct {
	db      *sqlx.DB
	queue   chan *job
	closing chan struct{}
	done    chan struct{}
	once    sync.Once
	ready   map[string]*sqlx.Stmt     // those of hot, prepared once for the connection
	trouble atomic.Pointer[app.Error] // error of the newest commit, nil if it succeeded
	commits atomic.Int64
}

// hot are the statements of every publish. Preparing them each time would take as long as running
// them.
var hot = []string{savepoint, rollback, release, pointPocket, insertPublication, upsertRendering, insertEntry}

const (
	savepoint = "SAVEPOINT one"
	rollback  = "ROLLBACK TO one"
	release   = "RELEASE one"
)

type job struct {
	run  func(*sqlx.Tx) error
	told chan error
}

var errClosed = errors.New("the store is closing")

func newWriter(db *sqlx.DB) (*writer, error) {
	w := &writer{db: db, queue: make(chan *job, groupMost), closing: make(chan struct{}), done: make(chan struct{}), ready: map[string]*sqlx.Stmt{}}
	for _, query := range hot {
		stmt, err := db.Preparex(query)
		if err != nil {
			return nil, err
		}
		w.ready[query] = stmt
	}
	go w.loop()
	return w, nil
}

// exec runs one of the hot statements.
func (w *writer) exec(tx *sqlx.Tx, query string, args ...any) (sql.Result, error) {
	return tx.Stmtx(w.ready[query]).Exec(args...)
}

// do runs a write, and returns when it is durable or has not happened. If the context ends while
// the write waits, the write can still happen: the result is then unknown, as with any broken
// connection.
//
// In the same transaction it stores rec, if given.
func (w *writer) do(ctx context.Context, rec *app.Record, run func(*sqlx.Tx) error) error {
	if rec == nil {
		return w.queued(ctx, run)
	}
	return w.queued(ctx, func(tx *sqlx.Tx) error {
		if err := run(tx); err != nil {
			return err
		}
		if rec.Item != nil {
			if err := finishJobItem(tx, *rec.Item); err != nil {
				return err
			}
		}
		return note(w, tx, rec.Entry)
	})
}

func (w *writer) queued(ctx context.Context, run func(*sqlx.Tx) error) error {
	j := &job{run: run, told: make(chan error, 1)}
	select {
	case w.queue <- j:
	case <-w.closing:
		return errClosed
	case <-ctx.Done():
		return ctx.Err()
	}
	select {
	case err := <-j.told:
		return translated(err)
	case <-w.done:
		select {
		case err := <-j.told:
			return translated(err)
		default:
			return errClosed
		}
	}
}

func (w *writer) loop() {
	defer close(w.done)
	for {
		select {
		case j := <-w.queue:
			w.group(j)
		case <-w.closing:
			for {
				select {
				case j := <-w.queue:
					w.group(j)
				default:
					return
				}
			}
		}
	}
}

// group commits first together with all other waiting writes. Each has its own savepoint, so that a
// failed one does not affect the others.
func (w *writer) group(first *job) {
	jobs := []*job{first}
	for len(jobs) < groupMost {
		select {
		case j := <-w.queue:
			jobs = append(jobs, j)
			continue
		default:
		}
		break
	}
	answers := make([]error, len(jobs))
	err := func() error {
		tx, err := w.db.Beginx()
		if err != nil {
			return err
		}
		defer tx.Rollback()
		for i, j := range jobs {
			if _, err := w.exec(tx, savepoint); err != nil {
				return err
			}
			if answers[i] = j.run(tx); answers[i] != nil {
				if _, err := w.exec(tx, rollback); err != nil {
					// A full or failing disk has ended the whole transaction: none of the group has
					// happened, for the reason of this one.
					return answers[i]
				}
			}
			if _, err := w.exec(tx, release); err != nil {
				return err
			}
		}
		return tx.Commit()
	}()
	w.commits.Add(1)
	w.trouble.Store(nil)
	for i, j := range jobs {
		if err != nil {
			answers[i] = err
		}
		var trouble *app.Error
		if errors.As(translated(answers[i]), &trouble) && trouble.Kind == app.Unavailable {
			w.trouble.Store(trouble)
		}
		j.told <- answers[i]
	}
}

func (w *writer) close() error {
	w.once.Do(func() { close(w.closing) })
	<-w.done
	return w.db.Close()
}
