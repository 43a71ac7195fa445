// Package intake makes a widget folder from an HTML page: it separates markup, style and script,
// repairs what would affect the rest of a page as far as that is safe, and lists what needs manual
// work. It fetches and runs nothing.
package intake

import (
	"encoding/json"
	"fmt"
	"net/url"
	"path"
	"regexp"
	"slices"
	"strings"

	"golang.org/x/net/html"

	"glasspocket/internal/clip"
	"glasspocket/internal/fault"
	"glasspocket/internal/message"
	"glasspocket/internal/tree"
	"glasspocket/internal/view"
	"glasspocket/internal/widget"
)

// PageMost is the largest page, in bytes.
const PageMost = 8 << 20

// deepest limits the nesting of elements, because a badly generated page could overflow the stack.
const deepest = 400

// Ask describes what to make from a page.
type Ask struct {
	Page []byte
	Name string // the widget's name
	// Part is the selector of the part to use, as in a PagePart; "" for the whole body.
	Part string
	// Copies are files for addresses that the page loads: paths under assets/ for images, sounds
	// and fonts; the texts of styles and scripts.
	Copies map[string]Copy
	// Beside returns a file next to the page by its relative address, such as "css/site.css" or
	// "/img/boat.png". It is nil if there are none.
	Beside func(address string) ([]byte, bool)
	// Keep are addresses that stay on their servers, declared in the manifest.
	Keep []string
	// Leave are the kinds of repairs to skip.
	Leave []Repair
}

// Copy is a file for an address.
type Copy struct {
	Path  string // within the folder
	Bytes []byte
}

// Repair is a kind of change that adapts a part of a page to a widget, and that its author may want
// to make differently.
type Repair string

// The repairs.
const (
	RepairIDs       Repair = "ids"       // duplicate ids become classes
	RepairSelectors Repair = "selectors" // selectors of the page, and of all elements of a type, become the widget's
	RepairUnits     Repair = "units"     // rem becomes px
	RepairUnused    Repair = "unused"    // rules that match nothing in the part are left out
)

// Repairs lists them.
var Repairs = []Repair{RepairIDs, RepairSelectors, RepairUnits, RepairUnused}

// Note is something that was done, or that needs manual work.
type Note struct {
	Done bool   `json:"done"` // false if it needs manual work
	Line int    `json:"line"` // in the page, from 1; 0 if it concerns no place
	What string `json:"what"` // a sentence
	Fix  string `json:"fix,omitempty"`
}

// Remote is a file that the page loads from another server, or from next to it.
type Remote struct {
	Address string `json:"address"`
	Kind    string `json:"kind"` // "image", "style", "script", "font", "sound" or "frame"
	Line    int    `json:"line"` // of its first use in the page
	// State is what happens to it: "copied", "kept" or "left" (out). Only images and scripts can be
	// kept.
	State string `json:"state"`
}

// PagePart is a part of the page that could be a widget.
type PagePart struct {
	Selector string `json:"selector"`
	Name     string `json:"name"`  // its first heading, or its first words
	Bytes    int    `json:"bytes"` // of its markup
}

// Made is the result.
type Made struct {
	Files   widget.Files
	Title   string
	Notes   []Note
	Remotes []Remote
	Parts   []PagePart
	Faults  fault.List // that the folder still has, with places in its own files
}

// maker converts a single page.
type maker struct {
	Ask
	made    Made
	remotes map[string]int
	root    *html.Node // the part to use
	styles  []source
	scripts []source
	inline  []string // declarations for single elements, by class p1, p2, …
	events  []event
	ids     map[string]bool   // the duplicate ones
	actions []string          // the view's actions, which replace marks
	keys    []string          // of image settings
	fields  map[string]any    // of settings.json, by key
	base    *url.URL          // of the page's <base>
	rem     float64           // CSS pixels
	old     []string          // prefixes of obsolete rules in the stylesheets
	fonts   map[string]string // custom properties of copied fonts, by family in lower case
}

// source is a stylesheet or script of the page.
type source struct {
	text   string
	line   int
	name   string
	module bool
	media  string
	depth  int    // depth of imports
	dir    string // folder of its file, "" for the page's own
	whole  bool   // a library, which stays unchanged
}

