package view_test

import (
	"fmt"
	"math"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/bundle"
	"glasspocket/internal/setting"
	"glasspocket/internal/shape"
	"glasspocket/internal/view"
	"glasspocket/internal/widget"
	"glasspocket/widgets"
)

// A program writes what html/template writes, byte for byte: for every widget, starter and
// language, and with hostile values in every place. It may give up, but not for a widget
// of ours with values as people have them.
func TestProgramAgrees(t *testing.T) {
	hostile := []any{
		`<b>"Tea" & 'kiln'</b>`, "javascript:alert(1)", "", "a\x00b\xff{{.}}", "https://a.example/?x=1&y='%3C\" (z)", "١٢ żółć 🏺", "`;</script>",
		shape.Link("tel:200300"), shape.Link(`javascript:alert("1")`), shape.Link(""), shape.Markup("<p>a &amp; <em>b</em></p>"),
		math.Copysign(0, -1), 1e21, 0.1, 1e6, 2147483648.0, -7.0, true, false, nil, []any{}, []any{"x"}, map[string]any{}, 3,
	}
	now := time.Now()
	for _, name := range widgets.Names {
		t.Run(name, func(t *testing.T) {
			t.Parallel()
			folder, err := widgets.Folder(name)
			require.NoError(t, err)
			files, _, err := widget.Collect(folder)
			require.NoError(t, err)
			r, faults := widget.Read(files, bundle.Builder{})
			require.Empty(t, faults)
			v, faults := view.Open(files[widget.ViewFile], nil)
			require.Empty(t, faults)
			sample, faults := r.Sample(now)
			require.Empty(t, faults)
			for i, starter := range append([]widget.Starter{{}}, r.Starters...) {
				values := setting.Values{}
				for _, from := range []setting.Values{sample, starter.Settings} {
					for k, e := range from {
						values[k] = e
					}
				}
				complete, faults := r.Schema.Complete(values)
				require.Empty(t, faults)
				for _, lang := range r.Manifest.Languages {
					d := r.Seen(complete, lang, now, setting.World{Base: "https://p.example"})
					require.True(t, same(t, v, d), "%s %s: html/template had to render it", starter.Name, lang)
				}
				if i > 1 {
					continue // the starters differ in few settings
				}
				d := r.Seen(complete, "en", now, setting.World{Base: "https://p.example"})
				d.Settings = copied(d.Settings).(map[string]any)
				places(d.Settings, func(put func(any)) {
					for _, value := range hostile {
						put(value)
						same(t, v, d)
					}
				})
			}
		})
	}
}

// same tells whether the program rendered; if so, as html/template does.
func same(t *testing.T, v *view.View, d view.Data) bool {
	got, ok := view.ByProgram(v, d)
	if !ok {
		return false
	}
	want, err := view.ByTemplate(v, d)
	require.NoError(t, err, "the program went on where html/template stops")
	if got != want {
		i := 0
		for i < min(len(got.Markup), len(want.Markup)) && got.Markup[i] == want.Markup[i] {
			i++
		}
		clip := func(s string) string { return s[max(0, i-60):min(len(s), i+60)] }
		require.Equal(t, clip(want.Markup), clip(got.Markup))
		require.Equal(t, want.Style, got.Style)
	}
	return true
}

// places calls with every value at any depth, by what puts another in its place; the old
// one is put back afterwards.
func places(in any, call func(put func(any))) {
	at := func(old any, put func(any)) {
		call(put)
		put(old)
		places(old, call)
	}
	switch in := in.(type) {
	case map[string]any:
		for k, old := range in {
			at(old, func(v any) { in[k] = v })
		}
	case []any:
		for i, old := range in[:min(len(in), 1)] {
			at(old, func(v any) { in[i] = v })
		}
	}
}

// copied is a copy to be written into: renderings share what settings without a value show.
func copied(v any) any {
	switch v := v.(type) {
	case map[string]any:
		c := map[string]any{}
		for k, e := range v {
			c[k] = copied(e)
		}
		return c
	case []any:
		c := make([]any, len(v))
		for i, e := range v {
			c[i] = copied(e)
		}
		return c
	}
	return v
}

