package delivery

import (
	"time"

	"github.com/maypok86/otter/v2"
)

// TriedPage is a page with a snippet in it, stored for a while.
type TriedPage struct{ Live, Still, Policy string }

// Limits of tried pages.
const (
	TriesKept  = 30 * time.Minute // since they were made
	triesBytes = 64 << 20
)

func newTries() *otter.Cache[string, *TriedPage] {
	return otter.Must(&otter.Options[string, *TriedPage]{MaximumWeight: triesBytes, ExpiryCalculator: otter.ExpiryWriting[string, *TriedPage](TriesKept),
		Weigher: func(_ string, p *TriedPage) uint32 { return uint32(512 + len(p.Live) + len(p.Still)) }})
}

// KeepTried stores the page of a try under its token.
func (a *Delivery) KeepTried(token string, p *TriedPage) { a.tries.Set(token, p) }

// TriedPage returns the page of a try by its token, or nil if there is none or it has expired.
func (a *Delivery) TriedPage(token string) *TriedPage {
	p, _ := a.tries.GetIfPresent(token)
	return p
}
