// Package standin has small stand-ins for the services that content comes from. They speak open
// formats only, and ship with the demo: a directory of businesses, a social server, and a harbour's
// notice board. Each has a control page at /control, to make it respond slowly, fail, move or
// change.
package standin

import (
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"
)

// The modes of a stand-in.
const (
	Normal  = "normal"
	Slow    = "slow"    // answers after three seconds
	Silent  = "silent"  // does not answer until the client gives up
	Failing = "failing" // 503
	Limited = "limited" // 429 with Retry-After
	Moved   = "moved"   // 308 to the same path below /moved
	SignIn  = "sign-in" // 200 with a web page that asks for a password
	Broken  = "broken"  // half of the content
	Huge    = "huge"    // content without an end
	Gone    = "gone"    // 410
)

// Modes lists them, with what they do.
var Modes = []struct{ Name, Label string }{
	{Normal, "Answer normally"}, {Slow, "Answer after three seconds"}, {Silent, "Do not answer"}, {Failing, "Fail with 503"}, {Limited, "Limit the rate with 429"}, {Moved, "Redirect permanently"},
	{SignIn, "Answer with a sign-in page"}, {Broken, "Send half of the content"}, {Huge, "Send content without an end"}, {Gone, "Disappear permanently with 410"},
}

// StandIn is one stand-in. It is safe for concurrent use.
type StandIn struct {
	Name  string
	About string
	now   func() time.Time
	mux   *http.ServeMux
	// Changes are what the control page can change in the content, by name.
	changes []change

	mu       sync.Mutex
	mode     string
	requests []Request
	hooks    []func(path string) // called after the content has changed
}

// Request is a request that a stand-in got, for tests and the control page.
type Request struct {
	At     time.Time   `json:"at"`
	Method string      `json:"method"`
	Path   string      `json:"path"`
	Header http.Header `json:"header"`
	Status int         `json:"status"`
}

// change is something that the control page changes. do returns the paths that have changed.
type change struct {
	name, label string
	do          func() (paths []string)
}

func newStandIn(name, about string, now func() time.Time) *StandIn {
	return &StandIn{Name: name, About: about, now: now, mux: http.NewServeMux(), mode: Normal}
}

// requestsKept is how many requests the control page lists.
const requestsKept = 200

// ServeHTTP implements http.Handler.
func (s *StandIn) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	if r.URL.Path == "/control" {
		s.control(w, r)
		return
	}
	s.mu.Lock()
	mode := s.mode
	s.mu.Unlock()
	seen := &seenWriter{ResponseWriter: w, status: 200}
	defer func() {
		s.mu.Lock()
		defer s.mu.Unlock()
		s.requests = append(s.requests, Request{At: time.Now(), Method: r.Method, Path: r.URL.RequestURI(), Header: r.Header.Clone(), Status: seen.status})
		if n := len(s.requests) - requestsKept; n > 0 {
			s.requests = slices.Delete(s.requests, 0, n)
		}
	}()
	s.answer(seen, r, mode)
}

// RetryAfter is what a limited stand-in asks for.
const RetryAfter = 120 * time.Second

func (s *StandIn) answer(w http.ResponseWriter, r *http.Request, mode string) {
	if rest, ok := strings.CutPrefix(r.URL.Path, "/moved/"); ok {
		r = r.Clone(r.Context())
		r.URL.Path = "/" + rest
	} else if mode == Moved {
		http.Redirect(w, r, "/moved"+r.URL.RequestURI(), http.StatusPermanentRedirect)
		return
	}
	switch mode {
	case Slow:
		select {
		case <-time.After(3 * time.Second):
		case <-r.Context().Done():
			return
		}
	case Silent:
		<-r.Context().Done()
		return
	case Failing:
		http.Error(w, "The service is down for maintenance.", http.StatusServiceUnavailable)
		return
	case Limited:
		w.Header().Set("Retry-After", strconv.Itoa(int(RetryAfter.Seconds())))
		http.Error(w, "Too many requests.", http.StatusTooManyRequests)
		return
	case Gone:
		http.Error(w, "This account has been deleted.", http.StatusGone)
		return
	case SignIn:
		w.Header().Set("Content-Type", "text/html; charset=utf-8")
		fmt.Fprint(w, `<!doctype html><title>Sign in</title><form><input type="password"></form>`)
		return
	case Huge:
		w.Header().Set("Content-Type", "application/rss+xml")
		fmt.Fprint(w, `<rss version="2.0"><channel><title>Endless</title>`)
		for r.Context().Err() == nil {
			if _, err := fmt.Fprint(w, strings.Repeat("<item><title>Again</title></item>", 1000)); err != nil {
				return
			}
		}
		return
	case Broken:
		half := &halfWriter{ResponseWriter: w}
		s.mux.ServeHTTP(half, r)
		w.WriteHeader(http.StatusOK)
		w.Write(half.body[:len(half.body)/2])
		return
	}
	s.mux.ServeHTTP(w, r)
}

