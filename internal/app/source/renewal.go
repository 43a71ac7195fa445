package source

import (
	"encoding/json"
	"fmt"
	"time"

	"glasspocket/internal/work"
)

// RenewTask is the name of the kind of task that renders the pockets of a source again.
const RenewTask = "renew"

// Renewal is what such a task is about.
type Renewal struct {
	Source string `json:"source,omitempty"`
	Pocket string `json:"pocket,omitempty"` // or the key of a single pocket
	After  string `json:"after,omitempty"`  // key of the last pocket that is done
}

// RenewalOf returns the task that renders the pockets again that use a source, after its items have
// moved to a revision.
func RenewalOf(id, customer, name string, revision int64, now time.Time) work.Task {
	about, _ := json.Marshal(Renewal{Source: id})
	return work.Task{Kind: RenewTask, Key: fmt.Sprint(id, " ", revision), CustomerID: customer, Of: name, About: about, CreatedAt: now, Due: now}
}
