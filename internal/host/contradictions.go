package host

import (
	"fmt"
	"regexp"
	"slices"
	"strings"

	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
)

// contradictions reports statements in a profile that cannot all be true. Each is placed at one of
// the two, and names the other.
func (p *Profile) contradictions(doc *jsondoc.Value) (faults fault.List) {
	say := func(at *jsondoc.Value, field, what, fix string) {
		faults = append(faults, at.Fault(fault.HostContradiction, field, what, fix))
	}
	if !nameForm.MatchString(p.Name) {
		faults = append(faults, doc.Get("name").Fault(fault.BadName, "name", fmt.Sprintf("%q is not a valid profile name.", p.Name), "Use at most 40 lower-case letters, digits and hyphens, and start with a letter."))
	}
	places := doc.Get("places")
	if len(p.Places) == 0 {
		say(places, "places", "The profile has no places, so nothing could be installed there.", "Add a place with steps.")
		return faults
	}
	for _, mark := range p.marks() {
		if !slices.Contains(Marks, mark) {
			say(places, "say", fmt.Sprintf("A step contains %s, which is not a placeholder.", mark), fault.DidYouMean(mark, Marks))
		}
	}
	steps := false
	for i := range p.Places {
		at, place := places.Items[i], &p.Places[i]
		if !nameForm.MatchString(place.Name) {
			faults = append(faults, at.Get("name").Fault(fault.BadName, "name", fmt.Sprintf("%q is not a valid place name.", place.Name), "Use at most 40 lower-case letters, digits and hyphens, and start with a letter."))
		}
		if slices.IndexFunc(p.Places, func(other Place) bool { return other.Name == place.Name }) < i {
			say(at.Get("name"), "name", fmt.Sprintf("There are two places named %q.", place.Name), "Rename one of them.")
		}
		for _, c := range against {
			if what := c.what(p, place); what != "" {
				key := at.Get("takes").Get(c.key)
				if key == nil { // it is stated by its absence
					key = at.Get("takes")
				}
				say(key, c.key, what, c.fix)
			}
		}
		for where, list := range place.Steps {
			steps = steps || len(list) > 0
			faults = append(faults, place.stepFaults(at.Get("steps").Get(where), where, list)...)
		}
	}
	if !steps {
		say(places, "steps", "No place has any steps.", "Write steps for at least one place.")
	}
	for i, pit := range p.Pitfalls {
		for _, name := range pit.Places {
			if p.Place(name) == nil {
				say(doc.Get("pitfalls").Items[i], "places", fmt.Sprintf("There is no place %q.", name), fault.DidYouMean(name, p.placeNames()))
			}
		}
	}
	if len(faults) == 0 && !p.anyReaches() {
		say(places, "places", "No delivery would show anything in any of its places.", "Describe what it allows: at least a link or an address.")
	}
	faults.Sort()
	return faults
}

