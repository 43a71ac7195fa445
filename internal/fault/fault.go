// Package fault describes what is wrong with something that a person wrote: where, what, and how to
// fix it. Core packages return faults as values. Only the outer layers convert them to HTTP
// problems or terminal text.
package fault

import (
	"fmt"
	"sort"
	"strings"
)

// Fault is a single fault in a single place.
type Fault struct {
	Path   string `json:"path"`             // file within the widget folder, separated by "/"; "" for a value without a file
	Line   int    `json:"line"`             // counted from 1; 0 for the whole file
	Column int    `json:"column"`           // counted from 1, in characters
	Length int    `json:"length,omitempty"` // in characters, 0 if unknown
	Field  string `json:"field,omitempty"`  // the setting or key with the fault
	Code   Code   `json:"code"`             // stable name, see Catalogue
	What   string `json:"what"`             // what is wrong, a sentence
	Fix    string `json:"fix"`              // what to do about it, a sentence
	// Warning marks what prevents nothing, but will cause problems later.
	Warning bool `json:"warning,omitempty"`
}

// String returns "path:line:column: what [code]".
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

// Most limits the faults of one text from users, because a fault takes many times the bytes of its
// cause. A reader that stops there does not report the rest. The text is refused either way.
const Most = 100

// List is a list of faults. The nil List means that nothing is wrong.
type List []Fault

// Error makes a List an error, with one fault per line.
func (l List) Error() string {
	lines := make([]string, len(l))
	for i, f := range l {
		lines[i] = f.String()
	}
	return strings.Join(lines, "\n")
}

// Err returns the list as an error, or nil if it is empty.
func (l List) Err() error {
	if len(l) == 0 {
		return nil
	}
	return l
}

// Sort orders by path, line and column, so that reports about the same folder are always the same.
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

// Hard returns the faults that are not warnings.
func (l List) Hard() (hard List) {
	for _, f := range l {
		if !f.Warning {
			hard = append(hard, f)
		}
	}
	return hard
}
