package host

import (
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"
)

// why explains in a sentence why a delivery was chosen.
func (c *candidate) why(s Subject) string {
	at, takes := lower(c.ground.Content.Title), c.ground.Content.Takes
	there := ""
	if c.ground.Script != nil {
		there = lower(c.ground.Script.Title)
	}
	if !slices.Contains(made[c.Delivery], c.Outcome.Shows) {
		return c.whyNot(at)
	}
	switch c.Delivery {
	case Script:
		switch {
		case takes.Boxed != nil:
			return upper(at) + " puts code into its own frame, where scripts run."
		case takes.Scripts == "hold":
			return "Scripts run in " + at + " once they are allowed, so you paste once and turn on one switch."
		case takes.Scripts == "move":
			return upper(at) + " moves scripts elsewhere on the page, and the mount point keeps the widget in place."
		case takes.Attributes == "drop":
			return upper(at) + " runs scripts but removes unknown attributes, so you paste only the script, and the widget shows there."
		case s.Floats:
			return upper(at) + " runs scripts, and the widget floats over the page wherever you paste it."
		}
		return upper(at) + " runs scripts, so you paste only once."
	case Split:
		switch {
		case takes.Scripts == "inert":
			return "A program inserts the content, so the mount point goes into " + at + ", and the script goes once into " + there + "."
		case takes.Attributes == "drop":
			return upper(at) + " keeps little more than links. The script in " + there + " turns a link into the widget."
		case takes.Scripts == "drop":
			return upper(at) + " removes scripts, so only the mount point goes there. The script goes into " + there + ", where it runs."
		}
		return "The script goes into " + there + " once. Each widget is a mount point in " + at + "."
	case Component:
		return "The site is an application, and a component works like its other parts."
	case Sealed:
		if c.ground.Policy != nil {
			return "The site's content policy blocks other scripts. A sealed script needs only the smallest addition to the policy."
		}
		return "A version that was checked stays exactly the same until somebody replaces the snippet."
	case Frame:
		if takes.As == "address" || takes.Links == "embed" {
			return c.leads(at)
		}
		return upper(at) + " keeps frames, even if it removes scripts."
	case Screen:
		return c.leads(at)
	case PlainForm:
		return "The browser submits a plain form without a script."
	case Email:
		if c.ground.Pages.Are != "mail" {
			return "It is made for email and looks just as plain on a page."
		}
		return "No scripts run in email. All email programs show tables, inline styles and images."
	}
	return "A link works even where everything else is removed."
}

// made describes what visitors see of a delivery if nothing is lost.
var made = map[Delivery][]string{
	Script: {"widget", "boxed", "astray"}, Split: {"widget"}, Component: {"widget"}, Sealed: {"widget", "boxed", "astray"},
	Frame: {"frame", "still"}, Screen: {"screen"}, PlainForm: {"form"}, Email: {"mail"}, Link: {"link"},
}

// bears is the part that a delivery needs, as named in losses.
var bears = map[Delivery]string{Script: "the script", Split: "the script", Sealed: "the script", Frame: "the frame", Email: "the image"}

// whyNot explains in a sentence what prevents a delivery from working fully.
func (c *candidate) whyNot(at string) string {
	takes, losses := c.ground.Content.Takes, c.Outcome.Losses
	if i := slices.IndexFunc(losses, func(l Loss) bool { return strings.HasPrefix(l.What, bears[c.Delivery]) && bears[c.Delivery] != "" }); i >= 0 {
		return losses[i].Why
	}
	switch {
	case c.Outcome.Shows == "nothing" && takes.As == "address":
		return upper(at) + " accepts only an address."
	case c.Delivery == Split && takes.Boxed != nil:
		return upper(at) + " puts code into its own frame, which the site's script cannot reach."
	case slices.Contains([]string{"frame", "still", "screen", "link", "address"}, c.Outcome.Shows) && slices.Contains([]Delivery{Frame, Screen, Link}, c.Delivery):
		return c.leads(at)
	case len(losses) > 0:
		return losses[len(losses)-1].Why
	}
	return "It cannot go into " + at + "."
}

