package e2e

import (
	"bufio"
	"encoding/json"
	"fmt"
	"net"
	"net/http"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/wire"
)

// What HTTP itself asks of both listeners (RFC 9110, RFC 6585, RFC 9457).
func TestHTTPItself(t *testing.T) {
	t.Parallel()
	newPocket(t, "by-the-rules", "2099-01-01T00:00[UTC]", nil)
	const script = "/s/demo-countdown.js"
	res, _ := send(t, "GET", demo.Public+script, "")
	tag := res.Header.Get("ETag")
	require.True(t, strings.HasPrefix(tag, "W/"), tag)
	bearer, origin := "Bearer "+demo.Token, demo.Manage
	draft, api1 := "/api/v1/pockets/by-the-rules/draft", "/api/v1"
	for _, c := range []struct {
		name, method, address string
		headers               []string
		status                int
		has                   map[string]string
	}{
		{"a strong tag matches weakly", "GET", demo.Public + script, []string{"If-None-Match", strings.TrimPrefix(tag, "W/")}, 304, nil},
		{"one of a list", "GET", demo.Public + script, []string{"If-None-Match", `"a", ` + tag}, 304, nil},
		{"part of a tag", "GET", demo.Public + script, []string{"If-None-Match", `"x` + strings.TrimPrefix(tag, `W/"`)}, 200, nil},
		{"the console's tags too", "GET", demo.Manage + "/", []string{"If-None-Match", "*"}, 304, nil},
		{"gzip is preferred", "GET", demo.Public + script, []string{"Accept-Encoding", "br;q=0.5, gzip"}, 200, map[string]string{"Content-Encoding": "gzip"}},
		{"and in the console", "GET", demo.Manage + "/", []string{"Accept-Encoding", "br;q=0, gzip"}, 200, map[string]string{"Content-Encoding": "gzip"}},
		{"any coding", "GET", demo.Public + script, []string{"Accept-Encoding", "*"}, 200, map[string]string{"Content-Encoding": "br"}},
		{"a preflight", "OPTIONS", demo.Public + script, []string{"Origin", "https://kelp.example", "Access-Control-Request-Method", "GET", "Access-Control-Request-Headers", "if-none-match"}, 204, map[string]string{"Access-Control-Allow-Origin": "*", "Access-Control-Allow-Headers": "*", "Access-Control-Allow-Methods": "GET, HEAD, OPTIONS"}},
		{"no method for it", "POST", demo.Public + script, nil, 405, map[string]string{"Allow": "GET, HEAD"}},
		{"oEmbed in XML", "GET", demo.Public + "/oembed?format=xml&url=x", nil, 501, map[string]string{"Content-Type": "application/problem+json"}},
		{"HEAD in the API", "HEAD", demo.Manage + "/api/v1/pockets", []string{"Authorization", bearer}, 200, nil},
		{"a 401 says how", "GET", demo.Manage + "/api/v1/sessions", nil, 401, map[string]string{"WWW-Authenticate": `Bearer realm="Glass Pocket"`}},
		{"metrics on this machine", "GET", demo.Manage + "/metrics", nil, 401, nil},
		{"a long request id", "GET", demo.Manage + "/healthz", []string{"X-Request-ID", strings.Repeat("x", 65)}, 200, nil},
		{"no revision", "PATCH", demo.Manage + draft, []string{"If-Match", `W/"2"`}, 412, nil},
		{"one of several revisions", "PATCH", demo.Manage + draft, []string{"If-Match", `"1", "2"`}, 200, map[string]string{"ETag": `"3"`}},
		{"none of several", "PATCH", demo.Manage + draft, []string{"If-Match", `"1", "2"`}, 412, nil},
		{"whichever revision", "PATCH", demo.Manage + draft, []string{"If-Match", `*`}, 200, map[string]string{"ETag": `"4"`}},
		{"a missing pocket", "PATCH", demo.Manage + "/api/v1/pockets/no-such-pocket/draft", []string{"If-Match", `*`}, 404, nil},
	} {
		body := ""
		if c.method == "PATCH" {
			c.headers, body = append(c.headers, "Authorization", bearer, "Content-Type", "application/json"), fmt.Sprintf(`{"heading":%q}`, c.name)
		}
		res, text := send(t, c.method, c.address, body, c.headers...)
		assert.Equal(t, c.status, res.StatusCode, "%s: %s", c.name, text)
		for field, value := range c.has {
			assert.Equal(t, value, res.Header.Get(field), "%s: %s", c.name, field)
		}
		if c.status >= 400 && c.method != "HEAD" {
			assert.Contains(t, text, `"detail":"`, c.name)
		}
	}
	res, _ = send(t, "GET", origin+"/healthz", "", "X-Request-ID", strings.Repeat("x", 65))
	assert.NotContains(t, res.Header.Get("X-Request-ID"), "xxx")
	res, _ = send(t, "GET", origin+"/healthz", "", "X-Request-ID", "kept-7")
	assert.Equal(t, "kept-7", res.Header.Get("X-Request-ID"))

	// Several lines of a field are one list.
	req, err := http.NewRequestWithContext(t.Context(), "GET", demo.Public+script, nil)
	require.NoError(t, err)
	req.Header["If-None-Match"], req.Header["Accept-Encoding"] = []string{`"a"`, tag}, []string{"gzip;q=0", "br"}
	res, err = http.DefaultTransport.RoundTrip(req)
	require.NoError(t, err)
	res.Body.Close()
	assert.Equal(t, 304, res.StatusCode)

	// What is not HTTP gets an answer that shows nothing of the program.
	for _, address := range []string{demo.Public, demo.Manage} {
		for _, line := range []string{"GET * HTTP/1.1", "GET / HTTP/9", "FOO"} {
			conn, err := net.Dial("tcp", strings.TrimPrefix(address, "http://"))
			require.NoError(t, err)
			fmt.Fprintf(conn, "%s\r\nHost: %s\r\nConnection: close\r\n\r\n", line, strings.TrimPrefix(address, "http://"))
			res, err := http.ReadResponse(bufio.NewReader(conn), nil)
			require.NoError(t, err, line)
			var problem wire.Problem
			require.NoError(t, json.NewDecoder(res.Body).Decode(&problem), line)
			conn.Close()
			assert.Equal(t, 400, res.StatusCode, line)
			assert.Equal(t, "request-malformed", problem.Code, line)
			assert.Equal(t, "This is not a valid HTTP request.", problem.Detail, line)
		}
	}

	// Faults in a body is said in the words of JSON.
	for body, says := range map[string]string{
		`{"files":"x"}`:                           `\"files\" must be an array, not a string.`,
		`{"files":[{"path":7}]}`:                  `must be a string, not a number.`,
		`{"files":[{"path":"a","base64":"%%%"}]}`: `base64 text is not valid at byte 0.`,
		`[]`: `it must be an object, not an array.`,
	} {
		_, text := send(t, "POST", demo.Manage+api1+"/checks", body, "Authorization", bearer, "Content-Type", "application/json")
		assert.Contains(t, text, says)
		assert.NotContains(t, text, "wire.")
	}
	_, doc := send(t, "GET", demo.Manage+api1+"/openapi.json", "")
	assert.Contains(t, doc, `"name": "Origin"`)
}

