package user

import (
	"crypto/rand"
	"crypto/subtle"
	"encoding/base64"
	"fmt"
	"strings"
	"unicode/utf8"

	"golang.org/x/crypto/argon2"

	"glasspocket/internal/app/access"
	"glasspocket/internal/problem"
)

const hashLength, saltLength = 32, 16

// Cost is the cost of a hash with argon2id. A hash does not contain it: with another cost, nobody
// could sign in any more.
type Cost struct {
	Passes  uint32
	KiB     uint32
	Threads uint8 // lanes
}

// UsualCost is the second recommended option of RFC 9106, section 4. Only tests use less.
var UsualCost = Cost{Passes: 3, KiB: 64 << 10, Threads: 4}

// hasher hashes passwords. Each hash needs much memory while it is being computed, so few run and
// few may wait.
type hasher struct {
	cost    Cost
	running chan struct{}
	all     chan struct{} // running and waiting hashes
}

func newHasher(cost Cost) *hasher {
	return &hasher{cost, make(chan struct{}, 2), make(chan struct{}, 2+64)}
}

func (h *hasher) sum(password string, salt []byte) ([]byte, error) {
	select {
	case h.all <- struct{}{}:
	default:
		return nil, access.TooManySignIns()
	}
	defer func() { <-h.all }()
	h.running <- struct{}{}
	defer func() { <-h.running }()
	return argon2.IDKey([]byte(password), salt, h.cost.Passes, h.cost.KiB, h.cost.Threads, hashLength), nil
}

func (h *hasher) hash(password string) (string, error) {
	salt := make([]byte, saltLength)
	rand.Read(salt)
	sum, err := h.sum(password, salt)
	return base64.RawStdEncoding.EncodeToString(salt) + "$" + base64.RawStdEncoding.EncodeToString(sum), err
}

func (h *hasher) fits(password, hash string) (bool, error) {
	saltText, sumText, _ := strings.Cut(hash, "$")
	salt, _ := base64.RawStdEncoding.DecodeString(saltText)
	sum, _ := base64.RawStdEncoding.DecodeString(sumText)
	got, err := h.sum(password, salt)
	return err == nil && len(sum) == hashLength && subtle.ConstantTimeCompare(got, sum) == 1, err
}

// nobody's hash makes a sign-in with an unknown name take as long as with a known one. No password
// matches it.
const nobody = "bm9ib2R5IGhhcyB0aGlzIQ$"

// Limits of a password, in characters. The upper one limits what is hashed.
const (
	PasswordLeast = 12
	PasswordMost  = 200
)

// checkPassword checks a password's length; a phrase of a few words is the easiest way to reach it
// (NIST SP 800-63B: length counts, composition rules do not).
func checkPassword(password, name string) error {
	n := utf8.RuneCountInString(password)
	switch {
	case n < PasswordLeast || n > PasswordMost:
		return &problem.Error{Kind: problem.Invalid, Code: "password-length", Field: "password", What: fmt.Sprintf("A password must have %d to %d characters. This one has %d.", PasswordLeast, PasswordMost, n), Hint: "Use a few unrelated words."}
	case password == name:
		return &problem.Error{Kind: problem.Invalid, Code: "password-guessable", Field: "password", What: "The password is the same as the name.", Hint: "Use a few unrelated words."}
	}
	return nil
}
