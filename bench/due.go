package main

import (
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/jmoiron/sqlx"

	"glasspocket/e2e/service"
	"glasspocket/internal/store"
	"glasspocket/internal/wire"
)

const (
	dueSources = 10_000
	dueHosts   = 25
	dueSpan    = 3 * time.Second
	dueSpans   = 20 // a minute
)

// dueInOneMinute lets ten thousand sources become due in a minute, a tenth of them changed, and asks for
// a pocket at a steady rate. The minute is cut into spans, and before each is one without load of
// the same length: the speed of a machine can change by half within two minutes.
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
	hosts, change, stopFeeds, err := startFeeds()
	if err != nil {
		return err
	}
	defer stopFeeds()
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
	if err == nil {
		err = firstFetchDone(filepath.Join(dir, store.File), one.ID)
	}
	stop(c)
	if err != nil {
		return err
	}
	first := time.Now().Add(20 * time.Second) // after the service has started
	if err := multiplySources(filepath.Join(dir, store.File), one.ID, hosts, first); err != nil {
		return err
	}
	if err := change(); err != nil {
		return err
	}
	if c, err = serve(); err != nil {
		return err
	}
	defer func() { stop(c) }()
	address := "http://" + public + "/s/demo-countdown.js"
	if time.Until(first) < 2*dueSpan {
		return fmt.Errorf("the service took too long to start")
	}
	time.Sleep(time.Until(first.Add(-2 * dueSpan)))
	if _, err := steady(address, dueSpan-time.Second/2); err != nil { // warm
		return err
	}
	before := resident(c.Process.Pid)
	var calm, busy []float64
	for n := range 2 * dueSpans {
		time.Sleep(time.Until(first.Add(time.Duration(n-1) * dueSpan)))
		p99, err := steady(address, dueSpan-time.Second/4)
		if err != nil {
			return err
		}
		if n%2 == 0 {
			calm = append(calm, p99)
		} else {
			busy = append(busy, p99)
		}
	}
	most := resident(c.Process.Pid)
	db, err := sqlx.Open("sqlite", "file:"+filepath.Join(dir, store.File)+"?mode=ro")
	if err != nil {
		return err
	}
	defer db.Close()
	// The last ones may still be in work.
	for range 100 {
		var left int
		if err := db.Get(&left, "SELECT count(*) FROM tasks AS t JOIN bench_due AS d ON d.id = t.key WHERE t.kind = 'fetch' AND t.ended_at IS NULL AND t.due = d.due"); err != nil {
			return err
		}
		if left == 0 {
			break
		}
		time.Sleep(100 * time.Millisecond)
	}
	var inTime int
	if err := db.Get(&inTime, "SELECT count(*) FROM tasks AS t JOIN bench_due AS d ON d.id = t.key JOIN sources AS s ON s.id = d.id WHERE t.kind = 'fetch' AND t.ended_at IS NULL AND s.items = iif(substr(d.id, 11) % ? = 0, 11, 10) AND julianday(CAST(t.about AS TEXT) ->> '$.checkedAt') - julianday(d.due) BETWEEN 0 AND ? / 86400", changedOf, 2*dueSpan.Seconds()); err != nil {
		return err
	}
	fmt.Fprintf(os.Stderr, "bench: p99 %.2f ms without fetches, %.2f ms with them\n", median(calm), median(busy))
	b.report(figure{"sources-fetched-when-due", float64(inTime), dueSources, true, false, ""})
	ratios := make([]float64, len(busy))
	for i := range busy {
		ratios[i] = busy[i] / calm[i]
	}
	b.report(figure{"p99-ratio-while-fetching", median(ratios), 1.25, false, false, "x"})
	b.report(figure{"memory-more-while-fetching", float64(most-before) / (1 << 20), 200, false, false, " MiB"})
	return nil
}

// firstFetchDone waits until the images of a new source have been fetched, which its task does first.
func firstFetchDone(file, id string) error {
	db, err := sqlx.Open("sqlite", "file:"+file+"?mode=ro")
	if err != nil {
		return err
	}
	defer db.Close()
	for range 1000 {
		var done bool
		if err := db.Get(&done, "SELECT EXISTS (SELECT 1 FROM tasks WHERE kind = 'fetch' AND key = ? AND ended_at IS NULL AND lease = '' AND CAST(about AS TEXT) ->> '$.pending' IS NULL)", id); err != nil || done {
			return err
		}
		time.Sleep(10 * time.Millisecond)
	}
	return fmt.Errorf("the first fetch of %s does not end", id)
}

// multiplySources makes ten thousand sources from one, of a stopped service. They are due in the
// spans with load, the first of which begins at a time. bench_due says when.
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
	list, err := json.Marshal(hosts)
	if err != nil {
		return err
	}
	if _, err := tx.Exec("CREATE TABLE bench_due (id TEXT PRIMARY KEY, due TEXT NOT NULL)"); err != nil {
		return err
	}
	const each = dueSources / dueSpans
	seconds := dueSpan.Seconds()
	for _, q := range []struct {
		query string
		args  []any
	}{
		{"INSERT INTO sources (id, customer_id, name, reader, address, options, created_at, created_by, revision, items, stock, about, changed_at) SELECT 'src-bench-' || n, customer_id, 'Bench ' || n, reader, 'http://' || json_extract(?, '$[' || (n % json_array_length(?)) || ']') || '/' || n, options, created_at, created_by, revision, items, stock, about, changed_at FROM sources, numbers WHERE id = ?", []any{list, list, id}},
		{"INSERT INTO source_items (source_id, stock) SELECT 'src-bench-' || n, stock FROM source_items, numbers WHERE source_id = ?", []any{id}},
		{"INSERT INTO bench_due (id, due) SELECT 'src-bench-' || n, strftime('%Y-%m-%d %H:%M:%f+00:00', ?, '+' || ((n / ?) * 2 * ? + (n % ?) * ? / ?) || ' seconds') FROM numbers", []any{first.UTC().Format("2006-01-02 15:04:05.000"), each, seconds, each, seconds, each}},
		{"INSERT INTO tasks (kind, key, customer_id, of, about, created_at, due) SELECT kind, d.id, customer_id, d.id, about, created_at, d.due FROM tasks, bench_due AS d WHERE kind = 'fetch' AND key = ? AND ended_at IS NULL", []any{id}},
	} {
		r, err := tx.Exec(fmt.Sprintf("WITH RECURSIVE numbers(n) AS (SELECT 0 UNION ALL SELECT n + 1 FROM numbers WHERE n < %d) ", dueSources-1)+q.query, q.args...)
		if err != nil {
			return err
		}
		if n, _ := r.RowsAffected(); n != dueSources {
			return fmt.Errorf("%q made %d rows", q.query, n)
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
				took := float64(time.Since(at).Microseconds()) / 1000
				mu.Lock()
				if times = append(times, took); err != nil {
					failed = err
				}
				mu.Unlock()
			}
		})
	}
	began := time.Now()
	for at := began; at.Sub(began) < lasts; at = at.Add(time.Second / perSecond) {
		time.Sleep(time.Until(at))
		ticks <- at
	}
	close(ticks)
	wg.Wait()
	slices.Sort(times)
	return times[len(times)*99/100], failed
}
