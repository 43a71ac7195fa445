package source

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/url"
	"time"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/audit"
	"glasspocket/internal/digest"
	"glasspocket/internal/feed"
	"glasspocket/internal/item"
	"glasspocket/internal/problem"
	"glasspocket/internal/signal"
	"glasspocket/internal/work"
)

// FetchTask is the name of the kind of task that fetches a source.
const FetchTask = "fetch"

// fetchesAtOnce is how many sources are fetched at once. Most of that time they wait for others.
const fetchesAtOnce = 32

// fetchGap allows 300 fetches a second, which is half a million sources in half an hour.
const fetchGap = time.Second / 300

// Task is the kind of task that fetches a source, again and again. Its state is a Progress.
func (a *Sources) Task() work.Kind {
	return work.Kind{Name: FetchTask, About: "Fetches of sources", Limit: fetchesAtOnce, Gap: fetchGap, Lasts: 2 * time.Minute, Tries: 1_000_000, Run: a.run, Keep: 24 * time.Hour}
}

func (a *Sources) run(ctx context.Context, t work.Task) error {
	var p Progress
	if len(t.About) > 0 {
		if err := json.Unmarshal(t.About, &p); err != nil {
			return err
		}
	}
	unlock, ok := a.fetching.try(t.Key)
	if !ok { // somebody refreshes it
		return work.Later{After: 2 * time.Second}
	}
	defer unlock()
	src, err := a.store.Source(ctx, t.Key)
	if errors.Is(err, problem.ErrNotFound) {
		return nil // it was deleted
	}
	if err != nil {
		return err
	}
	if p.Pending {
		return a.catchUp(ctx, t, src, p)
	}
	began := a.now()
	out := a.fetch(ctx, src, p, false)
	if ctx.Err() != nil {
		return ctx.Err()
	}
	if out.busy {
		return work.Later{After: jittered(3 * time.Second)}
	}
	if out.writes {
		out.got.Leased = &t
		if err := a.save(ctx, src, out.got, nil); err != nil {
			return err
		}
	}
	if out.got.Next.IsZero() {
		return nil // it has ended
	}
	if out.failed == nil {
		if out.got.About != nil {
			src.About = *out.got.About
		}
		a.subscribe(ctx, src)
	}
	at, pushed := a.pushes.LoadAndDelete(src.ID)
	pushed = pushed && !at.(time.Time).Before(began) // it has changed again since it was requested
	switch {
	case out.writes && pushed:
		return errors.Join(work.ErrRecorded, a.store.FetchSoon(ctx, src.ID, a.now(), pushPause))
	case out.writes:
		return work.ErrRecorded
	}
	about, _ := json.Marshal(out.got.Progress)
	after := max(out.got.Next.Sub(a.now()), 0)
	if pushed {
		after = min(after, pushPause)
	}
	return work.Later{After: after, About: about}
}

// catchUp fetches the images of a new source.
func (a *Sources) catchUp(ctx context.Context, t work.Task, src Source, p Progress) error {
	stock, revision, err := a.store.Stock(ctx, src.ID)
	if err != nil {
		return err
	}
	if a.pictures(ctx, src, stock.Items) {
		got := Got{At: a.now(), Stock: &stock, Revision: revision + 1, Renew: true, Leased: &t}
		if err := a.save(ctx, src, got, nil); err != nil {
			return err
		}
	}
	if src.Address == "" {
		return nil // a file is not fetched
	}
	p.Pending = false
	a.subscribe(ctx, src)
	about, _ := json.Marshal(p)
	return work.Later{After: pace(p, 0, src.Pushed()), About: about}
}

// outcome is what came of a fetch.
type outcome struct {
	got     Got
	writes  bool // something besides the time of the next fetch has to be written
	busy    bool // there was no request
	changes item.Changes
	failed  *feed.Failure
}

