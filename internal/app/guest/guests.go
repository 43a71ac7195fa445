// Package guest serves people without an account: they make a pocket, and keep it by signing up.
package guest

import (
	"context"
	"errors"
	"strconv"
	"strings"
	"time"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/audit"
	"glasspocket/internal/app/customer"
	"glasspocket/internal/app/pocket"
	"glasspocket/internal/app/user"
	"glasspocket/internal/problem"
	"glasspocket/internal/work"
)

// Guests serves people without an account. It is safe for concurrent use.
type Guests struct {
	store     Store
	users     *user.Users
	customers *customer.Customers
	pockets   *pocket.Pockets
	attempts  *access.Attempts
	public    bool // the gallery is open to guests
	keeps     time.Duration
	notice    func(what string, about ...any)
	now       func() time.Time
}

// Options are the parts of Guests. All are required, except Keeps unless Open is set.
type Options struct {
	Store     Store
	Users     *user.Users
	Customers *customer.Customers
	Pockets   *pocket.Pockets
	Attempts  *access.Attempts
	// Open lets people without an account use the gallery and create a guest pocket, which expires
	// Keeps after its last change.
	Open   bool
	Keeps  time.Duration
	Notice func(what string, about ...any) // see delivery.Options
	Now    func() time.Time
}

// New returns Guests.
func New(o Options) *Guests {
	return &Guests{store: o.Store, users: o.Users, customers: o.Customers, pockets: o.Pockets, attempts: o.Attempts, public: o.Open, keeps: o.Keeps, notice: o.Notice, now: o.Now}
}

// GuestsKeptUsual is the default lifetime of a guest pocket, counted from its last change.
const GuestsKeptUsual = 14 * 24 * time.Hour

// guestAttempts is how many guest pockets one network may create within attemptsWithin.
const guestAttempts = 30

// Open reports whether people without an account may create pockets, and how long these are kept.
func (a *Guests) Open() (bool, time.Duration) { return a.public, a.keeps }

func notOpen() *problem.Error {
	return &problem.Error{Kind: problem.Unauthenticated, Code: "not-signed-in", What: "You are not signed in.", Hint: "Sign in, or send a token."}
}

// Start creates a pocket for somebody without an account. Anybody with the secret can
// continue with it, on any device, until the owner signs up or it expires.
func (a *Guests) Start(ctx context.Context, widgetName, starter, language, address string) (p pocket.Pocket, secret string, err error) {
	if !a.public {
		return p, "", notOpen()
	}
	now := a.now()
	refusal := &problem.Error{Kind: problem.TooMany, Code: "too-many-begun", What: "Too many pockets were started from this network.", Hint: "Wait five minutes, or sign up to keep the pockets you have."}
	err = a.attempts.Try(now, refusal, func() (counts bool, err error) {
		p, err = a.pockets.Prepare(ctx, access.Scope{Role: access.OperatorAdmin, Name: "guest"}, pocket.NewPocket{CustomerID: customer.NobodysCustomer, Widget: widgetName, Starter: starter, Language: language})
		return true, err
	}, access.Limit{Whose: "start from " + access.From(address), Most: guestAttempts})
	if err != nil {
		return p, "", err
	}
	secret = access.Secret()
	guest := access.Scope{Role: access.Guest, CustomerID: customer.NobodysCustomer, Key: p.Key, Name: "guest", Client: "console"}
	err = a.store.AddGuestPocket(ctx, p, access.Digest(secret), now.Add(a.keeps), audit.NewRecord(guest, a.now(), audit.Entry{CustomerID: customer.NobodysCustomer, Did: "start", Kind: "pocket", Of: p.Key, Note: p.Widget}))
	return p, secret, err
}

// lookAttempts is how many sources one network may try within the time of attempts.
const lookAttempts = 30

// Look limits how often somebody without an account makes the service fetch an address.
func (a *Guests) Look(s access.Scope, address string, look func() error) error {
	if !a.public || s.Role != access.Guest {
		return notOpen()
	}
	refusal := &problem.Error{Kind: problem.TooMany, Code: "too-many-tried", What: "Too many addresses were tried from this network.", Hint: "Wait five minutes, or sign up."}
	return a.attempts.Try(a.now(), refusal, func() (bool, error) { return true, look() }, access.Limit{Whose: "look from " + access.From(address), Most: lookAttempts})
}

