// Package app holds the use cases: what an operator, a developer or a customer can do,
// each under a Scope. It knows neither HTTP nor SQL.
package app

import (
	"sync"
	"time"

	"github.com/maypok86/otter/v2"
	"golang.org/x/sync/singleflight"

	"glasspocket/internal/host"
	"glasspocket/internal/render"
	"glasspocket/internal/widget"
)

// App is the service without its doors. It is safe for concurrent use.
type App struct {
	store   Store
	shelf   Shelf
	site    *render.Site
	builder widget.Builder
	shipped *host.Set
	hosts   hosts
	pages   PageSource
	trying  chan struct{} // pages fetched at a time
	tries   *otter.Cache[string, *TriedPage]
	trials  *widget.Trials
	now     func() time.Time
	public  bool // the gallery
	keeps   time.Duration

	jobs       chan struct{}  // there is one to begin
	scheduler  sync.Mutex     // one goes through what is due at a time
	publishing [64]sync.Mutex // by key: one build of a pocket at a time
	openings   singleflight.Group
	opened     sync.Map // release id → *widget.Release
	brands     sync.Map // customer → *keptBrand
	pictures   sync.Map // of a widget's starters → *pictured
	markeds    sync.Map // release digest → the same with marks, for previews
	attempts   attempts
	marks      marks
	refusals   refusals
	making     *slots     // for re-encoding images
	worktop    sync.Mutex // guards what follows
	workpieces workpieces
	dryRuns    []*DryRun
	notice     func(what string, about ...any)
}

// Options are what an App is made of. All fields are needed but Hosts, Pages, Now and Notice.
type Options struct {
	Store   Store
	Shelf   Shelf
	Site    *render.Site
	Builder widget.Builder
	Hosts   *host.Set // the kinds of host that ship
	Pages   PageSource
	Trier   widget.Trier
	Now     func() time.Time // time.Now when nil
	// Open lets people without an account look at the gallery and begin a pocket, which is kept
	// for Keeps after it was last changed.
	Open  bool
	Keeps time.Duration
	// Notice tells the operator what nobody who asked can be told; about are keys and values.
	Notice func(what string, about ...any)
}

// New makes an App.
func New(o Options) *App {
	if o.Now == nil {
		o.Now = time.Now
	}
	if o.Notice == nil {
		o.Notice = func(string, ...any) {}
	}
	return &App{shipped: o.Hosts, pages: o.Pages, tries: newTries(), trying: make(chan struct{}, triesAtATime), public: o.Open, keeps: o.Keeps, workpieces: workpieces{}, trials: widget.NewTrials(o.Trier), making: newSlots(imagesAtATime), jobs: make(chan struct{}, 1), notice: o.Notice, store: o.Store, shelf: o.Shelf, site: o.Site, builder: o.Builder, now: o.Now}
}

// Shelf is where visitors' requests look. Publishing puts the new delivery there before
// it answers, so that the next request gets it.
type Shelf interface {
	Put(key string, part render.Part, s *Served)
}

// Now is the service's clock.
func (a *App) Now() time.Time { return a.now() }

// Base is the public address, without a slash at its end.
func (a *App) Base() string { return a.site.Base }
