package app_test

import (
	"context"
	"errors"
	"fmt"
	"regexp"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/hosts"
	"glasspocket/internal/app"
	"glasspocket/internal/app/access"
	"glasspocket/internal/app/delivery"
	"glasspocket/internal/app/install"
	"glasspocket/internal/app/pocket"
	"glasspocket/internal/app/publish"
	"glasspocket/internal/app/release"
	"glasspocket/internal/app/rollout"
	"glasspocket/internal/app/user"
	"glasspocket/internal/bundle"
	"glasspocket/internal/feed"
	"glasspocket/internal/host"
	"glasspocket/internal/problem"
	"glasspocket/internal/render"
	"glasspocket/internal/shelf"
	"glasspocket/internal/signal"
	"glasspocket/internal/store"
	"glasspocket/internal/vault"
	"glasspocket/internal/widget"
	"glasspocket/widgets"
)

var ctx = context.Background()

// world is an app on a real store, with two customers and a pocket each.
type world struct {
	*app.App
	clock   time.Time
	db      *store.DB
	store   app.Store
	site    *render.Site
	shelf   *shelf.Shelf
	notices []string
	web     feed.Web // what sources are fetched from
}

var operator = access.Scope{Role: access.OperatorAdmin, Name: "op", UserID: 1}

func newSite(loader string) *render.Site {
	site, err := render.NewSite("https://pockets.example", loader, loader, bundle.Kit)
	if err != nil {
		panic(err)
	}
	return site
}

func countdown(t testing.TB) widget.Files {
	folder, err := widgets.Folder("countdown")
	require.NoError(t, err)
	files, _, err := widget.Collect(folder)
	require.NoError(t, err)
	return files
}

func newWorld(t testing.TB) *world {
	db, err := store.Open(ctx, t.TempDir())
	require.NoError(t, err)
	t.Cleanup(func() { db.Close() })
	tables, err := app.StoreIn(ctx, db)
	require.NoError(t, err)
	w := &world{clock: time.Date(2027, 3, 1, 9, 0, 0, 0, time.UTC), db: db, store: tables, site: newSite("/*loader*/")}
	w.open()
	_, made, err := w.Users.FirstStart(ctx, "op")
	require.NoError(t, err)
	require.True(t, made)
	_, fresh, _, err := w.Rollouts.Release(ctx, operator, "countdown", rollout.NewRelease{Files: countdown(t)})
	require.NoError(t, err)
	require.True(t, fresh)
	for _, c := range []string{"kelp", "ferry"} {
		_, err := w.Customers.Add(ctx, operator, c, c)
		require.NoError(t, err)
		p, err := w.Pockets.Add(ctx, operator, pocket.NewPocket{CustomerID: c, Widget: "countdown", Key: c + "-pocket"})
		require.NoError(t, err)
		_, err = w.Pockets.SaveDraft(ctx, operator, p.Key, 1, []byte(`{"target": "2027-04-01T09:00[UTC]"}`), false)
		require.NoError(t, err)
	}
	return w
}

// open makes the app anew on the same store, as a restart does.
func (w *world) open() {
	signals := signal.New()
	shipped, err := hosts.Shipped()
	if err != nil {
		panic(err)
	}
	secrets, err := vault.New(make([]byte, 32))
	if err != nil {
		panic(err)
	}
	a := app.New(app.Options{Web: w.web, Vault: secrets, Hosts: shipped, Store: w.store, Signals: signals, Site: w.site, Builder: bundle.Builder{}, Trier: bundle.Builder{}, Cost: user.Cost{Passes: 1, KiB: 64, Threads: 4}, Now: func() time.Time { return w.clock },
		Notice: func(what string, about ...any) {
			w.notices = append(w.notices, fmt.Sprint(append([]any{what}, about...)...))
		}})
	w.App, w.shelf = a, shelf.New(a.Delivery.Serve, signals, shelf.Bytes)
}

// gets is what a visitor is served under key, and how often the store was asked for it.
func (w *world) gets(t *testing.T, key string) (*delivery.Served, int64) {
	before := w.shelf.Stats().Loads.Load()
	served, err := w.shelf.Get(ctx, key, render.JSON)
	require.NoError(t, err)
	return served, w.shelf.Stats().Loads.Load() - before
}

func refusal(t *testing.T, err error) *problem.Error {
	var refused *problem.Error
	require.ErrorAs(t, err, &refused)
	return refused
}

