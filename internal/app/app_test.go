package app_test

import (
	"context"
	"errors"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/app"
	"glasspocket/internal/bundle"
	"glasspocket/internal/render"
	"glasspocket/internal/shelf"
	"glasspocket/internal/store"
	"glasspocket/internal/widget"
	"glasspocket/widgets"
)

var ctx = context.Background()

// world is an app on a real store, with two customers and a pocket each.
type world struct {
	*app.App
	clock time.Time
	store *store.Store
	site  *render.Site
}

var operator = app.Scope{Role: app.OperatorAdmin, Name: "op", UserID: 1}

func newWorld(t *testing.T) *world {
	db, err := store.Open(ctx, t.TempDir())
	require.NoError(t, err)
	t.Cleanup(func() { db.Close() })
	w := &world{clock: time.Date(2027, 3, 1, 9, 0, 0, 0, time.UTC), store: db, site: render.NewSite("https://pockets.example", "/*loader*/")}
	w.open()
	_, made, err := w.FirstStart(ctx, "op")
	require.NoError(t, err)
	require.True(t, made)
	folder, err := widgets.Folder("countdown")
	require.NoError(t, err)
	files, _, err := widget.Collect(folder)
	require.NoError(t, err)
	_, fresh, err := w.Release(ctx, operator, "countdown", files)
	require.NoError(t, err)
	require.True(t, fresh)
	for _, c := range []string{"kelp", "ferry"} {
		_, err := w.AddCustomer(ctx, operator, c, c)
		require.NoError(t, err)
		p, err := w.AddPocket(ctx, operator, app.NewPocket{CustomerID: c, Widget: "countdown", Key: c + "-pocket"})
		require.NoError(t, err)
		_, err = w.SaveDraft(ctx, operator, p.Key, 1, []byte(`{"target": "2027-04-01T09:00[UTC]"}`), false)
		require.NoError(t, err)
	}
	return w
}

// open makes the app anew on the same store, as a restart does.
func (w *world) open() {
	var a *app.App
	sh := shelf.New(func(ctx context.Context, key string) (*render.Delivery, int, error) { return a.Delivery(ctx, key) })
	a = app.New(app.Options{Store: w.store, Shelf: sh, Site: w.site, Builder: bundle.Builder{}, Now: func() time.Time { return w.clock }})
	w.App = a
}

