package jobs

import (
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"net/http/httptest"
	"regexp"
	"strings"
	"sync/atomic"

	"glasspocket/e2e/browser"
	"glasspocket/internal/client"
	"glasspocket/internal/wire"
)

// World is the service that the jobs are done in.
type World struct {
	API            *client.Client
	Manage         string // address of the console
	Skerry         string // address of the social stand-in
	Name, Password string // of a developer
	Browser        *browser.Browser
	suffix         string
}

var runs atomic.Int64

// For returns the world for one run: customers and widgets that it makes have names of their own.
func (w World) For(name string) *World {
	w.suffix = fmt.Sprintf("%s-%d", strings.ToLower(name), runs.Add(1))
	return &w
}

// Act lets an actor act in a tab of its own, and returns what stopped it.
func (w *World) Act(width, height int, keys bool, act func(*Actor)) (a *Actor, err error) {
	a, err = Open(w.Browser, width, height)
	if err != nil {
		return nil, err
	}
	defer a.Page.Close()
	a.Keys = keys
	defer func() {
		switch r := recover().(type) {
		case nil:
		case failure:
			err = r.error
		default:
			panic(r)
		}
	}()
	act(a)
	return a, nil
}

const password = "a kiln that is warm"

// customer makes a customer with an editor, who signs in. It returns the customer's ID.
func (w *World) customer(a *Actor) string {
	id := "jobs-" + w.suffix
	_, err := w.API.MakeCustomer(context.Background(), wire.NewCustomer{ID: id, Name: "Jobs " + w.suffix})
	must(err, "making the customer", a)
	_, err = w.API.MakeUser(context.Background(), wire.NewUser{Name: id, Password: password, Role: "customer-editor", Customer: id})
	must(err, "making the user", a)
	w.SignIn(a, id, password)
	return id
}

// developer signs in somebody who has made pockets for a new customer before. It returns its ID.
func (w *World) developer(a *Actor) string {
	id := "jobs-" + w.suffix
	_, err := w.API.MakeCustomer(context.Background(), wire.NewCustomer{ID: id, Name: "Jobs " + w.suffix})
	must(err, "making the customer", a)
	w.SignIn(a, w.Name, w.Password)
	Eval[any](a, fmt.Sprintf(`localStorage.setItem("glass-pocket-customer", %q); 0`, id))
	return id
}

// SignIn signs somebody in.
func (w *World) SignIn(a *Actor, name, secret string) {
	a.Go(w.Manage + "/healthz")
	status := Eval[int](a, fmt.Sprintf(`fetch("/api/v1/session", {method: "POST", headers: {"Content-Type": "application/json"}, body: JSON.stringify({name: %q, password: %q})}).then(r => r.status)`, name, secret))
	if status != http.StatusCreated {
		must(fmt.Errorf("status %d", status), "signing in", a)
	}
}

// published makes a published countdown of a customer.
func (w *World) published(a *Actor, customer string) string {
	ctx, key := context.Background(), "jobs-"+w.suffix
	p, err := w.API.MakePocket(ctx, wire.NewPocket{Key: key, Customer: customer, Widget: "countdown", Starter: "harbour", Title: "Evenings"})
	must(err, "making the pocket", a)
	_, err = w.API.ChangeDraft(ctx, key, p.Revision, map[string]json.RawMessage{"target": json.RawMessage(`"2098-01-01T00:00[UTC]"`), "heading": json.RawMessage(`"Evenings"`)})
	must(err, "changing the draft", a)
	_, err = w.API.Publish(ctx, key, wire.Publish{})
	must(err, "publishing", a)
	return key
}

var ownPage = regexp.MustCompile(`http://[^"'\s]+/p/[a-z0-9-]+`)

// visit opens a page with a snippet on another origin, at a path, and waits until an expression is
// true there. root(i) is the shadow root of the page's widget i.
func (w *World) visit(a *Actor, snippet, path, expression string) {
	site := httptest.NewServer(http.HandlerFunc(func(out http.ResponseWriter, _ *http.Request) {
		out.Header().Set("Content-Type", "text/html; charset=utf-8")
		fmt.Fprintf(out, `<!doctype html><html lang="en"><title>A page</title><style>body{margin:0 auto;max-width:700px}p{min-height:30vh}</style><body><p>Before</p>%s<p>After</p>`, snippet)
	}))
	defer site.Close()
	p, err := w.Browser.Open(1280, 800)
	must(err, "opening the page", a)
	defer p.Close()
	must(p.Before(`window.root = (i = 0) => [...document.querySelectorAll("*")].filter(e => e.shadowRoot?.querySelector(".pocket"))[i]?.shadowRoot`), "preparing the page", a)
	// A host without scripts shows the pocket's own page, in a frame or by a link.
	to := site.URL + path
	if own := ownPage.FindString(snippet); own != "" && !strings.Contains(snippet, "<script") {
		to = own
	}
	must(p.Go(to), "opening the page", a)
	if err := p.Wait(expression); err != nil {
		text, _ := browser.Eval[string](p, `[...document.querySelectorAll("*")].map(e => e.shadowRoot?.innerHTML ?? "").join("").slice(0, 3000)`)
		must(fmt.Errorf("%w: the page has %s; console %v", err, text, p.Errors()), "visiting the page with "+snippet, a)
	}
}
