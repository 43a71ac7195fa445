package asset

import (
	"bytes"
	"encoding/binary"
	"hash/crc32"
	"image"
	"image/color"
	"image/gif"
	"image/jpeg"
	"image/png"
	"path"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/image/font/gofont/goregular"

	"glasspocket/internal/fault"
)

// photo is an image with many colours whose left half is red.
func photo(w, h int) image.Image {
	img := image.NewNRGBA(image.Rect(0, 0, w, h))
	for y := range h {
		for x := range w {
			img.Set(x, y, color.NRGBA{uint8(x * 7), uint8(y * 5), uint8(x * y), 255})
			if x < w/2 {
				img.Set(x, y, color.NRGBA{220, uint8(y % 40), uint8(x % 40), 255})
			}
		}
	}
	return img
}

func jpegOf(t testing.TB, img image.Image) []byte {
	var b bytes.Buffer
	require.NoError(t, jpeg.Encode(&b, img, nil))
	return b.Bytes()
}

// withExif puts an Exif segment with an orientation, and a place, behind a JPEG's beginning.
func withExif(src []byte, orientation uint16) []byte {
	tiff := []byte("MM\x00\x2a\x00\x00\x00\x08\x00\x01\x01\x12\x00\x03\x00\x00\x00\x01")
	tiff = append(binary.BigEndian.AppendUint16(tiff, orientation), "\x00\x00\x00\x00\x00\x00 GPS 62.1 N 6.8 W"...)
	segment := append([]byte("Exif\x00\x00"), tiff...)
	out := append([]byte{}, src[:2]...)
	out = append(out, 0xff, 0xe1)
	out = binary.BigEndian.AppendUint16(out, uint16(len(segment)+2))
	return append(append(out, segment...), src[2:]...)
}

func TestPictures(t *testing.T) {
	made, faults := Make("My Boat (1).JPG", withExif(jpegOf(t, photo(1200, 800)), 6))
	require.Empty(t, faults)
	assert.Equal(t, []any{"my-boat-1.jpg", Image, "image/jpeg", 800, 1200}, []any{made.Name, made.Kind, made.Type, made.Width, made.Height}, "turned upright")
	var widths []int
	for i, f := range made.Forms {
		widths = append(widths, f.Width)
		assert.Equal(t, len(made.Files[i]), f.Bytes)
		assert.NotContains(t, string(made.Files[i]), "GPS")
		assert.NotContains(t, string(made.Files[i]), "Exif")
		c, format, err := image.DecodeConfig(bytes.NewReader(made.Files[i]))
		require.NoError(t, err)
		assert.Equal(t, []any{"jpeg", f.Width, f.Height}, []any{format, c.Width, c.Height})
	}
	assert.Equal(t, []int{800, 540, 360, 240, 160, 108, 81, 60}, widths)
	assert.Equal(t, "my-boat-1-540.jpg", made.Forms[1].Name)
	top, err := jpeg.Decode(bytes.NewReader(made.Files[0]))
	require.NoError(t, err)
	r, g, _, _ := top.At(400, 100).RGBA()
	assert.True(t, r > 3*g, "what was left is up: turned by a quarter to the right")
	again, _ := Make("My Boat (1).JPG", withExif(jpegOf(t, photo(1200, 800)), 6))
	assert.Equal(t, made.Digest, again.Digest)

	var b bytes.Buffer
	clear := image.NewNRGBA(image.Rect(0, 0, 500, 100))
	clear.Set(1, 1, color.NRGBA{255, 0, 0, 90})
	require.NoError(t, png.Encode(&b, clear))
	made, faults = Make("mark.png", b.Bytes())
	require.Empty(t, faults)
	assert.Equal(t, "image/png", made.Type, "what lets through stays so")

	b.Reset()
	frame := image.NewPaletted(image.Rect(0, 0, 30, 20), color.Palette{color.Black, color.White})
	require.NoError(t, gif.EncodeAll(&b, &gif.GIF{Image: []*image.Paletted{frame, frame}, Delay: []int{5, 5}}))
	made, faults = Make("spin.png", b.Bytes())
	require.Empty(t, faults)
	assert.Equal(t, 2, frames(b.Bytes()))
	assert.Equal(t, []any{"spin.gif", "image/gif", 30}, []any{made.Name, made.Type, made.Width}, "known by its content, not by its name")
}

// A few hundred bytes that would be gigabytes when decoded are not decoded.
func TestManyFrames(t *testing.T) {
	frame := "\x2c\x00\x00\x00\x00\x70\x17\x70\x17\x00\x02\x02\x4c\x01\x00" // 6000 × 6000, cut off
	src := "GIF89a\x70\x17\x70\x17\x80\x00\x00\x00\x00\x00\xff\xff\xff" + strings.Repeat(frame, 200) + ";"
	assert.Equal(t, 200, frames([]byte(src)))
	_, faults := Make("film.gif", []byte(src))
	require.Len(t, faults, 1)
	assert.Contains(t, faults[0].What, "200 frames of 6000 × 6000")
}

