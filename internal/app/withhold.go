package app

import (
	"context"
	"errors"
	"strings"
	"time"
	"unicode/utf8"

	"glasspocket/internal/signal"
)

// withheldNow returns a Withheld from now on.
func withheldNow(why string, now time.Time) (Withheld, error) {
	if why = strings.TrimSpace(why); utf8.RuneCountInString(why) > 500 {
		return Withheld{}, &Error{Kind: Invalid, Code: "why-too-long", Field: "why", What: "A reason can have at most 500 characters.", Hint: "Shorten it."}
	}
	if err := showable("why", why); err != nil {
		return Withheld{}, err
	}
	return Withheld{At: &now, Why: why}, nil
}

// entryOf returns the audit entry of withholding, or of its end.
func entryOf(w Withheld, customer, kind, of string) Entry {
	if w.At == nil {
		return Entry{CustomerID: customer, Did: "bring-back", Kind: kind, Of: of}
	}
	return Entry{CustomerID: customer, Did: "withhold", Kind: kind, Of: of, Note: w.Why}
}

// WithholdCustomer stops serving all pockets of a customer from the next request on.
func (a *App) WithholdCustomer(ctx context.Context, s Scope, id, why string) (Customer, error) {
	w, err := withheldNow(why, a.now())
	if err != nil {
		return Customer{}, err
	}
	return a.setCustomer(ctx, s, id, w)
}

// BringBackCustomer serves a withheld customer's pockets again, except those that are withheld
// individually.
func (a *App) BringBackCustomer(ctx context.Context, s Scope, id string) (Customer, error) {
	return a.setCustomer(ctx, s, id, Withheld{})
}

func (a *App) setCustomer(ctx context.Context, s Scope, id string, w Withheld) (Customer, error) {
	if _, err := a.Customer(ctx, s, id); err != nil {
		return Customer{}, err
	}
	if err := s.require(withhold); err != nil {
		return Customer{}, err
	}
	if err := a.store.WithholdCustomer(ctx, id, w, newRecord(s, a.now(), entryOf(w, id, "customer", id))); errors.Is(err, ErrNotFound) {
		return Customer{}, noCustomer(id)
	} else if err != nil {
		return Customer{}, err
	}
	a.signals.Emit(signal.Change{Object: signal.Object{Kind: signal.Customer, ID: id}})
	return a.store.Customer(ctx, id)
}
