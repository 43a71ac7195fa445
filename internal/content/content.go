// Package content has what a customer sets in a pocket, as one value. The draft, each publication, a
// scheduled publication and the exported file of a pocket all contain it.
package content

import (
	"glasspocket/internal/setting"
)

// Content is everything that a customer sets in a pocket. To add a field, add it to Extras, in
// extras.go.
type Content struct {
	Title    string `json:"title" db:"-"`
	Language string `json:"language" db:"-"` // BCP 47
	// Settings of a draft also contain those of other releases; see setting.Schema.Carried.
	Settings setting.Values `json:"settings" db:"-"`
	Extras   `db:"-"`
	Follow   bool `json:"follow,omitempty" db:"-"` // shown with the widget's newest release, not with a pinned one
}
