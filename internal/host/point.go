package host

import "slices"

// point is the element that the loader fills. Until then, and where no script runs, it contains the
// fallback. sure says that a script will fill it; only then does it reserve space. Where a host
// removes the script but keeps the style, the space would be a gap around a link.
func (s Subject) point(p Placing, r Rules, sure bool) element {
	point := el("div", attributes("data-glass-pocket", s.Key))
	style := ""
	switch {
	case s.Wraps: // a link would show in the widget's slot
		style = padding(s.Heights)
		point.lines, point.children = true, []element{{name: "!", text: "Your own content goes here."}}
	case s.Chooses: // most pages show nothing, and must not move
	case s.Floats && s.OfPage: // its separate page shows nothing
	case s.Floats: // a link would take up space and release it again
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

// reserved returns the height that is reserved until the widget loads, as a CSS length, or "".
func (s Subject) reserved(p Placing) string {
	if p.Height > 0 {
		return itoa(p.Height) + "px"
	}
	return Reserve(within(s.Heights, p.Width))
}

// words returns the text of a fallback or a link: the chosen one, or the pocket's title.
func (s Subject) words(p Placing) string {
	if p.Words != "" {
		return p.Words
	}
	return s.Title
}

// fallback returns the content of a mount point until the widget loads.
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

// lets reports whether something of ours passes.
func (r Rules) lets(what string) bool {
	switch what {
	case "script":
		return slices.Contains([]string{"run", "move", "hold"}, r.Scripts)
	case "point":
		return r.Attributes != "drop"
	}
	return false
}