// event is a handler from an attribute.
type event struct {
	mark int
	name string
	code string
	line int
}

// Make makes a widget folder from a page, and checks it with b. Faults concern the page as a whole.
func Make(a Ask, b widget.Builder) (*Made, fault.List) {
	if len(a.Page) > PageMost {
		return nil, fault.List{{Code: fault.FileTooLarge, What: fmt.Sprintf("The page has %d bytes; the limit is %d.", len(a.Page), PageMost), Fix: "Save the part that you need as a separate page."}}
	}
	if !widget.NameForm.MatchString(a.Name) {
		return nil, fault.List{{Field: "name", Code: fault.BadName, What: fmt.Sprintf("%q is not a valid widget name.", a.Name), Fix: "Use at most 40 lower-case letters, digits and hyphens, and start with a letter."}}
	}
	m := &maker{Ask: a, remotes: map[string]int{}, ids: map[string]bool{}, fields: map[string]any{}}
	text := strings.ToValidUTF8(strings.ReplaceAll(string(a.Page), "\r\n", "\n"), "\uFFFD")
	text = strings.NewReplacer("\x00", "", actionMark, "", "\uFEFF", "").Replace(text)
	doc, depth, err := m.parse(text)
	if err != nil {
		return nil, fault.List{{Code: fault.ViewSyntax, What: "The page cannot be read: " + err.Error() + ".", Fix: "Open it in a browser, and save it there as a complete page."}}
	}
	if depth > deepest {
		return nil, fault.List{{Code: fault.ViewTooMuch, What: fmt.Sprintf("The page's elements are nested %d levels deep; the limit is %d.", depth, deepest), Fix: "Use a part of it."}}
	}
	body := tree.Find(doc, func(n *html.Node) bool { return n.Data == "body" })
	if body == nil || tree.Find(body, func(n *html.Node) bool {
		return n.Type == html.ElementNode && n != body || n.Type == html.TextNode && strings.TrimSpace(n.Data) != ""
	}) == nil {
		return nil, fault.List{{Code: fault.FileMissing, What: "The page has no content for a widget.", Fix: "Paste the page's complete source, starting with <!doctype html>."}}
	}
	m.made.Parts = parts(body)
	m.root = body
	if a.Part != "" {
		if m.root = tree.Find(body, func(n *html.Node) bool { return selectorOf(n) == a.Part }); m.root == nil {
			return nil, fault.List{{Field: "part", Code: fault.SettingUnknown, What: fmt.Sprintf("The page has no part %q.", a.Part), Fix: "Choose one of the parts listed."}}
		}
	}
	language, title := m.head(doc)
	m.baseOf(doc)
	m.gather(doc)
	m.rem = m.rootSize()
	m.twice()
	m.walk(m.root)
	m.write(language, title)
	slices.SortStableFunc(m.made.Notes, func(a, b Note) int { return a.Line - b.Line })
	_, m.made.Faults = widget.Read(m.made.Files, b)
	return &m.made, nil
}

func (m *maker) leaves(kind Repair) bool { return slices.Contains(m.Leave, kind) }

func (m *maker) done(line int, what string, a ...any) {
	m.made.Notes = append(m.made.Notes, Note{Done: true, Line: line, What: fmt.Sprintf(what, a...)})
}

func (m *maker) hand(line int, what, fix string) {
	m.made.Notes = append(m.made.Notes, Note{Line: line, What: what, Fix: fix})
}

// remote records an address that the page loads, and what happens to it.
func (m *maker) remote(address, kind string, line int) (state string, c Copy) {
	address = strings.TrimSpace(address)
	state = "left"
	c, copied := m.Copies[address]
	if !copied {
		c, copied = m.bring(address, kind)
	}
	if kind == "module" {
		kind = "script"
	}
	switch {
	case copied:
		state = "copied"
	case slices.Contains(m.Keep, address) && (kind == "image" || kind == "script"):
		state = "kept"
	}
	if i, there := m.remotes[address]; there {
		return m.made.Remotes[i].State, c
	}
	m.remotes[address] = len(m.made.Remotes)
	m.made.Remotes = append(m.made.Remotes, Remote{Address: address, Kind: kind, Line: line, State: state})
	return state, c
}

