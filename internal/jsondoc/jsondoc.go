// Package jsondoc reads JSON (RFC 8259) into values that know their place in the text, so that a
// fault in a file can name its line and column.
package jsondoc

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"strings"
	"unicode/utf8"

	"glasspocket/internal/fault"
)

// MaxDepth limits nesting: deeper input is a fault, not a stack overflow.
const MaxDepth = 64

// Kind is the JSON type of a Value.
type Kind string

// The JSON types, with their names in JSON Schema.
const (
	Null    Kind = "null"
	Boolean Kind = "boolean"
	Number  Kind = "number"
	String  Kind = "string"
	Array   Kind = "array"
	Object  Kind = "object"
)

// Named returns the type for use in a sentence: "a number", "true or false".
func (k Kind) Named() string {
	switch k {
	case Null:
		return "null"
	case Boolean:
		return "true or false"
	case String:
		return "text"
	case Array, Object:
		return "an " + string(k)
	}
	return "a " + string(k)
}

// Value is a JSON value and the place of its first character.
type Value struct {
	Kind         Kind
	Line, Column int
	Text         string   // String: decoded; Number: as written
	Bool         bool     // Boolean
	Items        []*Value // Array
	Members      []Member // Object, in the order written
}

// Member is one key of an object with its value; Line and Column are the key's.
type Member struct {
	Key          string
	Line, Column int
	Value        *Value
}

// Get returns the member named key, or nil.
func (v *Value) Get(key string) *Value {
	if v == nil {
		return nil
	}
	for _, m := range v.Members {
		if m.Key == key {
			return m.Value
		}
	}
	return nil
}

// Clone returns a copy of v that shares nothing with it.
func (v *Value) Clone() *Value {
	c := *v
	c.Items, c.Members = nil, nil
	for _, item := range v.Items {
		c.Items = append(c.Items, item.Clone())
	}
	for _, m := range v.Members {
		m.Value = m.Value.Clone()
		c.Members = append(c.Members, m)
	}
	return &c
}

// Fault returns a fault placed at v.
func (v *Value) Fault(code fault.Code, field, what, fix string) fault.Fault {
	return fault.Fault{Line: v.Line, Column: v.Column, Field: field, Code: code, What: what, Fix: fix}
}

// Plain converts v to the types of encoding/json: map, slice, string, json.Number, bool, nil.
func (v *Value) Plain() any {
	switch v.Kind {
	case Object:
		m := make(map[string]any, len(v.Members))
		for _, e := range v.Members {
			m[e.Key] = e.Value.Plain()
		}
		return m
	case Array:
		l := make([]any, len(v.Items))
		for i, e := range v.Items {
			l[i] = e.Plain()
		}
		return l
	case String:
		return v.Text
	case Number:
		return json.Number(v.Text)
	case Boolean:
		return v.Bool
	}
	return nil
}

// Place converts a byte offset in text into line and column, both counted from 1, the column in
// characters.
func Place(text []byte, offset int) (line, column int) {
	offset = min(max(offset, 0), len(text))
	before := text[:offset]
	line = 1 + bytes.Count(before, []byte("\n"))
	column = 1 + utf8.RuneCount(before[bytes.LastIndexByte(before, '\n')+1:])
	return line, column
}

// Read parses text. It returns the document, and faults for duplicate keys. If the text is not
// JSON, the value is nil and the list contains the syntax fault.
func Read(text []byte) (*Value, fault.List) {
	if !utf8.Valid(text) {
		at := 0
		for at < len(text) {
			r, size := utf8.DecodeRune(text[at:])
			if r == utf8.RuneError && size <= 1 {
				break
			}
			at += size
		}
		line, column := Place(text, at)
		return nil, fault.List{{Line: line, Column: column, Code: fault.FileNotText,
			What: "This is not UTF-8 text.", Fix: "Save the file as UTF-8."}}
	}
	if v, twice := readFast(text); v != nil {
		return v, twice
	}
	return readSlowly(text)
}

func readSlowly(text []byte) (*Value, fault.List) {
	r := &reader{text: string(text), dec: json.NewDecoder(bytes.NewReader(text))}
	r.dec.UseNumber()
	v, err := r.value(0)
	if err == nil {
		if _, rest := r.token(); rest != io.EOF {
			err = errors.New("there is text after the end of the document")
		}
	}
	if err != nil {
		return nil, fault.List{r.syntax(err)}
	}
	return v, r.twice
}

