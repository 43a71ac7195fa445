package app

import (
	"fmt"
	"time"

	"glasspocket/internal/fault"
)

// Kind is what sort of refusal an Error is; doors turn it into a status.
type Kind int

// The kinds.
const (
	Invalid         Kind = iota // the request's content is wrong; see Faults
	Unauthenticated             // nobody, or the wrong password or token
	Forbidden                   // known, but this role may not
	NotFound                    // not there, or somebody else's
	Conflict                    // it already exists, or has changed meanwhile
	Precondition                // the revision named is not the current one
	TooMany                     // asked too often
	Unavailable                 // the store cannot answer or write now
)

// Error is a refusal that says what is wrong and what to do next.
type Error struct {
	Kind   Kind
	Code   string // stable, kebab-case
	What   string // a sentence
	Hint   string // a sentence
	Field  string // the request's field at fault, if one is
	Faults fault.List
	Wait   time.Duration // until it is worth trying again; 0 when unknown
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