// leads describes what a place makes of an address alone.
func (c *candidate) leads(at string) string {
	switch takes := c.ground.Content.Takes; {
	case c.Outcome.Shows == "screen":
		return "A source shows one address in a fixed size."
	case takes.Links == "embed":
		return upper(at) + " embeds the page of a link that is on its own line."
	case c.Outcome.Shows == "link":
		return upper(at) + " turns an address into a link."
	case c.Outcome.Shows == "address":
		return upper(at) + " shows an address as plain text."
	}
	return upper(at) + " shows the page at an address in a frame."
}

// loses lists what the widget loses in a delivery, based on its needs.
func loses(o Offer, s Subject, needs Needs, g ground, placing Placing) (list []string) {
	add := func(when bool, sentence string) {
		if when && !slices.Contains(list, sentence) {
			list = append(list, sentence)
		}
	}
	about, _ := o.Delivery.About()
	shows := o.Outcome.Shows
	if shows == "nothing" || shows == "code" {
		return nil
	}
	framed := shows == "frame" || shows == "boxed" || shows == "still"
	add(o.Delivery == Sealed, about.Loses)
	add(o.Outcome.Held, "Visitors see the fallback until scripts are allowed.")
	add(framed, "It cannot extend beyond the edges of its frame.")
	add(shows == "boxed", "The frame is "+itoa(boxHeight(g))+" pixels high until somebody changes that in the host.")
	add(shows == "frame" && !(o.Script != ""), "The frame does not grow with the widget.")
	box := g.Content.Takes.Boxed
	remembers := shows == "boxed" && box != nil && box.Origin
	add(framed && !remembers && needs.Storage, "It cannot remember visitors, because frames have no storage here.")
	add(framed && needs.Page, "It has no information about the page around it.")
	add(framed && s.Floats, "It floats over its frame only, not over the page.")
	add(shows == "still" && needs.Script, "Nothing in it moves or reacts.")
	unstyled := slices.ContainsFunc(o.Outcome.Losses, func(l Loss) bool { return l.What == "the inline style" }) || o.Delivery == Split && g.Content.Takes.Attributes == "drop"
	add(unstyled && shows == "widget" && !s.Floats && !s.Chooses, "No space is reserved while it loads, so the content below moves once.")
	script := g.Content
	if g.Script != nil && o.Delivery == Split {
		script = g.Script
	}
	add(shows == "widget" && !script.Takes.keepsScripts() && script.Takes.As == "markup" && !s.Floats && !s.Chooses, "No space is reserved, because its script may never run there. When it loads, the content below moves once.")
	add(framed && (g.Content.Takes.Frames == "fence" || box != nil && !box.Origin), "Links in it do not open, because the frame's sandbox blocks pop-ups.")
	add(unstyled && placing.box() != "", "Its width, background and shadow have no effect there.")
	add(shows == "astray" || shows == "widget" && g.Content.Stands == "end" && !s.Floats, "It shows at the end of the page, below everything else.")
	for _, delivery := range []Delivery{Screen, Email, Link} {
		of, _ := delivery.About()
		add(shows == made[delivery][0], of.Loses)
	}
	add(shows == "address", "Visitors see only an address, not the widget.")
	add(shows == "mail" && needs.Forms, "Forms do not work in email.")
	add(shows == "form" && needs.Live, "It does not update while the page is open.")
	return list
}

func boxHeight(g ground) int {
	if b := g.Content.Takes.Boxed; b != nil {
		return b.Height
	}
	return 0
}

func upper(s string) string {
	first, size := utf8.DecodeRuneInString(s)
	if size == 0 {
		return s
	}
	return string(unicode.ToUpper(first)) + s[size:]
}

// lower returns a title for use within a sentence. Words in capitals, as in "HTML part", stay.
func lower(s string) string {
	first, size := utf8.DecodeRuneInString(s)
	if second, _ := utf8.DecodeRuneInString(s[size:]); size == 0 || unicode.IsUpper(second) {
		return s
	}
	return string(unicode.ToLower(first)) + s[size:]
}
