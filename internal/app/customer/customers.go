// Package customer has customers with their brand, their sites, their assets and their people.
package customer

import (
	"context"
	"crypto/rand"
	"encoding/json"
	"errors"
	"fmt"
	"regexp"
	"strings"
	"time"
	"unicode/utf8"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/audit"
	"glasspocket/internal/app/user"
	"glasspocket/internal/message"
	"glasspocket/internal/paging"
	"glasspocket/internal/problem"
	"glasspocket/internal/setting"
	"glasspocket/internal/signal"
	"glasspocket/internal/slots"

	"github.com/maypok86/otter/v2"
)

// Customers manages customers. It is safe for concurrent use.
type Customers struct {
	store    Store
	users    *user.Users
	signals  *signal.Signals
	attempts *access.Attempts
	making   *slots.Slots // for re-encoding images
	brands   *otter.Cache[string, *BrandNow]
	base     string // the public address
	now      func() time.Time
}

// Options are the parts of Customers. All are required.
type Options struct {
	Store    Store
	Users    *user.Users
	Signals  *signal.Signals
	Attempts *access.Attempts
	Making   *slots.Slots // limits how many images are re-encoded at once
	Base     string       // the public address, without a slash at its end
	Now      func() time.Time
}

// brandsMost is how many brands stay in memory.
const brandsMost = 10_000

// New returns Customers.
func New(o Options) *Customers {
	return &Customers{store: o.Store, users: o.Users, signals: o.Signals, attempts: o.Attempts, making: o.Making, base: o.Base, now: o.Now,
		brands: otter.Must(&otter.Options[string, *BrandNow]{MaximumSize: brandsMost})}
}

var idForm = regexp.MustCompile(`^[a-z0-9][a-z0-9-]{1,39}$`)

// Add creates a customer. An empty ID is derived from the name.
func (a *Customers) Add(ctx context.Context, s access.Scope, id, name string) (Customer, error) {
	if err := s.Require(access.ManageCustomers); err != nil {
		return Customer{}, err
	}
	c, err := a.Prepare(id, name)
	if err != nil {
		return Customer{}, err
	}
	if err := a.store.AddCustomer(ctx, c, audit.NewRecord(s, a.now(), audit.Entry{CustomerID: c.ID, Did: "add", Kind: "customer", Of: c.ID, Note: c.Name})); errors.Is(err, problem.ErrExists) {
		return Customer{}, &problem.Error{Kind: problem.Conflict, Code: "customer-exists", Field: "id", What: fmt.Sprintf("There already is a customer %q.", c.ID), Hint: "Choose another ID."}
	} else if err != nil {
		return Customer{}, err
	}
	return c, nil
}

// Prepare returns a new customer with its defaults. It saves nothing.
func (a *Customers) Prepare(id, name string) (Customer, error) {
	name, err := customerName(name)
	if err != nil {
		return Customer{}, err
	}
	if id == "" {
		if id = slug(name); !idForm.MatchString(id) { // a name of emoji, or in another script
			id = "customer-" + strings.ToLower(rand.Text()[:8])
		}
	}
	if !idForm.MatchString(id) {
		return Customer{}, &problem.Error{Kind: problem.Invalid, Code: "customer-id", Field: "id", What: fmt.Sprintf("%q is not a valid customer ID.", id), Hint: "Use 2 to 40 lower-case letters, digits and hyphens."}
	}
	return Customer{ID: id, Name: name, CreatedAt: a.now(), Revision: 1, Zone: "UTC", Sites: []byte("[]"), Brand: []byte("[]")}, nil
}

// NobodysCustomer owns guest pockets. No list contains it.
const NobodysCustomer = "(nobody)"

// List lists the visible customers by ID: those with a text in name or ID, or all for "".
func (a *Customers) List(ctx context.Context, s access.Scope, search string, p paging.Page) ([]Customer, error) {
	if err := s.Require(access.SeeLists); err != nil {
		return nil, err
	}
	if search = strings.TrimSpace(search); utf8.RuneCountInString(search) > problem.SearchMost {
		return nil, problem.SearchTooLong()
	}
	return a.store.Customers(ctx, s.Only(), search, p)
}

