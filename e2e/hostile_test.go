package e2e

import (
	"encoding/json"
	"fmt"
	"sort"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/e2e/browser"
	"glasspocket/e2e/hostile"
	"glasspocket/internal/setting"
	"glasspocket/internal/wire"
)

// subject is one published pocket whose texts are all the same hostile value, and the
// harmless twin that it must equal in everything but those texts.
type subject struct {
	Key    string            `json:"key"`
	Twin   string            `json:"twin"`
	Values map[string]string `json:"values"` // by setting
	Title  string            `json:"title"`
	value  hostile.Value
}

// Every value goes through every setting, and as a title. What is taken
// stands in every delivery form exactly as it was sent, in its place and nowhere else;
// nothing of it runs, and nothing else of the page changes.
func TestHostileValues(t *testing.T) {
	t.Parallel()
	values, err := hostile.Values()
	require.NoError(t, err)
	require.GreaterOrEqual(t, len(values), 300)
	for _, name := range []string{"countdown"} { // the others' content: TestHostileContent
		t.Run(name, func(t *testing.T) {
			subjects := sendHostile(t, name, values)
			require.GreaterOrEqual(t, len(subjects), 250, "most are taken: texts are texts")
			t.Run("script and split", func(t *testing.T) { hostileOnPages(t, subjects, "script", "split") })
			t.Run("page", func(t *testing.T) { hostilePages(t, subjects) })
			t.Run("preview", func(t *testing.T) { hostilePreviews(t, subjects) })
			t.Run("snippets", func(t *testing.T) { hostileSnippets(t, subjects) })
		})
	}
}

