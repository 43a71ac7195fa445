package view

import (
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/fault"
	"glasspocket/internal/message"
	"glasspocket/internal/shape"
)

var data = Data{
	Settings: map[string]any{
		"heading": `<b>"Tea" & 'kiln'</b>`, "link": shape.Link("tel:200300"), "text": "javascript:alert(1)", "on": true, "size": 12.0, "most": 12500000.25,
		"target": map[string]any{"at": float64(200_000_500), "utc": "1970-01-03T07:33:20Z", "local": "1970-01-03T07:33:20", "zone": "UTC"},
	},
	Messages: message.Catalogue{"days": {"one": "{count} day", "other": "{count} days"}},
	Language: "en",
	Now:      time.UnixMilli(0),
}

func init() {
	for k, v := range map[string]any{
		"layout": "row", "parts": []any{"date"}, "story": shape.Markup("<p>a &amp; <em>b</em></p>"), "price": map[string]any{"amount": 1250.0, "currency": "EUR"},
		"day": map[string]any{"iso": "2027-05-01", "year": 2027.0, "month": 5.0, "day": 1.0}, "more": map[string]any{"address": shape.Link(`https://a.example/?x=1&y="`), "target": "_blank"},
		"photo": map[string]any{"shown": true, "address": shape.Link("https://p.example/b-800.jpg"), "alt": `A "boat"`, "width": 800.0, "height": 600.0, "focusX": 20.0, "focusY": 50.0,
			"forms": []any{map[string]any{"address": shape.Link("https://p.example/b-800.jpg"), "width": 800.0, "height": 600.0}, map[string]any{"address": shape.Link("https://p.example/b-320.jpg"), "width": 320.0, "height": 240.0}}},
		"items": []any{
			map[string]any{"title": "A", "rating": map[string]any{"shown": true, "value": 5.0, "best": 5.0}}, map[string]any{"title": "B", "rating": map[string]any{"shown": true, "value": 2.0, "best": 5.0}},
			map[string]any{"title": "D", "rating": map[string]any{"shown": true, "value": 0.0, "best": 5.0}},
			map[string]any{"title": "C", "rating": map[string]any{"shown": false, "value": 0.0, "best": 5.0}},
		},
	} {
		data.Settings[k] = v
	}
}

var types = map[string]*shape.Type{"heading": shape.Text, "link": shape.Address, "text": shape.Text, "on": shape.Switch, "layout": shape.OneOf("row", "stack"), "parts": shape.ListOf(shape.Text), "photo": shape.Image, "more": shape.LinkTo, "price": shape.Money, "day": shape.Day, "story": shape.HTML, "items": shape.ListOf(shape.Object("", map[string]*shape.Type{"rating": shape.Rating, "title": shape.Text})), "size": shape.Number, "most": shape.Number, "target": shape.Moment}

