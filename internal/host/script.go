package host

const (
	hereWords = "in the content, where the widget shall stand"
	siteWords = "once in the page: its head, its footer or the site-wide code"
)

func script(s Subject, a Ask) []Part {
	r := a.Content
	own := tag(s.Base+"/s/"+s.Key+".js", "fetchpriority", a.Placing.priority())
	switch {
	case a.Head, !r.lets("point") && r.Scripts == "run": // the script finds its own tag
		return []Part{part("content", "in the content", r, true, own)}
	case a.Placing.Loading == "near" && !s.Floats:
		own = tag(s.Base + "/near.js")
	}
	return []Part{part("content", "in the content", r, true, s.point(a.Placing, r), own)}
}

func split(s Subject, a Ask) []Part {
	site := tag(s.Base + "/loader.js")
	if a.Placing.Loading == "near" && !s.Floats {
		site = tag(s.Base + "/near.js")
	}
	here := s.point(a.Placing, a.Content)
	if !a.Content.lets("point") { // a link that the site's script takes for a mount point
		words := s.words(a.Placing)
		here, site = el("a", attributes("href", s.page()), text(words)), tag(s.Base+"/links.js")
	}
	scripts := a.Script
	if scripts.As == "" {
		scripts = usual("markup")
	}
	return []Part{
		part("content", hereWords, a.Content, true, here),
		part("script", siteWords, scripts, true, site),
	}
}

func sealed(s Subject, a Ask) []Part {
	if s.Pinned == nil {
		return []Part{{Role: "content", Where: "in the content"}}
	}
	list := []element{tag(s.Pinned.Address, "integrity", s.Pinned.Integrity, "crossorigin", "anonymous")}
	if !a.Head && a.Content.lets("point") {
		list = append([]element{s.point(a.Placing, a.Content)}, list...)
	}
	return []Part{
		part("content", "in the content", a.Content, true, list...),
		{Role: "policy", Where: "in the page's content policy, when it has one", Text: s.Pinned.Policy},
	}
}
