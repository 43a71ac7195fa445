package public

import (
	"bytes"
	"context"
	"errors"
	"sync"
)

// files shares the bytes of assets among the responses that send them, so that many slow readers of
// a file need its memory once. Files without readers stay until others need the room.
type files struct {
	load  func(ctx context.Context, digest string) ([]byte, error)
	most  int // bytes in total
	mu    sync.Mutex
	held  map[string]*file
	total int
	turns chan struct{} // limits concurrent reads from the store
}

type file struct {
	bytes   []byte
	readers int
}

const (
	filesMost  = 96 << 20
	filesTurns = 4
)

// errCrowded means that the files being sent use all of the room.
var errCrowded = errors.New("downloads use all the memory reserved for files")

func newFiles(load func(ctx context.Context, digest string) ([]byte, error)) *files {
	return &files{load: load, most: filesMost, held: map[string]*file{}, turns: make(chan struct{}, filesTurns)}
}

// open returns a file for one reader, who closes it after sending.
func (f *files) open(ctx context.Context, digest string) (*opened, error) {
	if o := f.acquire(digest, nil); o != nil {
		return o, nil
	}
	f.turns <- struct{}{}
	defer func() { <-f.turns }()
	if o := f.acquire(digest, nil); o != nil { // loaded while this one waited
		return o, nil
	}
	loaded, err := f.load(ctx, digest)
	if err != nil {
		return nil, err
	}
	if o := f.acquire(digest, loaded); o != nil {
		return o, nil
	}
	return nil, errCrowded
}

// acquire adds a reader to a cached file, or to loaded if there is room for it. It returns nil if
// neither is possible.
func (f *files) acquire(digest string, loaded []byte) *opened {
	f.mu.Lock()
	defer f.mu.Unlock()
	of := f.held[digest]
	if of == nil {
		if loaded == nil || !f.room(len(loaded)) {
			return nil
		}
		of = &file{bytes: loaded}
		f.held[digest] = of
		f.total += len(loaded)
	}
	of.readers++
	return &opened{files: f, file: of, Reader: bytes.NewReader(of.bytes)}
}

// room drops files without readers until size more bytes fit.
func (f *files) room(size int) bool {
	for digest, of := range f.held {
		if f.total+size <= f.most {
			break
		}
		if of.readers == 0 {
			delete(f.held, digest)
			f.total -= len(of.bytes)
		}
	}
	return f.total+size <= f.most
}

// opened is a file for one reader.
type opened struct {
	*bytes.Reader
	files *files
	file  *file
	once  sync.Once
}

// only limits reading to the bytes from the first to the last given one.
func (o *opened) only(from, to int) { o.Reader = bytes.NewReader(o.file.bytes[from : to+1]) }

// Close implements io.Closer.
func (o *opened) Close() error {
	o.once.Do(func() {
		o.files.mu.Lock()
		o.file.readers--
		o.files.mu.Unlock()
	})
	return nil
}
