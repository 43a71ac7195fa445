// Package host writes the text to paste into a page, for one pocket and delivery form.
package host

import (
	"fmt"
	"html"
	"strings"

	"glasspocket/internal/widget"
)

// Form is a way in which a pocket reaches a page.
type Form string

// The delivery forms. A host that strips one still takes a later one.
const (
	Script Form = "script" // one paste: mount point and script together
	Split  Form = "split"  // mount point in the content, script once in the page
	Frame  Form = "frame"  // an iframe, for hosts that strip scripts
)

// Forms lists the delivery forms in the order in which to try them.
var Forms = []Form{Script, Split, Frame}

// Snippet is what to paste, in one or more places.
type Snippet struct {
	Form  Form   `json:"form"`
	About string `json:"about"` // when to use it, a sentence
	Parts []Part `json:"parts"`
}

// Part is the exact text for one place.
type Part struct {
	Where string `json:"where"`
	Text  string `json:"text"`
}

// Subject is the pocket that a snippet is for.
type Subject struct {
	Base    string // public address
	Key     string
	Title   string
	Heights []widget.Height // empty reserves nothing
	Floats  bool            // it lies over the page and takes no room in it
	Wraps   bool            // content within the mount point shows in the widget
}

// Fits lists the forms that a widget can be delivered in: what lies over the page cannot
// lie in a frame, and a frame holds no content of the page.
func (s Subject) Fits(form Form) bool { return form != Frame || !s.Floats && !s.Wraps }

// Write returns the snippet for form, or false when there is no such form.
func Write(form Form, s Subject) (Snippet, bool) {
	switch form {
	case Script:
		return Snippet{form, "Paste this once, where the widget shall stand.", []Part{
			{"in the content", s.mountPoint() + "\n" + fmt.Sprintf(`<script async src="%s/s/%s.js"></script>`, s.Base, s.Key)},
		}}, true
	case Split:
		return Snippet{form, "For pages with several pockets, and for hosts that take scripts only in one place for the whole site.", []Part{
			{"in the content, where the widget shall stand", s.mountPoint()},
			{"once in the page: its head, its footer or the site-wide code", fmt.Sprintf(`<script async src="%s/loader.js"></script>`, s.Base)},
		}}, true
	case Frame:
		tallest := 0
		for _, h := range s.Heights {
			tallest = max(tallest, h.Height)
		}
		height := ""
		if tallest > 0 {
			height = fmt.Sprintf(` height="%d"`, tallest)
		}
		return Snippet{form, "For hosts that strip scripts and take frames.", []Part{
			{"in the content", fmt.Sprintf(`<iframe src="%s/p/%s" title="%s" width="100%%"%s style="border:0" loading="lazy"></iframe>`, s.Base, s.Key, html.EscapeString(s.Title), height)},
		}}, true
	}
	return Snippet{}, false
}

// mountPoint is the element that the loader fills; until then, and where no script runs,
// it is a link to the pocket's own page.
func (s Subject) mountPoint() string {
	link := fmt.Sprintf(`<a href="%s/p/%s">%s</a>`, s.Base, s.Key, html.EscapeString(s.Title))
	switch {
	case s.Wraps: // a link would show in the widget's slot
		return fmt.Sprintf(`<div data-glass-pocket="%s"%s>`, s.Key, s.around()) + "\n  <!-- Your own content goes here. -->\n</div>"
	case s.Floats: // a link would take room, and give it back
		return fmt.Sprintf(`<div data-glass-pocket="%s"><noscript>%s</noscript></div>`, s.Key, link)
	}
	style := ""
	if r := Reserve(s.Heights); r != "" {
		style = fmt.Sprintf(` style="min-height:%s"`, r)
	}
	return fmt.Sprintf(`<div data-glass-pocket="%s"%s>%s</div>`, s.Key, style, link)
}

// around keeps the room above and below the page's own content, so that the content stays
// where it is when the widget comes. The loader takes the padding away.
func (s Subject) around() string {
	above, below := make([]widget.Height, len(s.Heights)), make([]widget.Height, len(s.Heights))
	for i, h := range s.Heights {
		above[i] = widget.Height{From: h.From, Height: h.Above}
		below[i] = widget.Height{From: h.From, Height: h.Height - h.Above}
	}
	if len(s.Heights) == 0 {
		return ""
	}
	return fmt.Sprintf(` style="padding-top:%s;padding-bottom:%s"`, Reserve(above), Reserve(below))
}

// Reserve writes heights by viewport width as one CSS length. A style attribute cannot
// hold a media query, so each step is a clamp that is 0 before its width and whole from
// it on: the factor makes one pixel of width enough.
func Reserve(heights []widget.Height) string {
	if len(heights) == 0 {
		return ""
	}
	var b strings.Builder
	fmt.Fprintf(&b, "%dpx", heights[0].Height)
	steps := 0
	for i, h := range heights[1:] {
		switch d := h.Height - heights[i].Height; {
		case d > 0:
			fmt.Fprintf(&b, " + clamp(0px,(100vw - %dpx)*9999,%dpx)", h.From-1, d)
			steps++
		case d < 0:
			fmt.Fprintf(&b, " + clamp(%dpx,(%dpx - 100vw)*9999,0px)", d, h.From-1)
			steps++
		}
	}
	if steps == 0 {
		return b.String()
	}
	return "calc(" + b.String() + ")"
}
