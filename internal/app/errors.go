package app

import (
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

func notFound(what, name, hint string) *Error {
	return &Error{Kind: NotFound, Code: what + "-not-found", What: fmt.Sprintf("There is no %s %q.", what, name), Hint: hint}
}

func faulty(code, what string, faults fault.List) *Error {
	e := &Error{Kind: Invalid, Code: code, What: what, Hint: "Correct the faults listed, then try again.", Faults: faults}
	if len(faults) == 1 {
		e.Field = faults[0].Field
	}
	return e
}