// Get returns a visible customer.
func (a *Customers) Get(ctx context.Context, s access.Scope, id string) (Customer, error) {
	if err := s.Require(access.SeeLists); err != nil {
		return Customer{}, err
	}
	if !s.Sees(id) {
		return Customer{}, access.NoCustomer(id)
	}
	c, err := a.store.Customer(ctx, id)
	if errors.Is(err, problem.ErrNotFound) {
		return c, access.NoCustomer(id)
	}
	return c, err
}

// Change has the changes to a customer. nil leaves a field unchanged.
type Change struct {
	Name, Zone, Language *string
	Sites                []string
}

// Change changes a customer's defaults for new pockets, and sites.
func (a *Customers) Change(ctx context.Context, s access.Scope, id string, revision int, n Change) (Customer, error) {
	c, err := a.Get(ctx, s, id)
	if err != nil {
		return c, err
	}
	if err := s.Require(access.PublishPockets); err != nil {
		return c, err
	}
	if c.Revision != revision {
		return c, changed(c)
	}
	var names []string
	if n.Name != nil {
		if c.Name, err = customerName(*n.Name); err != nil {
			return c, err
		}
		names = append(names, "name")
	}
	if n.Zone != nil {
		if f := setting.CheckZone(*n.Zone); f != nil {
			return c, &problem.Error{Kind: problem.Invalid, Code: "zone-unknown", Field: "zone", What: f.What, Hint: f.Fix}
		}
		c.Zone, names = *n.Zone, append(names, "zone")
	}
	if n.Language != nil {
		if *n.Language != "" && !message.ValidTag(*n.Language) {
			return c, &problem.Error{Kind: problem.Invalid, Code: "language-unknown", Field: "language", What: fmt.Sprintf("%q is not a language tag.", *n.Language), Hint: "Write a BCP 47 tag such as de or pt-BR."}
		}
		c.Language, names = *n.Language, append(names, "language")
	}
	if n.Sites != nil {
		sites, err := readSites(n.Sites)
		if err != nil {
			return c, err
		}
		c.Sites, _ = json.Marshal(sites)
		c.BrandRevision++ // pockets that are limited to these sites must be rendered again
		names = append(names, "sites")
	}
	if names == nil {
		return c, nil
	}
	return a.save(ctx, s, c, audit.Entry{CustomerID: id, Did: "change", Kind: "customer", Of: id, Names: names})
}

func (a *Customers) save(ctx context.Context, s access.Scope, c Customer, e audit.Entry) (Customer, error) {
	var brand setting.Brand
	if err := json.Unmarshal(c.Brand, &brand); err != nil {
		return c, err
	}
	c.Assets = brand.Assets()
	if err := a.store.SaveCustomer(ctx, c, c.Revision, audit.NewRecord(s, a.now(), e)); errors.Is(err, problem.ErrChanged) {
		if current, err := a.store.Customer(ctx, c.ID); err == nil {
			c = current
		}
		return c, changed(c)
	} else if err != nil {
		return c, err
	}
	c.Revision++
	a.signals.Emit(signal.Change{Object: signal.Object{Kind: signal.Customer, ID: c.ID}, Revision: int64(c.Revision)})
	return c, nil
}

func changed(c Customer) *problem.Error {
	return &problem.Error{Kind: problem.Precondition, Code: "customer-changed", What: fmt.Sprintf("Somebody else changed %s first. Its revision is now %d.", c.ID, c.Revision), Hint: "Read the current version, then repeat your change."}
}

func customerName(name string) (string, error) {
	if name = strings.TrimSpace(name); name == "" || utf8.RuneCountInString(name) > 120 {
		return "", &problem.Error{Kind: problem.Invalid, Code: "customer-name", Field: "name", What: "A customer needs a name of at most 120 characters.", Hint: "Shorten the name, or enter one."}
	}
	return name, problem.Showable("name", name)
}

// slug makes a readable ID: "Kelp & Kiln" becomes kelp-kiln.
func slug(name string) string {
	var b strings.Builder
	for _, r := range strings.ToLower(name) {
		switch {
		case r >= 'a' && r <= 'z' || r >= '0' && r <= '9':
			b.WriteRune(r)
		case b.Len() > 0 && !strings.HasSuffix(b.String(), "-"):
			b.WriteByte('-')
		}
	}
	s := strings.Trim(b.String(), "-")
	return strings.Trim(s[:min(len(s), 40)], "-")
}
