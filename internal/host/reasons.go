package host

import (
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"
)

// why says in one sentence what decided for a delivery.
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
			return upper(at) + " puts code into a frame of its own, in which scripts run."
		case takes.Scripts == "hold":
			return "Scripts run in " + at + " as soon as they are allowed, so one paste and one switch are enough."
		case takes.Scripts == "move":
			return upper(at) + " moves scripts to another place of the page, and the mount point keeps the widget's place."
		case takes.Attributes == "drop":
			return "Scripts run in " + at + " but unknown attributes are taken off, so the script alone is pasted and the widget stands where it does."
		case s.Floats:
			return "Scripts run in " + at + ", and the widget lies over the page wherever it is pasted."
		}
		return "Scripts run in " + at + ", so one paste is enough."
	case Split:
		switch {
		case takes.Scripts == "inert":
			return "A program puts the content into the page, so the mount point goes into " + at + " and the script, once, into " + there + "."
		case takes.Attributes == "drop":
			return upper(at) + " keeps links and little else, so a link goes there, and the script in " + there + " makes it the widget."
		case takes.Scripts == "drop":
			return upper(at) + " takes scripts out and " + there + " lets them run, so the mount point goes into the one and the script into the other."
		}
		return "The script stands once in " + there + ", and each widget is a mount point in " + at + "."
	case Component:
		return "The pages are a program: a component comes and goes with them."
	case Sealed:
		if c.ground.Policy != nil {
			return "The pages' content policy keeps other scripts out, and a sealed script asks for the narrowest addition to it."
		}
		return "What was checked once stays exactly so until somebody pastes it again."
	case Frame:
		if takes.As == "address" || takes.Links == "embed" {
			return c.leads(at)
		}
		return upper(at) + " keeps frames, whatever becomes of scripts."
	case Screen:
		return c.leads(at)
	case PlainForm:
		return "A plain form is sent by the browser, without a script."
	case Email:
		if c.ground.Pages.Are != "mail" {
			return "It is made for mails; on a page it stands as plain as there."
		}
		return "Nothing runs in a mail; tables, inline styles and pictures are what all mail programs show."
	}
	return "A link is let through even where everything else is taken out."
}

// made says what visitors get of a delivery where nothing of it is lost.
var made = map[Delivery][]string{
	Script: {"widget", "boxed", "astray"}, Split: {"widget"}, Component: {"widget"}, Sealed: {"widget", "boxed", "astray"},
	Frame: {"frame", "still"}, Screen: {"screen"}, PlainForm: {"form"}, Email: {"mail"}, Link: {"link"},
}

// bears is what a delivery cannot be without, as losses name it.
var bears = map[Delivery]string{Script: "the script", Split: "the script", Sealed: "the script", Frame: "the frame", Email: "the picture"}

// whyNot says in one sentence what keeps a delivery from being what it is made for.
func (c *candidate) whyNot(at string) string {
	takes, losses := c.ground.Content.Takes, c.Outcome.Losses
	if i := slices.IndexFunc(losses, func(l Loss) bool { return strings.HasPrefix(l.What, bears[c.Delivery]) && bears[c.Delivery] != "" }); i >= 0 {
		return losses[i].Why
	}
	switch {
	case c.Outcome.Shows == "nothing" && takes.As == "address":
		return upper(at) + " takes an address and nothing else."
	case c.Delivery == Split && takes.Boxed != nil:
		return upper(at) + " puts code into a frame of its own, which the site's script does not reach."
	case slices.Contains([]string{"frame", "still", "screen", "link", "address"}, c.Outcome.Shows) && slices.Contains([]Delivery{Frame, Screen, Link}, c.Delivery):
		return c.leads(at)
	case len(losses) > 0:
		return losses[len(losses)-1].Why
	}
	return "It cannot be put into " + at + "."
}

// leads says what a place makes of an address alone.
func (c *candidate) leads(at string) string {
	switch takes := c.ground.Content.Takes; {
	case c.Outcome.Shows == "screen":
		return "A source takes one address and shows it in a fixed size."
	case takes.Links == "embed":
		return upper(at) + " turns a link that stands alone into what it leads to."
	case c.Outcome.Shows == "link":
		return upper(at) + " makes a link of an address."
	case c.Outcome.Shows == "address":
		return upper(at) + " shows an address as it was typed."
	}
	return upper(at) + " takes an address and shows in a frame what is there."
}

// loses says what the widget loses in a delivery, from what it needs.
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
	add(o.Outcome.Held, "Until scripts are allowed, visitors get the fallback.")
	add(framed, "It stays within the frame's edges.")
	add(shows == "boxed", "The frame is "+itoa(boxHeight(g))+" pixels high until somebody sets it in the host.")
	add(shows == "frame" && !(o.Script != ""), "The frame keeps its height when the widget grows.")
	box := g.Content.Takes.Boxed
	remembers := shows == "boxed" && box != nil && box.Origin
	add(framed && !remembers && needs.Storage, "It remembers no visitor: a frame has no storage here.")
	add(framed && needs.Page, "It knows nothing of the page around it.")
	add(framed && s.Floats, "It lies over the frame only, not over the page.")
	add(shows == "still" && needs.Script, "Nothing in it moves: it stands as it was published.")
	unstyled := slices.ContainsFunc(o.Outcome.Losses, func(l Loss) bool { return l.What == "the inline style" }) || o.Delivery == Split && g.Content.Takes.Attributes == "drop"
	add(unstyled && shows == "widget" && !s.Floats && !s.Chooses, "No room is kept for it while it loads, so what stands below moves once.")
	script := g.Content
	if g.Script != nil && o.Delivery == Split {
		script = g.Script
	}
	add(shows == "widget" && !script.Takes.keepsScripts() && script.Takes.As == "markup" && !s.Floats && !s.Chooses, "No room is kept for it while it loads, since its script may never run there; what is below moves once.")
	add(framed && (g.Content.Takes.Frames == "fence" || box != nil && !box.Origin), "Links in it do not open: the frame's sandbox allows no pop-ups.")
	add(unstyled && placing.box() != "", "Its width, ground and shadow are left out, as chosen here.")
	add(shows == "astray" || shows == "widget" && g.Content.Stands == "end" && !s.Floats, "It shows at the end of the page, below everything else.")
	for _, delivery := range []Delivery{Screen, Email, Link} {
		of, _ := delivery.About()
		add(shows == made[delivery][0], of.Loses)
	}
	add(shows == "address", "Visitors see an address, and nothing of the widget.")
	add(shows == "mail" && needs.Forms, "A mail cannot send anything.")
	add(shows == "form" && needs.Live, "Nothing comes while the page is open.")
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

// lower is a title within a sentence; what is written in capitals, as "HTML part", stays.
func lower(s string) string {
	first, size := utf8.DecodeRuneInString(s)
	if second, _ := utf8.DecodeRuneInString(s[size:]); size == 0 || unicode.IsUpper(second) {
		return s
	}
	return string(unicode.ToLower(first)) + s[size:]
}
