package app

import (
	"context"
	"errors"
	"strconv"
	"strings"
	"time"
)

// GuestsKeptUsual is the default lifetime of a guest pocket, counted from its last change.
const GuestsKeptUsual = 14 * 24 * time.Hour

// guestAttempts is how many guest pockets one network may create within attemptsWithin.
const guestAttempts = 30

// Open reports whether people without an account may create pockets, and how long these are kept.
func (a *App) Open() (bool, time.Duration) { return a.public, a.keeps }

func notOpen() *Error {
	return &Error{Kind: Unauthenticated, Code: "not-signed-in", What: "You are not signed in.", Hint: "Sign in, or send a token."}
}

// StartGuestPocket creates a pocket for somebody without an account. Anybody with the secret can
// continue with it, on any device, until the owner signs up or it expires.
func (a *App) StartGuestPocket(ctx context.Context, widgetName, starter, language, address string) (p Pocket, secret string, err error) {
	if !a.public {
		return p, "", notOpen()
	}
	now := a.now()
	refusal := &Error{Kind: TooMany, Code: "too-many-begun", What: "Too many pockets were started from this network.", Hint: "Wait five minutes, or sign up to keep the pockets you have."}
	err = a.attempts.try(now, refusal, func() (counts bool, err error) {
		p, err = a.newPocket(ctx, Scope{Role: OperatorAdmin, Name: "guest"}, NewPocket{CustomerID: NobodysCustomer, Widget: widgetName, Starter: starter, Language: language})
		return true, err
	}, limit{"start from " + networkOf(address), guestAttempts})
	if err != nil {
		return p, "", err
	}
	secret = Secret()
	guest := Scope{Role: Guest, CustomerID: NobodysCustomer, Key: p.Key, Name: "guest", Client: "console"}
	err = a.store.AddGuestPocket(ctx, p, secretDigest(secret), now.Add(a.keeps), newRecord(guest, a.now(), Entry{CustomerID: NobodysCustomer, Did: "start", Kind: "pocket", Of: p.Key, Note: p.Widget}))
	return p, secret, err
}

// ByGuestSecret returns the scope for the secret of a guest pocket.
func (a *App) ByGuestSecret(ctx context.Context, secret string) (Scope, error) {
	if !a.public {
		return Scope{}, notOpen()
	}
	key, err := a.store.GuestPocket(ctx, secretDigest(secret), a.now())
	if errors.Is(err, ErrNotFound) {
		return Scope{}, notFound("draft", "of this link", "It has been claimed or has expired. Start a new one in the gallery.")
	}
	return Scope{Role: Guest, CustomerID: NobodysCustomer, Key: key, Name: "guest", Client: "console"}, err
}

// SignUp creates an account for the owner of a guest pocket: a customer, who receives the pocket,
// and a user, who is signed in.
func (a *App) SignUp(ctx context.Context, guest Scope, business, name, password, client string) (scope Scope, session string, err error) {
	if !a.public || guest.Role != Guest || guest.Key == "" {
		return scope, "", notOpen()
	}
	c, err := a.newCustomer("", business)
	if err != nil {
		return scope, "", err
	}
	u, err := newUser(name, password, CustomerEditor, c.ID, a.now())
	if err != nil {
		return scope, "", err
	}
	// The ID is derived from the name; if it is in use, a number is added, so that the name can
	// stay as it is.
	for first, n := c.ID, 2; ; n++ {
		u.CustomerID = c.ID
		as := Scope{Role: CustomerEditor, CustomerID: c.ID, Name: name, Client: "console"}
		err = a.store.ClaimGuestPocket(ctx, guest.Key, c.ID, &c, &u, newRecord(as, a.now(), Entry{CustomerID: c.ID, Did: "join", Kind: "customer", Of: c.ID, Note: "with the pocket " + guest.Key}))
		if !errors.Is(err, ErrExists) || n > 50 {
			break
		}
		if _, taken := a.store.UserByName(ctx, name); taken == nil {
			return scope, "", userExists(name)
		}
		c.ID = strings.TrimRight(first[:min(len(first), 36)], "-") + "-" + strconv.Itoa(n)
	}
	if err != nil {
		return scope, "", claimed(err)
	}
	made, err := a.store.UserByName(ctx, name)
	if err != nil {
		return scope, "", err
	}
	return a.startSession(ctx, made, client)
}

// Claim moves a guest pocket to a customer of the signed-in user.
func (a *App) Claim(ctx context.Context, s Scope, secret, customer string) (Pocket, error) {
	if customer == "" {
		customer = s.CustomerID
	}
	if err := a.reach(ctx, s, publishPockets, customer); err != nil {
		return Pocket{}, err
	}
	guest, err := a.ByGuestSecret(ctx, secret)
	if err != nil {
		return Pocket{}, err
	}
	if err := a.roomFor(ctx, s, customer, 1); err != nil {
		return Pocket{}, err
	}
	err = a.store.ClaimGuestPocket(ctx, guest.Key, customer, nil, nil, newRecord(s, a.now(), Entry{CustomerID: customer, Did: "claim", Kind: "pocket", Of: guest.Key}))
	if err != nil {
		return Pocket{}, claimed(err)
	}
	return a.Pocket(ctx, s, guest.Key)
}

func claimed(err error) error {
	if errors.Is(err, ErrNotFound) {
		return notFound("draft", "of this link", "It has been claimed or has expired.")
	}
	return err
}

// sweepEvery is the interval between sweeps.
const sweepEvery = time.Minute

// RunSweeps deletes expired guest pockets repeatedly until ctx is done.
func (a *App) RunSweeps(ctx context.Context) {
	tick := time.NewTicker(sweepEvery)
	defer tick.Stop()
	for {
		if _, err := a.SweepGuestPockets(ctx); err != nil && ctx.Err() == nil {
			a.notice("expired guest pockets cannot be deleted at the moment", "error", err)
		}
		select {
		case <-tick.C:
		case <-ctx.Done():
			return
		}
	}
}

// SweepGuestPockets deletes expired guest pockets.
func (a *App) SweepGuestPockets(ctx context.Context) (int, error) {
	return a.store.DeleteExpiredGuestPockets(ctx, a.now())
}