// fetch requests a source's document, reads it, and merges its items with the present ones. If force
// is set, it reads the document even if it has not changed.
func (a *Sources) fetch(ctx context.Context, src Source, p Progress, force bool) (out outcome) {
	now := a.now()
	began := time.Now()
	reader := feed.Named(src.Reader)
	if reader == nil {
		return a.failed(src, p, &feed.Failure{What: "This program does not know the reader " + src.Reader + ".", Hint: "Update the service."}, now)
	}
	secret, err := a.secret(src)
	if err != nil {
		return a.failed(src, p, &feed.Failure{What: "The token of this source cannot be read.", Hint: "Enter it again. The operator may have lost the key file."}, now)
	}
	ask := feed.Ask{Address: src.Address, Accept: reader.Accept(), Secret: secret, ETag: p.ETag, LastModified: p.LastModified}
	if force || p.Rolling && now.Sub(p.ReadAt) > rereadAfter {
		ask.ETag, ask.LastModified = "", ""
	}
	answer, err := a.web.Ask(ctx, ask)
	if err != nil {
		return a.failed(src, p, asFailure(err), now)
	}
	next := p
	next.CheckedAt, next.Failures = now, 0
	if answer.ETag != "" || answer.LastModified != "" || !answer.Unchanged {
		next.ETag, next.LastModified = answer.ETag, answer.LastModified
	}
	sum := p.Sum
	if !answer.Unchanged {
		sum = digest.Of(answer.Body)
	}
	entry := &Fetch{At: now, LastAt: now, Times: 1, Status: answer.Status, Bytes: len(answer.Body)}
	recovered := src.FailingSince != nil
	if sum == p.Sum && sum != "" && !force && !(p.Rolling && now.Sub(p.ReadAt) > rereadAfter) {
		next.Unchanged++
		out.got = Got{At: now, Progress: next, Next: now.Add(pace(next, answer.Fresh, src.Pushed())), Address: answer.Moved}
		if out.writes = recovered || answer.Moved != ""; recovered {
			entry.Took = int(time.Since(began).Milliseconds())
			out.got.Fetch = entry
		}
		return out
	}
	found, merged, failure := a.merge(ctx, src, reader, answer.Document, secret, now)
	if failure != nil {
		failure.Status = answer.Status
		return a.failed(src, p, failure, now)
	}
	changes := merged.changes
	next.Sum, next.ReadAt, next.Rolling, next.Every = sum, now, found.Rolling, int(found.Every.Seconds())
	about := aboutOf(found)
	fresh := false
	if next.Pending = src.Stock == 0; !next.Pending { // a new source's images are fetched right after it is stored
		fresh = a.pictures(ctx, src, merged.stock.Items)
	}
	out.got = Got{At: now, Progress: next, Address: answer.Moved, Fetch: entry}
	out.changes = changes
	entry.Added, entry.Changed, entry.Removed, entry.Took = changes.Added, changes.Changed, changes.Removed, int(time.Since(began).Milliseconds())
	rated := src.About.Rated != about.Rated
	if changes.None() && !rated && !fresh {
		out.got.Progress.Unchanged++
	} else {
		out.got.Progress.Unchanged = 0
		out.got.Stock, out.got.Revision, out.got.Renew = &merged.stock, max(merged.revision, src.Stock)+1, true
	}
	if !sameAbout(about, src.About) {
		out.got.About = &about
	}
	out.writes = out.got.Stock != nil || out.got.About != nil || recovered || force || answer.Moved != ""
	src.About = about
	out.got.Next = now.Add(pace(out.got.Progress, answer.Fresh, src.Pushed()))
	if next.Pending {
		out.got.Next = now
	}
	return out
}

// failed keeps everything that there is, and says why it is not newer.
func (a *Sources) failed(src Source, p Progress, f *feed.Failure, now time.Time) (out outcome) {
	if f.Busy {
		return outcome{busy: true, failed: f}
	}
	p.Failures++
	out = outcome{failed: f, writes: true, got: Got{At: now, Progress: p, Next: now.Add(backoff(p.Failures, f.After)),
		Fetch: &Fetch{At: now, LastAt: now, Times: 1, Status: f.Status, Why: f.What}}}
	since := now
	if src.FailingSince != nil {
		since = *src.FailingSince
	}
	out.got.Health = Health{FailingSince: &since, Why: f.What, Hint: f.Hint}
	if f.Gone {
		out.got.Health.EndedAt, out.got.Next = &now, time.Time{}
	}
	return out
}

func asFailure(err error) *feed.Failure {
	var f *feed.Failure
	if errors.As(err, &f) {
		return f
	}
	var unreadable *feed.Error
	if errors.As(err, &unreadable) {
		return &feed.Failure{What: unreadable.What, Hint: unreadable.Hint}
	}
	return &feed.Failure{What: err.Error(), Hint: "Try again later."}
}

// merged is a source's items after a fetch.
type merged struct {
	stock    item.Stock
	changes  item.Changes
	revision int64 // of the stock before
}

// merge reads a document of a source, and merges its items with the present ones. One document at a
// time, because that keeps a processor busy, and visitors would wait.
func (a *Sources) merge(ctx context.Context, src Source, reader *feed.Reader, d feed.Document, secret feed.Secret, now time.Time) (found *feed.Found, m merged, failure *feed.Failure) {
	a.reading <- struct{}{}
	defer func() { <-a.reading }()
	found, failure = a.read(ctx, src, reader, d, secret)
	if failure != nil {
		return nil, m, failure
	}
	stock, revision, err := a.store.Stock(ctx, src.ID)
	if err != nil && !errors.Is(err, problem.ErrNotFound) {
		return nil, m, &feed.Failure{What: "The items cannot be stored at the moment."}
	}
	m.revision = revision
	m.stock, m.changes = stock.Merge(src.ID, found.Items, found.Window, now)
	return found, m, nil
}

