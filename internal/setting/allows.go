package setting

import (
	"fmt"
	"strings"
)

// Allows describes in a few words which values a setting accepts: its choices, its range, or its
// notation.
func (s *Setting) Allows() string {
	words := s.allows()
	if s.Inherit != "" && !strings.HasSuffix(words, Inherited) {
		words += ", or " + Inherited
	}
	return words
}

func (s *Setting) allows() string {
	if of, ok := types[s.Type].(bounded); ok {
		return of.allows(s)
	}
	if len(s.Options) > 0 {
		return strings.Join(s.optionValues(), ", ")
	}
	return "as in " + s.example()
}

func (s *Setting) optionValues() []string {
	of := make([]string, len(s.Options))
	for i, o := range s.Options {
		of[i] = o.Value
	}
	return of
}

func (s *Setting) allowsItems() string {
	return fmt.Sprintf("%d to %d items of %s", s.MinItems, s.MaxItems, strings.Join(keysOf(s.Fields), ", "))
}

func (s *Setting) allowsCharacters() string {
	return fmt.Sprintf("%d to %d characters", s.MinLength, s.MaxLength)
}

// allowsBounds describes the smallest and largest number of a value that is not only a number.
func (s *Setting) allowsBounds(unit string) string {
	if s.Minimum == nil && s.Maximum == nil {
		return "as in " + s.example()
	}
	return s.bounds() + unit + ", as in " + s.example()
}

// example is a value of the type in the notation of a command line.
func (s *Setting) example() string { return strings.Trim(NoteOf(s.Type).Value, `"`) }
