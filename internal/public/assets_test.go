package public

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net/http/httptest"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/meter"
	"glasspocket/internal/problem"
	"glasspocket/internal/render"
)

// stored is what an instance has: one release.
type stored struct {
	Delivery
	read int
}

func (s *stored) Module(_ context.Context, digest string) ([]byte, error) {
	if s.read++; digest != "0123" {
		return nil, errors.New("no such release")
	}
	return []byte("script"), nil
}

// door is the visitors' side of an instance with one release.
func doorOf(t *testing.T, o Options) func(path string) int {
	site, err := render.NewSite("https://pockets.example", "", "", func([]string) (string, error) { return "", nil })
	require.NoError(t, err)
	o.Site, o.Now, o.Meter, o.Log = site, time.Now, &meter.Meter{}, slog.New(slog.DiscardHandler)
	f := New(o)
	return func(path string) int {
		res, err := f.Test(httptest.NewRequest("GET", path, nil))
		require.NoError(t, err)
		return res.StatusCode
	}
}

// A release's script is compressed once, under however many names it is asked for.
func TestMadeUpNamesOfModules(t *testing.T) {
	s := &stored{}
	get := doorOf(t, Options{Delivery: s})
	for i := range 100 {
		assert.Equal(t, 200, get(fmt.Sprintf("/a/0123/mount-%d.js", i)))
	}
	assert.Equal(t, 1, s.read)
	assert.Equal(t, 503, get("/a/4567/mount.js"))
}

// A file that many are being sent is held once; what nobody reads makes room; and files that do
// not fit beside those being read are refused.
func TestFilesAreShared(t *testing.T) {
	loads := 0
	f := newFiles(func(_ context.Context, digest string) ([]byte, error) {
		loads++
		if digest == "none" {
			return nil, problem.ErrNotFound
		}
		return make([]byte, 40), nil
	})
	f.most = 100
	var readers []*opened
	for range 50 {
		o, err := f.open(t.Context(), "1")
		require.NoError(t, err)
		readers = append(readers, o)
	}
	assert.Equal(t, 1, loads)
	assert.Equal(t, 40, f.total)
	second, err := f.open(t.Context(), "2")
	require.NoError(t, err)
	_, err = f.open(t.Context(), "3")
	assert.ErrorIs(t, err, errCrowded)
	_, err = f.open(t.Context(), "none")
	assert.ErrorIs(t, err, problem.ErrNotFound)
	second.Close()
	second.Close() // counts once
	third, err := f.open(t.Context(), "3")
	require.NoError(t, err)
	assert.Equal(t, 80, f.total)
	assert.NotContains(t, f.held, "2")
	third.only(5, 9)
	assert.Equal(t, 5, third.Len())
	third.Close()
	for _, o := range readers {
		o.Close()
	}
	for _, of := range f.held {
		assert.Zero(t, of.readers)
	}
}