func TestRender(t *testing.T) {
	for _, c := range []struct{ name, view, want string }{
		{"text is escaped", `<p>{{.settings.heading}}</p>`, `<p>&lt;b&gt;&#34;Tea&#34; &amp; &#39;kiln&#39;&lt;/b&gt;</p>`},
		{"attribute is escaped", `<p title="{{.settings.heading}}"></p>`, `<p title="&lt;b&gt;&#34;Tea&#34; &amp; &#39;kiln&#39;&lt;/b&gt;"></p>`},
		{"a link setting keeps tel", `<a href="{{.settings.link}}">x</a>`, `<a href="tel:200300">x</a>`},
		{"plurals", `{{say "days" 1}}, {{say "days" 2}}`, `1 day, 2 days`},
		{"time left, rounded up", `{{range timeLeft .settings.target "days-hours-minutes-seconds"}}{{.digits}}:{{end}}`, `2:07:33:21:`},
		{"time left in two units", `{{range timeLeft .settings.target "hours-minutes"}}{{.value}} {{.unit}} {{end}}`, `55 hours 33 minutes `},
		{"a number on its way", `{{numberAt 0 1000000 (fromNow -1 0 0) (fromNow 3 0 0) 0}} {{numberAt 10 0 (fromNow -1 0 0) (fromNow 2 0 0) 1}}`, `250,000 6.7`},
		{"a number cut off before its end", `{{numberAt 0 100 (fromNow -9 0 0) (fromNow 0 0 1) 0}}`, `99`},
		{"a number not begun, and over", `{{numberAt 5 100 (fromNow 1 0 0) (fromNow 2 0 0) 0}} {{numberAt 5 100 (fromNow -2 0 0) (fromNow -1 0 0) 0}} {{numberAt 5 100 (fromNow 0 0 0) (fromNow 0 0 0) 0}}`, `5 100 100`},
		{"included template", `{{define "x"}}<i>{{.}}{{say "days" 5}}</i>{{end}}{{template "x" .language}}`, `<i>en5 days</i>`},
		{"else branches", `{{if hasPassed .settings.target}}<p>over</p>{{else}}<p>on</p>{{end}}`, `<p>on</p>`},
		{"sanitised markup stays", `<div>{{.settings.story}}</div>`, `<div><p>a &amp; <em>b</em></p></div>`},
		{"several choices", `{{if has .settings.parts "date"}}yes{{end}}{{if has .settings.parts "photo"}}no{{end}}`, `yes`},
		{"a heading's level", `<div {{heading "3"}}>x</div><div {{heading "none"}}>y</div>`, `<div role="heading" aria-level="3">x</div><div >y</div>`},
		{"a link's attributes", `<a {{linkTo .settings.more}}>x</a>`, `<a href="https://a.example/?x=1&amp;y=&#34;" rel="ugc nofollow noopener" target="_blank">x</a>`},
		{"numbers are decimals", `{{.settings.most}} <p title="{{.settings.most}}">{{range .settings.items}}{{.rating.best}}{{end}}</p>{{.settings.size}}`, `12500000.25 <p title="12500000.25">5555</p>12`},
		{"money and numbers", `{{money .settings.price}} {{number 1234.5 1}}`, `€12.50 1,234.5`},
		{"dates", `{{date .settings.day "long"}}, {{dateOf .settings.target "short"}}, {{timeOf .settings.target}}`, `1 May 2027, 03/01/1970, 07:33`},
		{"an image in its sizes", `{{image .settings.photo "50vw" "p"}}`, `<img class="p v0" src="https://p.example/b-800.jpg" srcset="https://p.example/b-800.jpg 800w, https://p.example/b-320.jpg 320w" sizes="50vw" width="800" height="600" alt="A &#34;boat&#34;" decoding="async">`},
		{"only the first image is not lazy", `{{image .settings.photo "50vw"}}{{image .settings.photo "50vw"}}`, `<img class="v0" src="https://p.example/b-800.jpg" srcset="https://p.example/b-800.jpg 800w, https://p.example/b-320.jpg 320w" sizes="50vw" width="800" height="600" alt="A &#34;boat&#34;" decoding="async"><img class="v0" src="https://p.example/b-800.jpg" srcset="https://p.example/b-800.jpg 800w, https://p.example/b-320.jpg 320w" sizes="50vw" width="800" height="600" alt="A &#34;boat&#34;" loading="lazy" decoding="async">`},
		{"a stored release's name for an image", `{{picture .settings.photo "50vw" "p"}}`, `<img class="p v0" src="https://p.example/b-800.jpg" srcset="https://p.example/b-800.jpg 800w, https://p.example/b-320.jpg 320w" sizes="50vw" width="800" height="600" alt="A &#34;boat&#34;" decoding="async">`},
		{"ratings", `{{with ratings .settings.items}}{{.count}} {{number .average 2}} {{range .steps}}{{.value}}:{{.count}} {{end}}{{end}}`, `3 2.33 5:1 4:0 3:0 2:1 1:1 `},
		{"the first few", `{{range atMost .settings.items 1}}{{.title}}{{end}} {{plus 1 2}} {{initials "runa of aldersey"}}`, `A 3 RA`},
		{"a stored release's name for it", `{{range first 1 .settings.items}}{{.title}}{{end}}`, `A`},
		{"facts have places", `<p>{{withFacts "Hello {firstName} <b>"}}</p>`, `<p>Hello <span data-fact="firstName"></span> &lt;b&gt;</p>`},
		{"an icon", `{{if icon "star"}}y{{end}}{{icon "nothing"}}`, `y`},
		{"SVG", `<svg viewBox="0 0 1 1"><path d="M0 0"/></svg>`, `<svg viewBox="0 0 1 1"><path d="M0 0"/></svg>`},
	} {
		t.Run(c.name, func(t *testing.T) {
			v, faults := Parse([]byte(c.view), types)
			require.Empty(t, faults)
			out, faults := v.Render(data)
			require.Empty(t, faults)
			assert.Equal(t, c.want, out.Markup)
		})
	}
}