type reader struct {
	text  string
	dec   *json.Decoder
	start int // offset of the token being read
	twice fault.List
	counted
}

// counted is a known place from which counting continues, because most places are requested in
// order.
type counted struct{ at, line, column int }

// place returns the line and column of an offset.
func (c *counted) place(text string, offset int) (line, column int) {
	if c.line == 0 || offset < c.at {
		*c = counted{0, 1, 1}
	}
	between := text[c.at:offset]
	if n := strings.Count(between, "\n"); n > 0 {
		c.line += n
		c.column = 1
		between = between[strings.LastIndexByte(between, '\n')+1:]
	}
	c.column += utf8.RuneCountInString(between)
	c.at = offset
	return c.line, c.column
}

// skip returns the offset after white space and the separators that Decoder.Token consumes
// silently.
func (r *reader) skip(at int) int {
	for at < len(r.text) && strings.IndexByte(" \t\r\n,:", r.text[at]) >= 0 {
		at++
	}
	return at
}

func (r *reader) token() (json.Token, error) {
	r.start = r.skip(int(r.dec.InputOffset()))
	return r.dec.Token()
}

var errDeep = fmt.Errorf("the nesting is deeper than %d levels", MaxDepth)

func (r *reader) value(depth int) (*Value, error) {
	if depth >= MaxDepth {
		r.start = r.skip(int(r.dec.InputOffset()))
		return nil, errDeep
	}
	tok, err := r.token()
	if err != nil {
		return nil, err
	}
	v := &Value{}
	v.Line, v.Column = r.place(r.text, r.start)
	switch t := tok.(type) {
	case nil:
		v.Kind = Null
	case bool:
		v.Kind, v.Bool = Boolean, t
	case string:
		v.Kind, v.Text = String, t
	case json.Number:
		v.Kind, v.Text = Number, string(t)
	case json.Delim:
		if t == '[' {
			v.Kind = Array
			for r.dec.More() {
				item, err := r.value(depth + 1)
				if err != nil {
					return nil, err
				}
				v.Items = append(v.Items, item)
			}
		} else {
			v.Kind = Object
			seen := map[string]bool{}
			for r.dec.More() {
				key, err := r.token()
				if err != nil {
					return nil, err
				}
				m := Member{Key: key.(string)}
				m.Line, m.Column = r.place(r.text, r.start)
				if m.Value, err = r.value(depth + 1); err != nil {
					return nil, err
				}
				if seen[m.Key] {
					r.twice = twice(r.twice, m)
					continue
				}
				seen[m.Key] = true
				v.Members = append(v.Members, m)
			}
		}
		if _, err := r.token(); err != nil { // the closing bracket
			return nil, err
		}
	}
	return v, nil
}

// twice adds the fault of a duplicate key, up to fault.Most.
func twice(list fault.List, m Member) fault.List {
	if len(list) >= fault.Most {
		return list
	}
	return append(list, fault.Fault{Line: m.Line, Column: m.Column, Field: m.Key, Code: fault.KeyTwice, What: fmt.Sprintf("This object already has the key %q.", m.Key), Fix: "Delete one of the two."})
}

func (r *reader) syntax(err error) fault.Fault {
	at, what := r.start, err.Error()
	var syn *json.SyntaxError
	if errors.As(err, &syn) {
		at = int(syn.Offset) - 1
		// In some cases Decoder.Token counts its offset from the token, not from the text. The
		// token's start is always right, so it is the lower bound.
		if at < r.start || at >= len(r.text) {
			at = r.start
		}
	}
	if errors.Is(err, io.EOF) || errors.Is(err, io.ErrUnexpectedEOF) {
		at, what = len(r.text), "the document is cut off"
	}
	line, column := Place([]byte(r.text), at)
	what = strings.TrimPrefix(what, "json: ")
	return fault.Fault{Line: line, Column: column, Code: fault.JSONSyntax,
		What: "This is not valid JSON: " + what + ".",
		Fix:  "Check this position and the text just before it. JSON needs double quotes, and allows neither comments nor a comma before a closing bracket."}
}

// Offset returns the byte offset of a line and column, the opposite of Place, or the length of the
// text if it is shorter.
func Offset(text []byte, line, column int) int {
	at := 0
	for ; line > 1; line-- {
		i := bytes.IndexByte(text[at:], '\n')
		if i < 0 {
			return len(text)
		}
		at += i + 1
	}
	for ; column > 1 && at < len(text); column-- {
		_, size := utf8.DecodeRune(text[at:])
		at += size
	}
	return at
}
