// Package lab has small simulated hosts that do what such hosts do: remove scripts, show code as
// text, put it into sandboxed frames, delay scripts until consent, cache old pages. Each host is a
// function in this package, written without the host profiles, so that their predictions can be
// compared with it.
package lab

import (
	"fmt"
	"html"
	"net/http"
	"sort"
	"strings"
	"sync"
	"time"
)

// Host is a simulated host.
type Host struct {
	Name  string // of the profile that describes it
	Title string // of its sites, invented
	// Fields are the fields of its editor, in order.
	Fields []Field
	// Switches are the switches in its settings.
	Switches []Switch
	// Page returns the page that visitors see of what was published.
	Page func(s *Site, path string) Page
	// Check refuses what the host does not accept, with the host's message.
	Check func(field, text string) error
	// Keeps is how long visitors can see an old page.
	Keeps time.Duration
}

// Field is a field of an editor.
type Field struct {
	Name   string // of the profile's place
	Label  string
	Line   bool   // a single line, such as an address
	Sample string // its initial content
}

// Switch can be turned on or off.
type Switch struct{ Name, Label string }

// Page is what visitors receive.
type Page struct {
	HTML   string
	Policy string // Content-Security-Policy
}

// Site is a site on a host: its draft, and what was published.
type Site struct {
	Base      string            // address, without a slash at its end
	Fields    map[string]string // published
	On        map[string]bool   // the switches
	Published time.Time
	mu        sync.Mutex
	kept      map[string]keptPage
	unfolded  map[string]string // what links led to, by their addresses
}

type keptPage struct {
	Page
	at time.Time
}

// Lab serves all hosts below one path.
type Lab struct {
	base  string // its address, without a slash at its end
	hosts map[string]*Host
	mu    sync.Mutex
	sites map[string]*Site
}

// sitesMost limits how many sites are stored, so that a demo that nobody stops stays small.
const sitesMost = 2000

// New returns a lab that is served at base.
func New(base string) *Lab {
	l := &Lab{base: strings.TrimRight(base, "/"), hosts: map[string]*Host{}, sites: map[string]*Site{}}
	for _, h := range all() {
		l.hosts[h.Name] = h
	}
	return l
}

// Names lists the hosts' names.
func (l *Lab) Names() (list []string) {
	for name := range l.hosts {
		list = append(list, name)
	}
	sort.Strings(list)
	return list
}

func (l *Lab) site(host, name string) *Site {
	l.mu.Lock()
	defer l.mu.Unlock()
	key := host + "/" + name
	s := l.sites[key]
	if s == nil {
		if len(l.sites) >= sitesMost {
			l.sites = map[string]*Site{}
		}
		s = &Site{Base: l.base + "/" + key, Fields: map[string]string{}, On: map[string]bool{}, kept: map[string]keptPage{}, unfolded: map[string]string{}}
		for _, f := range l.hosts[host].Fields {
			s.Fields[f.Name] = f.Sample
		}
		l.sites[key] = s
	}
	return s
}

// ServeHTTP serves paths relative to the lab's: /HOST/SITE/edit is the editor, /HOST/SITE/publish
// receives its form, and everything else below /HOST/SITE/ is a page.
func (l *Lab) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	parts := strings.SplitN(strings.Trim(r.URL.Path, "/"), "/", 3)
	if parts[0] == "" {
		l.index(w)
		return
	}
	h := l.hosts[parts[0]]
	if h == nil {
		http.Error(w, "There is no such host in the lab. All hosts are listed at "+l.base+"/.", http.StatusNotFound)
		return
	}
	if len(parts) < 2 {
		http.Redirect(w, r, l.base+"/"+h.Name+"/trial/edit", http.StatusSeeOther)
		return
	}
	s, path := l.site(h.Name, parts[1]), ""
	if len(parts) == 3 {
		path = parts[2]
	}
	switch {
	case path == "edit":
		s.mu.Lock()
		defer s.mu.Unlock()
		l.editor(w, h, s, "")
	case path == "publish" && r.Method == http.MethodPost:
		l.publish(w, r, h, s)
	default:
		l.visit(w, r, h, s, "/"+path)
	}
}

// bodyMost is the largest request of an editor, in bytes.
const bodyMost = 1 << 20

