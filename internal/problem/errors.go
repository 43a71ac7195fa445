// Package problem has the errors of use cases: what is wrong, where, and what to do next. Listeners
// turn them into responses.
package problem

import (
	"errors"
	"fmt"
	"time"

	"glasspocket/internal/fault"
)

// Kind is the kind of an Error. Listeners convert it to a status.
type Kind int

// The kinds.
const (
	Invalid         Kind = iota // the content of the request is wrong; see Faults
	Unauthenticated             // no credentials, or wrong ones
	Forbidden                   // signed in, but the role does not allow it
	NotFound                    // missing, or somebody else's
	Conflict                    // it already exists, or has changed since
	Precondition                // the given revision is not the current one
	TooMany                     // too many requests
	Unavailable                 // the store cannot read or write at present
)

// Error says what is wrong and what to do next.
type Error struct {
	Kind   Kind
	Code   string // stable, kebab-case
	What   string // a sentence
	Hint   string // a sentence
	Field  string // the field of the request with the fault, or ""
	Faults fault.List
	Wait   time.Duration // time until a new attempt makes sense; 0 if unknown
}

func (e *Error) Error() string { return e.What + " " + e.Hint }

// Missing returns the error for something that does not exist, or is somebody else's. what is its
// kind, as in "pocket".
func Missing(what, name, hint string) *Error {
	return &Error{Kind: NotFound, Code: what + "-not-found", What: fmt.Sprintf("There is no %s %q.", what, name), Hint: hint}
}

// Faulty returns the error for a request with faults.
func Faulty(code, what string, faults fault.List) *Error {
	e := &Error{Kind: Invalid, Code: code, What: what, Hint: "Correct the faults listed, then try again.", Faults: faults}
	if len(faults) == 1 {
		e.Field = faults[0].Field
	}
	return e
}

// Errors that a Store returns in addition to its own.
var (
	ErrNotFound = errors.New("not found")
	ErrExists   = errors.New("already exists")
	ErrChanged  = errors.New("changed by somebody else")
)
