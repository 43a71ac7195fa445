package host

import "strings"

// Ground is the set of places for the parts of a snippet.
type Ground struct {
	Pages   Pages
	Self    string // address of the page, "https://host.example/"; "" for an example
	Content *Place
	Script  *Place // for the site's scripts; nil if there is none
	Policy  *Place // for changes to the content policy; nil if it cannot be changed
}

// ask returns what to write for a ground.
func (g Ground) ask(delivery Delivery, placing Placing) Ask {
	a := Ask{Delivery: delivery, Placing: placing, Content: g.Content.Takes, Head: g.Content.Stands == "head"}
	if g.Script != nil {
		a.Script, a.Fits = g.Script.Takes, g.Script.Takes.Scripts == "run" || g.Script.Takes.Scripts == "move"
	}
	return a
}

// Missing returns the directives to add to a page's content policy so that it allows everything
// that a snippet needs; "" if nothing is missing.
func (g Ground) Missing(s Subject, snippet Snippet) string {
	if g.Content.Takes.Boxed != nil || g.Self == "" && g.Pages.Policy == "" {
		return ""
	}
	policy := g.policy(snippet)
	var list []string
	need := func(directive, name, path string) {
		if ok, _ := policy.Allows(directive, g.Self, s.Base+path); !ok {
			list = append(list, policy.with(name, s.Base))
		}
	}
	switch snippet.Delivery {
	case Frame:
		need("frame-src", "frame-src", "/p/"+s.Key)
	case Sealed:
		if ok, _ := policy.Allows("script-src-elem", g.Self, s.Pinned.Address, s.Pinned.Integrity); !ok {
			return s.Pinned.Policy
		}
	case Script, Split, Component:
		need("script-src-elem", "script-src", "/s/"+s.Key+".js")
		need("img-src", "img-src", "/a/")
		need("font-src", "font-src", "/a/")
		need("connect-src", "connect-src", "/t")
	}
	return strings.Join(list, "; ")
}

// policy returns the content policy after the snippet's directives were added.
func (g Ground) policy(snippet Snippet) Policy {
	policy := ReadPolicy(g.Pages.Policy)
	if g.Policy == nil {
		return policy
	}
	for _, p := range snippet.Parts {
		if p.Role == "policy" {
			policy = policy.Plus(p.Text)
		}
	}
	return policy
}
