// Package delivery has what visitors receive: it renders publications, stores the results, and
// finds them again. Everything that the public listener needs comes from here.
package delivery

import (
	"sync"
	"time"

	"github.com/maypok86/otter/v2"

	"glasspocket/internal/app/customer"
	"glasspocket/internal/app/release"
	"glasspocket/internal/app/source"
	"glasspocket/internal/render"
	"glasspocket/internal/signal"
)

// Delivery makes and finds what visitors receive. It is safe for concurrent use.
type Delivery struct {
	store      Store
	customers  *customer.Customers
	releases   *release.Releases
	sources    *source.Sources
	signals    *signal.Signals
	site       *render.Site
	refusals   refusals
	pages      *otter.Cache[string, *listPage] // by key and query
	tries      *otter.Cache[string, *TriedPage]
	publishing [64]sync.Mutex // by key: serialises publishing and builds of a pocket
	notice     func(what string, about ...any)
	now        func() time.Time
}

// Options are the parts of a Delivery. All are required.
type Options struct {
	Store     Store
	Customers *customer.Customers
	Releases  *release.Releases
	Sources   *source.Sources
	Signals   *signal.Signals
	Site      *render.Site
	// Notice tells the operator what no response can tell. about has keys and values alternately.
	Notice func(what string, about ...any)
	Now    func() time.Time
}

// New returns a Delivery.
func New(o Options) *Delivery {
	return &Delivery{store: o.Store, customers: o.Customers, releases: o.Releases, sources: o.Sources, signals: o.Signals, site: o.Site, pages: newPages(), tries: newTries(), notice: o.Notice, now: o.Now}
}

func newPages() *otter.Cache[string, *listPage] {
	return otter.Must(&otter.Options[string, *listPage]{MaximumWeight: moreBytes, Weigher: func(name string, p *listPage) uint32 { return uint32(len(name) + len(p.document.Brotli) + 512) }})
}

// Base returns the public address, without a slash at its end.
func (a *Delivery) Base() string { return a.site.Base }
