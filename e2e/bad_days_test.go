package e2e

import (
	"bufio"
	"encoding/json"
	"fmt"
	"io"
	"net"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"sync"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/e2e/service"
	"glasspocket/internal/client"
	"glasspocket/internal/wire"
)

// disk is a small file system of its own, so that it can be full or read-only.
func disk(t *testing.T, megabytes int) string {
	dir := t.TempDir()
	if err := syscall.Mount("tmpfs", dir, "tmpfs", 0, fmt.Sprintf("size=%dm", megabytes)); err != nil {
		t.Skipf("this user cannot make a file system of its own: %v", err)
	}
	t.Cleanup(func() { syscall.Unmount(dir, syscall.MNT_DETACH) })
	return dir
}

func ready(t *testing.T, d *service.Demo) (int, string) {
	res, body := send(t, "GET", d.Manage+"/readyz", "")
	return res.StatusCode, body
}

// megabytes is the resident memory of a process.
func megabytes(t *testing.T, pid int) int {
	t.Helper()
	text, err := os.ReadFile(fmt.Sprintf("/proc/%d/statm", pid))
	require.NoError(t, err)
	var size, pages int
	fmt.Sscan(string(text), &size, &pages)
	return pages * os.Getpagesize() >> 20
}

// visitors are served what they had, whatever becomes of the disk.
func visitors(t *testing.T, d *service.Demo, about string) {
	t.Helper()
	for _, path := range []string{"/s/demo-countdown.js", "/s/demo-countdown.json", "/p/demo-countdown"} {
		res, body := send(t, "GET", d.Public+path, "")
		assert.Equal(t, 200, res.StatusCode, "%s: %s", about, path)
		assert.Contains(t, body, "The kiln opens again")
	}
}

func change(t *testing.T, c *client.Client, heading string) error {
	draft, err := c.Draft(t.Context(), "demo-countdown")
	require.NoError(t, err)
	_, err = c.ChangeDraft(t.Context(), "demo-countdown", draft.Revision, raw(map[string]any{"heading": heading}))
	return err
}

// A full disk: each write is refused in words, what was acknowledged stays, visitors
// notice nothing, and with room all goes on. One that can only be read is refused at start.
func TestFullAndReadOnlyDisk(t *testing.T) {
	dir := disk(t, 24)
	d, err := service.StartDemo(filepath.Join(dir, "data"))
	require.NoError(t, err)
	defer d.Kill()
	c := d.Client()
	visitors(t, d, "at first")
	status, _ := ready(t, d)
	require.Equal(t, 200, status)

	full := filepath.Join(dir, "full")
	filler, err := os.Create(full)
	require.NoError(t, err)
	for size := 1 << 20; size >= 512; size /= 2 {
		for err = nil; err == nil; {
			_, err = filler.Write(make([]byte, size))
		}
	}
	filler.Close()
	var refused error
	for i := 0; i < 500 && refused == nil; i++ { // what the log file has still room for goes first
		refused = change(t, c, strings.Repeat("x", 70)+fmt.Sprint(i))
	}
	p := problem(t, refused)
	assert.Equal(t, [2]any{503, "disk-full"}, [2]any{p.Status, p.Code})
	status, body := ready(t, d)
	assert.Equal(t, 503, status)
	assert.Contains(t, body, "disk is full")
	visitors(t, d, "on a full disk")
	acknowledged, err := c.Draft(t.Context(), "demo-countdown")
	require.NoError(t, err)

	require.NoError(t, os.Remove(full))
	status, body = ready(t, d)
	assert.Equal(t, 200, status, "ready as soon as there is room, before anybody writes: %s", body)
	require.NoError(t, change(t, c, "Room again"))
	after, err := c.Draft(t.Context(), "demo-countdown")
	require.NoError(t, err)
	assert.Equal(t, acknowledged.Revision+1, after.Revision, "nothing acknowledged is lost, nothing refused is there")

	require.NoError(t, d.Stop())

	require.NoError(t, syscall.Mount("", dir, "", syscall.MS_REMOUNT|syscall.MS_RDONLY, ""))
	code, out := glasspocketd(t, "serve", "-data", filepath.Join(dir, "data"), "-public-addr", "127.0.0.1:0", "-manage-addr", "127.0.0.1:0")
	assert.Equal(t, 1, code)
	assert.Contains(t, out, "is not writable (read-only file system). Name another with -data, or make it writable")
}

