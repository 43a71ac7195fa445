package local

import (
	"crypto/rand"
	"crypto/subtle"
	"net/http"
	"net/url"
)

// secret restricts the worktop to people with its address, because other users of this computer
// reach its port too, and can send any header. A browser that opens the address receives the secret
// as a cookie.
type secret string

func newSecret() secret { return secret(rand.Text()) }

// key is the parameter in the address.
const key = "key"

func (s secret) cookie(port string) string { return "glass-worktop-" + port }

func (s secret) is(given string) bool {
	return subtle.ConstantTimeCompare([]byte(s), []byte(given)) == 1
}

// kept requires the secret.
func (s secret) kept(port string, next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if given := r.URL.Query().Get(key); r.Method == http.MethodGet && s.is(given) {
			http.SetCookie(w, &http.Cookie{Name: s.cookie(port), Value: given, Path: "/", HttpOnly: true, SameSite: http.SameSiteStrictMode})
			to := *r.URL
			query := to.Query()
			query.Del(key)
			to.RawQuery = query.Encode()
			w.Header().Set("Cache-Control", "no-store")
			w.Header().Set("Referrer-Policy", "no-referrer")
			http.Redirect(w, r, (&url.URL{Path: to.Path, RawQuery: to.RawQuery}).String(), http.StatusSeeOther) // keeps it out of the history
			return
		}
		if c, err := r.Cookie(s.cookie(port)); err == nil && s.is(c.Value) {
			next.ServeHTTP(w, r)
			return
		}
		problem(w, http.StatusUnauthorized, "not-yours", "This worktop opens only at the address that “watch” printed.", "Open that address, including the key at its end.")
	})
}
