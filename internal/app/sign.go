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
	"time"
	"unicode/utf8"

	"golang.org/x/crypto/argon2"
)

// Lifetimes.
const (
	SessionLasts  = 12 * time.Hour
	SessionTurns  = time.Hour   // after that its secret changes
	RotationGrace = time.Minute // for concurrent requests with the previous secret
	TokenLongest  = 366 * 24 * time.Hour
)

const hashLength, saltLength = 32, 16

// The cost of argon2id: the second recommended option of RFC 9106, section 4. Only this package's
// own tests use less.
var (
	hashTime, hashMemory uint32 = 3, 64 << 10 // passes, KiB
	hashThreads          uint8  = 4           // lanes
)

// Each hash needs 64 MiB while it is being computed, so few run and few may wait.
var (
	hashing = make(chan struct{}, 2)
	hashers = make(chan struct{}, 2+64) // running and waiting hashes
)

func hashed(password string, salt []byte) ([]byte, error) {
	select {
	case hashers <- struct{}{}:
	default:
		return nil, tooManyHashes()
	}
	defer func() { <-hashers }()
	hashing <- struct{}{}
	defer func() { <-hashing }()
	return argon2.IDKey([]byte(password), salt, hashTime, hashMemory, hashThreads, hashLength), nil
}

func tooManyHashes() error {
	return &Error{Kind: Unavailable, Code: "too-many-hashes", What: "Too many people are signing in at the moment.", Hint: "Try again in a few seconds.", Wait: 5 * time.Second}
}

func hashPassword(password string) (string, error) {
	salt := make([]byte, saltLength)
	rand.Read(salt)
	sum, err := hashed(password, salt)
	return base64.RawStdEncoding.EncodeToString(salt) + "$" + base64.RawStdEncoding.EncodeToString(sum), err
}

func passwordFits(password, hash string) (bool, error) {
	saltText, sumText, _ := strings.Cut(hash, "$")
	salt, _ := base64.RawStdEncoding.DecodeString(saltText)
	sum, _ := base64.RawStdEncoding.DecodeString(sumText)
	got, err := hashed(password, salt)
	return err == nil && len(sum) == hashLength && subtle.ConstantTimeCompare(got, sum) == 1, err
}

// nobody's hash makes a sign-in with an unknown name take as long as with a known one. No password
// matches it.
const nobody = "bm9ib2R5IGhhcyB0aGlzIQ$"

// Secret returns a random secret of 256 bits, in letters that can be copied safely.
func Secret() string {
	b := make([]byte, 32)
	rand.Read(b)
	return base64.RawURLEncoding.EncodeToString(b)
}

func secretDigest(secret string) string {
	sum := sha256.Sum256([]byte(secret))
	return hex.EncodeToString(sum[:])
}

// SignIn checks name and password and creates a session. The secret goes into the cookie. address
// is where the request comes from, client the browser's name for itself.
func (a *App) SignIn(ctx context.Context, name, password, address, client string) (scope Scope, secret string, err error) {
	now, from := a.now(), networkOf(address)
	limits := []limit{{"from " + from, addressAttempts}}
	known := utf8.RuneCountInString(name) <= userNameMost
	if known { // by name and network: nobody can lock out somebody who signs in from another network
		limits = append(limits, limit{"name " + name + " from " + from, nameAttempts})
	}
	refusal := &Error{Kind: TooMany, Code: "too-many-sign-ins", What: "There were too many failed sign-ins for this name or from this network.", Hint: "Wait five minutes, or sign in from another network."}
	wrong := &Error{Kind: Unauthenticated, Code: "wrong-sign-in", What: "The name or the password is wrong.", Hint: "Check both, including capital letters."}
	var u User
	if err := a.attempts.try(now, refusal, func() (failed bool, err error) {
		if !known {
			return true, wrong
		}
		hash := nobody
		if u, err = a.store.UserByName(ctx, name); err == nil {
			hash = u.PasswordHash
		} else if !errors.Is(err, ErrNotFound) {
			return false, err
		}
		fits, busy := passwordFits(password, hash)
		if busy != nil {
			return false, busy // no password was checked
		}
		if !fits || err != nil {
			return true, wrong
		}
		return false, nil
	}, limits...); err != nil {
		return Scope{}, "", err
	}
	return a.startSession(ctx, u, client)
}