// A database that is damaged under the running service: said in words, visitors are still
// served from memory, and a backup brings everything back.
func TestDamagedDatabase(t *testing.T) {
	data := filepath.Join(t.TempDir(), "data")
	require.NoError(t, os.Mkdir(data, 0o755))
	d, err := service.StartDemo(data)
	require.NoError(t, err)
	visitors(t, d, "at first")
	backup := filepath.Join(t.TempDir(), "backup.db")
	code, out := glasspocketd(t, "backup", "-data", data, backup)
	require.Equal(t, 0, code, out)
	files, err := filepath.Glob(filepath.Join(data, "*"))
	require.NoError(t, err)
	require.NotEmpty(t, files)
	for _, file := range append(files, backup) {
		info, err := os.Stat(file)
		require.NoError(t, err)
		assert.Zero(t, info.Mode().Perm()&0o077, "%s can be read by others: %s", file, info.Mode())
	}
	assert.Contains(t, out, "Backed up 19 pockets")
	code, out = glasspocketd(t, "restore", "-data", data, backup)
	assert.Equal(t, 1, code)
	assert.Contains(t, out, "another glasspocketd", "not under a running service")

	file := filepath.Join(data, "glasspocket.db")
	text, err := os.ReadFile(file)
	require.NoError(t, err)
	f, err := os.OpenFile(file, os.O_WRONLY, 0)
	require.NoError(t, err)
	_, err = f.WriteAt(make([]byte, len(text)), 0)
	require.NoError(t, err)
	require.NoError(t, f.Close())
	require.NoError(t, os.Truncate(file+"-wal", 0))
	visitors(t, d, "on a damaged database")
	d.Kill()
	for _, ending := range []string{"-wal", "-shm"} {
		os.Remove(file + ending)
	}
	code, out = glasspocketd(t, "serve", "-data", data, "-public-addr", strings.TrimPrefix(d.Public, "http://"), "-manage-addr", "127.0.0.1:0")
	assert.Equal(t, 1, code)
	assert.Contains(t, out, "restore a backup: glasspocketd restore -data DIR FILE")
	code, out = glasspocketd(t, "restore", "-data", data, backup)
	require.Equal(t, 0, code, out)
	assert.Contains(t, out, "The old database is kept as "+file+".replaced-")
	d, err = service.StartDemo(data, "-public-addr", strings.TrimPrefix(d.Public, "http://"))
	require.NoError(t, err)
	visitors(t, d, "restored")
	require.NoError(t, d.Stop())
}

// Every acknowledged publish has waited for the disk; publishes that wait share the wait.
func TestSyncsAreCounted(t *testing.T) {
	strace, err := exec.LookPath("strace")
	require.NoError(t, err, "run e2e/tools.sh")
	trace := filepath.Join(t.TempDir(), "trace")
	d, err := service.StartDemoUnder([]string{strace, "-f", "-qq", "-e", "trace=fsync,fdatasync", "-o", trace}, "")
	require.NoError(t, err)
	defer d.Kill()
	c := d.Client()
	syncs := func() int {
		text, err := os.ReadFile(trace)
		require.NoError(t, err)
		return len(regexp.MustCompile(`(fsync|fdatasync)\(.*= 0|<\.\.\. (fsync|fdatasync) resumed>.*= 0`).FindAll(text, -1))
	}
	for i := range 20 {
		_, err := c.MakePocket(t.Context(), wire.NewPocket{Key: fmt.Sprintf("sync-%d", i), Customer: "kelp-and-kiln", Widget: "countdown"})
		require.NoError(t, err)
		before := syncs()
		_, err = c.ChangeDraft(t.Context(), fmt.Sprintf("sync-%d", i), 1, raw(map[string]any{"target": "2099-01-01T00:00[UTC]"}))
		require.NoError(t, err)
		saved := syncs()
		require.Greater(t, saved, before, "a saved draft")
		_, err = c.Publish(t.Context(), fmt.Sprintf("sync-%d", i), wire.Publish{})
		require.NoError(t, err)
		require.Greater(t, syncs(), saved, "a publish")
	}
	before := syncs()
	var wg sync.WaitGroup
	for i := range 200 {
		wg.Go(func() {
			_, err := c.MakeToken(t.Context(), wire.NewToken{Name: fmt.Sprint(i), Days: 1})
			assert.NoError(t, err)
		})
	}
	wg.Wait()
	together := syncs() - before
	assert.Greater(t, together, 0)
	assert.Less(t, together, 180, "two hundred at once do not wait two hundred times")
	t.Logf("200 writes at once took %d syncs", together)
}