// All eight orientations bring the same image upright.
func TestOrientations(t *testing.T) {
	upright_ := photo(40, 20)
	for how := 1; how <= 8; how++ {
		// What a camera stores is the image turned back.
		back := map[int]int{6: 8, 8: 6}[how]
		if back == 0 {
			back = how
		}
		stored := upright(upright_, back)
		got := upright(stored, orientation(withExif([]byte("\xff\xd8\xff\xda"), uint16(how))))
		require.Equal(t, upright_.Bounds(), got.Bounds(), how)
		for _, p := range []image.Point{{0, 0}, {39, 0}, {0, 19}, {39, 19}, {7, 3}} {
			assert.Equal(t, color.NRGBAModel.Convert(upright_.At(p.X, p.Y)), color.NRGBAModel.Convert(got.At(p.X, p.Y)), "%d at %v", how, p)
		}
	}
	assert.Equal(t, 1, orientation([]byte("\xff\xd8\xff\xe1\x00\x20Exif\x00\x00MM")))
}

// hugePNG claims a size in a few bytes.
func hugePNG(w, h uint32) []byte {
	head := binary.BigEndian.AppendUint32(binary.BigEndian.AppendUint32([]byte("IHDR"), w), h)
	head = append(head, 8, 2, 0, 0, 0)
	out := append([]byte("\x89PNG\r\n\x1a\n"), 0, 0, 0, 13)
	out = append(out, head...)
	return binary.BigEndian.AppendUint32(out, crc32.ChecksumIEEE(head))
}

func mp3() []byte {
	one := append([]byte{0xff, 0xfb, 0x90, 0x00}, make([]byte, 413)...) // 128 kbit/s at 44.1 kHz: 417 bytes
	return bytes.Repeat(one, 4)
}

func TestWhatIsTaken(t *testing.T) {
	svg := func(inner string) string {
		return `<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" viewBox="0 0 40.5 20">` + inner + `</svg>`
	}
	woff2 := append([]byte("wOF2OTTO\x00\x00\x00\x40\x00\x03\x00\x00"), make([]byte, 48)...)
	for _, c := range []struct {
		name, src string
		want      any // the media type, or the fault's code
		says      string
	}{
		{"a.svg", svg(`<path d="M0 0"/>`), "image/svg+xml", ""},
		{"a.svg", svg(`<style>.a{fill:red}</style><use xlink:href="#a"/>`), "image/svg+xml", ""},
		{"a.svg", svg(`<script>alert(1)</script>`), fault.AssetBroken, "<script> in line 1"},
		{"a.svg", svg(`<rect onload="x()"/>`), fault.AssetBroken, "attribute onload"},
		{"a.svg", svg(`<a href="javascript:x">t</a>`), fault.AssetBroken, "a link to"},
		{"a.svg", svg(`<image xlink:href="https://a.example/x.png"/>`), fault.AssetBroken, "a link to"},
		{"a.svg", svg(`<foreignObject/>`), fault.AssetBroken, "foreignObject"},
		{"a.svg", svg(`<style>@import "https://a.example/x.css"</style>`), fault.AssetBroken, "another server"},
		{"a.svg", svg(`<rect fill="url(https://a.example/#x)"/>`), fault.AssetBroken, "another server"},
		{"a.svg", `<!DOCTYPE svg [<!ENTITY a "b">]>` + svg(``), fault.AssetBroken, "entities"},
		{"a.svg", svg(`<g>`), fault.AssetBroken, "well-formed"},
		{"a.svg", `<svg xmlns="http://www.w3.org/2000/svg"/>`, fault.AssetBroken, "viewBox"},
		{"a.png", string(hugePNG(100000, 100000)), fault.AssetBroken, "100000 × 100000"},
		{"a.png", string(hugePNG(4000, 3000)), fault.AssetBroken, "cannot be read"},
		{"a.jpg", strings.Repeat("\xff\xd8\xff\xe0", 40<<18), fault.FileTooLarge, "40.0 MB"},
		{"a.mp3", string(mp3()), "audio/mpeg", ""},
		{"a.mp3", "ID3\x04\x00\x00\x00\x00\x00\x0a1234567890" + string(mp3()), "audio/mpeg", ""},
		{"a.mp3", "ID3\x04\x00\x00\x00\x00\x00\x0a1234567890 and no sound", fault.AssetBroken, "contains none"},
		{"a.mp3", "I am a sound, really", fault.AssetUnknown, "starts with"},
		{"a.ogg", "OggS\x00\x02" + strings.Repeat("\x00", 20) + "\x01vorbis", "audio/ogg", ""},
		{"a.ogg", "OggS" + strings.Repeat("\x00", 60) + "theora", fault.AssetBroken, "without sound"},
		{"a.wav", "RIFF\x24\x00\x00\x00WAVEfmt \x10\x00\x00\x00data", "audio/wav", ""},
		{"a.wav", "RIFF\x24\x00\x00\x00WAVEjunk", fault.AssetBroken, "contains none"},
		{"a.ttf", string(goregular.TTF), "font/ttf", ""},
		{"a.ttf", string(goregular.TTF[:300]), fault.AssetBroken, "cannot be read as a font"},
		{"a.woff2", string(woff2), "font/woff2", ""},
		{"a.woff2", string(woff2[:50]), fault.AssetBroken, "declares 64 bytes"},
		{"a.exe", "MZ\x90\x00", fault.AssetUnknown, "starts with"},
		{"a.png", "", fault.AssetUnknown, "is empty"},
		{"a.html", "<html><script>alert(1)</script><svg></svg>", fault.AssetUnknown, ""},
	} {
		made, faults := Make(c.name, []byte(c.src))
		if code, ok := c.want.(fault.Code); ok {
			if assert.Len(t, faults, 1, "%s %.60q", c.name, c.src) {
				assert.Equal(t, code, faults[0].Code, faults[0].What)
				assert.Contains(t, faults[0].What, c.says)
				assert.NotEmpty(t, faults[0].Fix)
			}
			continue
		}
		if assert.Empty(t, faults, c.name) {
			assert.Equal(t, c.want, made.Type)
			assert.Equal(t, made.Type, TypeOf(made.Forms[0].Name))
			assert.Equal(t, c.src, string(made.Files[0]), "taken as it is")
		}
	}
	made, _ := Make("a.svg", []byte(svg("")))
	assert.Equal(t, []int{41, 20}, []int{made.Width, made.Height})
}

