package host

import (
	"encoding/json"
	"slices"
)

// ProfileFormat is the version of the profile format that this program reads and writes.
const ProfileFormat = 1

// Profile describes a kind of host: its places, what each of them lets through, and how to work
// there.
type Profile struct {
	Format   int       `json:"format"`
	Name     string    `json:"name"`
	Extends  string    `json:"extends,omitempty"` // the profile that provides all other keys, for an operator's version
	Language string    `json:"language"`          // of all its texts, BCP 47
	Title    string    `json:"title"`
	Summary  string    `json:"summary"`
	Signs    []string  `json:"signs"` // how to recognise this kind of host
	Pages    Pages     `json:"pages"`
	Places   []Place   `json:"places"`
	After    []string  `json:"after,omitempty"` // where to check the result
	Pitfalls []Pitfall `json:"pitfalls"`
}

// Pages describes all pages of a host.
type Pages struct {
	Are    string `json:"are"`              // one of PageKinds
	Policy string `json:"policy,omitempty"` // their Content-Security-Policy; "self" means the host
	Cached int    `json:"cached,omitempty"` // minutes for which visitors can see an old page
}

// PageKinds are the kinds of pages: a web page, a single-page application, an email, or a page of
// fixed size on a screen.
var PageKinds = []string{"web", "program", "mail", "screen"}

// Place is a place in a host where something can be inserted.
type Place struct {
	Name   string            `json:"name"`
	Title  string            `json:"title"`  // its name in general words
	Stands string            `json:"stands"` // one of Stands
	Takes  Rules             `json:"takes"`
	Editor Editor            `json:"editor"`
	Steps  map[string][]Step `json:"steps"`           // by one of Wheres
	After  []string          `json:"after,omitempty"` // where to check the result, instead of the profile's
}

// Stands are the positions of a place on the page.
var Stands = []string{"content", "column", "head", "end", "whole"}

// Wheres are what a customer can want: a new part of a page, an existing part, every page, one
// page, the side column, only the home page.
var Wheres = []string{"new", "existing", "site", "page", "column", "home"}

// WhereWords are their labels.
var WhereWords = map[string]string{
	"new": "in a new section of a page", "existing": "in an existing section", "site": "on every page",
	"page": "on one page", "column": "in the side column", "home": "only on the home page",
}

// Editor describes what the host's editor shows before publishing.
type Editor struct {
	Shows string `json:"shows"` // one of EditorShows
	Says  string `json:"says"`  // an explanatory sentence
}

// EditorShows are what an editor shows of what was pasted: the result; the code; an empty box;
// nothing; the page without scripts.
var EditorShows = []string{"result", "code", "box", "nothing", "still"}

// Step is one step. Its text can contain {snippet}, the text to paste, and the other Marks.
type Step struct {
	Say   string `json:"say"`
	Image string `json:"image,omitempty"` // the operator's image file
	Alt   string `json:"alt,omitempty"`   // the image's text alternative
}

// Marks are placeholders in steps for what differs between pockets.
var Marks = []string{"{snippet}", "{title}", "{file}", "{width}", "{height}"}

// UnmarshalJSON also reads a step that is a plain text.
func (s *Step) UnmarshalJSON(text []byte) error {
	if json.Unmarshal(text, &s.Say) == nil {
		return nil
	}
	type whole Step
	return json.Unmarshal(text, (*whole)(s))
}

// Pitfall is a known problem: what you see, why, and what to do.
type Pitfall struct {
	See        string     `json:"see"`
	Because    string     `json:"because"`
	Do         string     `json:"do"`
	Places     []string   `json:"places,omitempty"`     // where it happens; empty for everywhere
	Deliveries []Delivery `json:"deliveries,omitempty"` // with which deliveries; empty for all
}

// Place returns a place by name, or nil.
func (p *Profile) Place(name string) *Place {
	if i := slices.IndexFunc(p.Places, func(at Place) bool { return at.Name == name }); i >= 0 {
		return &p.Places[i]
	}
	return nil
}

// Wheres lists what a customer can want from this host, in the order of the package's list. Where
// the whole site is possible, so are the home page and single pages, because the pocket's own rules
// select them.
func (p *Profile) Wheres() (list []string) {
	has := p.leads
	for _, where := range Wheres {
		if has(where) || (where == "home" || where == "page") && has("site") {
			list = append(list, where)
		}
	}
	return list
}

// leads reports whether there are steps for a wish, other than those for the content policy.
func (p *Profile) leads(where string) bool {
	return slices.ContainsFunc(p.Places, func(at Place) bool { return len(at.Steps[where]) > 0 && at.Takes.As != "policy" })
}
