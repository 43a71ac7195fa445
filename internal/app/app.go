// Package app has the use cases: what an operator, a developer or a customer can do, each limited
// by a Scope. It knows neither HTTP nor SQL.
package app

import (
	"sync"
	"time"

	"github.com/maypok86/otter/v2"
	"golang.org/x/sync/singleflight"

	"glasspocket/internal/host"
	"glasspocket/internal/render"
	"glasspocket/internal/signal"
	"glasspocket/internal/widget"
)

// App is the service without its listeners. It is safe for concurrent use.
type App struct {
	store   Store
	signals *signal.Signals
	site    *render.Site
	builder widget.Builder
	shipped *host.Set
	hosts   hosts
	pages   PageSource
	trying  chan struct{} // limits pages fetched at a time
	tries   *otter.Cache[string, *TriedPage]
	trials  *widget.Trials
	now     func() time.Time
	public  bool // the gallery is open to guests
	keeps   time.Duration

	jobs       chan struct{}  // signals that a job is waiting
	scheduler  sync.Mutex     // held while due schedules run
	publishing [64]sync.Mutex // by key: serialises publishing and builds of a pocket
	openings   singleflight.Group
	opened     sync.Map // release id → *widget.Release
	brands     sync.Map // customer → *keptBrand
	starters   sync.Map // previews of a widget's starters → *starterPreviews
	markeds    sync.Map // release digest → the same release with marks, for previews
	attempts   attempts
	refusals   refusals
	making     *slots     // for re-encoding images
	dryRunning sync.Mutex // guards dryRuns
	worktop    sync.Mutex // guards workpieces
	workpieces workpieces
	dryRuns    []*DryRun
	notice     func(what string, about ...any)
}

// Options are the parts of an App. All fields are required except Hosts, Pages, Now and Notice.
type Options struct {
	Store   Store
	Signals *signal.Signals // changes are emitted to it
	Site    *render.Site
	Builder widget.Builder
	Hosts   *host.Set // the built-in host profiles
	Pages   PageSource
	Trier   widget.Trier
	Now     func() time.Time // nil for time.Now
	// Open lets people without an account use the gallery and create a guest pocket, which expires
	// Keeps after its last change.
	Open  bool
	Keeps time.Duration
	// Notice tells the operator what no response can tell. about has keys and values alternately.
	Notice func(what string, about ...any)
}

// New returns an App.
func New(o Options) *App {
	if o.Now == nil {
		o.Now = time.Now
	}
	if o.Notice == nil {
		o.Notice = func(string, ...any) {}
	}
	return &App{shipped: o.Hosts, pages: o.Pages, tries: newTries(), trying: make(chan struct{}, triesAtATime), public: o.Open, keeps: o.Keeps, workpieces: workpieces{}, trials: widget.NewTrials(o.Trier), making: newSlots(imagesAtATime), jobs: make(chan struct{}, 1), notice: o.Notice, store: o.Store, signals: o.Signals, site: o.Site, builder: o.Builder, now: o.Now}
}

// Now returns the time of the service's clock.
func (a *App) Now() time.Time { return a.now() }

// Base returns the public address, without a slash at its end.
func (a *App) Base() string { return a.site.Base }
