package widget

import (
	"fmt"
	"slices"

	"glasspocket/internal/fault"
	"glasspocket/internal/setting"
	"glasspocket/internal/view"
)

// checkPlaces compares the slots and facts of the view with those of the manifest: nobody would
// find one that the manifest does not name, and one that the view does not have would be filled in
// vain.
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
					What: fmt.Sprintf("The manifest does not list the %s %q.", noun, p.Name), Fix: fmt.Sprintf("Add it to %q in widget.json. %s", key, fault.DidYouMean(p.Name, declared))}})
			}
		}
		for i, name := range declared {
			if !elsewhere && !slices.ContainsFunc(used, func(p view.Place) bool { return p.Name == name }) {
				at := m.doc.Get(key).Items[i]
				add(ManifestFile, fault.List{at.Fault(fault.PlaceUnknown, name, fmt.Sprintf("The view does not use the %s %q.", noun, name), "Use it in the view, or delete it here.")})
			}
		}
	}
	compare("slots", "slot", slots, r.view.Slots(), false)
	// Texts that contain facts, and the script, use facts too.
	compare("facts", "fact", facts, r.view.Facts(), r.view.Calls("withFacts") || r.Built.Mount != "")
}

// Asks reports whether the service must render a page's override of a setting, because a script
// cannot check the type, or the view makes markup of it. A page's script applies properties,
// attributes, an element's text and the mount module's settings by itself.
func (r *Release) Asks(s *setting.Setting) bool {
	if !slices.Contains(setting.InPageTypes, s.Type) || s.Format != "" || s.Pattern != "" || s.MinLength > 0 {
		return true
	}
	if s.IsText() && slices.ContainsFunc(r.view.Texts(), func(p view.Place) bool { return p.Name == s.Key }) {
		return false
	}
	return r.view.Uses(s.Key)
}
