package rolloutsql

import (
	"context"

	"glasspocket/internal/app/delivery/deliverysql"
	"glasspocket/internal/app/release"
	"glasspocket/internal/app/release/releasesql"
	"glasspocket/internal/app/rollout"
	"glasspocket/internal/store"
)

// Followers implements rollout.Store.
func (s *RolloutStore) Followers(ctx context.Context, name, after string, limit int) ([]rollout.Follower, error) {
	var rows []struct {
		deliverysql.PublicationRow
		Wanted int64 `db:"wanted"`
		Lot    int   `db:"lot"`
	}
	err := s.Read.SelectContext(ctx, &rows, `SELECT p.*, coalesce(`+releasesql.WantedFor+`, p.release_id) AS wanted, k.lot
		FROM pockets AS k JOIN publications AS p ON p.key = k.key AND p.number = k.publication
		WHERE k.widget = ? AND k.follow AND k.publication > 0 AND k.key > ? ORDER BY k.key LIMIT ?`, name, after, limit)
	list := make([]rollout.Follower, len(rows))
	for i, r := range rows {
		list[i] = rollout.Follower{Publication: r.Whole(), Wanted: r.Wanted, Lot: r.Lot}
	}
	return list, store.Translated(err)
}

// CountFollowers implements rollout.Store.
func (s *RolloutStore) CountFollowers(ctx context.Context, name string) (n int, err error) {
	return n, store.Translated(s.Read.GetContext(ctx, &n, "SELECT count(*) FROM pockets WHERE widget = ? AND follow AND publication > 0", name))
}

// ReleaseUses implements rollout.Store.
func (s *RolloutStore) ReleaseUses(ctx context.Context, info release.Info, limit int) (u rollout.Uses, err error) {
	const (
		// Followers have the newest release in use that is rolled out to them.
		following = `FROM pockets AS k WHERE k.widget = ? AND k.follow AND k.publication > 0 AND ? = ` + releasesql.WantedFor
		pinned    = `FROM pockets AS k JOIN publications AS p ON p.key = k.key AND p.number = k.publication WHERE k.widget = ? AND NOT k.follow AND p.release_id = ?`
	)
	for _, q := range []struct {
		from string
		into *rollout.UsedBy
	}{{following, &u.Following}, {pinned, &u.Pinned}} {
		if err == nil {
			err = s.Read.GetContext(ctx, &q.into.Count, "SELECT count(*) "+q.from, info.Widget, info.ID)
		}
		if err == nil {
			err = s.Read.SelectContext(ctx, &q.into.Pockets, "SELECT k.key, k.content ->> '$.title' AS title "+q.from+" ORDER BY k.key LIMIT ?", info.Widget, info.ID, limit)
		}
	}
	if err == nil {
		err = s.Read.GetContext(ctx, &u.OfWidget, "SELECT count(*) FROM pockets WHERE widget = ?", info.Widget)
	}
	if err == nil {
		err = s.Read.GetContext(ctx, &u.Next, "SELECT coalesce(max(number), 0) FROM releases WHERE widget = ? AND withdrawn_at IS NULL AND id <> ?", info.Widget, info.ID)
	}
	return u, store.Translated(err)
}
