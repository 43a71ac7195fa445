package render

import (
	"bytes"
	"compress/gzip"
	"io"
	"sync"

	"github.com/andybalholm/brotli"

	"glasspocket/internal/digest"
)

// PublishLevel is the brotli level for publishing, which waits for it: level 5 takes less than a
// millisecond.
const PublishLevel = 5

// Encoded is a document in the codings in which it is served. It is immutable. It keeps only
// brotli, which nearly every visitor uses, and makes the others on request.
type Encoded struct {
	Brotli []byte // RFC 7932
	ETag   string // RFC 9110 weak validator, the same for all codings
}

// Gzip returns the document in gzip (RFC 1952).
func (e *Encoded) Gzip() []byte {
	w := gzips.Get().(*gzip.Writer)
	defer gzips.Put(w)
	return squeeze(e.Plain(), w)
}

// Plain returns the uncompressed document. From damaged brotli it returns what can be read.
func (e *Encoded) Plain() []byte {
	plain, _ := io.ReadAll(brotli.NewReader(bytes.NewReader(e.Brotli)))
	return plain
}

var (
	brotlis = sync.Pool{New: func() any { return brotli.NewWriterLevel(nil, PublishLevel) }}
	gzips   = sync.Pool{New: func() any { return gzip.NewWriter(nil) }}
)

// Encode compresses plain at the publishing level.
func Encode(plain []byte) Encoded {
	w := brotlis.Get().(*brotli.Writer)
	defer brotlis.Put(w)
	return Stored(squeeze(plain, w))
}

// OnRequest compresses plain at the highest level when it is first called. The service has many such
// documents, and most starts need few of them.
func OnRequest(plain []byte) func() *Encoded {
	return sync.OnceValue(func() *Encoded {
		e := EncodeBest(plain)
		return &e
	})
}

// EncodeBest compresses plain at the highest level, which takes some 30 ms.
func EncodeBest(plain []byte) Encoded {
	return Stored(squeeze(plain, brotli.NewWriterLevel(nil, brotli.BestCompression)))
}

// Stored returns a document by its stored form, Encoded.Brotli, without decompressing it.
func Stored(squeezed []byte) Encoded {
	return Encoded{Brotli: squeezed, ETag: `W/"` + digest.Of(squeezed)[:32] + `"`}
}

type resetter interface {
	io.WriteCloser
	Reset(io.Writer)
}

func squeeze(plain []byte, w resetter) []byte {
	var b bytes.Buffer
	w.Reset(&b)
	w.Write(plain)
	w.Close()
	return bytes.Clone(b.Bytes())
}
