package host

import "strings"

func frame(s Subject, a Ask) []Part {
	p, r := a.Placing, a.Content
	height := p.Height
	if height == 0 {
		height = tallest(within(s.Heights, p.Width))
	}
	if r.As == "text" && r.Links == "embed" { // the host loads what the link leads to
		return []Part{{Role: "address", Where: "on its own line", Text: s.page()}}
	}
	if r.As == "address" {
		return []Part{{Role: "address", Where: "in the address field", Text: s.page("background", strings.TrimPrefix(p.Background, "#"))}}
	}
	size, border := "", ""
	style, inside := "border:0;width:100%", "" // as an attribute, only whole pixels are valid (HTML, section 4.8.5)
	if box := p.box(); box != "" {
		style += ";display:block;" + box
	}
	if r.Styles == "drop" {
		size, style, border, inside = "100%", "", "0", strings.TrimPrefix(p.Background, "#")
		if px, ok := strings.CutSuffix(p.Width, "px"); ok {
			size = px
		} else if p.Width != "" {
			size = p.Width
		}
	}
	tall := ""
	if height > 0 {
		tall = itoa(height)
	}
	loading := "lazy"
	if p.Loading == "early" {
		loading = ""
	}
	parts := []Part{part("content", "in the content", r, true,
		el("iframe", attributes("src", s.page("background", inside), "title", s.Title, "width", size, "height", tall, "style", style, "frameborder", border, "loading", loading)))}
	if a.Fits {
		parts = append(parts, part("script", siteWords+", so that the frame is as tall as its content", a.Script, true, tag(s.Base+"/fit.js")))
	}
	return parts
}

// The default screen size, in CSS pixels.
const (
	screenWidth  = 640
	screenHeight = 360
)

// Size returns the screen's width and height in CSS pixels.
func (s Subject) Size(p Placing) (width, height int) {
	width, height = screenWidth, screenHeight
	if tall := tallest(s.Heights); tall > 0 {
		height = tall
	}
	if px, ok := strings.CutSuffix(p.Width, "px"); ok {
		width = atoi(px)
	}
	if p.Height > 0 {
		height = p.Height
	}
	return width, height
}

func screen(s Subject, a Ask) []Part {
	width, height := s.Size(a.Placing)
	return []Part{{Role: "address", Where: "in the source's address field", Text: s.page("w", itoa(width), "h", itoa(height), "background", strings.TrimPrefix(a.Placing.Background, "#"))}}
}
