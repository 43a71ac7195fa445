// Package diagnose finds the snippets in a page, and reports what the page or its editor damaged in
// them.
package diagnose

import (
	"fmt"
	"regexp"
	"slices"
	"strings"

	"golang.org/x/net/html"

	"glasspocket/internal/fault"
	"glasspocket/internal/tree"
)

// Finding is a problem in a page.
type Finding struct {
	Code string `json:"code"`           // one of Codes
	Key  string `json:"key,omitempty"`  // the pocket that it concerns
	What string `json:"what"`           // a sentence
	Fix  string `json:"fix"`            // a sentence
	Text string `json:"text,omitempty"` // an excerpt of the page, shortened
}

// Codes are the kinds of findings. Two depend on the pocket's rules: the site is not entered, and
// the pocket shows at other addresses. The others are found in the page: the pocket is in it
// already; only a link to it is left; its frame may not run scripts; typographic quotes; code that
// shows as text; an unknown key; two snippets run together; markup of a word processor; a mount
// point without a script that runs; an unpublished pocket.
var Codes = []string{"site-not-entered", "not-here", "there-already", "link-only", "frame-fenced", "quotes", "printed", "key-unknown", "run-together", "word-processor", "no-script", "not-published"}

// World is what is known about pockets.
type World struct {
	Base string
	Key  string   // the pocket to be pasted; "" for none
	Keys []string // the customer's pockets, to suggest one for a wrong key
	// Look reports whether a pocket exists, and whether it is published.
	Look func(key string) (there, published bool)
}

const typographic = "“”„‟‘’‚«»″＂"

var (
	spoilt    = regexp.MustCompile(`(?:data-glass-pocket|src|href)\s*=\s*[` + typographic + `]`)
	processor = regexp.MustCompile(`(?i)class="?mso|<o:p>|mso-[a-z]+:|urn:schemas-[a-z]+-com:office|<w:`)
)

// Page examines HTML that was fetched or pasted.
func Page(text string, w World) (list []Finding) {
	d := &diagnosis{w: w, scripts: map[string]bool{}, frames: map[string]string{}, links: map[string]bool{}}
	if m := spoilt.FindStringIndex(text); m != nil && (strings.Contains(text, "glass-pocket") || strings.Contains(text, w.Base)) {
		d.add(Finding{Code: "quotes", What: "The snippet contains typographic quotation marks (“ ”), which browsers cannot read.", Fix: "Copy the snippet again, and paste it directly into the host, not through a word processor or chat.", Text: around(text, m[0])})
	}
	if processor.MatchString(text) && strings.Contains(text, "glass-pocket") {
		d.add(Finding{Code: "word-processor", What: "The snippet was pasted through a word processor, which added its own markup.", Fix: "Paste it as plain text (Ctrl+Shift+V)."})
	}
	doc, err := html.Parse(strings.NewReader(text))
	if err != nil { // nested too deeply for the parser
		return d.list
	}
	d.look(doc, "")
	d.conclude()
	return d.list
}

// conclude removes findings that contradict others, so that the rest agrees with what visitors see.
func (d *diagnosis) conclude() {
	together := slices.ContainsFunc(d.list, func(f Finding) bool { return f.Code == "run-together" }) // the probable cause
	for _, key := range d.points {
		if !together && !d.runs(key) {
			d.add(Finding{Code: "no-script", What: "There is a mount point but no script, so visitors see only the fallback.", Fix: "Check that the host allows scripts there, or choose a delivery without a script."})
		}
	}
	key := d.w.Key
	switch {
	case key == "" || slices.Contains(d.points, key) && !d.runs(key):
	case d.runs(key) || d.frames[key] == "runs":
		if len(d.list) == 0 {
			d.add(Finding{Code: "there-already", Key: key, What: "This widget is already on the page.", Fix: "The preview shows it a second time. You do not need to paste anything."})
		}
	case d.frames[key] == "fenced":
		d.add(Finding{Code: "frame-fenced", Key: key, What: "The frame with this widget does not allow scripts, so the widget does not work.", Fix: "Delete the sandbox attribute from the frame, or paste another delivery. See “Delivery”."})
	case d.links[key] && len(d.list) == 0:
		d.add(Finding{Code: "link-only", Key: key, What: "The page contains only the link to this widget. The host has removed the rest.", Fix: "Delete the link, and paste a delivery that this host keeps. See “Delivery”."})
	}
}

// runs reports whether a script of ours shows the pocket in the page.
func (d *diagnosis) runs(key string) bool {
	return d.scripts[key] || d.loader && slices.Contains(d.points, key) || d.linker && d.links[key]
}

type diagnosis struct {
	w       World
	list    []Finding
	points  []string          // keys in mount points
	scripts map[string]bool   // keys of pockets whose own script runs
	frames  map[string]string // keys of pockets in frames: "runs" or "fenced"
	links   map[string]bool   // keys of pockets in links
	loader  bool              // the script that fills mount points runs
	linker  bool              // the script that fills links runs too
}

