package app

import (
	"context"
	"crypto/rand"
	"encoding/json"
	"errors"
	"fmt"
	"regexp"
	"slices"
	"strings"
	"unicode/utf8"

	"golang.org/x/net/idna"

	"glasspocket/internal/message"
	"glasspocket/internal/setting"
	"glasspocket/internal/signal"
)

var idForm = regexp.MustCompile(`^[a-z0-9][a-z0-9-]{1,39}$`)

// AddCustomer creates a customer. An empty ID is derived from the name.
func (a *App) AddCustomer(ctx context.Context, s Scope, id, name string) (Customer, error) {
	if err := s.require(manageCustomers); err != nil {
		return Customer{}, err
	}
	c, err := a.newCustomer(id, name)
	if err != nil {
		return Customer{}, err
	}
	if err := a.store.AddCustomer(ctx, c, newRecord(s, a.now(), Entry{CustomerID: c.ID, Did: "add", Kind: "customer", Of: c.ID, Note: c.Name})); errors.Is(err, ErrExists) {
		return Customer{}, &Error{Kind: Conflict, Code: "customer-exists", Field: "id", What: fmt.Sprintf("There already is a customer %q.", c.ID), Hint: "Choose another ID."}
	} else if err != nil {
		return Customer{}, err
	}
	return c, nil
}

// newCustomer returns a new customer with its defaults. It saves nothing.
func (a *App) newCustomer(id, name string) (Customer, error) {
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
		return Customer{}, &Error{Kind: Invalid, Code: "customer-id", Field: "id", What: fmt.Sprintf("%q is not a valid customer ID.", id), Hint: "Use 2 to 40 lower-case letters, digits and hyphens."}
	}
	return Customer{ID: id, Name: name, CreatedAt: a.now(), Revision: 1, Zone: "UTC", Sites: []byte("[]"), Brand: []byte("[]")}, nil
}

// NobodysCustomer owns guest pockets. No list contains it.
const NobodysCustomer = "(nobody)"

// Customers lists the visible customers by ID: those with a text in name or ID, or all for "".
func (a *App) Customers(ctx context.Context, s Scope, search string, p Page) ([]Customer, error) {
	if err := s.require(seeLists); err != nil {
		return nil, err
	}
	if search = strings.TrimSpace(search); utf8.RuneCountInString(search) > searchMost {
		return nil, searchTooLong()
	}
	return a.store.Customers(ctx, s.only(), search, p)
}

// Customer returns a visible customer.
func (a *App) Customer(ctx context.Context, s Scope, id string) (Customer, error) {
	if err := s.require(seeLists); err != nil {
		return Customer{}, err
	}
	if !s.sees(id) {
		return Customer{}, noCustomer(id)
	}
	c, err := a.store.Customer(ctx, id)
	if errors.Is(err, ErrNotFound) {
		return c, noCustomer(id)
	}
	return c, err
}

// ChangeCustomer has the changes to a customer. nil leaves a field unchanged.
type ChangeCustomer struct {
	Name, Zone, Language *string
	Sites                []string
}

// SitesMost is the largest number of sites of a customer.
const SitesMost = 100

// ChangeCustomer changes a customer's defaults for new pockets, and sites.
func (a *App) ChangeCustomer(ctx context.Context, s Scope, id string, revision int, n ChangeCustomer) (Customer, error) {
	c, err := a.Customer(ctx, s, id)
	if err != nil {
		return c, err
	}
	if err := s.require(publishPockets); err != nil {
		return c, err
	}
	if c.Revision != revision {
		return c, customerChanged(c)
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
			return c, &Error{Kind: Invalid, Code: "zone-unknown", Field: "zone", What: f.What, Hint: f.Fix}
		}
		c.Zone, names = *n.Zone, append(names, "zone")
	}
	if n.Language != nil {
		if *n.Language != "" && !message.ValidTag(*n.Language) {
			return c, &Error{Kind: Invalid, Code: "language-unknown", Field: "language", What: fmt.Sprintf("%q is not a language tag.", *n.Language), Hint: "Write a BCP 47 tag such as de or pt-BR."}
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
	return a.saveCustomer(ctx, s, c, Entry{CustomerID: id, Did: "change", Kind: "customer", Of: id, Names: names})
}

func (a *App) saveCustomer(ctx context.Context, s Scope, c Customer, e Entry) (Customer, error) {
	if err := a.store.SaveCustomer(ctx, c, c.Revision, newRecord(s, a.now(), e)); errors.Is(err, ErrChanged) {
		if current, err := a.store.Customer(ctx, c.ID); err == nil {
			c = current
		}
		return c, customerChanged(c)
	} else if err != nil {
		return c, err
	}
	c.Revision++
	a.signals.Emit(signal.Change{Object: signal.Object{Kind: signal.Customer, ID: c.ID}, Revision: int64(c.Revision)})
	return c, nil
}

func customerChanged(c Customer) *Error {
	return &Error{Kind: Precondition, Code: "customer-changed", What: fmt.Sprintf("Somebody else changed %s first. Its revision is now %d.", c.ID, c.Revision), Hint: "Read the current version, then repeat your change."}
}

var siteForm = regexp.MustCompile(`^(\*\.)?[a-z0-9]([a-z0-9-]{0,61}[a-z0-9])?(\.[a-z0-9]([a-z0-9-]{0,61}[a-z0-9])?)*(:\d{1,5})?$`)

// readSites reads domains: "shop.example", "*.shop.example", "localhost:8080". It removes the other
// parts of an address, and converts other alphabets as browsers do (RFC 5891).
func readSites(given []string) ([]string, error) {
	if len(given) > SitesMost {
		return nil, &Error{Kind: Invalid, Code: "too-many-sites", Field: "sites", What: fmt.Sprintf("A customer can have at most %d sites.", SitesMost), Hint: "To include all subdomains, write *. before a domain."}
	}
	sites := []string{}
	for i, text := range given {
		site := strings.ToLower(strings.TrimSpace(text))
		if _, after, ok := strings.Cut(site, "://"); ok {
			site = after
		}
		site, _, _ = strings.Cut(site, "/")
		wild := strings.HasPrefix(site, "*.")
		host, port, _ := strings.Cut(strings.TrimPrefix(site, "*."), ":")
		if ascii, err := idna.Lookup.ToASCII(host); err == nil {
			site = ascii
			if wild {
				site = "*." + site
			}
			if port != "" {
				site += ":" + port
			}
		}
		if len(site) > 253 || !siteForm.MatchString(site) {
			return nil, &Error{Kind: Invalid, Code: "site-form", Field: fmt.Sprintf("sites/%d", i), What: fmt.Sprintf("%q is not a domain.", text), Hint: "Write shop.example, or *.shop.example for all its subdomains."}
		}
		if !slices.Contains(sites, site) {
			sites = append(sites, site)
		}
	}
	return sites, nil
}

func customerName(name string) (string, error) {
	if name = strings.TrimSpace(name); name == "" || utf8.RuneCountInString(name) > 120 {
		return "", &Error{Kind: Invalid, Code: "customer-name", Field: "name", What: "A customer needs a name of at most 120 characters.", Hint: "Shorten the name, or enter one."}
	}
	return name, showable("name", name)
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
