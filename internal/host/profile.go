package host

import (
	"encoding/json"
	"slices"
)

// ProfileFormat is the version of the profile format that this program reads and writes.
const ProfileFormat = 1

// Profile is one kind of host: what it lets through where, and how one works there.
type Profile struct {
	Format   int       `json:"format"`
	Name     string    `json:"name"`
	Extends  string    `json:"extends,omitempty"` // the profile whose other keys hold; an operator's own version of it
	Language string    `json:"language"`          // of all its words, BCP 47
	Title    string    `json:"title"`
	Summary  string    `json:"summary"`
	Signs    []string  `json:"signs"` // by which one knows that a host is of this kind
	Pages    Pages     `json:"pages"`
	Places   []Place   `json:"places"`
	After    []string  `json:"after,omitempty"` // where to look when it is done
	Pitfalls []Pitfall `json:"pitfalls"`
}

// Pages are what all pages of a host have in common.
type Pages struct {
	Are    string `json:"are"`              // one of PageKinds
	Policy string `json:"policy,omitempty"` // their Content-Security-Policy; "self" means the host
	Cached int    `json:"cached,omitempty"` // minutes for which visitors may get an old page
}

// PageKinds are what visitors get: a page of the web, one page of it that a program swaps
// content in, a mail, or a page of fixed size on a screen.
var PageKinds = []string{"web", "program", "mail", "screen"}

// Place is somewhere in a host where something can be put.
type Place struct {
	Name   string            `json:"name"`
	Title  string            `json:"title"`  // its name, in general words
	Stands string            `json:"stands"` // one of Stands
	Takes  Rules             `json:"takes"`
	Editor Editor            `json:"editor"`
	Steps  map[string][]Step `json:"steps"`           // by one of Wheres
	After  []string          `json:"after,omitempty"` // where to look when it is done, instead of the profile's
}

// Stands say where on the page a place shows.
var Stands = []string{"content", "column", "head", "end", "whole"}

// Wheres are what a customer wants: in a new part of a page, in a part that is there, on every
// page, on one page, in the side column, only on the home page.
var Wheres = []string{"new", "existing", "site", "page", "column", "home"}

// WhereWords say the same to people.
var WhereWords = map[string]string{
	"new": "in a new section of a page", "existing": "in an existing section", "site": "on every page",
	"page": "on one page", "column": "in the side column", "home": "only on the home page",
}

// Editor tells what one sees before the page is published.
type Editor struct {
	Shows string `json:"shows"` // one of EditorShows
	Says  string `json:"says"`  // a sentence about it, so that nobody is worried
}

// EditorShows are what an editor shows of what was pasted: how it will be; the code; an empty
// box; nothing at all; the page without scripts.
var EditorShows = []string{"result", "code", "box", "nothing", "still"}

// Step is one thing to do. Its words may hold {snippet}, the text to paste, and the rest of
// Marks.
type Step struct {
	Say   string `json:"say"`
	Image string `json:"image,omitempty"` // a file of the operator's
	Alt   string `json:"alt,omitempty"`   // what the picture shows
}

// Marks stand in the words of steps for what differs from pocket to pocket.
var Marks = []string{"{snippet}", "{title}", "{file}", "{width}", "{height}"}

// UnmarshalJSON reads a step that is nothing but words, too.
func (s *Step) UnmarshalJSON(text []byte) error {
	if json.Unmarshal(text, &s.Say) == nil {
		return nil
	}
	type whole Step
	return json.Unmarshal(text, (*whole)(s))
}

// Pitfall is a known trouble: what one sees, why, and what to do.
type Pitfall struct {
	See        string     `json:"see"`
	Because    string     `json:"because"`
	Do         string     `json:"do"`
	Places     []string   `json:"places,omitempty"`     // where it happens; everywhere when empty
	Deliveries []Delivery `json:"deliveries,omitempty"` // with which; all when empty
}

// Place finds a place by name.
func (p *Profile) Place(name string) *Place {
	if i := slices.IndexFunc(p.Places, func(at Place) bool { return at.Name == name }); i >= 0 {
		return &p.Places[i]
	}
	return nil
}

// Wheres lists what a customer can want of this host, in the order of the package's list. The
// home page and one page can be had wherever the whole site can: the pocket chooses.
func (p *Profile) Wheres() (list []string) {
	has := p.leads
	for _, where := range Wheres {
		if has(where) || (where == "home" || where == "page") && has("site") {
			list = append(list, where)
		}
	}
	return list
}

// leads tells whether there are steps for a wish, but those to the content policy.
func (p *Profile) leads(where string) bool {
	return slices.ContainsFunc(p.Places, func(at Place) bool { return len(at.Steps[where]) > 0 && at.Takes.As != "policy" })
}
