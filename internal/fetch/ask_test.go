package fetch

import (
	"compress/gzip"
	"errors"
	"fmt"
	"io"
	"log"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/feed"
)

const token = "nine quiet kilns"

// There are two outside services, one with a secret and a stranger, and one inside a network.
func TestAsk(t *testing.T) {
	type got struct {
		at     string
		header http.Header
		query  string
	}
	var asked []got
	note := func(at string, h http.Handler) http.Handler {
		return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
			asked = append(asked, got{at + r.URL.Path, r.Header, r.URL.RawQuery})
			h.ServeHTTP(w, r)
		})
	}
	fine := http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) { fmt.Fprint(w, "fine") })
	inside := httptest.NewServer(note("inside", fine))
	defer inside.Close()
	stranger := httptest.NewServer(note("stranger", fine))
	defer stranger.Close()
	sealed := httptest.NewUnstartedServer(note("sealed", fine))
	sealed.Config.ErrorLog = log.New(io.Discard, "", 0)
	sealed.StartTLS()
	defer sealed.Close()
	mux := http.NewServeMux()
	mux.Handle("/fine", fine)
	to := func(path, address string, status int) {
		mux.HandleFunc(path, func(w http.ResponseWriter, r *http.Request) { http.Redirect(w, r, address, status) })
	}
	to("/stranger", stranger.URL+"/x", http.StatusFound)
	to("/inside", inside.URL+"/x", http.StatusFound)
	to("/by-name", strings.Replace(inside.URL, "127.0.0.1", "localhost", 1)+"/x", http.StatusFound)
	to("/for-ever", "/fine?key=nine+quiet+kilns", http.StatusMovedPermanently)
	to("/for-now", "/fine", http.StatusFound)
	to("/for-ever-then-now", "/for-now", http.StatusMovedPermanently)
	to("/plain", "/fine", http.StatusPermanentRedirect)
	to("/now-then-for-ever", "/plain", http.StatusFound)
	for _, status := range []int{401, 403, 404, 410, 429, 503} {
		mux.HandleFunc(fmt.Sprint("/", status), func(w http.ResponseWriter, r *http.Request) {
			w.Header().Set("Retry-After", "90")
			w.WriteHeader(status)
		})
	}
	mux.HandleFunc("/endless", func(w http.ResponseWriter, r *http.Request) {
		for block := make([]byte, 1<<20); ; {
			if _, err := w.Write(block); err != nil {
				return
			}
		}
	})
	mux.HandleFunc("/bomb", func(w http.ResponseWriter, r *http.Request) {
		w.Header().Set("Content-Encoding", "gzip")
		z := gzip.NewWriter(w)
		defer z.Close()
		for block := make([]byte, 1<<20); r.Context().Err() == nil; {
			if _, err := z.Write(block); err != nil {
				return
			}
		}
	})
	mux.HandleFunc("/half", func(w http.ResponseWriter, r *http.Request) {
		w.Header().Set("Content-Length", "1000000")
		io.WriteString(w, "half")
	})
	source := httptest.NewServer(note("source", mux))
	defer source.Close()
	allowed, err := ReadAllowed(strings.Join([]string{strings.TrimPrefix(source.URL, "http://"), strings.TrimPrefix(stranger.URL, "http://"), strings.TrimPrefix(sealed.URL, "https://")}, ","))
	require.NoError(t, err)
	f := New(allowed)
	field, query := feed.Secret{In: feed.InField, Name: "X-Key", Value: token}, feed.Secret{In: feed.InQuery, Name: "key", Value: token}

	for _, each := range []struct {
		address string
		secret  feed.Secret
		says    string // the failure, or "" if it succeeds
		moved   string
	}{
		{"/fine", feed.Secret{In: feed.Bearer, Value: token}, "", ""},
		{"/fine?page=2", query, "", ""},
		{"/stranger", feed.Secret{In: feed.Bearer, Value: token}, "", ""},
		{"/stranger", field, "", ""},
		{"/stranger", query, "which must not get the token", ""},
		{"/for-ever", query, "", "/fine"},
		{"/plain", feed.Secret{}, "", "/fine"},
		{"/for-now", feed.Secret{}, "", ""},
		{"/for-ever-then-now", feed.Secret{}, "", ""},
		{"/now-then-for-ever", feed.Secret{}, "", ""},
		{"/inside", feed.Secret{}, "in a private network", ""},
		{"/by-name", feed.Secret{}, "in a private network", ""},
		{inside.URL, feed.Secret{}, "in a private network", ""},
		{strings.Replace(inside.URL, "127.0.0.1", "localhost", 1), feed.Secret{}, "in a private network", ""},
		{sealed.URL, feed.Secret{}, "certificate", ""},
		{"/endless", feed.Secret{}, "more than 20 MB", ""},
		{"/bomb", feed.Secret{}, "more than 20 MB", ""},
		{"/half", feed.Secret{}, "does not answer", ""},
		{"/401", feed.Secret{}, "does not allow access (401)", ""},
		{"/403", query, "does not allow access (403)", ""},
		{"/404", query, "nothing at this address (404)", ""},
		{"/410", feed.Secret{}, "removed permanently (410 Gone)", ""},
		{"/429", feed.Secret{}, "limits the number of requests (429)", ""},
		{"/503", feed.Secret{}, "a problem of its own (503)", ""},
		{"ftp://kelp.example/x", feed.Secret{}, "not the address of a page", ""},
	} {
		name := each.address + " " + each.secret.In
		asked = nil
		if strings.HasPrefix(each.address, "/") {
			each.address = source.URL + each.address
		}
		answer, err := f.Ask(t.Context(), feed.Ask{Address: each.address, Secret: each.secret})
		for _, a := range asked {
			if !strings.HasPrefix(a.at, "source") {
				assert.NotContains(t, fmt.Sprint(a), "quiet", name)
			}
			assert.False(t, strings.HasPrefix(a.at, "inside"), name)
		}
		if each.says == "" {
			require.NoError(t, err, name)
			assert.Contains(t, string(answer.Body), "fine", name)
			assert.NotContains(t, answer.Address+answer.Moved, "quiet", name)
			if each.secret.In != "" {
				assert.Contains(t, fmt.Sprint(asked[0]), "nine", name)
			}
			if each.moved != "" {
				each.moved = source.URL + each.moved
			}
			assert.Equal(t, each.moved, answer.Moved, name)
			continue
		}
		var failure *feed.Failure
		require.True(t, errors.As(err, &failure), name)
		assert.Contains(t, failure.What, each.says, name)
		assert.NotEmpty(t, failure.Hint, name)
		assert.NotContains(t, failure.What+failure.Hint, "quiet", name)
		assert.Equal(t, strings.Contains(each.says, "410"), failure.Gone, name)
		assert.Equal(t, strings.Contains(each.says, "allow access"), failure.Token, name)
		if failure.Status != 0 && strings.Contains(name, fmt.Sprint(failure.Status)) {
			assert.Equal(t, 90*time.Second, failure.After, name)
		}
	}
}

func TestFreshFor(t *testing.T) {
	date := "Tue, 02 Mar 2027 09:00:00 GMT"
	for fields, fresh := range map[[4]string]time.Duration{
		{"max-age=600", "", date, ""}:                                        10 * time.Minute,
		{"public, Max-Age=\"600\"", "", date, "100"}:                         500 * time.Second,
		{"max-age=60", "", date, "100"}:                                      0,
		{"max-age=99999999999", "", date, ""}:                                waitMost,
		{"max-age=soon", "Tue, 02 Mar 2027 10:00:00 GMT", date, ""}:          time.Hour,
		{"no-cache, max-age=600", "Tue, 02 Mar 2027 10:00:00 GMT", date, ""}: 0,
		{"", "0", date, ""}:                                                  0,
		{"", "Tue, 02 Mar 2027 08:00:00 GMT", date, ""}:                      0,
		{"", "", date, ""}:                                                   0,
	} {
		assert.Equal(t, fresh, freshFor(http.Header{"Cache-Control": fields[:1], "Expires": fields[1:2], "Date": fields[2:3], "Age": fields[3:]}), "%v", fields)
	}
}