// Every use case by every role, on one's own customer's pocket and on another's.
func TestWhoMayDoWhat(t *testing.T) {
	w := newWorld(t)
	const ok, forbidden, notFound = -1, int(app.Forbidden), int(app.NotFound)
	scopes := []app.Scope{operator, {Role: app.Developer}, {Role: app.CustomerEditor, CustomerID: "kelp"}, {Role: app.CustomerViewer, CustomerID: "kelp"}}
	revision := func(key string) int {
		p, err := w.Pocket(ctx, operator, key)
		require.NoError(t, err)
		return p.Revision
	}
	for _, c := range []struct {
		name  string
		do    func(s app.Scope, key string) error
		own   [4]int // by scope, on kelp's
		else_ [4]int // by scope, on ferry's
	}{
		{"see", func(s app.Scope, key string) error { _, err := w.Pocket(ctx, s, key); return err }, [4]int{ok, ok, ok, ok}, [4]int{ok, ok, notFound, notFound}},
		{"preview", func(s app.Scope, key string) error { _, err := w.Preview(ctx, s, key, nil, ""); return err }, [4]int{ok, ok, ok, ok}, [4]int{ok, ok, notFound, notFound}},
		{"save", func(s app.Scope, key string) error {
			_, err := w.SaveDraft(ctx, s, key, revision(key), []byte(`{"heading": "x"}`), false)
			return err
		}, [4]int{ok, ok, ok, forbidden}, [4]int{ok, ok, notFound, notFound}},
		{"publish", func(s app.Scope, key string) error { _, err := w.Publish(ctx, s, key, 0, nil); return err }, [4]int{ok, ok, ok, forbidden}, [4]int{ok, ok, notFound, forbidden}},
		{"publications", func(s app.Scope, key string) error { _, err := w.Publications(ctx, s, key, 0, 9); return err }, [4]int{ok, ok, ok, ok}, [4]int{ok, ok, notFound, notFound}},
		{"current", func(s app.Scope, key string) error { _, _, err := w.Current(ctx, s, key); return err }, [4]int{ok, ok, ok, ok}, [4]int{ok, ok, notFound, notFound}},
		{"make a pocket", func(s app.Scope, key string) error {
			_, err := w.AddPocket(ctx, s, app.NewPocket{CustomerID: key[:len(key)-len("-pocket")], Widget: "countdown"})
			return err
		}, [4]int{ok, ok, ok, forbidden}, [4]int{ok, ok, notFound, forbidden}},
		{"make a customer", func(s app.Scope, key string) error {
			_, err := w.AddCustomer(ctx, s, "", string(s.Role)+key)
			return err
		}, [4]int{ok, forbidden, forbidden, forbidden}, [4]int{ok, forbidden, forbidden, forbidden}},
		{"release", func(s app.Scope, _ string) error {
			_, _, err := w.Check(s, widget.Files{})
			return err
		}, [4]int{ok, ok, forbidden, forbidden}, [4]int{ok, ok, forbidden, forbidden}},
	} {
		t.Run(c.name, func(t *testing.T) {
			for i, s := range scopes {
				for key, want := range map[string]int{"kelp-pocket": c.own[i], "ferry-pocket": c.else_[i]} {
					err := c.do(s, key)
					got := ok
					var refused *app.Error
					if errors.As(err, &refused) {
						got = int(refused.Kind)
					} else {
						require.NoError(t, err)
					}
					assert.Equal(t, want, got, "%s on %s: %v", s.Role, key, err)
				}
			}
			var refused *app.Error
			require.ErrorAs(t, c.do(app.Scope{}, "kelp-pocket"), &refused)
			assert.Equal(t, app.Unauthenticated, refused.Kind, "nobody may do anything")
		})
	}
	for i, want := range []int{2, 2, 1, 1} {
		list, err := w.Customers(ctx, scopes[i], app.Page{Limit: 2})
		require.NoError(t, err)
		assert.Len(t, list, want)
		pockets, err := w.Pockets(ctx, scopes[i], "ferry", app.Page{Limit: 9})
		require.NoError(t, err)
		assert.Equal(t, want == 2, len(pockets) > 0)
	}
}

// A new program renders what an old one stored; the same program does not render again.
func TestRenderingsSurviveAndFollowTheProgram(t *testing.T) {
	w := newWorld(t)
	_, err := w.Publish(ctx, operator, "kelp-pocket", 0, nil)
	require.NoError(t, err)
	stored, err := w.store.Rendering(ctx, "kelp-pocket")
	require.NoError(t, err)
	w.clock = w.clock.Add(time.Hour)
	w.open()
	d, n, err := w.Delivery(ctx, "kelp-pocket")
	require.NoError(t, err)
	assert.Equal(t, 1, n)
	assert.Equal(t, stored.Script, d.Script.Brotli, "stored bytes, though an hour has passed")
	w.site = render.NewSite("https://pockets.example", "/*a new loader*/")
	w.open()
	d, _, err = w.Delivery(ctx, "kelp-pocket")
	require.NoError(t, err)
	assert.Contains(t, string(d.Script.Plain), "a new loader")
	again, err := w.store.Rendering(ctx, "kelp-pocket")
	require.NoError(t, err)
	assert.Equal(t, d.Script.Brotli, again.Script, "and it is kept")
	d, _, err = w.Delivery(ctx, "never-made")
	require.NoError(t, err)
	assert.Nil(t, d)
}

func TestTokensAndSessionsEnd(t *testing.T) {
	w := newWorld(t)
	_, secret, err := w.MakeToken(ctx, operator, "t", 24*time.Hour)
	require.NoError(t, err)
	_, err = w.ByToken(ctx, secret)
	require.NoError(t, err)
	w.clock = w.clock.Add(25 * time.Hour)
	_, err = w.ByToken(ctx, secret)
	var refused *app.Error
	require.ErrorAs(t, err, &refused)
	assert.Equal(t, "token-expired", refused.Code)
	assert.Contains(t, refused.What, "2 March 2027")
	_, _, err = w.MakeToken(ctx, operator, "t", 400*24*time.Hour)
	require.Error(t, err)
	_, made, err := w.FirstStart(ctx, "second")
	require.NoError(t, err)
	assert.False(t, made, "a first operator is made only once")
}