// head reads the page's metadata.
func (m *maker) head(doc *html.Node) (language, title string) {
	language = "en"
	if root := tree.Find(doc, func(n *html.Node) bool { return n.Type == html.ElementNode && n.Data == "html" }); root != nil {
		if l := strings.TrimSpace(tree.Get(root, "lang")); l != "" {
			if tag := message.Canonical(l); tag != "" {
				language = tag
			} else {
				m.hand(lineOf(root), fmt.Sprintf("The page's language %q is not a language tag, so the widget is in English.", l), "Set the language in widget.json, as in \"de\" or \"pt-BR\", and rename the file in messages/.")
			}
		}
	}
	if t := tree.Find(doc, func(n *html.Node) bool { return n.Data == "title" && (n.Parent == nil || n.Parent.Data != "svg") }); t != nil {
		title = strings.Join(strings.Fields(tree.Text(t)), " ")
	}
	if m.root.Data != "body" || title == "" {
		if h := tree.Find(m.root, func(n *html.Node) bool { return headings.MatchString(n.Data) }); h != nil {
			title = strings.Join(strings.Fields(tree.Text(h)), " ")
		}
	}
	if title == "" {
		title = strings.ToUpper(m.Name[:1]) + strings.ReplaceAll(m.Name[1:], "-", " ")
	}
	title = clip.Text(title, 80)
	m.made.Title = title
	return language, title
}

var headings = regexp.MustCompile(`^h[1-6]$`)

// write assembles the folder.
func (m *maker) write(language, title string) {
	files := widget.Files{}
	markup := m.markup()
	if len(markup) > view.SourceMost {
		m.hand(0, fmt.Sprintf("The markup has %d bytes; the limit for a view is %d.", len(markup), view.SourceMost), "Use one of the page's parts instead.")
	}
	files[widget.ViewFile] = []byte(markup)
	script := m.script()
	if script != "" {
		files["mount.js"] = []byte(script)
	}
	for _, c := range m.Copies {
		if path.Ext(c.Path) == ".js" && !strings.HasPrefix(c.Path, "assets/") && strings.Contains(script, c.Path) {
			files[c.Path] = c.Bytes
		}
	}
	if style := m.style(markup + script); strings.TrimSpace(style) != "" {
		files[widget.StyleFile] = []byte(style)
	}
	for _, c := range m.Copies {
		if strings.HasPrefix(c.Path, "assets/") {
			files[c.Path] = c.Bytes
		}
	}
	// The page's scripts know nothing of the mount function's argument but root and signal.
	capabilities := []string{}
	if widget.Sends(markup) {
		capabilities = append(capabilities, widget.Forms)
	}
	manifest := [][2]any{{"format", widget.Format}, {"name", m.Name}, {"title", map[string]string{language: title}}, {"languages", []string{language}}, {"capabilities", capabilities}}
	var kept []string
	for _, r := range m.made.Remotes {
		if r.State == "kept" {
			kept = append(kept, r.Address)
		}
	}
	if kept != nil {
		slices.Sort(kept)
		manifest = append(manifest, [2]any{"remotes", kept})
	}
	files[widget.ManifestFile] = object(manifest)
	var settings [][2]any
	for _, key := range m.keys {
		settings = append(settings, [2]any{key, m.fields[key]})
	}
	files[widget.SchemaFile] = []byte("{\n  \"$schema\": \"https://json-schema.org/draft/2020-12/schema\",\n  \"type\": \"object\",\n  \"properties\": " + strings.ReplaceAll(strings.TrimSuffix(string(object(settings)), "\n"), "\n", "\n  ") + "\n}\n")
	files["messages/"+language+".json"] = []byte("{}\n")
	m.made.Files = files
}

// object writes members in order, one per line.
func object(members [][2]any) []byte {
	if len(members) == 0 {
		return []byte("{}\n")
	}
	var b strings.Builder
	b.WriteString("{\n")
	for i, e := range members {
		key, _ := json.Marshal(e[0])
		value, _ := json.Marshal(e[1])
		fmt.Fprintf(&b, "  %s: %s", key, value)
		if i < len(members)-1 {
			b.WriteString(",")
		}
		b.WriteString("\n")
	}
	b.WriteString("}\n")
	return []byte(b.String())
}
