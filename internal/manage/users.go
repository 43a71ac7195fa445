package manage

import (
	"fmt"
	"strconv"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/user"
	"glasspocket/internal/problem"
	"glasspocket/internal/wire"
)

func userOut(u user.User, password string) wire.User {
	return wire.User{Name: u.Name, Role: string(u.Role), Customer: u.CustomerID, CreatedAt: u.CreatedAt, Password: password}
}

func (d *door) listUsers(k *call) (any, error) {
	page, err := k.page()
	if err != nil {
		return nil, err
	}
	list, err := d.App.Users.List(k, k.scope, page)
	out := wire.Users{Users: []wire.User{}}
	list, out.Next = cut(list, page.Limit, func(u user.User) string { return u.Name })
	for _, u := range list {
		out.Users = append(out.Users, userOut(u, ""))
	}
	return out, err
}

func (d *door) makeUser(k *call) (any, error) {
	var in wire.NewUser
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	u, password, err := d.App.Users.Add(k, k.scope, user.NewUser{Name: in.Name, Password: in.Password, Role: access.Role(in.Role), CustomerID: in.Customer})
	if in.Password != "" {
		password = "" // the caller chose it and knows it
	}
	return userOut(u, password), err
}

func (d *door) changeUser(k *call) (any, error) {
	var in wire.ChangeUser
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	u, err := d.App.Users.Change(k, k.scope, k.Params("name"), access.Role(in.Role), in.Customer)
	return userOut(u, ""), err
}

func (d *door) deleteUser(k *call) (any, error) {
	return nil, d.App.Users.Delete(k, k.scope, k.Params("name"))
}

func (d *door) resetPassword(k *call) (any, error) {
	password, err := d.App.Users.ResetPassword(k, k.scope, k.Params("name"))
	return wire.NewPassword{Password: password}, err
}

func (d *door) changePassword(k *call) (any, error) {
	var in wire.ChangePassword
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	return nil, d.App.Users.ChangePassword(k, k.scope, in.Old, in.New)
}

func (d *door) listSessions(k *call) (any, error) {
	list, err := d.App.Users.Sessions(k, k.scope)
	out := wire.Sessions{Sessions: []wire.SignedIn{}}
	for _, n := range list {
		out.Sessions = append(out.Sessions, wire.SignedIn{ID: n.ID, CreatedAt: n.CreatedAt, ExpiresAt: n.ExpiresAt, Client: n.Client, Current: n.ID == k.scope.SessionID})
	}
	return out, err
}

func (d *door) revokeSession(k *call) (any, error) {
	id, err := strconv.ParseInt(k.Params("id"), 10, 64)
	if err != nil {
		return nil, &problem.Error{Kind: problem.NotFound, Code: "session-not-found", What: fmt.Sprintf("There is no session %q.", k.Params("id")), Hint: "List the sessions to see their numbers."}
	}
	return nil, d.App.Users.RevokeSession(k, k.scope, id)
}
