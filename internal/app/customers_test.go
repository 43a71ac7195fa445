package app_test

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/app"
	"glasspocket/internal/app/access"
	"glasspocket/internal/app/customer"
	"glasspocket/internal/app/pocket"
	"glasspocket/internal/app/publish"
	"glasspocket/internal/problem"
	"glasspocket/internal/signal"
)

var kelpEditor = access.Scope{Role: access.CustomerEditor, CustomerID: "kelp", UserID: 77, Name: "ida"}

// A customer's sites are domains, however they were pasted; what is none is told by its place.
func TestSites(t *testing.T) {
	w := newWorld(t)
	revision := 1
	for given, want := range map[string]string{
		"shop.example":                        `["shop.example"]`,
		" https://Shop.Example/path?x=1 ":     `["shop.example"]`,
		"*.shop.example":                      `["*.shop.example"]`,
		"localhost:8080":                      `["localhost:8080"]`,
		"märz.example":                        `["xn--mrz-qla.example"]`,
		"https://*.märz.example:8443/":        `["*.xn--mrz-qla.example:8443"]`,
		"shop.example|https://shop.example/a": `["shop.example"]`,
		"a.example|b.example":                 `["a.example","b.example"]`,
		"":                                    "sites/0",
		"two words.example":                   "sites/0",
		"a.example|under_score.example":       "sites/1",
		"*.*.example":                         "sites/0",
		"a..example":                          "sites/0",
		"shop.example:http":                   "sites/0",
		strings.Repeat("a", 64) + ".example":  "sites/0",
		"<script>.example":                    "sites/0",
		strings.Repeat("a.example|", 100) + "b.example": "sites",
	} {
		c, err := w.Customers.Change(ctx, kelpEditor, "kelp", revision, customer.Change{Sites: strings.Split(given, "|")})
		if !strings.HasPrefix(want, "[") {
			require.Error(t, err, given)
			assert.Equal(t, want, refusal(t, err).Field, given)
			assert.NotEmpty(t, refusal(t, err).Hint)
			continue
		}
		require.NoError(t, err, given)
		assert.Equal(t, want, string(c.Sites), given)
		revision = c.Revision
	}
	none, err := w.Customers.Change(ctx, kelpEditor, "kelp", revision, customer.Change{Sites: []string{}})
	require.NoError(t, err)
	assert.Equal(t, "[]", string(none.Sites))
}

// What two change of a customer is never overwritten silently, and nothing wrong is kept.
func TestChangeCustomer(t *testing.T) {
	w := newWorld(t)
	text := func(s string) *string { return &s }
	_, err := w.Customers.Change(ctx, kelpEditor, "ferry", 1, customer.Change{Name: text("Mine")})
	assert.Equal(t, "customer-not-found", refusal(t, err).Code)
	viewer := kelpEditor
	viewer.Role = access.CustomerViewer
	_, err = w.Customers.Change(ctx, viewer, "kelp", 1, customer.Change{Name: text("Mine")})
	assert.Equal(t, problem.Forbidden, refusal(t, err).Kind)
	for code, change := range map[string]customer.Change{
		"customer-name":    {Name: text("  ")},
		"zone-unknown":     {Zone: text("Marrow/Kelp")},
		"language-unknown": {Language: text("no such")},
	} {
		_, err := w.Customers.Change(ctx, kelpEditor, "kelp", 1, change)
		assert.Equal(t, code, refusal(t, err).Code)
	}
	c, err := w.Customers.Change(ctx, kelpEditor, "kelp", 1, customer.Change{Name: text(" Kelp & Kiln "), Zone: text("Europe/Berlin"), Language: text("de")})
	require.NoError(t, err)
	assert.Equal(t, [4]any{"Kelp & Kiln", "Europe/Berlin", "de", 2}, [4]any{c.Name, c.Zone, c.Language, c.Revision})
	_, err = w.Customers.Change(ctx, operator, "kelp", 1, customer.Change{Name: text("Late")})
	late := refusal(t, err)
	assert.Equal(t, problem.Precondition, late.Kind)
	assert.Contains(t, late.What, "revision is now 2")
	kept, err := w.Customers.Get(ctx, operator, "kelp")
	require.NoError(t, err)
	assert.Equal(t, c, kept)
	p, err := w.Pockets.Add(ctx, kelpEditor, pocket.NewPocket{Widget: "countdown"})
	require.NoError(t, err)
	assert.Equal(t, "de", p.Language, "new pockets speak the customer's language")
}

