package app

import (
	"context"
	"errors"
	"strings"
	"unicode/utf8"

	"glasspocket/internal/signal"
)

func (a *App) withheld(why string) (Withheld, error) {
	if why = strings.TrimSpace(why); utf8.RuneCountInString(why) > 500 {
		return Withheld{}, &Error{Kind: Invalid, Code: "why-too-long", Field: "why", What: "A reason can have at most 500 characters.", Hint: "Shorten it."}
	}
	if err := showable("why", why); err != nil {
		return Withheld{}, err
	}
	now := a.now()
	return Withheld{At: &now, Why: why}, nil
}

func entryOf(w Withheld, customer, kind, of string) Entry {
	if w.At == nil {
		return Entry{CustomerID: customer, Did: "bring-back", Kind: kind, Of: of}
	}
	return Entry{CustomerID: customer, Did: "withhold", Kind: kind, Of: of, Note: w.Why}
}

// WithholdPocket stops serving a pocket from the next request on. why is for the record.
func (a *App) WithholdPocket(ctx context.Context, s Scope, key, why string) (Pocket, error) {
	w, err := a.withheld(why)
	if err != nil {
		return Pocket{}, err
	}
	return a.setPocket(ctx, s, key, w)
}

// BringBackPocket serves a withheld pocket again.
func (a *App) BringBackPocket(ctx context.Context, s Scope, key string) (Pocket, error) {
	return a.setPocket(ctx, s, key, Withheld{})
}

func (a *App) setPocket(ctx context.Context, s Scope, key string, w Withheld) (Pocket, error) {
	p, err := a.Pocket(ctx, s, key)
	if err != nil {
		return p, err
	}
	if err := s.require(withhold); err != nil {
		return p, err
	}
	if err := a.store.WithholdPocket(ctx, key, w, a.record(s, entryOf(w, p.CustomerID, "pocket", key))); err != nil {
		return p, err
	}
	a.signals.Emit(signal.Change{Object: signal.Object{Kind: signal.Pocket, ID: key}})
	p.Withheld = w
	return p, nil
}

// WithholdCustomer stops serving all pockets of a customer from the next request on.
func (a *App) WithholdCustomer(ctx context.Context, s Scope, id, why string) (Customer, error) {
	w, err := a.withheld(why)
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
	if err := a.store.WithholdCustomer(ctx, id, w, a.record(s, entryOf(w, id, "customer", id))); errors.Is(err, ErrNotFound) {
		return Customer{}, noCustomer(id)
	} else if err != nil {
		return Customer{}, err
	}
	a.signals.Emit(signal.Change{Object: signal.Object{Kind: signal.Customer, ID: id}})
	return a.store.Customer(ctx, id)
}