// A flood of made-up keys neither fills the memory nor keeps a known key from its visitors.
func TestFloodOfUnknownKeys(t *testing.T) {
	t.Parallel()
	d, err := service.StartDemo("")
	require.NoError(t, err)
	defer d.Kill()
	resident := func() int { return megabytes(t, d.PID()) }
	before := resident()
	var wg sync.WaitGroup
	for w := range 16 {
		wg.Go(func() {
			conn, err := net.Dial("tcp", strings.TrimPrefix(d.Public, "http://"))
			if !assert.NoError(t, err) {
				return
			}
			defer conn.Close()
			answers := bufio.NewReader(conn)
			for i := 0; i < 100_000/16; i += 50 { // fifty at a time, without waiting for the answers
				var ask strings.Builder
				for n := range 50 {
					fmt.Fprintf(&ask, "GET /s/made-up-%d-%d.json HTTP/1.1\r\nHost: pockets.example\r\n\r\n", w, i+n)
				}
				if _, err := io.WriteString(conn, ask.String()); !assert.NoError(t, err) {
					return
				}
				for range 50 {
					res, err := http.ReadResponse(answers, nil)
					if !assert.NoError(t, err) || res.StatusCode != 404 && !assert.Equal(t, 404, res.StatusCode) {
						return
					}
					io.Copy(io.Discard, res.Body)
				}
			}
		})
	}
	for range 200 {
		visitors(t, d, "in the flood")
	}
	wg.Wait()
	assert.Less(t, resident()-before, 120, "megabytes")
	_, text := send(t, "GET", d.Manage+"/metrics", "", "Authorization", "Bearer "+d.Token)
	assert.NotContains(t, text, "made-up")
	assert.True(t, regexp.MustCompile(`(?m)^glasspocket_requests_total\{route="/s/KEY.json",side="public",status="4xx"\} (1e\+05|100000)$`).MatchString(text))
}

// Clients that send a byte now and then, half a request, or nothing, keep nobody waiting,
// and are let go.
func TestSlowClients(t *testing.T) {
	t.Parallel()
	d, err := service.StartDemo("")
	require.NoError(t, err)
	defer d.Kill()
	at := strings.TrimPrefix(d.Public, "http://")
	var slow []net.Conn
	for i := range 300 {
		conn, err := net.Dial("tcp", at)
		require.NoError(t, err)
		defer conn.Close()
		slow = append(slow, conn)
		switch i % 3 {
		case 0:
			fmt.Fprint(conn, "GET /s/demo-countdown.js HT")
		case 1:
			fmt.Fprintf(conn, "GET /s/demo-countdown.js HTTP/1.1\r\nHost: %s\r\nX-Long: ", at)
		}
	}
	for range 50 {
		visitors(t, d, "beside slow clients")
	}
	// A header that never ends is refused, not gathered.
	conn, err := net.Dial("tcp", at)
	require.NoError(t, err)
	defer conn.Close()
	fmt.Fprintf(conn, "GET / HTTP/1.1\r\nHost: %s\r\nX-Long: %s\r\n\r\n", at, strings.Repeat("x", 64<<10))
	res, err := http.ReadResponse(bufio.NewReader(conn), nil)
	require.NoError(t, err)
	assert.Equal(t, 431, res.StatusCode)
	// The half requests are ended by the service, within its time for reading one.
	slow[0].SetReadDeadline(time.Now().Add(40 * time.Second))
	_, err = io.ReadAll(slow[0])
	assert.NoError(t, err, "closed, not left open")
}

