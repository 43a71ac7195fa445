package host

import (
	"slices"
	"strings"
)

// Offer is one way to bring a pocket to a host.
type Offer struct {
	Delivery Delivery `json:"delivery"`
	Title    string   `json:"title"`
	Content  string   `json:"content"`          // name of the place where it stands
	Script   string   `json:"script,omitempty"` // of the place for the site's script
	Policy   string   `json:"policy,omitempty"` // of the place where the content policy is changed
	Only     string   `json:"only,omitempty"`   // "home" or "page": the pocket itself must show there only
	Outcome  Outcome  `json:"outcome"`
	Why      string   `json:"why"`             // a sentence
	Loses    []string `json:"loses,omitempty"` // sentences: what the widget loses by it
	Size     int      `json:"size"`            // bytes of all parts
}

// Choice is what there is for one host and one wish. Best is nil when nothing of the pocket
// can be brought there.
type Choice struct {
	Best   *Offer  `json:"best"`
	Others []Offer `json:"others"` // the better ones first; those that show nothing too
}

// stubPin stands for what a sealed publication would be pinned by, as long as it is not.
var stubPin = &Pinned{Address: "https://pockets.example/a/0000000000000000000000000000000000000000000000000000000000000000/any.js",
	Integrity: "sha384-0000000000000000000000000000000000000000000000000000000000000000", Policy: ""}

// Choose finds the best delivery for a wish, one of Wheres, and all others.
func Choose(p *Profile, s Subject, needs Needs, where string, placing Placing) (c Choice) {
	if s.Pinned == nil {
		pin := *stubPin
		pin.Address = strings.Replace(pin.Address, "https://pockets.example", s.Base, 1)
		pin.Policy = "script-src " + pin.Address
		s.Pinned = &pin
	}
	best := map[Delivery]*candidate{}
	for _, ground := range p.grounds(where) {
		for i, delivery := range Deliveries {
			// Two places are for what has two parts; a frame has a second one only where that is.
			if two := ground.Script != nil; !s.Fits(delivery) || two && delivery != Split && delivery != Frame || !two && delivery == Split {
				continue
			}
			if ground.Policy = nil; delivery == Sealed {
				ground.Policy = ground.policy
			}
			snippet, outcome := Predict(s, delivery, placing, ground.Ground)
			o := &candidate{ground: ground, floats: s.Floats, order: ground.place*100 + i, Offer: Offer{Delivery: delivery, Title: Abouts[i].Title, Content: ground.Content.Name, Only: ground.only, Outcome: outcome}}
			for _, part := range snippet.Parts {
				o.Size += len(part.Text)
			}
			if ground.Script != nil && slices.ContainsFunc(snippet.Parts, func(p Part) bool { return p.Role == "script" }) {
				o.Script = ground.Script.Name
			}
			if ground.Policy != nil {
				o.Policy = ground.Policy.Name
			}
			if have := best[delivery]; have == nil || o.better(have) {
				best[delivery] = o
			}
		}
	}
	list := []*candidate{}
	for _, delivery := range Deliveries {
		if o := best[delivery]; o != nil {
			o.Loses = loses(o.Offer, s, needs, o.ground, placing)
			list = append(list, o)
		}
	}
	slices.SortStableFunc(list, func(a, b *candidate) int {
		if a.better(b) {
			return -1
		}
		return 1
	})
	for i, o := range list {
		o.Why = o.why(s)
		if i == 0 && o.Outcome.Rank() > 0 {
			c.Best = &o.Offer
			continue
		}
		c.Others = append(c.Others, o.Offer)
	}
	return c
}

type candidate struct {
	Offer
	ground ground
	floats bool
	order  int
}

// better: shows more; else, in the place that the profile names first; else, the simpler delivery.
func (c *candidate) better(than *candidate) bool {
	if a, b := c.rank(), than.rank(); a != b {
		return a > b
	}
	// Sealed never changes again: it is chosen only where nothing else shows as much.
	if a, b := c.Delivery == Sealed, than.Delivery == Sealed; a != b {
		return b
	}
	return c.order < than.order
}

// natural is what a delivery is made for.
var natural = map[Delivery]string{Frame: "frame", Screen: "screen", Email: "mail", Link: "link"}

// rank is that of the outcome, doubled; less when the form is made for something else, as a
// mail's table is on a page of the web.
func (c *candidate) rank() int {
	rank := 2 * c.Outcome.Rank()
	if made := natural[c.Delivery]; made != "" && made != c.Outcome.Shows {
		rank--
	}
	if c.Delivery == Email && c.ground.Pages.Are != "mail" {
		rank -= 10
	}
	// What lies over the page is of little use in a frame.
	if c.floats && (c.Outcome.Shows == "frame" || c.Outcome.Shows == "boxed" || c.Outcome.Shows == "still") {
		rank = 3
	}
	return rank
}

type ground struct {
	Ground
	place  int
	only   string
	policy *Place
}

// grounds are the places, and pairs of places, that a wish can be met at.
func (p *Profile) grounds(where string) (list []ground) {
	wish, only := where, ""
	if (where == "home" || where == "page") && !p.leads(where) {
		wish, only = "site", where
	}
	var policy *Place
	for i := range p.Places {
		if p.Places[i].Takes.As == "policy" {
			policy = &p.Places[i]
		}
	}
	for i := range p.Places {
		at := &p.Places[i]
		if len(at.Steps[wish]) == 0 || at.Takes.As == "policy" {
			continue
		}
		g := ground{Ground: Ground{Pages: p.Pages, Content: at}, place: i, only: only, policy: policy}
		list = append(list, g)
		for j := range p.Places {
			scripts := &p.Places[j]
			if j == i || len(scripts.Steps["site"]) == 0 || scripts.Takes.As != "markup" || scripts.Takes.Boxed != nil || !scripts.Takes.lets("script") {
				continue
			}
			g.Script = scripts
			list = append(list, g)
			break
		}
	}
	return list
}
