package host

import (
	"strings"
	"unicode"
)

// Fact is something that a page may state of itself or its visitor, in the page only.
type Fact struct {
	Name  string
	Yes   bool   // it is so or not; otherwise it is text
	Label string // what it is, in words
}

// Stated is how a page states a fact.
type Stated struct {
	Label     string `json:"label"`
	Attribute string `json:"attribute"` // with an example of a value
}

// stated tells how each fact is stated: by an attribute of any element around the mount point.
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

// stating is an element that states all of them.
func stating(list []Stated) string {
	text := "<body"
	for _, s := range list {
		text += " " + s.Attribute
	}
	return text + ">"
}
