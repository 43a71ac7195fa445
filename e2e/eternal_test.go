package e2e

import (
	"fmt"
	"net/http"
	"net/http/httptest"
	"os"
	"path/filepath"
	"sort"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/e2e/browser"
	"glasspocket/e2e/service"
	"glasspocket/internal/render"
)

// version is a loader with a payload of its own: one that was released, or this program's.
type version struct {
	number               int
	base, key, heading   string
	loader, script, json string
}

// versions serves every released loader and payload as it was served then, each under an
// address of its own, and adds this program's.
func versions(t *testing.T, current string) []version {
	folder := filepath.Join(service.Root(), "testdata", "eternal")
	entries, err := os.ReadDir(folder)
	require.NoError(t, err)
	files := map[string]string{}
	old := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		text, ok := files[r.URL.Path]
		if !ok {
			w.WriteHeader(404)
			return
		}
		w.Header().Set("Access-Control-Allow-Origin", "*")
		w.Header().Set("Content-Type", "text/javascript; charset=utf-8")
		fmt.Fprint(w, text)
	}))
	t.Cleanup(old.Close)
	var list []version
	for _, e := range entries {
		n, err := strconv.Atoi(e.Name())
		if err != nil {
			continue
		}
		v := version{number: n, base: fmt.Sprintf("%s/%d", old.URL, n), key: fmt.Sprintf("eternal-%d", n), heading: fmt.Sprintf("Number %d", n)}
		for name, into := range map[string]*string{"loader.js": &v.loader, "script.js": &v.script, "payload.json": &v.json} {
			text, err := os.ReadFile(filepath.Join(folder, e.Name(), name))
			require.NoError(t, err)
			*into = strings.ReplaceAll(string(text), "https://eternal.example", v.base)
		}
		files[fmt.Sprintf("/%d/loader.js", n)], files[fmt.Sprintf("/%d/s/%s.js", n, v.key)] = v.loader, v.script
		list = append(list, v)
	}
	newPocket(t, current, "2099-01-01T00:00[UTC]", map[string]any{"heading": "Now"})
	now := version{number: render.PayloadNumber, base: demo.Public, key: current, heading: "Now"}
	_, now.loader = send(t, "GET", demo.Public+"/loader.js", "")
	_, now.script = send(t, "GET", demo.Public+"/s/"+current+".js", "")
	_, now.json = send(t, "GET", demo.Public+"/s/"+current+".json", "")
	list = append(list, now)
	// As one service would, every address serves every key; what an old loader fetches by
	// itself is this program's.
	_, exact := send(t, "GET", demo.Public+"/exact.js", "")
	for _, v := range list {
		files[fmt.Sprintf("/%d/exact.js", v.number)] = exact
		for _, other := range list {
			if v.base != demo.Public {
				files[fmt.Sprintf("/%d/s/%s.js", v.number, other.key)] = other.script
			}
		}
	}
	sort.SliceStable(list, func(i, j int) bool { return list[i].number < list[j].number })
	require.GreaterOrEqual(t, len(list), 2)
	return list
}

func (v version) point() string {
	return `<div data-glass-pocket="` + v.key + `">fallback of ` + v.key + `</div>`
}

func (v version) tag(attributes string) string {
	return `<script ` + attributes + ` src="` + v.base + `/s/` + v.key + `.js"></script>`
}

// Every loader takes every payload up to its own number, and refuses a newer one in words
// without harm to the page.
func TestEveryLoaderWithEveryPayload(t *testing.T) {
	t.Parallel()
	list := versions(t, "eternal-now-1")
	for _, loader := range list {
		for _, payload := range list {
			t.Run(fmt.Sprintf("loader %s, payload %s", loader.key, payload.key), func(t *testing.T) {
				// Under a key that no service has, so that the loader alone does not fetch it.
				strange := strings.Replace(payload.json, `"key":"`+payload.key+`"`, `"key":"strange"`, 1)
				require.NotEqual(t, payload.json, strange)
				p := page(t, `<!doctype html><meta charset=utf-8><div data-glass-pocket="strange">the fallback</div><script src="`+loader.base+`/loader.js"></script>`)
				require.NoError(t, p.Wait(`window.glassPocket`))
				eval[any](t, p, `glassPocket.take(`+strange+`); 0`)
				if payload.number <= loader.number {
					require.NoError(t, p.Wait(mounted+`.join() == "`+payload.heading+`"`), "console: %v", p.Errors())
					return
				}
				require.Eventually(t, func() bool { return strings.Contains(strings.Join(p.Errors(), "\n"), "does not know") }, browser.Patience, 5*time.Millisecond)
				assert.Empty(t, eval[[]string](t, p, mounted))
				assert.Contains(t, eval[string](t, p, `document.body.innerText`), "the fallback")
			})
		}
	}
}

// Old and new on one page, in either order and loaded either way: all pockets show, the
// newer loader is left, and nothing is said.
func TestOldAndNewTogether(t *testing.T) {
	t.Parallel()
	list := versions(t, "eternal-now-2")
	for _, first := range list {
		for _, second := range list {
			if first.key == second.key {
				continue
			}
			newest := max(first.number, second.number)
			both := map[string]bool{first.heading: true, second.heading: true}
			for name, html := range map[string]string{
				"scripts after the points":  first.point() + second.point() + first.tag("") + second.tag(""),
				"scripts at their points":   first.point() + first.tag("") + second.point() + second.tag(""),
				"the loader, then a script": first.point() + `<script src="` + first.base + `/loader.js"></script>` + second.point() + second.tag("defer"),
			} {
				if strings.HasPrefix(name, "the loader") && first.base == demo.Public {
					continue // this program's service renders whatever it is asked for anew
				}
				t.Run(first.key+" then "+second.key+", "+name, func(t *testing.T) {
					p := page(t, `<!doctype html><meta charset=utf-8>`+html)
					require.NoError(t, p.Wait(mounted+`.length == 2`), "console: %v", p.Errors())
					for _, heading := range eval[[]string](t, p, mounted) {
						assert.True(t, both[heading], heading)
					}
					assert.Equal(t, newest, eval[int](t, p, `glassPocket.n`))
					assert.Empty(t, p.Errors())
					// What comes later is mounted once, and what goes is let go once.
					eval[any](t, p, `document.body.insertAdjacentHTML("beforeend", '`+first.point()+second.point()+`'); 0`)
					require.NoError(t, p.Wait(mounted+`.length == 4`), "console: %v", p.Errors())
					eval[any](t, p, `document.querySelectorAll("[data-glass-pocket]").forEach(e => e.remove()); 0`)
					require.NoError(t, p.Wait(`glassPocket.live.size == 0`))
					assert.Empty(t, p.Errors())
				})
			}
		}
	}
}

// The number that this program writes is frozen with everything that it was released as,
// so that the corpus has it when the next number comes.
func TestThisNumberIsInTheCorpus(t *testing.T) {
	folder := filepath.Join(service.Root(), "testdata", "eternal", strconv.Itoa(render.PayloadNumber))
	for _, name := range []string{"loader.js", "script.js", "payload.json"} {
		assert.FileExists(t, filepath.Join(folder, name), "run: go run ./e2e/eternal")
	}
}
