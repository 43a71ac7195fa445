package local

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"mime"
	"net"
	"net/http"
	"path"
	"strings"
	"time"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/workshop"
	"glasspocket/internal/bundle"
	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/render"
	"glasspocket/internal/wire"
	"glasspocket/loader"
)

// bodyMost is the largest body of a request, in bytes.
const bodyMost = 32 << 20

// Serve serves two listeners until ctx is done: the worktop, and, as a separate origin, what its
// previews load. Both must have a loopback address.
func (t *Bench) Serve(ctx context.Context, worktop, previews net.Listener, console fs.FS) error {
	base, own := "http://"+previews.Addr().String(), "http://"+worktop.Addr().String()
	code, err := bundle.Loader(base)
	if err != nil {
		return err
	}
	if t.site, err = render.NewSite(base, code, "", bundle.Kit); err != nil {
		return err
	}
	script, err := bundle.Worktop(base)
	if err != nil {
		return err
	}
	later := map[string]string{}
	for _, name := range bundle.Later {
		if later[name], err = bundle.Module(name, base); err != nil {
			return err
		}
	}
	servers := []*http.Server{
		{Handler: t.guarded(own, t.worktop(base, console)), ReadHeaderTimeout: 10 * time.Second, BaseContext: func(net.Listener) context.Context { return ctx }},
		{Handler: t.previews(base, script, later), ReadHeaderTimeout: 10 * time.Second},
	}
	failed := make(chan error, 2)
	for i, l := range []net.Listener{worktop, previews} {
		go func() { failed <- servers[i].Serve(l) }()
	}
	select {
	case <-ctx.Done():
	case err = <-failed:
	}
	for _, s := range servers {
		s.Close()
	}
	if errors.Is(err, http.ErrServerClosed) {
		err = nil
	}
	return err
}

// guarded accepts only requests from this computer's own browser and from the worktop's own pages,
// with its secret: other sites and other users must not write files here.
func (t *Bench) guarded(own string, next http.Handler) http.Handler {
	host := strings.TrimPrefix(own, "http://")
	_, port, _ := net.SplitHostPort(host)
	next = t.secret.kept(port, next)
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		site := r.Header.Get("Sec-Fetch-Site")
		origin := r.Header.Get("Origin")
		switch {
		case r.Host != host && r.Host != "localhost:"+port:
			problem(w, http.StatusMisdirectedRequest, "wrong-host", "This worktop does not answer to this host name.", "Open "+own+".")
		case r.Method != http.MethodGet && site != "same-origin" && origin != "http://"+r.Host:
			problem(w, http.StatusForbidden, "cross-site", "Only the worktop's own page can change files.", "Open "+own+".")
		default:
			next.ServeHTTP(w, r)
		}
	})
}

func problem(w http.ResponseWriter, status int, code, what, hint string, faults ...fault.Fault) {
	w.Header().Set("Content-Type", "application/problem+json")
	w.WriteHeader(status)
	json.NewEncoder(w).Encode(wire.Problem{Type: "about:blank", Title: http.StatusText(status), Status: status, Detail: what, Code: code, Hint: hint, Faults: faults})
}

func answer(w http.ResponseWriter, v any) {
	w.Header().Set("Content-Type", "application/json")
	w.Header().Set("Cache-Control", "no-store")
	json.NewEncoder(w).Encode(v)
}

// readBody decodes a request's body and passes it to do.
func readBody[T any](w http.ResponseWriter, r *http.Request, do func(T)) {
	var in T
	dec := json.NewDecoder(http.MaxBytesReader(w, r.Body, bodyMost))
	if err := dec.Decode(&in); err != nil {
		_, why := jsondoc.Explain(err)
		problem(w, http.StatusUnprocessableEntity, "body-faulty", "The request's body cannot be read: "+why, "Reload the page.")
		return
	}
	do(in)
}

