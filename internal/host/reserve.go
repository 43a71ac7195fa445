package host

import (
	"fmt"
	"strings"

	"glasspocket/internal/widget"
)

// Reserve writes heights by viewport width as one CSS length. Style attributes cannot contain a
// media query, so each step is a clamp that is 0 below its width and complete from that width on:
// because of the factor, one pixel is enough.
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

// padding reserves the space above and below the page's own content, for a widget that wraps it, so
// that the content does not move when the widget loads. The loader then removes the padding.
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

// within returns the heights that apply up to a width in CSS pixels, without those for larger
// widths.
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

// measured is the smallest width at which heights are measured, in CSS pixels.
const measured = 312

// HeightAt returns the height at a width, both in CSS pixels, or 0 if there are no heights. Below
// the smallest measured width, text is assumed to cover the same area, so the height grows as the
// width shrinks.
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

// tallest returns the largest of heights, or 0.
func tallest(heights []widget.Height) (most int) {
	for _, h := range heights {
		most = max(most, h.Height)
	}
	return most
}
