package wire

import (
	"encoding/json"
	"time"

	"glasspocket/hosts"
	"glasspocket/internal/app/install"
	"glasspocket/internal/host"
)

// Host is a host profile in a list.
type Host struct {
	Name     string   `json:"name"`
	Title    string   `json:"title"`
	Summary  string   `json:"summary"`
	Signs    []string `json:"signs"`
	Wheres   []string `json:"wheres"`
	Language string   `json:"language"`
	Own      bool     `json:"own,omitempty"`  // written by the operator, or with the operator's version
	Ours     bool     `json:"ours,omitempty"` // included in the product
}

// Hosts lists the host profiles.
type Hosts struct {
	Hosts      []Host            `json:"hosts"`
	Wheres     map[string]string `json:"wheres"` // labels by name
	Deliveries []host.About      `json:"deliveries"`
	Proved     []hosts.Proof     `json:"proved"` // results of the host lab
}

// HostProfile is a complete host profile. Profile is the file of the operator's version, if there
// is one.
type HostProfile struct {
	Host     host.Profile    `json:"host"`
	Profile  json.RawMessage `json:"profile,omitempty"`
	Revision int             `json:"revision"` // of the operator's version; 0 for none
	Ours     bool            `json:"ours"`
	Images   []string        `json:"images"`
	Proved   []hosts.Proof   `json:"proved"` // results of the host lab
}

// SaveHost saves an operator's profile. Revision is that of the one it replaces, 0 for none. With
// DryRun nothing is saved.
type SaveHost struct {
	Profile  json.RawMessage `json:"profile"`
	Revision int             `json:"revision"`
	DryRun   bool            `json:"dryRun,omitempty"`
}

// NewImage is an image for steps.
type NewImage struct {
	Bytes []byte `json:"bytes"`
}

// Places lists where a customer installed pockets, the last used first.
type Places struct {
	Places []install.UsedPlace `json:"places"`
}

// NewPlace is where a pocket was installed. Address is the page's, if it is known.
type NewPlace struct {
	Address string `json:"address,omitempty"`
	Host    string `json:"host"`
	Where   string `json:"where"`
}

// Guided is the result for a pocket, host and wish: the choice among all deliveries, and the steps
// for one.
type Guided struct {
	Install install.Install `json:"install"` // the request, with defaults filled in
	Wheres  []string        `json:"wheres"`  // those that the host has
	Choice  host.Choice     `json:"choice"`
	Guide   *host.Guide     `json:"guide,omitempty"` // missing if nothing can be installed there
	Needs   host.Needs      `json:"needs"`
	Sealed  *Sealed         `json:"sealed,omitempty"` // what the sealed delivery is pinned to
	Page    string          `json:"page"`             // address of the pocket's own page
	Base    string          `json:"base"`             // base of the public addresses
}

// Sealed is a publication as a script that never changes.
type Sealed struct {
	Publication int       `json:"publication"`
	Newest      bool      `json:"newest"` // it is the same as the live version
	Address     string    `json:"address"`
	Integrity   string    `json:"integrity"`
	Policy      string    `json:"policy"`
	At          time.Time `json:"at"`
	By          string    `json:"by"`
}

// NewHandover creates a page with the steps for somebody without an account.
type NewHandover struct {
	Install install.Install `json:"install"`
	Note    string          `json:"note,omitempty"`
}

// Handover is such a page. Link appears only when it is created.
type Handover struct {
	ID        int64           `json:"id"`
	Install   install.Install `json:"install"`
	Note      string          `json:"note,omitempty"`
	CreatedAt time.Time       `json:"createdAt"`
	By        string          `json:"by"`
	SeenAt    *time.Time      `json:"seenAt,omitempty"`
	Link      string          `json:"link,omitempty"`
}

// Handovers lists a pocket's handovers, the newest first.
type Handovers struct {
	Handovers []Handover `json:"handovers"`
}

// HandedOver is the content of a handover's page.
type HandedOver struct {
	Title    string `json:"title"` // the pocket's title
	Customer string `json:"customer"`
	Note     string `json:"note,omitempty"`
	By       string `json:"by"`
	Guided
}
