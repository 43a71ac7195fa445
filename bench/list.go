package main

import (
	"context"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"time"

	"github.com/jmoiron/sqlx"

	"glasspocket/e2e/service"
	"glasspocket/internal/app/customer"
	"glasspocket/internal/app/pocket"
	"glasspocket/internal/client"
	"glasspocket/internal/store"
	"glasspocket/internal/wire"
)

const (
	listed  = 100_000
	pageOf  = 10 // so that the list has ten thousand pages
	listing = 60 // times each is asked for
)

// listGroup holds the last of ten thousand pages of a list against the first, in every order,
// and measures what is found and narrowed, with a hundred thousand pockets.
func listGroup(b *bench) error {
	ctx := context.Background()
	dir, err := os.MkdirTemp("", "glass-pocket-list-")
	if err != nil {
		return err
	}
	defer os.RemoveAll(dir)
	first, err := service.StartDemo(dir)
	if err != nil {
		return err
	}
	public := strings.TrimPrefix(first.Public, "http://")
	if err := first.Stop(); err != nil {
		return err
	}
	file := filepath.Join(dir, store.File)
	if err := multiply(ctx, file, listed); err != nil {
		return err
	}
	last, err := shuffle(ctx, file)
	if err != nil {
		return err
	}
	d, err := service.StartDemo(dir, "-public-addr", public)
	if err != nil {
		return err
	}
	defer d.Stop()
	c := d.Client()
	ask := func(l client.PocketList, least int) (float64, error) {
		began := time.Now()
		page, err := c.ListPockets(ctx, l)
		took := float64(time.Since(began)) / float64(time.Millisecond)
		if err == nil && len(page.Pockets) < least {
			err = fmt.Errorf("the list %+v has %d pockets, and %d were expected", l, len(page.Pockets), least)
		}
		return took, err
	}
	for _, order := range []string{pocket.ByKey, pocket.ByTitle, pocket.ByChange} {
		var near, far []float64
		for range listing {
			v, err := ask(client.PocketList{Order: order, Limit: pageOf}, pageOf)
			if err != nil {
				return err
			}
			near = append(near, v)
			if v, err = ask(client.PocketList{Order: order, Limit: pageOf, Cursor: last[order]}, pageOf); err != nil {
				return err
			}
			far = append(far, v)
		}
		b.report(figure{"list-last-page-by-" + order, median(far) / median(near), 1.5, false, false, "x"})
	}
	for _, each := range []struct {
		name string
		list wire.List
		rows int
	}{
		{"search-rare", wire.List{Search: "number 77777"}, 1},
		{"search-common", wire.List{Search: "opens again"}, pageOf},
		{"state-rare", wire.List{State: pocket.StateUnpublished}, 0},
		{"customer", wire.List{Customer: "kelp-and-kiln"}, pageOf},
	} {
		var times []float64
		for range 15 {
			v, err := ask(client.PocketList{List: each.list, Order: "-changed", Limit: 50}, min(each.rows, pageOf))
			if err != nil {
				return err
			}
			times = append(times, v)
		}
		b.report(figure{"list-" + each.name, median(times), 200, false, false, "ms"})
	}
	return nil
}

// shuffle gives the pockets names and moments in another order than their keys, and returns
// cursors to the last page in each order.
func shuffle(ctx context.Context, file string) (map[string]string, error) {
	db, err := sqlx.Open("sqlite", file+"?_pragma=journal_mode(WAL)&_pragma=synchronous(OFF)&_time_format=sqlite")
	if err != nil {
		return nil, err
	}
	defer db.Close()
	db.SetMaxOpenConns(1)
	const query = `UPDATE pockets SET content = json_set(content, '$.title', 'The kiln opens again, number ' || ((rowid * 7919) % 100003)),
		draft_at = strftime('%Y-%m-%d %H:%M:%S', '2027-01-01', '+' || ((rowid * 104729) % 100003) || ' seconds') || '+00:00' WHERE key LIKE 'bench-%'`
	if _, err := db.ExecContext(ctx, query); err != nil {
		return nil, err
	}
	last := map[string]string{}
	for order, column := range map[string]string{pocket.ByKey: "key", pocket.ByTitle: "(content ->> '$.title') COLLATE NOCASE", pocket.ByChange: "draft_at"} {
		var p pocket.Pocket
		if err := db.QueryRowContext(ctx, "SELECT key, content ->> '$.title', draft_at FROM pockets WHERE customer_id <> ? ORDER BY "+column+" DESC, key DESC LIMIT 1 OFFSET ?", customer.NobodysCustomer, pageOf).Scan(&p.Key, &p.Title, &p.DraftAt); err != nil {
			return nil, err
		}
		last[order] = pocket.Query{Order: order}.Mark(p).String()
	}
	return last, nil
}
