package pocketsql

import (
	"context"
	"strings"

	"glasspocket/internal/app/customer"
	"glasspocket/internal/app/pocket"
	"glasspocket/internal/store"
)

// rare is the largest number of search results that are looked up one by one. With more results,
// reading the list in its order finds enough of them soon.
const rare = 2000

// Pockets implements pocket.Store. Every order has an index that ends with the key, so that all pages
// cost the same.
func (s *PocketStore) Pockets(ctx context.Context, q pocket.Query) (list []pocket.Pocket, err error) {
	where, args := []string{"1"}, []any{}
	and := func(what string, with ...any) {
		where = append(where, what)
		args = append(args, with...)
	}
	if q.CustomerID != "" {
		and("customer_id = ?", q.CustomerID)
	} else {
		and("customer_id <> ?", customer.NobodysCustomer)
	}
	if q.Widget != "" {
		and("widget = ?", q.Widget)
	}
	if f, known := states[q.State]; known {
		if err := s.narrow(ctx, f, and); err != nil {
			return nil, store.Translated(err)
		}
	}
	if q.Behind {
		if err := s.narrow(ctx, behind, and); err != nil {
			return nil, store.Translated(err)
		}
	}
	if q.Search != "" {
		if err := s.search(ctx, q.Search, and); err != nil {
			return nil, store.Translated(err)
		}
	}
	column, way, beyond := "key", "", ">"
	switch q.Order {
	case pocket.ByTitle:
		column = title + " COLLATE NOCASE"
	case pocket.ByChange:
		column = "draft_at"
	}
	if q.Descending {
		way, beyond = " DESC", "<"
	}
	if m := q.After; m != nil {
		switch q.Order {
		case pocket.ByTitle:
			// The first half alone lets SQLite use its index, because a row value cannot have a
			// collation.
			and(column+" "+beyond+"= ? AND ("+column+", key) "+beyond+" (?, ?)", m.Title, m.Title, m.Key)
		case pocket.ByChange:
			and("(draft_at, key) "+beyond+" (?, ?)", store.UTC(m.At), m.Key)
		default:
			and("key "+beyond+" ?", m.Key)
		}
	}
	order := column + way
	if column != "key" {
		order += ", key" + way
	}
	return s.list(ctx, "WHERE "+strings.Join(where, " AND ")+" ORDER BY "+order+" LIMIT ?", append(args, q.Limit)...)
}

// filter is a condition for a row, and a query that finds matching rows by an index if they are
// few. CROSS JOIN prevents SQLite from starting with the pockets.
type filter struct{ asked, found string }

// The same expressions as in the indexes pockets_by_title and pockets_by_state.
const (
	title = "(content ->> '$.title')"
	state = "(CASE WHEN publication = 0 THEN 0 WHEN published_revision = revision THEN 1 ELSE 2 END)"
)

var (
	states = map[string]filter{
		pocket.StateUnpublished: {"publication = 0", "SELECT rowid FROM pockets WHERE " + state + " = 0"},
		pocket.StatePublished:   {"publication > 0 AND published_revision = revision", "SELECT rowid FROM pockets WHERE " + state + " = 1"},
		pocket.StateChanged:     {"publication > 0 AND published_revision <> revision", "SELECT rowid FROM pockets WHERE " + state + " = 2"},
		pocket.StateWithheld: {
			"(withheld_at IS NOT NULL OR EXISTS (SELECT 1 FROM customers AS c WHERE c.id = pockets.customer_id AND c.withheld_at IS NOT NULL))",
			"SELECT rowid FROM pockets WHERE withheld_at IS NOT NULL UNION ALL SELECT p.rowid FROM customers AS c CROSS JOIN pockets AS p ON p.customer_id = c.id WHERE c.withheld_at IS NOT NULL",
		},
	}
	behind = filter{
		"publication > 0 AND NOT follow AND release_number < (SELECT max(number) FROM releases AS r WHERE r.widget = pockets.widget AND r.withdrawn_at IS NULL)",
		"SELECT p.rowid FROM (SELECT widget, max(number) AS newest FROM releases WHERE withdrawn_at IS NULL GROUP BY widget) AS r CROSS JOIN pockets AS p ON p.widget = r.widget AND p.release_number < r.newest WHERE p.publication > 0 AND NOT p.follow",
	}
)

// narrow filters a list: if few rows match, they are found by their index and sorted; if many do,
// the list is read in its order.
func (s *PocketStore) narrow(ctx context.Context, f filter, and func(string, ...any)) error {
	var rows []int64
	if err := s.Read.SelectContext(ctx, &rows, f.found+" LIMIT ?", rare+1); err != nil {
		return err
	}
	if len(rows) <= rare {
		and("+rowid IN (" + f.found + ")")
	} else {
		and(f.asked)
	}
	return nil
}

// search filters a list by a text in title or key. Few results are found by the full-text index and
// sorted; for many, the list is read in its order.
func (s *PocketStore) search(ctx context.Context, text string, and func(string, ...any)) error {
	if len([]rune(text)) >= 3 { // the index needs at least three letters
		match := `"` + strings.ReplaceAll(text, `"`, `""`) + `"`
		var hits []int64
		if err := s.Read.SelectContext(ctx, &hits, "SELECT rowid FROM pocket_words WHERE pocket_words MATCH ? LIMIT ?", match, rare+1); err != nil {
			return err
		}
		if len(hits) <= rare {
			and("+rowid IN (SELECT rowid FROM pocket_words WHERE pocket_words MATCH ?)", match)
			return nil
		}
	}
	like := store.Containing(text)
	and("("+title+` LIKE ? ESCAPE '\' OR key LIKE ? ESCAPE '\')`, like, like)
	return nil
}
