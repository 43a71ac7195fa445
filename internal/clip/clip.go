// Package clip shortens text for messages and tables.
package clip

// inputMost limits input that a message quotes, in characters.
const inputMost = 60

// Input shortens input that a message quotes.
func Input(text string) string { return Text(text, inputMost) }

// Text returns text with at most most characters. A shortened one ends in "…".
func Text(text string, most int) string {
	if len(text) <= most {
		return text
	}
	if r := []rune(text); len(r) > most {
		return string(r[:most-1]) + "…"
	}
	return text
}
