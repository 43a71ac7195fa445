package host

import (
	"glasspocket/internal/tree"
	"slices"
	"strings"

	"golang.org/x/net/html"
)

// Outcome is what visitors see of a snippet.
type Outcome struct {
	Shows string `json:"shows"` // one of Shows
	// Held: it shows only after consent to scripts. Until then the fallback shows.
	Held   bool   `json:"held,omitempty"`
	Losses []Loss `json:"losses,omitempty"`
}

// Shows are what visitors can see, from most to least: the widget in the page; the pocket's page in
// a frame; the widget in the host's own frame; a page of fixed size; the pocket's page in a frame,
// as published; a plain form; an email's table; a link; the widget in an unintended place; an
// address to copy; nothing; the code itself.
var Shows = []string{"widget", "frame", "boxed", "screen", "still", "form", "mail", "link", "astray", "address", "nothing", "code"}

// Rank orders outcomes. Higher is better; 0 and below is useless.
func (o Outcome) Rank() int {
	rank := map[string]int{"widget": 10, "screen": 9, "frame": 8, "form": 8, "boxed": 7, "mail": 6, "still": 5, "link": 4, "astray": 1, "address": 1, "nothing": 0, "code": -1}[o.Shows]
	if o.Held && rank > 0 {
		rank = 9
	}
	return rank
}

// Predict writes a snippet for a ground, and predicts what visitors will see of it there.
func Predict(s Subject, delivery Delivery, placing Placing, g Ground) (Snippet, Outcome) {
	snippet, ok := Write(s, g.ask(delivery, placing))
	if !ok || !s.Fits(delivery) {
		return snippet, Outcome{Shows: "nothing"}
	}
	return snippet, g.Outcome(s, snippet)
}

// Outcome predicts what visitors will see of a snippet that is pasted as instructed.
func (g Ground) Outcome(s Subject, snippet Snippet) Outcome {
	if g.Self == "" {
		g.Self = "https://host.example/"
	}
	switch takes := g.Content.Takes; {
	case takes.As == "file":
		if snippet.Delivery != Component {
			return Outcome{Shows: "nothing"}
		}
		return Outcome{Shows: "widget"}
	case takes.As == "policy":
		return Outcome{Shows: "nothing"}
	case snippet.Parts[0].Role == "address" || takes.As == "address":
		return g.address(s, snippet)
	case snippet.Delivery == Component && slices.ContainsFunc(takes.Braces, func(begins string) bool { return strings.Contains(snippet.Parts[0].Text, begins) }):
		return Outcome{Shows: "nothing", Losses: []Loss{{"everything", "The host's templates would interpret its braces.", "Use it in the source code of an application."}}}
	case snippet.Delivery == Component:
		return Outcome{Shows: "code", Losses: []Loss{{"everything", "This place shows source code as text.", "Use it in the source code of an application."}}}
	case takes.As == "markdown" && snippet.Delivery == Link:
		return Outcome{Shows: "link"}
	case takes.As == "markdown":
		return Outcome{Shows: "nothing", Losses: []Loss{{"everything", "This place removes HTML from Markdown.", "Put it where the host accepts HTML, or use a link."}}}
	case takes.As == "text":
		return Outcome{Shows: "code", Losses: []Loss{{"everything", "This place shows code as text.", "Put it where the host accepts code, or switch from the visual view to the source view."}}}
	case takes.Most > 0 && len([]rune(snippet.Parts[0].Text)) > takes.Most:
		return Outcome{Shows: "nothing", Losses: []Loss{{"everything", "This place accepts at most " + itoa(takes.Most) + " characters.", "Choose a shorter delivery."}}}
	}
	return g.markup(s, snippet)
}

// address predicts the outcome of a bare address.
func (g Ground) address(s Subject, snippet Snippet) Outcome {
	takes := g.Content.Takes
	switch {
	case snippet.Parts[0].Role != "address":
		return Outcome{Shows: "nothing", Losses: []Loss{{"everything but the address", "This place accepts only an address.", "Paste only the address."}}}
	case g.Pages.Are == "screen":
		return Outcome{Shows: "screen"}
	case takes.Links == "embed" && !s.Fits(Frame): // with oEmbed it is a link
		return Outcome{Shows: "link"}
	case takes.As == "address" && takes.Frames == "keep", takes.As == "address" && takes.Frames == "fence", takes.Links == "embed":
		return Outcome{Shows: "frame"}
	case takes.As == "text":
		return Outcome{Shows: "address"}
	case takes.As == "address" && takes.Frames == "still":
		return Outcome{Shows: "still"}
	case takes.As == "address" && takes.Links == "keep":
		return Outcome{Shows: "link"}
	}
	return Outcome{Shows: "address"}
}

// found is what markup contains of ours.
type found struct {
	point, link, image, table, form bool
	frame                           *html.Node
	images                          []string // their addresses
	script                          string   // address of a script that runs in its place
	moved                           string   // address of a script that runs in another place
	held                            bool     // it runs after consent
	pinned                          []string // digests of the script's integrity attribute
}

