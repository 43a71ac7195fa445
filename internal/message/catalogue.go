package message

import (
	"fmt"
	"slices"
	"sort"
	"strconv"
	"strings"
	"sync"

	"golang.org/x/text/feature/plural"
	"golang.org/x/text/language"

	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
)

// Forms is one message: its text by CLDR plural category ("zero", "one", "two", "few", "many",
// "other"). A message without plurals has only "other". {name} is the place of a value; {count} is
// the number that selects the form.
type Forms map[string]string

// Catalogue is one language's messages, by key.
type Catalogue map[string]Forms

// Categories are the CLDR plural categories in CLDR's order.
var Categories = []string{"zero", "one", "two", "few", "many", "other"}

var categoryOf = map[plural.Form]string{
	plural.Zero: "zero", plural.One: "one", plural.Two: "two", plural.Few: "few", plural.Many: "many", plural.Other: "other",
}

// Category returns the plural category of the whole number n in lang. Browsers use Intl.PluralRules
// for the same purpose; testdata/plurals.json has the results that both must give.
func Category(lang string, n int) string {
	if n < 0 {
		n = -n
	}
	return categoryOf[plural.Cardinal.MatchPlural(tagOf(lang), n, 0, 0, 0, 0)]
}

// tags caches parsed language tags. Few languages are in use.
var tags sync.Map

func tagOf(lang string) language.Tag {
	if t, ok := tags.Load(lang); ok {
		return t.(language.Tag)
	}
	t := language.Make(lang)
	if ValidTag(lang) {
		tags.Store(lang, t)
	}
	return t
}

// CategoriesOf returns the categories of whole numbers in lang, in CLDR's order.
func CategoriesOf(lang string) []string {
	if known, ok := categories.Load(lang); ok {
		return known.([]string)
	}
	has := map[string]bool{"other": true}
	for n := range 1000 {
		has[Category(lang, n)] = true
	}
	has[Category(lang, 1_000_000)] = true
	var list []string
	for _, c := range Categories {
		if has[c] {
			list = append(list, c)
		}
	}
	if list = slices.Clip(list); ValidTag(lang) {
		categories.Store(lang, list)
	}
	return list
}

// categories caches the results of CategoriesOf.
var categories sync.Map

// Say returns the message key for count, with {count} filled in. A missing form falls back to
// "other", and a missing message to its key.
func (c Catalogue) Say(lang, key string, count int, of ...string) string {
	forms, ok := c[key]
	if !ok {
		return key
	}
	text, ok := forms[Category(lang, count)]
	if !ok {
		text = forms["other"]
	}
	text = strings.ReplaceAll(text, "{count}", strconv.Itoa(count))
	if len(of) > 0 {
		text = strings.ReplaceAll(text, "{of}", of[0])
	}
	return text
}

// Keys returns the message keys in order.
func (c Catalogue) Keys() []string {
	keys := make([]string, 0, len(c))
	for k := range c {
		keys = append(keys, k)
	}
	sort.Strings(keys)
	return keys
}

// Read reads messages/LANG.json, an object of key → text, or key → {category: text}.
func Read(text []byte, lang string) (Catalogue, fault.List) {
	doc, faults := jsondoc.Read(text)
	if doc == nil {
		return nil, faults
	}
	if doc.Kind != jsondoc.Object {
		return nil, append(faults, doc.Fault(fault.WrongType, "", "The messages must be an object.", `Write { "key": "text" }.`))
	}
	c := Catalogue{}
	for _, m := range doc.Members {
		switch m.Value.Kind {
		case jsondoc.String:
			c[m.Key] = Forms{"other": m.Value.Text}
		case jsondoc.Object:
			forms := Forms{}
			allowed := CategoriesOf(lang)
			for _, f := range m.Value.Members {
				if !slices.Contains(allowed, f.Key) {
					faults = append(faults, fault.Fault{Line: f.Line, Column: f.Column, Field: m.Key, Code: fault.MessagePlural,
						What: fmt.Sprintf("Whole numbers do not have the plural category %q in %s.", f.Key, lang), Fix: "Use " + strings.Join(allowed, ", ") + "."})
					continue
				}
				if f.Value.Kind != jsondoc.String {
					faults = append(faults, f.Value.Fault(fault.WrongType, m.Key, "A plural form must be a string.", "Write the text in double quotes."))
					continue
				}
				forms[f.Key] = f.Value.Text
			}
			for _, want := range allowed {
				if _, ok := forms[want]; !ok {
					faults = append(faults, m.Value.Fault(fault.MessagePlural, m.Key,
						fmt.Sprintf("The plural form %q of %q is missing in %s.", want, m.Key, lang), "Write all of these: "+strings.Join(allowed, ", ")+"."))
				}
			}
			c[m.Key] = forms
		default:
			faults = append(faults, m.Value.Fault(fault.WrongType, m.Key, fmt.Sprintf("The message %q must be text or an object of plural forms.", m.Key), `Write "text" or {"one": "…", "other": "…"}.`))
		}
	}
	return c, faults
}
