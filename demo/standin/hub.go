package standin

import (
	"bytes"
	"crypto/hmac"
	"crypto/rand"
	"crypto/sha256"
	"encoding/hex"
	"io"
	"net/http"
	"net/url"
	"sync"
	"time"
)

// subscription is a subscriber of a topic (WebSub, section 5).
type subscription struct{ callback, secret string }

// hub makes the stand-in its own WebSub hub at /hub.
func (s *StandIn) hub() {
	var mu sync.Mutex
	subscribers := map[string]map[string]subscription{} // by topic and callback
	client := &http.Client{Timeout: 10 * time.Second}
	s.mux.HandleFunc("POST /hub", func(w http.ResponseWriter, r *http.Request) {
		mode, topic, callback, secret := r.PostFormValue("hub.mode"), r.PostFormValue("hub.topic"), r.PostFormValue("hub.callback"), r.PostFormValue("hub.secret")
		at, err := url.Parse(callback)
		if err != nil || mode != "subscribe" && mode != "unsubscribe" || topic == "" {
			http.Error(w, "hub.mode, hub.topic and hub.callback are required", http.StatusBadRequest)
			return
		}
		w.WriteHeader(http.StatusAccepted)
		go func() { // verification of intent (section 5.3)
			challenge := rand.Text()
			q := at.Query()
			q.Set("hub.mode", mode)
			q.Set("hub.topic", topic)
			q.Set("hub.challenge", challenge)
			q.Set("hub.lease_seconds", "864000")
			at.RawQuery = q.Encode()
			res, err := client.Get(at.String())
			if err != nil {
				return
			}
			defer res.Body.Close()
			body, _ := io.ReadAll(io.LimitReader(res.Body, 1000))
			if res.StatusCode/100 != 2 || string(body) != challenge {
				return
			}
			mu.Lock()
			defer mu.Unlock()
			if subscribers[topic] == nil {
				subscribers[topic] = map[string]subscription{}
			}
			if delete(subscribers[topic], callback); mode == "subscribe" {
				subscribers[topic][callback] = subscription{callback, secret}
			}
		}()
	})
	s.hooks = append(s.hooks, func(path string) {
		mu.Lock()
		type delivery struct {
			topic string
			to    subscription
		}
		var due []delivery
		for topic, list := range subscribers {
			if u, err := url.Parse(topic); err == nil && u.Path == path {
				for _, to := range list {
					due = append(due, delivery{topic, to})
				}
			}
		}
		mu.Unlock()
		for _, d := range due {
			go func() { // content distribution (section 7), signed (section 7.1)
				u, _ := url.Parse(d.topic)
				r, err := http.NewRequest(http.MethodGet, d.topic, nil)
				if err != nil {
					return
				}
				r.Host = u.Host
				w := &recorder{header: http.Header{}}
				s.mux.ServeHTTP(w, r)
				ask, err := http.NewRequest(http.MethodPost, d.to.callback, bytes.NewReader(w.body.Bytes()))
				if err != nil {
					return
				}
				ask.Header.Set("Content-Type", w.Header().Get("Content-Type"))
				ask.Header.Set("Link", "<"+base(r)+"/hub>; rel=\"hub\", <"+d.topic+">; rel=\"self\"")
				if d.to.secret != "" {
					sum := hmac.New(sha256.New, []byte(d.to.secret))
					sum.Write(w.body.Bytes())
					ask.Header.Set("X-Hub-Signature", "sha256="+hex.EncodeToString(sum.Sum(nil)))
				}
				if res, err := client.Do(ask); err == nil {
					res.Body.Close()
				}
			}()
		}
	})
}

// announceHub names the hub in the header (WebSub, section 4).
func announceHub(w http.ResponseWriter, r *http.Request) {
	w.Header().Set("Link", "<"+base(r)+"/hub>; rel=\"hub\", <"+base(r)+r.URL.Path+">; rel=\"self\"")
}

// recorder keeps a response.
type recorder struct {
	header http.Header
	body   bytes.Buffer
}

func (r *recorder) Header() http.Header         { return r.header }
func (r *recorder) WriteHeader(int)             {}
func (r *recorder) Write(b []byte) (int, error) { return r.body.Write(b) }
