package store

import (
	"context"
	"strings"

	"glasspocket/internal/app"
)

// rare is how many hits of a search are looked up one by one. More than that are so many that
// going through the list in its order meets enough of them soon.
const rare = 2000

// Pockets implements app.Store. Every order has an index with the key at its end, so that a page
// costs the same wherever it stands.
func (s *Store) Pockets(ctx context.Context, q app.PocketQuery) (list []app.Pocket, err error) {
	where, args := []string{"1"}, []any{}
	and := func(what string, with ...any) {
		where = append(where, what)
		args = append(args, with...)
	}
	if q.CustomerID != "" {
		and("customer_id = ?", q.CustomerID)
	} else {
		and("customer_id <> ?", app.NobodysCustomer)
	}
	if q.Widget != "" {
		and("widget = ?", q.Widget)
	}
	switch q.State {
	case app.StateUnpublished:
		and("publication = 0")
	case app.StatePublished:
		and("publication > 0 AND published_revision = revision")
	case app.StateChanged:
		and("publication > 0 AND published_revision <> revision")
	case app.StateWithheld:
		and("(withheld_at IS NOT NULL OR EXISTS (SELECT 1 FROM customers AS c WHERE c.id = pockets.customer_id AND c.withheld_at IS NOT NULL))")
	}
	if q.Behind {
		and("publication > 0 AND NOT follow AND release_number < (SELECT max(number) FROM releases AS r WHERE r.widget = pockets.widget AND r.withdrawn_at IS NULL)")
	}
	if q.Search != "" {
		if err := s.search(ctx, q.Search, and); err != nil {
			return nil, told(err)
		}
	}
	column, way, beyond := "key", "", ">"
	switch q.Order {
	case app.ByTitle:
		column = "title COLLATE NOCASE"
	case app.ByChange:
		column = "draft_at"
	}
	if q.Descending {
		way, beyond = " DESC", "<"
	}
	if m := q.After; m != nil {
		switch q.Order {
		case app.ByTitle:
			and("(title COLLATE NOCASE, key) "+beyond+" (?, ?)", m.Title, m.Key)
		case app.ByChange:
			and("(draft_at, key) "+beyond+" (?, ?)", utc(m.At), m.Key)
		default:
			and("key "+beyond+" ?", m.Key)
		}
	}
	order := column + way
	if column != "key" {
		order += ", key" + way
	}
	query := "SELECT * FROM pockets WHERE " + strings.Join(where, " AND ") + " ORDER BY " + order + " LIMIT ?"
	return list, told(s.read.SelectContext(ctx, &list, query, append(args, q.Limit)...))
}

// search narrows a list to what has a text in title or key. Few hits are found by the index of
// words and put in order; many by going through the list in its order.
func (s *Store) search(ctx context.Context, text string, and func(string, ...any)) error {
	if len([]rune(text)) >= 3 { // the index knows three letters and more
		match := `"` + strings.ReplaceAll(text, `"`, `""`) + `"`
		var hits []int64
		if err := s.read.SelectContext(ctx, &hits, "SELECT rowid FROM pocket_words WHERE pocket_words MATCH ? LIMIT ?", match, rare+1); err != nil {
			return err
		}
		if len(hits) <= rare {
			and("+rowid IN (SELECT rowid FROM pocket_words WHERE pocket_words MATCH ?)", match)
			return nil
		}
	}
	like := "%" + strings.NewReplacer(`\`, `\\`, "%", `\%`, "_", `\_`).Replace(text) + "%"
	and(`(title LIKE ? ESCAPE '\' OR key LIKE ? ESCAPE '\')`, like, like)
	return nil
}
