package widget

import (
	"fmt"
	"regexp"
	"slices"
	"strconv"

	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/message"
	"glasspocket/internal/setting"
)

// Format is the version of the widget format that this program reads and writes.
const Format = 1

// NameForm is the form of a widget's or starter's name.
var NameForm = regexp.MustCompile(`^[a-z][a-z0-9-]{0,39}$`)

// Manifest is widget.json.
type Manifest struct {
	Format    int           `json:"format"`
	Name      string        `json:"name"`
	Title     message.Words `json:"title"`
	Summary   message.Words `json:"summary,omitempty"`
	Search    message.Words `json:"search,omitempty"` // search synonyms, in addition to title and summary
	Languages []string      `json:"languages"`        // BCP 47 tags; the first is the fallback
	Heights   []Height      `json:"heights,omitempty"`
	Mount     Passes        `json:"mount"`
	// Floats says that the widget is above the page and takes no space in it. A page shows it once.
	Floats bool `json:"floats,omitempty"`
	// Purpose is what the widget is for; see Purposes.
	Purpose string `json:"purpose,omitempty"`
	Slots   []Slot `json:"slots,omitempty"` // where the page's own content shows
	Facts   []Fact `json:"facts,omitempty"` // what the page can state
	// Remotes are addresses of other servers from which it loads on purpose.
	Remotes []string `json:"remotes,omitempty"`
	// CopyOf is the release that it was copied from, or whose changes were merged last.
	CopyOf *Origin `json:"copyOf,omitempty"`
}

// Origin names a release of another widget.
type Origin struct {
	Widget  string `json:"widget"`
	Release int    `json:"release"`
}

// Wraps reports whether the content of the mount element shows in the widget.
func (m Manifest) Wraps() bool {
	return slices.ContainsFunc(m.Slots, func(s Slot) bool { return s.Name == "" })
}

// Slot is a place in the view for content of the page. The unnamed one, "", shows the content of
// the mount element.
type Slot struct {
	Name  string        `json:"name"`
	Label message.Words `json:"label"`
}

// Fact is something that a page can state about itself or its visitor, only within the page: a
// text, or a switch that is on if it is stated.
type Fact struct {
	Name  string        `json:"name"`
	Type  string        `json:"type"` // "text" or "switch"
	Label message.Words `json:"label"`
}

// Height is the space of a pocket from a viewport width on, both in CSS pixels.
type Height struct {
	From   int `json:"from"`
	Height int `json:"height"`
	// Above is the part of Height above the page's own content, for a widget that wraps it.
	Above int `json:"above,omitempty"`
}

// Passes lists what the mount module receives. Everything else stays on the service.
type Passes struct {
	Settings []string `json:"settings,omitempty"`
	Messages []string `json:"messages,omitempty"`
}