// What a view may say, and what programs and html/template could take in different ways.
var phrases = []string{
	`{{range $i, $e := .settings.items}}{{if $i}}, {{end}}{{$e.title}}{{else}}none{{end}}`,
	`{{range $e := .settings.items}}{{$e.title}}{{$.language}}{{end}}`,
	`{{range .settings.parts}}{{.}}{{else}}<p>none</p>{{end}}{{range $i := 3}}{{$i}}{{end}}{{range 2}}.{{end}}`,
	`{{range $k, $v := .settings.day}}{{$k}}={{$v}} {{end}}`,
	`{{$x := 1}}{{range .settings.items}}{{$x = plus $x 1}}{{end}}{{$x}}`,
	`{{with $p := .settings.photo}}{{$p.alt}}{{.alt}}{{else}}no{{end}}{{with .settings.nothing}}x{{else}}{{.language}}{{end}}`,
	`{{if and .settings.on .settings.text}}a{{end}}{{if or .settings.nothing .settings.on}}b{{end}}{{and .settings.on "x"}}{{or "" "y"}}`,
	`{{if eq .settings.layout "row" "stack"}}r{{end}}{{if ne .settings.size 12.0}}n{{end}}{{if lt 1 2}}l{{end}}{{if ge .settings.size 12.0}}g{{end}}{{if gt "b" "a"}}s{{end}}{{if le 2 2}}e{{end}}`,
	`{{len .settings.items}}{{len .settings.text}}{{not .settings.on}}{{(index .settings.items 0).title}}{{index .settings.day "iso"}}`,
	`{{define "x"}}{{$y := .title}}<i>{{$y}}{{$.title}}</i>{{end}}{{range .settings.items}}{{template "x" .}}{{end}}{{$z := 2}}{{$z}}`,
	`<a href="{{.settings.link}}" title='{{.settings.heading}}'>{{.settings.heading}}</a><a href="https://a.example/{{.settings.text}}?q={{.settings.heading}}">x</a>`,
	`<textarea>{{.settings.heading}}</textarea><p title={{.settings.text}}></p><p class="{{if .settings.on}}on{{end}} {{.settings.layout}}">{{.settings.story}}</p><p title="{{.settings.story}}"></p>`,
	`{{.settings.size}} {{1.5}} {{-3}} {{1e3}} {{0x10}} {{true}} {{.settings.on}} {{number .settings.size 0}} {{number 5 1}} {{'a'}}`,
	`{{withFacts .settings.heading}}{{icon "star"}}<h2 {{heading "3"}}>x</h2><a {{linkTo .settings.more}}>x</a>{{image .settings.photo "1px" .settings.layout}}`,
	`<p class="{{vary "a" .settings.size}} {{vary "a" 3}} {{vary "b" "#aabbcc"}}"></p>{{say "days" .settings.size}}{{say "days" 1 .settings.size}}`,
	`{{with ratings .settings.items}}{{.count}}{{range .steps}}{{.value}}{{end}}{{end}}{{range atMost .settings.items 2}}{{.title}}{{end}}{{money .settings.price}}{{date .settings.day "full"}}`,
	`{{range timeLeft .settings.target "hours-minutes"}}{{.digits}}{{end}}{{if hasPassed .settings.target}}p{{end}}{{numberAt 0 9 (fromNow -1 0 0) .settings.target 1}}{{dateOf .settings.target "short"}}{{timeOf .settings.target}}{{initials .settings.text}}`,
	`{{range .settings.items}}{{if .title}}{{break}}{{end}}{{end}}`, `{{block "b" .settings}}{{.heading}}{{end}}`, `<svg><path d="M0 {{.settings.size}}"/></svg>`, "<p>{{/* a */}} {{- .language -}} </p>",
	`<img srcset="{{.settings.link}}">`, `<p data-x="{{.settings.items}}">{{.settings.nothing}}</p>`, `{{.language.x}}`, `{{template "none"}}`, `{{eq .settings.size 12}}`, `{{index .settings.items 9}}`,
}

func TestProgramOfEveryPhrase(t *testing.T) {
	ran := 0
	for _, phrase := range phrases {
		if v, _ := view.Parse([]byte(phrase), nil); v != nil {
			t.Run(phrase, func(t *testing.T) {
				if same(t, v, hostileData()) {
					ran++
				}
			})
		}
	}
	// What no program runs: break, sources of several sizes, and what stops anyway.
	assert.GreaterOrEqual(t, ran, len(phrases)-10, fmt.Sprint(len(phrases)))
}

func hostileData() view.Data {
	d := view.HostileData
	d.Settings["nothing"] = ""
	return d
}

// FuzzProgram holds that a program never disagrees with html/template.
func FuzzProgram(f *testing.F) {
	for _, phrase := range phrases {
		f.Add(phrase, `a "b" <c>`)
	}
	f.Fuzz(func(t *testing.T, text, value string) {
		v, _ := view.Parse([]byte(text), nil)
		if v == nil {
			return
		}
		d := hostileData()
		d.Settings["text"] = value
		same(t, v, d)
	})
}
