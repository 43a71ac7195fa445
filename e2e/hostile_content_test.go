package e2e

import (
	"encoding/json"
	"fmt"
	"net/url"
	"regexp"
	"slices"
	"sort"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/e2e/hostile"
	"glasspocket/internal/setting"
	"glasspocket/internal/wire"
	"glasspocket/widgets"
)

// The content of the other widgets, lists and items too: every place that holds a text
// holds another hostile value, pocket after pocket until all have been somewhere. Each
// stands where it belongs, and nothing of it runs.
func TestHostileContent(t *testing.T) {
	values, err := hostile.Values()
	require.NoError(t, err)
	var texts []hostile.Value
	for _, v := range values {
		if text, ok := v.Text(); ok && text != "" && len(text) < 5000 {
			texts = append(texts, v)
		}
	}
	for _, name := range widgets.Names {
		if name == "countdown" {
			continue // every value in every one of its settings: TestHostileValues
		}
		t.Run(name, func(t *testing.T) {
			t.Parallel()
			subjects, taken := fillHostile(t, name, texts)
			if name != "progress" { // which shows no text of a customer's
				require.Greater(t, taken, 250, "most are taken: texts are texts")
			}
			hostileOnPages(t, subjects, "split")
			hostilePages(t, subjects)
			hostilePreviews(t, subjects)
		})
	}
}

var token = regexp.MustCompile(`^(https://a\.example/)?T-(\w+)-T$`)

// spot is a place in the settings that holds a token.
type spot struct {
	path, token string
	link        bool
	put         func(any)
}

// spots finds the tokens in settings.
func spots(v any, path string, put func(any)) (list []spot) {
	switch v := v.(type) {
	case string:
		if m := token.FindStringSubmatch(v); m != nil {
			list = append(list, spot{path, m[2], m[1] != "", put})
		}
	case map[string]any:
		keys := make([]string, 0, len(v))
		for k := range v {
			keys = append(keys, k)
		}
		sort.Strings(keys)
		for _, k := range keys {
			list = append(list, spots(v[k], strings.TrimPrefix(path+"/"+k, "/"), func(to any) { v[k] = to })...)
		}
	case []any:
		for i := range v {
			list = append(list, spots(v[i], fmt.Sprintf("%s/%d", path, i), func(to any) { v[i] = to })...)
		}
	}
	return list
}

// fillHostile publishes pockets of a widget until every value has been offered to a place,
// and tells how many were taken.
func fillHostile(t *testing.T, name string, values []hostile.Value) (subjects []subject, taken int) {
	ctx := t.Context()
	showing, err := hostile.Showing(name)
	require.NoError(t, err)
	plain, _ := json.Marshal(showing)
	twin := "content-twin-" + name
	put := func(key string, settings []byte) (int, wire.Problem) {
		draft, err := api.Draft(ctx, key)
		require.NoError(t, err)
		res, text := send(t, "PUT", demo.Manage+"/api/v1/pockets/"+key+"/draft", string(settings), "Authorization", "Bearer "+demo.Token, "Content-Type", "application/json", "If-Match", fmt.Sprintf("%q", fmt.Sprint(draft.Revision)))
		var p wire.Problem
		if res.StatusCode >= 400 {
			require.NoError(t, json.Unmarshal([]byte(text), &p), text)
		}
		return res.StatusCode, p
	}
	make_ := func(key, title string) {
		_, err := api.MakePocket(ctx, wire.NewPocket{Key: key, Customer: "kelp-and-kiln", Widget: name, Title: title})
		require.NoError(t, err)
	}
	make_(twin, "Twin")
	status, p := put(twin, plain)
	require.Equal(t, 200, status, "%v %v", p.Detail, p.Faults)
	publish(t, twin)
	for n := 0; len(values) > 0; n++ {
		key := fmt.Sprintf("content-%s-%d", name, n)
		make_(key, "Content")
		var settings any
		require.NoError(t, json.Unmarshal(plain, &settings))
		places := spots(settings, "", nil)
		sub := subject{Key: key, Twin: twin, Values: map[string]string{}, Title: "Content", value: values[0]}
		used := 0
		for _, s := range places {
			sub.Values[s.token] = "T-" + s.token + "-T"
			if s.link {
				sub.Values[s.token] = "https://a.example/T-" + s.token + "-T"
			}
			text := ""
			for used < len(values) {
				v, _ := values[used].Text()
				if u, err := url.Parse(v); s.link && (err != nil || u.Scheme == "") {
					break // a link takes links; the next place may take this
				}
				text = v
				break
			}
			if text != "" {
				s.put(text)
				sub.Values[s.token] = strings.ReplaceAll(text, "\r\n", "\n")
				if strings.Contains(s.path, "/tags/") {
					sub.Values[s.token] = strings.TrimSpace(text) // a tag has nothing around it
				}
				used++
			}
		}
		if len(places) == 0 {
			used = len(values)
		}
		values = values[max(used, min(1, len(values))):]
		refused := 0
		for {
			body, _ := json.Marshal(settings)
			status, p := put(key, body)
			if status == 200 {
				break
			}
			require.Equal(t, 422, status, p.Detail)
			require.NotEmpty(t, p.Faults)
			fixed := false
			for _, f := range p.Faults {
				require.NotEmpty(t, f.Fix)
				for _, s := range places {
					if s.path == f.Field && sub.Values[s.token] != "T-"+s.token+"-T" {
						back := "T-" + s.token + "-T"
						if s.link {
							back = "https://a.example/" + back
						}
						s.put(back)
						sub.Values[s.token], fixed = back, true
						refused++
					}
				}
			}
			require.True(t, fixed, "%v", p.Faults)
		}
		taken += used - refused
		publish(t, key)
		subjects = append(subjects, sub)
	}
	return subjects, taken
}

