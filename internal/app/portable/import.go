package portable

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"strings"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/pocket"
	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/problem"
	"glasspocket/internal/setting"
)

// Import creates a pocket with the given key from an exported file, of this or another
// service. Values that the widget's newest release does not accept are kept aside.
func (a *Files) Import(ctx context.Context, s access.Scope, customer string, file []byte, key string) (p pocket.Pocket, err error) {
	if err := a.customers.Reach(ctx, s, access.PublishPockets, customer); err != nil {
		return p, err
	}
	f, err := readFile(file)
	if err != nil {
		return p, err
	}
	w, err := a.releases.Newest(ctx, f.Widget)
	if err != nil {
		return p, err
	}
	if f.Language, err = pocket.LanguageOf(w, w.Release.Language(f.Language)); err != nil {
		return p, err
	}
	if f.Title = strings.TrimSpace(f.Title); f.Title == "" {
		f.Title = w.Release.Manifest.Title.In(f.Language)
	}
	if err := pocket.CheckTitle(f.Title); err != nil {
		return p, err
	}
	if _, ok := w.Release.Starter(f.Starter); !ok {
		f.Starter = ""
	}
	if f.Settings, err = a.rehomed(ctx, s, customer, f); err != nil {
		return p, err
	}
	cases := make([]pocket.Case, 0, len(f.Cases))
	for _, c := range f.Cases {
		if c, err := (pocket.Case{Name: c.Name, Conditions: c.Conditions}).Sound(w.Release.Manifest); err == nil && len(cases) < pocket.CasesMost {
			cases = append(cases, c)
		}
	}
	if field, faults := f.Content.Clean(); len(faults) > 0 {
		return p, problem.Faulty(field.Key+"-faulty", field.Faulty, faults)
	}
	if f.Sources, err = a.sources.Adopt(ctx, s.Completing(nil), customer, f.Sources, f.Connected); err != nil {
		return p, err
	}
	return a.pockets.AddCopy(ctx, s, pocket.Pocket{Key: key, CustomerID: customer, Widget: f.Widget, Starter: f.Starter, Content: f.Content.Copy()}, w, cases, "import", f.Key)
}

// readFile reads an exported file.
func readFile(file []byte) (f PocketFile, err error) {
	var head struct {
		Format   int             `json:"format"`
		Settings json.RawMessage `json:"settings"`
	}
	faulty := func(err error) error {
		field, why := jsondoc.Explain(err)
		return &problem.Error{Kind: problem.Invalid, Code: "file-faulty", Field: field, What: "This is not a pocket export file: " + why, Hint: "Use an exported file without changes."}
	}
	if err := json.Unmarshal(file, &head); err != nil {
		return f, faulty(err)
	}
	if head.Format != Format {
		return f, &problem.Error{Kind: problem.Invalid, Code: "file-format", Field: "format", What: fmt.Sprintf("The file has format %d. This service reads format %d.", head.Format, Format), Hint: "Export it again, or update this service."}
	}
	// It also refuses what is nested too deeply, or named twice.
	if doc, faults := jsondoc.Read(head.Settings); doc == nil || len(faults) > 0 || doc.Kind != jsondoc.Object {
		return f, problem.Faulty("settings-faulty", "The settings in the file cannot be read.", faults)
	}
	if err := json.Unmarshal(file, &f); err != nil {
		return f, faulty(err)
	}
	return f, nil
}

// rehomed adds the assets of a file to a customer, and returns the file's settings with their names
// here.
func (a *Files) rehomed(ctx context.Context, s access.Scope, customer string, f PocketFile) (setting.Values, error) {
	settings, _ := json.Marshal(f.Settings)
	for _, of := range f.Assets {
		if _, err := a.store.Asset(ctx, customer, of.Digest); err == nil {
			continue
		} else if !errors.Is(err, problem.ErrNotFound) {
			return nil, err
		}
		if of.Bytes == nil {
			return nil, problem.Faulty("asset-missing", "An asset of the pocket is missing.", fault.List{{Field: "assets", Code: fault.ValueAsset, What: fmt.Sprintf("%s (%s…) is not on this service and not in the file.", of.Name, of.Digest[:min(12, len(of.Digest))]), Fix: "Export the pocket with its assets, or upload this asset first."}})
		}
		made, _, err := a.customers.AddAsset(ctx, s.Completing(nil), customer, of.Name, of.Bytes)
		if err != nil {
			return nil, err
		}
		settings = bytes.ReplaceAll(settings, []byte(`"`+of.Digest+`"`), []byte(`"`+made.Digest+`"`))
	}
	var here setting.Values
	return here, json.Unmarshal(settings, &here)
}
