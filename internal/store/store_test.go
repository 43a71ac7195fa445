package store_test

import (
	"context"
	"database/sql/driver"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/sync/errgroup"

	"glasspocket/internal/app"
	"glasspocket/internal/app/customer"
	"glasspocket/internal/app/delivery"
	"glasspocket/internal/app/pocket"
	"glasspocket/internal/content"
	"glasspocket/internal/problem"
	"glasspocket/internal/render"
	"glasspocket/internal/setting"
	"glasspocket/internal/store"
)

var ctx = context.Background()

// data is a database with all its tables.
type data struct {
	app.Store
	*store.DB
}

func open(folder string) (data, error) {
	db, err := store.Open(ctx, folder)
	if err != nil {
		return data{}, err
	}
	tables, err := app.StoreIn(ctx, db)
	return data{tables, db}, err
}

func fresh(t *testing.T) (data, string) {
	folder := t.TempDir()
	s, err := open(folder)
	require.NoError(t, err)
	t.Cleanup(func() { s.Close() })
	require.NoError(t, s.AddCustomer(ctx, customer.Customer{ID: "kelp", Name: "Kelp", CreatedAt: time.Now()}, nil))
	return s, folder
}

func newPocket(key string) pocket.Pocket {
	now := time.Date(2027, 3, 1, 9, 0, 0, 5e6, time.UTC)
	return pocket.Pocket{Key: key, CustomerID: "kelp", Widget: "countdown", Content: content.Content{Title: "T", Language: "en", Settings: setting.Values{"a": 1.0}}, Revision: 1, DraftAt: now, CreatedAt: now}
}

// made are the inputs of a rendering that a release made.
func made(release int64) render.Inputs {
	return render.Inputs{{Kind: render.FromRelease, ID: "countdown", Revision: release}}
}

// Killing a process cannot prove durability, since the page cache outlives it; what can be
// held is that every commit waits for the disk.
func TestEveryCommitWaitsForTheDisk(t *testing.T) {
	s, _ := fresh(t)
	for pragma, want := range map[string]string{"synchronous": "2", "journal_mode": "wal", "foreign_keys": "1"} {
		var got string
		require.NoError(t, s.Write(ctx, func(tx *sqlx.Tx) error { return tx.Get(&got, "PRAGMA "+pragma) }))
		assert.Equal(t, want, got, pragma)
	}
	_, err := s.Read.Exec("DELETE FROM customers")
	assert.Error(t, err, "readers cannot write")
}

func TestRoundTrip(t *testing.T) {
	s, folder := fresh(t)
	p := newPocket("one")
	require.NoError(t, s.AddPocket(ctx, p, nil, nil))
	assert.ErrorIs(t, s.AddPocket(ctx, p, nil, nil), problem.ErrExists)
	p.Settings = setting.Values{"a": 2.0}
	require.NoError(t, s.SavePocket(ctx, p, 1, nil))
	assert.ErrorIs(t, s.SavePocket(ctx, p, 1, nil), problem.ErrChanged)
	_, err := s.Pocket(ctx, "two")
	assert.ErrorIs(t, err, problem.ErrNotFound)

	require.NoError(t, s.Close())
	s, err = open(folder)
	require.NoError(t, err)
	defer s.Close()
	got, err := s.Pocket(ctx, "one")
	require.NoError(t, err)
	assert.Equal(t, p.Content, got.Content)
	assert.Equal(t, 2, got.Revision)
	assert.True(t, got.CreatedAt.Equal(p.CreatedAt), "times keep their milliseconds")
}