// Too many requests are not kept by a cache, which would give the refusal to others.
func TestRefusalsAreNotKept(t *testing.T) {
	t.Parallel()
	for range 200 {
		res, text := send(t, "GET", demo.Public+"/s/demo-countdown.json?accent=%23123456", "")
		if res.StatusCode == 429 {
			assert.Equal(t, "no-store", res.Header.Get("Cache-Control"), text)
			assert.Equal(t, "1", res.Header.Get("Retry-After"))
			return
		}
	}
	t.Fatal("nobody was refused")
}

// What a link leads to is told by oEmbed as high as it is at the width that the host has; what is no
// use in a frame is a link.
func TestOEmbed(t *testing.T) {
	t.Parallel()
	about := func(key, query string) (out struct {
		Type          string
		HTML          string
		Width, Height int
	}) {
		res, body := send(t, "GET", demo.Public+"/oembed?url="+demo.Public+"/p/"+key+query, "")
		require.Equal(t, 200, res.StatusCode, body)
		require.NoError(t, json.Unmarshal([]byte(body), &out))
		return out
	}
	for query, want := range map[string][2]int{"": {640, 1060}, "&maxwidth=559": {559, 2120}, "&maxwidth=312": {312, 2120}, "&maxwidth=200": {200, 3308}, "&maxwidth=400&maxheight=300": {400, 300}} {
		got := about("demo-reviews", query)
		assert.Equal(t, [3]any{"rich", want[0], want[1]}, [3]any{got.Type, got.Width, got.Height}, query)
		assert.Contains(t, got.HTML, fmt.Sprintf(`width="%d" height="%d"`, want[0], want[1]))
	}
	for _, key := range []string{"demo-section", "demo-popup"} {
		assert.Equal(t, [2]string{"link", ""}, [2]string{about(key, "").Type, about(key, "").HTML}, key)
	}
	// It is high enough even where it is narrowest.
	p := lent(t)
	require.NoError(t, p.Do(chromedp.EmulateViewport(200, 400)))
	require.NoError(t, p.Go(demo.Public+"/p/demo-reviews"))
	require.NoError(t, p.Wait(`document.querySelector("[data-glass-pocket]").getBoundingClientRect().height > 1000`))
	assert.LessOrEqual(t, eval[float64](t, p, `document.querySelector("[data-glass-pocket]").getBoundingClientRect().height`), 3308.0)

	// The snippet of a frame has no width that is not valid HTML.
	snippets, err := api.Snippets(t.Context(), "demo-reviews", "frame")
	require.NoError(t, err)
	assert.Contains(t, snippets.Snippets[0].Parts[0].Text, `style="border:0;width:100%"`)
	assert.NotContains(t, snippets.Snippets[0].Parts[0].Text, `width="100%"`)
}