// What one element has for itself becomes a rule of the rendering's own sheet.
func TestVary(t *testing.T) {
	v, faults := Parse([]byte(`<i class="{{vary "part" 0.25}} {{vary "ink" "#112233"}} {{vary "part" 0.25}}">{{image .settings.photo "1px"}}</i>`), types)
	require.Empty(t, faults)
	out, faults := v.Render(data)
	require.Empty(t, faults)
	assert.Contains(t, out.Markup, `<i class="v0 v1 v0">`)
	assert.Equal(t, ".v0{--part:0.25}.v1{--ink:#112233}.v2{object-position:20% 50%}", out.Style)
	for _, bad := range []string{`{{vary "part" "1;color:red"}}`, `{{vary "--x" 1}}`, `{{vary "a" "url(x)"}}`} {
		v, faults = Parse([]byte(`<i class="`+bad+`"></i>`), types)
		require.Empty(t, faults)
		_, faults = v.Render(data)
		require.Len(t, faults, 1, bad)
		assert.Equal(t, fault.ViewRun, faults[0].Code)
	}
}

func TestFences(t *testing.T) {
	for _, c := range []struct {
		name, view   string
		code         fault.Code
		line, column int
	}{
		{"a fact without hidden", `<p data-when-fact="firstName">x</p>`, fault.ViewAttribute, 1, 4},
		{"attributes as text", `<p>{{heading .settings.heading}}</p>`, fault.ViewType, 1, 6},
		{"a choice that cannot be", `{{if eq .settings.layout "rwo"}}x{{end}}`, fault.ViewType, 1, 26},
		{"a picture of a text", `{{image .settings.heading "100vw"}}`, fault.ViewType, 1, 9},
		{"syntax", "<p>\n{{if .settings.on}</p>", fault.ViewSyntax, 2, 18},
		{"never ended", "<p>{{if .settings.on}}</p>", fault.ViewSyntax, 1, 4},
		{"unknown function", "<p>{{shout .settings.on}}</p>", fault.ViewFunction, 1, 6},
		{"printf", `<p>{{printf "%99999999d" 1}}</p>`, fault.ViewFunction, 1, 6},
		{"trusted markup", "<p>\n  {{html .settings.on}}</p>", fault.ViewFunction, 2, 5},
		{"call", "{{call .settings.on}}", fault.ViewFunction, 1, 3},
		{"pipe", "{{.settings.on | len}}", fault.ViewFunction, 1, 18},
		{"unknown setting", "<p>{{.settings.hedding}}</p>", fault.ViewField, 1, 15},
		{"unknown setting through $", "{{with .language}}{{$.settings.nope}}{{end}}", fault.ViewField, 1, 31},
		{"endless loop", "{{range 1000000000}}{{end}}", fault.ViewTooMuch, 0, 0},
		{"too much output", "{{range 100000}}" + strings.Repeat("x", 200) + "{{end}}", fault.ViewTooMuch, 0, 0},
		{"recursion", `{{define "a"}}{{template "b"}}{{end}}{{define "b"}}{{template "a"}}{{end}}{{template "a"}}`, fault.ViewRecursion, 1, 63},
		{"script", "<div>\n<script>1</script></div>", fault.ViewTag, 2, 1},
		{"handler", `<p class="a" onclick="x()"></p>`, fault.ViewAttribute, 1, 14},
		{"style attribute", `<p style="color:{{.settings.heading}}"></p>`, fault.ViewAttribute, 1, 4},
		{"srcdoc", `<p srcdoc="{{.settings.heading}}"></p>`, fault.ViewAttribute, 1, 4},
		{"animated link", `<svg><a><animate attributeName="href" values="{{.settings.heading}}"/></a></svg>`, fault.ViewAttribute, 1, 18},
		{"not closed", "<div>\n <p></div>", fault.ViewBalance, 2, 2},
		{"closes nothing", "<p></p></i>", fault.ViewBalance, 1, 8},
		{"half a branch", "{{if .settings.on}}<p>{{end}}x", fault.ViewBalance, 1, 20},
		{"self-closed", "<div/>", fault.ViewBalance, 1, 1},
		{"replaced link", `<a href="{{.settings.text}}">x</a>`, fault.ViewReplaced, 1, 12},
		{"replaced link of a variable", `{{$x := .settings.heading}}<a title="x"` + "\n" + ` href='{{$x}}'>x</a>`, fault.ViewReplaced, 2, 10},
		{"replaced picture", `<img src="{{say "days" 1}}">`, fault.ViewReplaced, 1, 13},
		{"list of addresses", `<img srcset="{{.settings.link}} 2x">`, fault.ViewReplaced, 1, 16},
		{"name of an attribute", `<p {{.settings.text}}="x"></p>`, fault.ViewReplaced, 1, 6},
		{"a link in an included template", `{{define "a"}}<a href="{{.}}">x</a>{{end}}{{template "a" .settings.text}}`, fault.ViewReplaced, 1, 26},
		{"field of a text", `{{.settings.heading.size}}`, fault.ViewField, 1, 20},
		{"field inside with", `{{with .settings.target}}{{.zone}}{{.at2}}{{end}}`, fault.ViewField, 1, 37},
		{"dot inside range", `{{range timeLeft .settings.target "days"}}{{.settings.on}}{{end}}`, fault.ViewField, 1, 45},
		{"dot inside define", `{{define "a"}}{{.settings.on}}{{end}}{{template "a" .language}}`, fault.ViewField, 1, 17},
		{"field of a variable", `{{$m := .settings.target}}{{$m.day}}`, fault.ViewField, 1, 31},
		{"an object shown", `<p>{{.settings.target}}</p>`, fault.ViewType, 1, 6},
		{"a list shown", `{{timeLeft .settings.target "days"}}`, fault.ViewType, 1, 3},
		{"range over a text", `{{range .settings.heading}}{{end}}`, fault.ViewType, 1, 9},
		{"range over a switch", `{{range .settings.on}}{{end}}`, fault.ViewType, 1, 9},
		{"moment wanted", `{{hasPassed .settings.heading}}`, fault.ViewType, 1, 13},
		{"text wanted", `{{range timeLeft .settings.target .settings.size}}{{end}}`, fault.ViewType, 1, 35},
		{"count wanted by a setting", `{{range timeLeft .settings.target "days"}}{{numberAt .value 1 $.settings.target $.settings.target 0}}{{end}}`, fault.ViewType, 1, 54},
		{"too many arguments", `{{hasPassed .settings.target 1}}`, fault.ViewType, 1, 3},
		{"arguments to a value", `{{.settings.heading 1}}`, fault.ViewType, 1, 3},
		{"number against count", `{{if eq .settings.size 12}}x{{end}}`, fault.ViewType, 1, 24},
		{"text against number", `{{if lt .settings.size "12"}}x{{end}}`, fault.ViewType, 1, 24},
		{"object compared", `{{if eq .settings.target .settings.target}}x{{end}}`, fault.ViewType, 1, 9},
		{"order of switches", `{{if lt .settings.on true}}x{{end}}`, fault.ViewType, 1, 9},
		{"too many for not", `{{if not .settings.on true}}x{{end}}`, fault.ViewType, 1, 6},
		{"too few for ne", `{{if ne .settings.heading}}x{{end}}`, fault.ViewType, 1, 6},
		{"length of a number", `{{len .settings.size}}`, fault.ViewType, 1, 7},
		{"index into a text", `{{index .settings.heading 0}}`, fault.ViewType, 1, 9},
		{"index of no setting", `{{index .settings "hading"}}`, fault.ViewField, 1, 19},
		{"variable set to another type", `{{$x := "a"}}{{if .settings.on}}{{$x = .settings.on}}{{end}}{{$x}}`, fault.ViewType, 1, 35},
		{"in a template that nothing includes", `{{define "a"}}{{shout}}{{end}}`, fault.ViewFunction, 1, 17},
		{"loop that skips", "{{range 1000000000}}{{continue}}{{end}}", fault.ViewTooMuch, 0, 0},
		{"templates that double", doubling(24), fault.ViewTooMuch, 0, 0},
		{"slice", `{{slice .settings.heading 0 1}}`, fault.ViewFunction, 1, 3},
		{"trusted script", `{{js .settings.heading}}`, fault.ViewFunction, 1, 3},
		{"form elsewhere", `<form><button formaction="{{.settings.link}}">x</button></form>`, fault.ViewAttribute, 1, 15},
		{"frame", `<iframe src="{{.settings.link}}"></iframe>`, fault.ViewTag, 1, 1},
		{"base", `<base href="{{.settings.link}}">`, fault.ViewTag, 1, 1},
		{"meta", `<meta http-equiv="refresh" content="0">`, fault.ViewTag, 1, 1},
		{"style element", "<style>p{}</style>", fault.ViewTag, 1, 1},
		{"declarative root", `<div><template shadowrootmode="open"></template></div>`, fault.ViewTag, 1, 6},
		{"HTML inside SVG", `<svg><foreignObject></foreignObject></svg>`, fault.ViewTag, 1, 6},
		{"set link by SVG", `<svg><a><set attributeName="xlink:href" to="x"/></a></svg>`, fault.ViewAttribute, 1, 14},
		{"handler of any name", "<p\n onanything='x'></p>", fault.ViewAttribute, 2, 2},
		{"type in a template that nothing includes", `{{define "a"}}{{hasPassed "x"}}{{end}}`, fault.ViewType, 1, 27},
		{"too large", strings.Repeat(" ", SourceMost+1), fault.FileTooLarge, 0, 0},
		{"misspelt top field", "{{.setings.on}}", fault.ViewField, 1, 3},
		{"fixed key without message", `{{say "weeks"}}`, fault.ViewRun, 1, 3},
		{"wrong context", "{{if .settings.on}}<p title='{{else}}<p title=\"{{end}}", fault.ViewSyntax, 0, 0},
	} {
		t.Run(c.name, func(t *testing.T) {
			v, faults := Parse([]byte(c.view), types)
			if v != nil {
				_, faults = v.Render(data)
			}
			require.NotEmpty(t, faults)
			f := faults[0]
			assert.Equal(t, c.code, f.Code, f.String())
			if c.line > 0 {
				assert.Equal(t, [2]int{c.line, c.column}, [2]int{f.Line, f.Column}, f.String())
			}
			assert.NotEmpty(t, f.Fix)
		})
	}
}

