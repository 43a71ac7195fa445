package view

import (
	"os"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Whatever is shown tells which element of the source it is, and which settings and
// messages that comes from.
func TestMarks(t *testing.T) {
	const src = `{{$both := or .settings.heading .settings.text}}
<div class="a">{{if .settings.on}}<p title="{{.settings.link}}">{{.settings.heading}} <b>{{say "days" 2}}</b></p>{{else}}<i></i>{{end}}
{{range .settings.items}}<li>{{.title}}<img alt="" src="{{$.settings.link}}">{{with .rating}}<u>{{.value}}</u>{{end}}</li>{{end}}</div>
{{define "x"}}<em>{{.}}</em>{{end}}{{template "x" .settings.story}}<h4>{{$both}}</h4>`
	m, faults := Mark([]byte(src), types)
	require.Empty(t, faults)
	r, faults := m.RenderMarked(data)
	require.Empty(t, faults)
	plain, faults := m.Render(data)
	require.Empty(t, faults)
	assert.Equal(t, plain.Markup, regexp.MustCompile(` data-glass-part="\d+"`).ReplaceAllString(r.Markup, ""), "but for the marks it is the same")

	seen := map[string][]string{}
	for _, mark := range regexp.MustCompile(`<(\w+) data-glass-part="(\d+)"`).FindAllStringSubmatch(r.Markup, -1) {
		i, _ := strconv.Atoi(mark[2])
		e := m.Elements[i]
		require.Equal(t, mark[1], e.Name)
		require.True(t, strings.HasPrefix(src[e.Start:], "<"+e.Name), src[e.Start:e.End])
		require.True(t, e.Name == "img" || strings.HasSuffix(src[:e.End], "</"+e.Name+">"), src[e.Start:e.End])
		seen[e.Name] = append(append([]string{}, e.Settings...), e.Messages...)
	}
	assert.Equal(t, map[string][]string{
		"div": {"on", "items"}, "p": {"link", "heading", "on"}, "b": {"days"}, "li": {"items"}, "img": {"link"}, "u": {"items"}, "em": {"story"}, "h4": {"heading", "text"},
	}, seen)
	assert.Equal(t, "li", m.Elements[m.Elements[5].Parent].Name)
}

// Marks change nothing in the widgets that we ship, and each of their elements has one.
func TestMarksOfWidgets(t *testing.T) {
	views, err := filepath.Glob("../../widgets/*/view.html")
	require.NoError(t, err)
	require.NotEmpty(t, views)
	for _, file := range views {
		src, err := os.ReadFile(file)
		require.NoError(t, err)
		list := elements(string(src))
		marked := withMarks(string(src), list)
		assert.Equal(t, string(src), regexp.MustCompile(` data-glass-part="\d+"`).ReplaceAllString(marked, ""), file)
		for _, e := range list {
			assert.Greater(t, e.End, e.Start, "%s: %s", file, src[e.Start:e.Open])
			assert.GreaterOrEqual(t, e.End, e.Open)
		}
		assert.NotEmpty(t, list, file)
	}
}

// FuzzMarks holds that every view which parses has elements that lie within it, and that marks
// are all that is added.
func FuzzMarks(f *testing.F) {
	f.Add(`{{range .settings.items}}<li title="{{.title}}>">{{.title}}</li>{{else}}<br/>{{end}}`)
	f.Add(`<p {{if .settings.on}}hidden{{end}}><svg viewBox="0 0 1 1"/></p>{{define "x"}}<i>{{end}}`)
	f.Add("<\x00b><!-- <a> --><A>{{`}}`}}</A >")
	f.Fuzz(func(t *testing.T, src string) {
		list := elements(src)
		marked := withMarks(src, list)
		if regexp.MustCompile(` data-glass-part="\d+"`).ReplaceAllString(marked, "") != regexp.MustCompile(` data-glass-part="\d+"`).ReplaceAllString(src, "") {
			t.Errorf("%q became %q", src, marked)
		}
		for _, e := range list {
			if e.Start < 0 || e.Open < e.Start || e.End < e.Open || e.End > len(src) || e.Parent >= len(list) {
				t.Errorf("%q: %+v", src, e)
			}
		}
	})
}
