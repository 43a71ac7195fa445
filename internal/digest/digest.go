// Package digest names content: SHA-256 (FIPS 180-4) in hexadecimal, as in the addresses of files.
package digest

import (
	"crypto/sha256"
	"encoding/hex"
)

// Of returns the digest of content, 64 characters.
func Of(content []byte) string {
	sum := sha256.Sum256(content)
	return hex.EncodeToString(sum[:])
}
