package manage

import (
	"encoding/json"
	"fmt"
	"strconv"
	"time"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/customer"
	"glasspocket/internal/app/user"
	"glasspocket/internal/problem"
	"glasspocket/internal/wire"
)

func (d *door) session(s access.Scope) wire.Session {
	out := wire.Session{Name: s.Name, Role: string(s.Role), Customer: s.CustomerID, PublicBase: d.App.Base(), GuestPocket: s.Key}
	if s.Role == access.Guest {
		out.Name, out.Customer = "", ""
	}
	return out
}

func (d *door) signIn(k *call) (any, error) {
	var in wire.SignIn
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	scope, secret, err := d.App.Users.SignIn(k, in.Name, in.Password, d.Proxies.Address(k.Ctx).String(), k.Get("User-Agent"))
	if err != nil {
		return nil, err
	}
	d.setCookie(k.Ctx, secret)
	return d.session(scope), nil
}

func (d *door) whoAmI(k *call) (any, error) { return d.session(k.scope), nil }

func (d *door) signOut(k *call) (any, error) {
	if k.scope.SessionID != 0 {
		if err := d.App.Users.RevokeSession(k, k.scope, k.scope.SessionID); err != nil {
			return nil, err
		}
	}
	d.setCookie(k.Ctx, "")
	return nil, nil
}

func tokenOut(t user.Token) wire.Token {
	return wire.Token{ID: t.ID, Name: t.Name, CreatedAt: t.CreatedAt, ExpiresAt: t.ExpiresAt, Role: string(t.Role), Customer: t.CustomerID}
}

func (d *door) listTokens(k *call) (any, error) {
	list, err := d.App.Users.Tokens(k, k.scope)
	out := wire.Tokens{Tokens: []wire.Token{}}
	for _, t := range list {
		out.Tokens = append(out.Tokens, tokenOut(t))
	}
	return out, err
}

func (d *door) makeToken(k *call) (any, error) {
	var in wire.NewToken
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	t, secret, err := d.App.Users.MakeToken(k, k.scope, user.NewToken{Name: in.Name, Lasts: time.Duration(in.Days) * 24 * time.Hour, Role: access.Role(in.Role), CustomerID: in.Customer})
	out := tokenOut(t)
	out.Secret = secret
	return out, err
}

func (d *door) revokeToken(k *call) (any, error) {
	id, err := strconv.ParseInt(k.Params("id"), 10, 64)
	if err != nil {
		return nil, &problem.Error{Kind: problem.NotFound, Code: "token-not-found", What: fmt.Sprintf("There is no token %q.", k.Params("id")), Hint: "List the tokens to see their numbers."}
	}
	return nil, d.App.Users.RevokeToken(k, k.scope, id)
}

func customerOut(c customer.Customer) wire.Customer {
	out := wire.Customer{ID: c.ID, Name: c.Name, CreatedAt: c.CreatedAt, Withheld: withheldOut(c.Withheld), Revision: c.Revision, Zone: c.Zone, Language: c.Language, Sites: []string{}}
	_ = json.Unmarshal(c.Sites, &out.Sites) // valid, because app wrote it
	return out
}

func withheldOut(w customer.Withheld) *wire.Withheld {
	if w.At == nil {
		return nil
	}
	return &wire.Withheld{At: *w.At, Why: w.Why}
}

func (d *door) withholdCustomer(k *call) (any, error) {
	var in wire.Withhold
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	c, err := d.App.Customers.Withhold(k, k.scope, k.Params("id"), in.Why)
	return customerOut(c), err
}

func (d *door) bringBackCustomer(k *call) (any, error) {
	c, err := d.App.Customers.BringBack(k, k.scope, k.Params("id"))
	return customerOut(c), err
}

func (d *door) listCustomers(k *call) (any, error) {
	page, err := k.page()
	if err != nil {
		return nil, err
	}
	list, err := d.App.Customers.List(k, k.scope, k.Query("search"), page)
	out := wire.Customers{Customers: []wire.Customer{}}
	list, out.Next = cut(list, page.Limit, func(c customer.Customer) string { return c.ID })
	for _, c := range list {
		out.Customers = append(out.Customers, customerOut(c))
	}
	return out, err
}

func (d *door) makeCustomer(k *call) (any, error) {
	var in wire.NewCustomer
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	c, err := d.App.Customers.Add(k, k.scope, in.ID, in.Name)
	return customerOut(c), err
}