// More connections than are allowed: one more is told so, and those that are there go on.
func TestTooManyConnections(t *testing.T) {
	public, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	at := public.Addr().String()
	public.Close()
	serve := exec.Command(service.Binary("glasspocketd"), "serve", "-data", t.TempDir(), "-public-addr", at, "-manage-addr", "127.0.0.1:0", "-connections", "20")
	require.NoError(t, serve.Start())
	defer func() { serve.Process.Signal(syscall.SIGTERM); serve.Wait() }()
	ask := func(conn net.Conn) int {
		conn.SetDeadline(time.Now().Add(10 * time.Second))
		fmt.Fprintf(conn, "GET /t HTTP/1.1\r\nHost: %s\r\n\r\n", at)
		res, err := http.ReadResponse(bufio.NewReader(conn), nil)
		if err != nil {
			return 0
		}
		io.Copy(io.Discard, res.Body)
		return res.StatusCode
	}
	var open []net.Conn
	require.Eventually(t, func() bool {
		conn, err := net.Dial("tcp", at)
		if err == nil {
			open = append(open, conn)
		}
		return err == nil
	}, 10*time.Second, 10*time.Millisecond)
	for len(open) < 20 {
		conn, err := net.Dial("tcp", at)
		require.NoError(t, err)
		open = append(open, conn)
	}
	for _, conn := range open {
		defer conn.Close()
		require.Equal(t, 200, ask(conn))
	}
	more, err := net.Dial("tcp", at)
	require.NoError(t, err)
	defer more.Close()
	assert.Equal(t, 503, ask(more))
	assert.Equal(t, 200, ask(open[7]), "those that are there go on")
}

// One network can hold only so many connections, unless it is a trusted proxy's.
func TestConnectionsOfOneNetwork(t *testing.T) {
	t.Parallel()
	for _, trusted := range []bool{false, true} {
		args := []string{"serve", "-data", t.TempDir(), "-public-addr", "127.0.0.1:0", "-manage-addr", "127.0.0.1:0", "-connections-per-network", "5"}
		if trusted {
			args = append(args, "-trusted-proxies", "127.0.0.0/8")
		}
		serve := exec.Command(service.Binary("glasspocketd"), args...)
		pipe, err := serve.StdoutPipe()
		require.NoError(t, err)
		require.NoError(t, serve.Start())
		defer func() { serve.Process.Signal(syscall.SIGTERM); serve.Wait() }()
		told := ""
		for lines := bufio.NewScanner(pipe); !strings.Contains(told, "not shown again") && lines.Scan(); {
			told += lines.Text() + "\n"
		}
		for _, label := range []string{"Visitors", "Console"} {
			at := regexp.MustCompile(label + `\s+http://(\S+)`).FindStringSubmatch(told)[1]
			ask := func() (net.Conn, int) {
				conn, err := net.Dial("tcp", at)
				require.NoError(t, err)
				t.Cleanup(func() { conn.Close() })
				conn.SetDeadline(time.Now().Add(10 * time.Second))
				fmt.Fprintf(conn, "GET /healthz HTTP/1.1\r\nHost: %s\r\n\r\n", at)
				res, err := http.ReadResponse(bufio.NewReader(conn), nil)
				if err != nil { // reset: it was closed before it was read
					return conn, 503
				}
				return conn, res.StatusCode
			}
			var first net.Conn
			for i := range 5 {
				conn, status := ask()
				require.Equal(t, 200, status, "%s %d", label, i)
				first = conn
			}
			_, status := ask()
			if trusted {
				assert.Equal(t, 200, status, label)
				continue
			}
			assert.Equal(t, 503, status, label)
			first.Close()
			require.Eventually(t, func() bool { _, status := ask(); return status == 200 }, 10*time.Second, 5*time.Millisecond, "one less: %s", label)
		}
	}
}

