package e2e

import (
	"encoding/json"
	"fmt"
	"net/http"
	"regexp"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/e2e/service"
	"glasspocket/internal/client"
)

// No request makes the service fail, however odd: each route of the API with bodies, parameters and
// queries that nobody means, as somebody who may do nearly everything.
func TestOddRequests(t *testing.T) {
	t.Parallel()
	d, err := service.StartDemo("")
	require.NoError(t, err)
	defer d.Kill()
	_, text := send(t, "GET", d.Manage+"/api/v1/openapi.json", "")
	var document struct {
		Paths map[string]map[string]struct {
			OperationID string `json:"operationId"`
		}
	}
	require.NoError(t, json.Unmarshal([]byte(text), &document))
	bodies := []string{"", "null", "[]", "0", `""`, "{}", "{", "\xff", `{"name":null}`, `{"name":{"name":[]}}`, `{"files":[{}]}`, `{"files":[{"path":"","text":"x"}]}`, `{"number":-1,"release":1e99}`, `{"keys":["",null]}`,
		`{"values":{},"settings":[]}`, `{"at":"never","does":"everything"}`, `{"days":9223372036854775807}`, `{"cases":[{"width":-1}]}`, `{"title":"\u0000\ud800"}`, strings.Repeat(`{"a":`, 20_000), `{"x":"` + strings.Repeat("y", 100_000) + `"}`}
	values := []string{"demo-countdown", "countdown", "kelp-and-kiln", "0", "-1", "99999999999999999999", "%00", "%2e%2e%2f", "%F0%9F%90%9A", "'%20OR%201=1--", strings.Repeat("k", 3000)}
	queries := []string{"", "?cursor=%00&limit=0", "?limit=-5", "?cursor=" + strings.Repeat("z", 2000), "?from=x&to=1", "?of=%FF&kind=pocket", "?customer=%27&search=%25_%5C"}
	n := 0
	parameter := regexp.MustCompile(`\{\w+\}`)
	var mu sync.Mutex
	var all sync.WaitGroup
	work := make(chan func())
	for range 4 {
		all.Go(func() {
			for do := range work {
				do()
			}
		})
	}
	for path, methods := range document.Paths {
		for method, op := range methods {
			method = strings.ToUpper(method)
			if op.OperationID == "signOut" || op.OperationID == "changePassword" {
				continue
			}
			for i := range max(len(bodies), len(values), len(queries)) {
				work <- func() {
					j := i
					at := parameter.ReplaceAllStringFunc(path, func(string) string { j++; return values[j%len(values)] })
					body, query := "", queries[i%len(queries)]
					if method != "GET" {
						body = bodies[i%len(bodies)]
					}
					res, answer := send(t, method, d.Manage+"/api/v1"+at+query, body, "Authorization", "Bearer "+d.Token, "Content-Type", "application/json", "If-Match", []string{`"1"`, `*`, `"x", W/"2"`}[i%3])
					mu.Lock()
					defer mu.Unlock()
					n++
					assert.Less(t, res.StatusCode, 500, "%s %.100s%.60s %.80q: %s", method, at, query, body, answer)
					if res.StatusCode >= 400 {
						assert.Equal(t, "application/problem+json", res.Header.Get("Content-Type"), "%s %.100s", method, at)
						assert.NotRegexp(t, `\b(wire|app|json|sql|store|runtime)\.[A-Za-z]`, answer)
					}
				}
			}
		}
	}
	close(work)
	all.Wait()
	assert.Greater(t, n, 1500)
	res, _ := send(t, "GET", d.Public+"/loader.js", "") // its pockets have been unpublished on the way
	assert.Equal(t, 200, res.StatusCode)
}

// Requests of all sorts, again and again, leave nothing behind.
func TestNothingGrows(t *testing.T) {
	t.Parallel()
	d, err := service.StartDemo("")
	require.NoError(t, err)
	defer d.Kill()
	number := func(name string) int {
		_, text := send(t, "GET", d.Manage+"/metrics", "", "Authorization", "Bearer "+d.Token)
		m := regexp.MustCompile(`(?m)^` + name + ` (\S+)$`).FindStringSubmatch(text)
		require.NotNil(t, m, name)
		var f float64
		fmt.Sscan(m[1], &f)
		return int(f)
	}
	resident := func() int { return megabytes(t, d.PID()) }
	round := func() {
		var all sync.WaitGroup
		for w := range 8 {
			all.Go(func() {
				c := &http.Client{Transport: &http.Transport{MaxIdleConnsPerHost: 1}}
				defer c.CloseIdleConnections()
				for i := range 400 {
					path := []string{"/s/demo-countdown.js", "/p/demo-cards", "/s/none-" + fmt.Sprint(w, i) + ".json", "/p/demo-countdown.png", "/a/00/mount-" + fmt.Sprint(i) + ".js", "/oembed?url=x", "/s/demo-reviews.json?accent=%23" + fmt.Sprintf("%06x", i), "/t"}[i%8]
					req, _ := http.NewRequestWithContext(t.Context(), "GET", d.Public+path, nil)
					res, err := c.Do(req)
					if !assert.NoError(t, err) {
						return
					}
					res.Body.Close()
				}
			})
		}
		all.Wait()
	}
	round()
	round()
	before, routines := resident(), number("go_goroutines")
	for range 4 {
		round()
	}
	assert.Less(t, resident()-before, 40, "megabytes")
	assert.Less(t, number("go_goroutines")-routines, 40)
}

// A service that is lost while somebody edits costs nothing that was typed.
func TestServiceLostWhileEditing(t *testing.T) {
	t.Parallel()
	newPocket(t, "lost-while", "2099-01-01T00:00[UTC]", nil)
	p := signedIn(t)
	require.NoError(t, p.Go(demo.Manage+"/pockets/lost-while"))
	require.NoError(t, p.Wait(`document.querySelector("iframe")?.dataset.drawn > 0`))
	eval[any](t, p, `{ window.real = fetch; window.fetch = () => Promise.reject(new TypeError("lost")) } 0`)
	types(t, p, "#setting-heading", "Typed while it was lost")
	require.NoError(t, p.Wait(`document.body.innerText.includes("The service does not answer.")`))
	assert.Equal(t, "Typed while it was lost", eval[string](t, p, `document.querySelector("#setting-heading").value`))
	eval[any](t, p, `{ window.fetch = window.real } 0`)
	require.NoError(t, p.Wait(saved))
	draft, err := (&client.Client{Server: demo.Manage, Token: demo.Token}).Draft(t.Context(), "lost-while")
	require.NoError(t, err)
	assert.Contains(t, string(draft.Settings), "Typed while it was lost")
}