// No tag and no attribute that is refused gets in, whatever stands around it.
func TestRefusedMarkup(t *testing.T) {
	for _, tag := range refusedTags {
		_, faults := Parse([]byte("<p>x</p><"+tag+">"), types)
		require.NotEmpty(t, faults, tag)
		assert.Equal(t, fault.ViewTag, faults[0].Code, tag)
	}
	for _, name := range refusedAttributes {
		_, faults := Parse([]byte("<p class=a "+strings.ToUpper(name)+"=b>x</p>"), types)
		require.NotEmpty(t, faults, name)
		assert.Equal(t, fault.ViewAttribute, faults[0].Code, name)
	}
	for _, must := range []string{"script", "style", "base", "meta", "link", "iframe", "frame", "object", "embed", "applet", "portal", "template", "noscript", "plaintext", "xmp", "foreignobject"} {
		assert.Contains(t, refusedTags, must)
	}
	for _, must := range []string{"style", "srcdoc", "ping", "formaction", "background", "is"} {
		assert.Contains(t, refusedAttributes, must)
	}
}

// What is known before a view runs may be wrong for once: it stops while it runs, too.
func TestRunTimeFences(t *testing.T) {
	v, faults := Parse([]byte(`<a href="{{.settings.link}}">x</a>`), types)
	require.Empty(t, faults)
	for code, settings := range map[fault.Code]map[string]any{
		fault.ViewReplaced: {"link": "javascript:alert(1)"}, // a renderer that forgot to make it a Link
		fault.ViewField:    {"other": "x"},
	} {
		out, faults := v.Render(Data{Settings: settings})
		require.Len(t, faults, 1)
		assert.Equal(t, code, faults[0].Code)
		assert.Empty(t, out)
	}
}