// Scope returns the scope for the secret of a guest pocket.
func (a *Guests) Scope(ctx context.Context, secret string) (access.Scope, error) {
	if !a.public {
		return access.Scope{}, notOpen()
	}
	key, err := a.store.GuestPocket(ctx, access.Digest(secret), a.now())
	if errors.Is(err, problem.ErrNotFound) {
		return access.Scope{}, problem.Missing("draft", "of this link", "It has been claimed or has expired. Start a new one in the gallery.")
	}
	return access.Scope{Role: access.Guest, CustomerID: customer.NobodysCustomer, Key: key, Name: "guest", Client: "console"}, err
}

// SignUp creates an account for the owner of a guest pocket: a customer, who receives the pocket,
// and a user, who is signed in.
func (a *Guests) SignUp(ctx context.Context, guest access.Scope, business, name, password, client string) (scope access.Scope, session string, err error) {
	if !a.public || guest.Role != access.Guest || guest.Key == "" {
		return scope, "", notOpen()
	}
	u, err := a.users.Prepare(name, password, access.CustomerEditor, customer.NobodysCustomer)
	if err != nil {
		return scope, "", err
	}
	if strings.TrimSpace(business) == "" { // they can enter it later
		business, _, _ = strings.Cut(name, "@")
	}
	c, err := a.customers.Prepare("", business)
	if err != nil {
		return scope, "", err
	}
	// The ID is derived from the name; if it is in use, a number is added, so that the name can
	// stay as it is.
	for first, n := c.ID, 2; ; n++ {
		u.CustomerID = c.ID
		as := access.Scope{Role: access.CustomerEditor, CustomerID: c.ID, Name: name, Client: "console"}
		err = a.store.ClaimGuestPocket(ctx, guest.Key, c.ID, &c, &u, audit.NewRecord(as, a.now(), audit.Entry{CustomerID: c.ID, Did: "join", Kind: "customer", Of: c.ID, Note: "with the pocket " + guest.Key}))
		if !errors.Is(err, problem.ErrExists) || n > 50 {
			break
		}
		if _, taken := a.store.UserByName(ctx, name); taken == nil {
			return scope, "", user.Exists(name)
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
	return a.users.StartSession(ctx, made, client)
}

// Claim moves a guest pocket to a customer of the signed-in user.
func (a *Guests) Claim(ctx context.Context, s access.Scope, secret, customer string) (pocket.Pocket, error) {
	if customer == "" {
		customer = s.CustomerID
	}
	if err := a.customers.Reach(ctx, s, access.PublishPockets, customer); err != nil {
		return pocket.Pocket{}, err
	}
	guest, err := a.Scope(ctx, secret)
	if err != nil {
		return pocket.Pocket{}, err
	}
	if err := a.customers.RoomFor(ctx, s, customer, 1); err != nil {
		return pocket.Pocket{}, err
	}
	err = a.store.ClaimGuestPocket(ctx, guest.Key, customer, nil, nil, audit.NewRecord(s, a.now(), audit.Entry{CustomerID: customer, Did: "claim", Kind: "pocket", Of: guest.Key}))
	if err != nil {
		return pocket.Pocket{}, claimed(err)
	}
	return a.pockets.Get(ctx, s, guest.Key)
}

func claimed(err error) error {
	if errors.Is(err, problem.ErrNotFound) {
		return problem.Missing("draft", "of this link", "It has been claimed or has expired.")
	}
	return err
}

// Task is the kind of task that deletes expired guest pockets.
func (a *Guests) Task() work.Kind {
	return work.Kind{Name: "guest-sweep", About: "Deletion of expired guest pockets", Limit: 1, Lasts: time.Minute, Every: time.Minute, Run: func(ctx context.Context, _ work.Task) error {
		_, err := a.Sweep(ctx)
		return err
	}}
}

// Sweep deletes expired guest pockets.
func (a *Guests) Sweep(ctx context.Context) (int, error) {
	return a.store.DeleteExpiredGuestPockets(ctx, a.now())
}
