package main

import (
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net"
	"net/http"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"time"

	"github.com/jmoiron/sqlx"

	"glasspocket/e2e/service"
	"glasspocket/internal/feed"
	"glasspocket/internal/item"
	"glasspocket/internal/store"
	"glasspocket/internal/wire"
)

const (
	dueSources = 10_000
	dueHosts   = 25
	bigList    = 10_000 // items
)

// sourcesGroup measures what sources cost: reading and filtering a large one, ten thousand that are
// due in one minute, and the way of a change to a visitor.
func sourcesGroup(b *bench) error {
	if err := readAndFilter(b); err != nil {
		return err
	}
	if err := changeToVisitor(b); err != nil {
		return err
	}
	return dueInOneMinute(b)
}

// bigFeed is a JSON Feed of n posts.
func bigFeed(n int) []byte {
	list := make([]map[string]any, n)
	words := strings.Fields("clay glaze kiln wheel tide boat ferry choir song bowl lamp rope")
	for i := range list {
		at := time.Date(2026, 1, 1, 0, i, 0, 0, time.UTC)
		list[i] = map[string]any{"id": fmt.Sprint("post-", i), "url": fmt.Sprint("https://kelp.example/", i), "title": fmt.Sprintf("The %s and the %s, number %d", words[i%12], words[i/12%12], i),
			"content_text": fmt.Sprintf("Ångström %d: a %s on the %s, and nobody saw it before the %s came back.", i, words[i%7], words[i%11], words[i%5]), "date_published": at.Format(time.RFC3339), "tags": []string{words[i%12]}, "language": "en"}
	}
	text, _ := json.Marshal(map[string]any{"version": "https://jsonfeed.org/version/1.1", "title": "Everything", "items": list})
	return text
}

// readAndFilter reads a feed as a fetch does, and applies rules of every kind to its items.
func readAndFilter(b *bench) error {
	body := bigFeed(bigList)
	now := time.Date(2026, 3, 1, 0, 0, 0, 0, time.UTC)
	list := item.Listing{From: []item.From{{Source: "src-a"}}, Most: 50, Rules: item.Rules{Words: item.Terms{Some: []string{"angstrom", "boat"}, None: []string{"lamp on the rope"}}, Tags: item.Terms{None: []string{"choir"}}, Languages: []string{"en"}, Days: 90, WithText: true, NoReplies: true}}
	var times []float64
	for range 9 {
		began := time.Now()
		found, err := feed.Named("jsonfeed").Read(context.Background(), &feed.Document{Address: "https://kelp.example/feed.json", Body: body, Now: now, Zone: "UTC"}, feed.Options{})
		if err != nil {
			return err
		}
		if len(found.Items) != bigList {
			return fmt.Errorf("%d items were read", len(found.Items))
		}
		for i := range found.Items {
			found.Items[i].Source = "src-a"
		}
		chosen := list.Select(found.Items, item.Conditions{Now: now, Zone: time.UTC})
		times = append(times, float64(time.Since(began).Microseconds())/1000)
		if len(chosen.Shown) != 50 || len(chosen.Out)+50 != bigList {
			return fmt.Errorf("%d items are shown, %d dropped", len(chosen.Shown), len(chosen.Out))
		}
	}
	b.report(figure{"read-and-filter-10000-items", median(times), 150, false, false, "ms"})
	return nil
}

