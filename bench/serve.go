package main

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"net"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"
)

// answer is what the bare handler and nginx send: the very bytes and headers of ours.
type answer struct {
	Body    []byte
	Headers map[string]string
}

// bare is the yardstick: a Fiber app that knows one answer.
func bare(args []string) {
	text, err := os.ReadFile(args[0])
	var a answer
	if err == nil {
		err = json.Unmarshal(text, &a)
	}
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
	f := fiber.New()
	f.Get("/s/:file", func(c fiber.Ctx) error {
		for k, v := range a.Headers {
			c.Response().Header.Set(k, v)
		}
		c.Response().SetBodyRaw(a.Body)
		return nil
	})
	f.Listen(args[1], fiber.ListenConfig{DisableStartupMessage: true})
}

func freePort() (string, error) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return "", err
	}
	defer l.Close()
	return l.Addr().String(), nil
}

// answers waits until something serves at address.
func answers(address string) error {
	for range 500 {
		if res, err := http.Get(address); err == nil {
			res.Body.Close()
			return nil
		}
		time.Sleep(10 * time.Millisecond)
	}
	return errors.New("nothing answers at " + address)
}

var rateLine = regexp.MustCompile(`Requests/sec:\s+([\d.]+)`)

func wrk(address string) (float64, error) {
	out, err := exec.Command("wrk", "-t1", "-c32", "-d2s", "-H", "Accept-Encoding: br", address).CombinedOutput()
	if err != nil {
		return 0, fmt.Errorf("wrk: %w: %s", err, out)
	}
	m := rateLine.FindSubmatch(out)
	if m == nil || bytes.Contains(out, []byte("Non-2xx")) {
		return 0, fmt.Errorf("wrk: %s", out)
	}
	return strconv.ParseFloat(string(m[1]), 64)
}

// serveGroup compares requests a second, and processor time a request, of one hot key in
// alternating runs; millionGroup draws its keys from a million.
func serveGroup(b *bench) error {
	const path, rounds = "/s/demo-countdown.js", 7
	dir, err := os.MkdirTemp("", "glass-pocket-bench-")
	if err != nil {
		return err
	}
	defer os.RemoveAll(dir)
	a, bareBase, fiberOnly, err := startBare(dir, b.demo.Public+path)
	if err != nil {
		return err
	}
	defer fiberOnly.Process.Kill()
	nginxAddr, stop, err := nginx(dir, a)
	if err != nil {
		return err
	}
	defer stop()
	targets := []string{b.demo.Public + path, bareBase + path, "http://" + nginxAddr + path}
	for _, t := range targets {
		if err := answers(t); err != nil {
			return err
		}
	}
	pids := []int{b.demo.PID(), fiberOnly.Process.Pid}
	var toBare, toNginx, cpu []float64
	for range rounds {
		var got, spent [3]float64
		for i, t := range targets {
			before := 0.0
			if i < len(pids) {
				before = processor(pids[i])
			}
			if got[i], err = wrk(t); err != nil {
				return err
			}
			if i < len(pids) {
				spent[i] = (processor(pids[i]) - before) / got[i]
			}
		}
		toBare, toNginx, cpu = append(toBare, got[0]/got[1]), append(toNginx, got[0]/got[2]), append(cpu, spent[0]/spent[1])
	}
	b.report(figure{"requests-ratio-bare-fiber", median(toBare), 0.9, true, false, "x"})
	b.report(figure{"requests-ratio-nginx-file", median(toNginx), 1.0, true, false, "x"})
	b.report(figure{"processor-a-request-ratio-bare-fiber", median(cpu), 1.2, false, false, "x"})
	return nil
}

// answerOf is what an address answers, for a yardstick to send.
func answerOf(address string) (a answer, err error) {
	body, headers, err := fetch(address, "br")
	a = answer{Body: body, Headers: map[string]string{}}
	for k, v := range headers {
		if k != "Date" && k != "Content-Length" {
			a.Headers[k] = v[0]
		}
	}
	return a, err
}

// startBare starts the bare handler as a process of its own, which sends what address
// answers, and waits until it does. base is where it listens.
func startBare(dir, address string) (a answer, base string, c *exec.Cmd, err error) {
	if a, err = answerOf(address); err != nil {
		return a, "", nil, err
	}
	text, _ := json.Marshal(a)
	file := filepath.Join(dir, "answer.json")
	if err := os.WriteFile(file, text, 0o600); err != nil {
		return a, "", nil, err
	}
	self, err := os.Executable()
	if err != nil {
		return a, "", nil, err
	}
	addr, err := freePort()
	if err != nil {
		return a, "", nil, err
	}
	c, base = exec.Command(self, "bare", file, addr), "http://"+addr
	if err := c.Start(); err != nil {
		return a, "", nil, err
	}
	return a, base, c, answers(base + "/s/x.js")
}

// processor is the processor time that a process has spent, in clock ticks.
func processor(pid int) float64 {
	text, _ := os.ReadFile(fmt.Sprintf("/proc/%d/stat", pid))
	fields := strings.Fields(string(text[bytes.LastIndexByte(text, ')')+1:]))
	user, _ := strconv.ParseFloat(fields[11], 64)
	system, _ := strconv.ParseFloat(fields[12], 64)
	return user + system
}

func nginx(dir string, a answer) (string, func(), error) {
	program, err := exec.LookPath("nginx")
	if err != nil {
		program = "/usr/sbin/nginx"
	}
	addr, err := freePort()
	if err != nil {
		return "", nil, err
	}
	var headers strings.Builder
	for k, v := range a.Headers {
		if k != "Content-Type" && k != "Etag" {
			fmt.Fprintf(&headers, "add_header %s %q;", k, v)
		}
	}
	conf := fmt.Sprintf(`worker_processes 2; daemon off; pid %[1]s/pid; error_log stderr crit; user root;
events { worker_connections 256; }
http { access_log off; sendfile on; keepalive_requests 10000000; client_body_temp_path %[1]s; proxy_temp_path %[1]s; fastcgi_temp_path %[1]s; uwsgi_temp_path %[1]s; scgi_temp_path %[1]s;
open_file_cache max=10; server { listen %[2]s; root %[1]s/www; location / { default_type %[3]q; types {} %[4]s } } }`, dir, addr, a.Headers["Content-Type"], headers.String())
	if err := os.MkdirAll(filepath.Join(dir, "www", "s"), 0o755); err != nil {
		return "", nil, err
	}
	os.Chmod(dir, 0o755)
	if err := os.WriteFile(filepath.Join(dir, "www", "s", "demo-countdown.js"), a.Body, 0o644); err != nil {
		return "", nil, err
	}
	file := filepath.Join(dir, "nginx.conf")
	if err := os.WriteFile(file, []byte(conf), 0o644); err != nil {
		return "", nil, err
	}
	c := exec.Command(program, "-c", file)
	c.Stderr = os.Stderr
	if err := c.Start(); err != nil {
		return "", nil, err
	}
	return addr, func() { c.Process.Signal(os.Interrupt); c.Wait() }, nil
}
