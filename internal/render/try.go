package render

import (
	"strings"

	"glasspocket/internal/fault"
	"glasspocket/internal/widget"
)

// PreviewedWidget is a widget under development, as a preview shows it.
type PreviewedWidget struct {
	// Payload has marked markup, no module, and only the style that settings make. The preview
	// applies the author's own stylesheet as written.
	Payload Payload
	// Script is the body of the function that the loader calls as the module, "" for none.
	Script string
	// ScriptLine is the number of lines of Script before the author's part, to which its source map
	// applies.
	ScriptLine int
}

// tryKey is the key of a preview without a pocket.
const tryKey = "worktop"

// Try renders a trial in a case. It sets s.Release and s.Settings.
func (site *Site) Try(t *widget.Trial, c widget.Case, s Subject) (PreviewedWidget, fault.List) {
	values, faults := t.In(c, s.Now)
	if len(faults) > 0 {
		return PreviewedWidget{}, faults
	}
	s.Key, s.Release, s.Settings, s.Language = tryKey, t.Release, values, c.Language
	if c.Turned && c.Language == "" {
		s.Language = t.RightToLeft()
	}
	p, faults := site.show(s)
	if len(faults) > 0 {
		return PreviewedWidget{}, faults
	}
	if c.Turned {
		p.Direction = "rtl"
	}
	script := site.mount(t.Release, site.table(t.Release, &p))
	// The author's part starts on a new line.
	before, after, own := strings.Cut(script, t.Built.Mount)
	if t.Built.Mount == "" || !own {
		return PreviewedWidget{Payload: p, Script: script}, nil
	}
	head := before + "\n"
	return PreviewedWidget{Payload: p, Script: head + t.Built.Mount + "\n" + after, ScriptLine: strings.Count(head, "\n")}, nil
}

// Bare returns a payload without the release's own style and script, for comparing.
func (site *Site) Bare(s Subject) (Payload, fault.List) { return site.show(s) }

// Whole has everything that draws a rendering in a preview, whether its release is stored or not.
type Whole struct {
	Payload Payload // with all of its style
	Script  string  // body of the function that the loader calls, "" for none
}

// Whole completes a bare payload.
func (site *Site) Whole(p Payload, r *widget.Release) Whole {
	script := site.mount(r, site.table(r, &p))
	p.Style = r.Built.Style + p.Style
	return Whole{Payload: p, Script: script}
}
