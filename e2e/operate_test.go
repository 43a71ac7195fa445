package e2e

import (
	"context"
	"fmt"
	"net"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/e2e/service"
	"glasspocket/internal/wire"
)

func glasspocketd(t *testing.T, args ...string) (int, string) {
	t.Helper()
	ctx, cancel := context.WithTimeout(t.Context(), 20*time.Second)
	defer cancel()
	c := exec.CommandContext(ctx, service.Binary("glasspocketd"), args...)
	out, _ := c.CombinedOutput()
	return c.ProcessState.ExitCode(), string(out)
}

// Each way in which a start fails says what is wrong and what to do.
func TestStartRefusals(t *testing.T) {
	busy, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	defer busy.Close()
	free := []string{"-public-addr", "127.0.0.1:0", "-manage-addr", "127.0.0.1:0"}
	serve := func(more ...string) []string { return append(append([]string{"serve"}, free...), more...) }
	file := filepath.Join(t.TempDir(), "a-file")
	require.NoError(t, os.WriteFile(file, nil, 0o600))
	fixed := t.TempDir()
	for _, c := range []struct {
		name string
		args []string
		has  string
	}{
		{"no data folder", serve(), "Name one with -data DIR"},
		{"port in use", serve("-data", t.TempDir(), "-public-addr", busy.Addr().String()), "another program uses the address " + busy.Addr().String() + ". Stop it, or choose another address with -public-addr"},
		{"data folder is a file", serve("-data", file), "Name another with -data"},
		{"data folder below a file", serve("-data", filepath.Join(file, "x")), "is not writable"},
		{"second service on the same folder", serve("-data", demo.Data), fmt.Sprintf("another glasspocketd (process %d) uses the data folder", demo.PID())},
		{"odd public address", serve("-data", fixed, "-public-url", "pockets.example"), "is not an address such as https://"},
		{"unknown command", []string{"sevre"}, `unknown command "sevre"`},
		{"odd time", []string{"demo", "-frozen-time", "noon"}, "is not a time such as"},
	} {
		t.Run(c.name, func(t *testing.T) {
			code, out := glasspocketd(t, c.args...)
			assert.Equal(t, 1, code)
			assert.Contains(t, out, c.has)
			assert.NotContains(t, out, "goroutine")
		})
	}
}

// Killed again and again, each time at another step of many publishes, the service comes
// back with every one that it acknowledged, and serves it.
func TestKilledWhilePublishing(t *testing.T) {
	t.Parallel()
	data := t.TempDir()
	d, err := service.StartDemo(data)
	require.NoError(t, err)
	ctx := t.Context()
	const pockets = 4
	for i := range pockets {
		_, err := d.Client().MakePocket(ctx, wire.NewPocket{Key: fmt.Sprintf("kill-%d", i), Customer: "kelp-and-kiln", Widget: "countdown"})
		require.NoError(t, err)
	}
	var mu sync.Mutex
	acknowledged := make([]int, pockets) // newest publication that was answered for
	said := map[string]string{}          // what a publication says
	for round, after := range []int{1, 50, 7, 23} {
		c := d.Client()
		total, enough := 0, make(chan struct{})
		var wg sync.WaitGroup
		for i := range pockets {
			wg.Go(func() {
				key := fmt.Sprintf("kill-%d", i)
				for n := 1; ; n++ {
					draft, err := c.Draft(ctx, key)
					if err != nil {
						return
					}
					text := fmt.Sprintf("Round %d, number %d.", round, n)
					saved, err := c.ChangeDraft(ctx, key, draft.Revision, raw(map[string]any{"target": "2099-01-01T00:00[UTC]", "heading": text}))
					if err != nil {
						return
					}
					p, err := c.Publish(ctx, key, wire.Publish{Revision: saved.Revision})
					if err != nil {
						return
					}
					mu.Lock()
					acknowledged[i], said[fmt.Sprint(key, p.Number)] = p.Number, text
					if total++; total == after {
						close(enough)
					}
					mu.Unlock()
				}
			})
		}
		<-enough
		d.Kill()
		wg.Wait()
		d, err = service.StartDemo(data, "-public-addr", strings.TrimPrefix(d.Public, "http://"))
		require.NoError(t, err)
		for i := range pockets {
			key := fmt.Sprintf("kill-%d", i)
			p, err := d.Client().Pocket(ctx, key)
			require.NoError(t, err)
			assert.GreaterOrEqual(t, p.Publication, acknowledged[i], key)
			if p.Publication == 0 {
				continue
			}
			pubs, err := d.Client().Publications(ctx, key)
			require.NoError(t, err)
			assert.Len(t, pubs.Publications, p.Publication, "no number is missing")
			_, body := send(t, "GET", d.Public+"/s/"+key+".json", "")
			assert.Contains(t, body, fmt.Sprintf(`"publication":%d,`, p.Publication), "what is stored is what is served")
			if text := said[fmt.Sprint(key, p.Publication)]; text != "" {
				assert.Contains(t, body, text)
			}
		}
	}
	require.NoError(t, d.Stop())
}

// A demo's data folder can be used again, by the same sign-in, from the same addresses.
func TestStopsAndStartsAgain(t *testing.T) {
	data := t.TempDir()
	d, err := service.StartDemo(data)
	require.NoError(t, err)
	require.NoError(t, d.Stop(), "Ctrl-C ends cleanly")
	_, err = service.StartDemo(data)
	require.ErrorContains(t, err, "serves visitors from "+d.Public, "the public address is fixed at first start")
	again, err := service.StartDemo(data, "-public-addr", strings.TrimPrefix(d.Public, "http://"))
	require.NoError(t, err)
	defer again.Stop()
	assert.Equal(t, d.Token, again.Token)
	_, body := send(t, "GET", again.Public+"/s/demo-countdown.json", "")
	assert.Contains(t, body, "The kiln opens again")
}
