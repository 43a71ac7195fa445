package setting

import (
	"fmt"

	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
)

// PageUsual is the number of items in a page of a list if the setting that determines it has no
// effect.
const PageUsual = 12

// PagedMost is the number of items that a list with pages takes from its sources.
const PagedMost = 10_000

// Page is the part of a list that a rendering shows.
type Page struct {
	From, Size, Total int    // items before it, in it at most, and in the whole list
	After             string // ID of its last item, after which the next page begins
}

// PageSize returns how many items a page of a list has; 0 for a list without pages. values must be
// complete.
func (schema *Schema) PageSize(s *Setting, values Values) int {
	if s.Page == "" {
		return 0
	}
	if size, ok := values[s.Page].(float64); ok && size >= 1 && schema.Get(s.Page).Matters(values) {
		return int(size)
	}
	return PageUsual
}

// Paged lists the settings with pages.
func (schema *Schema) Paged() (list []*Setting) {
	for _, s := range schema.Settings {
		if s.Page != "" {
			list = append(list, s)
		}
	}
	return list
}

// LargestPage returns the page size on any screen.
func (schema *Schema) LargestPage(s *Setting, values Values) int {
	size := schema.PageSize(s, values)
	return max(size, schema.PageSize(s, values.OnSmall()))
}

// ItemsRoom returns how many items of its sources a list takes.
func (s *Setting) ItemsRoom() int {
	if s.Page != "" {
		return PagedMost
	}
	return s.MaxItems
}

// readPage checks that "page" names a number.
func (s *Setting) readPage(glass *jsondoc.Value, list []*Setting) fault.List {
	by := glass.Get("page")
	if by == nil {
		return nil
	}
	other := named(list, by.Text)
	if other == nil || other.Type != "number" || other.Minimum == nil || *other.Minimum < 1 || other.Step != 1 {
		s.Page = ""
		return fault.List{by.Fault(fault.SettingUnknown, s.Key, fmt.Sprintf("\"page\" names %q, which is not a setting with a whole number from 1 up.", by.Text), `Name a number setting with "minimum": 1 and "multipleOf": 1.`)}
	}
	return nil
}