// doubling is templates each of which includes the next one twice.
func doubling(n int) string {
	var b strings.Builder
	for i := range n {
		fmt.Fprintf(&b, `{{define "t%d"}}{{template "t%d"}}{{template "t%d"}}{{end}}`, i, i+1, i+1)
	}
	fmt.Fprintf(&b, `{{define "t%d"}}{{end}}{{template "t0"}}`, n)
	return b.String()
}

// What is fine stays fine: types are no pretext.
func TestTypesThatFit(t *testing.T) {
	for _, view := range []string{
		`{{with .settings.target}}{{.zone}} {{$.settings.heading}}{{end}}`,
		`{{range $i, $part := timeLeft .settings.target "days-hours"}}{{if gt $i 0}}, {{end}}{{$part.value}}{{.digits}}{{end}}`,
		`{{range 3}}{{.}}{{end}}{{range $n := 2}}{{$n}}{{end}}`,
		`{{$m := .settings.target}}{{if .settings.on}}{{$m = fromNow 1 2.5 .settings.size}}{{end}}{{$m.utc}}`,
		`{{if and (eq .settings.heading "a" "b") (gt .settings.size 11.5) (not .settings.on)}}x{{end}}`,
		`{{if eq .settings.link .settings.text}}x{{end}}{{len .settings.heading}}{{index .settings "heading"}}`,
		`{{with $x := .settings.heading}}{{$x}}{{else}}{{say "days" 1}}{{end}}`,
		`{{define "row"}}<b>{{.unit}}</b>{{end}}{{range timeLeft .settings.target "days"}}{{template "row" .}}{{end}}`,
		`{{range $key, $value := .settings}}{{$key}}{{end}}`,
		`<a href="https://a.example/{{.settings.text}}?q={{.settings.heading}}">{{or .settings.heading .settings.text}}</a>`,
		`{{(index (timeLeft .settings.target "days") 0).digits}}`,
		`{{block "b" .settings}}{{.heading}}{{end}}`,
	} {
		v, faults := Parse([]byte(view), types)
		require.Empty(t, faults, view)
		_, faults = v.Render(data)
		require.Empty(t, faults, view)
	}
}

