package view

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/fault"
	"glasspocket/internal/message"
)

var data = Data{
	Settings: map[string]any{
		"heading": `<b>"Tea" & 'kiln'</b>`, "link": Link("tel:+4930123"), "text": "javascript:alert(1)", "on": true,
		"target": map[string]any{"at": float64(200_000_500), "utc": "1970-01-03T07:33:20Z"},
	},
	Messages: message.Catalogue{"days": {"one": "{count} day", "other": "{count} days"}},
	Language: "en",
	Now:      time.UnixMilli(0),
}

func keys() (k []string) {
	for n := range data.Settings {
		k = append(k, n)
	}
	return k
}

func TestRender(t *testing.T) {
	for _, c := range []struct{ name, view, want string }{
		{"text is escaped", `<p>{{.settings.heading}}</p>`, `<p>&lt;b&gt;&#34;Tea&#34; &amp; &#39;kiln&#39;&lt;/b&gt;</p>`},
		{"attribute is escaped", `<p title="{{.settings.heading}}"></p>`, `<p title="&lt;b&gt;&#34;Tea&#34; &amp; &#39;kiln&#39;&lt;/b&gt;"></p>`},
		{"a link setting keeps tel", `<a href="{{.settings.link}}">x</a>`, `<a href="tel:&#43;4930123">x</a>`},
		{"plurals", `{{say "days" 1}}, {{say "days" 2}}`, `1 day, 2 days`},
		{"time left, rounded up", `{{range timeLeft .settings.target "days-hours-minutes-seconds"}}{{.digits}}:{{end}}`, `2:07:33:21:`},
		{"time left in two units", `{{range timeLeft .settings.target "hours-minutes"}}{{.value}} {{.unit}} {{end}}`, `55 hours 33 minutes `},
		{"a number on its way", `{{numberAt 0 1000000 (fromNow -1 0 0) (fromNow 3 0 0) 0}} {{numberAt 10 0 (fromNow -1 0 0) (fromNow 2 0 0) 1}}`, `250,000 6.7`},
		{"a number cut off before its end", `{{numberAt 0 100 (fromNow -9 0 0) (fromNow 0 0 1) 0}}`, `99`},
		{"a number not begun, and over", `{{numberAt 5 100 (fromNow 1 0 0) (fromNow 2 0 0) 0}} {{numberAt 5 100 (fromNow -2 0 0) (fromNow -1 0 0) 0}} {{numberAt 5 100 (fromNow 0 0 0) (fromNow 0 0 0) 0}}`, `5 100 100`},
		{"included template", `{{define "x"}}<i>{{.}}{{say "days" 5}}</i>{{end}}{{template "x" .language}}`, `<i>en5 days</i>`},
		{"else branches", `{{if hasPassed .settings.target}}<p>over</p>{{else}}<p>on</p>{{end}}`, `<p>on</p>`},
		{"SVG", `<svg viewBox="0 0 1 1"><path d="M0 0"/></svg>`, `<svg viewBox="0 0 1 1"><path d="M0 0"/></svg>`},
	} {
		t.Run(c.name, func(t *testing.T) {
			v, faults := Parse([]byte(c.view), keys())
			require.Empty(t, faults)
			out, faults := v.Render(data)
			require.Empty(t, faults)
			assert.Equal(t, c.want, out)
		})
	}
}

func TestFences(t *testing.T) {
	for _, c := range []struct {
		name, view   string
		code         fault.Code
		line, column int
	}{
		{"syntax", "<p>\n{{if .settings.on}</p>", fault.ViewSyntax, 2, 18},
		{"never ended", "<p>{{if .settings.on}}</p>", fault.ViewSyntax, 1, 4},
		{"unknown function", "<p>{{shout .settings.on}}</p>", fault.ViewFunction, 1, 6},
		{"printf", `<p>{{printf "%99999999d" 1}}</p>`, fault.ViewFunction, 1, 6},
		{"trusted markup", "<p>\n  {{html .settings.on}}</p>", fault.ViewFunction, 2, 5},
		{"call", "{{call .settings.on}}", fault.ViewFunction, 1, 3},
		{"pipe", "{{.settings.on | len}}", fault.ViewFunction, 1, 18},
		{"unknown setting", "<p>{{.settings.hedding}}</p>", fault.ViewField, 1, 15},
		{"unknown setting through $", "{{with .language}}{{$.settings.nope}}{{end}}", fault.ViewField, 1, 22},
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
		{"replaced link", `<a href="{{.settings.text}}">x</a>`, fault.ViewReplaced, 0, 0},
		{"misspelt top field", "{{.setings.on}}", fault.ViewField, 1, 3},
		{"fixed key without message", `{{say "weeks"}}`, fault.ViewRun, 1, 3},
		{"wrong context", "{{if .settings.on}}<p title='{{else}}<p title=\"{{end}}", fault.ViewSyntax, 0, 0},
	} {
		t.Run(c.name, func(t *testing.T) {
			v, faults := Parse([]byte(c.view), keys())
			if v != nil {
				_, faults = v.Render(data)
			}
			require.NotEmpty(t, faults)
			f := faults[0]
			assert.Equal(t, c.code, f.Code, f.String())
			if c.line > 0 {
				assert.Equal(t, [2]int{c.line, c.column}, [2]int{f.Line, f.Column}, f.String())
			}
			assert.NotEmpty(t, f.Mend)
		})
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
		v, faults := Parse([]byte(text), keys())
		lines := strings.Count(text, "\n") + 1
		for _, x := range faults {
			if x.Line > lines {
				t.Fatalf("fault outside the text: %v", x)
			}
		}
		if v == nil {
			return
		}
		if out, _ := v.Render(data); strings.Contains(out, `<b>"Tea"`) && !strings.Contains(text, `<b>"Tea"`) {
			t.Fatalf("unescaped: %s", out)
		}
	})
}
