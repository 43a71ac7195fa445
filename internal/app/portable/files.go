// Package portable copies pockets: to files and from them, to other customers, to other services.
package portable

import (
	"time"

	"glasspocket/internal/app/customer"
	"glasspocket/internal/app/pocket"
	"glasspocket/internal/app/release"
	"glasspocket/internal/app/source"
)

// Files exports, imports and duplicates pockets. It is safe for concurrent use.
type Files struct {
	store     Store
	customers *customer.Customers
	releases  *release.Releases
	pockets   *pocket.Pockets
	sources   *source.Sources
	base      string // the public address
	now       func() time.Time
}

// New returns Files. base is the public address, without a slash at its end.
func New(store Store, customers *customer.Customers, releases *release.Releases, pockets *pocket.Pockets, sources *source.Sources, base string, now func() time.Time) *Files {
	return &Files{store, customers, releases, pockets, sources, base, now}
}
