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
	"glasspocket/internal/render"
	"glasspocket/internal/setting"
	"glasspocket/internal/widget"
)

// stored is what an instance has: one release.
type stored struct {
	Modules
	read int
}

func (s *stored) Module(_ context.Context, digest string) (*widget.Release, error) {
	if s.read++; digest != "0123" {
		return nil, errors.New("no such release")
	}
	return &widget.Release{Schema: &setting.Schema{}}, nil
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
	get := doorOf(t, Options{Modules: s})
	for i := range 100 {
		assert.Equal(t, 200, get(fmt.Sprintf("/a/0123/mount-%d.js", i)))
	}
	assert.Equal(t, 1, s.read)
	assert.Equal(t, 503, get("/a/4567/mount.js"))
}