// startSession creates a session and returns its secret.
func (a *App) startSession(ctx context.Context, u User, client string) (scope Scope, secret string, err error) {
	now := a.now()
	secret = Secret()
	if r := []rune(client); len(r) > 200 {
		client = string(r[:200])
	}
	n := Session{UserID: u.ID, CreatedAt: now, RotatedAt: now, ExpiresAt: now.Add(SessionLasts), Client: client}
	if n.ID, err = a.store.AddSession(ctx, n, secretDigest(secret)); err != nil {
		return Scope{}, "", err
	}
	return scopeOf(u, n, "console"), secret, nil
}

func scopeOf(u User, n Session, client string) Scope {
	return Scope{Role: u.Role, CustomerID: u.CustomerID, UserID: u.ID, SessionID: n.ID, Name: u.Name, Client: client}
}

// Session returns the scope for a session's secret. turned, unless "", is the secret that replaces
// it; only rotate requests one.
func (a *App) Session(ctx context.Context, secret string, rotate bool) (scope Scope, turned string, err error) {
	now := a.now()
	u, n, err := a.store.SessionUser(ctx, secretDigest(secret), now)
	if errors.Is(err, ErrNotFound) {
		return Scope{}, "", &Error{Kind: Unauthenticated, Code: "session-ended", What: "Your session has expired.", Hint: "Sign in again."}
	}
	if err == nil && rotate && now.Sub(n.RotatedAt) >= SessionTurns {
		next := Secret()
		// If the store cannot write, the session stays unchanged.
		if a.store.RotateSession(ctx, n.ID, secretDigest(next), now) == nil {
			turned = next
		}
	}
	return scopeOf(u, n, "console"), turned, err
}

// Sessions lists the user's sessions.
func (a *App) Sessions(ctx context.Context, s Scope) ([]Session, error) {
	if err := s.require(manageOneself); err != nil {
		return nil, err
	}
	return a.store.Sessions(ctx, s.UserID, a.now())
}

// RevokeSession revokes one of the user's sessions at once.
func (a *App) RevokeSession(ctx context.Context, s Scope, id int64) error {
	if err := s.require(manageOneself); err != nil {
		return err
	}
	if err := a.store.RevokeSession(ctx, s.UserID, id, newRecord(s, a.now(), Entry{CustomerID: s.CustomerID, Did: "revoke", Kind: "session", Of: fmt.Sprint(id)})); errors.Is(err, ErrNotFound) {
		return notFound("session", fmt.Sprint(id), "List the sessions to see their numbers.")
	} else {
		return err
	}
}

// ByToken returns the scope of a token.
func (a *App) ByToken(ctx context.Context, secret string) (Scope, error) {
	u, t, err := a.store.TokenUser(ctx, secretDigest(secret))
	switch {
	case errors.Is(err, ErrNotFound):
		return Scope{}, &Error{Kind: Unauthenticated, Code: "token-unknown", What: "This service does not know this token.", Hint: "Check that you copied all of it and that it belongs to this server. Or sign in again with “glasspocket signin NAME”."}
	case err != nil:
		return Scope{}, err
	case !a.now().Before(t.ExpiresAt):
		return Scope{}, &Error{Kind: Unauthenticated, Code: "token-expired", What: fmt.Sprintf("This token expired on %s.", t.ExpiresAt.Format("2 January 2006 at 15:04 UTC")), Hint: "Sign in again with “glasspocket signin NAME”."}
	}
	scope := scopeOf(u, Session{}, "token")
	scope.TokenID, scope.Until = t.ID, t.ExpiresAt
	return scope.narrowed(t.Role, t.CustomerID), nil
}

// NewToken has the properties of a token. Role and CustomerID limit it; "" means as much as its
// maker.
type NewToken struct {
	Name       string
	Lasts      time.Duration
	Role       Role
	CustomerID string
}