// read reads a document of a source, while merge lets it. Further documents get the secret only from the same host.
func (a *Sources) read(ctx context.Context, src Source, reader *feed.Reader, d feed.Document, secret feed.Secret) (*feed.Found, *feed.Failure) {
	zone, err := a.customers.ZoneOf(ctx, src.CustomerID)
	if err != nil {
		return nil, asFailure(err)
	}
	d.Now, d.Zone, d.Name = a.now(), zone, src.FileName
	d.Get = a.getter(src.Address, secret, zone, a.reading)
	found, err := reader.Read(ctx, &d, src.Options)
	if err != nil {
		// A page in place of a feed is a frequent failure: a sign-in page, or an error with status 200.
		if src.Reader != "page" && feed.Of(&d) == feed.Named("page") {
			return nil, &feed.Failure{What: "The source answers with a web page instead of its content.", Hint: "Open the address in a browser to see why. It may require signing in."}
		}
		return nil, asFailure(err)
	}
	return found, nil
}

// documentsMost is how many further documents a reader may ask for in one fetch.
const documentsMost = 100

// getter returns the function by which a reader asks for further documents. While it waits for one,
// it gives its place in reading to others; nil if it has none.
func (a *Sources) getter(address string, secret feed.Secret, zone string, reading chan struct{}) func(ctx context.Context, address, accept string) (*feed.Document, error) {
	left := documentsMost
	home := hostOf(address)
	var get func(ctx context.Context, address, accept string) (*feed.Document, error)
	get = func(ctx context.Context, address, accept string) (*feed.Document, error) {
		if left--; left < 0 {
			return nil, &feed.Failure{What: fmt.Sprintf("The source has more than %d parts.", documentsMost)}
		}
		ask := feed.Ask{Address: address, Accept: accept}
		if hostOf(address) == home {
			ask.Secret = secret
		}
		if reading != nil {
			<-reading
			defer func() { reading <- struct{}{} }()
		}
		answer, err := a.web.Ask(ctx, ask)
		if err != nil {
			return nil, err
		}
		answer.Now, answer.Zone, answer.Get = a.now(), zone, get
		return &answer.Document, nil
	}
	return get
}

func hostOf(address string) string {
	u, err := url.Parse(address)
	if err != nil {
		return ""
	}
	return u.Scheme + "://" + u.Host
}

func (a *Sources) secret(src Source) (s feed.Secret, err error) {
	if src.SecretIn == "" {
		return s, nil
	}
	value, err := a.vault.Unseal(src.Secret, src.ID)
	return feed.Secret{In: src.SecretIn, Name: src.SecretName, Value: value}, err
}

// State returns "file", "ended", "failing" or "current".
func (src Source) State() string {
	switch {
	case src.Address == "":
		return "file"
	case src.EndedAt != nil:
		return "ended"
	case src.FailingSince != nil:
		return "failing"
	}
	return "current"
}

func aboutOf(f *feed.Found) About {
	return About{Title: f.Title, Link: f.Link, Icon: f.Icon, Place: f.Place, Language: f.Language, Rated: f.Rated, Hub: f.Hub, Topic: f.Topic, Credit: f.Credit, Repairs: f.Repairs, Skipped: f.Skipped}
}

func sameAbout(a, b About) bool {
	x, _ := json.Marshal(a)
	y, _ := json.Marshal(b)
	return string(x) == string(y)
}

// save writes what came of a fetch, and reports new items.
func (a *Sources) save(ctx context.Context, src Source, got Got, rec *audit.Record) error {
	if err := a.store.SaveFetch(ctx, src.ID, got, rec); err != nil {
		return err
	}
	if got.Stock != nil {
		a.signals.Emit(signal.Change{Object: signal.Object{Kind: signal.Source, ID: src.ID}, Revision: got.Revision})
		a.wake()
	}
	return nil
}

// Refreshed is what came of a fetch that somebody asked for.
type Refreshed struct {
	Source  Source
	Changes item.Changes
	Failed  *feed.Failure // nil if it succeeded
}

// Refresh fetches a source now, also one that has ended, and reports the changes.
func (a *Sources) Refresh(ctx context.Context, s access.Scope, id string) (r Refreshed, err error) {
	src, err := a.change(ctx, s, id)
	if err != nil {
		return r, err
	}
	if src.Address == "" {
		return r, &problem.Error{Kind: problem.Conflict, Code: "source-is-file", What: "This source is an uploaded file, so there is nothing to fetch.", Hint: "Upload the new version of the file in its place."}
	}
	defer a.fetching.lock(id)()
	if src, err = a.Get(ctx, s, id); err != nil {
		return r, err
	}
	out := a.fetch(ctx, src, src.Progress, true)
	if ctx.Err() != nil {
		return r, ctx.Err()
	}
	if out.busy {
		return r, &problem.Error{Kind: problem.TooMany, Code: "source-busy", What: out.failed.What, Hint: out.failed.Hint}
	}
	out.got.Fetch.By = s.Name
	if err := a.save(ctx, src, out.got, nil); err != nil {
		return r, err
	}
	r.Changes, r.Failed = out.changes, out.failed
	r.Source, err = a.Get(ctx, s, id)
	return r, err
}
