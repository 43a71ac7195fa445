// Package hostile reads the table of values that every widget is run through.
package hostile

import (
	"encoding/json"
	"fmt"
	"os"
	"path/filepath"
	"strings"

	"glasspocket/e2e/service"
)

// Value is one row of testdata/hostile/values.json.
type Value struct {
	Kind, Name string
	JSON       []byte // as it is sent; it need not be JSON
}

// Text is the value as a text, and whether it is one.
func (v Value) Text() (text string, ok bool) {
	return text, json.Unmarshal(v.JSON, &text) == nil && v.JSON[0] == '"'
}

func (v Value) String() string { return v.Kind + ", " + v.Name }

// Values reads the table.
func Values() ([]Value, error) {
	text, err := os.ReadFile(filepath.Join(service.Root(), "testdata", "hostile", "values.json"))
	if err != nil {
		return nil, err
	}
	var rows []struct {
		Kind, Name string
		Value      *string
		Raw        *string
		Base64     []byte
		Repeat     *struct {
			Text  string
			Times int
		}
		Nest *struct {
			Open, Inner, Close string
			Depth              int
		}
	}
	if err := json.Unmarshal(text, &rows); err != nil {
		return nil, err
	}
	list := make([]Value, len(rows))
	for i, r := range rows {
		v := Value{Kind: r.Kind, Name: r.Name}
		switch {
		case r.Value != nil:
			v.JSON, _ = json.Marshal(*r.Value)
		case r.Raw != nil:
			v.JSON = []byte(*r.Raw)
		case r.Base64 != nil:
			v.JSON = r.Base64
		case r.Repeat != nil:
			v.JSON, _ = json.Marshal(strings.Repeat(r.Repeat.Text, r.Repeat.Times))
		case r.Nest != nil:
			v.JSON = []byte(strings.Repeat(r.Nest.Open, r.Nest.Depth) + r.Nest.Inner + strings.Repeat(r.Nest.Close, r.Nest.Depth))
		default:
			return nil, fmt.Errorf("row %d, %s, has no value", i+1, r.Name)
		}
		list[i] = v
	}
	return list, nil
}

// Showing are the settings with which all of a widget's texts stand in its markup.
func Showing(widget string) (settings map[string]json.RawMessage, err error) {
	text, err := os.ReadFile(filepath.Join(service.Root(), "testdata", "hostile", widget+".json"))
	if err != nil {
		return nil, fmt.Errorf("every widget needs one: %w", err)
	}
	return settings, json.Unmarshal(text, &settings)
}