func TestNames(t *testing.T) {
	for in, want := range map[string]string{"Boat.JPG": "boat", `C:\Users\me\Über uns 😀.png`: "ber-uns", "../../etc/passwd": "passwd", "": "asset", "😀.gif": "asset", strings.Repeat("a", 200) + ".png": strings.Repeat("a", 60)} {
		assert.Equal(t, want, Base(in), in)
		assert.Empty(t, NameFault(Folder+Base(in)+".png"))
	}
	for _, bad := range []string{"assets/Boat.jpg", "assets/a b.jpg", "assets/😀.jpg", "assets/x/y.jpg", "assets/a", "assets/.jpg", "assets/a.", "assets/a.superlong"} {
		assert.NotEmpty(t, NameFault(bad), bad)
	}
	assert.Equal(t, ".svg", path.Ext("assets/a.svg"))
}

// FuzzMake holds that no file panics, takes long, or becomes something that acts.
func FuzzMake(f *testing.F) {
	f.Add(jpegOf(f, photo(8, 8)))
	f.Add(hugePNG(70000, 70000))
	f.Add(mp3())
	f.Add([]byte(`<svg viewBox="0 0 1 1" onload="x"/>`))
	f.Add([]byte("GIF89a\x01\x00\x01\x00"))
	f.Add([]byte("RIFF\x24\x00\x00\x00WEBPVP8 "))
	f.Fuzz(func(t *testing.T, src []byte) {
		made, faults := Make("x", src)
		if (made == nil) == (len(faults) == 0) {
			t.Fatal("neither made nor refused")
		}
		if made != nil && (len(made.Forms) != len(made.Files) || len(made.Forms) == 0 || TypeOf(made.Name) == "") {
			t.Fatalf("%+v", made.Info)
		}
	})
}

// Scans are counted before any is decoded: a few bytes make one, and each takes as long as a whole
// image.
func TestScans(t *testing.T) {
	src := withExif(jpegOf(t, photo(64, 64)), 1)
	assert.Equal(t, 1, scans(src))
	end := src[len(src)-2:]
	more := func(n int) []byte {
		return append(append(bytes.Clone(src[:len(src)-2]), bytes.Repeat([]byte("\xff\xda\x00\x08\x01\x01\x00\x00\x3f\x00\x00\xff\x00\x12"), n)...), end...)
	}
	assert.Equal(t, 201, scans(more(200)))
	_, faults := Make("slow.jpg", more(200))
	require.Len(t, faults, 1)
	assert.Contains(t, faults[0].What, "201 scans")
	assert.NotNil(t, scanned(more(scansMost)))
	assert.Nil(t, scanned(more(scansMost-1)))
	for _, cut := range []int{1, 3, 9, len(src) / 2} {
		scans(src[:cut]) // whatever it is, it ends
	}
}