func (f *found) look(n *html.Node, base, key string) {
	if n.Type == html.ElementNode {
		switch n.Data {
		case "script":
			address, _ := tree.Attr(n, "src")
			if kind, typed := tree.Attr(n, "type"); typed && kind == "text/plain" {
				f.held = f.held || strings.HasPrefix(address, base+"/")
			} else if strings.HasPrefix(address, base+"/") {
				f.script = address
				if sum, ok := tree.Attr(n, "integrity"); ok {
					f.pinned = strings.Fields(sum)
				}
			}
		case "iframe":
			if address, _ := tree.Attr(n, "src"); strings.HasPrefix(address, base+"/p/"+key) {
				f.frame = n
			}
		case "a":
			if address, _ := tree.Attr(n, "href"); strings.HasPrefix(address, base+"/p/"+key) {
				f.link = true
			}
		case "img":
			f.image = true
			address, _ := tree.Attr(n, "src")
			f.images = append(f.images, address)
		case "table":
			f.table = true
		case "form":
			if address, _ := tree.Attr(n, "action"); strings.HasPrefix(address, base+"/f/"+key) {
				f.form = true
			}
		}
		if at, ok := tree.Attr(n, "data-glass-pocket"); ok && at == key {
			f.point = true
		}
	}
	for c := n.FirstChild; c != nil; c = c.NextSibling {
		f.look(c, base, key)
	}
}

// markup predicts the outcome of a snippet of markup.
func (g Ground) markup(s Subject, snippet Snippet) (out Outcome) {
	var here, site found
	passed := g.Content.Takes.Pass(snippet.Parts[0].Text)
	out.Losses = passed.Losses
	for _, n := range passed.Nodes {
		here.look(n, s.Base, s.Key)
	}
	for _, n := range passed.Moved {
		here.look(n, s.Base, s.Key)
		here.moved, here.script = here.script, ""
	}
	if i := slices.IndexFunc(snippet.Parts, func(p Part) bool { return p.Role == "script" }); i >= 0 && g.Script != nil {
		passed := g.Script.Takes.Pass(snippet.Parts[i].Text)
		for _, n := range append(passed.Nodes, passed.Moved...) {
			site.look(n, s.Base, s.Key)
		}
	}
	if g.Content.Takes.Scripts == "inert" {
		here.held = false
	}
	boxed := g.Content.Takes.Boxed
	policy := g.policy(snippet)
	blocked := func(address, directive, what string, pinned []string) bool {
		if address == "" || boxed != nil {
			return false
		}
		ok, by := policy.Allows(directive, g.Self, address, pinned...)
		if !ok {
			fix := "" // Missing reports everything that is missing
			if g.Missing(s, snippet) == "" {
				fix = "Ask its webmaster to add “" + policy.with(strings.TrimSuffix(directive, "-elem"), s.Base) + "” to the policy."
			}
			out.Losses = append(out.Losses, Loss{what, "The page's content policy blocks it (" + by + ").", fix})
		}
		return !ok
	}
	if blocked(here.script, "script-src-elem", "the script", here.pinned) {
		here.script = ""
	}
	if blocked(here.moved, "script-src-elem", "the script", here.pinned) {
		here.moved = ""
	}
	if blocked(site.script, "script-src-elem", "the script", nil) {
		site.script = ""
	}
	if here.frame != nil {
		address, _ := tree.Attr(here.frame, "src")
		if blocked(address, "frame-src", "the frame", nil) {
			here.frame = nil
		}
	}
	if here.image {
		here.image = !slices.ContainsFunc(here.images, func(address string) bool { return blocked(address, "img-src", "the image", nil) })
		here.table = here.table && here.image
	}
	if g.Content.Takes.Styles != "drop" && boxed == nil && strings.Contains(snippet.Parts[0].Text, " style=") && !policy.AllowsInlineStyle() && g.Pages.Are != "mail" {
		out.Losses = append(out.Losses, Loss{"the inline style", "The page's content policy blocks style attributes.", "Put the same rules into the site's stylesheet."})
	}
	out.Shows, out.Held = g.shows(here, site, boxed, s)
	return out
}

// shows combines what is present with what runs.
func (g Ground) shows(here, site found, boxed *Boxed, s Subject) (shows string, held bool) {
	runs := here.script != "" && (boxed == nil || boxed.Scripts)
	links := strings.HasSuffix(site.script, "/links.js")
	switch {
	case runs && boxed != nil:
		return "boxed", false
	case runs && g.Content.Stands == "head" && !s.Floats:
		return "astray", false
	case runs:
		return "widget", false
	case here.moved != "" && (here.point || s.Floats):
		return "widget", false
	case here.moved != "":
		return "astray", false
	case boxed == nil && site.script != "" && (here.point || links && here.link):
		return "widget", false
	case here.held && (here.point || g.Content.Takes.Scripts == "hold"):
		return "widget", true
	case boxed == nil && site.held && (here.point || here.link):
		return "widget", true
	case here.frame != nil:
		if fence, ok := tree.Attr(here.frame, "sandbox"); ok && !strings.Contains(fence, "allow-scripts") || boxed != nil && !boxed.Scripts {
			return "still", false
		}
		return "frame", false
	case here.form:
		return "form", false
	case here.table && (here.image || here.link):
		return "mail", false
	case here.link:
		return "link", false
	}
	return "nothing", false
}
