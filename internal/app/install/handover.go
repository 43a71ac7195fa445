package install

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"strings"
	"time"
	"unicode/utf8"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/audit"
	"glasspocket/internal/problem"
)

// Handover is a page with the steps for a pocket, for somebody without an account, such as a
// customer's webmaster. Anybody with its link sees it until it is revoked.
type Handover struct {
	ID         int64      `db:"id"`
	Key        string     `db:"key"`
	CustomerID string     `db:"customer_id"`
	About      []byte     `db:"about"` // an Install
	Note       string     `db:"note"`  // for the webmaster
	CreatedAt  time.Time  `db:"created_at"`
	CreatedBy  string     `db:"created_by"`
	SeenAt     *time.Time `db:"seen_at"`
}

// HandoversMost is the largest number of handovers of a pocket.
const HandoversMost = 50

// HandOver creates a page with the steps for an Install. The result is the only place where the
// secret of its link appears.
func (a *Installs) HandOver(ctx context.Context, s access.Scope, key string, about Install, note string) (h Handover, secret string, err error) {
	if err := s.Require(access.PublishPockets); err != nil {
		return h, "", err
	}
	g, err := a.Guide(ctx, s, key, about)
	if err != nil {
		return h, "", err
	}
	if g.Guide == nil {
		return h, "", &problem.Error{Kind: problem.Conflict, Code: "form-unfit", Field: "host", What: "This pocket cannot be installed there.", Hint: "Choose another host."}
	}
	if note = strings.TrimSpace(note); utf8.RuneCountInString(note) > 500 {
		return h, "", &problem.Error{Kind: problem.Invalid, Code: "note-too-long", Field: "note", What: "A note can have at most 500 characters.", Hint: "Shorten it."}
	}
	list, err := a.store.Handovers(ctx, key)
	if err != nil {
		return h, "", err
	}
	if len(list) >= HandoversMost {
		return h, "", &problem.Error{Kind: problem.Conflict, Code: "too-many-handovers", What: fmt.Sprintf("A pocket can have at most %d handovers.", HandoversMost), Hint: "Revoke one that is no longer needed."}
	}
	secret = access.Secret()
	text, _ := json.Marshal(g.Install)
	h = Handover{Key: key, CustomerID: g.pub.CustomerID, About: text, Note: note, CreatedAt: a.now(), CreatedBy: s.Name}
	h.ID, err = a.store.AddHandover(ctx, h, access.Digest(secret), audit.NewRecord(s, a.now(), audit.Entry{CustomerID: g.pub.CustomerID, Did: "hand-over", Kind: "pocket", Of: key, Note: g.Guide.Title}))
	return h, secret, err
}

// Handovers lists a pocket's handovers, the newest first.
func (a *Installs) Handovers(ctx context.Context, s access.Scope, key string) ([]Handover, error) {
	if err := s.Require(access.PublishPockets); err != nil {
		return nil, err
	}
	if _, err := a.pockets.Get(ctx, s, key); err != nil {
		return nil, err
	}
	return a.store.Handovers(ctx, key)
}

// RevokeHandover revokes a handover: its link stops working with the next request.
func (a *Installs) RevokeHandover(ctx context.Context, s access.Scope, key string, id int64) error {
	if err := s.Require(access.PublishPockets); err != nil {
		return err
	}
	p, err := a.pockets.Get(ctx, s, key)
	if err != nil {
		return err
	}
	err = a.store.RevokeHandover(ctx, key, id, audit.NewRecord(s, a.now(), audit.Entry{CustomerID: p.CustomerID, Did: "revoke", Kind: "handover", Of: fmt.Sprint(id)}))
	if errors.Is(err, problem.ErrNotFound) {
		return problem.Missing("handover", fmt.Sprint(id), "List the pocket's handovers to see their numbers.")
	}
	return err
}

// HandedOver returns the content of a handover's page by the secret of its link: the steps for the
// current live version.
func (a *Installs) HandedOver(ctx context.Context, secret, address string) (h Handover, g Guided, err error) {
	now, from := a.now(), access.Limit{Whose: "steps from " + access.From(address), Most: access.AddressAttempts}
	err = a.attempts.Try(now, access.TooManyLinks(), func() (madeUp bool, err error) {
		h, err = a.store.SeeHandover(ctx, access.Digest(secret), now)
		return errors.Is(err, problem.ErrNotFound), err
	}, from)
	if errors.Is(err, problem.ErrNotFound) {
		return h, g, &problem.Error{Kind: problem.NotFound, Code: "handover-ended", What: "This handover has been revoked, or the link is incomplete.", Hint: "Ask the sender for a new link."}
	}
	if err != nil {
		return h, g, err
	}
	var about Install
	if err := json.Unmarshal(h.About, &about); err != nil {
		return h, g, err
	}
	as := access.Scope{Role: access.CustomerViewer, CustomerID: h.CustomerID, Name: "webmaster", Client: "handover"}
	g, err = a.Guide(ctx, as, h.Key, about)
	return h, g, err
}