// sendHostile sends each value to every setting at once: the answer names those that do
// not take it. Those that do are published together.
func sendHostile(t *testing.T, name string, values []hostile.Value) (subjects []subject) {
	ctx := t.Context()
	w, err := api.Widget(ctx, name)
	require.NoError(t, err)
	showing, err := hostile.Showing(name)
	require.NoError(t, err)
	ask := func(method, path, body string, revision int) (int, wire.Problem, string) {
		headers := []string{"Authorization", "Bearer " + demo.Token, "Content-Type", "application/json"}
		if revision > 0 {
			headers = append(headers, "If-Match", fmt.Sprintf("%q", fmt.Sprint(revision)))
		}
		res, text := send(t, method, demo.Manage+"/api/v1"+path, body, headers...)
		var p wire.Problem
		if res.StatusCode >= 400 {
			require.NoError(t, json.Unmarshal([]byte(text), &p), "%.200s", text)
			require.NotEmpty(t, p.Code)
		}
		return res.StatusCode, p, text
	}
	object := func(members map[string]json.RawMessage) string {
		var parts []string
		for k, v := range members {
			parts = append(parts, fmt.Sprintf("%q:%s", k, v))
		}
		sort.Strings(parts)
		return "{" + strings.Join(parts, ",") + "}"
	}
	twins := map[string]string{}
	twin := func(keys []string, empty bool) string {
		about := fmt.Sprint(keys, empty)
		if twins[about] == "" {
			key := fmt.Sprintf("twin-%s-%d", name, len(twins))
			members := map[string]json.RawMessage{}
			for k, v := range showing {
				members[k] = v
			}
			for _, k := range keys {
				token := "T-" + k + "-T"
				if (&setting.Schema{Settings: w.Settings}).Get(k).Format == "uri" {
					token = "https://a.example/" + token
				}
				if empty {
					token = ""
				}
				members[k], _ = json.Marshal(token)
			}
			_, err := api.MakePocket(ctx, wire.NewPocket{Key: key, Customer: "kelp-and-kiln", Widget: name})
			require.NoError(t, err)
			status, _, text := ask("PUT", "/pockets/"+key+"/draft", object(members), 1)
			require.Equal(t, 200, status, text)
			publish(t, key)
			twins[about] = key
		}
		return twins[about]
	}
	for n, v := range values {
		key := fmt.Sprintf("hostile-%s-%d", name, n)
		status, p, _ := ask("POST", "/pockets", fmt.Sprintf(`{"customer":"kelp-and-kiln","widget":%q,"key":%q,"title":%s}`, name, key, v.JSON), 0)
		title, titled := v.Text()
		if titled = titled && status == 201; !titled {
			if status != 201 { // null is no title
				require.Contains(t, []int{413, 422}, status, "%s as a title: %s", v, p.Detail)
				_, err := api.MakePocket(ctx, wire.NewPocket{Key: key, Customer: "kelp-and-kiln", Widget: name, Title: "Title"})
				require.NoError(t, err)
			}
			title = "Title"
		}
		members := map[string]json.RawMessage{}
		for _, s := range w.Settings {
			members[s.Key] = v.JSON
			if len(v.JSON) > 100_000 {
				break // one is as good as all, and all are too much for any body
			}
		}
		status, p, _ = ask("PUT", "/pockets/"+key+"/draft", object(members), 1)
		require.Contains(t, []int{200, 413, 422}, status, "%s: %s", v, p.Detail)
		revision := 1
		if status == 200 {
			revision++
		}
		refused := map[string]bool{}
		for _, f := range p.Faults {
			require.NotEmpty(t, f.What)
			require.NotEmpty(t, f.Fix)
			if refused[f.Field] = true; f.Field == "" {
				members = nil // the body is no JSON at all
			}
		}
		if status == 413 || len(v.JSON) > 100_000 {
			continue
		}
		taken := map[string]json.RawMessage{}
		var texts []string
		for k, sent := range members {
			s := (&setting.Schema{Settings: w.Settings}).Get(k)
			if _, base := showing[k]; base || refused[k] || s.Type != "text" {
				continue
			}
			taken[k] = sent
			texts = append(texts, k)
		}
		text, is := v.Text()
		if len(texts) == 0 || !is {
			continue
		}
		sort.Strings(texts)
		for k, base := range showing {
			taken[k] = base
		}
		status, p, body := ask("PUT", "/pockets/"+key+"/draft", object(taken), revision)
		require.Equal(t, 200, status, "%s: %s %s", v, body, p.Detail)
		publish(t, key)
		sub := subject{Key: key, Twin: twin(texts, text == ""), Values: map[string]string{}, Title: strings.TrimSpace(title), value: v}
		if sub.Title == "" {
			sub.Title = w.Title.In("en")
		}
		for _, k := range texts {
			sub.Values[k] = strings.ReplaceAll(text, "\r\n", "\n")
		}
		subjects = append(subjects, sub)
	}
	return subjects
}

// compare holds a mounted pocket against its twin: the same tree, the twin's tokens
// replaced by the values. It answers with what differs, or "".
const compare = `
	window.tree = n => n.nodeType == 3 ? n.data : n.nodeType != 1 ? "#" + n.nodeType
		: [n.localName, [...n.attributes].map(a => [a.name, a.name == "style" ? "" : a.value]).sort((a, b) => a[0] < b[0] ? -1 : 1), kids(n)];
	// An address in a text is a link, which has the same words.
	window.kids = n => [...n.childNodes].reduce((list, k) => { const v = k.localName == "a" && !k.className && k.getAttribute("href") == k.textContent ? k.textContent : tree(k), last = list.at(-1);
		if (typeof v == "string" && typeof last == "string" && v[0] != "#" && last[0] != "#") list[list.length - 1] += v; else list.push(v); return list }, []);
	window.differs = (twin, now, values, at = "") => {
		if (Array.isArray(twin) != Array.isArray(now)) return at + " is of another kind";
		if (!Array.isArray(twin)) {
			const link = /^https:\/\/a\.example\/T-(\w+)-T$/.exec(twin);
			const written = u => { const href = new URL(u).href; try { return decodeURIComponent(href) } catch { return href } };
			if (link) return written(values[link[1]]) == written(now) ? "" : at + ": " + now;
			const want = twin.replace(/T-(\w+)-T/g, (_, k) => values[k]);
			return want === now ? "" : at + " is " + JSON.stringify(now) + ", not " + JSON.stringify(want);
		}
		if (twin.length != now.length) return at + " has other parts";
		for (let i = 0; i < twin.length; i++) { const d = differs(twin[i], now[i], values, at + "/" + i); if (d) return d }
		return "";
	};`

