package host

import "slices"

// point is the element that the loader fills; until then, and where no script runs, it
// holds the fallback.
// sure says that a script will fill it: only then is room kept for the widget. Where a host
// removes the script and keeps the style, the room would be a gap around a link.
func (s Subject) point(p Placing, r Rules, sure bool) element {
	point := el("div", attributes("data-glass-pocket", s.Key))
	style := ""
	switch {
	case s.Wraps: // a link would show in the widget's slot
		style = padding(s.Heights)
		point.lines, point.children = true, []element{{name: "!", text: "Your own content goes here."}}
	case s.Chooses: // most pages show nothing, and must not move
	case s.Floats && s.OfPage: // by itself it shows nothing
	case s.Floats: // a link would take room, and give it back
		if f := s.fallback(p); f.name != "" || f.text != "" {
			point.children = []element{el("noscript", nil, f)}
		}
	default:
		if height := s.reserved(p); height != "" {
			style = "min-height:" + height
		}
		if f := s.fallback(p); f.name != "" || f.text != "" {
			point.children = []element{f}
		}
	}
	if !sure && p.Height == 0 {
		style = ""
	}
	if r.Styles != "drop" {
		point.with = append(point.with, attributes("style", style)...)
		if box := p.box(); box != "" && !s.Floats {
			return el("div", attributes("style", box), point)
		}
	}
	return point
}

// reserved is the height that is kept for a widget until it stands, as a CSS length; "" for none.
func (s Subject) reserved(p Placing) string {
	if p.Height > 0 {
		return itoa(p.Height) + "px"
	}
	return Reserve(within(s.Heights, p.Width))
}

// words are those of a fallback or a link: what was chosen, else the pocket's title.
func (s Subject) words(p Placing) string {
	if p.Words != "" {
		return p.Words
	}
	return s.Title
}

// fallback is what stands in a mount point until the widget does.
func (s Subject) fallback(p Placing) element {
	words := s.words(p)
	switch p.Fallback {
	case "nothing":
		return text("")
	case "words":
		return text(words)
	}
	return el("a", attributes("href", s.page()), text(words))
}

// lets tells whether something of ours passes.
func (r Rules) lets(what string) bool {
	switch what {
	case "script":
		return slices.Contains([]string{"run", "move", "hold"}, r.Scripts)
	case "point":
		return r.Attributes != "drop"
	}
	return false
}
