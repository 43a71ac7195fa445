package pocket

import (
	"fmt"
	"slices"
	"unicode/utf8"

	"glasspocket/internal/fault"
	"glasspocket/internal/problem"
	"glasspocket/internal/setting"
	"glasspocket/internal/widget"
)

// Conditions are those in which a pocket is previewed. The zero value is the usual case.
type Conditions struct {
	Width    int    `json:"width,omitempty"`    // CSS pixels of the page, 0 for all available space
	Page     string `json:"page,omitempty"`     // kind of page around it, see Pages
	Language string `json:"language,omitempty"` // "" for the pocket's own
	Turned   bool   `json:"turned,omitempty"`   // right-to-left text, whatever the language
	Content  string `json:"content,omitempty"`  // "none", "one", "many" or "long"; "" for unchanged content
	Still    bool   `json:"still,omitempty"`    // the visitor prefers reduced motion
	Visitor  string `json:"visitor,omitempty"`  // "new" or "returning"; "" shows everything opened
	Moment   string `json:"moment,omitempty"`   // date and time with a zone; "" for now
	Frozen   bool   `json:"frozen,omitempty"`   // the clock is stopped
	// Facts are stated by the page, by their names in the widget's manifest. A switch is on if it
	// is present.
	Facts map[string]string `json:"facts,omitempty"`
}

// Pages are the kinds of pages in a preview, the default first.
var Pages = []string{"light", "tinted", "dark", "photo", "column", "bar"}

// Limits of the page's width, in CSS pixels.
const (
	WidthLeast = 200
	WidthMost  = 3840
)

// FactMost is the longest fact, in characters.
const FactMost = 200

func (c Conditions) check(m widget.Manifest) error {
	languages := m.Languages
	wrong := func(field, what, hint string) error {
		return &problem.Error{Kind: problem.Invalid, Code: "conditions-faulty", Field: field, What: what, Hint: hint}
	}
	switch {
	case c.Width != 0 && (c.Width < WidthLeast || c.Width > WidthMost):
		return wrong("width", fmt.Sprintf("A page is %d to %d pixels wide, not %d.", WidthLeast, WidthMost, c.Width), "Leave the width out to use all the space.")
	case c.Page != "" && !slices.Contains(Pages, c.Page):
		return wrong("page", fmt.Sprintf("There is no sample page %q.", c.Page), fault.DidYouMean(c.Page, Pages))
	case c.Content != "" && !slices.Contains(setting.Contents, c.Content):
		return wrong("content", fmt.Sprintf("There is no amount of content %q.", c.Content), fault.DidYouMean(c.Content, setting.Contents))
	case !slices.Contains([]string{"", "new", "returning"}, c.Visitor):
		return wrong("visitor", fmt.Sprintf("The visitor must be new or returning, not %q.", c.Visitor), "Leave it out to see the pocket opened.")
	case c.Language != "" && !slices.Contains(languages, c.Language):
		return wrong("language", fmt.Sprintf("The widget is not available in %q.", c.Language), fault.DidYouMean(c.Language, languages))
	}
	for name, value := range c.Facts {
		names := make([]string, len(m.Facts))
		for i, f := range m.Facts {
			names[i] = f.Name
		}
		switch {
		case !slices.Contains(names, name):
			return wrong("facts", fmt.Sprintf("The widget has no fact %q.", name), fault.DidYouMean(name, names))
		case utf8.RuneCountInString(value) > FactMost:
			return wrong("facts", fmt.Sprintf("The fact %q has more than %d characters.", name, FactMost), "Shorten it. Pages cut longer values off.")
		}
	}
	if c.Moment != "" {
		if _, f := setting.ReadMoment(c.Moment); f != nil {
			return wrong("moment", f.What, f.Fix)
		}
	}
	return nil
}
