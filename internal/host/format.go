package host

import (
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
)

// shape describes an object of the profile format. The reader, the JSON Schema and the reference in
// docs/ all use it.
type shape struct {
	what string // in messages, "a place"
	keys []key
}

type key struct {
	name  string
	must  bool
	is    []jsondoc.Kind
	of    []string // the possible texts, or the possible keys
	most  int      // characters or items; 0 for the default limit
	each  *shape   // of its items, or of an object's values
	in    *shape   // of the object itself
	about string
}

const (
	wordsMost = 600 // characters in a text
	listMost  = 60  // items in a list
)

var (
	isText        = []jsondoc.Kind{jsondoc.String}
	isNumber      = []jsondoc.Kind{jsondoc.Number}
	isList        = []jsondoc.Kind{jsondoc.Array}
	isObject      = []jsondoc.Kind{jsondoc.Object}
	isSwitch      = []jsondoc.Kind{jsondoc.Boolean}
	keepDrop      = []string{"keep", "drop"}
	deliveryNames = func() (list []string) {
		for _, f := range Deliveries {
			list = append(list, string(f))
		}
		return list
	}()
)

var profileShape = &shape{"the profile", []key{
	{name: "format", must: true, is: isNumber, about: "the version of the format, `1`"},
	{name: "name", must: true, is: isText, about: "the profile's permanent name and file name: `^[a-z][a-z0-9-]{0,39}$`"},
	{name: "extends", is: isText, about: "the profile that this one changes; keys that are left out keep its values"},
	{name: "language", must: true, is: isText, about: "the language of its texts, a BCP 47 tag"},
	{name: "title", must: true, is: isText, most: 80, about: "the name of this kind of host"},
	{name: "summary", must: true, is: isText, most: 300, about: "a one-sentence summary"},
	{name: "signs", must: true, is: isList, about: "sentences that help to recognise this kind of host"},
	{name: "pages", must: true, is: isObject, in: pagesShape, about: "what all its pages have in common, below"},
	{name: "places", must: true, is: isList, each: placeShape, about: "the places for snippets, below; the best first"},
	{name: "after", is: isList, about: "sentences that say how to check the result"},
	{name: "pitfalls", must: true, is: isList, each: pitfallShape, about: "known problems, below"},
}}

var pagesShape = &shape{"“pages”", []key{
	{name: "are", must: true, is: isText, of: PageKinds, about: "`web`: web pages; `program`: an application that swaps the content of one page; `mail`: email; `screen`: a page of fixed size on a screen"},
	{name: "policy", is: isText, most: 2000, about: "the pages' Content-Security-Policy"},
	{name: "cached", is: isNumber, about: "minutes during which visitors can still get the old page"},
}}

var placeShape = &shape{"a place", []key{
	{name: "name", must: true, is: isText, about: "unique in the profile: `^[a-z][a-z0-9-]{0,39}$`"},
	{name: "title", must: true, is: isText, most: 80, about: "its name, in general words"},
	{name: "stands", must: true, is: isText, of: Stands, about: "its place on the page: `content`, `column`, `head`, `end` of the page, or `whole` if it is the whole page"},
	{name: "takes", must: true, is: isObject, in: rulesShape, about: "its treatment of pasted code, below"},
	{name: "editor", must: true, is: isObject, in: editorShape, about: "its editor before publishing, below"},
	{name: "steps", must: true, is: isObject, of: Wheres, each: stepShape, about: "what to do, by position: `new`, in a new section; `existing`, in an existing section; `site`, on every page; `page`, on one page; `column`, in the side column; `home`, only on the home page. Each is a list of steps. A step is text or an object, below"},
	{name: "after", is: isList, about: "sentences that say how to check the result there, instead of the profile's"},
}}

