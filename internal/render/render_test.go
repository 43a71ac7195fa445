package render

import (
	"encoding/json"
	"sort"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/setting"
	"glasspocket/internal/widget"
)

// built is a Builder that builds nothing: what a release holds is given.
var built = widget.Opened{Built: widget.Built{Style: ".pocket{color:red}", Mount: "$mount(()=>{})"}}

func release(t *testing.T, view string) *widget.Release {
	r, faults := widget.Read(widget.Files{
		"widget.json":      []byte(`{"format": 1, "name": "small", "title": {"en": "Small"}, "languages": ["en", "ar"], "mount": {"settings": ["count"], "messages": ["days"]}}`),
		"settings.json":    []byte(`{"$schema": "https://json-schema.org/draft/2020-12/schema", "type": "object", "properties": {"title": {"type": "string", "default": "x", "glass": {"type": "text", "label": {"en": "T"}}}, "secret": {"type": "string", "default": "kept", "glass": {"type": "text", "label": {"en": "S"}}}, "count": {"type": "number", "default": 3, "glass": {"type": "number", "look": true, "unit": "px", "label": {"en": "C"}}}}}`),
		"view.html":        []byte(view + `{{if .settings.secret}}{{end}}`),
		"style.css":        []byte("p{}"),
		"mount.js":         []byte("export default () => {}"),
		"messages/en.json": []byte(`{"days": {"one": "day", "other": "days"}, "more": "more"}`),
		"messages/ar.json": []byte(`{"days": {"zero": "0", "one": "1", "two": "2", "few": "3", "many": "11", "other": "100"}, "more": "المزيد"}`),
	}, built)
	require.Empty(t, faults)
	return r
}

func site(t *testing.T, base, loader string) *Site {
	s, err := NewSite(base, loader, loader, func(parts []string) (string, error) { return "$kit(/*" + strings.Join(parts, " ") + "*/)", nil })
	require.NoError(t, err)
	return s
}

func subject(r *widget.Release, title, lang string) Subject {
	values, _ := r.Schema.Complete(setting.Values{"title": title})
	return Subject{Key: "key", Title: title, Publication: 7, Release: r, Settings: values, Language: lang, Now: time.UnixMilli(1e12)}
}

// The payload is a contract with every loader ever released: its keys never change under
// its number.
func TestPayloadKeys(t *testing.T) {
	s := site(t, "https://pockets.example", "/*loader*/")
	d, faults := s.Deliver(subject(release(t, `<p>{{.settings.title}}</p>`), "Hello", "ar"))
	require.Empty(t, faults)
	var p map[string]any
	require.NoError(t, json.Unmarshal(d.JSON.Plain(), &p))
	keys := []string{}
	for k := range p {
		keys = append(keys, k)
	}
	sort.Strings(keys)
	assert.Equal(t, []string{"built", "direction", "key", "language", "look", "markup", "messages", "module", "n", "publication", "published", "release", "settings", "style"}, keys)
	assert.Equal(t, 2.0, p["n"])
	assert.Equal(t, "rtl", p["direction"])
	assert.Equal(t, 1e12, p["built"])
	assert.Equal(t, map[string]any{"count": 3.0}, p["settings"], "only what the manifest lists")
	assert.Equal(t, map[string]any{"properties": map[string]any{"--count": "3px"}, "attributes": map[string]any{}}, p["look"])
	assert.NotContains(t, string(d.Script.Plain()), "kept")
	assert.NotContains(t, string(d.Script.Plain()), "المزيد", "nor messages that it does not list")
	assert.True(t, strings.HasPrefix(p["module"].(string), "https://pockets.example/a/"))
}

// A value goes into script, JSON and page without leaving its place in any of them.
func TestHostileValuesKeepTheirPlace(t *testing.T) {
	s := site(t, "https://pockets.example", "/*loader*/")
	r := release(t, `<p title="{{.settings.title}}">{{.settings.title}}</p>`)
	for _, hostile := range []string{`</script><script>alert(1)</script>`, `"><img src=x onerror=alert(1)>`, "`${alert(1)}`", `{{.settings.secret}}`, "\u2028alert(1)\u2029", `'-alert(1)-'`, `</template><script>1</script>`, `</title><script>1</script>`, `<!--`, `]]>`} {
		d, faults := s.Deliver(subject(r, hostile, "en"))
		require.Empty(t, faults, hostile)
		var p Payload
		require.NoError(t, json.Unmarshal(d.JSON.Plain(), &p))
		assert.NotContains(t, p.Markup, "<img")
		assert.NotContains(t, p.Markup, "<script")
		assert.NotContains(t, p.Markup, "kept")
		page := string(d.Page.Plain())
		assert.Equal(t, 2, strings.Count(page, "<script"), "the page's own, and no other: %s", hostile)
		assert.Equal(t, 1, strings.Count(page, "</template>"))
		assert.NotContains(t, string(d.Script.Plain()), "\u2028")
	}
}