func (d *diagnosis) add(f Finding) {
	if !slices.ContainsFunc(d.list, func(have Finding) bool { return have.Code == f.Code && have.Key == f.Key }) {
		d.list = append(d.list, f)
	}
}

func (d *diagnosis) look(n *html.Node, within string) {
	if n.Type == html.TextNode && n.Parent != nil && n.Parent.Data != "script" && n.Parent.Data != "style" && n.Parent.Data != "textarea" && n.Parent.Data != "noscript" {
		for _, piece := range []string{"data-glass-pocket=", `<script async`, d.w.Base + "/s/", d.w.Base + "/p/"} {
			if i := strings.Index(n.Data, piece); i >= 0 && strings.Contains(n.Data, "<") {
				d.add(Finding{Code: "printed", What: "The page shows the snippet as text.", Fix: "Delete it, switch the editor to its source view or add a section for code, and paste it there.", Text: around(n.Data, i)})
			}
		}
	}
	if n.Type == html.ElementNode {
		for _, a := range n.Attr {
			if strings.Contains(a.Key, "<") || strings.HasPrefix(a.Key, `"`) && n.Data == "div" {
				if tree.Get(n, "data-glass-pocket") != "" || strings.Contains(a.Val, "glass-pocket") {
					d.together(tree.Get(n, "data-glass-pocket"))
				}
			}
			switch {
			case a.Key == "data-glass-pocket":
				key := strings.Trim(a.Val, typographic+`"'`)
				if within != "" && within != key {
					d.together(key)
				}
				within = key
				d.points = append(d.points, key)
				if key != a.Val { // reported with the quotes
					continue
				}
				if strings.ContainsAny(key, "<> \"'") {
					d.together("")
					continue
				}
				d.key(key)
			case a.Key == "src" && n.Data == "script" && strings.HasPrefix(a.Val, d.w.Base+"/"):
				d.script(n, strings.SplitN(strings.TrimPrefix(a.Val, d.w.Base+"/"), "?", 2)[0])
			case (a.Key == "src" || a.Key == "href") && strings.HasPrefix(a.Val, d.w.Base+"/p/"):
				key := strings.TrimPrefix(a.Val, d.w.Base+"/p/")
				if i := strings.IndexAny(key, "?#/"); i >= 0 {
					key = key[:i]
				}
				key = strings.TrimSuffix(key, ".png")
				switch n.Data {
				case "iframe":
					if d.frames[key] != "runs" {
						d.frames[key] = "runs"
						if sandbox, ok := tree.Attr(n, "sandbox"); ok && !slices.Contains(strings.Fields(strings.ToLower(sandbox)), "allow-scripts") {
							d.frames[key] = "fenced"
						}
					}
				case "a":
					d.links[key] = true
				}
				d.key(key)
			}
		}
	}
	for c := n.FirstChild; c != nil; c = c.NextSibling {
		d.look(c, within)
	}
}

// script records a script of ours. A script of another type does not run, or not before a consent
// tool allows it.
func (d *diagnosis) script(n *html.Node, path string) {
	name := strings.TrimSuffix(path, ".js")
	_, own := strings.CutPrefix(name, "s/")
	sealed := strings.HasPrefix(name, "a/")
	key := name[strings.LastIndex(name, "/")+1:]
	if own {
		d.key(key)
	}
	kind, _ := tree.Attr(n, "type")
	if !slices.Contains([]string{"", "module", "text/javascript", "application/javascript"}, strings.ToLower(strings.TrimSpace(kind))) {
		return
	}
	switch {
	case own, sealed:
		d.scripts[key] = true
	case name == "loader", name == "near":
		d.loader = true
	case name == "links":
		d.loader, d.linker = true, true
	}
}

func (d *diagnosis) together(key string) {
	d.add(Finding{Code: "run-together", What: "Two snippets are mixed up: one starts before the other ends.", Fix: "Delete both, then paste them again, one after the other, on separate lines."})
}

func (d *diagnosis) key(key string) {
	if key == "" {
		return
	}
	there, published := d.w.Look(key)
	if !there {
		fix := "Copy the snippet again."
		if near := fault.Nearest(key, d.w.Keys); near != "" {
			fix = fmt.Sprintf("The key is probably “%s”. Copy the snippet again and paste it.", near)
		}
		d.add(Finding{Code: "key-unknown", Key: key, What: fmt.Sprintf("There is no pocket “%s”.", key), Fix: fix})
		return
	}
	if !published {
		d.add(Finding{Code: "not-published", Key: key, What: fmt.Sprintf("“%s” is not published, so nothing shows in its place.", key), Fix: "Publish it."})
	}
}

// around returns the text around a place, on one line.
func around(text string, at int) string {
	from, to := max(0, at-30), min(len(text), at+120)
	return strings.ToValidUTF8(strings.Join(strings.Fields(text[from:to]), " "), "")
}