// The keys of widget.json and of the objects in it.
var (
	ManifestKeys = []jsondoc.Key{
		{Name: "format", Must: true, Is: []jsondoc.Kind{jsondoc.Number}, About: "the version of the format, `1`"},
		{Name: "name", Must: true, Is: []jsondoc.Kind{jsondoc.String}, About: "the widget's permanent name: `^[a-z][a-z0-9-]{0,39}$`"},
		{Name: "title", Must: true, Is: []jsondoc.Kind{jsondoc.Object}, About: "title, by language"},
		{Name: "summary", Is: []jsondoc.Kind{jsondoc.Object}, About: "one-sentence summary, by language"},
		{Name: "search", Is: []jsondoc.Kind{jsondoc.Object}, About: "further search words, by language: `{\"en\": \"timer clock\"}`"},
		{Name: "languages", Must: true, Is: []jsondoc.Kind{jsondoc.Array}, About: "BCP 47 tags; the first is the fallback. Each needs a file in messages/"},
		{Name: "heights", Is: []jsondoc.Kind{jsondoc.Array}, About: "the height to reserve, below; without it, no space is reserved"},
		{Name: "mount", Is: []jsondoc.Kind{jsondoc.Object}, About: "the values that the mount module receives, below; nothing else is sent to visitors"},
		{Name: "capabilities", Is: []jsondoc.Kind{jsondoc.Array}, About: "what the script and the view use, below; `[]` for nothing"},
		{Name: "floats", Is: []jsondoc.Kind{jsondoc.Boolean}, About: "true if it floats over the page: it takes no space, and shows once even if it is pasted several times"},
		{Name: "purpose", Is: []jsondoc.Kind{jsondoc.String}, About: "its section in the gallery: `sources`, `when`, `voices`, `things`, `news`, `ask`, `page` or `other`"},
		{Name: "slots", Is: []jsondoc.Kind{jsondoc.Array}, About: "places for content of the page, below"},
		{Name: "facts", Is: []jsondoc.Kind{jsondoc.Array}, About: "facts that the page can state, below"},
		{Name: "copyOf", Is: []jsondoc.Kind{jsondoc.Object}, About: "the widget that it was copied from, below; written when the copy is made"},
		{Name: "remotes", Is: []jsondoc.Kind{jsondoc.Array}, About: "addresses of other servers, complete or by prefix, that the view or script loads from on purpose. They cause no warning. A page with a strict content policy blocks them"},
	}
	SlotKeys = []jsondoc.Key{
		{Name: "name", Must: true, Is: []jsondoc.Kind{jsondoc.String}, About: "as in `<slot name=\"aside\">` in the view; `\"\"` for the slot that shows the rest of the mount element's content"},
		{Name: "label", Must: true, Is: []jsondoc.Kind{jsondoc.Object}, About: "what belongs there, by language"},
	}
	FactKeys = []jsondoc.Key{
		{Name: "name", Must: true, Is: []jsondoc.Kind{jsondoc.String}, About: "`^[a-z][a-zA-Z0-9]{0,39}$`; a page states it as `data-fact-first-name=\"…\"`"},
		{Name: "type", Must: true, Is: []jsondoc.Kind{jsondoc.String}, About: "`text`, or `switch` for a yes-or-no fact"},
		{Name: "label", Must: true, Is: []jsondoc.Kind{jsondoc.Object}, About: "label, by language"},
	}
	OriginKeys = []jsondoc.Key{
		{Name: "widget", Must: true, Is: []jsondoc.Kind{jsondoc.String}, About: "the name of the original widget"},
		{Name: "release", Must: true, Is: []jsondoc.Kind{jsondoc.Number}, About: "the release that it was copied from, or whose changes were merged last"},
	}
	HeightKeys = []jsondoc.Key{
		{Name: "from", Must: true, Is: []jsondoc.Kind{jsondoc.Number}, About: "smallest viewport width in CSS pixels; the first is 0, then in ascending order"},
		{Name: "height", Must: true, Is: []jsondoc.Kind{jsondoc.Number}, About: "1 to 5000 CSS pixels"},
		{Name: "above", Is: []jsondoc.Kind{jsondoc.Number}, About: "how much of it is above the page's own content, for a widget with the slot `\"\"`"},
	}
	PassesKeys = []jsondoc.Key{
		{Name: "settings", Is: []jsondoc.Kind{jsondoc.Array}, About: "keys of settings"},
		{Name: "messages", Is: []jsondoc.Kind{jsondoc.Array}, About: "keys of messages"},
	}
)

// manifestDoc keeps the places to which later checks refer.
type manifestDoc struct {
	Manifest
	doc *jsondoc.Value
}

func readManifest(src []byte) (manifestDoc, fault.List) {
	var m manifestDoc
	doc, faults := jsondoc.Read(src)
	if doc == nil {
		return m, faults
	}
	m.doc = doc
	faults = append(faults, doc.Expect("the manifest", ManifestKeys)...)
	if doc.Kind != jsondoc.Object {
		return m, faults
	}
	if f := doc.Get("format"); f != nil && f.Kind == jsondoc.Number {
		m.Format, _ = strconv.Atoi(f.Text)
		if m.Format != Format {
			faults = append(faults, f.Fault(fault.FormatUnknown, "format", fmt.Sprintf("This program reads format %d, but the folder has format %s.", Format, f.Text), "Use a newer program, or convert the folder to format 1."))
		}
	}
	m.Name = doc.TextOf("name")
	if n := doc.Get("name"); n != nil && n.Kind == jsondoc.String && !NameForm.MatchString(m.Name) {
		faults = append(faults, n.Fault(fault.BadName, "name", fmt.Sprintf("%q is not a valid widget name.", m.Name), "Use at most 40 lower-case letters, digits and hyphens, and start with a letter."))
	}
	for key, into := range map[string]*message.Words{"title": &m.Title, "summary": &m.Summary, "search": &m.Search} {
		if v := doc.Get(key); v != nil && v.Kind == jsondoc.Object {
			words, more := message.ReadWords(v, key)
			*into, faults = words, append(faults, more...)
		}
	}
	if l := doc.Get("languages"); l != nil && l.Kind == jsondoc.Array {
		for _, item := range l.Items {
			if item.Kind != jsondoc.String || !message.ValidTag(item.Text) {
				faults = append(faults, item.Fault(fault.BadLanguage, "languages", fmt.Sprintf("%q is not a language tag.", item.Text), "Use a BCP 47 tag such as en, de or pt-BR."))
				continue
			}
			m.Languages = append(m.Languages, item.Text)
		}
		if len(l.Items) == 0 {
			faults = append(faults, l.Fault(fault.BadLanguage, "languages", "A widget needs at least one language.", `Write "languages": ["en"].`))
		}
	}
	heights, more := readHeights(doc.Get("heights"))
	m.Heights, faults = heights, append(faults, more...)
	m.Purpose = doc.TextOf("purpose")
	if m.Purpose == "" {
		m.Purpose = Purposes[len(Purposes)-1].Name
	} else if !slices.Contains(PurposeNames(), m.Purpose) {
		faults = append(faults, doc.Get("purpose").Fault(fault.ValueChoice, "purpose", fmt.Sprintf("There is no purpose %q.", m.Purpose), fault.DidYouMean(m.Purpose, PurposeNames())))
	}
	if v := doc.Get("floats"); v != nil {
		m.Floats = v.Bool
	}
	m.Slots, more = readSlots(doc.Get("slots"))
	faults = append(faults, more...)
	m.Facts, more = readFacts(doc.Get("facts"))
	faults = append(faults, more...)
	if of := doc.Get("copyOf"); of != nil && of.Kind == jsondoc.Object {
		more = of.Expect("\"copyOf\"", OriginKeys)
		if faults = append(faults, more...); len(more) == 0 {
			o := Origin{Widget: of.TextOf("widget")}
			o.Release, _ = strconv.Atoi(of.Get("release").Text)
			m.CopyOf = &o
		}
	}
	m.Remotes, more = readRemotes(doc.Get("remotes"))
	faults = append(faults, more...)
	if p := doc.Get("mount"); p != nil && p.Kind == jsondoc.Object {
		faults = append(faults, p.Expect("\"mount\"", PassesKeys)...)
		m.Mount.Settings, m.Mount.Messages = texts(p.Get("settings")), texts(p.Get("messages"))
	}
	return m, faults
}

