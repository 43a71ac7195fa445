package local

import (
	"glasspocket/internal/digest"
	"net/http"
	"net/http/httptest"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"testing/fstest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The worktop of a folder writes files, so it answers to this computer's own page alone; and it
// writes over nothing that another program has changed.
func TestWhoMayWrite(t *testing.T) {
	b, dir := opened(t)
	const own = "http://127.0.0.1:7450"
	h := b.guarded(own, b.worktop("http://127.0.0.1:1", fstest.MapFS{"index.html": {Data: []byte("<p>console")}}))
	ask := func(method, path, body string, headers ...string) (int, string) {
		r := httptest.NewRequest(method, own+path, strings.NewReader(body))
		for i := 0; i+1 < len(headers); i += 2 {
			if headers[i] == "Host" {
				r.Host = headers[i+1]
			}
			r.Header.Set(headers[i], headers[i+1])
		}
		if r.Header.Get("Cookie") == "" {
			r.Header.Set("Cookie", "glass-worktop-7450="+string(b.secret))
		}
		w := httptest.NewRecorder()
		h.ServeHTTP(w, r)
		return w.Code, w.Body.String()
	}
	const draft = "/api/v1/widgets/tide/draft"
	style, err := os.ReadFile(filepath.Join(dir, "style.css"))
	require.NoError(t, err)
	change := `{"files": [{"path": "style.css", "text": "x", "was": "` + digest.Of(style) + `"}]}`
	for name, c := range map[string]struct {
		headers []string
		want    int
	}{
		"another site":       {[]string{"Sec-Fetch-Site", "cross-site", "Origin", "https://evil.example"}, 403},
		"another local port": {[]string{"Sec-Fetch-Site", "same-site", "Origin", "http://127.0.0.1:9"}, 403},
		"nobody says":        {nil, 403},
		"a name led here":    {[]string{"Host", "evil.example:7450", "Sec-Fetch-Site", "same-origin"}, 421},
		"another user":       {[]string{"Sec-Fetch-Site", "same-origin", "Cookie", "x=y"}, 401},
		"with a guess":       {[]string{"Sec-Fetch-Site", "same-origin", "Cookie", "glass-worktop-7450=guess"}, 401},
		"the page by itself": {[]string{"Sec-Fetch-Site", "same-origin"}, 200},
		"by its other name":  {[]string{"Host", "localhost:7450", "Origin", "http://localhost:7450"}, 200},
	} {
		if c.want == 200 {
			require.NoError(t, os.WriteFile(filepath.Join(dir, "style.css"), style, 0o644))
		}
		code, body := ask(http.MethodPatch, draft, change, c.headers...)
		assert.Equal(t, c.want, code, "%s: %s", name, body)
	}
	page := []string{"Sec-Fetch-Site", "same-origin"}
	code, body := ask(http.MethodPatch, draft, change, page...)
	assert.Equal(t, 200, code, "the same again changes nothing: %s", body)
	require.NoError(t, os.WriteFile(filepath.Join(dir, "style.css"), []byte("theirs"), 0o644))
	code, body = ask(http.MethodPatch, draft, strings.Replace(change, `"x"`, `"y"`, 1), page...)
	assert.Equal(t, 412, code)
	assert.Contains(t, body, "Another program has changed style.css.")
	code, body = ask(http.MethodPatch, draft, `{"files": [{"path": "../out.css", "text": "x"}]}`, page...)
	assert.Equal(t, 422, code, body)
	code, body = ask(http.MethodPatch, draft, `{"files"`, page...)
	assert.Equal(t, 422, code, body)
	_, err = os.Stat(filepath.Join(dir, "..", "out.css"))
	assert.True(t, os.IsNotExist(err))

	code, _ = ask(http.MethodGet, "/worktop/tide?key=guess", "", "Cookie", "x=y")
	assert.Equal(t, 401, code)
	r := httptest.NewRequest(http.MethodGet, b.Address("127.0.0.1:7450"), nil)
	opening := httptest.NewRecorder()
	h.ServeHTTP(opening, r)
	assert.Equal(t, [2]any{303, "/worktop/tide"}, [2]any{opening.Code, opening.Header().Get("Location")}, "the key stays out of the history")
	assert.Contains(t, opening.Header().Get("Set-Cookie"), "HttpOnly; SameSite=Strict")
	code, body = ask(http.MethodGet, "/worktop/tide", "")
	assert.Equal(t, [2]any{200, "<p>console"}, [2]any{code, body})
	code, body = ask(http.MethodGet, "/api/v1/pockets", "")
	assert.Equal(t, 404, code)
	assert.Contains(t, body, "does not have this")
	code, body = ask(http.MethodPost, draft+"/previews", `{"cases": [{"content": "nothing of the kind"}, {}]}`, page...)
	require.Equal(t, 200, code)
	assert.Contains(t, body, "There is no amount of content")
	assert.Contains(t, body, "data-glass-part")
	code, body = ask(http.MethodPost, draft+"/checks", `{"files": [{"path": "view.html", "text": "<p>"}]}`, page...)
	require.Equal(t, 200, code)
	assert.Contains(t, body, "is never closed")
}
