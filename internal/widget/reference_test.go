package widget_test

import (
	"bytes"
	_ "embed"
	"fmt"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"text/template"

	"github.com/stretchr/testify/require"

	"glasspocket/internal/asset"
	"glasspocket/internal/generated"
	"glasspocket/internal/icon"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/message"
	"glasspocket/internal/setting"
	"glasspocket/internal/shape"
	"glasspocket/internal/view"
	"glasspocket/internal/widget"
)

//go:embed testdata/reference.md
var reference string

// docs/widget-format.md is generated from the tables that check the format, so that its keys, types,
// functions and limits agree with the code. “go test ./internal/widget -update” writes it.
func TestReferencePage(t *testing.T) {
	page := template.Must(template.New("").Delims("<<", ">>").Funcs(template.FuncMap{
		"keys": keysTable, "types": typesTable, "item": itemTable, "functions": functionsTable, "members": membersTable, "capabilities": capabilitiesTable, "fields": fieldsOf, "changes": changesTable,
		"join": func(list []string) string { return strings.Join(list, ", ") }, "code": func(list []string) string { return "`" + strings.Join(list, "`, `") + "`" },
		"kib": func(n int) string { return fmt.Sprintf("%d KiB", n>>10) }, "mib": func(n int) string { return fmt.Sprintf("%d MiB", n>>20) },
	}).Parse(reference))
	var b bytes.Buffer
	require.NoError(t, page.Execute(&b, map[string]any{
		"Manifest": widget.ManifestKeys, "Heights": widget.HeightKeys, "Slots": widget.SlotKeys, "Facts": widget.FactKeys, "Passes": widget.PassesKeys, "Origin": widget.OriginKeys,
		"Starter": widget.StarterKeys, "Sample": widget.SampleKeys, "Schema": setting.SchemaKeys, "TopGlass": setting.TopGlassKeys, "Groups": setting.GroupKeys, "Glass": setting.GlassKeys,
		"FileMost": widget.FileMost, "FolderMost": widget.FolderMost, "AssetsMost": widget.AssetsMost, "FilesMost": widget.FilesMost, "ViewMost": view.SourceMost, "Depth": jsondoc.MaxDepth,
		"Inheritable": setting.Inheritable, "InPageTypes": setting.InPageTypes, "Stacks": setting.Stacks(), "Icons": icon.Names(), "Styles": message.DateStyles,
		"Small": setting.SmallScreen, "Image": asset.Limits[asset.Image], "Sound": asset.Limits[asset.Sound], "Font": asset.Limits[asset.Font], "Widths": asset.Widths,
		"Pixels": asset.PixelsMost / 1_000_000, "Script": widget.ScriptMost, "Rich": setting.RichTags,
	}))
	generated.File(t, filepath.Join("..", "..", "docs", "widget-format.md"), b.String(), "go test ./internal/widget -update")
}

var cell = strings.NewReplacer("|", `\|`).Replace

func keysTable(keys []jsondoc.Key) string {
	var b strings.Builder
	b.WriteString("| key | JSON type | meaning |\n|---|---|---|\n")
	for _, k := range keys {
		if k.Earlier {
			continue
		}
		kinds := make([]string, len(k.Is))
		for i, is := range k.Is {
			kinds[i] = string(is)
		}
		about := k.About
		if k.Must {
			about += " (required)"
		}
		if k.About == "" {
			panic("the key " + k.Name + " has no description")
		}
		fmt.Fprintf(&b, "| `%s` | %s | %s |\n", k.Name, strings.Join(kinds, ", "), cell(about))
	}
	return b.String()
}

func changesTable() string {
	var b strings.Builder
	for _, k := range setting.ChangeKinds {
		fmt.Fprintf(&b, "| `%s` | %s |\n", k[0], k[1])
	}
	return b.String()
}

