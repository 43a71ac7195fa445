// Package app puts the use cases together: one field of App for each subject, in the order in which
// they may use each other.
package app

import (
	"time"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/audit"
	"glasspocket/internal/app/bulk"
	"glasspocket/internal/app/customer"
	"glasspocket/internal/app/delivery"
	"glasspocket/internal/app/guest"
	"glasspocket/internal/app/install"
	"glasspocket/internal/app/pocket"
	"glasspocket/internal/app/portable"
	"glasspocket/internal/app/publish"
	"glasspocket/internal/app/release"
	"glasspocket/internal/app/rollout"
	"glasspocket/internal/app/source"
	"glasspocket/internal/app/task"
	"glasspocket/internal/app/user"
	"glasspocket/internal/app/workshop"
	"glasspocket/internal/feed"
	"glasspocket/internal/host"
	"glasspocket/internal/render"
	"glasspocket/internal/signal"
	"glasspocket/internal/slots"
	"glasspocket/internal/vault"
	"glasspocket/internal/widget"
	"glasspocket/internal/work"
)

// App is the service without its listeners. It is safe for concurrent use.
type App struct {
	Audit      *audit.Log
	Users      *user.Users
	Releases   *release.Releases
	Customers  *customer.Customers
	Sources    *source.Sources
	Delivery   *delivery.Delivery
	Pockets    *pocket.Pockets
	Publishing *publish.Publishing
	Files      *portable.Files
	Guests     *guest.Guests
	Workshop   *workshop.Workshop
	Rollouts   *rollout.Rollouts
	Installs   *install.Installs
	Jobs       *bulk.Jobs
	Work       *work.Engine // does background work while it runs
	Tasks      *task.Tasks
	now        func() time.Time
}

// Options are the parts of an App. All fields are required except Hosts, Pages, Now, Cost
// and Notice.
type Options struct {
	Store   Store
	Signals *signal.Signals // changes are emitted to it
	Site    *render.Site
	Builder widget.Builder
	Hosts   *host.Set // the built-in host profiles
	Pages   install.PageSource
	Web     feed.Web     // for sources
	Vault   *vault.Vault // for their tokens
	// Directories are the addresses of OpenSearch descriptions, in which businesses are searched.
	Directories []string
	Trier       widget.Trier
	Now         func() time.Time // nil for time.Now
	Cost        user.Cost        // of hashing a password; zero for user.UsualCost
	// Open lets people without an account use the gallery and create a guest pocket, which expires
	// Keeps after its last change.
	Open  bool
	Keeps time.Duration
	// Notice tells the operator what no response can tell. about has keys and values alternately.
	Notice func(what string, about ...any)
}

// imagesAtATime is how many images are re-encoded at once. The largest need hundreds of megabytes.
const imagesAtATime = 2

// New returns an App.
func New(o Options) *App {
	if o.Now == nil {
		o.Now = time.Now
	}
	if o.Cost == (user.Cost{}) {
		o.Cost = user.UsualCost
	}
	if o.Notice == nil {
		o.Notice = func(string, ...any) {}
	}
	attempts, making := &access.Attempts{}, slots.New(imagesAtATime)
	a := &App{now: o.Now}
	a.Audit = audit.New(o.Store)
	a.Users = user.New(o.Store, attempts, o.Cost, o.Now)
	a.Releases = release.New(o.Store, o.Signals)
	a.Customers = customer.New(customer.Options{Store: o.Store, Users: a.Users, Signals: o.Signals, Attempts: attempts, Making: making, Base: o.Site.Base, Now: o.Now})
	a.Sources = source.New(source.Options{Store: o.Store, Customers: a.Customers, Signals: o.Signals, Web: o.Web, Vault: o.Vault, Base: o.Site.Base, Directories: o.Directories, Wake: func() { a.Work.Wake() }, Notice: o.Notice, Now: o.Now})
	a.Delivery = delivery.New(delivery.Options{Store: o.Store, Customers: a.Customers, Releases: a.Releases, Sources: a.Sources, Signals: o.Signals, Site: o.Site, Notice: o.Notice, Now: o.Now})
	a.Pockets = pocket.New(pocket.Options{Store: o.Store, Audit: a.Audit, Customers: a.Customers, Releases: a.Releases, Delivery: a.Delivery, Sources: a.Sources, Signals: o.Signals, Site: o.Site, Keeps: o.Keeps, Now: o.Now})
	a.Publishing = publish.New(publish.Options{Store: o.Store, Customers: a.Customers, Releases: a.Releases, Delivery: a.Delivery, Pockets: a.Pockets, Signals: o.Signals, Notice: o.Notice, Now: o.Now})
	a.Files = portable.New(o.Store, a.Customers, a.Releases, a.Pockets, a.Sources, o.Site.Base, o.Now)
	a.Guests = guest.New(guest.Options{Store: o.Store, Users: a.Users, Customers: a.Customers, Pockets: a.Pockets, Attempts: attempts, Open: o.Open, Keeps: o.Keeps, Notice: o.Notice, Now: o.Now})
	a.Workshop = workshop.New(workshop.Options{Store: o.Store, Releases: a.Releases, Site: o.Site, Builder: o.Builder, Trier: o.Trier, Making: making, Now: o.Now})
	a.Rollouts = rollout.New(rollout.Options{Store: o.Store, Releases: a.Releases, Delivery: a.Delivery, Pockets: a.Pockets, Workshop: a.Workshop, Signals: o.Signals, Site: o.Site, Builder: o.Builder, Wake: func() { a.Work.Wake() }, Stop: func(id int64) { a.Work.Stop(id) }, Now: o.Now})
	a.Installs = install.New(install.Options{Store: o.Store, Customers: a.Customers, Releases: a.Releases, Delivery: a.Delivery, Pockets: a.Pockets, Attempts: attempts, Builder: o.Builder, Hosts: o.Hosts, Pages: o.Pages, Notice: o.Notice, Now: o.Now})
	a.Jobs = bulk.New(bulk.Options{Store: o.Store, Customers: a.Customers, Pockets: a.Pockets, Publishing: a.Publishing, Files: a.Files, Wake: func() { a.Work.Wake() }, Notice: o.Notice, Now: o.Now})
	a.Work = work.New(o.Store, o.Now, o.Notice, a.kinds()...)
	a.Tasks = task.New(o.Store, a.Work, o.Now)
	return a
}

// kinds are the kinds of background work.
func (a *App) kinds() []work.Kind {
	return []work.Kind{
		a.Publishing.Task(),
		a.Jobs.Task(),
		a.Rollouts.Task(),
		a.Guests.Task(),
		a.Sources.Task(),
		a.Sources.SweepTask(),
		a.Delivery.RenewTask(),
		a.Delivery.DueTask(),
	}
}

// Now returns the time of the service's clock.
func (a *App) Now() time.Time { return a.now() }

// Base returns the public address, without a slash at its end.
func (a *App) Base() string { return a.Delivery.Base() }
