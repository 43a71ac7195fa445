// Package fault describes what is wrong with something a person wrote: where it
// stands, what it is, and how to fix it. Core packages return faults as values;
// only the outer layers turn them into HTTP problems or terminal text.
package fault

import (
	"fmt"
	"sort"
	"strings"
)

// Fault is one thing wrong in one place.
type Fault struct {
	Path   string `json:"path"`             // file within the widget folder, "/"-separated; "" for a value that came without a file
	Line   int    `json:"line"`             // 1-based; 0 when the whole file is meant
	Column int    `json:"column"`           // 1-based, counted in characters
	Length int    `json:"length,omitempty"` // characters at fault, 0 when unknown
	Field  string `json:"field,omitempty"`  // setting or key at fault
	Code   Code   `json:"code"`             // stable name, see Catalogue
	What   string `json:"what"`             // what is wrong, a sentence
	Fix    string `json:"fix"`              // what to do about it, a sentence
	// Warning marks what stops nothing now and will bite later.
	Warning bool `json:"warning,omitempty"`
}

// String gives "path:line:column: what [code]".
func (f Fault) String() string {
	var where strings.Builder
	where.WriteString(f.Path)
	if f.Line > 0 {
		fmt.Fprintf(&where, ":%d:%d", f.Line, f.Column)
	}
	if where.Len() == 0 {
		where.WriteString(f.Field)
	}
	if where.Len() > 0 {
		where.WriteString(": ")
	}
	return fmt.Sprintf("%s%s [%s]", where.String(), f.What, f.Code)
}

// Most bounds the faults of one text that users send: its size is bounded, but a fault takes many
// times the bytes of its cause. A reader that stops there says nothing of the rest; the text is
// refused either way.
const Most = 100

// List is any number of faults. The nil List means that nothing is wrong.
type List []Fault

// Error makes a List usable as an error; it holds one fault a line.
func (l List) Error() string {
	lines := make([]string, len(l))
	for i, f := range l {
		lines[i] = f.String()
	}
	return strings.Join(lines, "\n")
}

// Err returns the list as an error, or a nil error when it is empty.
func (l List) Err() error {
	if len(l) == 0 {
		return nil
	}
	return l
}

// Sort orders by path, line, column, so that the same folder always reports alike.
func (l List) Sort() {
	sort.SliceStable(l, func(i, j int) bool {
		a, b := l[i], l[j]
		if a.Path != b.Path {
			return a.Path < b.Path
		}
		if a.Line != b.Line {
			return a.Line < b.Line
		}
		return a.Column < b.Column
	})
}

// In returns the same faults, each placed in the file at path.
func (l List) In(path string) List {
	for i := range l {
		l[i].Path = path
	}
	return l
}

// Hard are the faults of the list that are no warnings.
func (l List) Hard() (hard List) {
	for _, f := range l {
		if !f.Warning {
			hard = append(hard, f)
		}
	}
	return hard
}
