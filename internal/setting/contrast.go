package setting

import (
	"math"
	"strconv"
)

// ContrastLeast is the lowest contrast for text (WCAG 2.2, success criterion 1.4.3).
const ContrastLeast = 4.5

// Contrast returns the contrast ratio of a text's colour and its background (WCAG 2.2, "contrast
// ratio"), from 1 to 21, or 0 if either is not a colour. Translucent colours are blended with what
// is below them; below the background is white.
func Contrast(ink, on string) float64 {
	a, ok1 := rgba(ink)
	b, ok2 := rgba(on)
	if !ok1 || !ok2 {
		return 0
	}
	b = over(b, [4]float64{1, 1, 1, 1})
	x, y := luminance(over(a, b)), luminance(b)
	return (math.Max(x, y) + 0.05) / (math.Min(x, y) + 0.05)
}

// rgba reads a colour in canonical form. Each part is from 0 to 1.
func rgba(c string) (p [4]float64, ok bool) {
	if !colourForm.MatchString(c) {
		return p, false
	}
	p[3] = 1
	for i := range (len(c) - 1) / 2 {
		n, _ := strconv.ParseUint(c[1+2*i:3+2*i], 16, 8)
		p[i] = float64(n) / 255
	}
	return p, true
}

func over(a, b [4]float64) (p [4]float64) {
	for i := range 3 {
		p[i] = a[i]*a[3] + b[i]*(1-a[3])
	}
	p[3] = 1
	return p
}

func luminance(p [4]float64) float64 {
	linear := func(c float64) float64 {
		if c <= 0.04045 {
			return c / 12.92
		}
		return math.Pow((c+0.055)/1.055, 2.4)
	}
	return 0.2126*linear(p[0]) + 0.7152*linear(p[1]) + 0.0722*linear(p[2])
}
