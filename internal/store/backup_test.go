package store_test

import (
	"fmt"
	"os"
	"path/filepath"
	"sync"
	"testing"
	"time"

	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/app/pocket"
	"glasspocket/internal/problem"
	"glasspocket/internal/store"
)

// Backed up in the middle of writes, a store comes back whole: everything acknowledged
// before the backup began is in it, and nothing is in it by halves.
func TestBackupWhileWriting(t *testing.T) {
	s, folder := fresh(t)
	stop, wg := make(chan bool), sync.WaitGroup{}
	var mu sync.Mutex
	acknowledged := 0
	for w := range 4 {
		wg.Go(func() {
			for i := 0; ; i++ {
				select {
				case <-stop:
					return
				default:
				}
				assert.NoError(t, s.AddPocket(ctx, newPocket(fmt.Sprintf("w%d-%d", w, i)), nil, nil))
				mu.Lock()
				acknowledged++
				mu.Unlock()
			}
		})
	}
	require.Eventually(t, func() bool { mu.Lock(); defer mu.Unlock(); return acknowledged > 50 }, 10*time.Second, time.Millisecond)
	mu.Lock()
	before := acknowledged
	mu.Unlock()
	file := filepath.Join(t.TempDir(), "backup.db")
	c, err := store.Backup(ctx, folder, file)
	require.NoError(t, err)
	close(stop)
	wg.Wait()
	assert.GreaterOrEqual(t, c.Pockets, before)
	info, err := os.Stat(file)
	require.NoError(t, err)
	assert.Equal(t, os.FileMode(0o600), info.Mode(), "it holds secrets")

	_, err = store.Backup(ctx, folder, file)
	require.ErrorContains(t, err, "already exists")
	_, err = store.Backup(ctx, t.TempDir(), file+"2")
	require.ErrorContains(t, err, "there is no database")
	_, _, err = store.Restore(ctx, folder, file, time.Now())
	require.ErrorContains(t, err, "another glasspocketd", "not under a running service")

	require.NoError(t, s.Close())
	_, aside, err := store.Restore(ctx, folder, file, time.Now())
	require.NoError(t, err)
	again, err := open(folder)
	require.NoError(t, err)
	defer again.Close()
	list, err := again.Pockets(ctx, pocket.Query{Limit: 100_000})
	require.NoError(t, err)
	assert.Len(t, list, c.Pockets)
	old, err := sqlx.Open("sqlite", aside)
	require.NoError(t, err)
	defer old.Close()
	var n int
	require.NoError(t, old.Get(&n, "SELECT count(*) FROM pockets"))
	assert.Equal(t, acknowledged, n, "what was replaced is all there")
}

func TestRestoreRefuses(t *testing.T) {
	folder := t.TempDir()
	text := filepath.Join(t.TempDir(), "text")
	require.NoError(t, os.WriteFile(text, []byte("no database, but a text that is long enough to be read as a page of one"), 0o600))
	other := filepath.Join(t.TempDir(), "other.db")
	db, err := sqlx.Open("sqlite", other)
	require.NoError(t, err)
	_, err = db.Exec("CREATE TABLE t (x)")
	require.NoError(t, err)
	require.NoError(t, db.Close())
	s, newer := fresh(t)
	err = s.Write(ctx, func(tx *sqlx.Tx) error {
		_, err := tx.Exec("INSERT INTO goose_db_version (version_id, is_applied) VALUES (9999, 1)")
		return err
	})
	require.NoError(t, err)
	require.NoError(t, s.Close())
	for file, want := range map[string]string{
		text: "is not an intact backup", other: "a database of another program", filepath.Join(folder, "none"): "there is no backup",
		filepath.Join(newer, store.File): "was written by a newer glasspocketd",
	} {
		_, _, err := store.Restore(ctx, folder, file, time.Now())
		require.ErrorContains(t, err, want)
		assert.NoFileExists(t, filepath.Join(folder, store.File), "nothing was changed")
	}
}

// A full disk: the write is refused in words and leaves nothing, reading goes on, and
// with room it works again.
func TestFullDisk(t *testing.T) {
	s, _ := fresh(t)
	var pages int
	require.NoError(t, s.Write(ctx, func(tx *sqlx.Tx) error { return tx.Get(&pages, "PRAGMA page_count") }))
	err := s.Write(ctx, func(tx *sqlx.Tx) error {
		_, err := tx.Exec(fmt.Sprintf("PRAGMA max_page_count = %d", pages+20))
		return err
	})
	require.NoError(t, err)
	good, n := 0, 0
	for ; n < 2000; n++ {
		if err = s.AddPocket(ctx, newPocket(fmt.Sprintf("full-%d", n)), nil, nil); err != nil {
			break
		}
		good++
	}
	var refused *problem.Error
	require.ErrorAs(t, err, &refused)
	assert.Equal(t, "disk-full", refused.Code)
	list, err := s.Pockets(ctx, pocket.Query{Limit: 5000})
	require.NoError(t, err)
	assert.Len(t, list, good, "what was acknowledged, and no more")
	assert.Error(t, s.Healthy(ctx), "readiness tells of it")
	require.NoError(t, s.OnWriter("PRAGMA max_page_count = 1000000"))
	assert.Error(t, s.Trouble())
	assert.NoError(t, s.Healthy(ctx), "and finds out by itself when there is room")
	assert.NoError(t, s.Trouble())
	require.NoError(t, s.AddPocket(ctx, newPocket("room-again"), nil, nil))
}

// A database whose pages are damaged says so, where they are read.
func TestDamagedPages(t *testing.T) {
	s, folder := fresh(t)
	for i := range 500 {
		require.NoError(t, s.AddPocket(ctx, newPocket(fmt.Sprintf("p-%d", i)), nil, nil))
	}
	require.NoError(t, s.Close())
	file := filepath.Join(folder, store.File)
	text, err := os.ReadFile(file)
	require.NoError(t, err)
	for i := len(text) / 2; i < len(text); i++ {
		text[i] = 0xA5
	}
	require.NoError(t, os.WriteFile(file, text, 0o600))
	s, err = open(folder)
	if err == nil {
		defer s.Close()
		_, err = s.Pockets(ctx, pocket.Query{Limit: 5000})
	}
	require.Error(t, err)
	assert.Contains(t, err.Error(), "restore a backup")
	_, err = store.Inspect(ctx, file)
	require.ErrorContains(t, err, "is not an intact backup")
}
