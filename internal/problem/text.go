package problem

import (
	"fmt"
	"slices"
	"strings"

	"glasspocket/internal/setting"
)

// List lists a few names: "a, b and 3 others".
func List(names []string) string {
	if len(names) > 5 {
		return fmt.Sprintf("%s and %d others", strings.Join(names[:4], ", "), len(names)-4)
	}
	return strings.Join(slices.Clone(names), ", ")
}

// Counted returns a number with its noun in the right form.
func Counted(n int, noun string) string {
	if n == 1 {
		return "1 " + noun
	}
	return fmt.Sprintf("%d %ss", n, noun)
}

// SearchTooLong is the error for a search with more than SearchMost characters.
func SearchTooLong() *Error {
	return &Error{Kind: Invalid, Code: "search-too-long", Field: "search", What: fmt.Sprintf("A search can have at most %d characters.", SearchMost), Hint: "Shorten it."}
}

// Showable refuses text that a page or a terminal could not show on one line.
func Showable(field, text string) error {
	r, bad := setting.Unshowable(text)
	if i := strings.IndexAny(text, "\n\t"); !bad && i >= 0 {
		r, bad = rune(text[i]), true
	}
	if bad {
		return &Error{Kind: Invalid, Code: "character", Field: field, What: fmt.Sprintf("The %s contains the character U+%04X, which is not allowed.", field, r), Hint: "Delete the character, or type the text again instead of pasting it."}
	}
	return nil
}