// Writes that wait share one commit, each keeps its own outcome, and one that fails
// takes no other with it.
func TestGroupedWrites(t *testing.T) {
	s, folder := fresh(t)
	started, gate := make(chan struct{}), make(chan struct{})
	open := sync.OnceFunc(func() { close(gate) })
	t.Cleanup(open) // before the store's own, or a failure here would never end
	first := make(chan error, 1)
	go func() {
		first <- s.Write(ctx, func(*sqlx.Tx) error { close(started); <-gate; return nil })
	}()
	<-started
	var wg sync.WaitGroup
	errs := make([]error, 100)
	for i := range errs {
		wg.Go(func() { errs[i] = s.AddPocket(ctx, newPocket(fmt.Sprintf("key-%d", i/2)), nil, nil) }) // each key twice
	}
	require.Eventually(t, func() bool { return s.Waiting() == 100 }, 10*time.Second, time.Millisecond)
	before := changes(t, s)
	open()
	require.NoError(t, <-first)
	wg.Wait()
	good := 0
	for _, err := range errs {
		if err == nil {
			good++
		} else {
			assert.ErrorIs(t, err, problem.ErrExists)
		}
	}
	assert.Equal(t, 50, good)
	list, err := s.Pockets(ctx, pocket.Query{Limit: 200})
	require.NoError(t, err)
	assert.Len(t, list, 50)
	assert.LessOrEqual(t, changes(t, s)-before, 2, "a hundred waiting writes take one commit, two at most")
	require.NoError(t, s.Close())
	assert.NoFileExists(t, filepath.Join(folder, store.File+"-wal"), "SQLite closed the connection, with its prepared statements")
}

// Closing does not wait for company, and loses no patient write that was acknowledged.
func TestPatientWrites(t *testing.T) {
	s, folder := fresh(t)
	var wg sync.WaitGroup
	var acknowledged atomic.Int32
	first := make(chan bool, 200)
	for i := range 200 {
		wg.Go(func() {
			err := s.WritePatiently(ctx, func(tx *sqlx.Tx) error {
				_, err := tx.Exec("INSERT INTO facts (name, value) VALUES (?, '')", fmt.Sprint("patient ", i))
				return err
			})
			if err == nil {
				acknowledged.Add(1)
			}
			first <- true
		})
	}
	<-first
	require.NoError(t, s.Close())
	wg.Wait()
	s, err := open(folder)
	require.NoError(t, err)
	defer s.Close()
	var stored int32
	require.NoError(t, s.Read.Get(&stored, "SELECT count(*) FROM facts WHERE name LIKE 'patient %'"))
	assert.Equal(t, acknowledged.Load(), stored)
	assert.Positive(t, stored)
}

// A connection keeps its statements: a query can run inside itself, after an error, after others
// have pushed it out, and after the table has changed.
func TestKeptStatements(t *testing.T) {
	s, _ := fresh(t)
	const query = "SELECT * FROM numbers WHERE n >= ? ORDER BY n"
	require.NoError(t, s.Write(ctx, func(tx *sqlx.Tx) error {
		tx.MustExec("CREATE TABLE numbers (n INTEGER PRIMARY KEY)")
		for n := range 3 {
			tx.MustExec("INSERT INTO numbers (n) VALUES (?)", n)
		}
		var pairs [][]int
		rows, err := tx.Query(query, 1)
		require.NoError(t, err)
		for rows.Next() {
			var outer int
			require.NoError(t, rows.Scan(&outer))
			var inner []int
			require.NoError(t, tx.Select(&inner, query, outer))
			pairs = append(pairs, append([]int{outer}, inner...))
		}
		require.NoError(t, rows.Close())
		assert.Equal(t, [][]int{{1, 1, 2}, {2, 2}}, pairs)
		_, err = tx.Exec("INSERT INTO numbers (n) VALUES (?)", 1)
		assert.Error(t, err)
		tx.MustExec("INSERT INTO numbers (n) VALUES (?)", 3)
		for i := range 300 {
			var same int
			require.NoError(t, tx.Get(&same, fmt.Sprintf("SELECT %d + count(*) FROM numbers", i)))
			assert.Equal(t, i+4, same)
		}
		tx.MustExec("ALTER TABLE numbers ADD COLUMN name TEXT NOT NULL DEFAULT 'none'")
		var row struct {
			N    int
			Name string
		}
		for range 2 { // the first may prepare it anew
			require.NoError(t, tx.Get(&row, query, 3))
			assert.Equal(t, "none", row.Name)
		}
		return nil
	}))
	require.NoError(t, s.Close(), "with all its statements")
}

