package main

import (
	"context"
	"fmt"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"syscall"
	"time"

	"github.com/jmoiron/sqlx"

	"glasspocket/e2e/service"
	"glasspocket/internal/store"
)

const (
	many = 1_000_000
	few  = 1_000
	hot  = 10_000
)

// millionGroup holds a store of a million pockets against one of a thousand, both made
// from the demo's own rows: start-up, memory and the slowest answers.
func millionGroup(b *bench) error {
	ctx := context.Background()
	dir, err := os.MkdirTemp("", "glass-pocket-bench-")
	if err != nil {
		return err
	}
	defer os.RemoveAll(dir)
	var disk syscall.Statfs_t
	if err := syscall.Statfs(dir, &disk); err != nil {
		return err
	}
	if free := disk.Bavail * uint64(disk.Bsize); free < 30<<30 {
		return fmt.Errorf("a store of a million pockets needs 30 GB of room in %s, and there are %d", dir, free>>30)
	}
	type subject struct {
		n       int
		data    string
		demo    *service.Demo
		slowest []float64
	}
	subjects := []*subject{{n: few}, {n: many}}
	for _, s := range subjects {
		s.data = filepath.Join(dir, fmt.Sprint(s.n))
		d, err := service.StartDemo(s.data)
		if err != nil {
			return err
		}
		public := strings.TrimPrefix(d.Public, "http://")
		if err := d.Stop(); err != nil {
			return err
		}
		began := time.Now()
		if err := multiply(ctx, filepath.Join(s.data, store.File), s.n); err != nil {
			return err
		}
		fmt.Fprintf(os.Stderr, "bench: %d pockets made in %.0f s\n", s.n, time.Since(began).Seconds())
		if s.n == many {
			// Ready, not merely listening; the program is restarted each time.
			var times []float64
			for range 5 {
				took, err := startUp(s.data, public)
				if err != nil {
					return err
				}
				times = append(times, took)
			}
			b.report(figure{"start-up-million", median(times), 1, false, false, "s"})
		}
		if s.demo, err = service.StartDemo(s.data, "-public-addr", public); err != nil {
			return err
		}
		defer s.demo.Stop()
	}
	million := subjects[1].demo
	for i := range hot {
		res, err := http.Get(fmt.Sprintf("%s/s/bench-%d.js", million.Public, i*(many/hot)))
		if err != nil {
			return err
		}
		res.Body.Close()
		if res.StatusCode != 200 || res.ContentLength >= 0 && res.ContentLength < 1000 {
			return fmt.Errorf("bench-%d is not served: %s", i, res.Status)
		}
	}
	b.report(figure{"memory-million-10000-hot", float64(resident(million.PID())) / (1 << 20), 512, false, false, " MiB"})

	_, bareBase, fiberOnly, err := startBare(dir, million.Public+"/s/demo-countdown.js")
	if err != nil {
		return err
	}
	defer fiberOnly.Process.Kill()
	// Skewed as the web is: the n-th popular key is asked for about 1/n as often.
	rates, toBare := map[int][]float64{}, []float64{}
	for round := range 6 {
		bareRate, _, err := skewed(dir, bareBase, many)
		if err != nil {
			return err
		}
		for _, s := range subjects {
			rate, p99, err := skewed(dir, s.demo.Public, s.n)
			if err != nil {
				return err
			}
			if round > 0 { // the first fills the shelves
				s.slowest, rates[s.n] = append(s.slowest, p99), append(rates[s.n], rate)
				if s.n == many {
					toBare = append(toBare, rate/bareRate)
				}
			}
		}
	}
	fmt.Fprintf(os.Stderr, "bench: p99 %.2f ms of a thousand, %.2f ms of a million; %.0f and %.0f requests/s\n", median(subjects[0].slowest), median(subjects[1].slowest), median(rates[few]), median(rates[many]))
	b.report(figure{"requests-ratio-bare-fiber-million", median(toBare), 0.9, true, false, "x"})
	b.report(figure{"p99-ratio-million-thousand", median(subjects[1].slowest) / median(subjects[0].slowest), 1.25, false, false, "x"})
	return nil
}

