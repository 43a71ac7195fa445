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
	s, err := NewSite(base, loader, func(parts []string) (string, error) { return "$kit(/*" + strings.Join(parts, " ") + "*/)", nil })
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
		assert.Equal(t, 1, strings.Count(page, "<script"), "the page's own, and no other: %s", hostile)
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
