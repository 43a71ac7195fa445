package user

import (
	"context"
	"errors"
	"unicode/utf8"

	"glasspocket/internal/app/access"
	"glasspocket/internal/paging"
	"glasspocket/internal/problem"
)

// SignIn checks name and password and creates a session. The secret goes into the cookie. address
// is where the request comes from, client the browser's name for itself.
func (a *Users) SignIn(ctx context.Context, name, password, address, client string) (scope access.Scope, secret string, err error) {
	now, from := a.now(), access.From(address)
	limits := []access.Limit{{Whose: "from " + from, Most: access.AddressAttempts}}
	known := utf8.RuneCountInString(name) <= userNameMost
	if known { // by name and network: nobody can lock out somebody who signs in from another network
		limits = append(limits, access.Limit{Whose: "name " + name + " from " + from, Most: access.NameAttempts})
	}
	refusal := &problem.Error{Kind: problem.TooMany, Code: "too-many-sign-ins", What: "There were too many failed sign-ins for this name or from this network.", Hint: "Wait five minutes, or sign in from another network."}
	wrong := &problem.Error{Kind: problem.Unauthenticated, Code: "wrong-sign-in", What: "The name or the password is wrong.", Hint: "Check both, including capital letters."}
	var u User
	if err := a.attempts.Try(now, refusal, func() (failed bool, err error) {
		if !known {
			return true, wrong
		}
		hash := nobody
		if u, err = a.store.UserByName(ctx, name); err == nil {
			hash = u.PasswordHash
		} else if !errors.Is(err, problem.ErrNotFound) {
			return false, err
		}
		fits, busy := a.hashes.fits(password, hash)
		if busy != nil {
			return false, busy // no password was checked
		}
		if !fits || err != nil {
			return true, wrong
		}
		return false, nil
	}, limits...); err != nil {
		return access.Scope{}, "", err
	}
	return a.StartSession(ctx, u, client)
}

// FirstStart creates the first operator-admin if there are no users. made is false if there are.
// The password is random; there is no default.
func (a *Users) FirstStart(ctx context.Context, name string) (password string, made bool, err error) {
	if some, err := a.store.Users(ctx, paging.Page{Limit: 1}); err != nil || len(some) > 0 {
		return "", false, err // a hash takes long
	}
	password = access.Secret()[:20]
	hash, err := a.hashes.hash(password)
	if err != nil {
		return "", false, err
	}
	_, err = a.store.AddFirstUser(ctx, User{Name: name, Role: access.OperatorAdmin, PasswordHash: hash, CreatedAt: a.now()})
	if errors.Is(err, problem.ErrExists) {
		return "", false, nil
	}
	return password, err == nil, err
}
