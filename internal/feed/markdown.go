package feed

import (
	"archive/zip"
	"bytes"
	"context"
	"fmt"
	"io"
	"path"
	"slices"
	"strings"

	"github.com/yuin/goldmark"
	"go.yaml.in/yaml/v4"

	"glasspocket/internal/item"
)

// Limits of a folder of Markdown files.
const (
	markdownMost  = 2_000    // files
	markdownBytes = 16 << 20 // in total, decompressed
	fileMost      = 512 << 10
)

func isMarkdown(d *Document) bool {
	return bytes.HasPrefix(d.Body, []byte("PK\x03\x04")) || d.extension() == ".md" || d.media() == "text/markdown"
}

// readMarkdown makes an item of each Markdown file (CommonMark) in a ZIP, with the fields in its
// front matter: YAML between two lines of three hyphens.
func readMarkdown(_ context.Context, d *Document, o Options) (*Found, error) {
	f := &Found{Title: strings.TrimSuffix(d.Name, d.extension())}
	if !bytes.HasPrefix(d.Body, []byte("PK\x03\x04")) {
		f.markdown(d, o, path.Base(d.Name), d.Text())
		return f, nil
	}
	archive, err := zip.NewReader(bytes.NewReader(d.Body), int64(len(d.Body)))
	if err != nil {
		return nil, &Error{What: d.named() + " is not a complete ZIP file.", Hint: "Make it again."}
	}
	files := slices.Clone(archive.File)
	slices.SortFunc(files, func(a, b *zip.File) int { return strings.Compare(a.Name, b.Name) })
	left := int64(markdownBytes)
	others := 0
	for _, file := range files {
		name := strings.ToLower(file.Name)
		if file.FileInfo().IsDir() || strings.HasPrefix(path.Base(name), ".") || strings.Contains(name, "__macosx") {
			continue
		}
		if !strings.HasSuffix(name, ".md") && !strings.HasSuffix(name, ".markdown") {
			others++
			continue
		}
		if len(f.Items) >= markdownMost {
			f.skip("Only the first %d files were read.", markdownMost)
			break
		}
		r, err := file.Open()
		if err != nil {
			f.skip("%s cannot be read.", item.Line(file.Name, 60))
			continue
		}
		body, err := io.ReadAll(io.LimitReader(r, min(fileMost, left)+1))
		r.Close()
		if err != nil || int64(len(body)) > min(fileMost, left) {
			f.skip("%s is damaged or too large, so it was left out.", item.Line(file.Name, 60))
			continue
		}
		left -= int64(len(body))
		f.markdown(d, o, file.Name, decode(body, "").text)
	}
	if others > 0 {
		f.skip("%d files are not Markdown.", others)
	}
	if len(f.Items) == 0 {
		return nil, &Error{What: d.named() + " has no Markdown files.", Hint: "Add files that end in .md."}
	}
	return f, nil
}

// markdown adds the item of one file.
func (f *Found) markdown(d *Document, o Options, name, text string) {
	text = strings.ReplaceAll(strings.TrimPrefix(text, "\ufeff"), "\r\n", "\n")
	front := map[string]any{}
	if rest, ok := strings.CutPrefix(text, "---\n"); ok {
		if head, body, ok := strings.Cut(rest, "\n---"); ok {
			if err := yaml.Unmarshal([]byte(head), &front); err != nil {
				f.repair("The front matter of %s is not valid YAML: %s.", item.Line(name, 60), item.Line(err.Error(), 100))
			}
			_, text, _ = strings.Cut(body, "\n")
		}
	}
	keys := make([]string, 0, len(front))
	for key := range front {
		keys = append(keys, key)
	}
	slices.Sort(keys)
	mapping := guess(keys)
	for field, key := range o.Mapping {
		mapping[field] = key
	}
	it := fill(d, f, o.Kind, func(field string) string { return fromYAML(front[mapping[field]]) })
	if it.Origin == "" {
		it.Origin = name
	}
	var b bytes.Buffer
	if strings.TrimSpace(text) != "" && goldmark.Convert([]byte(text), &b) == nil {
		setHTML(&it, b.String(), d.Address)
	}
	if it.Title == "" {
		if line, rest, ok := strings.Cut(it.Text, "\n"); ok && strings.HasPrefix(strings.TrimSpace(text), "# ") {
			it.Title, it.Text = line, strings.TrimSpace(rest)
		}
	}
	if it.Title == "" {
		it.Title = strings.TrimSuffix(path.Base(name), path.Ext(name))
	}
	f.Items = append(f.Items, it)
}

func fromYAML(v any) string {
	switch v := v.(type) {
	case nil:
		return ""
	case string:
		return v
	case []any:
		var parts []string
		for _, each := range v {
			parts = append(parts, fromYAML(each))
		}
		return strings.Join(parts, ", ")
	case map[string]any:
		return fromYAML(v["name"])
	case interface{ Format(string) string }: // a date
		if text := v.Format("2006-01-02T15:04:05Z07:00"); !strings.HasSuffix(text, "T00:00:00Z") {
			return text
		}
		return v.Format("2006-01-02")
	}
	return fmt.Sprint(v)
}
