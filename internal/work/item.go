// Package work has background work.
package work

import (
	"encoding/json"
)

// Item is one pocket of a job.
type Item struct {
	Job     string          `db:"job"`
	Number  int             `db:"number"`  // from 1
	Key     string          `db:"key"`     // of the pocket; for an import, its title
	Ask     json.RawMessage `db:"ask"`     // the file to import, or nil
	Outcome string          `db:"outcome"` // "", "done" or "failed"
	Made    string          `db:"made"`    // key of the result
	Why     string          `db:"why"`
	Hint    string          `db:"hint"`
}
