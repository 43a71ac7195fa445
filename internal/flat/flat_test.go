package flat

import (
	"bytes"
	"image/png"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/host"
)

const board = `<div class="countdown"><p class="heading">The kiln opens again</p>
	<div role="timer"><div aria-hidden="true"><div class="digits">12</div><div>days</div></div><time class="spoken">12 days, 7 hours</time></div>
	<section hidden>Not yet</section><svg><title>Bell</title></svg>
	<img src="https://pockets.example/a/1/bowl.png" width="800" height="600" alt="A bowl"><img src="/a/1/bowl.svg" alt="drawn">
	<p>Bring <b>gloves</b> and<br>something to eat. <a href="https://kelp.example/now">See what came out</a> Soon.</p><a href="javascript:alert(1)">no</a></div>`

func TestRows(t *testing.T) {
	assert.Equal(t, []host.Row{
		{Kind: "heading", Words: "The kiln opens again"},
		{Kind: "words", Words: "12 days, 7 hours"},
		{Kind: "image", Words: "A bowl", Address: "https://pockets.example/a/1/bowl.png", Width: 800, Height: 600},
		{Kind: "words", Words: "Bring gloves and something to eat."},
		{Kind: "link", Words: "See what came out", Address: "https://kelp.example/now"},
		{Kind: "words", Words: "Soon."},
		{Kind: "words", Words: "no"},
	}, Rows(board))
	assert.Empty(t, Rows(""))
	long := Rows("<h2>Voices</h2>" + strings.Repeat("<article><p>Who</p><p>When</p><p>What</p></article>", 9))
	assert.Len(t, long, 13, "the heading and four whole items")
	assert.Equal(t, "What", long[12].Words)
}

func TestDraw(t *testing.T) {
	drawn, ok := Draw(Rows(board), Ground{Surface: "#0b3a53", Ink: "#ffffff", Accent: "#f3e2a0"})
	require.True(t, ok)
	img, err := png.Decode(bytes.NewReader(drawn))
	require.NoError(t, err)
	assert.Equal(t, Width*scale, img.Bounds().Dx())
	colours := map[[3]uint32]int{}
	for y := range img.Bounds().Dy() {
		for x := range img.Bounds().Dx() {
			r, g, b, _ := img.At(x, y).RGBA()
			colours[[3]uint32{r >> 8, g >> 8, b >> 8}]++
		}
	}
	assert.Greater(t, colours[[3]uint32{0x0b, 0x3a, 0x53}], 100_000, "the ground")
	assert.Greater(t, colours[[3]uint32{0xff, 0xff, 0xff}], 500, "the words")
	assert.Greater(t, colours[[3]uint32{0xf3, 0xe2, 0xa0}], 500, "the time left")
	// A word without an end is broken, and all of it is there.
	drawn, ok = Draw([]host.Row{{Kind: "words", Words: "See " + strings.Repeat("kelp", 60)}}, Ground{Surface: "#ffffff", Ink: "#000000"})
	require.True(t, ok)
	img, err = png.Decode(bytes.NewReader(drawn))
	require.NoError(t, err)
	assert.Greater(t, img.Bounds().Dy(), 4*30*scale)
	for y := range img.Bounds().Dy() {
		r, _, _, _ := img.At(img.Bounds().Dx()-20, y).RGBA()
		require.Equal(t, uint32(0xffff), r, "nothing is written over the edge")
	}
	_, ok = Draw([]host.Row{{Kind: "words", Words: "عد تنازلي"}}, Ground{})
	assert.False(t, ok, "letters that the font does not have")
	_, ok = Draw(nil, Ground{})
	assert.False(t, ok)
}

func FuzzRows(f *testing.F) {
	f.Add(board)
	f.Fuzz(func(t *testing.T, markup string) {
		rows := Rows(markup)
		assert.LessOrEqual(t, len(rows), rowsMost)
		Draw(rows, Ground{})
	})
}