// worktop serves the console and the part of the API that it uses here.
func (t *Bench) worktop(base string, console fs.FS) http.Handler {
	mux := http.NewServeMux()
	mux.HandleFunc("GET /api/v1/session", func(w http.ResponseWriter, _ *http.Request) {
		answer(w, wire.Session{Name: "you", Role: string(access.Developer), PublicBase: base, Folder: t.dir, Widget: t.name})
	})
	draft := "/api/v1/widgets/" + t.name + "/draft"
	mux.HandleFunc("GET "+draft, func(w http.ResponseWriter, _ *http.Request) { answer(w, t.draft()) })
	mux.HandleFunc("PATCH "+draft, func(w http.ResponseWriter, r *http.Request) {
		readBody(w, r, func(in wire.DraftFiles) {
			faults, err := t.save(wire.Changes(in.Files))
			switch {
			case err != nil:
				problem(w, http.StatusServiceUnavailable, "disk-fails", "The folder cannot be written: "+err.Error()+".", "Check the folder. Your changes are still on this page.")
			case len(faults) > 0 && faults[0].Code == fault.FileChanged:
				problem(w, http.StatusPreconditionFailed, "draft-changed", faults[0].What, faults[0].Fix, faults...)
			case len(faults) > 0:
				problem(w, http.StatusUnprocessableEntity, "widget-faulty", "The folder cannot be saved.", "Correct the faults listed.", faults...)
			default:
				answer(w, t.draft())
			}
		})
	})
	mux.HandleFunc("POST "+draft+"/previews", func(w http.ResponseWriter, r *http.Request) {
		readBody(w, r, func(in wire.PreviewWidget) {
			if len(in.Cases) > workshop.CasesMost {
				problem(w, http.StatusUnprocessableEntity, "too-many-cases", "At most 24 preview cases can be shown at once.", "Request fewer.")
				return
			}
			answer(w, t.try(wire.Changes(in.Files), in.Cases))
		})
	})
	mux.HandleFunc("POST "+draft+"/checks", func(w http.ResponseWriter, r *http.Request) {
		readBody(w, r, func(in wire.DraftFiles) { answer(w, t.check(wire.Changes(in.Files))) })
	})
	mux.HandleFunc("GET "+draft+"/changes", t.stream)
	mux.HandleFunc("/api/", func(w http.ResponseWriter, _ *http.Request) {
		problem(w, http.StatusNotFound, "no-such-address", "The worktop for a folder does not have this feature.", "Release the folder to a service to use it.")
	})
	mux.HandleFunc("/", func(w http.ResponseWriter, r *http.Request) {
		w.Header().Set("Content-Security-Policy", "default-src 'none'; script-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: "+base+"; connect-src 'self'; frame-src "+base+"; form-action 'none'; base-uri 'none'; frame-ancestors 'none'")
		w.Header().Set("Cache-Control", "no-cache")
		name := strings.TrimPrefix(path.Clean(r.URL.Path), "/")
		if info, err := fs.Stat(console, name); err == nil && !info.IsDir() {
			http.ServeFileFS(w, r, console, name)
			return
		}
		page, err := fs.ReadFile(console, "index.html")
		if err != nil || path.Ext(name) != "" {
			http.NotFound(w, r)
			return
		}
		w.Header().Set("Content-Type", "text/html; charset=utf-8")
		w.Write(page)
	})
	return mux
}

// stream reports changes to the folder as they happen (WHATWG HTML, "Server-sent events").
func (t *Bench) stream(w http.ResponseWriter, r *http.Request) {
	changes, end := t.changes()
	defer end()
	w.Header().Set("Content-Type", "text/event-stream")
	w.Header().Set("Cache-Control", "no-store")
	flush := http.NewResponseController(w)
	beat := time.NewTicker(15 * time.Second)
	defer beat.Stop()
	for text := "event: ready\ndata: {}\n\n"; ; {
		if _, err := io.WriteString(w, text); err != nil || flush.Flush() != nil {
			return
		}
		select {
		case <-changes:
			t.mu.Lock()
			text = fmt.Sprintf("event: change\ndata: {\"revision\":%d}\n\n", t.revision)
			t.mu.Unlock()
		case <-beat.C:
			text = ": still here\n\n"
		case <-r.Context().Done():
			return
		}
	}
}

// previews serves what the sandboxed frames load.
func (t *Bench) previews(base, script string, later map[string]string) http.Handler {
	fence := "sandbox allow-scripts; default-src 'none'; script-src blob: " + base + "; style-src 'unsafe-inline'; img-src data: " + base + "; media-src " + base + "; font-src " + base + "; connect-src " + base + "; form-action 'none'; base-uri 'none'"
	mux := http.NewServeMux()
	open := func(w http.ResponseWriter, kind string) {
		w.Header().Set("Content-Type", kind)
		w.Header().Set("Access-Control-Allow-Origin", "*")
		w.Header().Set("Cross-Origin-Resource-Policy", "cross-origin")
		w.Header().Set("Cache-Control", "no-cache")
	}
	mux.HandleFunc("GET /worktop", func(w http.ResponseWriter, _ *http.Request) {
		w.Header().Set("Content-Security-Policy", fence)
		open(w, "text/html; charset=utf-8")
		w.Write(loader.WorktopPage)
	})
	mux.HandleFunc("GET /worktop.js", func(w http.ResponseWriter, _ *http.Request) {
		open(w, "text/javascript; charset=utf-8")
		io.WriteString(w, script)
	})
	for name, code := range later {
		mux.HandleFunc("GET /"+name+".js", func(w http.ResponseWriter, _ *http.Request) {
			open(w, "text/javascript; charset=utf-8")
			io.WriteString(w, code)
		})
	}
	mux.HandleFunc("GET /t", func(w http.ResponseWriter, _ *http.Request) {
		open(w, "text/plain")
		fmt.Fprint(w, time.Now().UnixMilli())
	})
	mux.HandleFunc("GET /a/{digest}/{name}", func(w http.ResponseWriter, r *http.Request) {
		content := t.file(r.PathValue("digest"), r.PathValue("name"))
		if content == nil {
			http.NotFound(w, r)
			return
		}
		open(w, mime.TypeByExtension(path.Ext(r.PathValue("name"))))
		if strings.HasSuffix(r.PathValue("name"), ".svg") {
			w.Header().Set("Content-Security-Policy", "default-src 'none'; style-src 'unsafe-inline'; sandbox")
		}
		w.Write(content)
	})
	return mux
}
