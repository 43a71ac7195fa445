package releasesql

import (
	"context"

	"glasspocket/internal/app/release"
	"glasspocket/internal/store"
)

// The oldest release in use serves all pockets that newer ones do not, whatever its share.
// Parts of queries.
const (
	Columns     = "id, widget, number, digest, created_at, created_by, withdrawn_at, note, CASE WHEN " + oldestInUse + " THEN 100 ELSE share END AS share"
	oldestInUse = "withdrawn_at IS NULL AND NOT EXISTS (SELECT 1 FROM releases AS o WHERE o.widget = releases.widget AND o.withdrawn_at IS NULL AND o.number < releases.number)"
	// WantedFor is the ID of the release for a following pocket k.
	WantedFor = `coalesce((SELECT id FROM releases WHERE widget = k.widget AND withdrawn_at IS NULL AND share > k.lot ORDER BY number DESC LIMIT 1),
		(SELECT id FROM releases WHERE widget = k.widget AND withdrawn_at IS NULL ORDER BY number LIMIT 1))`
	// MadeFrom is the ID of the release that a row of renderings was made from: its first input.
	MadeFrom = "(inputs ->> '$[0].revision')"
)

// NewestReleases implements release.Store.
func (s *ReleaseStore) NewestReleases(ctx context.Context) (list []release.Info, err error) {
	return list, store.Translated(s.Read.SelectContext(ctx, &list, "SELECT "+Columns+" FROM releases WHERE id IN (SELECT coalesce((SELECT id FROM releases WHERE widget = w.widget AND withdrawn_at IS NULL AND share > 99 ORDER BY number DESC LIMIT 1), (SELECT id FROM releases WHERE widget = w.widget AND withdrawn_at IS NULL ORDER BY number LIMIT 1)) FROM (SELECT DISTINCT widget FROM releases) AS w) ORDER BY widget"))
}

// NewestReleaseFor implements release.Store.
func (s *ReleaseStore) NewestReleaseFor(ctx context.Context, name string, lot int) (info release.Info, err error) {
	return info, store.Translated(s.Read.GetContext(ctx, &info, "SELECT "+Columns+" FROM releases WHERE widget = ? AND withdrawn_at IS NULL AND (share > ? OR "+oldestInUse+") ORDER BY number DESC LIMIT 1", name, lot))
}

// Releases implements release.Store.
func (s *ReleaseStore) Releases(ctx context.Context, name string, before, limit int) (list []release.Info, err error) {
	return list, store.Translated(s.Read.SelectContext(ctx, &list, "SELECT "+Columns+" FROM releases WHERE widget = ? AND (? = 0 OR number < ?) ORDER BY number DESC LIMIT ?", name, before, before, limit))
}

// ReleasesInUse implements release.Store.
func (s *ReleaseStore) ReleasesInUse(ctx context.Context, name string) (list []release.Rolled, err error) {
	return list, store.Translated(s.Read.SelectContext(ctx, &list, "SELECT id, share FROM releases WHERE widget = ? AND withdrawn_at IS NULL ORDER BY number DESC", name))
}

// ReleaseByNumber implements release.Store.
func (s *ReleaseStore) ReleaseByNumber(ctx context.Context, name string, number int) (release.Info, error) {
	return ByNumber(ctx, s.DB.DB, name, number)
}

// ByNumber reads a release. Error: problem.ErrNotFound.
func ByNumber(ctx context.Context, db *store.DB, name string, number int) (info release.Info, err error) {
	return info, store.Translated(db.Read.GetContext(ctx, &info, "SELECT "+Columns+" FROM releases WHERE widget = ? AND number = ?", name, number))
}

// ReleaseByDigest implements release.Store.
func (s *ReleaseStore) ReleaseByDigest(ctx context.Context, digest string) (id int64, err error) {
	return id, store.Translated(s.Read.GetContext(ctx, &id, "SELECT id FROM releases WHERE digest = ? ORDER BY id LIMIT 1", digest))
}

// ReleaselessWidgets implements release.Store.
func (s *ReleaseStore) ReleaselessWidgets(ctx context.Context) (names []string, err error) {
	return names, store.Translated(s.Read.SelectContext(ctx, &names, "SELECT widget FROM releases GROUP BY widget HAVING count(*) = count(withdrawn_at) ORDER BY widget"))
}
