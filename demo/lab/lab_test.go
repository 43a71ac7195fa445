package lab

import (
	"fmt"
	"net/http"
	"net/http/httptest"
	"net/url"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Many sites of one host are published and looked at together.
func TestManySitesAtOnce(t *testing.T) {
	var linked *httptest.Server
	linked = httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.URL.Path == "/oembed" {
			fmt.Fprintf(w, `{"html": "<iframe src='https://pockets.example%s'></iframe><script>alert(1)</script>"}`, r.URL.Query().Get("of"))
			return
		}
		fmt.Fprintf(w, `<link rel="alternate" type="application/json+oembed" href="%s/oembed?of=%s">`, linked.URL, r.URL.Path)
	}))
	defer linked.Close()
	l := New("http://lab.example")
	ask := func(method, path, form string) *httptest.ResponseRecorder {
		r := httptest.NewRequest(method, path, strings.NewReader(form))
		r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		w := httptest.NewRecorder()
		l.ServeHTTP(w, r)
		return w
	}
	var all sync.WaitGroup
	for i := range 32 {
		all.Go(func() {
			var post strings.Builder
			for j := range 20 {
				fmt.Fprintf(&post, "%s/p/%d-%d\n", linked.URL, i, j)
			}
			site := fmt.Sprintf("/discussion/site-%d", i)
			assert.Equal(t, http.StatusSeeOther, ask("POST", site+"/publish", url.Values{"post": {post.String()}}.Encode()).Code)
			page := ask("GET", site+"/", "").Body.String()
			assert.Equal(t, 20, strings.Count(page, fmt.Sprintf(`<iframe src="https://pockets.example/p/%d-`, i)), "each link is what it leads to")
			assert.NotContains(t, page, "alert")
		})
	}
	all.Wait()
	w := ask("POST", "/shop-code-section/site/publish", url.Values{"section": {"{{ shop"}}.Encode())
	require.Equal(t, http.StatusUnprocessableEntity, w.Code)
	assert.Contains(t, w.Body.String(), "The template cannot be read")
	assert.NotContains(t, ask("GET", "/shop-code-section/site/", "").Body.String(), "{{", "what was refused is not published")
}