func TestEncodings(t *testing.T) {
	e := Encode([]byte(strings.Repeat("glass pocket ", 100)))
	again := Stored(e.Brotli)
	assert.Equal(t, e.Plain(), again.Plain())
	assert.Equal(t, e.ETag, again.ETag)
	assert.Less(t, len(EncodeBest(e.Plain()).Brotli), len(e.Plain())/4)
	damaged := append([]byte{}, e.Brotli...)
	damaged[len(damaged)/2]++
	changed := Stored(damaged)
	assert.NotEqual(t, e.ETag, changed.ETag, "damage shows in the tag")
	assert.NotPanics(t, func() { changed.Plain() })
	assert.NotEqual(t, e.ETag, Encode([]byte("other")).ETag)
	one, two := site(t, "https://a.example", "x"), site(t, "https://a.example", "y")
	assert.NotEqual(t, one.Identity, two.Identity, "another loader is another rendering")
}

// What a sheet cannot make otherwise on small screens is rendered for them too, and the
// sheet keeps what either needs; nothing of it travels with other pockets.
func TestSmallScreens(t *testing.T) {
	r, faults := widget.Read(widget.Files{
		"widget.json": []byte(`{"format": 1, "name": "both", "title": {"en": "B"}, "languages": ["en"], "mount": {"settings": ["most"]}}`),
		"settings.json": []byte(`{"$schema": "https://json-schema.org/draft/2020-12/schema", "type": "object", "properties": {
			"title": {"type": "string", "default": "Long", "glass": {"type": "text", "small": true, "label": {"en": "T"}}},
			"most": {"type": "number", "default": 3, "glass": {"type": "number", "small": true, "label": {"en": "M"}}},
			"size": {"type": "number", "default": 9, "glass": {"type": "number", "unit": "px", "look": true, "small": true, "label": {"en": "S"}}},
			"layout": {"type": "string", "enum": ["row", "stack", "ring"], "default": "row", "glass": {"type": "choice", "look": true, "small": true, "label": {"en": "L"}, "options": {"row": {"en": "R"}, "stack": {"en": "S"}, "ring": {"en": "O"}}}}}}`),
		"view.html":        []byte(`<p class="{{vary "many" .settings.most}}">{{.settings.title}}</p>`),
		"style.css":        []byte(`p{font-size:var(--size);width:calc(var(--many)*1px)}[data-layout="row"] p{color:#111111}[data-layout="stack"] p{color:#222222}[data-layout="ring"] p{color:#333333}`),
		"mount.js":         []byte("export default () => {}"),
		"messages/en.json": []byte(`{}`),
	}, built)
	require.Empty(t, faults)
	r.Built.Style = string(r.Files["style.css"])
	s := site(t, "https://pockets.example", "/*loader*/")
	deliver := func(values setting.Values) (p Payload, script string) {
		full, faults := r.Schema.Complete(values)
		require.Empty(t, faults)
		d, faults := s.Deliver(Subject{Key: "k", Release: r, Settings: full, Language: "en", Now: time.UnixMilli(1e12)})
		require.Empty(t, faults)
		require.NoError(t, json.Unmarshal(d.JSON.Plain(), &p))
		return p, string(d.Script.Plain())
	}
	p, script := deliver(setting.Values{"small": map[string]any{"size": 5.0}})
	assert.Nil(t, p.Small, "the sheet does it")
	assert.Contains(t, p.Style, "@media (max-width:600px){.pocket{--size:5px!important}}")
	assert.NotContains(t, script, "$kit(/*small")

	p, script = deliver(setting.Values{"small": map[string]any{"title": "Short", "most": 1.0, "layout": "stack", "size": 5.0}})
	assert.Equal(t, &Small{Screen: "(max-width:600px)", Markup: `<p class="s0">Short</p>`, Attributes: map[string]string{"data-layout": "stack"}, Settings: map[string]any{"most": 1.0}}, p.Small)
	assert.Equal(t, `<p class="v0">Long</p>`, p.Markup)
	for _, rule := range []string{".v0{--many:3}", ".s0{--many:1}", "#111111", "#222222", "--size:5px!important"} {
		assert.Contains(t, p.Style, rule)
	}
	assert.NotContains(t, p.Style, "#333333")
	assert.Contains(t, script, "$kit(/*small")
}
