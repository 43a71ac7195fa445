package customer

import (
	"context"
	"errors"
	"strings"
	"time"
	"unicode/utf8"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/audit"
	"glasspocket/internal/problem"
	"glasspocket/internal/signal"
)

// Withheld says since when and why nothing is served; At is nil if it is served.
type Withheld struct {
	At  *time.Time `db:"withheld_at"`
	Why string     `db:"withheld_why"`
}

// WithheldNow returns a Withheld from now on.
func WithheldNow(why string, now time.Time) (Withheld, error) {
	if why = strings.TrimSpace(why); utf8.RuneCountInString(why) > 500 {
		return Withheld{}, &problem.Error{Kind: problem.Invalid, Code: "why-too-long", Field: "why", What: "A reason can have at most 500 characters.", Hint: "Shorten it."}
	}
	if err := problem.Showable("why", why); err != nil {
		return Withheld{}, err
	}
	return Withheld{At: &now, Why: why}, nil
}

// WithholdEntry returns the audit entry of withholding, or of its end.
func WithholdEntry(w Withheld, customer, kind, of string) audit.Entry {
	if w.At == nil {
		return audit.Entry{CustomerID: customer, Did: "bring-back", Kind: kind, Of: of}
	}
	return audit.Entry{CustomerID: customer, Did: "withhold", Kind: kind, Of: of, Note: w.Why}
}

// Withhold stops serving all pockets of a customer from the next request on.
func (a *Customers) Withhold(ctx context.Context, s access.Scope, id, why string) (Customer, error) {
	w, err := WithheldNow(why, a.now())
	if err != nil {
		return Customer{}, err
	}
	return a.set(ctx, s, id, w)
}

// BringBack serves a withheld customer's pockets again, except those that are withheld
// individually.
func (a *Customers) BringBack(ctx context.Context, s access.Scope, id string) (Customer, error) {
	return a.set(ctx, s, id, Withheld{})
}

func (a *Customers) set(ctx context.Context, s access.Scope, id string, w Withheld) (Customer, error) {
	if _, err := a.Get(ctx, s, id); err != nil {
		return Customer{}, err
	}
	if err := s.Require(access.Withhold); err != nil {
		return Customer{}, err
	}
	if err := a.store.WithholdCustomer(ctx, id, w, audit.NewRecord(s, a.now(), WithholdEntry(w, id, "customer", id))); errors.Is(err, problem.ErrNotFound) {
		return Customer{}, access.NoCustomer(id)
	} else if err != nil {
		return Customer{}, err
	}
	a.signals.Emit(signal.Change{Object: signal.Object{Kind: signal.Customer, ID: id}})
	return a.store.Customer(ctx, id)
}