var rulesShape = &shape{"“takes”", []key{
	{name: "as", must: true, is: isText, of: Kinds, about: "`markup`: HTML; `text`: shown as typed; `markdown`: without HTML; `address`: only an address; `file`: source code of an application; `policy`: directives of a content policy"},
	{name: "scripts", is: isText, of: ScriptRules, about: "`run`; `drop`; `hold`: wait until somebody allows them; `move`: run elsewhere on the page; `inert`: stay but never run"},
	{name: "frames", is: isText, of: FrameRules, about: "`keep`; `fence`: in a sandbox without storage; `still`: in a sandbox without scripts; `drop`"},
	{name: "forms", is: isText, of: keepDrop, about: "`keep` or `drop`"},
	{name: "styles", is: isText, of: keepDrop, about: "style attributes: `keep` or `drop`"},
	{name: "attributes", is: isText, of: keepDrop, about: "unknown attributes such as `data-…`: `keep` or `drop`"},
	{name: "images", is: isText, of: keepDrop, about: "`keep` or `drop`"},
	{name: "links", is: isText, of: LinkRules, about: "`keep`; `embed`: a link on its own line becomes its page's oEmbed content; `drop`"},
	{name: "boxed", is: isObject, in: boxedShape, about: "the host puts everything into its own frame, below"},
	{name: "braces", is: isList, most: 8, about: "the opening marks of its template language, as in `[\"{{\", \"{%\"]`"},
	{name: "xml", is: isSwitch, about: "true if the code must be well-formed XML"},
	{name: "most", is: isNumber, about: "the maximum number of characters"},
	{name: "mayDrop", is: isSwitch, about: "true if scripts usually run, but a missing right or a filter can remove them. No height is then reserved, because it would stay without the script"},
	{name: "components", is: isList, of: Frameworks, about: "frameworks whose source files it accepts: `react`, `vue`, `svelte`"},
}}

var boxedShape = &shape{"“boxed”", []key{
	{name: "height", must: true, is: isNumber, about: "the frame's default height in CSS pixels"},
	{name: "scripts", must: true, is: isSwitch, about: "true if scripts run in it"},
	{name: "origin", must: true, is: isSwitch, about: "true if it has its own origin, with storage"},
}}

var editorShape = &shape{"“editor”", []key{
	{name: "shows", must: true, is: isText, of: EditorShows, about: "`result`: the final result; `code`; `box`: an empty box; `nothing`; `still`: the page without scripts"},
	{name: "says", must: true, is: isText, about: "a sentence about it, so that nobody is worried"},
}}

var stepShape = &shape{"a step", []key{
	{name: "say", must: true, is: isText, about: "the instruction. `{snippet}` is replaced by the code to paste, `{title}` by the pocket's title, `{file}` by the name of a source file, `{width}` and `{height}` by the size of a screen"},
	{name: "image", is: isText, about: "an image that shows the step: a PNG, JPEG, WebP or SVG file in the profile's folder"},
	{name: "alt", is: isText, about: "a text alternative for the image"},
}}

var pitfallShape = &shape{"a pitfall", []key{
	{name: "see", must: true, is: isText, about: "the symptom"},
	{name: "because", must: true, is: isText, about: "the cause"},
	{name: "do", must: true, is: isText, about: "the solution"},
	{name: "places", is: isList, about: "names of the places where it happens (default: all)"},
	{name: "deliveries", is: isList, of: deliveryNames, about: "deliveries with which it happens (default: all)"},
}}

// check compares a document with a shape. Each fault has its place.
func (s *shape) check(v *jsondoc.Value) (faults fault.List) {
	expected := make([]jsondoc.Key, len(s.keys))
	for i, k := range s.keys {
		expected[i] = jsondoc.Key{Name: k.name, Must: k.must, Is: k.is}
	}
	if faults = v.Expect(s.what, expected); v.Kind != jsondoc.Object {
		return faults
	}
	for _, k := range s.keys {
		if at := v.Get(k.name); at != nil && (len(k.is) == 0 || slices.Contains(k.is, at.Kind)) {
			faults = append(faults, k.check(at)...)
		}
	}
	return faults
}

