// Package rollout releases widgets: it dry-runs a release with the pockets that follow, rolls it out
// to a share of them, and withdraws it.
package rollout

import (
	"time"

	"glasspocket/internal/app/delivery"
	"glasspocket/internal/app/pocket"
	"glasspocket/internal/app/release"
	"glasspocket/internal/app/workshop"
	"glasspocket/internal/render"
	"glasspocket/internal/signal"
	"glasspocket/internal/widget"

	"github.com/maypok86/otter/v2"
)

// Rollouts releases widgets. It is safe for concurrent use.
type Rollouts struct {
	store    Store
	releases *release.Releases
	delivery *delivery.Delivery
	pockets  *pocket.Pockets
	workshop *workshop.Workshop
	signals  *signal.Signals
	site     *render.Site
	builder  widget.Builder
	dryRuns  *otter.Cache[string, *DryRun]
	wake     func()
	stop     func(task int64)
	now      func() time.Time
}

// Options are the parts of Rollouts. All are required.
type Options struct {
	Store    Store
	Releases *release.Releases
	Delivery *delivery.Delivery
	Pockets  *pocket.Pockets
	Workshop *workshop.Workshop
	Signals  *signal.Signals
	Site     *render.Site
	Builder  widget.Builder
	Wake     func()           // starts waiting tasks at once
	Stop     func(task int64) // stops a task that has been cancelled
	Now      func() time.Time
}

// New returns Rollouts.
func New(o Options) *Rollouts {
	return &Rollouts{store: o.Store, releases: o.Releases, delivery: o.Delivery, pockets: o.Pockets, workshop: o.Workshop, signals: o.Signals, site: o.Site, builder: o.Builder, wake: o.Wake, stop: o.Stop, now: o.Now,
		dryRuns: otter.Must(&otter.Options[string, *DryRun]{MaximumSize: DryRunsKept})}
}
