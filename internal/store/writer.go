package store

import (
	"context"
	"errors"
	"sync"
	"sync/atomic"
	"time"

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
	hot     *hot
	trouble atomic.Pointer[problem.Error] // error of the newest commit, nil if it succeeded
	commits atomic.Int64
}

const (
	savepoint = "SAVEPOINT one"
	rollback  = "ROLLBACK TO one"
	release   = "RELEASE one"
)

type job struct {
	run     func(*sqlx.Tx) error
	told    chan error
	patient bool
}

// patience is how long a patient write waits for others that share its commit.
const patience = 100 * time.Millisecond

var errClosed = errors.New("the store is closing")

func newWriter(db *sqlx.DB) (*writer, error) {
	w := &writer{db: db, queue: make(chan *job, groupMost), closing: make(chan struct{}), done: make(chan struct{}), hot: newHot()}
	err := w.prepare(savepoint, rollback, release)
	go w.loop()
	return w, err
}

// prepare prepares statements for hot.exec.
func (w *writer) prepare(statements ...string) error {
	w.hot.add(statements)
	conn, err := w.db.Connx(context.Background())
	if err != nil {
		return err
	}
	defer conn.Close()
	return w.hot.prepare(conn)
}

// do runs a write, and returns when it is durable or has not happened. If the context ends while
// the write waits, the write can still happen: the result is then unknown, as with any broken
// connection.
func (w *writer) do(ctx context.Context, run func(*sqlx.Tx) error) error {
	return w.commission(ctx, &job{run: run, told: make(chan error, 1)})
}

func (w *writer) commission(ctx context.Context, j *job) error {
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
			w.group(w.company(j))
		case <-w.closing:
			for {
				select {
				case j := <-w.queue:
					w.group([]*job{j})
				default:
					return
				}
			}
		}
	}
}

// company lets a patient write wait for others, until one comes that does not wait.
func (w *writer) company(first *job) []*job {
	jobs := []*job{first}
	if !first.patient {
		return jobs
	}
	enough := time.NewTimer(patience)
	defer enough.Stop()
	for len(jobs) < groupMost {
		select {
		case j := <-w.queue:
			if jobs = append(jobs, j); !j.patient {
				return jobs
			}
		case <-enough.C:
			return jobs
		case <-w.closing:
			return jobs
		}
	}
	return jobs
}

// group commits writes together with all other waiting ones. Errors are rare, so the writes run
// without savepoints, for which SQLite would copy every page that a write changes. If one returns
// an error, all run again, each with a savepoint, so that the failed one does not affect the others.
func (w *writer) group(jobs []*job) {
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
	failed, err := w.commit(jobs, answers, false)
	if failed && len(jobs) > 1 {
		_, err = w.commit(jobs, answers, true)
	}
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

// commit runs jobs in a transaction, and stores what each returned. If it returns an error, none of
// them has happened; failed says that the error is a job's, which without savepoints ends them all.
func (w *writer) commit(jobs []*job, answers []error, savepoints bool) (failed bool, err error) {
	conn, err := w.db.Connx(context.Background())
	if err != nil {
		return false, err
	}
	defer conn.Close()
	if err := w.hot.prepare(conn); err != nil {
		return false, err
	}
	tx, err := conn.BeginTxx(context.Background(), nil)
	if err != nil {
		return false, err
	}
	defer tx.Rollback()
	for i, j := range jobs {
		if !savepoints {
			if err := j.run(tx); err != nil {
				return true, err
			}
			continue
		}
		if _, err := w.hot.exec(tx, savepoint); err != nil {
			return false, err
		}
		if answers[i] = j.run(tx); answers[i] != nil {
			if _, err := w.hot.exec(tx, rollback); err != nil {
				// A full or failing disk has ended the whole transaction: none of the group has
				// happened, for the reason of this one.
				return true, answers[i]
			}
		}
		if _, err := w.hot.exec(tx, release); err != nil {
			return false, err
		}
	}
	return false, tx.Commit()
}

func (w *writer) close() error {
	w.once.Do(func() { close(w.closing) })
	<-w.done
	return errors.Join(w.hot.close(), w.db.Close())
}
