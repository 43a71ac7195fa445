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
	"glasspocket/internal/shape"
	"glasspocket/internal/view"
)

// Trier builds a mount module for a preview: as it is written, with a source map (ECMA-426)
// that leads from each place back to the author's own.
type Trier interface {
	TryMount(files Files, entry string) (code, sourceMap string, faults fault.List)
}

// Trial is a folder that is being written, as far as it can be shown. Its Built.Style is
// empty: a preview applies the stylesheet as it is written.
type Trial struct {
	*Release
	Elements []view.Element // of the view, by mark; places in UTF-16 code units
	Map      string         // source map of Built.Mount, "" without one
}

// inUnits counts the places of elements in UTF-16 code units, as editors in browsers do.
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

func (r *Release) readMarked(src []byte, types map[string]*shape.Type) (*view.View, fault.List) {
	marked, faults := view.Mark(src, types)
	if marked == nil {
		return nil, faults
	}
	r.marked = marked
	return marked.View, faults
}

// Marked is the same release with a view whose renderings tell which element of its source
// each element is, and those elements by their marks. It is for previews.
func (r *Release) Marked() (*Release, []view.Element) {
	of := *r
	m, _ := view.Mark(r.Files[ViewFile], viewTypes(r.Schema))
	if m == nil {
		return r, nil
	}
	of.marked = m
	return &of, m.Elements
}

// Case is a condition to see a widget in, as far as it changes what is rendered.
type Case struct {
	Starter  string          `json:"starter,omitempty"`  // whose settings it has; the sample alone without one
	Language string          `json:"language,omitempty"` // the widget's first without one
	Content  string          `json:"content,omitempty"`  // "none", "many" or "long"; as it is without one
	Turned   bool            `json:"turned,omitempty"`   // written from right to left, whatever the language
	Settings json.RawMessage `json:"settings,omitempty"` // an object of values that go before all others
}

// In gives the settings of a case, complete. Faults name settings that nothing gives.
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

// RightToLeft is the widget's first language that is written from right to left, or "".
func (r *Release) RightToLeft() string {
	for _, l := range r.Manifest.Languages {
		if message.Direction(l) == "rtl" {
			return l
		}
	}
	return ""
}