// A write that has done half its work when it fails leaves nothing of it.
func TestFailedWriteLeavesNothing(t *testing.T) {
	s, _ := fresh(t)
	err := s.Write(ctx, func(tx *sqlx.Tx) error {
		_, err := tx.Exec("INSERT INTO facts (name, value) VALUES ('half', 'done')")
		require.NoError(t, err)
		return problem.ErrChanged
	})
	assert.ErrorIs(t, err, problem.ErrChanged)
	value, err := s.Fact(ctx, "half", "first")
	require.NoError(t, err)
	assert.Equal(t, "first", value)
}

// changes counts commits: SQLite's data_version moves once for each, as another connection sees it.
func changes(t *testing.T, s data) (n int) {
	require.NoError(t, s.Read.Get(&n, "PRAGMA data_version"))
	return n
}

func TestPublishPointsForwardOnly(t *testing.T) {
	s, _ := fresh(t)
	require.NoError(t, s.Write(ctx, func(tx *sqlx.Tx) error {
		_, err := tx.Exec("INSERT INTO releases (widget, number, digest, style, mount, created_at, created_by) VALUES ('countdown', 1, 'd', '', '', ?, 'x')", time.Now().UTC())
		return err
	}))
	require.NoError(t, s.AddPocket(ctx, newPocket("one"), nil, nil))
	pub := func(n int) error {
		return s.Publish(ctx, delivery.Publication{Key: "one", Number: n, CustomerID: "kelp", ReleaseID: 1, Release: 1, Heights: []byte("[]"), Revision: 1, At: time.Now()},
			delivery.Rendering{CustomerID: "kelp", Key: "one", Publication: n, Inputs: made(1), Script: []byte{byte(n)}, JSON: []byte{1}, Page: []byte{1}}, nil)
	}
	require.NoError(t, pub(1))
	assert.ErrorIs(t, pub(1), problem.ErrChanged, "the same number twice")
	assert.ErrorIs(t, pub(3), problem.ErrChanged, "a number left out")
	require.NoError(t, pub(2))
	require.NoError(t, s.SaveRendering(ctx, delivery.Rendering{CustomerID: "kelp", Key: "one", Publication: 1, Inputs: made(1), Script: []byte{9}, JSON: []byte{1}, Page: []byte{1}}))
	r, err := s.Current(ctx, "one", render.Script)
	require.NoError(t, err)
	assert.Equal(t, []byte{2}, r.Document, "a late rendering of an older publication is dropped")
	list, err := s.Publications(ctx, "one", 0, 10)
	require.NoError(t, err)
	assert.Len(t, list, 2)
}

func TestDataFolderRefusals(t *testing.T) {
	_, folder := fresh(t)
	_, err := open(folder)
	require.ErrorContains(t, err, "another glasspocketd (process "+fmt.Sprint(os.Getpid()))

	newer := t.TempDir()
	s, err := open(newer)
	require.NoError(t, err)
	require.NoError(t, s.Write(ctx, func(tx *sqlx.Tx) error {
		_, err := tx.Exec("INSERT INTO goose_db_version (version_id, is_applied) VALUES (9999, 1)")
		return err
	}))
	require.NoError(t, s.Close())
	_, err = open(newer)
	require.ErrorContains(t, err, "written by a newer glasspocketd")

	damaged := t.TempDir()
	require.NoError(t, os.WriteFile(filepath.Join(damaged, store.File), []byte("this is no database, and long enough to be looked at as one"), 0o600))
	_, err = open(damaged)
	require.ErrorContains(t, err, "cannot be read")

	file := filepath.Join(t.TempDir(), "file")
	require.NoError(t, os.WriteFile(file, nil, 0o600))
	_, err = open(filepath.Join(file, "data"))
	require.ErrorContains(t, err, "is not writable")
}