// A new program renders what an old one stored; the same program does not render again.
func TestRenderingsSurviveAndFollowTheProgram(t *testing.T) {
	w := newWorld(t)
	_, err := w.Publishing.Publish(ctx, operator, "kelp-pocket", publish.Draft{})
	require.NoError(t, err)
	stored, err := w.store.Current(ctx, "kelp-pocket", render.JSON)
	require.NoError(t, err)
	w.clock = w.clock.Add(time.Hour)
	w.open()
	s, _ := w.gets(t, "kelp-pocket")
	assert.Equal(t, 1, s.Publication)
	assert.Equal(t, stored.Document, s.Document.Brotli, "stored bytes, though an hour has passed")
	w.site = newSite("/*a new loader*/")
	w.open()
	s, _ = w.gets(t, "kelp-pocket")
	script, err := w.shelf.Get(ctx, "kelp-pocket", render.Script)
	require.NoError(t, err)
	assert.Contains(t, string(script.Document.Plain()), "a new loader")
	again, err := w.store.Current(ctx, "kelp-pocket", render.JSON)
	require.NoError(t, err)
	assert.Equal(t, s.Document.Brotli, again.Document, "and it is kept")
	// What the disk has damaged is noticed and made again.
	damaged := append([]byte{}, again.Document...)
	damaged[10]++
	require.NoError(t, w.store.SaveRendering(ctx, delivery.Rendering{Key: again.Key, Publication: again.Publication, CustomerID: again.CustomerID, Target: again.Target, Inputs: again.Inputs, Sums: again.Sums, Script: damaged, JSON: damaged, Page: damaged}))
	w.open()
	healed, _ := w.gets(t, "kelp-pocket")
	assert.Equal(t, s.Document.Plain(), healed.Document.Plain())
	assert.Contains(t, w.notices[len(w.notices)-1], "damaged")
	s, _ = w.gets(t, "never-made")
	assert.Nil(t, s.Document)
}

// counting counts the renderings that were made and kept.
type counting struct {
	app.Store
	kept atomic.Int32
}

func (c *counting) SaveRendering(ctx context.Context, r delivery.Rendering) error {
	c.kept.Add(1)
	return c.Store.SaveRendering(ctx, r)
}

// However many ask for whichever part at once, a pocket is built once.
func TestOneBuildAtATime(t *testing.T) {
	w := newWorld(t)
	_, err := w.Publishing.Publish(ctx, operator, "kelp-pocket", publish.Draft{})
	require.NoError(t, err)
	db := &counting{Store: w.store}
	signals := signal.New()
	a := app.New(app.Options{Store: db, Signals: signals, Site: newSite("/*new*/"), Builder: bundle.Builder{}})
	sh := shelf.New(a.Delivery.Serve, signals, shelf.Bytes)
	var wg sync.WaitGroup
	for i := range 60 {
		wg.Go(func() {
			s, err := sh.Get(ctx, "kelp-pocket", render.Parts[i%len(render.Parts)])
			assert.NoError(t, err)
			assert.NotNil(t, s.Document)
		})
	}
	wg.Wait()
	assert.Equal(t, int32(1), db.kept.Load())
}

// release releases the countdown with something changed in its files.
func (w *world) release(t *testing.T, file, old, new string) release.Info {
	files := widget.Files{}
	for path, text := range countdown(t) {
		files[path] = text
	}
	require.Contains(t, string(files[file]), old)
	files[file] = []byte(strings.Replace(string(files[file]), old, new, 1))
	info, fresh, _, err := w.Rollouts.Release(ctx, operator, "countdown", rollout.NewRelease{Files: files, Breaks: true})
	require.NoError(t, err)
	require.True(t, fresh)
	return info
}

