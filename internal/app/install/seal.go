package install

import (
	"context"
	"time"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/audit"
	"glasspocket/internal/host"
)

// Sealed is a publication as a script that never changes.
type Sealed struct {
	Digest      string    `db:"digest"`
	Key         string    `db:"key"`
	Publication int       `db:"publication"`
	Address     string    `db:"address"`
	Integrity   string    `db:"integrity"`
	Policy      string    `db:"policy"`
	Script      []byte    `db:"script"` // brotli
	At          time.Time `db:"at"`
	By          string    `db:"by"`
}

// pinned returns the data for a snippet.
func (s Sealed) pinned() *host.Pinned {
	return &host.Pinned{Address: s.Address, Integrity: s.Integrity, Policy: s.Policy}
}

// Seal stores the live version under key as a script that never changes. Earlier sealed scripts
// stay.
func (a *Installs) Seal(ctx context.Context, s access.Scope, key string) (Sealed, error) {
	if err := s.Require(access.PublishPockets); err != nil {
		return Sealed{}, err
	}
	pub, _, err := a.publishedNow(ctx, s, key)
	if err != nil {
		return Sealed{}, err
	}
	made, err := a.delivery.Seal(ctx, pub)
	if err != nil {
		return Sealed{}, err
	}
	out := Sealed{Digest: made.Digest, Key: key, Publication: pub.Number, Address: made.Address, Integrity: made.Integrity, Policy: made.Policy, Script: made.Script.Brotli, At: a.now(), By: s.Name}
	return out, a.store.AddSealed(ctx, out, audit.NewRecord(s, a.now(), audit.Entry{CustomerID: pub.CustomerID, Did: "seal", Kind: "pocket", Of: key, Number: pub.Number}))
}
