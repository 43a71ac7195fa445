// Package message has a widget's texts: short texts by language, and message catalogues with the
// plural forms of Unicode CLDR (UTS #35, part 3).
package message

import (
	"fmt"

	"golang.org/x/text/language"

	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
)

// Words is one text in several languages, by BCP 47 tag.
type Words map[string]string

// In returns the text for lang, or for its base language, or in English, or in any language.
func (w Words) In(lang string) string {
	if s, ok := w[lang]; ok {
		return s
	}
	if s, ok := w[Base(lang)]; ok {
		return s
	}
	if s, ok := w["en"]; ok {
		return s
	}
	first := ""
	for k := range w {
		if first == "" || k < first {
			first = k
		}
	}
	return w[first]
}

// Base returns the language of a tag without script and region: "pt" for "pt-BR".
func Base(lang string) string {
	tag, err := language.Parse(lang)
	if err != nil {
		return lang
	}
	base, _ := tag.Base()
	return base.String()
}

// ValidTag reports whether lang is a well-formed BCP 47 tag of a known language in canonical form
// ("de", "pt-BR"; not "german", "EN").
func ValidTag(lang string) bool {
	tag, err := language.Parse(lang)
	return err == nil && tag.String() == lang && tag != language.Und
}

// Canonical returns the canonical form of a language tag ("pt-BR" for "pt-br" or "pt_BR"), or "" if
// it is not one.
func Canonical(lang string) string {
	tag, err := language.Parse(lang)
	if err != nil || tag == language.Und {
		return ""
	}
	return tag.String()
}

// Direction returns "rtl" for languages that are written from right to left, and "ltr" for all
// others.
func Direction(lang string) string {
	script, _ := language.Make(lang).Script()
	switch script.String() {
	case "Arab", "Hebr", "Thaa", "Syrc", "Nkoo", "Adlm", "Rohg":
		return "rtl"
	}
	return "ltr"
}

// ReadWords reads {"en": "…", "de": "…"}. Each key must be a language tag, and each value a text
// that is not empty.
func ReadWords(v *jsondoc.Value, field string) (Words, fault.List) {
	if v.Kind != jsondoc.Object || len(v.Members) == 0 {
		return nil, fault.List{v.Fault(fault.WrongType, field, fmt.Sprintf("%q must be an object with a text for each language.", field), `Write it as {"en": "…"}.`)}
	}
	var faults fault.List
	w := Words{}
	for _, m := range v.Members {
		if !ValidTag(m.Key) {
			faults = append(faults, fault.Fault{Line: m.Line, Column: m.Column, Field: field, Code: fault.BadLanguage,
				What: fmt.Sprintf("%q is not a language tag.", m.Key), Fix: "Use a BCP 47 tag such as en, de or pt-BR."})
			continue
		}
		if m.Value.Kind != jsondoc.String || m.Value.Text == "" {
			faults = append(faults, m.Value.Fault(fault.WrongType, field, fmt.Sprintf("The %s text of %q must be a non-empty string.", m.Key, field), "Write the text in double quotes."))
			continue
		}
		w[m.Key] = m.Value.Text
	}
	return w, faults
}