// What leaves the page (a mail, a sealed script) is drawn under the release that visitors of the
// page get.
func TestMailAndSealFollow(t *testing.T) {
	w := newWorld(t)
	_, err := w.Pockets.SaveDraft(ctx, operator, "kelp-pocket", 2, []byte(`{"heading": "Odd"}`), false)
	require.NoError(t, err)
	for key, follow := range map[string]bool{"kelp-pocket": true, "ferry-pocket": false} {
		_, err := w.Publishing.Publish(ctx, operator, key, publish.Draft{Follow: &follow})
		require.NoError(t, err)
	}
	newest := func(key string) bool {
		g, err := w.Installs.Guide(ctx, operator, key, install.Install{Host: "plain-page"})
		require.NoError(t, err)
		return g.Newest
	}
	has := func(key, words string) [3]bool {
		mail, err := w.Installs.Snippets(ctx, operator, key, host.Email)
		require.NoError(t, err)
		sealed, err := w.Installs.Seal(ctx, operator, key)
		require.NoError(t, err)
		script := render.Stored(sealed.Script)
		page, _ := w.gets(t, key)
		return [3]bool{strings.Contains(string(page.Document.Plain()), words), strings.Contains(mail[0].Parts[0].Text, words), strings.Contains(string(script.Plain()), words)}
	}
	all, none := [3]bool{true, true, true}, [3]bool{}
	assert.Equal(t, none, has("kelp-pocket", "Ask at the quay"))
	assert.Equal(t, none, has("ferry-pocket", "Ask at the quay"))
	w.release(t, "view.html", `<div class="countdown"`, `<p>Ask at the quay</p><div class="countdown"`)
	assert.False(t, newest("kelp-pocket"), "what was sealed is not what visitors get")
	assert.True(t, newest("ferry-pocket"))
	assert.Equal(t, all, has("kelp-pocket", "Ask at the quay"))
	assert.True(t, newest("kelp-pocket"))
	assert.Equal(t, none, has("ferry-pocket", "Ask at the quay"))
	// One that does not take its settings changes nothing.
	w.release(t, "view.html", `<div class="countdown"`, `{{if eq .settings.heading "Odd"}}{{say .settings.typeface}}{{end}}<p>Ask at the kiln</p><div class="countdown"`)
	assert.Equal(t, all, has("kelp-pocket", "Ask at the quay"))
}

func TestFollowingAndPinnedPockets(t *testing.T) {
	w := newWorld(t)
	follow := true
	_, err := w.Pockets.SaveDraft(ctx, operator, "kelp-pocket", 2, []byte(`{"heading": "Odd"}`), false)
	require.NoError(t, err)
	for key, ask := range map[string]publish.Draft{"kelp-pocket": {Follow: &follow}, "ferry-pocket": {}} {
		_, err := w.Publishing.Publish(ctx, operator, key, ask)
		require.NoError(t, err)
	}
	shows := func(following, pinned string) {
		t.Helper()
		for key, want := range map[string]string{"kelp-pocket": following, "ferry-pocket": pinned} {
			s, _ := w.gets(t, key)
			class := regexp.MustCompile(`class=\\"(countdown[^"\\]*)`).FindStringSubmatch(string(s.Document.Plain()))
			require.NotNil(t, class)
			assert.Equal(t, want, class[1], key)
			_, loads := w.gets(t, key)
			assert.Zero(t, loads, "asked once, %s is remembered", key)
		}
	}
	shows("countdown", "countdown")
	w.release(t, "view.html", `class="countdown"`, `class="countdown two"`)
	shows("countdown two", "countdown")
	w.open()
	shows("countdown two", "countdown")
	_, _, err = w.Rollouts.Withdraw(ctx, operator, "countdown", 2, true)
	require.NoError(t, err)
	shows("countdown", "countdown")

	// A release that does not take a follower's settings leaves it where it is, and says so.
	third := w.release(t, "view.html", `class="countdown"`, `class="countdown three"`)
	shows("countdown three", "countdown")
	assert.Empty(t, w.notices)
	w.release(t, "view.html", `<div class="countdown"`, `{{if eq .settings.heading "Odd"}}{{say .settings.typeface}}{{end}}<div class="countdown four"`)
	shows("countdown three", "countdown")
	require.NotEmpty(t, w.notices)
	assert.Contains(t, w.notices[0], "kelp-pocket")

	// What left memory is read again, and the release is not tried again, for an hour.
	told := len(w.notices)
	serve := func() string {
		served, err := w.Delivery.Serve(ctx, "kelp-pocket", render.JSON)
		require.NoError(t, err)
		return string(served.Document.Plain())
	}
	assert.Contains(t, serve(), "countdown three")
	assert.Len(t, w.notices, told)
	w.clock = w.clock.Add(time.Hour)
	assert.Contains(t, serve(), "countdown three")
	assert.Len(t, w.notices, told+1)
	// Restoring what the newest release does not take says so as well.
	_, err = w.Pockets.SaveDraft(ctx, operator, "kelp-pocket", 3, []byte(`{"heading": "Even"}`), false)
	require.NoError(t, err)
	_, err = w.Publishing.Publish(ctx, operator, "kelp-pocket", publish.Draft{})
	require.NoError(t, err)
	shows("countdown four", "countdown")
	_, err = w.Publishing.Restore(ctx, operator, "kelp-pocket", 1, 0)
	require.NoError(t, err)
	shows("countdown", "countdown")
	assert.Len(t, w.notices, told+2)
	assert.Contains(t, w.notices[told+1], "kelp-pocket")

	// Withdrawn under a pinned publication: it goes on being served, and nothing new is made with it.
	for number := 1; number <= 4; number++ {
		_, _, err = w.Rollouts.Withdraw(ctx, operator, "countdown", number, true)
		require.NoError(t, err)
	}
	shows("countdown", "countdown")
	_, err = w.Publishing.Publish(ctx, operator, "ferry-pocket", publish.Draft{})
	assert.Equal(t, "release-withdrawn", refusal(t, err).Code)
	_, _, err = w.Rollouts.Withdraw(ctx, operator, "countdown", third.Number, false)
	require.NoError(t, err)
	p, err := w.Publishing.Publish(ctx, operator, "ferry-pocket", publish.Draft{})
	require.NoError(t, err)
	assert.Equal(t, third.Number, p.Release)
	shows("countdown three", "countdown three")
	_, err = w.Publishing.Restore(ctx, operator, "ferry-pocket", 1, 0)
	assert.Equal(t, "release-withdrawn", refusal(t, err).Code)
}