// A link invites one person once, for its time, and while it has not been taken back.
func TestInvitations(t *testing.T) {
	w := newWorld(t)
	const password, from = "a kiln that is warm", "192.0.2.9"
	invite := func(name string) (customer.Invitation, string) {
		t.Helper()
		n, secret, err := w.Customers.Invite(ctx, kelpEditor, "kelp", access.CustomerViewer, name)
		require.NoError(t, err)
		return n, secret
	}
	code := func(err error) string { t.Helper(); require.Error(t, err); return refusal(t, err).Code }
	_, _, err := w.Customers.Invite(ctx, kelpEditor, "kelp", access.OperatorAdmin, "")
	assert.Equal(t, "role-unknown", code(err), "nobody is made an operator by a customer")
	_, _, err = w.Customers.Invite(ctx, kelpEditor, "ferry", access.CustomerViewer, "")
	assert.Equal(t, "customer-not-found", code(err))

	_, secret := invite("Runa")
	n, c, err := w.Customers.Invited(ctx, secret, from)
	require.NoError(t, err)
	assert.Equal(t, [3]any{"Runa", access.CustomerViewer, "kelp"}, [3]any{n.Name, n.Role, c.ID})
	_, _, err = w.Customers.Join(ctx, secret, "runa", "short", from, "x")
	assert.Equal(t, "password-length", code(err), "and the link is still good")
	_, _, err = w.Customers.Join(ctx, secret, "op", password, from, "x")
	assert.Equal(t, "user-exists", code(err), "and the link is still good")
	scope, session, err := w.Customers.Join(ctx, secret, "runa", password, from, "x")
	require.NoError(t, err)
	assert.NotEmpty(t, session)
	assert.Equal(t, [3]any{access.CustomerViewer, "kelp", "runa"}, [3]any{scope.Role, scope.CustomerID, scope.Name})
	_, _, err = w.Customers.Join(ctx, secret, "again", password, from, "x")
	assert.Equal(t, "invitation-used", code(err))
	assert.Contains(t, refusal(t, err).What, "runa")
	_, _, err = w.Customers.Join(ctx, "made up", "again", password, from, "x")
	assert.Equal(t, "invitation-not-found", code(err))

	taken, secret := invite("")
	require.NoError(t, w.Customers.RevokeInvitation(ctx, kelpEditor, "kelp", taken.ID))
	_, _, err = w.Customers.Join(ctx, secret, "again", password, from, "x")
	assert.Equal(t, "invitation-not-found", code(err))
	assert.Equal(t, "invitation-not-found", code(w.Customers.RevokeInvitation(ctx, kelpEditor, "kelp", taken.ID)))
	_, secret = invite("")
	w.clock = w.clock.Add(customer.InvitationLasts)
	_, _, err = w.Customers.Join(ctx, secret, "again", password, from, "x")
	assert.Equal(t, "invitation-expired", code(err))

	people, err := w.Customers.People(ctx, kelpEditor, "kelp")
	require.NoError(t, err)
	require.Len(t, people, 1)
	_, err = w.Customers.People(ctx, kelpEditor, "ferry")
	assert.Equal(t, "customer-not-found", code(err))
	assert.Equal(t, "user-not-found", code(w.Customers.RevokeAccess(ctx, kelpEditor, "kelp", "op")), "somebody else's")
	themselves := kelpEditor
	themselves.UserID = people[0].ID
	assert.Equal(t, "oneself", code(w.Customers.RevokeAccess(ctx, themselves, "kelp", "runa")))
	require.NoError(t, w.Customers.RevokeAccess(ctx, kelpEditor, "kelp", "runa"))
	_, _, err = w.Users.Session(ctx, session, false)
	assert.Equal(t, problem.Unauthenticated, refusal(t, err).Kind, "signed out at once")
}

// Two who use one link at the same moment: one joins, the other is told.
func TestInvitationUsedByTwoAtOnce(t *testing.T) {
	w := newWorld(t)
	_, secret, err := w.Customers.Invite(ctx, kelpEditor, "kelp", access.CustomerEditor, "")
	require.NoError(t, err)
	said := make(chan error, 2)
	for i := range 2 {
		go func() {
			_, _, err := w.Customers.Join(ctx, secret, fmt.Sprintf("person-%d", i), "a kiln that is warm", "192.0.2.9", "x")
			said <- err
		}()
	}
	a, b := <-said, <-said
	if a == nil {
		a, b = b, a
	}
	assert.NoError(t, b)
	require.Error(t, a)
	assert.Equal(t, "invitation-used", refusal(t, a).Code)
	people, err := w.Customers.People(ctx, operator, "kelp")
	require.NoError(t, err)
	assert.Len(t, people, 1)
}