// Going through a list page by page gives every pocket that fits once, in its order, whatever
// the order, the way and the size of a page.
func TestListsPageByPage(t *testing.T) {
	s, _ := fresh(t)
	titles := []string{"Boat", "boat", "Ärger", "a", "Kiln 50%", "kiln_x", "Zoo"}
	begin := newPocket("x").DraftAt
	var all []pocket.Pocket
	for i := range 60 {
		p := newPocket(fmt.Sprintf("key-%02d", (i*37)%60))
		p.Title, p.DraftAt = titles[i%len(titles)], begin.Add(time.Duration(i%9)*time.Minute)
		require.NoError(t, s.AddPocket(ctx, p, nil, nil))
		all = append(all, p)
	}
	for _, order := range []string{pocket.ByKey, pocket.ByTitle, pocket.ByChange} {
		for _, descending := range []bool{false, true} {
			for _, c := range []struct {
				search string
				fits   func(pocket.Pocket) bool
			}{
				{"", func(pocket.Pocket) bool { return true }},
				{"OAT", func(p pocket.Pocket) bool { return strings.Contains(strings.ToLower(p.Title), "oat") }},
				{"0%", func(p pocket.Pocket) bool { return strings.Contains(p.Title, "0%") }},
				{"n_x", func(p pocket.Pocket) bool { return strings.Contains(p.Title, "n_x") }},
				{`y-1`, func(p pocket.Pocket) bool { return strings.Contains(p.Key, "y-1") }},
				{`"`, func(pocket.Pocket) bool { return false }},
			} {
				q := pocket.Query{Order: order, Descending: descending, Search: c.search, Limit: 7}
				var got []pocket.Pocket
				for {
					page, err := s.Pockets(ctx, q)
					require.NoError(t, err)
					got = append(got, page...)
					if len(page) < q.Limit {
						break
					}
					m := q.Mark(page[len(page)-1])
					q.After = &m
				}
				var want []string
				for _, p := range all {
					if c.fits(p) {
						want = append(want, p.Key)
					}
				}
				var keys []string
				for i, p := range got {
					keys = append(keys, p.Key)
					if i == 0 {
						continue
					}
					a, b := got[i-1], p
					if descending {
						a, b = b, a
					}
					switch order {
					case pocket.ByTitle:
						assert.LessOrEqual(t, strings.ToLower(a.Title), strings.ToLower(b.Title))
					case pocket.ByChange:
						assert.False(t, b.DraftAt.Before(a.DraftAt))
					default:
						assert.Less(t, a.Key, b.Key)
					}
				}
				assert.ElementsMatch(t, want, keys, "%s %v %q", order, descending, c.search)
			}
		}
	}
}

// Lookups share a few connections, find a row or say that there is none, and end with the database.
func TestLookups(t *testing.T) {
	db, err := store.Open(t.Context(), t.TempDir())
	require.NoError(t, err)
	_, err = db.Lookups("SELECT no_such_column FROM facts WHERE name = ?")
	require.ErrorContains(t, err, "no_such_column")
	l, err := db.Lookups("SELECT value, length(value) FROM facts WHERE name = ?", "SELECT name FROM facts WHERE value = ?")
	require.NoError(t, err)
	for i := range 20 {
		_, err = db.Fact(t.Context(), fmt.Sprint("fact ", i), strings.Repeat("x", i))
		require.NoError(t, err)
	}
	var all errgroup.Group
	for i := range 200 {
		all.Go(func() error {
			var row [2]driver.Value
			if err := l.Row(0, fmt.Sprint("fact ", i%20), row[:]); err != nil {
				return err
			}
			assert.Equal(t, [2]driver.Value{strings.Repeat("x", i%20), int64(i % 20)}, row)
			return nil
		})
	}
	require.NoError(t, all.Wait())
	var one [1]driver.Value
	assert.ErrorIs(t, l.Row(1, "y", one[:]), problem.ErrNotFound)
	require.Error(t, l.Row(0, "fact 1", one[:]), "it has two columns")
	for range 12 { // more than there are connections: the failed one was replaced
		require.NoError(t, l.Row(1, "x", one[:]))
		assert.Equal(t, "fact 1", one[0])
	}
	require.NoError(t, db.Close())
	assert.ErrorContains(t, l.Row(1, "x", one[:]), "closed")
}
