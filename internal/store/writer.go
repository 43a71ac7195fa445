package store

import (
	"context"
	"database/sql"
	"errors"
	"sync"
	"sync/atomic"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/problem"
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
	ready   map[string]*sqlx.Stmt         // by their text, prepared for the connection
	trouble atomic.Pointer[problem.Error] // error of the newest commit, nil if it succeeded
	commits atomic.Int64
}

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
	err := w.prepare([]string{savepoint, rollback, release})
	go w.loop()
	return w, err
}

// prepare prepares statements for the connection.
func (w *writer) prepare(statements []string) error {
	for _, query := range statements {
		stmt, err := w.db.Preparex(query)
		if err != nil {
			return err
		}
		w.ready[query] = stmt
	}
	return nil
}

// exec runs a statement, a prepared one if there is one.
func (w *writer) exec(tx *sqlx.Tx, query string, args ...any) (sql.Result, error) {
	if stmt := w.ready[query]; stmt != nil {
		return tx.Stmtx(stmt).Exec(args...)
	}
	return tx.Exec(query, args...)
}

// do runs a write, and returns when it is durable or has not happened. If the context ends while
// the write waits, the write can still happen: the result is then unknown, as with any broken
// connection.
func (w *writer) do(ctx context.Context, run func(*sqlx.Tx) error) error {
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
		return Translated(err)
	case <-w.done:
		select {
		case err := <-j.told:
			return Translated(err)
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
		var trouble *problem.Error
		if errors.As(Translated(answers[i]), &trouble) && trouble.Kind == problem.Unavailable {
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
