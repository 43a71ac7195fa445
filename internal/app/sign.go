package app

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"crypto/subtle"
	"encoding/base64"
	"encoding/hex"
	"errors"
	"fmt"
	"strings"
	"sync"
	"time"

	"golang.org/x/crypto/argon2"
)

// How long things last.
const (
	SessionLasts = 12 * time.Hour
	TokenLongest = 366 * 24 * time.Hour
)

// argon2id's cost: the second recommended option of RFC 9106, section 4.
const (
	hashTime, hashMemory, hashThreads = 3, 64 << 10, 4 // passes, KiB, lanes
	hashLength, saltLength            = 32, 16
)

// hashing bounds the memory that password checks take at once.
var hashing = make(chan struct{}, 2)

func hashPassword(password string) string {
	salt := make([]byte, saltLength)
	rand.Read(salt)
	sum := argon2.IDKey([]byte(password), salt, hashTime, hashMemory, hashThreads, hashLength)
	return base64.RawStdEncoding.EncodeToString(salt) + "$" + base64.RawStdEncoding.EncodeToString(sum)
}

func passwordFits(password, hash string) bool {
	hashing <- struct{}{}
	defer func() { <-hashing }()
	saltText, sumText, _ := strings.Cut(hash, "$")
	salt, _ := base64.RawStdEncoding.DecodeString(saltText)
	sum, _ := base64.RawStdEncoding.DecodeString(sumText)
	got := argon2.IDKey([]byte(password), salt, hashTime, hashMemory, hashThreads, hashLength)
	return len(sum) == hashLength && subtle.ConstantTimeCompare(got, sum) == 1
}

// nobody's hash makes a sign-in with an unknown name take as long as one with a known name.
var nobody = sync.OnceValue(func() string { return hashPassword("nobody") })

// Secret makes a random secret of 256 bits, in letters that survive any copy.
func Secret() string {
	b := make([]byte, 32)
	rand.Read(b)
	return base64.RawURLEncoding.EncodeToString(b)
}

func secretDigest(secret string) string {
	sum := sha256.Sum256([]byte(secret))
	return hex.EncodeToString(sum[:])
}

// attempts limits sign-ins by name: five failures in five minutes.
type attempts struct {
	mu   sync.Mutex
	seen map[string][]time.Time
}

const (
	attemptsMost   = 5
	attemptsWithin = 5 * time.Minute
)

func (t *attempts) blocked(name string, now time.Time) bool {
	t.mu.Lock()
	defer t.mu.Unlock()
	recent := t.seen[name][:0]
	for _, at := range t.seen[name] {
		if now.Sub(at) < attemptsWithin {
			recent = append(recent, at)
		}
	}
	if len(recent) == 0 {
		delete(t.seen, name)
	} else {
		t.seen[name] = recent
	}
	return len(recent) >= attemptsMost
}

func (t *attempts) failed(name string, now time.Time) {
	t.mu.Lock()
	defer t.mu.Unlock()
	if len(t.seen) > 10_000 { // a flood of made-up names must not fill the memory
		t.seen = map[string][]time.Time{}
	}
	t.seen[name] = append(t.seen[name], now)
}

// SignIn checks name and password and begins a session; secret goes into the cookie.
func (a *App) SignIn(ctx context.Context, name, password string) (scope Scope, secret string, err error) {
	now := a.now()
	if a.attempts.blocked(name, now) {
		return Scope{}, "", &Error{Kind: TooMany, Code: "too-many-sign-ins", What: "There were too many failed sign-ins for this name.", Hint: "Wait five minutes."}
	}
	u, err := a.store.UserByName(ctx, name)
	if err != nil && !errors.Is(err, ErrNotFound) {
		return Scope{}, "", err
	}
	hash := u.PasswordHash
	if err != nil {
		hash = nobody()
	}
	if !passwordFits(password, hash) || err != nil {
		a.attempts.failed(name, now)
		return Scope{}, "", &Error{Kind: Unauthenticated, Code: "wrong-sign-in", What: "The name or the password is wrong.", Hint: "Check both; capitals count."}
	}
	secret = Secret()
	if err := a.store.AddSession(ctx, secretDigest(secret), u.ID, now.Add(SessionLasts)); err != nil {
		return Scope{}, "", err
	}
	return scopeOf(u, "console"), secret, nil
}