// multiply adds n published pockets to a stopped demo's database, each with the bytes of
// demo-countdown's rendering: sizes are real, and nothing is shared in memory.
func multiply(ctx context.Context, file string, n int) error {
	db, err := sqlx.Open("sqlite", file+"?_pragma=journal_mode(WAL)&_pragma=synchronous(OFF)&_pragma=cache_size(-200000)&_time_format=sqlite")
	if err != nil {
		return err
	}
	defer db.Close()
	db.SetMaxOpenConns(1)
	for from := 0; from < n; from += 50_000 {
		tx, err := db.BeginTxx(ctx, nil)
		if err != nil {
			return err
		}
		const numbers = "WITH RECURSIVE n(i) AS (SELECT ? UNION ALL SELECT i + 1 FROM n WHERE i + 1 < ?) "
		for _, query := range []string{
			"INSERT INTO pockets (key, customer_id, widget, starter, content, revision, draft_at, created_at, publication, newest, published_at, published_revision, release_number) " + numbers +
				"SELECT 'bench-' || i, customer_id, widget, starter, content, revision, draft_at, created_at, publication, newest, published_at, published_revision, release_number FROM n, pockets WHERE key = 'demo-countdown'",
			"INSERT INTO publications (key, number, customer_id, release_id, release_number, content, heights, revision, at, by, client) " + numbers +
				"SELECT 'bench-' || i, number, customer_id, release_id, release_number, content, heights, revision, at, by, client FROM n, publications WHERE key = 'demo-countdown'",
			"INSERT INTO renderings (key, publication, customer_id, widget, lot, follow, inputs, sums, script, json, page) " + numbers +
				"SELECT 'bench-' || i, publication, customer_id, widget, lot, follow, inputs, sums, script, json, page FROM n, renderings WHERE key = 'demo-countdown'",
		} {
			// The numbers precede the SELECT of an INSERT.
			if _, err := tx.ExecContext(ctx, query, from, min(from+50_000, n)); err != nil {
				tx.Rollback()
				return err
			}
		}
		if err := tx.Commit(); err != nil {
			return err
		}
	}
	_, err = db.ExecContext(ctx, "PRAGMA wal_checkpoint(TRUNCATE)")
	// Pending writes to the disk would slow down the next measurement.
	syscall.Sync()
	return err
}

// startUp is how long a start takes until /readyz says so, in seconds.
func startUp(data, public string) (float64, error) {
	manage, err := freePort()
	if err != nil {
		return 0, err
	}
	c := exec.Command(service.Binary("glasspocketd"), "serve", "-data", data, "-public-addr", public, "-manage-addr", manage)
	began := time.Now()
	if err := c.Start(); err != nil {
		return 0, err
	}
	defer func() { c.Process.Signal(os.Interrupt); c.Wait() }()
	for time.Since(began) < time.Minute {
		res, err := http.Get("http://" + manage + "/readyz")
		if err == nil {
			res.Body.Close()
			if res.StatusCode == 200 {
				return time.Since(began).Seconds(), nil
			}
		}
		time.Sleep(time.Millisecond)
	}
	return 0, fmt.Errorf("not ready after a minute")
}

// resident is the memory that a process holds, in bytes.
func resident(pid int) int {
	text, _ := os.ReadFile(fmt.Sprintf("/proc/%d/statm", pid))
	var size, pages int
	fmt.Sscan(string(text), &size, &pages)
	return pages * os.Getpagesize()
}

var p99Line = regexp.MustCompile(`99%\s+([\d.]+)(us|ms|s)`)

// skewed asks for keys whose popularity falls as 1/rank, for a few seconds at a moderate
// number of connections, and gives requests a second and the 99th percentile in ms.
func skewed(dir, public string, n int) (rate, p99 float64, err error) {
	script := filepath.Join(dir, "skewed.lua")
	lua := fmt.Sprintf(`math.randomseed(os.time()); local top = math.log(%d)
request = function() return wrk.format("GET", "/s/bench-" .. (math.floor(math.exp(math.random() * top)) - 1) .. ".js") end`, n)
	if err := os.WriteFile(script, []byte(lua), 0o600); err != nil {
		return 0, 0, err
	}
	out, err := exec.Command("wrk", "-t1", "-c8", "-d3s", "--latency", "-H", "Accept-Encoding: br", "-s", script, public).CombinedOutput()
	if err != nil {
		return 0, 0, fmt.Errorf("wrk: %w: %s", err, out)
	}
	r, m := rateLine.FindSubmatch(out), p99Line.FindSubmatch(out)
	if r == nil || m == nil || strings.Contains(string(out), "Non-2xx") {
		return 0, 0, fmt.Errorf("wrk: %s", out)
	}
	rate, _ = strconv.ParseFloat(string(r[1]), 64)
	p99, err = strconv.ParseFloat(string(m[1]), 64)
	return rate, p99 * map[string]float64{"us": 0.001, "ms": 1, "s": 1000}[string(m[2])], err
}
