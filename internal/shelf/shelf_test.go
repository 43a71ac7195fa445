package shelf

import (
	"context"
	"sync"
	"sync/atomic"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/render"
)

func delivery(text string) *render.Delivery {
	return &render.Delivery{Script: render.Encode([]byte(text))}
}

// A publish that happens while an older state is being loaded wins.
func TestPublishWinsOverALoadUnderWay(t *testing.T) {
	loading, goOn := make(chan bool), make(chan bool)
	s := New(func(context.Context, string) (*render.Delivery, int, error) {
		loading <- true
		<-goOn
		return delivery("old"), 1, nil
	})
	got := make(chan *render.Delivery, 1)
	go func() {
		d, _ := s.Get(context.Background(), "key")
		got <- d
	}()
	<-loading
	s.Put("key", 2, delivery("new"))
	goOn <- true
	assert.Equal(t, "new", string((<-got).Script.Plain))
	d, err := s.Get(context.Background(), "key")
	require.NoError(t, err)
	assert.Equal(t, "new", string(d.Script.Plain))
}

func TestMissesShareALoadAndAreRemembered(t *testing.T) {
	var loads atomic.Int32
	s := New(func(context.Context, string) (*render.Delivery, int, error) {
		loads.Add(1)
		return nil, 0, nil
	})
	var wg sync.WaitGroup
	for range 50 {
		wg.Go(func() {
			d, err := s.Get(context.Background(), "nothing")
			assert.NoError(t, err)
			assert.Nil(t, d)
		})
	}
	wg.Wait()
	s.Get(context.Background(), "nothing")
	assert.Equal(t, int32(1), loads.Load(), "fifty at once and one later: a key with nothing is looked up once")
	s.Put("nothing", 1, delivery("first"))
	d, _ := s.Get(context.Background(), "nothing")
	assert.Equal(t, "first", string(d.Script.Plain))
}