// Somebody signs up with what they began: it becomes their customer's, whatever the business is
// called, once; and with an account it is claimed with its link.
func TestSignUpWithAGuestPocket(t *testing.T) {
	w := newWorld(t)
	w.App = app.New(app.Options{Store: w.store, Signals: signal.New(), Site: w.site, Builder: nil, Now: func() time.Time { return w.clock }, Open: true, Keeps: 48 * time.Hour})
	begin := func() (access.Scope, string) {
		t.Helper()
		_, secret, err := w.Guests.Start(ctx, "countdown", "harbour", "", "192.0.2.1")
		require.NoError(t, err)
		guest, err := w.Guests.Scope(ctx, secret)
		require.NoError(t, err)
		return guest, secret
	}
	const password = "a kiln that is warm"
	guest, secret := begin()
	_, err := w.Publishing.Publish(ctx, guest, guest.Key, publish.Draft{})
	assert.Equal(t, "account-needed", refusal(t, err).Code)
	_, err = w.Pockets.Get(ctx, guest, "kelp-pocket")
	assert.Equal(t, "account-needed", refusal(t, err).Code)
	_, _, err = w.Guests.SignUp(ctx, guest, " ", "", password, "x")
	assert.Equal(t, "user-name", refusal(t, err).Code)
	_, _, err = w.Guests.SignUp(ctx, guest, "Kelp", "op", password, "x")
	assert.Equal(t, "user-exists", refusal(t, err).Code)
	olm, _, err := w.Guests.SignUp(ctx, guest, "Kelp", "olm", password, "x")
	require.NoError(t, err)
	assert.Equal(t, [2]any{"kelp-2", access.CustomerEditor}, [2]any{olm.CustomerID, olm.Role}, "there is a kelp already")
	p, err := w.Pockets.Get(ctx, olm, guest.Key)
	require.NoError(t, err)
	assert.Equal(t, "kelp-2", p.CustomerID)
	w.set(t, p.Key, `{"target": "2027-04-01T09:00[UTC]"}`)
	_, err = w.Publishing.Publish(ctx, olm, p.Key, publish.Draft{})
	require.NoError(t, err)
	_, err = w.Guests.Scope(ctx, secret)
	assert.Equal(t, "draft-not-found", refusal(t, err).Code, "the link is used up")
	_, _, err = w.Guests.SignUp(ctx, guest, "Another", "zoe", password, "x")
	assert.Equal(t, "draft-not-found", refusal(t, err).Code)
	_, err = w.Customers.Get(ctx, operator, "another")
	assert.Equal(t, "customer-not-found", refusal(t, err).Code, "nothing half is left")

	// Without a name of the business, the sign-in name stands in until there is one.
	nameless, _ := begin()
	mira, _, err := w.Guests.SignUp(ctx, nameless, " ", "mira@hask.example", password, "x")
	require.NoError(t, err)
	c, err := w.Customers.Get(ctx, mira, mira.CustomerID)
	require.NoError(t, err)
	assert.Equal(t, [2]string{"mira", "mira"}, [2]string{c.ID, c.Name})

	guest, secret = begin()
	viewer := olm
	viewer.Role = access.CustomerViewer
	_, err = w.Guests.Claim(ctx, viewer, secret, "")
	assert.Equal(t, problem.Forbidden, refusal(t, err).Kind)
	p, err = w.Guests.Claim(ctx, olm, secret, "")
	require.NoError(t, err)
	assert.Equal(t, [2]string{guest.Key, "kelp-2"}, [2]string{p.Key, p.CustomerID})
	_, err = w.Guests.Claim(ctx, kelpEditor, secret, "")
	assert.Equal(t, "draft-not-found", refusal(t, err).Code)
	n, err := w.Guests.Sweep(ctx)
	require.NoError(t, err)
	w.clock = w.clock.Add(1000 * time.Hour)
	more, err := w.Guests.Sweep(ctx)
	require.NoError(t, err)
	assert.Zero(t, n+more, "what was claimed stays")
}
