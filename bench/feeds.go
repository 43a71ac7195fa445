package main

import (
	"bufio"
	"bytes"
	"encoding/json"
	"fmt"
	"net"
	"net/http"
	"os"
	"os/exec"
	"strconv"
	"strings"
	"sync/atomic"
	"time"
)

// changedOf: of so many sources, one has changed when it is due. The others answer that they have not.
const changedOf = 10

// feeds is the program that serves the feeds of dueInOneMinute on many ports. It prints their hosts,
// and changes feeds when it reads a line. A process of its own, so that it shares no scheduler with
// what measures.
func feeds() {
	var due atomic.Bool
	bodies := [2][]byte{bigFeed(10), bigFeed(11)} // as connected, and changed
	answer := http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		n, _ := strconv.Atoi(strings.TrimPrefix(r.URL.Path, "/"))
		of := 0
		if due.Load() && n%changedOf == 0 {
			of = 1
		}
		w.Header().Set("Content-Type", "application/feed+json")
		w.Header().Set("ETag", fmt.Sprintf(`"%d"`, of))
		http.ServeContent(w, r, "", time.Time{}, bytes.NewReader(bodies[of]))
	})
	var hosts []string
	for range dueHosts {
		l, err := net.Listen("tcp", "127.0.0.1:0")
		if err != nil {
			fmt.Fprintln(os.Stderr, "bench:", err)
			os.Exit(1)
		}
		hosts = append(hosts, l.Addr().String())
		go http.Serve(l, answer)
	}
	json.NewEncoder(os.Stdout).Encode(hosts)
	for lines := bufio.NewScanner(os.Stdin); lines.Scan(); { // until the parent ends
		due.Store(true)
	}
}

// startFeeds starts that program. Call change to change feeds, and stop at the end.
func startFeeds() (hosts []string, change func() error, stop func(), err error) {
	own, err := os.Executable()
	if err != nil {
		return nil, nil, nil, err
	}
	// In the world, feeds are on other machines. Here they get what the others leave.
	c := exec.Command("nice", "-n", "19", own, "feeds")
	c.Stderr = os.Stderr
	in, err := c.StdinPipe()
	if err != nil {
		return nil, nil, nil, err
	}
	out, err := c.StdoutPipe()
	if err != nil {
		return nil, nil, nil, err
	}
	if err := c.Start(); err != nil {
		return nil, nil, nil, err
	}
	stop = func() { in.Close(); c.Wait() }
	if err := json.NewDecoder(out).Decode(&hosts); err != nil {
		stop()
		return nil, nil, nil, err
	}
	return hosts, func() error { _, err := fmt.Fprintln(in, "due"); return err }, stop, nil
}