type seenWriter struct {
	http.ResponseWriter
	status int
}

func (w *seenWriter) WriteHeader(status int) {
	w.status = status
	w.ResponseWriter.WriteHeader(status)
}

type halfWriter struct {
	http.ResponseWriter
	body []byte
}

func (w *halfWriter) WriteHeader(int) {}
func (w *halfWriter) Write(b []byte) (int, error) {
	w.body = append(w.body, b...)
	return len(b), nil
}

// Set sets the mode.
func (s *StandIn) Set(mode string) error {
	for _, m := range Modes {
		if m.Name == mode {
			s.mu.Lock()
			s.mode = mode
			s.mu.Unlock()
			return nil
		}
	}
	return fmt.Errorf("there is no mode %q", mode)
}

// Change changes the content.
func (s *StandIn) Change(name string) error {
	for _, c := range s.changes {
		if c.name == name {
			s.mu.Lock()
			paths, hooks := c.do(), slices.Clone(s.hooks)
			s.mu.Unlock()
			for _, path := range paths {
				for _, hook := range hooks {
					hook(path)
				}
			}
			return nil
		}
	}
	return fmt.Errorf("there is no change %q", name)
}

// Requests returns the last requests, the newest last.
func (s *StandIn) Requests() []Request {
	s.mu.Lock()
	defer s.mu.Unlock()
	return slices.Clone(s.requests)
}

// send sends content with an ETag, and 304 to who has it.
func send(w http.ResponseWriter, r *http.Request, kind, content string) {
	sum := sha256.Sum256([]byte(content))
	tag := `"` + hex.EncodeToString(sum[:8]) + `"`
	w.Header().Set("ETag", tag)
	w.Header().Set("Content-Type", kind)
	w.Header().Set("Cache-Control", "max-age=300")
	if r.Header.Get("If-None-Match") == tag {
		w.WriteHeader(http.StatusNotModified)
		return
	}
	fmt.Fprint(w, content)
}

func sendJSON(w http.ResponseWriter, r *http.Request, kind string, v any) {
	text, err := json.MarshalIndent(v, "", "  ")
	if err != nil {
		http.Error(w, err.Error(), http.StatusInternalServerError)
		return
	}
	send(w, r, kind, string(text)+"\n")
}

// base returns the address under which the stand-in was requested.
func base(r *http.Request) string { return "http://" + r.Host }

// control is the control page, and its API: POST with the form fields mode or change.
func (s *StandIn) control(w http.ResponseWriter, r *http.Request) {
	if site := r.Header.Get("Sec-Fetch-Site"); r.Method == http.MethodPost && site != "" && site != "same-origin" && site != "none" {
		http.Error(w, "Only this page controls the stand-in.", http.StatusForbidden)
		return
	}
	if r.Method == http.MethodPost {
		var err error
		if mode := r.FormValue("mode"); mode != "" {
			err = s.Set(mode)
		} else {
			err = s.Change(r.FormValue("change"))
		}
		if err != nil {
			http.Error(w, err.Error(), http.StatusBadRequest)
			return
		}
		if strings.Contains(r.Header.Get("Accept"), "text/html") {
			http.Redirect(w, r, "/control", http.StatusSeeOther)
			return
		}
	}
	s.mu.Lock()
	data := controlData{Name: s.Name, About: s.About, Mode: s.mode, Modes: Modes, Requests: slices.Clone(s.requests[max(0, len(s.requests)-20):])}
	s.mu.Unlock()
	slices.Reverse(data.Requests)
	for _, c := range s.changes {
		data.Changes = append(data.Changes, struct{ Name, Label string }{c.name, c.label})
	}
	if !strings.Contains(r.Header.Get("Accept"), "text/html") {
		w.Header().Set("Content-Type", "application/json")
		json.NewEncoder(w).Encode(map[string]any{"mode": data.Mode, "requests": data.Requests})
		return
	}
	w.Header().Set("Content-Type", "text/html; charset=utf-8")
	controlPage.Execute(w, data)
}

type controlData struct {
	Name, About, Mode string
	Modes, Changes    []struct{ Name, Label string }
	Requests          []Request
}