// trap counts what runs that should not.
const trap = `<script>window.hits = 0; window.hit = window.alert = window.confirm = window.prompt = () => void hits++;
	addEventListener("securitypolicyviolation", () => hits++);</script>`

func chunks(subjects []subject, size int) (list [][]subject) {
	for ; len(subjects) > size; subjects = subjects[size:] {
		list = append(list, subjects[:size])
	}
	return append(list, subjects)
}

func hostileOnPages(t *testing.T, subjects []subject, forms ...string) {
	for n, some := range chunks(subjects, 60) {
		for _, form := range forms {
			var body strings.Builder
			seen := map[string]bool{}
			point := func(key string) {
				if seen[key] {
					return
				}
				seen[key] = true
				fmt.Fprintf(&body, `<div data-glass-pocket="%s"></div><p>between</p>`, key)
				if form == "script" {
					fmt.Fprintf(&body, `<script async src="%s/s/%s.js"></script>`, demo.Public, key)
				}
			}
			for _, s := range some {
				point(s.Key)
				point(s.Twin)
			}
			if form == "split" {
				fmt.Fprintf(&body, `<script async src="%s/loader.js"></script>`, demo.Public)
			}
			p := page(t, `<!doctype html><html><head><meta charset=utf-8><title>The page</title>`+trap+`</head><body>`+body.String()+`<p id=below>below</p></body></html>`)
			require.NoError(t, p.Wait(fmt.Sprintf(`[...document.querySelectorAll("[data-glass-pocket]")].filter(e => e.shadowRoot?.querySelector(".pocket")).length == %d`, len(seen))), "console: %v", p.Errors())
			eval[any](t, p, compare+"; 0")
			list, _ := json.Marshal(some)
			wrong := eval[[]string](t, p, `(list => { const at = key => tree(document.querySelector('[data-glass-pocket="' + key + '"]').shadowRoot.querySelector(".pocket"));
				return list.map(s => { const d = differs(at(s.twin), at(s.key), s.values); return d && s.key + ": " + d }).filter(Boolean) })(`+string(list)+`)`)
			for _, w := range wrong {
				assert.Fail(t, "a value left its place", "%s: %s", form, w)
			}
			outside := eval[string](t, p, `[hits, document.title, document.querySelectorAll("body > p").length, document.querySelectorAll("body *:not(script)").length, document.getElementById("below").textContent, getComputedStyle(document.body).display].join("|")`)
			assert.Equal(t, fmt.Sprintf("0|The page|%d|%d|below|block", len(seen)+1, 2*len(seen)+1), outside, "page %d, %s", n, form)
			asked := eval[[]string](t, p, `performance.getEntriesByType("resource").map(e => e.name).filter(n => !n.startsWith("`+demo.Public+`/") && !n.startsWith(location.origin + "/"))`)
			assert.Empty(t, asked, "nothing is asked of anybody else")
			assert.Empty(t, p.Errors())
			p.Close()
		}
	}
}

