package deliverysql

import (
	"context"
	"database/sql/driver"
	"encoding/json"
	"errors"
	"fmt"
	"strconv"
	"strings"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/app/audit/auditsql"
	"glasspocket/internal/app/delivery"
	"glasspocket/internal/app/release/releasesql"
	"glasspocket/internal/render"
	"glasspocket/internal/store"
)

// A late rendering of an older publication must not replace a newer one. Whether the pocket is
// withheld is not the rendering's to say.
const upsertRendering = `INSERT INTO renderings (key, publication, customer_id, widget, lot, follow, withheld, inputs, ancestors, refused, sums, script, json, page, until)
	VALUES (?1, ?2, ?3, ?4, ?5, ?6, (SELECT withheld_at IS NOT NULL FROM pockets WHERE key = ?1), ?7, ?8, ?9, ?10, ?11, ?12, ?13, ?14)
	ON CONFLICT (key) DO UPDATE SET publication = excluded.publication, follow = excluded.follow, inputs = excluded.inputs, ancestors = excluded.ancestors, refused = excluded.refused, sums = excluded.sums, script = excluded.script, json = excluded.json, page = excluded.page, until = excluded.until
	WHERE excluded.publication >= publication`

// PutRendering stores a rendering in a transaction.
func PutRendering(db auditsql.DB, tx *sqlx.Tx, r delivery.Rendering) error {
	inputs, err := json.Marshal(r.Inputs)
	if err != nil {
		return err
	}
	_, err = db.Exec(tx, upsertRendering, r.Key, r.Publication, r.CustomerID, r.Widget, r.Lot, r.Follow, string(inputs), r.Ancestors, r.Refused, r.Sums, r.Script, r.JSON, r.Page, store.UTCOrNil(r.Until))
	return err
}

// SaveRendering implements delivery.Store.
func (s *DeliveryStore) SaveRendering(ctx context.Context, r delivery.Rendering) error {
	return s.Write(ctx, nil, func(tx *sqlx.Tx) error { return PutRendering(s.DB, tx, r) })
}

// current reads one row by its key, and one document of three, because it runs for everything that
// is not cached. The rest is one text, which is faster than as many columns; the separator is in
// none of the values.
const (
	separator = "\x1f"
	current   = "SELECT concat_ws(char(31), publication, customer_id, widget, lot, follow, withheld, inputs, ancestors, sums), %s FROM renderings WHERE key = ?"
)

var columns = [...]string{render.Script: "script", render.JSON: "json", render.Page: "page"}

// Current implements delivery.Store.
func (s *DeliveryStore) Current(_ context.Context, key string, part render.Part) (c delivery.Current, err error) {
	var row [2]driver.Value
	if err := s.current.Row(int(part), key, row[:]); err != nil {
		return c, err
	}
	text, _ := row[0].(string)
	v := strings.Split(text, separator)
	if len(v) != 9 {
		return c, fmt.Errorf("the stored rendering of %s is not readable", key)
	}
	number := func(text string) (n int) {
		n, e := strconv.Atoi(text)
		err = errors.Join(err, e)
		return n
	}
	c = delivery.Current{Key: key, Publication: number(v[0]), CustomerID: v[1], Target: delivery.Target{Widget: v[2], Lot: number(v[3])}, Follow: v[4] != "0", Withheld: v[5] != "0", Ancestors: v[7], Sums: v[8]}
	c.Document, _ = row[1].([]byte)
	known, ok := s.inputs.GetIfPresent(v[6])
	if !ok {
		err = errors.Join(err, json.Unmarshal([]byte(v[6]), &known))
		s.inputs.Set(strings.Clone(v[6]), known)
	}
	c.Inputs = known
	return c, err
}

// Refuse implements delivery.Store.
func (s *DeliveryStore) Refuse(ctx context.Context, key string, publication int, release int64) error {
	return s.Write(ctx, nil, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(ctx, "UPDATE renderings SET refused = ? WHERE key = ? AND publication = ? AND "+releasesql.MadeFrom+" <> ?", release, key, publication, release)
		return err
	})
}
