package store

import (
	"context"
	"encoding/json"
	"time"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/app"
	"glasspocket/internal/asset"
	"glasspocket/internal/widget"
)

// The oldest release in use serves all pockets that newer ones do not, whatever its share.
const (
	releaseColumns = "id, widget, number, digest, created_at, created_by, withdrawn_at, note, CASE WHEN " + oldestInUse + " THEN 100 ELSE share END AS share"
	oldestInUse    = "withdrawn_at IS NULL AND NOT EXISTS (SELECT 1 FROM releases AS o WHERE o.widget = releases.widget AND o.withdrawn_at IS NULL AND o.number < releases.number)"
	// wantedFor is the ID of the release for a following pocket k.
	wantedFor = `coalesce((SELECT id FROM releases WHERE widget = k.widget AND withdrawn_at IS NULL AND share > k.lot ORDER BY number DESC LIMIT 1),
		(SELECT id FROM releases WHERE widget = k.widget AND withdrawn_at IS NULL ORDER BY number LIMIT 1))`
)

// AddRelease implements app.Store.
func (s *Store) AddRelease(ctx context.Context, r *widget.Release, n app.NewRelease, rec *app.Record) (info app.ReleaseInfo, fresh bool, err error) {
	err = s.write.do(ctx, rec, func(tx *sqlx.Tx) error {
		newest := app.ReleaseInfo{}
		err := tx.GetContext(ctx, &newest, "SELECT "+releaseColumns+" FROM releases WHERE widget = ? ORDER BY number DESC LIMIT 1", r.Manifest.Name)
		if err != nil && translated(err) != app.ErrNotFound {
			return err
		}
		if n.After >= 0 && newest.Number != n.After {
			return app.ErrChanged
		}
		// Unchanged since the newest: nothing to release. The files of an older or withdrawn
		// release can return under a new number.
		if newest.Digest == r.Digest && newest.WithdrawnAt == nil {
			info = newest
			rec.Skip()
			return nil
		}
		info = app.ReleaseInfo{Widget: r.Manifest.Name, Number: newest.Number + 1, Digest: r.Digest, CreatedAt: utc(n.At), CreatedBy: n.By, Note: n.Note, Share: n.Share}
		if newest.Number == 0 {
			info.Share = 100 // no other release could serve the rest
		}
		res, err := tx.ExecContext(ctx, "INSERT INTO releases (widget, number, digest, style, mount, created_at, created_by, note, share) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)",
			info.Widget, info.Number, info.Digest, r.Built.Style, r.Built.Mount, info.CreatedAt, info.CreatedBy, info.Note, info.Share)
		if err != nil {
			return err
		}
		if info.ID, err = res.LastInsertId(); err != nil {
			return err
		}
		for _, path := range r.Files.Paths() {
			digest, err := putFile(ctx, tx, r.Files[path])
			if err != nil {
				return err
			}
			if _, err := tx.ExecContext(ctx, "INSERT INTO release_files (release_id, path, digest) VALUES (?, ?, ?)", info.ID, path, digest); err != nil {
				return err
			}
		}
		for path, made := range r.Built.Assets {
			if err := putAsset(ctx, tx, made); err != nil {
				return err
			}
			about, _ := json.Marshal(made.Info)
			if _, err := tx.ExecContext(ctx, "INSERT INTO release_assets (release_id, path, digest, info) VALUES (?, ?, ?, ?)", info.ID, path, made.Digest, about); err != nil {
				return err
			}
		}
		fresh = true
		rec.SetNumber(info.Number)
		return nil
	})
	return info, fresh, err
}

// NewestReleases implements app.Store.
func (s *Store) NewestReleases(ctx context.Context) (list []app.ReleaseInfo, err error) {
	return list, translated(s.read.SelectContext(ctx, &list, "SELECT "+releaseColumns+" FROM releases WHERE id IN (SELECT coalesce((SELECT id FROM releases WHERE widget = w.widget AND withdrawn_at IS NULL AND share > 99 ORDER BY number DESC LIMIT 1), (SELECT id FROM releases WHERE widget = w.widget AND withdrawn_at IS NULL ORDER BY number LIMIT 1)) FROM (SELECT DISTINCT widget FROM releases) AS w) ORDER BY widget"))
}

// NewestReleaseFor implements app.Store.
func (s *Store) NewestReleaseFor(ctx context.Context, name string, lot int) (info app.ReleaseInfo, err error) {
	return info, translated(s.read.GetContext(ctx, &info, "SELECT "+releaseColumns+" FROM releases WHERE widget = ? AND withdrawn_at IS NULL AND (share > ? OR "+oldestInUse+") ORDER BY number DESC LIMIT 1", name, lot))
}

// ShareRelease implements app.Store.
func (s *Store) ShareRelease(ctx context.Context, name string, number, share int, rec *app.Record) (app.ReleaseInfo, error) {
	err := s.write.do(ctx, rec, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "UPDATE releases SET share = ? WHERE widget = ? AND number = ?", share, name, number)
		return oneRow(r, err, app.ErrNotFound)
	})
	if err != nil {
		return app.ReleaseInfo{}, err
	}
	return s.ReleaseByNumber(ctx, name, number)
}

// Followers implements app.Store.
func (s *Store) Followers(ctx context.Context, name, after string, limit int) (list []app.Follower, err error) {
	return list, translated(s.read.SelectContext(ctx, &list, `SELECT p.*,
		coalesce(`+wantedFor+`, p.release_id) AS wanted
		, k.lot FROM pockets AS k JOIN publications AS p ON p.key = k.key AND p.number = k.publication
		WHERE k.widget = ? AND k.follow AND k.publication > 0 AND k.key > ? ORDER BY k.key LIMIT ?`, name, after, limit))
}