// changeToVisitor measures from the end of a fetch with a change until a visitor receives it.
func changeToVisitor(b *bench) error {
	ctx := context.Background()
	c := b.demo.Client()
	list, err := c.Sources(ctx, "saltmarsh-ferry")
	if err != nil {
		return err
	}
	at := slices.IndexFunc(list, func(s wire.Source) bool { return strings.HasPrefix(s.Address, b.demo.Harbour) && s.Reader != "ical" })
	if at < 0 {
		return fmt.Errorf("the ferry has no notices")
	}
	var times []float64
	for range 7 {
		before, err := shownNow(b.demo.Public, "demo-ticker")
		if err != nil {
			return err
		}
		res, err := http.PostForm(b.demo.Harbour+"/control", url.Values{"change": {"add"}})
		if err != nil {
			return err
		}
		res.Body.Close()
		if _, err := c.RefreshSource(ctx, list[at].ID); err != nil {
			return err
		}
		began := time.Now()
		for time.Since(began) < 10*time.Second {
			now, err := shownNow(b.demo.Public, "demo-ticker")
			if err != nil {
				return err
			}
			if now != before {
				break
			}
			time.Sleep(time.Millisecond)
		}
		times = append(times, time.Since(began).Seconds())
	}
	b.report(figure{"changed-source-to-visitor", slices.Max(times), 2, false, false, "s"})
	return nil
}

func shownNow(public, key string) (string, error) {
	res, err := http.Get(public + "/s/" + key + ".json")
	if err != nil {
		return "", err
	}
	defer res.Body.Close()
	var p struct{ Markup string }
	return p.Markup, json.NewDecoder(res.Body).Decode(&p)
}

// dueInOneMinute lets ten thousand sources become due within a minute, all of them changed, and
// asks for a pocket at a steady rate before and meanwhile.
func dueInOneMinute(b *bench) error {
	dir, err := os.MkdirTemp("", "glass-pocket-bench-")
	if err != nil {
		return err
	}
	defer os.RemoveAll(dir)
	d, err := service.StartDemo(dir)
	if err != nil {
		return err
	}
	var fetched atomic.Int64
	var hosts []string
	bodies := [2][]byte{bigFeed(10), bigFeed(11)} // as connected, and as fetched when they are due
	var due atomic.Int64
	for range dueHosts {
		l, err := net.Listen("tcp", "127.0.0.1:0")
		if err != nil {
			return err
		}
		defer l.Close()
		hosts = append(hosts, l.Addr().String())
		go http.Serve(l, http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
			fetched.Add(1)
			w.Header().Set("Content-Type", "application/feed+json")
			w.Write(bodies[due.Load()])
		}))
	}
	d.Stop()
	manage, err := freePort()
	if err != nil {
		return err
	}
	public := strings.TrimPrefix(d.Public, "http://")
	serve := func() (*exec.Cmd, error) {
		c := exec.Command(service.Binary("glasspocketd"), "serve", "-data", dir, "-public-addr", public, "-manage-addr", manage, "-fetch-allow", strings.Join(hosts, ","))
		if err := c.Start(); err != nil {
			return nil, err
		}
		return c, answers("http://" + manage + "/readyz")
	}
	stop := func(c *exec.Cmd) { c.Process.Signal(os.Interrupt); c.Wait() }
	c, err := serve()
	if err != nil {
		return err
	}
	api := d.Client()
	api.Server = "http://" + manage
	one, err := api.ConnectSource(context.Background(), "kelp-and-kiln", wire.NewSource{Name: "Bench", Reader: "jsonfeed", Address: "http://" + hosts[0] + "/0"})
	stop(c)
	if err != nil {
		return err
	}
	const rest = 20 * time.Second // until the first is due
	first := time.Now().Add(rest)
	if err := multiplySources(filepath.Join(dir, store.File), one.ID, hosts, first); err != nil {
		return err
	}
	due.Store(1)
	fetched.Store(0)
	if c, err = serve(); err != nil {
		return err
	}
	defer func() { stop(c) }()
	address := "http://" + public + "/s/demo-countdown.js"
	if _, err := steady(address, 3*time.Second); err != nil { // warm
		return err
	}
	before := resident(c.Process.Pid)
	calm, err := steady(address, time.Until(first)-time.Second)
	if err != nil {
		return err
	}
	if n := fetched.Load(); n > 0 {
		return fmt.Errorf("%d sources were fetched before they were due", n)
	}
	time.Sleep(time.Until(first))
	busy, err := steady(address, time.Minute)
	if err != nil {
		return err
	}
	most := resident(c.Process.Pid)
	db, err := sqlx.Open("sqlite", "file:"+filepath.Join(dir, store.File)+"?mode=ro")
	if err != nil {
		return err
	}
	defer db.Close()
	var stored int
	if err := db.Get(&stored, "SELECT count(*) FROM sources WHERE id LIKE 'src-bench-%' AND items = 11"); err != nil {
		return err
	}
	fmt.Fprintf(os.Stderr, "bench: p99 %.2f ms without fetches, %.2f ms with them\n", calm, busy)
	b.report(figure{"sources-fetched-in-their-minute", float64(stored), dueSources, true, false, ""})
	b.report(figure{"p99-ratio-while-fetching", busy / calm, 1.25, false, false, "x"})
	b.report(figure{"memory-more-while-fetching", float64(most-before) / (1 << 20), 200, false, false, " MiB"})
	return nil
}

