package app

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"strings"
	"time"

	"glasspocket/internal/asset"
	"glasspocket/internal/cue"
	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
)

// PocketFormat is the version of PocketFile.
const PocketFormat = 1

// PocketFile is a pocket as a JSON file, for storage or for another service. Settings are the
// draft's. Assets are listed, with their bytes on request.
type PocketFile struct {
	Format   int             `json:"format"` // PocketFormat
	Key      string          `json:"key"`    // its key; an import gets another one
	Title    string          `json:"title"`
	Widget   string          `json:"widget"`
	Release  int             `json:"release"` // the release for which its settings are written
	Starter  string          `json:"starter,omitempty"`
	Language string          `json:"language"`
	Settings json.RawMessage `json:"settings"`
	Cues     *cue.Cues       `json:"cues,omitempty"` // where it shows, unless everywhere
	Cases    []FileCase      `json:"cases,omitempty"`
	Assets   []FileAsset     `json:"assets,omitempty"`
	At       time.Time       `json:"exportedAt"`
}

// FileCase is a preview case of a pocket file.
type FileCase struct {
	Name       string     `json:"name"`
	Conditions Conditions `json:"conditions"`
}

// UnmarshalJSON also reads files with the earlier key of conditions.
func (c *FileCase) UnmarshalJSON(text []byte) error {
	var in struct {
		Name          string      `json:"name"`
		Conditions    Conditions  `json:"conditions"`
		Circumstances *Conditions `json:"circumstances"`
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

// ExportPocket returns a pocket as a file. whole includes the bytes of its assets.
func (a *App) ExportPocket(ctx context.Context, s Scope, key string, whole bool) (f PocketFile, err error) {
	p, _, err := a.Draft(ctx, s, key)
	if err != nil {
		return f, err
	}
	w, err := a.widgetFor(ctx, p.Widget, p.Lot)
	if err != nil {
		return f, err
	}
	f = PocketFile{Format: PocketFormat, Key: p.Key, Title: p.Title, Widget: p.Widget, Release: w.Number, Starter: p.Starter, Language: p.Language, Settings: p.Settings, At: a.now()}
	if cues, err := cue.Read([]byte(p.Cues)); err != nil {
		return f, err
	} else if !cues.IsZero() {
		f.Cues = &cues
	}
	cases, err := a.store.PreviewCases(ctx, key)
	if err != nil {
		return f, err
	}
	for _, c := range cases {
		f.Cases = append(f.Cases, FileCase{c.Name, c.Conditions})
	}
	for _, digest := range w.Release.Schema.Assets(a.values(p, w.Release.Schema)) {
		at, err := a.store.Asset(ctx, p.CustomerID, digest)
		if errors.Is(err, ErrNotFound) {
			continue // deleted, so it is left out
		}
		if err != nil {
			return f, err
		}
		info := at.About()
		of := FileAsset{Digest: digest, Name: info.Name, Kind: info.Kind, Address: a.site.Base + info.Address(info.Forms[0])}
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

// ImportPocket creates a pocket with the given key from an exported file, of this or another
// service. Values that the widget's newest release does not accept are kept aside.
func (a *App) ImportPocket(ctx context.Context, s Scope, customer string, file []byte, key string) (p Pocket, err error) {
	if err := a.reach(ctx, s, publishPockets, customer); err != nil {
		return p, err
	}
	var f PocketFile
	if err := json.Unmarshal(file, &f); err != nil {
		field, why := jsondoc.Explain(err)
		return p, &Error{Kind: Invalid, Code: "file-faulty", Field: field, What: "This is not a pocket export file: " + why, Hint: "Use an exported file without changes."}
	}
	if f.Format != PocketFormat {
		return p, &Error{Kind: Invalid, Code: "file-format", Field: "format", What: fmt.Sprintf("The file has format %d. This service reads format %d.", f.Format, PocketFormat), Hint: "Export it again, or update this service."}
	}
	w, err := a.widget(ctx, f.Widget)
	if err != nil {
		return p, err
	}
	if f.Language, err = languageOf(w, w.Release.Language(f.Language)); err != nil {
		return p, err
	}
	if f.Title = strings.TrimSpace(f.Title); f.Title == "" {
		f.Title = w.Release.Manifest.Title.In(f.Language)
	}
	if err := checkTitle(f.Title); err != nil {
		return p, err
	}
	if _, ok := w.Release.Starter(f.Starter); !ok {
		f.Starter = ""
	}
	settings, err := a.rehomed(ctx, s, customer, f)
	if err != nil {
		return p, err
	}
	cases := make([]PreviewCase, 0, len(f.Cases))
	for _, c := range f.Cases {
		if c, err := (PreviewCase{c.Name, c.Conditions}).sound(w.Release.Manifest); err == nil && len(cases) < PreviewCasesMost {
			cases = append(cases, c)
		}
	}
	cues := ""
	if f.Cues != nil {
		clean, faults := f.Cues.Clean()
		if len(faults) > 0 {
			return p, faulty("cues-faulty", "Some addresses in the file are not valid.", faults)
		}
		cues = written(clean)
	}
	return a.addCopy(ctx, s, Pocket{Key: key, CustomerID: customer, Widget: f.Widget, Title: f.Title, Language: f.Language, Starter: f.Starter, Cues: cues, Settings: settings}, w, cases, "import", f.Key)
}

// rehomed adds the assets of a file to a customer, and returns the file's settings with their names
// here.
func (a *App) rehomed(ctx context.Context, s Scope, customer string, f PocketFile) (json.RawMessage, error) {
	doc, faults := jsondoc.Read(f.Settings)
	if doc == nil || doc.Kind != jsondoc.Object {
		return nil, faulty("settings-faulty", "The settings in the file cannot be read.", faults)
	}
	settings := string(f.Settings)
	for _, of := range f.Assets {
		if _, err := a.store.Asset(ctx, customer, of.Digest); err == nil {
			continue
		} else if !errors.Is(err, ErrNotFound) {
			return nil, err
		}
		if of.Bytes == nil {
			return nil, faulty("asset-missing", "An asset of the pocket is missing.", fault.List{{Field: "assets", Code: fault.ValueAsset, What: fmt.Sprintf("%s (%s…) is not on this service and not in the file.", of.Name, of.Digest[:min(12, len(of.Digest))]), Fix: "Export the pocket with its assets, or upload this asset first."}})
		}
		made, _, err := a.AddAsset(ctx, s.finishing(nil), customer, of.Name, of.Bytes)
		if err != nil {
			return nil, err
		}
		settings = strings.ReplaceAll(settings, `"`+of.Digest+`"`, `"`+made.Digest+`"`)
	}
	return json.RawMessage(settings), nil
}

// DuplicatePocket creates a pocket with the same draft, for the same customer or for another, who
// receives the assets too.
func (a *App) DuplicatePocket(ctx context.Context, s Scope, from, customer, key string) (p Pocket, err error) {
	was, err := a.Pocket(ctx, s, from)
	if err != nil {
		return p, err
	}
	if customer == "" {
		customer = was.CustomerID
	}
	if err := a.reach(ctx, s, publishPockets, customer); err != nil {
		return p, err
	}
	w, err := a.widget(ctx, was.Widget)
	if err != nil {
		return p, err
	}
	if customer != was.CustomerID {
		for _, digest := range w.Release.Schema.Assets(a.values(was, w.Release.Schema)) {
			if err := a.store.CopyAsset(ctx, was.CustomerID, customer, digest, s.Name, a.now()); err != nil && !errors.Is(err, ErrNotFound) {
				return p, err
			}
		}
	}
	cases, err := a.store.PreviewCases(ctx, from)
	if err != nil {
		return p, err
	}
	if key == "" {
		key = newKey()
	}
	title := was.Title
	if customer == was.CustomerID {
		if title += " (copy)"; len([]rune(title)) > 120 {
			title = was.Title
		}
	}
	return a.addCopy(ctx, s, Pocket{Key: key, CustomerID: customer, Widget: was.Widget, Title: title, Language: was.Language, Starter: was.Starter, Cues: was.Cues, Settings: was.Settings}, w, cases, "duplicate", from)
}

func (a *App) addCopy(ctx context.Context, s Scope, p Pocket, w WidgetInfo, cases []PreviewCase, did, from string) (Pocket, error) {
	if err := a.roomFor(ctx, s, p.CustomerID, 1); err != nil {
		return p, err
	}
	now := a.now()
	p.Revision, p.Lot, p.DraftAt, p.DraftBy, p.CreatedAt = 1, newLot(), now, s.Name, now
	p.BrandDraft = spacedNames(w.Release.Schema.BrandUses(a.values(p, w.Release.Schema)))
	if err := a.store.AddPocket(ctx, p, newRecord(s, a.now(), Entry{CustomerID: p.CustomerID, Did: did, Kind: "pocket", Of: p.Key, Note: "from " + from})); err != nil {
		return p, err
	}
	for _, c := range cases {
		if err := a.store.SavePreviewCase(ctx, p.Key, c, nil); err != nil {
			return p, err
		}
	}
	return p, nil
}

// Move publishes the live version again with another release; number 0 is the newest. The draft
// stays unchanged.
func (a *App) Move(ctx context.Context, s Scope, key string, number int, follow *bool) (Publication, error) {
	return a.put(ctx, s, key, "move", func(p Pocket) (pub Publication, err error) {
		if p.Publication == 0 {
			return pub, notPublished(key)
		}
		if pub, err = a.publication(ctx, key, p.Publication); err != nil {
			return pub, err
		}
		var info ReleaseInfo
		if number == 0 {
			info, err = a.store.NewestReleaseFor(ctx, p.Widget, p.Lot)
		} else {
			info, err = a.store.ReleaseByNumber(ctx, p.Widget, number)
		}
		if errors.Is(err, ErrNotFound) {
			return pub, notFound("release", fmt.Sprintf("%s %d", p.Widget, number), "List the widget's releases to see their numbers.")
		}
		if err != nil {
			return pub, err
		}
		if info.WithdrawnAt != nil {
			return pub, &Error{Kind: Conflict, Code: "release-withdrawn", Field: "release", What: fmt.Sprintf("Release %d of %s has been withdrawn.", number, p.Widget), Hint: "Choose another release, or put this one back into use."}
		}
		was := pub.Follow
		if follow != nil {
			pub.Follow = *follow
		}
		if info.Number == pub.Release && was == pub.Follow {
			return pub, &Error{Kind: Conflict, Code: "moved-already", What: fmt.Sprintf("%s already uses release %d.", key, info.Number), Hint: "There is nothing to do."}
		}
		r, err := a.open(ctx, info.ID)
		if err != nil {
			return pub, err
		}
		values, faults, err := a.carryWhole(ctx, r, pub, info.ID < pub.ReleaseID)
		if err != nil {
			return pub, err
		}
		if len(faults) > 0 {
			return pub, faulty("settings-faulty", "The live version cannot use that release.", faults)
		}
		pub.Settings, _ = json.Marshal(values)
		pub.ReleaseID, pub.Release, pub.Restores = info.ID, info.Number, 0
		pub.Brand = spacedNames(r.Schema.BrandUses(values))
		pub.Revision = p.PublishedOf
		return pub, nil
	})
}

// DeletePocket deletes an unpublished pocket with its history.
func (a *App) DeletePocket(ctx context.Context, s Scope, key string) error {
	p, err := a.Pocket(ctx, s, key)
	if err != nil {
		return err
	}
	if err := s.require(editPockets); err != nil {
		return err
	}
	lock := a.publishingOf(key)
	lock.Lock()
	defer lock.Unlock()
	err = a.store.DeletePocket(ctx, key, newRecord(s, a.now(), Entry{CustomerID: p.CustomerID, Did: "delete", Kind: "pocket", Of: key, Note: p.Title}))
	if errors.Is(err, ErrChanged) {
		return &Error{Kind: Conflict, Code: "published-still", What: fmt.Sprintf("%s is published, and pages show it.", key), Hint: "Unpublish it first, then delete it."}
	}
	if errors.Is(err, ErrNotFound) {
		return notFound("pocket", key, "List the pockets to see their keys.")
	}
	return err
}
