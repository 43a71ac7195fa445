package wire

import (
	"encoding/json"
	"time"

	"glasspocket/hosts"
	"glasspocket/internal/app"
	"glasspocket/internal/host"
)

// Host is a kind of host in a list.
type Host struct {
	Name     string   `json:"name"`
	Title    string   `json:"title"`
	Summary  string   `json:"summary"`
	Signs    []string `json:"signs"`
	Wheres   []string `json:"wheres"`
	Language string   `json:"language"`
	Own      bool     `json:"own,omitempty"`  // the operator wrote it, or has a version of their own
	Ours     bool     `json:"ours,omitempty"` // it ships
}

// Hosts lists the kinds of host that there are.
type Hosts struct {
	Hosts      []Host            `json:"hosts"`
	Wheres     map[string]string `json:"wheres"` // in words, by name
	Deliveries []host.About      `json:"deliveries"`
	Proved     []hosts.Proof     `json:"proved"` // what the host lab has shown
}

// HostProfile is a kind of host with everything that is known of it. Profile is the file of the
// operator's own version, when there is one.
type HostProfile struct {
	Host     host.Profile    `json:"host"`
	Profile  json.RawMessage `json:"profile,omitempty"`
	Revision int             `json:"revision"` // of the own version; 0 for none
	Ours     bool            `json:"ours"`
	Images   []string        `json:"images"`
	Proved   []hosts.Proof   `json:"proved"` // what the host lab has shown of it
}

// SaveHost keeps an operator's own profile. Revision is that of the one it replaces, 0 for none;
// with DryRun nothing is saved.
type SaveHost struct {
	Profile  json.RawMessage `json:"profile"`
	Revision int             `json:"revision"`
	DryRun   bool            `json:"dryRun,omitempty"`
}

// NewImage is a picture that steps name.
type NewImage struct {
	Bytes []byte `json:"bytes"`
}

// Guided is what there is for one pocket, host and wish: the choice among all forms, and the
// steps for one.
type Guided struct {
	Install app.Install `json:"install"` // as it was asked, with what was left out
	Wheres  []string    `json:"wheres"`  // that the host has
	Choice  host.Choice `json:"choice"`
	Guide   *host.Guide `json:"guide,omitempty"` // none when nothing can be brought there
	Needs   host.Needs  `json:"needs"`
	Sealed  *Sealed     `json:"sealed,omitempty"` // what the sealed form is pinned to
	Page    string      `json:"page"`             // address of the pocket's own page
	Base    string      `json:"base"`             // of what visitors ask for
}

// Sealed is a publication as a script that never changes.
type Sealed struct {
	Publication int       `json:"publication"`
	Newest      bool      `json:"newest"` // it is what visitors get otherwise
	Address     string    `json:"address"`
	Integrity   string    `json:"integrity"`
	Policy      string    `json:"policy"`
	At          time.Time `json:"at"`
	By          string    `json:"by"`
}

// NewHandover asks for a page with the steps for somebody without an account.
type NewHandover struct {
	Install app.Install `json:"install"`
	Note    string      `json:"note,omitempty"`
}

// Handover is such a page. Link is told once, when it is made.
type Handover struct {
	ID        int64       `json:"id"`
	Install   app.Install `json:"install"`
	Note      string      `json:"note,omitempty"`
	CreatedAt time.Time   `json:"createdAt"`
	By        string      `json:"by"`
	SeenAt    *time.Time  `json:"seenAt,omitempty"`
	Link      string      `json:"link,omitempty"`
}

// Handovers lists a pocket's pages, the newest first.
type Handovers struct {
	Handovers []Handover `json:"handovers"`
}

// HandedOver is what such a page shows.
type HandedOver struct {
	Title    string `json:"title"` // of the pocket
	Customer string `json:"customer"`
	Note     string `json:"note,omitempty"`
	By       string `json:"by"`
	Guided
}