func typesTable() string {
	var b strings.Builder
	b.WriteString("| type | schema `type` | further keywords | of `glass` | controls | in CSS |\n|---|---|---|---|---|---|\n")
	code := func(list []string) string {
		if len(list) == 0 {
			return ""
		}
		return "`" + strings.Join(list, "`, `") + "`"
	}
	for _, n := range setting.TypeNames() {
		fmt.Fprintf(&b, "| [`%s`](#%s) | %s | %s | %s | %s | %s |\n", n, strings.ToLower(n), code(setting.JSONTypes(n)), code(setting.Keywords(n)), code(setting.GlassOf(n)), code(setting.Controls(n)), setting.InCSS(n))
	}
	for _, n := range setting.TypeNames() {
		note := setting.NoteOf(n)
		fmt.Fprintf(&b, "\n#### %s\n\n%s\n\n```json\n%s\n```\n\nIn the view and the script: %s\n", n, note.What, note.Value, seen(sampleSetting(n).Shape()))
	}
	return b.String()
}

// sampleSetting is a setting of a type, as far as its shape goes.
func sampleSetting(name string) *setting.Setting {
	s := &setting.Setting{Type: name}
	if name == "items" || name == "list" {
		s.Fields = []*setting.Setting{{Key: "…", Type: "text"}}
	}
	return s
}

func seen(t *shape.Type) string {
	switch t.Kind {
	case shape.ObjectKind:
		return "`{" + strings.Join(t.Names(), ", ") + "}`"
	case shape.ListKind:
		if t.Element.Kind == shape.ObjectKind {
			return "a list of `{" + strings.Join(t.Element.Names(), ", ") + "}`"
		}
		return "a list of texts"
	}
	return t.Kind.String()
}

func itemTable() string {
	var b strings.Builder
	b.WriteString("| field | type | content |\n|---|---|---|\n")
	var row func(ahead string, fields []*setting.Setting)
	row = func(ahead string, fields []*setting.Setting) {
		for _, f := range fields {
			name := f.Type
			if name == "group" {
				name = "object"
			}
			fmt.Fprintf(&b, "| `%s%s` | %s | %s |\n", ahead, f.Key, name, f.Label.In("en"))
			if len(f.Fields) > 0 {
				mark := "."
				if f.Type == "list" {
					mark = "[]."
				}
				row(ahead+f.Key+mark, f.Fields)
			}
		}
	}
	row("", setting.ItemFields)
	return b.String()
}

func functionsTable() string {
	var b strings.Builder
	b.WriteString("| function | result |\n|---|---|\n")
	for _, f := range view.Functions {
		if f.Earlier() {
			continue
		}
		fmt.Fprintf(&b, "| `%s %s` | %s |\n", f.Name, f.Arguments, cell(f.Gives))
	}
	var builtins []string
	for _, n := range view.FunctionNames() {
		if !slices.ContainsFunc(view.Functions, func(f view.Function) bool { return f.Name == n }) {
			builtins = append(builtins, n)
		}
	}
	fmt.Fprintf(&b, "| `%s` | as in Go's templates |\n", strings.Join(builtins, " "))
	return b.String()
}

func capabilitiesTable() string {
	var b strings.Builder
	b.WriteString("| capability | what it is for |\n|---|---|\n")
	for _, c := range widget.Capabilities {
		fmt.Fprintf(&b, "| `%s` | %s |\n", c.Name, cell(c.About))
	}
	return b.String()
}

func membersTable() string {
	var b strings.Builder
	b.WriteString("| member | purpose | capability |\n|---|---|---|\n")
	for _, m := range widget.PocketMembers() {
		needs := m.Needs
		if needs != "" {
			needs = "`" + needs + "`"
		}
		fmt.Fprintf(&b, "| `%s` | %s | %s |\n", cell(m.Name), cell(m.About), needs)
	}
	return b.String()
}

func fieldsOf(t *shape.Type) string { return strings.Join(t.Names(), ", ") }
