package pocket

import (
	"crypto/rand"
	lots "math/rand/v2"

	"glasspocket/internal/app/release"
)

// keyLetters leaves out letters that look alike.
const keyLetters = "abcdefghjkmnpqrstvwxyz23456789"

func NewKey() string {
	b := make([]byte, 12)
	rand.Read(b)
	for i := range b {
		b[i] = keyLetters[int(b[i])%len(keyLetters)]
	}
	return string(b)
}

// newLot draws a pocket's lot at random.
func newLot() int { return lots.IntN(release.LotLast + 1) }