// MakeToken creates a token that acts for the user, with the same or fewer rights, for a limited
// time. A token that was created with another one depends on it: it expires no later, and is
// deleted with it.
func (a *App) MakeToken(ctx context.Context, s Scope, n NewToken) (Token, string, error) {
	if err := s.require(manageOneself); err != nil {
		return Token{}, "", err
	}
	name, lasts := strings.TrimSpace(n.Name), n.Lasts
	if name == "" || utf8.RuneCountInString(name) > 80 {
		return Token{}, "", &Error{Kind: Invalid, Code: "token-name", Field: "name", What: "A token needs a name of at most 80 characters.", Hint: "Name it after the program that will use it."}
	}
	if err := showable("name", name); err != nil {
		return Token{}, "", err
	}
	if lasts <= 0 || lasts > TokenLongest {
		return Token{}, "", &Error{Kind: Invalid, Code: "token-lasts", Field: "days", What: "A token can last from 1 to 366 days.", Hint: "Choose a number in this range."}
	}
	if err := a.checkNarrower(ctx, s, n); err != nil {
		return Token{}, "", err
	}
	if n.Role == "" { // so that the token gains nothing when its maker gets a more powerful role
		n.Role = s.Role
	}
	if n.CustomerID == "" {
		n.CustomerID = s.CustomerID
	}
	now := a.now()
	t := Token{Name: name, UserID: s.UserID, CustomerID: n.CustomerID, Role: n.Role, CreatedAt: now, ExpiresAt: now.Add(lasts)}
	if s.TokenID != 0 {
		t.Parent = &s.TokenID
		if s.Until.Before(t.ExpiresAt) {
			t.ExpiresAt = s.Until
		}
	}
	secret := "pocket-" + Secret()
	var err error
	t.ID, err = a.store.AddToken(ctx, t, secretDigest(secret), newRecord(s, a.now(), Entry{CustomerID: s.CustomerID, Did: "add", Kind: "token", Of: name, Note: string(n.Role)}))
	return t, secret, err
}

// Tokens lists the user's tokens.
func (a *App) Tokens(ctx context.Context, s Scope) ([]Token, error) {
	if err := s.require(manageOneself); err != nil {
		return nil, err
	}
	return a.store.Tokens(ctx, s.UserID)
}

// RevokeToken revokes one of the user's tokens at once.
func (a *App) RevokeToken(ctx context.Context, s Scope, id int64) error {
	if err := s.require(manageOneself); err != nil {
		return err
	}
	if err := a.store.RevokeToken(ctx, s.UserID, id, newRecord(s, a.now(), Entry{CustomerID: s.CustomerID, Did: "revoke", Kind: "token", Of: fmt.Sprint(id)})); errors.Is(err, ErrNotFound) {
		return notFound("token", fmt.Sprint(id), "List the tokens to see their numbers.")
	} else {
		return err
	}
}

// checkNarrower refuses a token with more rights than its maker.
func (a *App) checkNarrower(ctx context.Context, s Scope, n NewToken) error {
	if n.Role != "" && n.Role.rank() < 0 {
		return unknownRole(n.Role)
	}
	if n.Role != "" && n.Role.rank() < s.Role.rank() {
		return &Error{Kind: Forbidden, Code: "token-too-wide", Field: "role", What: fmt.Sprintf("A token of %s cannot have the role %s.", s.Role, n.Role), Hint: "Leave the role out, or choose a lower one."}
	}
	if n.CustomerID == "" {
		if n.Role != "" && n.Role.ofCustomer() && s.CustomerID == "" {
			return &Error{Kind: Invalid, Code: "customer-needed", Field: "customer", What: fmt.Sprintf("The role %s needs a customer.", n.Role), Hint: "Name the customer."}
		}
		return nil
	}
	if role := n.Role; role == "" && !s.Role.ofCustomer() || role != "" && !role.ofCustomer() {
		return &Error{Kind: Invalid, Code: "customer-role", Field: "role", What: "A token for one customer must have the role customer-editor or customer-viewer.", Hint: "Choose one of the two."}
	}
	if !s.sees(n.CustomerID) {
		return noCustomer(n.CustomerID)
	}
	if there, err := a.store.HasCustomer(ctx, n.CustomerID); err != nil || there {
		return err
	}
	return noCustomer(n.CustomerID)
}

// FirstStart creates the first operator-admin if there are no users. made is false if there are.
// The password is random; there is no default.
func (a *App) FirstStart(ctx context.Context, name string) (password string, made bool, err error) {
	password = Secret()[:20]
	hash, err := hashPassword(password)
	if err != nil {
		return "", false, err
	}
	_, err = a.store.AddFirstUser(ctx, User{Name: name, Role: OperatorAdmin, PasswordHash: hash, CreatedAt: a.now()})
	if errors.Is(err, ErrExists) {
		return "", false, nil
	}
	return password, err == nil, err
}
