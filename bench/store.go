package main

import (
	"context"
	"fmt"
	"os"
	"path/filepath"
	"sync"
	"sync/atomic"
	"time"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/app"
	"glasspocket/internal/app/customer"
	"glasspocket/internal/app/delivery"
	"glasspocket/internal/app/pocket"
	"glasspocket/internal/app/rollout"
	"glasspocket/internal/render"
	"glasspocket/internal/store"
	"glasspocket/internal/widget"
)

// storeGroup compares the store's acknowledged publishes with plain inserts of rows of the
// same bytes, grouped by hand into commits of as many as wait, both to fsync.
func storeGroup(b *bench) error {
	const writers, each, rounds = 64, 40, 3
	ctx := context.Background()
	blob := make([]byte, 4000)
	var ratios []float64
	for round := range rounds {
		dir, err := os.MkdirTemp("", "glass-pocket-bench-")
		if err != nil {
			return err
		}
		defer os.RemoveAll(dir)
		s, err := store.Open(ctx, filepath.Join(dir, "ours"))
		if err != nil {
			return err
		}
		ours, err := publishes(ctx, s, writers, each, blob)
		if err = errorsFirst(err, s.Close()); err != nil {
			return err
		}
		plain, err := inserts(filepath.Join(dir, "plain.db"), writers, each, blob)
		if err != nil {
			return err
		}
		if round > 0 || rounds == 1 { // the first warms up
			ratios = append(ratios, ours/plain)
		}
	}
	b.report(figure{"acknowledged-publishes-ratio", median(ratios), 0.5, true, false, "x"})
	return nil
}

func errorsFirst(a, b error) error {
	if a != nil {
		return a
	}
	return b
}

func publishes(ctx context.Context, db *store.DB, writers, each int, blob []byte) (float64, error) {
	now := time.Now()
	s, err := app.StoreIn(ctx, db)
	if err != nil {
		return 0, err
	}
	if err := s.AddCustomer(ctx, customer.Customer{ID: "c", Name: "c", CreatedAt: now}, nil); err != nil {
		return 0, err
	}
	if _, _, err := s.AddRelease(ctx, &widget.Release{Manifest: widget.Manifest{Name: "w"}, Digest: "d"}, rollout.NewRelease{After: -1, At: now, By: "bench", Share: 100}, nil); err != nil {
		return 0, err
	}
	for w := range writers {
		if err := s.AddPocket(ctx, pocket.Pocket{Key: fmt.Sprint("k", w), CustomerID: "c", Revision: 1, DraftAt: now, CreatedAt: now}, nil, nil); err != nil {
			return 0, err
		}
	}
	return rate(writers, each, func(w, i int) error {
		key := fmt.Sprint("k", w)
		return s.Publish(ctx, delivery.Publication{Key: key, Number: i + 1, CustomerID: "c", ReleaseID: 1, Release: 1, Heights: []byte("[]"), Revision: 1, At: now},
			delivery.Rendering{Key: key, Publication: i + 1, CustomerID: "c", Inputs: render.Inputs{{Kind: render.FromRelease, ID: "w", Revision: 1}}, Script: blob, JSON: blob[:2000], Page: blob[:2000]}, nil)
	})
}

// inserts is the yardstick: one writer that commits whatever waits.
func inserts(file string, writers, each int, blob []byte) (float64, error) {
	db, err := sqlx.Open("sqlite", file+"?_pragma=journal_mode(WAL)&_pragma=synchronous(FULL)")
	if err != nil {
		return 0, err
	}
	defer db.Close()
	db.SetMaxOpenConns(1)
	if _, err := db.Exec("CREATE TABLE rows (key TEXT, number INTEGER, script BLOB, json BLOB, page BLOB, PRIMARY KEY (key, number))"); err != nil {
		return 0, err
	}
	type ask struct {
		key    string
		number int
		told   chan error
	}
	queue := make(chan ask, writers)
	go func() {
		for a := range queue {
			group := []ask{a}
			for more := true; more; {
				select {
				case a, more = <-queue:
					if more {
						group = append(group, a)
					}
				default:
					more = false
				}
			}
			tx := db.MustBegin()
			for _, a := range group {
				tx.MustExec("INSERT INTO rows VALUES (?, ?, ?, ?, ?)", a.key, a.number, blob, blob[:2000], blob[:2000])
			}
			err := tx.Commit()
			for _, a := range group {
				a.told <- err
			}
		}
	}()
	defer close(queue)
	return rate(writers, each, func(w, i int) error {
		a := ask{fmt.Sprint("k", w), i + 1, make(chan error, 1)}
		queue <- a
		return <-a.told
	})
}

// rate is how many acknowledged writes a second many writers get.
func rate(writers, each int, write func(w, i int) error) (float64, error) {
	var wg sync.WaitGroup
	var failed atomic.Value
	begin := time.Now()
	for w := range writers {
		wg.Go(func() {
			for i := range each {
				if err := write(w, i); err != nil {
					failed.Store(err)
					return
				}
			}
		})
	}
	wg.Wait()
	if err, ok := failed.Load().(error); ok {
		return 0, err
	}
	return float64(writers*each) / time.Since(begin).Seconds(), nil
}
