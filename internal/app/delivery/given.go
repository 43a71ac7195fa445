package delivery

import (
	"context"
	"fmt"
	"strings"

	"glasspocket/internal/fault"
	"glasspocket/internal/problem"
	"glasspocket/internal/render"
	"glasspocket/internal/setting"
)

// Limits of a page's overrides in one pocket.
const (
	GivenMost      = 8   // settings
	GivenBytesMost = 512 // bytes of the query
)

// Given is a page's override of a setting.
type Given struct{ Name, Value string } // Name as in data-set-NAME

// ServeGiven renders the live version under key with overrides of settings that the widget allows.
// The names must be sorted and unique, so that a page always makes the same request. It returns nil
// if nothing is published, or the pocket is withheld.
func (a *Delivery) ServeGiven(ctx context.Context, key string, given []Given) (*render.Encoded, error) {
	pub, withheld, err := a.Visited(ctx, key)
	if pub == nil || withheld || err != nil {
		return nil, err
	}
	subject, err := a.Subject(ctx, pub.ReleaseID, *pub)
	if err != nil {
		return nil, err
	}
	values, faults := readGiven(subject.Release.Schema, given)
	if len(faults) > 0 {
		return nil, problem.Faulty("setting-not-taken", "This pocket cannot use the values that the page sets: "+faults[0].What, faults)
	}
	subject.Settings, faults = subject.Release.Schema.Complete(subject.Settings.Give(values))
	if len(faults) > 0 {
		return nil, problem.Faulty("setting-not-taken", "This pocket cannot use the values that the page sets: "+faults[0].What, faults)
	}
	if _, err := a.Dress(ctx, pub.CustomerID, pub.Sources, &subject); err != nil {
		return nil, err
	}
	answer, faults := a.site.Answer(subject)
	if len(faults) > 0 {
		return nil, problem.Faulty("view-stopped", "The widget's view stopped with an error.", faults)
	}
	return &answer, nil
}

func readGiven(schema *setting.Schema, given []Given) (setting.Values, fault.List) {
	if len(given) > GivenMost {
		return nil, fault.List{{Code: fault.ValueLength, What: fmt.Sprintf("The page sets %d settings; the limit is %d.", len(given), GivenMost), Fix: "Set fewer, or make a separate pocket for this page."}}
	}
	values := setting.Values{}
	var faults fault.List
	var names []string
	for _, s := range schema.Settings {
		if s.Override {
			names = append(names, setting.Kebab(s.Key))
		}
	}
	for i, g := range given {
		if i > 0 && given[i-1].Name >= g.Name {
			return nil, fault.List{{Code: fault.KeyTwice, Field: g.Name, What: fmt.Sprintf("%q is repeated or out of order.", g.Name), Fix: "Name each setting once, in alphabetical order."}}
		}
		s := overridden(schema, g.Name)
		if s == nil {
			faults = append(faults, fault.Fault{Field: g.Name, Code: fault.SettingUnknown, What: fmt.Sprintf("A page cannot set %q.", g.Name), Fix: mayBeSet(g.Name, names)})
			continue
		}
		value, more := s.Given(strings.TrimSpace(g.Value))
		faults = append(faults, more...)
		values[s.Key] = value
	}
	return values, faults
}

func mayBeSet(name string, names []string) string {
	if len(names) == 0 {
		return "Pages cannot set any values of this widget."
	}
	return fault.DidYouMean(name, names)
}

func overridden(schema *setting.Schema, name string) *setting.Setting {
	for _, s := range schema.Settings {
		if s.Override && setting.Kebab(s.Key) == name {
			return s
		}
	}
	return nil
}
