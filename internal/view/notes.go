package view

import (
	"regexp"
	"strings"

	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
)

// Place is the place of a name in a view.
type Place struct {
	Name         string
	Line, Column int
}

// notes are what the rest of the service needs to know about a view's markup.
type notes struct {
	slots, facts, texts []Place
	warnings            fault.List
}

// Slots lists the places for the page's own content.
func (v *View) Slots() []Place { return v.notes.slots }

// Facts lists the places that show the page's facts or depend on them.
func (v *View) Facts() []Place { return v.notes.facts }

// Texts lists the elements whose text is a setting's, by data-text.
func (v *View) Texts() []Place { return v.notes.texts }

// Warnings lists what will cause problems later.
func (v *View) Warnings() fault.List { return v.notes.warnings }

// Calls reports whether the view calls a function.
func (v *View) Calls(function string) bool { return v.called[function] }

func newPlace(text string, offset int, name string) Place {
	line, column := jsondoc.Place([]byte(text), offset)
	return Place{name, line, column}
}

func (n *notes) warn(text string, offset int, code fault.Code, what, fix string) {
	line, column := jsondoc.Place([]byte(text), offset)
	n.warnings = append(n.warnings, fault.Fault{Line: line, Column: column, Code: code, What: what, Fix: fix, Warning: true})
}

var (
	// relativeForm matches addresses that are relative to the page that contains the widget.
	relativeForm = regexp.MustCompile(`(?i)^\s*[^\s#/{][^:]*$|^\s*/[^/]`)
	remoteForm   = regexp.MustCompile(`(?i)^\s*(https?:)?//`)
	nameForm     = regexp.MustCompile(`(?i)\sname\s*=\s*["']?([^"'\s>]*)`)
)

func slotName(tag string) string {
	if m := nameForm.FindStringSubmatch(tag); m != nil {
		return m[1]
	}
	return ""
}

// bodies are the parts of a view that can show more than once: between {{range}} or {{define}} and
// their {{end}}.
type bodies [][2]int

func (b bodies) has(at int) bool {
	for _, each := range b {
		if at > each[0] && at < each[1] {
			return true
		}
	}
	return false
}

var word = regexp.MustCompile(`^\{\{-?\s*(\w+)`)

func loopBodies(text string) (list bodies) {
	type open struct {
		many bool
		at   int
	}
	var stack []open
	for i := 0; i+1 < len(text); i++ {
		if !strings.HasPrefix(text[i:], "{{") {
			continue
		}
		end := actionEnd(text, i+2)
		if m := word.FindStringSubmatch(text[i:end]); m != nil {
			switch m[1] {
			case "range", "define":
				stack = append(stack, open{true, i})
			case "if", "with", "block":
				stack = append(stack, open{false, i})
			case "end":
				if n := len(stack); n > 0 {
					if stack[n-1].many {
						list = append(list, [2]int{stack[n-1].at, i})
					}
					stack = stack[:n-1]
				}
			}
		}
		i = end - 1
	}
	return list
}