func (k key) check(v *jsondoc.Value) (faults fault.List) {
	choice := func(at *jsondoc.Value) {
		if at.Kind != jsondoc.String {
			faults = append(faults, at.Fault(fault.WrongType, k.name, fmt.Sprintf("%q must contain text, not %s.", k.name, at.Kind.Named()), "Write text in double quotes."))
		} else if k.of != nil && !slices.Contains(k.of, at.Text) {
			faults = append(faults, at.Fault(fault.ValueChoice, k.name, fmt.Sprintf("%q cannot be %q.", k.name, at.Text), fault.DidYouMean(at.Text, k.of)))
		} else if most := k.longest(); len([]rune(at.Text)) > most {
			faults = append(faults, at.Fault(fault.ValueLength, k.name, fmt.Sprintf("%q is too long.", k.name), fmt.Sprintf("Write at most %d characters.", most)))
		}
	}
	switch {
	case v.Kind == jsondoc.String:
		choice(v)
	case v.Kind == jsondoc.Array:
		if len(v.Items) > listMost {
			return fault.List{v.Fault(fault.ValueLength, k.name, fmt.Sprintf("%q has more than %d items.", k.name, listMost), "Shorten it.")}
		}
		for _, item := range v.Items {
			if k.each != nil {
				faults = append(faults, k.each.check(item)...)
			} else {
				choice(item)
			}
		}
	case v.Kind == jsondoc.Number:
		if n := atoi(v.Text); itoa(n) != v.Text || n < 0 {
			faults = append(faults, v.Fault(fault.ValueRange, k.name, fmt.Sprintf("%q must be a whole number.", k.name), "Write it without a sign or a decimal point."))
		}
	case k.in != nil:
		faults = k.in.check(v)
	case k.each != nil: // an object of lists, with the keys in k.of
		for _, m := range v.Members {
			if !slices.Contains(k.of, m.Key) {
				faults = append(faults, fault.Fault{Line: m.Line, Column: m.Column, Field: m.Key, Code: fault.KeyUnknown, What: fmt.Sprintf("%q has no key %q.", k.name, m.Key), Fix: fault.DidYouMean(m.Key, k.of)})
				continue
			}
			if m.Value.Kind != jsondoc.Array {
				faults = append(faults, m.Value.Fault(fault.WrongType, m.Key, fmt.Sprintf("%q must be a list, not %s.", m.Key, m.Value.Kind.Named()), "Write [ … ]."))
				continue
			}
			for _, item := range m.Value.Items {
				if item.Kind != jsondoc.String { // a step can be a plain text
					faults = append(faults, k.each.check(item)...)
				}
			}
		}
	}
	return faults
}

// longest returns the limit of a text under k, in characters.
func (k key) longest() int {
	if k.most > 0 {
		return k.most
	}
	return wordsMost
}

// Schema returns the JSON Schema (2020-12) of a profile, for editors and other programs. The reader
// also checks what it cannot express, such as that a place which drops scripts has no steps that
// need one.
func Schema() []byte {
	s := profileShape.schema()
	s["$schema"] = "https://json-schema.org/draft/2020-12/schema"
	s["title"] = "Host profile"
	s["anyOf"] = []any{map[string]any{"required": s["required"]}, map[string]any{"required": []string{"format", "name", "extends"}}}
	delete(s, "required")
	text, err := json.MarshalIndent(s, "", "  ")
	if err != nil {
		panic(err) // cannot happen: only maps, lists and texts
	}
	return append(text, '\n')
}

func (s *shape) schema() map[string]any {
	properties, required := map[string]any{}, []string{}
	for _, k := range s.keys {
		properties[k.name] = k.schema()
		if k.must {
			required = append(required, k.name)
		}
	}
	return map[string]any{"type": "object", "additionalProperties": false, "properties": properties, "required": required}
}

func (k key) schema() map[string]any {
	text := func() map[string]any {
		if k.of != nil {
			return map[string]any{"enum": k.of}
		}
		return map[string]any{"type": "string", "maxLength": k.longest()}
	}
	var s map[string]any
	switch k.is[0] {
	case jsondoc.String:
		s = text()
	case jsondoc.Number:
		s = map[string]any{"type": "integer", "minimum": 0}
	case jsondoc.Boolean:
		s = map[string]any{"type": "boolean"}
	case jsondoc.Array:
		s = map[string]any{"type": "array", "maxItems": listMost, "items": text()}
		if k.each != nil {
			s["items"] = k.each.schema()
		}
	default:
		if k.in != nil {
			s = k.in.schema()
			break
		}
		step := map[string]any{"anyOf": []any{map[string]any{"type": "string", "maxLength": wordsMost}, k.each.schema()}}
		properties := map[string]any{}
		for _, name := range k.of {
			properties[name] = map[string]any{"type": "array", "maxItems": listMost, "items": step}
		}
		s = map[string]any{"type": "object", "additionalProperties": false, "properties": properties}
	}
	s["description"] = strings.ReplaceAll(k.about, "`", "")
	return s
}

// Reference returns the reference of the format in Markdown, with a table for each object.
func Reference() string {
	var b strings.Builder
	cell := strings.NewReplacer("|", `\|`).Replace
	for _, s := range []*shape{profileShape, pagesShape, placeShape, rulesShape, boxedShape, editorShape, stepShape, pitfallShape} {
		fmt.Fprintf(&b, "### %s\n\n| key | type | required | meaning |\n|---|---|---|---|\n", upper(strings.Trim(s.what, "“”")))
		for _, k := range s.keys {
			must := ""
			if k.must {
				must = "yes"
			}
			fmt.Fprintf(&b, "| `%s` | %s | %s | %s |\n", k.name, k.is[0], must, cell(k.about))
		}
		b.WriteString("\n")
	}
	return b.String()
}
