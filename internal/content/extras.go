package content

import (
	"strings"

	"glasspocket/internal/cue"
	"glasspocket/internal/fault"
)

// Extras are the fields of a Content besides the name, the language, the settings and the release.
// Every draft that the API returns has them.
type Extras struct {
	Cues cue.Cues `json:"cues"` // when and where it shows
}

// Change has new values of Extras. Missing ones stay unchanged.
type Change struct {
	// Cues are when and where it shows. They replace all earlier ones.
	Cues *cue.Cues `json:"cues,omitempty"`
}

// extras are the rows of the Extras in Fields.
var extras = []Field{
	{Key: "cues", Label: "Where and when it shows", Copied: true, Of: func(c *Content) any { return &c.Cues }, Words: func(c Content, _ int) string { return placesInWords(c.Cues) },
		Set: func(c *Content, to Change) bool {
			if to.Cues != nil {
				c.Cues = *to.Cues
			}
			return to.Cues != nil
		},
		Faulty: "Some addresses are not valid.",
		Clean: func(c *Content) (faults fault.List) {
			c.Cues, faults = c.Cues.Clean()
			return faults
		}},
}

// placesInWords describes where a pocket shows.
func placesInWords(c cue.Cues) string {
	if c.IsZero() {
		return "everywhere"
	}
	var parts []string
	if len(c.Only) > 0 {
		parts = append(parts, "at "+strings.Join(c.Only, ", "))
	}
	if len(c.Not) > 0 {
		parts = append(parts, "not at "+strings.Join(c.Not, ", "))
	}
	if c.OwnSites {
		sites := "on its customer's sites"
		if c.Local {
			sites += " and on a local computer"
		}
		parts = append(parts, sites)
	}
	return strings.Join(parts, "; ")
}
