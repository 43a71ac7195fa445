package wire

import (
	"encoding/json"
	"time"

	"glasspocket/internal/setting"
)

// ChangeCustomer changes a customer's defaults for new pockets, and sites. Missing members stay
// unchanged.
type ChangeCustomer struct {
	Name     *string  `json:"name,omitempty"`
	Zone     *string  `json:"zone,omitempty"`     // IANA name
	Language *string  `json:"language,omitempty"` // BCP 47 tag, "" for the widget's first
	Sites    []string `json:"sites,omitempty"`    // domains; an empty list deletes all
}

// Brand is the design that a customer's widgets share. Its ETag is the customer's revision.
type Brand struct {
	Revision int                  `json:"revision"`
	Values   []setting.BrandValue `json:"values"`
	Names    []BrandName          `json:"names"` // the names that widgets use
}

// BrandName is a name that widgets use.
type BrandName struct {
	Name  string `json:"name"`
	Type  string `json:"type"`
	Label string `json:"label"`
}

// NewBrand is a brand to save or try.
type NewBrand struct {
	Values []setting.BrandValue `json:"values"`
}

// Restyled lists the pockets that another brand would change.
type Restyled struct {
	Names   []string `json:"names"`   // of the values that differ
	Pockets []Pocket `json:"pockets"` // those that refer to one of them, in the draft or the live version
	Next    string   `json:"next,omitempty"`
}

// NewInvitation invites somebody to a customer.
type NewInvitation struct {
	Role string `json:"role"`
	Name string `json:"name,omitempty"` // the invited person, for people to read
}

// Invitation lets somebody join a customer, once. Secret and Link appear only when it is created.
type Invitation struct {
	ID        int64      `json:"id"`
	Role      string     `json:"role"`
	Name      string     `json:"name,omitempty"`
	CreatedAt time.Time  `json:"createdAt"`
	CreatedBy string     `json:"createdBy"`
	ExpiresAt time.Time  `json:"expiresAt"`
	UsedAt    *time.Time `json:"usedAt,omitempty"`
	UsedBy    string     `json:"usedBy,omitempty"`
	Secret    string     `json:"secret,omitempty"`
	Link      string     `json:"link,omitempty"` // address to open
}

// People are the people with access to a customer, and invitations.
type People struct {
	People      []User       `json:"people"`
	Invitations []Invitation `json:"invitations"`
}

// Secret identifies an invitation or a guest pocket.
type Secret struct {
	Secret string `json:"secret"`
}

// Invited is what an invitation is for.
type Invited struct {
	Customer string    `json:"customer"` // the customer's name
	Role     string    `json:"role"`
	Name     string    `json:"name,omitempty"`
	By       string    `json:"by"`
	Until    time.Time `json:"until"`
}

// Join accepts an invitation.
type Join struct {
	Secret   string `json:"secret"`
	Name     string `json:"name"`
	Password string `json:"password"`
}

// NewGuestPocket creates a pocket without an account.
type NewGuestPocket struct {
	Widget   string `json:"widget"`
	Starter  string `json:"starter,omitempty"`
	Language string `json:"language,omitempty"`
}

// GuestPocket is a pocket of somebody without an account. Anybody with Secret can continue with it.
type GuestPocket struct {
	Pocket Pocket    `json:"pocket"`
	Secret string    `json:"secret"`
	Until  time.Time `json:"until"` // it expires then, counted from its last change
}

// SignUp creates an account for the person with a guest pocket.
type SignUp struct {
	Customer string `json:"customer,omitempty"` // name of the business, club or person; the sign-in name if missing
	Name     string `json:"name"`
	Password string `json:"password"`
}

// Claim moves a guest pocket to the user's customer.
type Claim struct {
	Secret   string `json:"secret"`
	Customer string `json:"customer,omitempty"`
}

// NewJob starts a job for many pockets: those in Keys, or all in a list.
type NewJob struct {
	Does     string            `json:"does"` // "publish", "unpublish", "move", "duplicate", "delete" or "import"
	Keys     []string          `json:"keys,omitempty"`
	List     *List             `json:"list,omitempty"`
	Release  int               `json:"release,omitempty"`  // target release; the newest if missing
	Follow   *bool             `json:"follow,omitempty"`   // whether they follow the widget afterwards
	Customer string            `json:"customer,omitempty"` // target of copies or imports
	Files    []json.RawMessage `json:"files,omitempty"`    // pocket files to import
}

// List selects pockets, like listPockets.
type List struct {
	Customer string `json:"customer,omitempty"`
	Search   string `json:"search,omitempty"`
	Widget   string `json:"widget,omitempty"`
	State    string `json:"state,omitempty"`
	Behind   bool   `json:"behind,omitempty"`
}

// Job is a job for many pockets.
type Job struct {
	ID        string     `json:"id"`
	Does      string     `json:"does"`
	By        string     `json:"by"`
	CreatedAt time.Time  `json:"createdAt"`
	EndedAt   *time.Time `json:"endedAt,omitempty"`
	State     string     `json:"state"` // "running", "done", "cancelled" or "failed"
	Why       string     `json:"why,omitempty"`
	Of        int        `json:"of"`     // number of pockets
	Done      int        `json:"done"`   // number of pockets that are finished
	Failed    int        `json:"failed"` // number of pockets that failed
	// Failures are the pockets that failed, and Items those with a result. They are included when
	// one job is requested.
	Failures []JobItem `json:"failures,omitempty"`
	Made     []JobItem `json:"made,omitempty"`
}

// JobItem is one pocket of a job.
type JobItem struct {
	Key  string `json:"key"`
	Made string `json:"made,omitempty"` // key of the new pocket
	Why  string `json:"why,omitempty"`
	Hint string `json:"hint,omitempty"`
}

// Jobs lists jobs, the newest first.
type Jobs struct {
	Jobs []Job `json:"jobs"`
}

// Duplicate duplicates a pocket, for another customer if one is named.
type Duplicate struct {
	Customer string `json:"customer,omitempty"`
}

// Move publishes the live version again with another release.
type Move struct {
	Release int   `json:"release,omitempty"` // the newest if missing
	Follow  *bool `json:"follow,omitempty"`
}
