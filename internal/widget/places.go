package widget

import (
	"fmt"
	"slices"

	"glasspocket/internal/fault"
	"glasspocket/internal/view"
)

// checkPlaces compares the slots and facts of the view with those that the manifest names:
// what it does not name nobody would find, and what the view does not have would be filled
// in vain.
func (r *Release) checkPlaces(m manifestDoc, add func(string, fault.List)) {
	slots, facts := make([]string, len(m.Slots)), make([]string, len(m.Facts))
	for i, s := range m.Slots {
		slots[i] = s.Name
	}
	for i, f := range m.Facts {
		facts[i] = f.Name
	}
	compare := func(key, noun string, declared []string, used []view.Place, elsewhere bool) {
		for _, p := range used {
			if !slices.Contains(declared, p.Name) {
				add(ViewFile, fault.List{{Line: p.Line, Column: p.Column, Field: p.Name, Code: fault.PlaceUnknown,
					What: fmt.Sprintf("The manifest names no %s %q.", noun, p.Name), Mend: fmt.Sprintf("Add it to %q in widget.json. %s", key, fault.DidYouMean(p.Name, declared))}})
			}
		}
		for i, name := range declared {
			if !elsewhere && !slices.ContainsFunc(used, func(p view.Place) bool { return p.Name == name }) {
				at := m.doc.Get(key).Items[i]
				add(ManifestFile, fault.List{at.Fault(fault.PlaceUnknown, name, fmt.Sprintf("The view has no %s %q.", noun, name), "Use it in the view, or remove it here.")})
			}
		}
	}
	compare("slots", "slot", slots, r.view.Slots(), false)
	// A text with facts in it, or the script, may use a fact too.
	compare("facts", "fact", facts, r.view.Facts(), r.view.Calls("withFacts") || r.Built.Mount != "")
}

// checkOverrides reports texts that a page may override and that no place in the view is
// marked for.
func (r *Release) checkOverrides() (faults fault.List) {
	for _, s := range r.Schema.Settings {
		if !s.Override || s.Look || slices.Contains(r.Manifest.Mount.Settings, s.Key) {
			continue
		}
		if s.Type == "text" && s.Format == "" && slices.ContainsFunc(r.view.Texts(), func(p view.Place) bool { return p.Name == s.Key }) {
			continue
		}
		faults = append(faults, fault.Fault{Line: s.Line, Column: s.Column, Field: s.Key, Code: fault.PlaceUnknown,
			What: fmt.Sprintf("A page may override %q, and nothing in the view shows where.", s.Key),
			Mend: fmt.Sprintf("Mark the element whose text it is, <p data-text=%q>{{.settings.%s}}</p>, or list it in the manifest's \"mount\".", s.Key, s.Key)})
	}
	return faults
}
