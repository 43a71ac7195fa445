// Package audit records who changed what, when, and from where.
package audit

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"glasspocket/internal/app/access"
	"glasspocket/internal/problem"
	"glasspocket/internal/work"
)

// Log reads the audit. Entries are written with the changes that they describe; see Record.
type Log struct{ store Store }

// New returns a Log.
func New(store Store) *Log { return &Log{store} }

// Entry is an entry of the audit: who changed what, when, and from where.
type Entry struct {
	ID         int64     `db:"id"`
	At         time.Time `db:"at"`
	Since      time.Time `db:"since"`       // time of the first of several combined entries
	CustomerID string    `db:"customer_id"` // the owner of the changed object, "" for the operator
	By         string    `db:"by"`
	Client     string    `db:"client"`
	Did        string    `db:"did"`  // see deeds
	Kind       string    `db:"kind"` // kind of the changed object
	Of         string    `db:"of"`   // its key, name or ID
	Names      []string  `db:"-"`    // what was changed in it: keys of settings
	Number     int       `db:"number"`
	Note       string    `db:"note"`
}

// deeds has the text for each kind of entry. %s is the object with its kind, %n the number, %w the
// names, %m the note.
var deeds = map[string]string{
	"seal":               "sealed publication %n of %s",
	"hand-over":          "handed %s over to a webmaster%m",
	"image":              "changed an image of %s%m",
	"add":                "made %s%m",
	"start":              "started %s%m",
	"delete":             "deleted %s",
	"revoke":             "revoked %s",
	"change":             "changed %s%w%m",
	"publish":            "published %s as number %n%m",
	"restore":            "restored number %m of %s as number %n",
	"unpublish":          "unpublished %s",
	"schedule":           "scheduled for %s%m",
	"cancel-schedule":    "cancelled a schedule of %s%m",
	"withhold":           "withheld %s%m",
	"bring-back":         "stopped withholding %s",
	"release":            "released number %n of %s%m",
	"withdraw":           "withdrew release %n of %s",
	"bring-back-release": "put release %n of %s back into use",
	"share":              "rolled release %n of %s out to %m% of pockets",
	"password":           "changed the password of %s",
	"upload":             "uploaded %s%m",
	"connect":            "connected %s%m",
	"duplicate":          "duplicated %s%m",
	"import":             "imported %s%m",
	"move":               "moved %s to release %n",
	"invite":             "invited somebody to %s%m",
	"join":               "joined %s%m",
	"claim":              "claimed %s%m",
	"stop":               "cancelled %s%m",
	"run":                "ran %s now%m",
}

// Sentence describes the entry in words, without who and when.
func (e Entry) Sentence() string {
	words, known := deeds[e.Did]
	if !known {
		words = e.Did + " %s"
	}
	names, note := "", ""
	if len(e.Names) > 0 {
		names = ": " + problem.List(e.Names)
	}
	if e.Note != "" {
		note = e.Note
		if strings.HasSuffix(words, "%m") {
			note = ": " + note
		}
	}
	of := strings.TrimSpace(e.Kind + " " + e.Of)
	return strings.NewReplacer("%s", of, "%n", fmt.Sprint(e.Number), "%w", names, "%m", note).Replace(words)
}

// together is the time within which one person's changes of a draft are combined.
const together = 10 * time.Minute

// Joins reports whether e continues last, so that a hundred keystrokes become one entry.
func (e Entry) Joins(last Entry) bool {
	return e.Did == "change" && last.Did == e.Did && len(e.Names) > 0 && last.Kind == e.Kind && last.Of == e.Of &&
		last.By == e.By && last.Client == e.Client && last.Note == e.Note && e.At.Sub(last.Since) < together && !e.At.Before(last.Since)
}

// Joined combines both entries.
func (e Entry) Joined(last Entry) Entry {
	e.ID, e.Since = last.ID, last.Since
	names := slices.Clone(last.Names)
	for _, n := range e.Names {
		if !slices.Contains(names, n) {
			names = append(names, n)
		}
	}
	e.Names = names
	return e
}

// Record is what a write stores besides the change itself, in the same transaction: there is no
// change without its entry, and no entry without its change.
type Record struct {
	Entry
	Task *work.Completion // of the task that the change finishes, or nil
}

// NewRecord returns the record of a change by s.
func NewRecord(s access.Scope, at time.Time, e Entry) *Record {
	e.At, e.Since, e.By, e.Client = at, at, s.Name, s.Client
	return &Record{e, s.Task}
}

// Skip is for a write that changed nothing, so that there is nothing to record.
func (r *Record) Skip() {
	if r != nil {
		r.Did = ""
	}
}

// SetNumber sets the number of what a write created.
func (r *Record) SetNumber(number int) {
	if r != nil {
		r.Number = number
	}
}

// Query filters the audit.
type Query struct {
	CustomerID string // "" for all that are visible
	Kind, Of   string // those of one object
	Before     int64  // ID of an entry; 0 for the newest
	Limit      int
}

// List lists who changed what, the newest first.
func (a *Log) List(ctx context.Context, s access.Scope, q Query) ([]Entry, error) {
	if err := s.Require(access.SeeLists); err != nil {
		return nil, err
	}
	if only := s.Only(); !s.Operator() {
		if q.CustomerID != "" && q.CustomerID != only {
			return nil, access.NoCustomer(q.CustomerID)
		}
		q.CustomerID = only
	}
	return a.store.Audit(ctx, q)
}