func scopeOf(u User, client string) Scope {
	return Scope{Role: u.Role, CustomerID: u.CustomerID, UserID: u.ID, Name: u.Name, Client: client}
}

// Session returns who a session's secret belongs to.
func (a *App) Session(ctx context.Context, secret string) (Scope, error) {
	u, err := a.store.SessionUser(ctx, secretDigest(secret), a.now())
	if errors.Is(err, ErrNotFound) {
		return Scope{}, &Error{Kind: Unauthenticated, Code: "session-ended", What: "The session has ended.", Hint: "Sign in again."}
	}
	return scopeOf(u, "console"), err
}

// SignOut ends a session.
func (a *App) SignOut(ctx context.Context, secret string) error {
	return a.store.EndSession(ctx, secretDigest(secret))
}

// ByToken returns who a token acts for.
func (a *App) ByToken(ctx context.Context, secret string) (Scope, error) {
	u, t, err := a.store.TokenUser(ctx, secretDigest(secret))
	switch {
	case errors.Is(err, ErrNotFound):
		return Scope{}, &Error{Kind: Unauthenticated, Code: "token-unknown", What: "This token is not known here.", Hint: "Check that it was copied whole and that it belongs to this server; or sign in anew with “glasspocket signin NAME”."}
	case err != nil:
		return Scope{}, err
	case !a.now().Before(t.ExpiresAt):
		return Scope{}, &Error{Kind: Unauthenticated, Code: "token-expired", What: fmt.Sprintf("This token expired on %s.", t.ExpiresAt.Format("2 January 2006 at 15:04 UTC")), Hint: "Sign in anew with “glasspocket signin NAME”."}
	}
	return scopeOf(u, "token"), nil
}

// MakeToken makes a token that acts as the asker for the time given.
func (a *App) MakeToken(ctx context.Context, s Scope, name string, lasts time.Duration) (Token, string, error) {
	if err := s.require(manageTokens); err != nil {
		return Token{}, "", err
	}
	if name = strings.TrimSpace(name); name == "" || len(name) > 80 {
		return Token{}, "", &Error{Kind: Invalid, Code: "token-name", Field: "name", What: "A token needs a name of at most 80 characters.", Hint: "Name it after what will use it."}
	}
	if lasts <= 0 || lasts > TokenLongest {
		return Token{}, "", &Error{Kind: Invalid, Code: "token-lasts", Field: "days", What: "A token lasts from 1 to 366 days.", Hint: "Choose a number of days within that."}
	}
	now := a.now()
	t := Token{Name: name, UserID: s.UserID, CustomerID: s.CustomerID, CreatedAt: now, ExpiresAt: now.Add(lasts)}
	secret := "pocket-" + Secret()
	var err error
	t.ID, err = a.store.AddToken(ctx, t, secretDigest(secret))
	return t, secret, err
}

// Tokens lists the asker's tokens.
func (a *App) Tokens(ctx context.Context, s Scope) ([]Token, error) {
	if err := s.require(manageTokens); err != nil {
		return nil, err
	}
	return a.store.Tokens(ctx, s.UserID)
}

// EndToken makes one of the asker's tokens useless at once.
func (a *App) EndToken(ctx context.Context, s Scope, id int64) error {
	if err := s.require(manageTokens); err != nil {
		return err
	}
	if err := a.store.EndToken(ctx, s.UserID, id); errors.Is(err, ErrNotFound) {
		return notFound("token", fmt.Sprint(id), "List the tokens to see which there are.")
	} else {
		return err
	}
}

// FirstStart makes the first operator-admin when there is nobody yet. made is false when
// there is. The password is random; there is no default one.
func (a *App) FirstStart(ctx context.Context, name string) (password string, made bool, err error) {
	n, err := a.store.CountUsers(ctx)
	if err != nil || n > 0 {
		return "", false, err
	}
	password = Secret()[:20]
	_, err = a.store.AddUser(ctx, User{Name: name, Role: OperatorAdmin, PasswordHash: hashPassword(password)})
	return password, err == nil, err
}
