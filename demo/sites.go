package demo

import (
	"bytes"
	"embed"
	"net/http"
	"path"
	"strings"
	"text/template"
	"time"

	"glasspocket/demo/lab"
)

// The host pages have their own origin, as customers' sites do. They are plain text templates,
// because a snippet must reach the page exactly as it was printed.
//
//go:embed sites/*.html
var pages embed.FS

// Sites serves the host pages at base.
func Sites(w *World, base string) *http.Server {
	t := template.Must(template.New("").Funcs(template.FuncMap{
		"paste": func(key string) string { return w.snippet(key, 0, 9) },
		// wrap inserts the page's own content where the snippet says.
		"wrap": func(snippet, content string) string {
			return strings.Replace(snippet, "<!-- Your own content goes here. -->", content, 1)
		},
		"part": func(key string, n int) string { return w.snippet(key, n, n+1) },
	}).ParseFS(pages, "sites/*.html"))
	hosts := http.StripPrefix("/lab", lab.New(base+"/lab"))
	return &http.Server{ReadHeaderTimeout: 10 * time.Second, Handler: http.HandlerFunc(func(rw http.ResponseWriter, r *http.Request) {
		if r.URL.Path == "/lab" || strings.HasPrefix(r.URL.Path, "/lab/") {
			hosts.ServeHTTP(rw, r)
			return
		}
		name := strings.Trim(path.Clean(r.URL.Path), "/")
		if name == "" {
			name = "index"
		}
		page := t.Lookup(name + ".html")
		if page == nil {
			http.Error(rw, "This demo has no such page. All pages are listed at "+base+"/.", http.StatusNotFound)
			return
		}
		var b bytes.Buffer
		if err := page.Execute(&b, nil); err != nil {
			http.Error(rw, err.Error(), http.StatusInternalServerError)
			return
		}
		rw.Header().Set("Content-Type", "text/html; charset=utf-8")
		rw.Header().Set("Cache-Control", "no-store")
		rw.Write(b.Bytes())
	})}
}
