package store

import (
	"context"

	"glasspocket/internal/app"
)

// ReleaseUses implements app.Store.
func (s *Store) ReleaseUses(ctx context.Context, info app.ReleaseInfo, limit int) (u app.ReleaseUses, err error) {
	const (
		// Followers have the newest release in use that is rolled out to them.
		following = `FROM pockets AS k WHERE k.widget = ? AND k.follow AND k.publication > 0 AND ? = ` + wantedFor
		pinned    = `FROM pockets AS k JOIN publications AS p ON p.key = k.key AND p.number = k.publication WHERE k.widget = ? AND NOT k.follow AND p.release_id = ?`
	)
	for _, q := range []struct {
		from string
		into *app.UsedBy
	}{{following, &u.Following}, {pinned, &u.Pinned}} {
		if err == nil {
			err = s.read.GetContext(ctx, &q.into.Count, "SELECT count(*) "+q.from, info.Widget, info.ID)
		}
		if err == nil {
			err = s.read.SelectContext(ctx, &q.into.Pockets, "SELECT k.key, k.title "+q.from+" ORDER BY k.key LIMIT ?", info.Widget, info.ID, limit)
		}
	}
	if err == nil {
		err = s.read.GetContext(ctx, &u.OfWidget, "SELECT count(*) FROM pockets WHERE widget = ?", info.Widget)
	}
	if err == nil {
		err = s.read.GetContext(ctx, &u.Next, "SELECT coalesce(max(number), 0) FROM releases WHERE widget = ? AND withdrawn_at IS NULL AND id <> ?", info.Widget, info.ID)
	}
	return u, translated(err)
}

// ReleaselessWidgets implements app.Store.
func (s *Store) ReleaselessWidgets(ctx context.Context) (names []string, err error) {
	return names, translated(s.read.SelectContext(ctx, &names, "SELECT widget FROM releases GROUP BY widget HAVING count(*) = count(withdrawn_at) ORDER BY widget"))
}
