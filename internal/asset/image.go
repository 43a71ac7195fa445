package asset

import (
	"bytes"
	"fmt"
	"image"
	"image/color"
	"image/gif"
	"image/jpeg"
	"image/png"
	"strings"

	"golang.org/x/image/draw"
	_ "golang.org/x/image/webp" // registers the decoder
)

// PixelsMost is the largest number of pixels in an image. It is checked before decoding, because a
// few bytes can claim any size.
const PixelsMost = 40_000_000

// Widths are the widths in which an image is served, if they are below its own. Each is at most one
// and a half times the next, so that a browser loads hardly more pixels than it shows. A flat drawing can have more bytes when it is smaller,
// but a page decodes all of an image's pixels.
var Widths = []int{2560, 1800, 1200, 800, 540, 360, 240, 160, 108, 81, 60}

const widest = 2560

// raster decodes an image and encodes it in several widths. Only the pixels remain: no location,
// camera or colour profile. The orientation is applied.
func raster(base string, src []byte) ([]Form, [][]byte, *trouble) {
	img, format, t := decode(src)
	if t != nil {
		return nil, nil, t
	}
	if format == "jpeg" {
		img = upright(img, orientation(src))
	}
	write, ending := writePNG, "png"
	if opaque(img) && format != "png" {
		write, ending = writeJPEG, "jpg"
	} else if opaque(img) && manyColours(img) {
		write, ending = writeJPEG, "jpg"
	}
	if img.Bounds().Dx() > widest {
		img = scale(img, widest)
	}
	var forms []Form
	var files [][]byte
	own := img.Bounds().Dx()
	for _, w := range append([]int{own}, Widths...) {
		if w > own || w == own && len(forms) > 0 {
			continue
		}
		form := img
		if w < own {
			form = scale(img, w)
		}
		var b bytes.Buffer
		if err := write(&b, form); err != nil {
			return nil, nil, &trouble{"cannot be converted: " + err.Error() + ".", "Save it in another program."}
		}
		name := fmt.Sprintf("%s-%d.%s", base, w, ending)
		forms = append(forms, Form{Name: name, Width: w, Height: form.Bounds().Dy()})
		files = append(files, b.Bytes())
	}
	return forms, files, nil
}

func decode(src []byte) (image.Image, string, *trouble) {
	if t := claims(src); t != nil {
		return nil, "", t
	}
	if t := scanned(src); t != nil {
		return nil, "", t
	}
	img, format, err := image.Decode(bytes.NewReader(src))
	if err != nil {
		return nil, "", &trouble{"cannot be read as an image: " + strings.TrimPrefix(err.Error(), "image: ") + ".", "It may be incomplete. Save it again as JPEG or PNG."}
	}
	return img, format, nil
}

// claims checks the size that an image claims to have.
func claims(src []byte) *trouble {
	c, _, err := image.DecodeConfig(bytes.NewReader(src))
	if err != nil {
		return &trouble{"cannot be read as an image: " + strings.TrimPrefix(err.Error(), "image: ") + ".", "It may be incomplete. Save it again as JPEG or PNG."}
	}
	if c.Width < 1 || c.Height < 1 || c.Width > PixelsMost/c.Height {
		return &trouble{fmt.Sprintf("claims to have %d × %d pixels; the limit is %d million in total.", c.Width, c.Height, PixelsMost/1_000_000), "Make it smaller: a width of 2,560 pixels is enough."}
	}
	return nil
}

func scale(img image.Image, width int) image.Image {
	b := img.Bounds()
	height := max(1, (b.Dy()*width+b.Dx()/2)/b.Dx())
	out := image.NewNRGBA(image.Rect(0, 0, width, height))
	draw.CatmullRom.Scale(out, out.Bounds(), img, b, draw.Src, nil)
	return out
}

func opaque(img image.Image) bool {
	if o, ok := img.(interface{ Opaque() bool }); ok {
		return o.Opaque()
	}
	return false
}

// manyColours distinguishes a photograph from a drawing by a sample of its pixels.
func manyColours(img image.Image) bool {
	if _, ok := img.(*image.Paletted); ok {
		return false
	}
	b := img.Bounds()
	seen := map[color.Color]bool{}
	for y := b.Min.Y; y < b.Max.Y; y += max(1, b.Dy()/64) {
		for x := b.Min.X; x < b.Max.X; x += max(1, b.Dx()/64) {
			if seen[img.At(x, y)] = true; len(seen) > 512 {
				return true
			}
		}
	}
	return false
}

func writePNG(b *bytes.Buffer, img image.Image) error {
	return (&png.Encoder{CompressionLevel: png.BestCompression}).Encode(b, img)
}

func writeJPEG(b *bytes.Buffer, img image.Image) error {
	return jpeg.Encode(b, img, &jpeg.Options{Quality: 82})
}

// animation keeps the frames of an animated GIF. Any other GIF is handled by raster.
func animation(base string, src []byte) ([]Form, [][]byte, *trouble) {
	if t := claims(src); t != nil {
		return nil, nil, t
	}
	// Frames are counted before decoding, because a few bytes can contain many empty frames.
	c, err := gif.DecodeConfig(bytes.NewReader(src))
	if n := frames(src); err == nil && n > 1 && n > PixelsMost/(c.Width*c.Height) {
		return nil, nil, &trouble{fmt.Sprintf("has %d frames of %d × %d pixels, which is too many.", n, c.Width, c.Height), "Make it smaller or shorter."}
	}
	all, err := gif.DecodeAll(bytes.NewReader(src))
	if err != nil {
		return nil, nil, &trouble{"cannot be read as a GIF: " + err.Error() + ".", "It may be incomplete. Save it again."}
	}
	if len(all.Image) == 1 {
		return raster(base, src)
	}
	var b bytes.Buffer
	if err := gif.EncodeAll(&b, all); err != nil {
		return nil, nil, &trouble{"cannot be converted to GIF: " + err.Error() + ".", "Save it in another program."}
	}
	return []Form{{Name: base + ".gif", Width: all.Config.Width, Height: all.Config.Height}}, [][]byte{b.Bytes()}, nil
}

// frames counts the frames of a GIF (GIF89a, section 20) without decoding them.
func frames(src []byte) (n int) {
	if len(src) < 13 {
		return 0
	}
	at := 13 + table(src[10])
	// A block's data is split into pieces, each after its length.
	pieces := func() {
		for at < len(src) && src[at] != 0 {
			at += 1 + int(src[at])
		}
		at++
	}
	for at < len(src) {
		switch src[at] {
		case 0x21: // an extension
			at += 2
			pieces()
		case 0x2c: // an image
			if n++; at+10 > len(src) {
				return n
			}
			at += 10 + table(src[at+9]) + 1
			pieces()
		default:
			return n
		}
	}
	return n
}

// table returns the size of a colour table in bytes, from the flags before it.
func table(flags byte) int {
	if flags&0x80 == 0 {
		return 0
	}
	return 3 << (flags&7 + 1)
}