// against are statements that cannot be made about certain places, each at one key of "takes". The
// function says what is wrong, or "". To add one, add a row.
var against = func() (list []contradiction) {
	for key, of := range map[string]func(Rules) string{
		"scripts": func(r Rules) string { return r.Scripts }, "forms": func(r Rules) string { return r.Forms }, "styles": func(r Rules) string { return r.Styles },
		"attributes": func(r Rules) string { return r.Attributes }, "images": func(r Rules) string { return r.Images },
		"frames": func(r Rules) string {
			if r.As == "address" { // the host may show the linked page in a frame
				return "drop"
			}
			return r.Frames
		},
	} {
		list = append(list, contradiction{key, func(_ *Profile, at *Place) string {
			if kind := wordsOnly[at.Takes.As]; kind != "" && of(at.Takes) != "drop" {
				return fmt.Sprintf("A place for %s cannot allow %s.", kind, key)
			}
			return ""
		}, fmt.Sprintf("Leave out %q, or use “markup”.", key)})
	}
	return append(list, []contradiction{
		{"boxed", func(_ *Profile, at *Place) string {
			switch b := at.Takes.Boxed; {
			case b == nil:
			case !b.Scripts && at.Takes.Scripts != "drop":
				return "Scripts are allowed, but they cannot run in the frame."
			case at.Stands == "head" || at.Stands == "end":
				return "The head or the end of a page cannot contain a frame."
			case b.Height == 0:
				return "A frame with the height 0 shows nothing."
			}
			return ""
		}, "Correct the scripts, the place or the height of the frame, or leave out “boxed”."},
		{"boxed", func(p *Profile, at *Place) string {
			return when(p.Pages.Are == "mail" && at.Takes.Boxed != nil, "Email has no frames.")
		}, "Leave out “boxed”."},
		{"components", func(_ *Profile, at *Place) string {
			return when(len(at.Takes.Components) > 0 != (at.Takes.As == "file"), "Source files and frameworks belong together.")
		}, `Write "as": "file" with the frameworks, or leave them out.`},
		{"xml", func(_ *Profile, at *Place) string {
			return when(at.Takes.XML && at.Takes.As != "markup", "Only markup can be well-formed XML.")
		}, "Leave out “xml”."},
		{"most", func(_ *Profile, at *Place) string {
			return when(at.Takes.Most > 0 && at.Takes.Most < leastMost && at.Takes.As == "markup", fmt.Sprintf("%d characters are not enough for any snippet.", at.Takes.Most))
		}, "Correct the number, or write that the place accepts an address."},
		{"scripts", func(p *Profile, at *Place) string {
			r := at.Takes
			return when(p.Pages.Are == "mail" && (r.Scripts != "drop" || r.Frames != "drop" || r.Forms != "drop"), "Scripts, frames and forms do not work in email.")
		}, "Write that scripts, frames and forms are dropped."},
		{"scripts", func(p *Profile, at *Place) string {
			by := ReadPolicy(p.Pages.Policy).none("script-src-elem")
			r := at.Takes
			return when(by != "" && r.As == "markup" && r.Boxed == nil && r.Scripts != "drop", fmt.Sprintf("Scripts are allowed, but the policy of its pages blocks all scripts (%s).", by))
		}, `Write "scripts": "drop", or correct the policy.`},
	}...)
}()

// leastMost is the length of the shortest snippet of markup, in characters.
const leastMost = 60

type contradiction struct {
	key  string
	what func(*Profile, *Place) string
	fix  string
}

// wordsOnly are the kinds of places that accept no markup.
var wordsOnly = map[string]string{"text": "text", "markdown": "Markdown without HTML", "address": "only an address", "policy": "directives"}

func when(so bool, what string) string {
	if so {
		return what
	}
	return ""
}

// stepFaults reports what is wrong with the steps for one wish.
func (place *Place) stepFaults(at *jsondoc.Value, where string, list []Step) (faults fault.List) {
	say := func(what, fix string) {
		faults = append(faults, at.Fault(fault.HostContradiction, where, what, fix))
	}
	if len(list) == 0 {
		say("It has no steps.", "Add steps, or leave it out.")
		return faults
	}
	pastes := 0
	for _, s := range list {
		pastes += strings.Count(s.Say, "{snippet}")
		if s.Image != "" && s.Alt == "" {
			faults = append(faults, at.Fault(fault.AltMissing, where, "An image has no text alternative.", `Describe the image in "alt".`))
		}
	}
	if pastes != 1 {
		say(fmt.Sprintf("These steps contain {snippet} %d times.", pastes), "Put {snippet} into the one step that pastes it.")
	}
	part := where == "new" || where == "existing"
	if where == "column" && place.Stands != "column" || place.Stands == "column" && part {
		say(fmt.Sprintf("The steps for “%s” lead to a place elsewhere on the page (%s).", WhereWords[where], place.Stands), "Move them to the right place.")
	}
	if part && (place.Stands == "head" || place.Stands == "end") {
		say("The head or the end of a page is not part of its content.", `Write these steps as "site".`)
	}
	return faults
}

func (p *Profile) placeNames() (list []string) {
	for _, place := range p.Places {
		list = append(list, place.Name)
	}
	return list
}

var markForm = regexp.MustCompile(`\{[a-z]+\}`)

// marks lists everything in braces in the profile's steps.
func (p *Profile) marks() (list []string) {
	for _, place := range p.Places {
		for _, steps := range place.Steps {
			for _, s := range steps {
				list = append(list, markForm.FindAllString(s.Say, -1)...)
			}
		}
	}
	return list
}

// anyReaches reports whether a widget without any needs would show in some way.
func (p *Profile) anyReaches() bool {
	s := Subject{Base: "https://pockets.example", Key: "any", Title: "Any", Pinned: stubPin}
	for _, where := range p.Wheres() {
		if c := Choose(p, s, Needs{}, where, Placing{}); c.Best != nil && c.Best.Outcome.Rank() > 1 {
			return true
		}
	}
	return false
}
