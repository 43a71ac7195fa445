package e2e

import (
	"crypto/sha512"
	"encoding/base64"
	"fmt"
	"net/http"
	"net/http/httptest"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/host"
)

// What we say that a content policy lets in is what a browser lets in.
func TestPoliciesAsABrowserReadsThem(t *testing.T) {
	t.Parallel()
	const script = "window.ran = 1"
	sum := sha512.Sum384([]byte(script))
	pin := "sha384-" + base64.StdEncoding.EncodeToString(sum[:])
	pockets := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		w.Header().Set("Access-Control-Allow-Origin", "*")
		switch r.URL.Path {
		case "/s/tide.js":
			w.Header().Set("Content-Type", "text/javascript")
			fmt.Fprint(w, script)
		case "/a/tide.svg":
			w.Header().Set("Content-Type", "image/svg+xml")
			fmt.Fprint(w, `<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"/>`)
		default:
			w.Header().Set("Content-Type", "text/html")
			fmt.Fprint(w, "<p>Tide")
		}
	}))
	defer pockets.Close()
	// Names below localhost lead to this machine (RFC 6761, section 6.3).
	named := func(server *httptest.Server, name string) string {
		return "http://" + name + ".localhost" + server.URL[strings.LastIndex(server.URL, ":"):]
	}
	base := named(pockets, "pockets")
	at := strings.TrimPrefix(base, "http://")
	policies := []string{
		"", "img-src 'self'", "default-src 'self'", "default-src 'none'", "default-src *", "default-src AT", "default-src 'self'; script-src AT; frame-src AT",
		"script-src http://AT", "script-src AT", "script-src pockets.localhost", "script-src pockets.localhost:*", "script-src *.localhost:*", "script-src *.pockets.localhost:*", "script-src Pockets.LOCALHOST:*",
		"script-src http:", "script-src https:", "script-src https://AT", "script-src *", "script-src", "script-src 'none'", "script-src 'none' AT", "script-src 'unsafe-inline'",
		"script-src AT/s/", "script-src AT/s/tide.js", "script-src AT/s", "script-src AT/S/", "script-src AT/other/", "script-src AT/",
		"script-src 'nonce-tide'", "script-src 'PIN'", "script-src 'sha384-AAAA'", "script-src 'strict-dynamic' AT", "script-src 'strict-dynamic' 'PIN'",
		"script-src-elem AT; script-src 'none'", "script-src AT; script-src-elem 'none'", "script-src AT, script-src 'self'", "script-src AT, img-src AT", "SCRIPT-SRC 'none'; script-src AT", "script-src AT; script-src 'none'",
		"frame-src 'none'", "frame-src AT/p/", "frame-src AT/other/", "child-src 'none'", "child-src AT; frame-src 'none'", "child-src AT; default-src 'none'",
		"img-src data:", "img-src AT", "img-src http: data:", "default-src 'none'; img-src AT/a/",
		"style-src 'self'", "style-src 'unsafe-inline'", "style-src 'unsafe-inline' 'nonce-tide'", "style-src 'unsafe-inline' 'PIN'", "style-src-attr 'none'; style-src 'unsafe-inline'", "style-src-elem 'none'", "default-src 'unsafe-inline' AT",
		"object-src 'none'; base-uri 'none'; frame-ancestors 'self'; upgrade-nothing", "script-src\tAT ;; img-src\n", "sandbox allow-scripts allow-same-origin; script-src AT",
	}
	for i := range policies {
		policies[i] = strings.NewReplacer("AT", at, "PIN", pin).Replace(policies[i])
	}
	isles := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		w.Header().Set("Content-Type", "text/html")
		var i int
		if n, _ := fmt.Sscanf(r.URL.Path, "/%d", &i); n == 1 && policies[i] != "" {
			w.Header().Set("Content-Security-Policy", strings.ReplaceAll(policies[i], "\n", " "))
		}
		fmt.Fprintf(w, `<!doctype html><script src="%s/s/tide.js" integrity="%s" crossorigin="anonymous"></script><p style="color:teal">x</p><img src="%[1]s/a/tide.svg" alt=""><iframe src="%[1]s/p/tide"></iframe>`, base, pin)
	}))
	defer isles.Close()
	p := tab(t)
	require.NoError(t, p.Before(`window.refused = []; document.addEventListener("securitypolicyviolation", e => refused.push(e.effectiveDirective))`))
	seen := map[string]int{}
	for i, policy := range policies {
		self := fmt.Sprintf("%s/%d", named(isles, "isles"), i)
		require.NoError(t, p.Go(self))
		require.NoError(t, p.Wait(`document.readyState == "complete" && window.refused`))
		got := eval[[]string](t, p, `new Promise(done => requestAnimationFrame(() => setTimeout(() => done([...new Set(refused)].sort()))))`)
		read := host.ReadPolicy(policy)
		want := []string{}
		for directive, address := range map[string]string{"script-src-elem": "/s/tide.js", "img-src": "/a/tide.svg", "frame-src": "/p/tide"} {
			pinned := []string{pin}
			if directive != "script-src-elem" {
				pinned = nil
			}
			if ok, _ := read.Allows(directive, self, base+address, pinned...); !ok {
				want = append(want, directive)
			}
		}
		if !read.AllowsInlineStyle() {
			want = append(want, "style-src-attr")
		}
		slices.Sort(want)
		assert.Equal(t, got, want, "%q", policy)
		assert.Equal(t, !slices.Contains(got, "script-src-elem"), eval[bool](t, p, `!!window.ran`), "the browser itself, %q", policy)
		for _, directive := range got {
			seen[directive]++
		}
	}
	for _, directive := range []string{"script-src-elem", "img-src", "frame-src", "style-src-attr"} {
		assert.Greater(t, seen[directive], 5, "the policies refuse each kind: %s", directive)
	}
}
