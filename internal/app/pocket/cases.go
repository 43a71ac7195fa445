package pocket

import (
	"context"
	"errors"
	"fmt"
	"reflect"
	"slices"
	"strings"
	"unicode/utf8"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/audit"
	"glasspocket/internal/problem"
	"glasspocket/internal/widget"
)

// Case is a named condition for viewing a pocket.
type Case struct {
	Name string
	Conditions
}

// Sound returns a case with a valid name and conditions.
func (c Case) Sound(m widget.Manifest) (Case, error) {
	if c.Name = strings.TrimSpace(c.Name); c.Name == "" || utf8.RuneCountInString(c.Name) > 60 {
		return c, &problem.Error{Kind: problem.Invalid, Code: "case-name", Field: "name", What: "A preview case needs a name of at most 60 characters.", Hint: "Name it after its content."}
	}
	if err := problem.Showable("name", c.Name); err != nil {
		return c, err
	}
	return c, c.check(m)
}

// CasesMost is the largest number of a pocket's preview cases.
const CasesMost = 24

// Cases lists a pocket's preview cases.
func (a *Pockets) Cases(ctx context.Context, s access.Scope, key string) ([]Case, error) {
	if _, err := a.Get(ctx, s, key); err != nil {
		return nil, err
	}
	return a.store.PreviewCases(ctx, key)
}

// SaveCase saves a preview case. It replaces one with the same name.
func (a *Pockets) SaveCase(ctx context.Context, s access.Scope, key string, c Case) error {
	p, err := a.Get(ctx, s, key)
	if err != nil {
		return err
	}
	if err := s.Require(access.EditPockets); err != nil {
		return err
	}
	w, err := a.releases.For(ctx, p.Widget, p.Lot)
	if err != nil {
		return err
	}
	if c, err = c.Sound(w.Release.Manifest); err != nil {
		return err
	}
	list, err := a.store.PreviewCases(ctx, key)
	if err != nil {
		return err
	}
	if slices.ContainsFunc(list, func(other Case) bool { return reflect.DeepEqual(other, c) }) {
		return nil // it exists unchanged
	}
	there := slices.ContainsFunc(list, func(other Case) bool { return other.Name == c.Name })
	if !there && len(list) >= CasesMost {
		return &problem.Error{Kind: problem.Conflict, Code: "too-many-cases", What: fmt.Sprintf("A pocket can have at most %d preview cases.", CasesMost), Hint: "Delete one first."}
	}
	return a.store.SavePreviewCase(ctx, key, c, audit.NewRecord(s, a.now(), audit.Entry{CustomerID: p.CustomerID, Did: "change", Kind: "pocket", Of: key, Names: []string{"preview case " + c.Name}}))
}

// DeleteCase deletes a preview case.
func (a *Pockets) DeleteCase(ctx context.Context, s access.Scope, key, name string) error {
	p, err := a.Get(ctx, s, key)
	if err != nil {
		return err
	}
	if err := s.Require(access.EditPockets); err != nil {
		return err
	}
	err = a.store.DeletePreviewCase(ctx, key, name, audit.NewRecord(s, a.now(), audit.Entry{CustomerID: p.CustomerID, Did: "change", Kind: "pocket", Of: key, Note: "preview case " + name + " (deleted)"}))
	if errors.Is(err, problem.ErrNotFound) {
		return problem.Missing("case", name, "List the pocket's preview cases to see their names.")
	}
	return err
}
