// Package install brings pockets to pages: kinds of host, snippets and steps, tries, and handovers.
package install

import (
	"time"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/customer"
	"glasspocket/internal/app/delivery"
	"glasspocket/internal/app/pocket"
	"glasspocket/internal/app/release"
	"glasspocket/internal/host"
	"glasspocket/internal/widget"
)

// Installs brings pockets to pages. It is safe for concurrent use.
type Installs struct {
	store     Store
	customers *customer.Customers
	releases  *release.Releases
	delivery  *delivery.Delivery
	pockets   *pocket.Pockets
	attempts  *access.Attempts
	builder   widget.Builder
	shipped   *host.Set
	hosts     hosts
	pages     PageSource
	trying    chan struct{} // limits pages fetched at a time
	notice    func(what string, about ...any)
	now       func() time.Time
}

// Options are the parts of Installs. All are required, except Pages, without which only pasted pages
// can be tried.
type Options struct {
	Store     Store
	Customers *customer.Customers
	Releases  *release.Releases
	Delivery  *delivery.Delivery
	Pockets   *pocket.Pockets
	Attempts  *access.Attempts
	Builder   widget.Builder
	Hosts     *host.Set // the built-in host profiles
	Pages     PageSource
	Notice    func(what string, about ...any) // see delivery.Options
	Now       func() time.Time
}

// New returns Installs.
func New(o Options) *Installs {
	return &Installs{store: o.Store, customers: o.Customers, releases: o.Releases, delivery: o.Delivery, pockets: o.Pockets, attempts: o.Attempts, builder: o.Builder, shipped: o.Hosts, pages: o.Pages,
		trying: make(chan struct{}, triesAtATime), notice: o.Notice, now: o.Now}
}