func TestRestore(t *testing.T) {
	w := newWorld(t)
	headings := []string{"First", "Second", "Third"}
	for i, heading := range headings {
		_, err := w.Pockets.SaveDraft(ctx, operator, "kelp-pocket", i+2, []byte(`{"heading": "`+heading+`"}`), false)
		require.NoError(t, err)
		_, err = w.Publishing.Publish(ctx, operator, "kelp-pocket", publish.Draft{})
		require.NoError(t, err)
	}
	p, err := w.Publishing.Restore(ctx, operator, "kelp-pocket", 1, 0)
	require.NoError(t, err)
	assert.Equal(t, [2]int{4, 1}, [2]int{p.Number, p.Restores})
	s, loads := w.gets(t, "kelp-pocket")
	assert.Equal(t, int64(1), loads, "it is read once, and not rendered again")
	assert.Contains(t, string(s.Document.Plain()), "First")
	w.open()
	s, _ = w.gets(t, "kelp-pocket")
	assert.Contains(t, string(s.Document.Plain()), "First", "after a restart too")
	pocket, err := w.Pockets.Get(ctx, operator, "kelp-pocket")
	require.NoError(t, err)
	assert.Equal(t, "Third", pocket.Settings["heading"], "the draft stays")
	assert.NotEqual(t, pocket.Revision, pocket.PublishedOf, "so it differs from what visitors get")
	_, err = w.Publishing.Restore(ctx, operator, "kelp-pocket", 4, 0)
	assert.Equal(t, "published-already", refusal(t, err).Code)
	_, err = w.Publishing.Restore(ctx, operator, "kelp-pocket", 9, 0)
	assert.Equal(t, "publication-not-found", refusal(t, err).Code)
}

func TestWithholdAndBack(t *testing.T) {
	w := newWorld(t)
	for _, key := range []string{"kelp-pocket", "ferry-pocket"} {
		_, err := w.Publishing.Publish(ctx, operator, key, publish.Draft{})
		require.NoError(t, err)
	}
	shown := func(kelp, ferry bool) {
		t.Helper()
		for key, want := range map[string]bool{"kelp-pocket": kelp, "ferry-pocket": ferry} {
			s, _ := w.gets(t, key)
			assert.Equal(t, want, s.Document != nil, key)
			assert.Equal(t, !want, s.Withheld, key)
			_, loads := w.gets(t, key)
			assert.Zero(t, loads, key)
		}
	}
	shown(true, true)
	p, err := w.Pockets.Withhold(ctx, operator, "kelp-pocket", "  A complaint  ")
	require.NoError(t, err)
	assert.Equal(t, "A complaint", p.Withheld.Why)
	shown(false, true)
	_, err = w.Publishing.Publish(ctx, operator, "kelp-pocket", publish.Draft{})
	require.NoError(t, err)
	shown(false, true) // publishing does not bring it back
	w.open()
	shown(false, true)
	_, err = w.Customers.Withhold(ctx, operator, "ferry", "")
	require.NoError(t, err)
	shown(false, false)
	_, err = w.Pockets.BringBack(ctx, operator, "kelp-pocket")
	require.NoError(t, err)
	_, err = w.Customers.BringBack(ctx, operator, "ferry")
	require.NoError(t, err)
	shown(true, true)
	s, _ := w.gets(t, "kelp-pocket")
	assert.Equal(t, 2, s.Publication, "what was published meanwhile is there")
}

