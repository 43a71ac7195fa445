package host

import (
	"fmt"
	"strings"

	"glasspocket/internal/widget"
)

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

// padding keeps the room above and below the page's own content, for a widget that wraps
// such, so that the content stays where it is when the widget comes. The loader takes the
// padding away.
func padding(heights []widget.Height) string {
	if len(heights) == 0 {
		return ""
	}
	above, below := make([]widget.Height, len(heights)), make([]widget.Height, len(heights))
	for i, h := range heights {
		above[i] = widget.Height{From: h.From, Height: h.Above}
		below[i] = widget.Height{From: h.From, Height: h.Height - h.Above}
	}
	return "padding-top:" + Reserve(above) + ";padding-bottom:" + Reserve(below)
}

// within are the heights of what gets no wider than so many CSS pixels: those from a greater
// width on never hold.
func within(heights []widget.Height, width string) (list []widget.Height) {
	px, ok := strings.CutSuffix(width, "px")
	if !ok {
		return heights
	}
	for _, h := range heights {
		if h.From == 0 || h.From <= atoi(px) {
			list = append(list, h)
		}
	}
	return list
}

// measured is the narrowest width at which heights are measured, in CSS pixels.
const measured = 312

// HeightAt is the height at a width, both in CSS pixels; 0 when there are none. Narrower than what
// was measured, text takes the same area, so that the height grows as the width shrinks.
func HeightAt(heights []widget.Height, width int) (height int) {
	for _, h := range heights {
		if h.From <= width {
			height = h.Height
		}
	}
	if width < measured && width > 0 {
		height = (height*measured + width - 1) / width
	}
	return min(height, widget.HeightMost)
}

// tallest is the greatest of heights, 0 when there are none.
func tallest(heights []widget.Height) (most int) {
	for _, h := range heights {
		most = max(most, h.Height)
	}
	return most
}