// multiplySources makes ten thousand sources from one, of a stopped service, due within 58 seconds
// after a time: the last ones need a moment too.
func multiplySources(file, id string, hosts []string, first time.Time) error {
	db, err := sqlx.Open("sqlite", file+"?_pragma=synchronous(OFF)&_time_format=sqlite")
	if err != nil {
		return err
	}
	defer db.Close()
	db.SetMaxOpenConns(1)
	tx, err := db.Beginx()
	if err != nil {
		return err
	}
	defer tx.Rollback()
	for i := range dueSources {
		name, address := fmt.Sprint("src-bench-", i), fmt.Sprintf("http://%s/%d", hosts[i%len(hosts)], i)
		at := first.Add(time.Duration(i) * 58 * time.Second / dueSources).UTC()
		for _, q := range []struct {
			query string
			args  []any
		}{
			{"INSERT INTO sources (id, customer_id, name, reader, address, options, created_at, created_by, revision, items, stock, about, changed_at) SELECT ?, customer_id, ?, reader, ?, options, created_at, created_by, revision, items, stock, about, changed_at FROM sources WHERE id = ?", []any{name, name, address, id}},
			{"INSERT INTO source_items (source_id, stock) SELECT ?, stock FROM source_items WHERE source_id = ?", []any{name, id}},
			{"INSERT INTO tasks (kind, key, customer_id, of, about, created_at, due) SELECT kind, ?, customer_id, ?, about, created_at, ? FROM tasks WHERE kind = 'fetch' AND key = ? AND ended_at IS NULL", []any{name, name, at, id}},
		} {
			if r, err := tx.Exec(q.query, q.args...); err != nil {
				return err
			} else if n, _ := r.RowsAffected(); n != 1 {
				return fmt.Errorf("%q made %d rows", q.query, n)
			}
		}
	}
	// No other source disturbs the measurement.
	if _, err := tx.Exec("DELETE FROM tasks WHERE kind = 'fetch' AND key NOT LIKE 'src-bench-%'"); err != nil {
		return err
	}
	return tx.Commit()
}

// steady asks for an address at a steady rate, and returns the 99th percentile in ms. The rate is
// the same however long the answers take.
func steady(address string, lasts time.Duration) (float64, error) {
	const perSecond, askers = 400, 16
	client := &http.Client{Transport: &http.Transport{MaxIdleConnsPerHost: askers}}
	defer client.CloseIdleConnections()
	ticks := make(chan time.Time, perSecond)
	var mu sync.Mutex
	var times []float64
	var failed error
	var wg sync.WaitGroup
	for range askers {
		wg.Go(func() {
			for at := range ticks {
				res, err := client.Get(address)
				if err == nil {
					_, err = io.Copy(io.Discard, res.Body)
					res.Body.Close()
				}
				mu.Lock()
				if times = append(times, float64(time.Since(at).Microseconds())/1000); err != nil {
					failed = err
				}
				mu.Unlock()
			}
		})
	}
	began := time.Now()
	for n := 0; time.Since(began) < lasts; n++ {
		at := began.Add(time.Duration(n) * time.Second / perSecond)
		time.Sleep(time.Until(at))
		ticks <- at
	}
	close(ticks)
	wg.Wait()
	slices.Sort(times)
	return times[len(times)*99/100], failed
}
