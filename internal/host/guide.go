package host

import (
	"slices"
	"strings"
)

// Guide describes how to install a pocket on a host, step by step.
type Guide struct {
	Host   string      `json:"host"`  // the profile's name
	Title  string      `json:"title"` // of the host
	Where  string      `json:"where"` // one of Wheres
	Offer  Offer       `json:"offer"`
	Parts  []Part      `json:"parts"`
	Steps  []GuideStep `json:"steps"`
	Editor string      `json:"editor"` // what the host's editor shows before publishing, a sentence
	Look   []string    `json:"look"`   // where to check the result
	If     []Pitfall   `json:"if"`     // if you see this, do that
	// Facts is how the page can state facts about its visitor; nil if it cannot.
	Facts *Stating `json:"facts,omitempty"`
	// Ruled says that the live version already has a rule for the addresses where it shows.
	Ruled bool `json:"ruled,omitempty"`
	// Pastes says which of the two clipboard formats the place uses: "code" or "rich".
	Pastes string `json:"pastes"`
}

// Stating explains how a page states facts.
type Stating struct {
	Example string   `json:"example"` // an element that states all of them
	Facts   []Stated `json:"facts"`
}

// GuideStep is one step.
type GuideStep struct {
	Say    string `json:"say"`
	Client string `json:"client,omitempty"` // the same step as a command, if it is done in the console
	Part   *int   `json:"part,omitempty"`   // index of the part of the snippet to paste
	After  string `json:"after,omitempty"`
	Place  string `json:"place,omitempty"` // title of the place for this step and those after it
	Image  string `json:"image,omitempty"`
	Alt    string `json:"alt,omitempty"`
}

// Lead writes the guide for an offer from Choose.
func Lead(p *Profile, s Subject, where string, placing Placing, o Offer) Guide {
	ground := Ground{Pages: p.Pages, Content: p.Place(o.Content), Script: p.Place(o.Script), Policy: p.Place(o.Policy)}
	ruled := s.Chooses
	if o.Only != "" { // it will have, and then most pages show nothing
		s.Chooses = true
	}
	snippet, _ := Write(s, ground.ask(o.Delivery, placing))
	g := Guide{Host: p.Name, Title: p.Title, Where: where, Offer: o, Parts: []Part{}, Editor: ground.Content.Editor.Says, Look: slices.Clone(p.look(ground.Content, o.Only)), If: []Pitfall{}}
	wish := where
	if o.Only != "" {
		wish = "site"
	}
	for _, part := range snippet.Parts {
		switch at := ground.at(part.Role); {
		case at != nil:
			if part.Role != "file" {
				part.Where = lower(at.Title)
			}
			g.Parts = append(g.Parts, part)
		case part.Role == "policy" && part.Text != "":
			g.Parts = append(g.Parts, part)
		}
	}
	width, height := s.Size(placing)
	words := strings.NewReplacer("{title}", "“"+s.Title+"”", "{width}", itoa(width), "{height}", itoa(height), "{file}", g.file())
	add := func(at *Place, wish string, part int, first string) {
		for i, step := range at.Steps[wish] {
			n := GuideStep{Say: words.Replace(step.Say), Image: step.Image, Alt: step.Alt}
			if i == 0 {
				n.Place = first
			}
			if before, after, ok := strings.Cut(n.Say, "{snippet}"); ok {
				n.Say, n.After = strings.TrimSpace(before), strings.TrimSpace(strings.TrimPrefix(after, "."))
				n.Part = &part
			}
			g.Steps = append(g.Steps, n)
		}
	}
	if o.Only != "" && !ruled {
		g.Steps = append(g.Steps, map[string]GuideStep{
			"home": {
				Say:    "Do this first: under “Where and when it shows”, choose the home page, then publish. Until then, the widget shows on every page.",
				Client: "Run these commands first. Until then, the widget shows on every page: glasspocket cues " + s.Key + " -only /, then glasspocket publish " + s.Key,
			},
			"page": {
				Say:    "Do this first: under “Where and when it shows”, enter the page's address, then publish. Until then, the widget shows on every page.",
				Client: "Run these commands first, with the page's address. Until then, the widget shows on every page: glasspocket cues " + s.Key + " -only /your-page, then glasspocket publish " + s.Key,
			},
		}[o.Only])
	}
	g.Ruled = ruled
	g.Pastes = "code"
	if as := ground.Content.Takes.As; as == "text" || ground.Pages.Are == "mail" {
		g.Pastes = "rich"
	}
	for i, part := range g.Parts {
		switch part.Role {
		case "script":
			add(ground.Script, "site", i, "Do this once for the whole site. Skip it if another of our widgets already shows there.")
		case "policy":
			if ground.Policy != nil {
				add(ground.Policy, "site", i, "This lets the page load the widget.")
			}
		default:
			add(ground.Content, wish, i, "")
			if s.Wraps && part.Role == "content" && strings.Contains(part.Text, "<!--") {
				g.Steps = append(g.Steps, GuideStep{Say: "Put your own content where the text says so. It shows inside the widget."})
			}
		}
	}
	if o.Outcome.Shows == "widget" && o.Delivery != Sealed { // where a loader runs that answers it
		g.Look = append(g.Look, "To see why the widget shows or not, add #glass-pocket-why to the end of the page's address.")
	}
	if facts := s.stated(); len(facts) > 0 && o.Outcome.Shows == "widget" {
		g.Facts = &Stating{stating(facts), facts}
	}
	for _, pit := range p.Pitfalls {
		at := len(pit.Places) == 0 || slices.ContainsFunc(pit.Places, func(n string) bool { return n == o.Content || n == o.Script || n == o.Policy })
		with := len(pit.Deliveries) == 0 || slices.Contains(pit.Deliveries, o.Delivery)
		if at && with {
			pit.See, pit.Because, pit.Do = words.Replace(pit.See), words.Replace(pit.Because), words.Replace(pit.Do)
			g.If = append(g.If, pit)
		}
	}
	g.If = append(g.If, s.troubles(o)...)
	return g
}

