package host

import (
	"strings"
	"unicode"
)

// Fact is something that a page can state about itself or its visitor, only within the page.
type Fact struct {
	Name  string
	Yes   bool   // true or false; otherwise it is text
	Label string // its label in words
}

// Stated describes how a page states a fact.
type Stated struct {
	Label     string `json:"label"`
	Attribute string `json:"attribute"` // with an example value
}

// stated lists how each fact is stated: by an attribute of any element around the mount point.
func (s Subject) stated() (list []Stated) {
	for _, f := range s.Facts {
		var name strings.Builder
		for _, r := range f.Name {
			if unicode.IsUpper(r) {
				name.WriteByte('-')
			}
			name.WriteRune(unicode.ToLower(r))
		}
		value := "Isa"
		if f.Yes {
			value = "true"
		}
		list = append(list, Stated{f.Label, "data-fact-" + name.String() + `="` + value + `"`})
	}
	return list
}

// stating returns an element that states all of them.
func stating(list []Stated) string {
	text := "<body"
	for _, s := range list {
		text += " " + s.Attribute
	}
	return text + ">"
}