// Each of the writer's limits stops by itself, whatever the other two would do.
func TestLimits(t *testing.T) {
	far := time.Now().Add(time.Hour)
	w := &writer{deadline: far}
	for range StepsMost {
		_, err := w.Write(nil)
		require.NoError(t, err)
	}
	_, err := w.Write(nil)
	assert.ErrorIs(t, err, errSteps)
	w = &writer{deadline: far}
	_, err = w.Write(make([]byte, BytesMost))
	require.NoError(t, err)
	_, err = w.Write([]byte{1})
	assert.ErrorIs(t, err, errBytes)
	w = &writer{deadline: time.Now().Add(-time.Second)}
	for err = nil; err == nil; {
		_, err = w.Write(nil)
	}
	assert.ErrorIs(t, err, errTime)
}

// FuzzParse holds that no view hangs, panics, places a fault outside its text, or writes
// a setting's markup unescaped.
func FuzzParse(f *testing.F) {
	for _, s := range []string{`<p title="{{.settings.heading}}">{{say "days" 2}}</p>`, "{{range 9}}{{end}}", "{{/* }} */}}<b>", `{{"}}"}}`, "<a href='{{.settings.link}}'></a>", "{{define \"a\"}}{{end}}"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, text string) {
		v, faults := Parse([]byte(text), types)
		lines := strings.Count(text, "\n") + 1
		for _, x := range faults {
			if x.Line > lines {
				t.Fatalf("fault outside the text: %v", x)
			}
		}
		if v == nil {
			return
		}
		if out, _ := v.Render(data); strings.Contains(out.Markup, `<b>"Tea"`) && !strings.Contains(text, `<b>"Tea"`) {
			t.Fatalf("unescaped: %s", out)
		}
	})
}

// Each nested loop doubles the escaper's work, so only a few levels are allowed, including those of
// included templates. If they were accepted, this test would not end.
func TestNestedLoops(t *testing.T) {
	in := func(n int, inner string) string {
		return strings.Repeat("{{range .settings.x}}", n) + inner + strings.Repeat("{{end}}", n)
	}
	for src, deep := range map[string]bool{
		in(rangesMost, "<p>a</p>"):   false,
		in(rangesMost+1, "<p>a</p>"): true,
		in(5000, "<p>a</p>"):         true,
		in(4, `{{template "a" $}}`) + `{{define "a"}}` + in(4, "<p>a</p>") + `{{end}}`:                                                                                                     false,
		in(5, `{{template "a" $}}`) + `{{define "a"}}` + in(4, "<p>a</p>") + `{{end}}`:                                                                                                     true,
		`{{template "a" .}}{{define "a"}}` + in(6, `{{template "b" $}}`) + `{{end}}{{define "b"}}` + in(6, `{{template "c" $}}`) + `{{end}}{{define "c"}}` + in(6, "<p>a</p>") + `{{end}}`: true,
	} {
		_, faults := Parse([]byte(src), nil)
		assert.Equal(t, deep, slices.ContainsFunc(faults, func(f fault.Fault) bool { return f.Code == fault.TooDeep }), "%.60s: %v", src, faults)
	}
}
