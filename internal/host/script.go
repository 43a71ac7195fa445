package host

const (
	placeWords = "in the content, where the widget goes"
	siteWords  = "once in the page: in its head, its footer or the site-wide code"
)

func script(s Subject, a Ask) []Part {
	r := a.Content
	own := tag(s.Base+"/s/"+s.Key+".js", "fetchpriority", a.Placing.priority())
	switch {
	case a.Head, !r.lets("point") && r.Scripts == "run": // the script finds its own tag
		return []Part{part("content", "in the content", r, true, own)}
	case s.waits(a.Placing):
		own = tag(s.loader(a.Placing))
	}
	return []Part{part("content", "in the content", r, true, s.point(a.Placing, r, r.keepsScripts()), own)}
}

// waits reports whether nothing is loaded until the widget's place is near the visible area. A
// widget above the page has no place.
func (s Subject) waits(p Placing) bool { return p.Loading == "near" && !s.Floats }

// loader returns the address of the script that fills mount points.
func (s Subject) loader(p Placing) string {
	if s.waits(p) {
		return s.Base + "/near.js"
	}
	return s.Base + "/loader.js"
}

func split(s Subject, a Ask) []Part {
	site := tag(s.loader(a.Placing))
	here := s.point(a.Placing, a.Content, a.Script.keepsScripts())
	if !a.Content.lets("point") { // a link that the site's script converts to a mount point
		words := s.words(a.Placing)
		here, site = el("a", attributes("href", s.page()), text(words)), tag(s.Base+"/links.js")
	}
	return []Part{
		part("content", placeWords, a.Content, true, here),
		part("script", siteWords, a.Script, true, site),
	}
}

func sealed(s Subject, a Ask) []Part {
	if s.Pinned == nil {
		return []Part{{Role: "content", Where: "in the content"}}
	}
	list := []element{tag(s.Pinned.Address, "integrity", s.Pinned.Integrity, "crossorigin", "anonymous")}
	if !a.Head && a.Content.lets("point") {
		list = append([]element{s.point(a.Placing, a.Content, a.Content.keepsScripts())}, list...)
	}
	return []Part{
		part("content", "in the content", a.Content, true, list...),
		{Role: "policy", Where: "in the page's content policy, if it has one", Text: s.Pinned.Policy},
	}
}
