package render

import (
	"bytes"
	"compress/gzip"
	"crypto/sha256"
	"encoding/hex"
	"io"
	"sort"
	"sync"

	"github.com/andybalholm/brotli"
)

// PublishLevel is the brotli level at publishing: 5 costs under a millisecond, and a
// publish waits for it.
const PublishLevel = 5

// Encoded is one document in the forms it is served in. It is immutable.
type Encoded struct {
	Plain  []byte
	Brotli []byte        // RFC 7932
	Gzip   func() []byte // RFC 1952; made when first asked for, since nearly every visitor takes brotli
	ETag   string        // RFC 9110 weak validator: one for all three encodings
}

var (
	brotlis = sync.Pool{New: func() any { return brotli.NewWriterLevel(nil, PublishLevel) }}
	gzips   = sync.Pool{New: func() any { return gzip.NewWriter(nil) }}
)

// Encode compresses plain at the publishing level.
func Encode(plain []byte) Encoded {
	w := brotlis.Get().(*brotli.Writer)
	defer brotlis.Put(w)
	return encoded(plain, squeeze(plain, w))
}

// EncodeBest compresses plain as far as brotli goes; for what is made once, at start.
func EncodeBest(plain []byte) Encoded {
	return encoded(plain, squeeze(plain, brotli.NewWriterLevel(nil, brotli.BestCompression)))
}

// Decode is the way back from the stored form, Encoded.Brotli.
func Decode(squeezed []byte) (Encoded, error) {
	plain, err := io.ReadAll(brotli.NewReader(bytes.NewReader(squeezed)))
	return encoded(plain, squeezed), err
}

func encoded(plain, squeezed []byte) Encoded {
	return Encoded{Plain: plain, Brotli: squeezed, ETag: `W/"` + digest(plain)[:32] + `"`, Gzip: sync.OnceValue(func() []byte {
		w := gzips.Get().(*gzip.Writer)
		defer gzips.Put(w)
		return squeeze(plain, w)
	})}
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

func digest(b []byte) string {
	sum := sha256.Sum256(b)
	return hex.EncodeToString(sum[:])
}

func sorted(m map[string]string) []string {
	keys := make([]string, 0, len(m))
	for k := range m {
		keys = append(keys, k)
	}
	sort.Strings(keys)
	return keys
}