// look says where to check the result.
func (p *Profile) look(at *Place, only string) []string {
	switch {
	case only == "home":
		return []string{"Open the site's home page, then another page. The widget shows only on the home page."}
	case only == "page":
		return []string{"Open that page, then another one. The widget shows only on that page."}
	case len(at.After) > 0:
		return at.After
	}
	return p.After
}

// at returns the place for a part.
func (g Ground) at(role string) *Place {
	switch role {
	case "script":
		return g.Script
	case "policy":
		return g.Policy
	}
	return g.Content
}

func (g Guide) file() string {
	for _, p := range g.Parts {
		if p.File != "" {
			return p.File
		}
	}
	return ""
}

// troubles lists the pitfalls of a delivery on any host.
func (s Subject) troubles(o Offer) (list []Pitfall) {
	markup := !slices.Contains([]Delivery{Link, Screen, Component}, o.Delivery)
	if markup {
		list = append(list, Pitfall{See: "The quotation marks are curly where you pasted, and nothing shows.", Because: "A word processor or a chat has changed them.", Do: "Copy the snippet again here, and paste it directly into the host."})
	}
	if s.Limited {
		list = append(list, Pitfall{See: "Nothing shows, and the browser's console says that the site is not listed.", Because: "The pocket shows only on its customer's sites.", Do: "Add the site's domain under “Sites”. The pocket shows within a minute, without another paste."})
	}
	if markup && !s.Floats && o.Delivery != Email {
		list = append(list, Pitfall{See: "The widget is too wide or too narrow.", Because: "It is as wide as its place on the host.", Do: "To make it narrower, choose a width here under “Placement”, and paste the new snippet. To make it wider, make its place wider in the host."})
	}
	if o.Outcome.Shows == "widget" || o.Outcome.Shows == "boxed" {
		list = append(list, Pitfall{See: "Nothing shows, not even a link.", Because: "The key may have a typing error, or the widget may not be published.", Do: "Paste the snippet instead of typing it, and check here that the pocket is published."})
	}
	return list
}