// hostilePages reads every pocket's own page as a document, as a browser without scripts
// does, and opens those whose values end elements.
func hostilePages(t *testing.T, subjects []subject) {
	p := page(t, `<!doctype html><meta charset=utf-8>`+trap)
	eval[any](t, p, compare+"; 0")
	list, _ := json.Marshal(subjects)
	wrong := eval[[]string](t, p, `(async list => { const docs = new Map(), wrong = [];
		const load = async key => { if (!docs.has(key)) docs.set(key, new DOMParser().parseFromString(await (await fetch("`+demo.Public+`/p/" + key)).text(), "text/html")); return docs.get(key) };
		const root = d => (d.querySelector("noscript template")?.content ?? d.querySelector("noscript")).querySelector(".pocket");
		for (const s of list) { const now = await load(s.key), twin = await load(s.twin); let d = differs(tree(root(twin)), tree(root(now)), s.values);
			if (!d && now.title != s.title.replace(/[\t\n\f\r ]+/g, " ")) d = "its title is " + JSON.stringify(now.title) + ", not " + JSON.stringify(s.title);
			if (!d && now.querySelectorAll("*").length != twin.querySelectorAll("*").length) d = "the page has other elements";
			if (d) wrong.push(s.key + ": " + d) }
		return wrong })(`+string(list)+`)`)
	for _, w := range wrong {
		assert.Fail(t, "a value left its place", w)
	}
	var wg sync.WaitGroup
	work := make(chan subject)
	for range 2 {
		tab := tab(t)
		wg.Go(func() {
			for s := range work {
				if !assert.NoError(t, tab.Go(demo.Public+"/p/"+s.Key)) || !assert.NoError(t, tab.Wait(`document.querySelector("[data-glass-pocket]").shadowRoot`)) {
					continue
				}
				title, err := browser.Eval[string](tab, `document.title + "|" + document.querySelectorAll("body > *").length`)
				assert.NoError(t, err)
				assert.Equal(t, s.Title+"|5", title, s.value)
			}
			assert.Empty(t, tab.Errors())
		})
	}
	for _, s := range subjects {
		if text, _ := s.value.Text(); s.value.Kind == "markup" && strings.Contains(text, "</") {
			work <- s
		}
	}
	close(work)
	wg.Wait()
}

// hostilePreviews sends every pocket's preview through the console's channel.
func hostilePreviews(t *testing.T, subjects []subject) {
	var payloads []json.RawMessage
	for _, s := range subjects {
		_, body := send(t, "POST", demo.Manage+"/api/v1/pockets/"+s.Key+"/preview", `{}`, "Authorization", "Bearer "+demo.Token, "Content-Type", "application/json")
		payloads = append(payloads, json.RawMessage(body))
	}
	list, _ := json.Marshal(payloads)
	p := page(t, `<!doctype html>`+trap+`<iframe id=f sandbox="allow-scripts" src="`+demo.Public+`/preview"></iframe>`)
	require.NoError(t, p.Wait(`document.readyState == "complete"`))
	drawn := eval[string](t, p, `(async list => { const c = new MessageChannel(); let told; const next = () => new Promise(r => told = r);
		c.port1.onmessage = e => (e.data.ready || e.data.drawn || e.data.error) && told(e.data);
		let ready = next(); document.getElementById("f").contentWindow.postMessage({}, "*", [c.port2]); await ready;
		let n = 0; for (const draw of list) { const done = next(); c.port1.postMessage({ draw, host: { page: "bare", copies: 1, long: false }, in: {} }); const said = await done; if (said.error) return said.error; n++ }
		return n + "|" + hits })(`+string(list)+`)`)
	assert.Equal(t, fmt.Sprintf("%d|0", len(subjects)), drawn)
	assert.Empty(t, p.Errors())
}

// hostileSnippets reads every snippet as a host page would: whatever the title, one
// frame comes of it.
func hostileSnippets(t *testing.T, subjects []subject) {
	type frame struct {
		HTML  string `json:"html"`
		Title string `json:"title"`
	}
	var frames []frame
	for _, s := range subjects {
		out, err := api.Snippets(t.Context(), s.Key, "frame")
		require.NoError(t, err)
		require.Len(t, out.Snippets, 1)
		frames = append(frames, frame{out.Snippets[0].Parts[0].Text, s.Title})
	}
	list, _ := json.Marshal(frames)
	p := page(t, `<!doctype html>`+trap)
	wrong := eval[[]string](t, p, `(list => list.filter(({ html, title }) => { const b = document.implementation.createHTMLDocument("").body; b.innerHTML = html;
		return b.childElementCount != 1 || b.querySelectorAll("*").length != 1 || b.firstElementChild.localName != "iframe" || b.firstElementChild.title != title }).map(f => f.html))(`+string(list)+`)`)
	assert.Empty(t, wrong)
	assert.Zero(t, eval[int](t, p, `hits`))
}
