package host

import (
	"encoding/json"
	"fmt"
	"regexp"
	"slices"

	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
)

var nameForm = regexp.MustCompile(`^[a-z][a-z0-9-]{0,39}$`)

// Set is a set of profiles. It is immutable once it is in use.
type Set struct {
	names    []string
	profiles map[string]*Profile
	docs     map[string]*jsondoc.Value
}

// List lists the profiles in the order in which they were added.
func (s *Set) List() (list []*Profile) {
	for _, name := range s.names {
		list = append(list, s.profiles[name])
	}
	return list
}

// Get returns a profile by name, or nil.
func (s *Set) Get(name string) *Profile {
	if s == nil {
		return nil
	}
	return s.profiles[name]
}

// Names lists the profiles' names.
func (s *Set) Names() []string { return slices.Clone(s.names) }

// With returns the set with one more profile, read from the text of its file. A profile that
// extends another inherits what it leaves out; one with an existing name replaces that one. A
// profile with faults is not added; warnings do not matter.
func (s *Set) With(text []byte) (*Set, *Profile, fault.List) {
	next := &Set{profiles: map[string]*Profile{}, docs: map[string]*jsondoc.Value{}}
	if s != nil {
		next.names = slices.Clone(s.names)
		for name, p := range s.profiles {
			next.profiles[name], next.docs[name] = p, s.docs[name]
		}
	}
	doc, faults := jsondoc.Read(text)
	if doc == nil || len(faults) > 0 {
		return s, nil, faults
	}
	if doc.Kind == jsondoc.Object {
		if of := doc.Get("extends"); of != nil && of.Kind == jsondoc.String {
			base := next.docs[of.Text]
			if base == nil {
				return s, nil, fault.List{of.Fault(fault.BadName, "extends", fmt.Sprintf("There is no profile %q to extend.", of.Text), fault.DidYouMean(of.Text, next.names))}
			}
			doc = overlay(base, doc)
		}
	}
	if faults = profileShape.check(doc); len(faults) > 0 {
		return s, nil, faults
	}
	if f := doc.Get("format"); f.Text != itoa(ProfileFormat) {
		return s, nil, fault.List{f.Fault(fault.FormatUnknown, "format", fmt.Sprintf("This program reads format %d, but the file has format %s.", ProfileFormat, f.Text), "Convert the profile to format 1, or use a newer program.")}
	}
	p, err := decode(doc)
	if err != nil { // the shape was checked
		return s, nil, fault.List{{Code: fault.WrongType, What: err.Error(), Fix: "Compare the file with the format's reference."}}
	}
	if faults = p.contradictions(doc); len(faults.Hard()) > 0 {
		return s, nil, faults
	}
	if next.profiles[p.Name] == nil {
		next.names = append(next.names, p.Name)
	}
	next.profiles[p.Name], next.docs[p.Name] = p, doc
	return next, p, faults
}

func decode(doc *jsondoc.Value) (*Profile, error) {
	text, err := json.Marshal(doc.Plain())
	if err != nil {
		return nil, err
	}
	var p Profile
	return &p, json.Unmarshal(text, &p)
}

// overlay returns base with the differences in own. Places are matched by name; all other lists are
// replaced.
func overlay(base, own *jsondoc.Value) *jsondoc.Value {
	out := base.Clone()
	for _, m := range own.Members {
		i := slices.IndexFunc(out.Members, func(have jsondoc.Member) bool { return have.Key == m.Key })
		switch {
		case i < 0:
			out.Members = append(out.Members, m)
		case m.Key == "places" && m.Value.Kind == jsondoc.Array:
			out.Members[i].Value = overlayPlaces(out.Members[i].Value, m.Value)
		case (m.Key == "takes" || m.Key == "steps" || m.Key == "editor" || m.Key == "pages") && m.Value.Kind == jsondoc.Object:
			out.Members[i].Value = overlay(out.Members[i].Value, m.Value)
		default:
			out.Members[i] = m
		}
	}
	return out
}

func overlayPlaces(base, own *jsondoc.Value) *jsondoc.Value {
	for _, place := range own.Items {
		i := slices.IndexFunc(base.Items, func(have *jsondoc.Value) bool { return have.TextOf("name") == place.TextOf("name") })
		if i < 0 || place.Kind != jsondoc.Object {
			base.Items = append(base.Items, place)
		} else {
			base.Items[i] = overlay(base.Items[i], place)
		}
	}
	return base
}

// UnmarshalJSON reads rules. Missing ones are those of a place of this kind that changes nothing.
func (r *Rules) UnmarshalJSON(text []byte) error {
	var kind struct{ As string }
	if err := json.Unmarshal(text, &kind); err != nil {
		return err
	}
	type plain Rules
	filled := plain(usual(kind.As))
	if err := json.Unmarshal(text, &filled); err != nil {
		return err
	}
	*r = Rules(filled)
	return nil
}
