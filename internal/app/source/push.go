package source

import (
	"context"
	"crypto/hmac"
	"crypto/rand"
	"crypto/sha1" // WebSub, section 8: subscribers have to know it
	"crypto/sha256"
	"crypto/sha512"
	"encoding/hex"
	"hash"
	"net/url"
	"strconv"
	"strings"
	"time"
)

// Push is a source's subscription at a WebSub hub. A hub reports changes at once, so that the source
// is fetched rarely otherwise.
type Push struct {
	Hub     string    `json:"hub,omitempty"`
	Topic   string    `json:"topic,omitempty"`
	Secret  string    `json:"secret,omitempty"` // encrypted, in hexadecimal; signs what the hub sends
	AskedAt time.Time `json:"askedAt,omitzero"`
	Until   time.Time `json:"until,omitzero"` // the hub has confirmed it until then
	Why     string    `json:"why,omitempty"`  // the hub has refused it
	Token   string    `json:"-"`              // in the address that the hub calls
}

// Times of subscriptions.
const (
	pushLasts  = 10 * 24 * time.Hour
	pushRenew  = 24 * time.Hour // before its end
	pushRetry  = 12 * time.Hour // after a request that the hub has not confirmed
	pushPause  = 3 * time.Second
	leaseLeast = time.Hour
)

// Pushed reports whether the source reports its changes by itself.
func (src Source) Pushed() bool {
	return src.Push.Until.After(src.Progress.CheckedAt) && !src.Push.Until.IsZero()
}

// subscribe asks the hub of a source to report its changes, if it has one and the present
// subscription ends soon. Failures are not the source's: it is fetched as usual.
func (a *Sources) subscribe(ctx context.Context, src Source) {
	now := a.now()
	hub, topic := src.About.Hub, src.About.Topic
	if topic == "" {
		topic = src.Address
	}
	p := src.Push
	same := p.Hub == hub && p.Topic == topic
	switch {
	case hub == "" || src.SecretIn != "": // a hub cannot read what needs a token
		return
	case same && p.Until.Sub(now) > pushRenew, same && now.Sub(p.AskedAt) < pushRetry:
		return
	}
	secret := rand.Text()
	next := Push{Hub: hub, Topic: topic, Secret: hex.EncodeToString(a.vault.Seal(secret, src.ID)), AskedAt: now, Token: rand.Text()}
	if same { // what the hub sends until it confirms is signed with the present secret
		next.Until = p.Until
	}
	if err := a.store.SavePush(ctx, src.ID, next); err != nil {
		return
	}
	form := url.Values{"hub.mode": {"subscribe"}, "hub.topic": {topic}, "hub.callback": {a.base + "/hub/" + next.Token}, "hub.secret": {secret}, "hub.lease_seconds": {strconv.Itoa(int(pushLasts.Seconds()))}}
	if err := a.web.Post(ctx, hub, form); err != nil {
		next.Why = asFailure(err).What
		_ = a.store.SavePush(ctx, src.ID, next)
	}
}

// ConfirmPush answers a hub that asks whether a subscription is wanted (WebSub, section 5.3). It
// also takes that the hub has refused it (section 5.2).
func (a *Sources) ConfirmPush(ctx context.Context, token, mode, topic string, lease int) bool {
	src, err := a.store.PushedSource(ctx, token)
	if err != nil || src.Push.Topic != topic {
		return mode == "unsubscribe" && err != nil // nobody wants it
	}
	switch mode {
	case "subscribe":
		lasts := min(max(time.Duration(lease)*time.Second, leaseLeast), 2*pushLasts)
		src.Push.Until, src.Push.Why = a.now().Add(lasts), ""
	case "denied":
		src.Push.Until, src.Push.Why = time.Time{}, "The hub has refused the subscription."
	default:
		return false
	}
	return a.store.SavePush(ctx, src.ID, src.Push) == nil
}

// ReceivePush takes what a hub sends: the source has changed. known is false for an address that is
// not a subscription's. Content with a wrong signature is ignored (WebSub, section 8).
func (a *Sources) ReceivePush(ctx context.Context, token, signature string, body []byte) (known bool) {
	src, err := a.store.PushedSource(ctx, token)
	if err != nil {
		return false
	}
	sealed, err := hex.DecodeString(src.Push.Secret)
	if err != nil {
		return true
	}
	secret, err := a.vault.Unseal(sealed, src.ID)
	if err != nil || !signed(signature, secret, body) {
		a.notice("a hub has sent content with a wrong signature, which was ignored", "source", src.ID)
		return true
	}
	a.pushes.Store(src.ID, a.now())
	if err := a.store.FetchSoon(ctx, src.ID, a.now(), pushPause); err == nil {
		a.wake()
	}
	return true
}

// signed reports whether a signature, "sha256=…", is that of a body (WebSub, section 7.1).
func signed(signature, secret string, body []byte) bool {
	method, given, ok := strings.Cut(signature, "=")
	make := map[string]func() hash.Hash{"sha1": sha1.New, "sha256": sha256.New, "sha384": sha512.New384, "sha512": sha512.New}[method]
	sum, err := hex.DecodeString(given)
	if !ok || make == nil || err != nil {
		return false
	}
	h := hmac.New(make, []byte(secret))
	h.Write(body)
	return hmac.Equal(h.Sum(nil), sum)
}
