package sourcesql

import (
	"encoding/json"
	"fmt"

	"github.com/klauspost/compress/zstd"

	"glasspocket/internal/item"
)

var (
	encoder, _ = zstd.NewWriter(nil, zstd.WithEncoderLevel(zstd.SpeedFastest), zstd.WithEncoderConcurrency(1))
	decoder, _ = zstd.NewReader(nil, zstd.WithDecoderConcurrency(1), zstd.WithDecoderMaxMemory(256<<20))
)

// pack writes items as JSON, compressed with Zstandard (RFC 8878).
func pack(s item.Stock) ([]byte, error) {
	text, err := json.Marshal(s)
	if err != nil {
		return nil, err
	}
	return encoder.EncodeAll(text, nil), nil
}

func unpack(packed []byte) (s item.Stock, err error) {
	text, err := decoder.DecodeAll(packed, nil)
	if err != nil {
		return s, fmt.Errorf("the stored items are damaged: %w", err)
	}
	return s, json.Unmarshal(text, &s)
}
