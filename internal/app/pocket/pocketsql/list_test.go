package pocketsql

import (
	"fmt"
	"testing"
	"time"

	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/app/pocket"
	"glasspocket/internal/content"
	"glasspocket/internal/store"
)

// What is rare is found by an index, what is common by asking each row: both are the same pockets.
func TestFiltersFindWhatTheyAsk(t *testing.T) {
	db, err := store.Open(t.Context(), t.TempDir())
	require.NoError(t, err)
	defer db.Close()
	s := New(db)
	exec := func(query string, args ...any) {
		require.NoError(t, db.Write(t.Context(), func(tx *sqlx.Tx) error { _, err := tx.Exec(query, args...); return err }), query)
	}
	at := time.Date(2027, 3, 1, 9, 0, 0, 0, time.UTC)
	exec("INSERT INTO customers (id, name, created_at) VALUES ('kelp', 'Kelp', ?), ('shut', 'Shut', ?)", at, at)
	for i := range 24 {
		p := pocket.Pocket{Key: fmt.Sprintf("key-%02d", i), CustomerID: "kelp", Widget: "countdown", Content: content.Content{Title: "T", Language: "en"}, Revision: 1, DraftAt: at, CreatedAt: at}
		if i%6 == 5 {
			p.CustomerID = "shut"
		}
		require.NoError(t, s.AddPocket(t.Context(), p, nil, nil))
	}
	for _, set := range []string{
		"UPDATE pockets SET publication = 1, published_revision = revision WHERE rowid % 2 = 0",
		"UPDATE pockets SET published_revision = revision - 1 WHERE rowid % 8 = 0",
		"UPDATE pockets SET withheld_at = created_at WHERE rowid % 7 = 0",
		"UPDATE customers SET withheld_at = created_at WHERE id = 'shut'",
		"INSERT INTO releases (widget, number, digest, style, mount, created_at, created_by) SELECT 'countdown', n, 'd' || n, '', '', '2027-03-01 09:00:00+00:00', 'x' FROM (SELECT 1 AS n UNION SELECT 2)",
		"UPDATE pockets SET release_number = 1 + (rowid % 4 = 0), follow = rowid % 6 = 0 WHERE publication > 0",
	} {
		exec(set)
	}
	filters := map[string]filter{"behind": behind}
	for name, f := range states {
		filters[name] = f
	}
	for name, f := range filters {
		var asked, found []string
		require.NoError(t, s.Read.Select(&asked, "SELECT key FROM pockets WHERE "+f.asked+" ORDER BY key"))
		require.NoError(t, s.Read.Select(&found, "SELECT key FROM pockets WHERE rowid IN ("+f.found+") ORDER BY key"))
		assert.NotEmpty(t, asked, name)
		assert.Less(t, len(asked), 24, name)
		assert.Equal(t, asked, found, name)
		var plan []struct {
			ID, Parent, Notused int
			Detail              string
		}
		require.NoError(t, s.Read.Select(&plan, "EXPLAIN QUERY PLAN "+f.found))
		for _, step := range plan {
			if step.Detail != "SCAN pockets USING INDEX pockets_withheld" { // which has only those
				assert.NotRegexp(t, `SCAN p(ockets)?\b`, step.Detail, name)
			}
		}
	}
}
