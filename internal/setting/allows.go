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
	var of []string
	for _, o := range s.Options {
		of = append(of, o.Value)
	}
	switch {
	case s.Type == "choices":
		return "any of " + strings.Join(of, ", ")
	case len(of) > 0:
		return strings.Join(of, ", ")
	case s.Type == "icon":
		return "the name of one of our icons, as in " + s.example()
	case s.Type == "switch":
		return "true, false"
	case s.Type == "font":
		return strings.Join(Stacks(), ", ") + ", a font's digest, or " + Inherited
	case s.Type == "list" || s.Type == "items":
		return fmt.Sprintf("%d to %d items of %s", s.MinItems, s.MaxItems, strings.Join(keysOf(s.Fields), ", "))
	case s.Format == "uri":
		return "an address"
	case s.Pattern != "":
		return "a text that matches " + s.Pattern
	case s.Type == "text" || s.Type == "richText":
		return fmt.Sprintf("%d to %d characters", s.MinLength, s.MaxLength)
	}
	if s.Minimum == nil && s.Maximum == nil {
		if s.Type == "number" {
			return "any number"
		}
		return "as in " + s.example()
	}
	words := s.bounds()
	switch s.Type {
	case "number":
		if s.Step > 0 {
			words += " in steps of " + Number(s.Step)
		}
		return words
	case "length":
		words += " " + strings.Join(s.Units, ", ")
	case "spacing":
		words += " pixels a side"
	case "duration":
		words += " seconds"
	}
	return words + ", as in " + s.example()
}

// example is a value of the type in the notation of a command line.
func (s *Setting) example() string { return strings.Trim(Notes[s.Type].Value, `"`) }
