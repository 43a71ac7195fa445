package releasesql

import (
	"context"
	"encoding/json"

	"glasspocket/internal/asset"
	"glasspocket/internal/store"
	"glasspocket/internal/widget"
)

// ReleaseFolder implements release.Store.
func (s *ReleaseStore) ReleaseFolder(ctx context.Context, id int64) (widget.Files, error) {
	var rows []struct {
		Path  string
		Bytes []byte
	}
	if err := s.Read.SelectContext(ctx, &rows, "SELECT path, bytes FROM release_files JOIN files USING (digest) WHERE release_id = ?", id); err != nil {
		return nil, store.Translated(err)
	}
	files := widget.Files{}
	for _, r := range rows {
		files[r.Path] = append([]byte{}, r.Bytes...)
	}
	return files, nil
}

// ReleaseFiles implements release.Store.
func (s *ReleaseStore) ReleaseFiles(ctx context.Context, id int64) (widget.Files, widget.Opened, error) {
	var opened widget.Opened
	if err := s.Read.QueryRowxContext(ctx, "SELECT style, mount, digest FROM releases WHERE id = ?", id).Scan(&opened.Built.Style, &opened.Built.Mount, &opened.Digest); err != nil {
		return nil, opened, store.Translated(err)
	}
	var rows []struct {
		Path  string
		Bytes []byte
	}
	if err := s.Read.SelectContext(ctx, &rows, `SELECT path, bytes FROM release_files JOIN files USING (digest) WHERE release_id = ? AND path NOT LIKE 'assets/%'
		UNION ALL SELECT path, x'' FROM release_files WHERE release_id = ? AND path LIKE 'assets/%'`, id, id); err != nil {
		return nil, opened, store.Translated(err)
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
	if err := s.Read.SelectContext(ctx, &assets, "SELECT path, info FROM release_assets WHERE release_id = ?", id); err != nil {
		return nil, opened, store.Translated(err)
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