func readSlots(v *jsondoc.Value) (list []Slot, faults fault.List) {
	for _, item := range listed(v) {
		label, more := named(item, "a slot", SlotKeys)
		name := item.TextOf("name")
		if len(more) == 0 && name != "" && !NameForm.MatchString(name) {
			more = fault.List{item.Get("name").Fault(fault.BadName, "slots", fmt.Sprintf("%q is not a valid slot name.", name), "Use lower-case letters, digits and hyphens, or \"\" for the slot that shows the rest.")}
		}
		if faults = append(faults, more...); len(more) == 0 {
			list = append(list, Slot{name, label})
		}
	}
	return list, faults
}

func readFacts(v *jsondoc.Value) (list []Fact, faults fault.List) {
	for _, item := range listed(v) {
		label, more := named(item, "a fact", FactKeys)
		f := Fact{item.TextOf("name"), item.TextOf("type"), label}
		switch {
		case len(more) > 0:
		case !setting.KeyForm.MatchString(f.Name):
			more = fault.List{item.Get("name").Fault(fault.BadName, "facts", fmt.Sprintf("%q is not a valid fact name.", f.Name), "Use letters and digits, and start with a lower-case letter, as in firstName.")}
		case f.Type != "text" && f.Type != "switch":
			more = fault.List{item.Get("type").Fault(fault.WrongType, "facts", fmt.Sprintf("A fact cannot have the type %q.", f.Type), "Write \"text\", or \"switch\" for a yes-or-no fact.")}
		}
		if faults = append(faults, more...); len(more) == 0 {
			list = append(list, f)
		}
	}
	return list, faults
}

var remoteForm = regexp.MustCompile(`^https?://[^/\s]+`)

func readRemotes(v *jsondoc.Value) (list []string, faults fault.List) {
	for _, item := range listed(v) {
		if item.Kind != jsondoc.String || !remoteForm.MatchString(item.Text) {
			faults = append(faults, item.Fault(fault.ValueLink, "remotes", "This is not the address of another server, or the start of one.", `Write it as in "https://images.example/".`))
			continue
		}
		list = append(list, item.Text)
	}
	return list, faults
}

func listed(v *jsondoc.Value) []*jsondoc.Value {
	if v == nil {
		return nil
	}
	return v.Items
}

func named(v *jsondoc.Value, what string, keys []jsondoc.Key) (message.Words, fault.List) {
	if faults := v.Expect(what, keys); len(faults) > 0 {
		return nil, faults
	}
	return message.ReadWords(v.Get("label"), "label")
}

func textOr(v *jsondoc.Value, otherwise string) string {
	if v == nil {
		return otherwise
	}
	return v.Text
}

func texts(v *jsondoc.Value) (list []string) {
	if v == nil {
		return nil
	}
	for _, item := range v.Items {
		list = append(list, item.Text)
	}
	return list
}
