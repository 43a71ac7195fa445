// Package publish makes drafts the live versions of their pockets, now or at a set time, and has
// their history.
package publish

import (
	"time"

	"glasspocket/internal/app/customer"
	"glasspocket/internal/app/delivery"
	"glasspocket/internal/app/pocket"
	"glasspocket/internal/app/release"
	"glasspocket/internal/signal"
)

// Publishing publishes pockets. It is safe for concurrent use.
type Publishing struct {
	store     Store
	customers *customer.Customers
	releases  *release.Releases
	delivery  *delivery.Delivery
	pockets   *pocket.Pockets
	signals   *signal.Signals
	notice    func(what string, about ...any)
	now       func() time.Time
}

// Options are the parts of Publishing. All are required.
type Options struct {
	Store     Store
	Customers *customer.Customers
	Releases  *release.Releases
	Delivery  *delivery.Delivery
	Pockets   *pocket.Pockets
	Signals   *signal.Signals
	Notice    func(what string, about ...any) // see delivery.Options
	Now       func() time.Time
}

// New returns Publishing.
func New(o Options) *Publishing {
	return &Publishing{store: o.Store, customers: o.Customers, releases: o.Releases, delivery: o.Delivery, pockets: o.Pockets, signals: o.Signals, notice: o.Notice, now: o.Now}
}
