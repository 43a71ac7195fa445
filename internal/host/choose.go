package host

import (
	"slices"
	"strings"
)

// Offer is a way to install a pocket on a host.
type Offer struct {
	Delivery Delivery `json:"delivery"`
	Title    string   `json:"title"`
	Content  string   `json:"content"`          // name of the place for the widget
	Script   string   `json:"script,omitempty"` // name of the place for the site's script
	Policy   string   `json:"policy,omitempty"` // name of the place for the content policy
	Only     string   `json:"only,omitempty"`   // "home" or "page": the pocket's own rules must limit it
	Outcome  Outcome  `json:"outcome"`
	Why      string   `json:"why"`             // a sentence
	Loses    []string `json:"loses,omitempty"` // sentences: what the widget loses in it
	Size     int      `json:"size"`            // bytes of all parts
}

// Choice lists the ways for a host and a wish. Best is nil if nothing of the pocket can be
// installed there.
type Choice struct {
	Best   *Offer  `json:"best"`
	Others []Offer `json:"others"` // the better ones first, including those that show nothing
}

// stubPin takes the place of a sealed publication's data until it is sealed.
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
			// Two places are for deliveries with two parts. A frame uses the second one only where
			// it exists.
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

// better compares: what shows more is better, then the place that the profile lists first, then the
// simpler delivery.
func (c *candidate) better(than *candidate) bool {
	if a, b := c.rank(), than.rank(); a != b {
		return a > b
	}
	// A sealed delivery never changes, so it is chosen only if nothing else shows as much.
	if a, b := c.Delivery == Sealed, than.Delivery == Sealed; a != b {
		return b
	}
	return c.order < than.order
}

// natural is the kind of page that a delivery is for.
var natural = map[Delivery]string{Frame: "frame", Screen: "screen", Email: "mail", Link: "link"}

// rank is the doubled rank of the outcome, or less if the delivery is for something else, such as
// an email's table on a web page.
func (c *candidate) rank() int {
	rank := 2 * c.Outcome.Rank()
	if made := natural[c.Delivery]; made != "" && made != c.Outcome.Shows {
		rank--
	}
	if c.Delivery == Email && c.ground.Pages.Are != "mail" {
		rank -= 10
	}
	// A widget above the page is of little use in a frame.
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

// grounds lists the places, and pairs of places, for a wish.
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
