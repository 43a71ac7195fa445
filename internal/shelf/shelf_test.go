package shelf

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"sync"
	"sync/atomic"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/app/delivery"
	"glasspocket/internal/render"
	"glasspocket/internal/signal"
)

func encoded(text string) *render.Encoded {
	e := render.Encode([]byte(text))
	return &e
}

func served(text string, publication int) *delivery.Served {
	return &delivery.Served{Publication: publication, Document: encoded(text)}
}

// A request after a publish never gets what a load that is under way has read before it.
func TestPublishWinsOverALoadUnderWay(t *testing.T) {
	loading, goOn := make(chan bool), make(chan bool)
	signals, current := signal.New(), "old"
	pocket := signal.Object{Kind: signal.Pocket, ID: "key"}
	s := New(func(context.Context, string, render.Part) (*delivery.Served, error) {
		read := served(current, 1)
		read.Inputs = []signal.Object{pocket}
		loading <- true
		<-goOn
		return read, nil
	}, signals, Bytes)
	got := make(chan string, 2)
	get := func() {
		d, err := s.Get(context.Background(), "key", render.Script)
		assert.NoError(t, err)
		got <- string(d.Document.Plain())
	}
	go get()
	<-loading
	current = "new"
	signals.Emit(signal.Change{Object: pocket, Revision: 2})
	go get() // it may join the load that read "old"
	goOn <- true
	<-loading
	goOn <- true
	assert.Equal(t, []string{"new", "new"}, []string{<-got, <-got})
	go get()
	assert.Equal(t, "new", <-got)
	assert.Equal(t, int64(2), s.Stats().Loads.Load())
}

func TestMissesShareALoadAndAreRemembered(t *testing.T) {
	var loads atomic.Int32
	s := New(func(context.Context, string, render.Part) (*delivery.Served, error) {
		loads.Add(1)
		return &delivery.Served{}, nil
	}, signal.New(), Bytes)
	var wg sync.WaitGroup
	for range 50 {
		wg.Go(func() {
			d, err := s.Get(context.Background(), "nothing", render.Script)
			assert.NoError(t, err)
			assert.Nil(t, d.Document)
		})
	}
	wg.Wait()
	s.Get(context.Background(), "nothing", render.Script)
	assert.Equal(t, int32(1), loads.Load(), "fifty at once and one later: a key with nothing is looked up once")
}

// A flood of made-up keys, and a hot set that does not fit, leave the shelf bounded, and
// what everybody asks for stays on it.
func TestBounded(t *testing.T) {
	const most = 1 << 20
	loads := map[string]int{}
	s := New(func(_ context.Context, key string, _ render.Part) (*delivery.Served, error) {
		loads[key]++
		if strings.HasPrefix(key, "made-up") {
			return &delivery.Served{}, nil
		}
		return served(strings.Repeat(key, 400), 1), nil
	}, signal.New(), most)
	get := func(key string) {
		_, err := s.Get(context.Background(), key, render.Script)
		require.NoError(t, err)
	}
	for range 50 {
		get("hot")
	}
	for i := range 100_000 {
		get(fmt.Sprintf("made-up-%d", i))
		if i%10 == 0 {
			get("hot")
		}
	}
	s.cache.CleanUp()
	assert.LessOrEqual(t, s.Weight(), uint64(most))
	assert.Less(t, loads["hot"], 20, "the flood has not swept away what everybody asks for")
	for i := range 2000 {
		get(fmt.Sprintf("real-%d", i%500))
	}
	s.cache.CleanUp()
	assert.LessOrEqual(t, s.Weight(), uint64(most))
}

// A store that fails leaves visitors with what they had, unless that was withheld.
func TestStoreFails(t *testing.T) {
	fail := false
	s := New(func(_ context.Context, key string, _ render.Part) (*delivery.Served, error) {
		if fail {
			return nil, errors.New("the disk is gone")
		}
		return served("text", 1), nil
	}, signal.New(), Bytes)
	_, err := s.Get(context.Background(), "known", render.Script)
	require.NoError(t, err)
	fail = true
	got, err := s.Get(context.Background(), "known", render.Script)
	require.NoError(t, err)
	assert.Equal(t, "text", string(got.Document.Plain()))
	_, err = s.Get(context.Background(), "other", render.Script)
	require.Error(t, err)
	assert.Equal(t, int64(1), s.Stats().Failures.Load())
}