// CountFollowers implements app.Store.
func (s *Store) CountFollowers(ctx context.Context, name string) (n int, err error) {
	return n, translated(s.read.GetContext(ctx, &n, "SELECT count(*) FROM pockets WHERE widget = ? AND follow AND publication > 0", name))
}

// Releases implements app.Store.
func (s *Store) Releases(ctx context.Context, name string, before, limit int) (list []app.ReleaseInfo, err error) {
	return list, translated(s.read.SelectContext(ctx, &list, "SELECT "+releaseColumns+" FROM releases WHERE widget = ? AND (? = 0 OR number < ?) ORDER BY number DESC LIMIT ?", name, before, before, limit))
}

// ReleaseByNumber implements app.Store.
func (s *Store) ReleaseByNumber(ctx context.Context, name string, number int) (info app.ReleaseInfo, err error) {
	return info, translated(s.read.GetContext(ctx, &info, "SELECT "+releaseColumns+" FROM releases WHERE widget = ? AND number = ?", name, number))
}

// ServedReleases implements app.Store.
func (s *Store) ServedReleases(ctx context.Context, keys []string) (map[string]int, error) {
	query, args, err := sqlx.In(`SELECT key, (SELECT number FROM releases WHERE id = CASE WHEN refused = wanted THEN release_id ELSE wanted END) AS number
		FROM (SELECT k.key, r.release_id, r.refused, coalesce(`+wantedFor+`, r.release_id) AS wanted FROM pockets AS k JOIN renderings AS r ON r.key = k.key WHERE k.follow AND k.publication > 0 AND k.key IN (?))`, keys)
	if err != nil {
		return nil, err
	}
	var rows []struct {
		Key    string
		Number int
	}
	err = s.read.SelectContext(ctx, &rows, query, args...)
	numbers := map[string]int{}
	for _, r := range rows {
		numbers[r.Key] = r.Number
	}
	return numbers, translated(err)
}

// Refuse implements app.Store.
func (s *Store) Refuse(ctx context.Context, key string, publication int, release int64) error {
	return s.write.do(ctx, nil, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(ctx, "UPDATE renderings SET refused = ? WHERE key = ? AND publication = ? AND release_id <> ?", release, key, publication, release)
		return err
	})
}

// Withdraw implements app.Store.
func (s *Store) Withdraw(ctx context.Context, name string, number int, at *time.Time, rec *app.Record) (app.ReleaseInfo, error) {
	err := s.write.do(ctx, rec, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "UPDATE releases SET withdrawn_at = ? WHERE widget = ? AND number = ?", utcOrNil(at), name, number)
		return oneRow(r, err, app.ErrNotFound)
	})
	if err != nil {
		return app.ReleaseInfo{}, err
	}
	return s.ReleaseByNumber(ctx, name, number)
}

// ReleaseByDigest implements app.Store.
func (s *Store) ReleaseByDigest(ctx context.Context, digest string) (id int64, err error) {
	return id, translated(s.read.GetContext(ctx, &id, "SELECT id FROM releases WHERE digest = ? ORDER BY id LIMIT 1", digest))
}

// ReleaseFolder implements app.Store.
func (s *Store) ReleaseFolder(ctx context.Context, id int64) (widget.Files, error) {
	var rows []struct {
		Path  string
		Bytes []byte
	}
	if err := s.read.SelectContext(ctx, &rows, "SELECT path, bytes FROM release_files JOIN files USING (digest) WHERE release_id = ?", id); err != nil {
		return nil, translated(err)
	}
	files := widget.Files{}
	for _, r := range rows {
		files[r.Path] = append([]byte{}, r.Bytes...)
	}
	return files, nil
}

// ReleaseFiles implements app.Store.
func (s *Store) ReleaseFiles(ctx context.Context, id int64) (widget.Files, widget.Opened, error) {
	var opened widget.Opened
	if err := s.read.QueryRowxContext(ctx, "SELECT style, mount, digest FROM releases WHERE id = ?", id).Scan(&opened.Built.Style, &opened.Built.Mount, &opened.Digest); err != nil {
		return nil, opened, translated(err)
	}
	var rows []struct {
		Path  string
		Bytes []byte
	}
	if err := s.read.SelectContext(ctx, &rows, `SELECT path, bytes FROM release_files JOIN files USING (digest) WHERE release_id = ? AND path NOT LIKE 'assets/%'
		UNION ALL SELECT path, x'' FROM release_files WHERE release_id = ? AND path LIKE 'assets/%'`, id, id); err != nil {
		return nil, opened, translated(err)
	}
	files := widget.Files{}
	for _, r := range rows {
		if r.Bytes == nil {
			r.Bytes = []byte{}
		}
		files[r.Path] = r.Bytes
	}
	var assets []struct {
		Path string
		Info []byte
	}
	if err := s.read.SelectContext(ctx, &assets, "SELECT path, info FROM release_assets WHERE release_id = ?", id); err != nil {
		return nil, opened, translated(err)
	}
	opened.Built.Assets = map[string]asset.Made{}
	for _, a := range assets {
		var made asset.Made
		if err := json.Unmarshal(a.Info, &made.Info); err != nil {
			return nil, opened, err
		}
		opened.Built.Assets[a.Path] = made
	}
	return files, opened, nil
}