// Whatever is sent as rich text, what shows has only the elements that rich text may
// have, without attributes that act, and nothing of it runs.
func TestHostileRichText(t *testing.T) {
	values, err := hostile.Values()
	require.NoError(t, err)
	var parts []string
	for _, v := range values {
		if text, ok := v.Text(); ok && len(text) < 1000 {
			if _, bad := setting.Unshowable(text); !bad {
				parts = append(parts, text)
			}
		}
	}
	parts = append(parts, `<img src=x onerror=hit()>`, `<svg onload=hit()>`, `<a href="javascript:hit()">x</a>`, `<p style="background:url(https://evil.example/)">x</p>`, `<iframe srcdoc="<script>parent.hit()</script>">`, `<math><mtext><table><mglyph><style><img src=x onerror=hit()>`, `<form action=https://evil.example><input autofocus onfocus=hit()>`)
	var body strings.Builder
	count := 0
	for n := 0; len(parts) > 0; n++ {
		text := ""
		for len(parts) > 0 && len(text)+len(parts[0]) < 3000 {
			text, parts = text+"<p>"+parts[0]+"</p>", parts[1:]
		}
		key := fmt.Sprintf("rich-%d", n)
		_, err := api.MakePocket(t.Context(), wire.NewPocket{Key: key, Customer: "kelp-and-kiln", Widget: "section"})
		require.NoError(t, err)
		draft, err := api.Draft(t.Context(), key)
		require.NoError(t, err)
		_, err = api.ChangeDraft(t.Context(), key, draft.Revision, raw(map[string]any{"text": text}))
		require.NoError(t, err)
		publish(t, key)
		count++
		fmt.Fprintf(&body, `<div data-glass-pocket="%s"></div>`, key)
	}
	require.Greater(t, count, 3)
	p := page(t, `<!doctype html><html><head><meta charset=utf-8><title>The page</title>`+trap+`</head><body>`+body.String()+`<script async src="`+demo.Public+`/loader.js"></script></body></html>`)
	require.NoError(t, p.Wait(fmt.Sprintf(`[...document.querySelectorAll("[data-glass-pocket]")].filter(e => e.shadowRoot?.querySelector(".pocket")).length == %d`, count)), "console: %v", p.Errors())
	seen := eval[[]string](t, p, `[...new Set([...document.querySelectorAll("[data-glass-pocket]")].flatMap(e => [...e.shadowRoot.querySelectorAll(".text *")]).map(e => e.localName + ":" + e.getAttributeNames().sort().join(",")))]`)
	for _, s := range seen {
		tag, attributes, _ := strings.Cut(s, ":")
		assert.True(t, slices.Contains(setting.RichTags, tag), s)
		assert.True(t, attributes == "" || tag == "a" && attributes == "href,rel", s)
	}
	assert.Zero(t, eval[int](t, p, `hits`))
	assert.Empty(t, eval[[]string](t, p, `performance.getEntriesByType("resource").map(e => e.name).filter(n => !n.startsWith("`+demo.Public+`/") && !n.startsWith(location.origin + "/"))`))
}
