package setting

import (
	"slices"

	"glasspocket/internal/jsondoc"
)

// Note describes a setting type for the format's reference.
type Note struct {
	What  string // the type and its keywords
	Value string // a value in canonical form, as JSON
}

// NoteOf returns the note of a setting type.
func NoteOf(name string) Note { return types[name].note() }

// InCSS returns how a setting type is passed to the stylesheet: "property", "attribute" or "".
func InCSS(name string) string { return cssTable[name].As }

// GlassOf lists the keys of "glass" that this type has in addition to the common ones.
func GlassOf(name string) []string {
	return slices.DeleteFunc(types[name].glass(), func(key string) bool {
		return slices.ContainsFunc(GlassKeys, func(k jsondoc.Key) bool { return k.Name == key && k.Earlier })
	})
}
