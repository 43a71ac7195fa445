package fault

import "strings"

// Nearest returns the option that word is most likely a misspelling of, or "".
func Nearest(word string, options []string) string {
	best, least := "", 1+len(word)/3
	for _, o := range options {
		if d := distance(strings.ToLower(word), strings.ToLower(o), least); d <= least {
			if best == "" || d < least {
				best, least = o, d
			}
		}
	}
	return best
}

// DidYouMean returns a sentence on how to correct word: the nearest option, or the whole list.
func DidYouMean(word string, options []string) string {
	if near := Nearest(word, options); near != "" {
		return "Did you mean “" + near + "”?"
	}
	if len(options) == 0 {
		return "There is nothing to choose from."
	}
	return "Use one of: " + strings.Join(options, ", ") + "."
}

// distance returns the Levenshtein distance. It stops when the result must exceed bound.
func distance(a, b string, bound int) int {
	if d := len(a) - len(b); d > bound || -d > bound {
		return bound + 1
	}
	row := make([]int, len(b)+1)
	for j := range row {
		row[j] = j
	}
	for i := range len(a) {
		diagonal := row[0]
		row[0] = i + 1
		for j := range len(b) {
			above := row[j+1]
			cost := diagonal
			if a[i] != b[j] {
				cost++
			}
			row[j+1] = min(cost, above+1, row[j]+1)
			diagonal = above
		}
	}
	return row[len(b)]
}