// The service says what it is at, and stops when it is told to, ending what is under way.
func TestOperations(t *testing.T) {
	_, text := send(t, "GET", demo.Manage+"/metrics", "", "Authorization", "Bearer "+demo.Token)
	for _, has := range []string{"glasspocket_requests_total{", `glasspocket_request_seconds_bucket{route="/s/KEY.js",side="public",le="`, "glasspocket_shelf_hits_total", "glasspocket_shelf_bytes", "glasspocket_writer_waiting", "glasspocket_writer_commits_total", "glasspocket_store_healthy 1", `glasspocket_build_info{version="devel`, "go_goroutines", "process_resident_memory_bytes"} {
		assert.Contains(t, text, has)
	}
	for _, never := range []string{"demo-countdown", "kelp", "127.0.0"} {
		assert.NotContains(t, text, never, "no pocket, no customer, no address")
	}
	res, body := send(t, "GET", demo.Manage+"/metrics", "")
	assert.Equal(t, 401, res.StatusCode, "only with a token: %s", body)

	log := filepath.Join(t.TempDir(), "log")
	out, err := os.Create(log)
	require.NoError(t, err)
	defer out.Close()
	serve := exec.Command(service.Binary("glasspocketd"), "serve", "-data", t.TempDir(), "-public-addr", "127.0.0.1:0", "-manage-addr", "127.0.0.1:0", "-log", "json", "-debug", "-drain", "300ms")
	serve.Stderr = out
	pipe, err := serve.StdoutPipe()
	require.NoError(t, err)
	require.NoError(t, serve.Start())
	defer serve.Process.Kill()
	lines := bufio.NewScanner(pipe)
	told := ""
	for lines.Scan() && !strings.Contains(told, "not shown again") {
		told += lines.Text() + "\n"
		if strings.Contains(told, "not shown again") {
			break
		}
	}
	manage := regexp.MustCompile(`Console\s+(\S+)`).FindStringSubmatch(told)[1]
	password := regexp.MustCompile(`password (\S+)`).FindStringSubmatch(told)[1]
	first := &client.Client{Server: manage}
	_, err = first.SignIn(t.Context(), "operator", "admin", wire.NewToken{Name: "x", Days: 1})
	assert.Equal(t, "wrong-sign-in", problem(t, err).Code, "there is no default password")
	_, err = first.SignIn(t.Context(), "operator", password, wire.NewToken{Name: "x", Days: 1})
	require.NoError(t, err)
	require.NoError(t, serve.Process.Signal(syscall.SIGTERM))
	require.Eventually(t, func() bool {
		res, err := http.Get(manage + "/readyz")
		if err != nil {
			return false
		}
		defer res.Body.Close()
		text, _ := io.ReadAll(res.Body)
		return res.StatusCode == 503 && strings.Contains(string(text), "stopping")
	}, 10*time.Second, 5*time.Millisecond, "unready before it stops")
	require.NoError(t, serve.Wait(), "a stop that was asked for is no error")
	entries, err := os.ReadFile(log)
	require.NoError(t, err)
	warned := false
	for line := range strings.Lines(string(entries)) {
		var e map[string]any
		require.NoError(t, json.Unmarshal([]byte(line), &e), line)
		if e["msg"] == "request" && e["status"] == 401.0 {
			warned = e["level"] == "WARN" && e["from"] == "127.0.0.0/24" && e["request"] != ""
		}
		assert.NotContains(t, line, password)
	}
	assert.True(t, warned, "a failed sign-in is seen, with a request's id and a truncated address")
}

// Console and visitors do not share a site unless somebody says so knowingly.
func TestSitesApart(t *testing.T) {
	addrs := []string{"serve", "-public-addr", "127.0.0.1:0", "-manage-addr", "127.0.0.1:0"}
	code, out := glasspocketd(t, append(addrs, "-data", t.TempDir(), "-public-url", "https://pockets.lantern.example", "-manage-url", "https://console.lantern.example")...)
	assert.Equal(t, 1, code)
	assert.Contains(t, out, "would share the site lantern.example")
	assert.Contains(t, out, "-same-site")
	code, out = glasspocketd(t, append(addrs, "-data", t.TempDir(), "-trusted-proxies", "10.0.0.0/8, somewhere")...)
	assert.Equal(t, 1, code)
	assert.Contains(t, out, `"somewhere" is not a network`)
	code, out = glasspocketd(t, append(addrs, "-data", t.TempDir(), "-log", "yaml")...)
	assert.Equal(t, 1, code)
	assert.Contains(t, out, "Use text or json")
}
