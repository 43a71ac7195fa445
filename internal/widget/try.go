package widget

import (
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"time"
	"unicode/utf16"
	"unicode/utf8"

	"glasspocket/internal/fault"
	"glasspocket/internal/message"
	"glasspocket/internal/setting"
	"glasspocket/internal/view"
)

// Trier builds a mount module for a preview: unminified, with a source map (ECMA-426) that leads
// from each place to the author's source.
type Trier interface {
	TryMount(files Files, entry string) (code, sourceMap string, faults fault.List)
}

// Trial is a folder under development, as far as it can be shown. Its Built.Style is empty, because
// a preview applies the stylesheet as written.
type Trial struct {
	*Release
	Elements []view.Element // of the view, by mark; places in UTF-16 code units
	Map      string         // source map of Built.Mount, "" for none
}

// inUnits converts the places of elements to UTF-16 code units, which editors in browsers use.
func inUnits(src []byte, elements []view.Element) []view.Element {
	units := make([]int, len(src)+1) // by byte offset
	n := 0
	for i := 0; i < len(src); {
		r, size := utf8.DecodeRune(src[i:])
		for j := range size {
			units[i+j] = n
		}
		i += size
		n += utf16.RuneLen(r)
	}
	units[len(src)] = n
	list := slices.Clone(elements)
	for i := range list {
		e := &list[i]
		e.Start, e.Open, e.End = units[e.Start], units[e.Open], units[e.End]
	}
	return list
}

// Marked returns the same release with a view whose renderings identify the source element of each
// element, and those elements by their marks. It is for previews.
func (r *Release) Marked() (*Release, []view.Element) {
	of := *r
	m, _ := view.Mark(r.Files[ViewFile], viewTypes(r.Schema))
	if m == nil {
		return r, nil
	}
	of.marked = m
	return &of, m.Elements
}

// Case is a condition for viewing a widget, as far as it affects the rendering.
type Case struct {
	Starter  string          `json:"starter,omitempty"`  // whose settings it has; "" for the sample alone
	Language string          `json:"language,omitempty"` // "" for the widget's first
	Content  string          `json:"content,omitempty"`  // "none", "many" or "long"; "" for unchanged content
	Turned   bool            `json:"turned,omitempty"`   // right-to-left text, whatever the language
	Settings json.RawMessage `json:"settings,omitempty"` // an object of values that take precedence over all others
}

// In returns the complete settings of a case. Faults name settings without a value.
func (r *Release) In(c Case, now time.Time) (setting.Values, fault.List) {
	values := setting.Values{}
	if s, ok := r.Starter(c.Starter); ok {
		values = s.Settings
	}
	full, faults := r.Preview(values, now)
	if len(faults) > 0 {
		return nil, faults
	}
	if c.Content != "" && !slices.Contains(setting.Contents, c.Content) {
		return nil, fault.List{{Field: "content", Code: fault.ValueChoice, What: fmt.Sprintf("There is no amount of content %q.", c.Content), Fix: fault.DidYouMean(c.Content, setting.Contents)}}
	}
	full = r.Schema.With(full, c.Content)
	if c.Settings != nil {
		given, faults := r.Schema.CheckJSON(c.Settings)
		if len(faults) > 0 {
			return nil, faults
		}
		maps.Copy(full, given)
	}
	return r.Schema.Complete(full)
}

// RightToLeft returns the widget's first language that is written from right to left, or "".
func (r *Release) RightToLeft() string {
	for _, l := range r.Manifest.Languages {
		if message.Direction(l) == "rtl" {
			return l
		}
	}
	return ""
}