func TestTokensAndSessionsEnd(t *testing.T) {
	w := newWorld(t)
	boss, err := w.store.UserByName(ctx, "op")
	require.NoError(t, err)
	s := access.Scope{Role: access.OperatorAdmin, Name: "op", UserID: boss.ID}
	_, secret, err := w.Users.MakeToken(ctx, s, user.NewToken{Name: strings.Repeat("é", 80), Lasts: 24 * time.Hour})
	require.NoError(t, err)
	full, err := w.Users.ByToken(ctx, secret)
	require.NoError(t, err)
	assert.False(t, full.Narrowed)
	_, secretNarrow, err := w.Users.MakeToken(ctx, s, user.NewToken{Name: "n", Lasts: time.Hour, Role: access.CustomerViewer, CustomerID: "kelp"})
	require.NoError(t, err)
	narrow, err := w.Users.ByToken(ctx, secretNarrow)
	require.NoError(t, err)
	assert.Equal(t, [2]string{"customer-viewer", "kelp"}, [2]string{string(narrow.Role), narrow.CustomerID})
	_, _, err = w.Users.MakeToken(ctx, narrow, user.NewToken{Name: "up", Lasts: time.Hour})
	assert.Equal(t, "token-narrow", refusal(t, err).Code, "a narrow token cannot make a wide one")
	for name, n := range map[string]user.NewToken{
		"token-too-wide":     {Role: access.OperatorAdmin},
		"customer-role":      {CustomerID: "kelp"},
		"customer-needed":    {Role: access.CustomerEditor},
		"customer-not-found": {Role: access.CustomerEditor, CustomerID: "nobody"},
		"role-unknown":       {Role: "king"},
		"token-lasts":        {Lasts: 400 * 24 * time.Hour},
		"token-name":         {Name: strings.Repeat("é", 81)},
	} {
		if n.Name == "" {
			n.Name = name
		}
		if n.Lasts == 0 {
			n.Lasts = time.Hour
		}
		_, _, err := w.Users.MakeToken(ctx, access.Scope{Role: access.Developer, UserID: boss.ID}, n)
		assert.Equal(t, name, refusal(t, err).Code)
	}
	w.clock = w.clock.Add(25 * time.Hour)
	_, err = w.Users.ByToken(ctx, secret)
	assert.Equal(t, "token-expired", refusal(t, err).Code)
	assert.Contains(t, refusal(t, err).What, "2 March 2027")
	_, made, err := w.Users.FirstStart(ctx, "second")
	require.NoError(t, err)
	assert.False(t, made, "a first operator is made only once")
}