func (l *Lab) publish(w http.ResponseWriter, r *http.Request, h *Host, s *Site) {
	r.Body = http.MaxBytesReader(w, r.Body, bodyMost)
	if err := r.ParseForm(); err != nil {
		http.Error(w, "This is too large for this host.", http.StatusRequestEntityTooLarge)
		return
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	for _, f := range h.Fields {
		// Forms send line breaks as CR LF (HTML, section 4.10.22.5).
		text := strings.ReplaceAll(r.PostForm.Get(f.Name), "\r\n", "\n")
		if h.Check != nil {
			if err := h.Check(f.Name, text); err != nil {
				w.WriteHeader(http.StatusUnprocessableEntity)
				l.editor(w, h, s, err.Error())
				return
			}
		}
		s.Fields[f.Name] = text
	}
	for _, sw := range h.Switches {
		s.On[sw.Name] = r.PostForm.Get(sw.Name) != ""
	}
	if r.PostForm.Get("empty-cache") != "" {
		s.kept = map[string]keptPage{}
	}
	s.unfolded = map[string]string{}
	s.Published = time.Now()
	http.Redirect(w, r, s.Base+"/", http.StatusSeeOther)
}

func (l *Lab) visit(w http.ResponseWriter, r *http.Request, h *Host, s *Site, path string) {
	s.mu.Lock()
	page, kept := s.kept[path]
	if !kept || time.Since(page.at) > h.Keeps || r.URL.RawQuery == "new" {
		page = keptPage{h.Page(s, path), time.Now()}
		s.kept[path] = page
	}
	s.mu.Unlock()
	w.Header().Set("Content-Type", "text/html; charset=utf-8")
	w.Header().Set("Cache-Control", "no-store")
	if page.Policy != "" {
		w.Header().Set("Content-Security-Policy", page.Policy)
	}
	fmt.Fprint(w, page.HTML)
}

const look = `body{margin:0;background:#fbfaf6;color:#22303c;font:17px/1.6 ui-sans-serif,system-ui,"Noto Sans",sans-serif}
.page{max-width:44rem;margin:0 auto;padding:24px}
h1{font-size:30px;line-height:1.2;margin:8px 0 12px}
nav a{margin-inline-end:14px;color:#31586b}
label{display:block;font-weight:600;margin:18px 0 6px}
textarea,input[type=text]{width:100%;box-sizing:border-box;font:14px/1.5 ui-monospace,"Noto Sans Mono",monospace;padding:10px;border:1px solid #8896a0;border-radius:6px;background:#fff;color:inherit}
textarea{height:9em}
.switch{display:flex;gap:8px;align-items:center;font-weight:400}
button{margin-top:20px;padding:9px 18px;border:0;border-radius:6px;background:#31586b;color:#fff;font:inherit}
.wrong{padding:10px 14px;border-inline-start:4px solid #a3212b;background:#fdeeee}
.quiet{color:#5b6972}`

func (l *Lab) editor(w http.ResponseWriter, h *Host, s *Site, wrong string) {
	var b strings.Builder
	fmt.Fprintf(&b, `<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>Edit: %s</title><style>%s</style><div class="page"><nav><a href="%s/">All hosts</a><a href="%s/">Visit the site</a></nav><h1>%s</h1><p class="quiet">This is the editor of a simulated host. It processes what you publish like a host of its kind.</p>`,
		html.EscapeString(h.Title), look, l.base, s.Base, html.EscapeString(h.Title))
	if wrong != "" {
		fmt.Fprintf(&b, `<p class="wrong" role="alert">%s</p>`, html.EscapeString(wrong))
	}
	fmt.Fprintf(&b, `<form method="post" action="%s/publish">`, s.Base)
	for _, f := range h.Fields {
		fmt.Fprintf(&b, `<label for="%s">%s</label>`, f.Name, html.EscapeString(f.Label))
		if f.Line {
			fmt.Fprintf(&b, `<input type="text" id="%s" name="%[1]s" value="%s" autocomplete="off">`, f.Name, html.EscapeString(s.Fields[f.Name]))
		} else {
			// The first line break of a textarea is not part of it (HTML, section 13.2.6.4.7).
			fmt.Fprintf(&b, "<textarea id=\"%s\" name=\"%[1]s\" spellcheck=\"false\">\n%s</textarea>", f.Name, html.EscapeString(s.Fields[f.Name]))
		}
	}
	for _, sw := range h.Switches {
		on := ""
		if s.On[sw.Name] {
			on = " checked"
		}
		fmt.Fprintf(&b, `<label class="switch"><input type="checkbox" id="%s" name="%[1]s"%s>%s</label>`, sw.Name, on, html.EscapeString(sw.Label))
	}
	if h.Keeps > 0 {
		b.WriteString(`<label class="switch"><input type="checkbox" id="empty-cache" name="empty-cache">Empty the site’s cache</label>`)
	}
	b.WriteString(`<button type="submit" id="publish">Publish</button></form></div></html>`)
	w.Header().Set("Content-Type", "text/html; charset=utf-8")
	w.Header().Set("Cache-Control", "no-store")
	fmt.Fprint(w, b.String())
}

func (l *Lab) index(w http.ResponseWriter) {
	var b strings.Builder
	fmt.Fprintf(&b, `<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>Host lab</title><style>%s</style><div class="page"><h1>Host lab</h1><p>These are small simulated hosts. Each processes what you paste like hosts of its kind. Choose one, paste a snippet, publish, and view the page.</p><ul>`, look)
	for _, name := range l.Names() {
		fmt.Fprintf(&b, `<li><a href="%s/%s/trial/edit">%s</a> <span class="quiet">%[2]s</span></li>`, l.base, name, html.EscapeString(l.hosts[name].Title))
	}
	b.WriteString(`</ul></div></html>`)
	w.Header().Set("Content-Type", "text/html; charset=utf-8")
	fmt.Fprint(w, b.String())
}

// shown marks the place of a field's result in a page.
func shown(name, markup string) string {
	return `<div data-lab-place="` + name + `">` + markup + `</div>`
}

// document returns a page of a site. The end of the page and its head belong to the site.
func document(s *Site, title, head, content, column, end string) string {
	aside := ""
	if column != "" {
		aside = `<aside style="border-top:1px solid #d8d4c8;margin-top:24px;padding-top:12px">` + column + `</aside>`
	}
	return `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>` + html.EscapeString(title) + `</title>` + head +
		`</head><body style="margin:0;font:17px/1.6 system-ui,sans-serif"><div style="max-width:44rem;margin:0 auto;padding:24px"><h1>` + html.EscapeString(title) + `</h1><p>The boat calls at ten and at two.</p>` +
		content + `<p id="below">From the landing it is a walk of eight minutes along the wall.</p>` + aside + `</div>` + end + `</body></html>`
}
