package wire

import (
	"encoding/json"
	"time"

	"glasspocket/internal/setting"
)

// ChangeCustomer changes what new pockets of a customer begin with, and where they stand; what
// is left out stays.
type ChangeCustomer struct {
	Name     *string  `json:"name,omitempty"`
	Zone     *string  `json:"zone,omitempty"`     // IANA name
	Language *string  `json:"language,omitempty"` // BCP 47 tag, "" for the widget's first
	Sites    []string `json:"sites,omitempty"`    // domains; an empty list takes all away
}

// Brand is what a customer's widgets have in common. Its ETag is the customer's revision.
type Brand struct {
	Revision int                  `json:"revision"`
	Values   []setting.BrandValue `json:"values"`
	Names    []BrandName          `json:"names"` // those that widgets know
}

// BrandName is a name that widgets know.
type BrandName struct {
	Name  string `json:"name"`
	Type  string `json:"type"`
	Label string `json:"label"`
}

// NewBrand is a brand that somebody wants.
type NewBrand struct {
	Values []setting.BrandValue `json:"values"`
}

// Restyled tells which pockets another brand would change.
type Restyled struct {
	Names   []string `json:"names"`   // of values that differ
	Pockets []Pocket `json:"pockets"` // that refer to one of them, in draft or publication
	Next    string   `json:"next,omitempty"`
}

// NewInvitation invites somebody to a customer.
type NewInvitation struct {
	Role string `json:"role"`
	Name string `json:"name,omitempty"` // of who is invited, for people
}

// Invitation lets somebody join a customer, once. Secret and Link are told when it is made.
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
	Link      string     `json:"link,omitempty"` // where the invited go
}

// People are those of a customer, and those who are invited.
type People struct {
	People      []User       `json:"people"`
	Invitations []Invitation `json:"invitations"`
}

// Secret names an invitation or a draft by its secret.
type Secret struct {
	Secret string `json:"secret"`
}

// Invited is what an invitation is to.
type Invited struct {
	Customer string    `json:"customer"` // name
	Role     string    `json:"role"`
	Name     string    `json:"name,omitempty"`
	By       string    `json:"by"`
	Until    time.Time `json:"until"`
}

// Join takes an invitation up.
type Join struct {
	Secret   string `json:"secret"`
	Name     string `json:"name"`
	Password string `json:"password"`
}

// NewGuestPocket starts a pocket without an account.
type NewGuestPocket struct {
	Widget   string `json:"widget"`
	Starter  string `json:"starter,omitempty"`
	Language string `json:"language,omitempty"`
}

// GuestPocket is a pocket that somebody without an account has begun. Whoever has Secret may go on
// with it.
type GuestPocket struct {
	Pocket Pocket    `json:"pocket"`
	Secret string    `json:"secret"`
	Until  time.Time `json:"until"` // it is kept, after it was last changed
}

// SignUp makes an account for who has begun a pocket.
type SignUp struct {
	Customer string `json:"customer"` // name of the business, club or person
	Name     string `json:"name"`
	Password string `json:"password"`
}

// Claim takes a pocket that was begun without an account over.
type Claim struct {
	Secret   string `json:"secret"`
	Customer string `json:"customer,omitempty"`
}

// NewJob begins long work on many pockets: those of Keys, or all that a list has.
type NewJob struct {
	Does     string            `json:"does"` // "publish", "unpublish", "move", "duplicate", "delete" or "import"
	Keys     []string          `json:"keys,omitempty"`
	List     *List             `json:"list,omitempty"`
	Release  int               `json:"release,omitempty"`  // to move to; the newest when left out
	Follow   *bool             `json:"follow,omitempty"`   // from then on
	Customer string            `json:"customer,omitempty"` // to copy or to import to
	Files    []json.RawMessage `json:"files,omitempty"`    // to import
}

// List says which pockets are meant, as listPockets does.
type List struct {
	Customer string `json:"customer,omitempty"`
	Search   string `json:"search,omitempty"`
	Widget   string `json:"widget,omitempty"`
	State    string `json:"state,omitempty"`
	Behind   bool   `json:"behind,omitempty"`
}

// Job is long work on many pockets.
type Job struct {
	ID        string     `json:"id"`
	Does      string     `json:"does"`
	By        string     `json:"by"`
	CreatedAt time.Time  `json:"createdAt"`
	EndedAt   *time.Time `json:"endedAt,omitempty"`
	State     string     `json:"state"` // "running", "done", "cancelled" or "failed"
	Why       string     `json:"why,omitempty"`
	Of        int        `json:"of"`     // pockets
	Done      int        `json:"done"`   // of those
	Failed    int        `json:"failed"` // likewise
	// Items are those that failed, and those that something came of; told when one job is asked
	// for.
	Failures []JobItem `json:"failures,omitempty"`
	Made     []JobItem `json:"made,omitempty"`
}

// JobItem is one pocket of a job.
type JobItem struct {
	Key  string `json:"key"`
	Made string `json:"made,omitempty"` // key of what came of it
	Why  string `json:"why,omitempty"`
	Hint string `json:"hint,omitempty"`
}

// Jobs lists jobs, the newest first.
type Jobs struct {
	Jobs []Job `json:"jobs"`
}

// Duplicate duplicates a pocket, to another customer when one is named.
type Duplicate struct {
	Customer string `json:"customer,omitempty"`
}

// Move publishes what visitors get once more, with another release.
type Move struct {
	Release int   `json:"release,omitempty"` // the newest when left out
	Follow  *bool `json:"follow,omitempty"`
}
