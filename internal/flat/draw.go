package flat

import (
	"bytes"
	"image"
	"image/color"
	"image/draw"
	"image/png"
	"strconv"
	"strings"
	"sync"
	"unicode/utf8"

	"golang.org/x/image/font"
	"golang.org/x/image/font/gofont/gobold"
	"golang.org/x/image/font/gofont/goregular"
	"golang.org/x/image/font/opentype"
	"golang.org/x/image/font/sfnt"
	"golang.org/x/image/math/fixed"

	"glasspocket/internal/host"
)

// Width is the width of an image as shown, in CSS pixels. The image itself has twice as many.
const Width = 600

const scale = 2

// Ground has the colours of an image, each "#rrggbb"; "" selects a default.
type Ground struct{ Surface, Ink, Accent string }

var fonts = sync.OnceValues(func() (list [2]*opentype.Font, err error) {
	for i, ttf := range [][]byte{goregular.TTF, gobold.TTF} {
		if list[i], err = opentype.Parse(ttf); err != nil {
			return list, err
		}
	}
	return list, nil
})

// Draw draws rows of words as a PNG. It returns false if there is nothing to draw, or if our font
// lacks letters: the words beside the image remain.
func Draw(rows []host.Row, g Ground) ([]byte, bool) {
	list, err := fonts()
	if err != nil {
		return nil, false
	}
	type line struct {
		words  string
		face   font.Face
		colour color.Color
		height int
	}
	surface, ink, accent := colourOf(g.Surface, color.RGBA{0xf1, 0xf6, 0xf4, 0xff}), colourOf(g.Ink, color.RGBA{0x17, 0x23, 0x3a, 0xff}), colourOf(g.Accent, color.RGBA{0x0b, 0x6b, 0x63, 0xff})
	face := func(bold bool, size float64) (font.Face, error) {
		f := list[0]
		if bold {
			f = list[1]
		}
		return opentype.NewFace(f, &opentype.FaceOptions{Size: size * scale, DPI: 72, Hinting: font.HintingNone})
	}
	heading, err := face(true, 26)
	if err != nil {
		return nil, false
	}
	words, err := face(false, 19)
	if err != nil {
		return nil, false
	}
	var large []font.Face // the largest that fits on one line
	for _, size := range []float64{30, 25, 21} {
		f, err := face(true, size)
		if err != nil {
			return nil, false
		}
		large = append(large, f)
	}
	const pad = 28 * scale
	var lines []line
	height := 0
	for _, row := range rows {
		if row.Kind == "image" || row.Kind == "link" {
			continue
		}
		if !written(list[0], row.Words) {
			return nil, false
		}
		one := line{face: words, colour: ink, height: 30 * scale}
		switch {
		case row.Kind == "heading":
			one = line{face: heading, colour: ink, height: 40 * scale}
		case strings.ContainsAny(row.Words, "0123456789") && len(row.Words) < 60: // the part that matters most
			one = line{face: large[0], colour: accent, height: 46 * scale}
			for _, f := range large {
				if one.face = f; font.MeasureString(f, row.Words).Ceil() <= Width*scale-2*pad {
					break
				}
			}
		}
		for _, text := range wrap(one.face, row.Words, Width*scale-2*pad) {
			one.words = text
			lines = append(lines, one)
			height += one.height
		}
		if len(lines) > 8 {
			break
		}
	}
	if len(lines) == 0 {
		return nil, false
	}
	img := image.NewRGBA(image.Rect(0, 0, Width*scale, height+2*pad))
	draw.Draw(img, img.Bounds(), image.NewUniform(surface), image.Point{}, draw.Src)
	y := pad
	for _, l := range lines {
		m := l.face.Metrics()
		base := y + (l.height+m.Ascent.Round()-m.Descent.Round())/2
		d := font.Drawer{Dst: img, Src: image.NewUniform(l.colour), Face: l.face, Dot: fixed.P(pad, base)}
		d.DrawString(l.words)
		y += l.height
	}
	var b bytes.Buffer
	if err := (&png.Encoder{CompressionLevel: png.BestSpeed}).Encode(&b, img); err != nil {
		return nil, false
	}
	return b.Bytes(), true
}

// written reports whether a font has all letters of a text.
func written(f *opentype.Font, text string) bool {
	var b sfnt.Buffer
	for _, r := range text {
		if i, err := f.GlyphIndex(&b, r); err != nil || i == 0 {
			return false
		}
	}
	return true
}

// wrap breaks text into lines of at most width pixels of the image: between words, and within words
// that are longer than a line.
func wrap(face font.Face, text string, width int) (lines []string) {
	fits := func(s string) bool { return font.MeasureString(face, s).Ceil() <= width }
	line := ""
	for _, word := range strings.Fields(text) {
		longer := strings.TrimSpace(line + " " + word)
		if line != "" && !fits(longer) {
			lines, longer = append(lines, line), word
		}
		line = longer
		for !fits(line) && utf8.RuneCountInString(line) > 1 {
			end := 0
			for i, r := range line {
				if next := i + utf8.RuneLen(r); i > 0 && !fits(line[:next]) {
					break
				} else {
					end = next
				}
			}
			lines, line = append(lines, line[:end]), line[end:]
		}
	}
	return append(lines, line)
}

func colourOf(text string, otherwise color.RGBA) color.RGBA {
	if len(text) < 7 || text[0] != '#' {
		return otherwise
	}
	n, err := strconv.ParseUint(text[1:7], 16, 32)
	if err != nil {
		return otherwise
	}
	return color.RGBA{uint8(n >> 16), uint8(n >> 8), uint8(n), 0xff}
}