// A session's secret turns by the hour; the one before is good for requests under way.
func TestSessionsTurn(t *testing.T) {
	w := newWorld(t)
	_, password, err := w.Users.Add(ctx, operator, user.NewUser{Name: "mirre", Role: access.CustomerEditor, CustomerID: "kelp"})
	require.NoError(t, err)
	_, first, err := w.Users.SignIn(ctx, "mirre", password, "203.0.113.7", "a browser")
	require.NoError(t, err)
	_, turned, err := w.Users.Session(ctx, first, true)
	require.NoError(t, err)
	assert.Empty(t, turned, "not before the hour")
	w.clock = w.clock.Add(user.SessionTurns)
	_, turned, err = w.Users.Session(ctx, first, false)
	require.NoError(t, err)
	assert.Empty(t, turned, "and only where the answer can carry it")
	s, second, err := w.Users.Session(ctx, first, true)
	require.NoError(t, err)
	require.NotEmpty(t, second)
	_, _, err = w.Users.Session(ctx, first, false)
	require.NoError(t, err, "a request under way")
	w.clock = w.clock.Add(2 * user.RotationGrace)
	_, _, err = w.Users.Session(ctx, first, false)
	assert.Equal(t, "session-ended", refusal(t, err).Code)
	_, _, err = w.Users.Session(ctx, second, false)
	require.NoError(t, err)

	_, elsewhere, err := w.Users.SignIn(ctx, "mirre", password, "203.0.113.7", "another")
	require.NoError(t, err)
	list, err := w.Users.Sessions(ctx, s)
	require.NoError(t, err)
	assert.Len(t, list, 2)
	assert.Equal(t, "password-wrong", refusal(t, w.Users.ChangePassword(ctx, s, "guess", "a good long phrase")).Code)
	assert.Equal(t, "password-length", refusal(t, w.Users.ChangePassword(ctx, s, password, "short")).Code)
	require.NoError(t, w.Users.ChangePassword(ctx, s, password, "a good long phrase"))
	_, _, err = w.Users.Session(ctx, elsewhere, false)
	assert.Equal(t, "session-ended", refusal(t, err).Code, "other sessions end")
	_, _, err = w.Users.Session(ctx, second, false)
	require.NoError(t, err, "this one goes on")
	_, err = w.Users.Change(ctx, operator, "mirre", access.Developer, "")
	require.NoError(t, err)
	_, _, err = w.Users.Session(ctx, second, false)
	assert.Equal(t, "session-ended", refusal(t, err).Code, "nothing of the old role is left")
	assert.Equal(t, "last-admin", refusal(t, w.Users.Delete(ctx, operator, "op")).Code)
	_, err = w.Users.Change(ctx, operator, "op", access.Developer, "")
	assert.Equal(t, "last-admin", refusal(t, err).Code)
}

// Guessing is slow, by name and by network; it locks nobody out who signs in from elsewhere; and a
// clock that jumps back blocks nobody for long.
func TestSignInLimits(t *testing.T) {
	w := newWorld(t)
	try := func(name, address string) string {
		_, _, err := w.Users.SignIn(ctx, name, "wrong", address, "")
		return refusal(t, err).Code
	}
	for range 5 {
		assert.Equal(t, "wrong-sign-in", try("op", "203.0.113.1"))
	}
	assert.Equal(t, "too-many-sign-ins", try("op", "203.0.113.2"), "from the same /24")
	assert.Equal(t, "wrong-sign-in", try("op", "198.51.100.2"), "the owner may be elsewhere")
	w.clock = w.clock.Add(-time.Hour)
	assert.Equal(t, "wrong-sign-in", try("op", "203.0.113.2"))
	for i := range 29 {
		assert.Equal(t, "wrong-sign-in", try(fmt.Sprintf("name-%d", i), "203.0.113.2"))
	}
	assert.Equal(t, "too-many-sign-ins", try("name-99", "203.0.113.3"), "by network, whatever the name")
	assert.Equal(t, "wrong-sign-in", try("name-99", "192.0.2.3"))
	for range 5 {
		assert.Equal(t, "wrong-sign-in", try("mirre", "2001:db8:1:2::1"))
	}
	assert.Equal(t, "too-many-sign-ins", try("mirre", "2001:db8:1:2:ffff::9"), "from the same /64")
	assert.Equal(t, "wrong-sign-in", try("mirre", "2001:db8:1:3::1"))
	assert.Equal(t, "wrong-sign-in", try(strings.Repeat("long ", 100), "192.0.2.4"))

	_, password, err := w.Users.Add(ctx, operator, user.NewUser{Name: "keeper", Role: access.CustomerEditor, CustomerID: "kelp"})
	require.NoError(t, err)

	// Of many at once, no more are tried than of many one after the other; correct ones all succeed.
	at := func(once int, name, password, address string) map[string]int {
		codes := make(chan string, once)
		for range once {
			go func() {
				_, _, err := w.Users.SignIn(ctx, name, password, address, "")
				var e *problem.Error
				if errors.As(err, &e) {
					codes <- e.Code
				} else {
					codes <- fmt.Sprint(err)
				}
			}()
		}
		counts := map[string]int{}
		for range once {
			counts[<-codes]++
		}
		return counts
	}
	assert.Equal(t, map[string]int{"wrong-sign-in": 5, "too-many-sign-ins": 55}, at(60, "at-once", "wrong", "192.0.2.77"))
	assert.Equal(t, map[string]int{"<nil>": 60}, at(60, "keeper", password, "192.0.2.78"))
}
