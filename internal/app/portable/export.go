package portable

import (
	"context"
	"encoding/json"
	"errors"
	"strings"
	"time"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/pocket"
	"glasspocket/internal/app/source"
	"glasspocket/internal/asset"
	"glasspocket/internal/content"
	"glasspocket/internal/problem"
)

// Format is the version of PocketFile.
const Format = 1

// PocketFile is a pocket as a JSON file, for storage or for another service. Settings are the
// draft's. Assets are listed, with their bytes on request.
type PocketFile struct {
	Format  int    `json:"format"` // PocketFormat
	Key     string `json:"key"`    // its key; an import gets another one
	Widget  string `json:"widget"`
	Release int    `json:"release"` // the release for which its settings are written
	Starter string `json:"starter,omitempty"`
	content.Content
	Cases  []FileCase  `json:"cases,omitempty"`
	Assets []FileAsset `json:"assets,omitempty"`
	// Connected are the sources that the lists in "sources" name.
	Connected []source.Portable `json:"connected,omitempty"`
	At        time.Time         `json:"exportedAt"`
}

// FileCase is a preview case of a pocket file.
type FileCase struct {
	Name       string            `json:"name"`
	Conditions pocket.Conditions `json:"conditions"`
}

// UnmarshalJSON also reads files with the earlier key of conditions.
func (c *FileCase) UnmarshalJSON(text []byte) error {
	var in struct {
		Name          string             `json:"name"`
		Conditions    pocket.Conditions  `json:"conditions"`
		Circumstances *pocket.Conditions `json:"circumstances"`
	}
	if err := json.Unmarshal(text, &in); err != nil {
		return err
	}
	c.Name, c.Conditions = in.Name, in.Conditions
	if in.Circumstances != nil {
		c.Conditions = *in.Circumstances
	}
	return nil
}

// FileAsset is an uploaded asset in a pocket file's settings.
type FileAsset struct {
	Digest  string     `json:"digest"`
	Name    string     `json:"name"`
	Kind    asset.Kind `json:"kind"`
	Address string     `json:"address"`         // on the service that wrote the file
	Bytes   []byte     `json:"bytes,omitempty"` // as stored, on request
}

// Export returns a pocket as a file. whole includes the bytes of its assets.
func (a *Files) Export(ctx context.Context, s access.Scope, key string, whole bool) (f PocketFile, err error) {
	p, _, err := a.pockets.Draft(ctx, s, key)
	if err != nil {
		return f, err
	}
	w, err := a.releases.For(ctx, p.Widget, p.Lot)
	if err != nil {
		return f, err
	}
	f = PocketFile{Format: Format, Key: p.Key, Widget: p.Widget, Release: w.Number, Starter: p.Starter, Content: p.Content.Copy(), At: a.now()}
	if f.Connected, err = a.sources.Export(ctx, p.Sources, whole); err != nil {
		return f, err
	}
	cases, err := a.store.PreviewCases(ctx, key)
	if err != nil {
		return f, err
	}
	for _, c := range cases {
		f.Cases = append(f.Cases, FileCase{c.Name, c.Conditions})
	}
	for _, digest := range w.Release.Schema.Assets(p.Settings) {
		at, err := a.store.Asset(ctx, p.CustomerID, digest)
		if errors.Is(err, problem.ErrNotFound) {
			continue // deleted, so it is left out
		}
		if err != nil {
			return f, err
		}
		info := at.About()
		of := FileAsset{Digest: digest, Name: info.Name, Kind: info.Kind, Address: a.base + info.Address(info.Forms[0])}
		if whole {
			largest := info.Forms[0]
			for _, form := range info.Forms {
				if form.Width > largest.Width {
					largest = form
				}
			}
			address := info.Address(largest)
			if of.Bytes, err = a.store.AssetFile(ctx, digest, address[strings.LastIndex(address, "/")+1:]); err != nil {
				return f, err
			}
		}
		f.Assets = append(f.Assets, of)
	}
	return f, nil
}
