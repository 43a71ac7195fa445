package widget

import (
	"strings"
	"time"
	"unicode"

	"glasspocket/internal/fault"
)

// now is the time for reading samples where any time will do.
func now() time.Time { return time.Now() }

// measure adds to each fault the length of the text at its place, so that editors can underline it:
// a quoted text, a tag, an action of the view, or a word.
func (files Files) measure(faults fault.List) {
	lines := map[string][]string{}
	for i := range faults {
		f := &faults[i]
		if f.Line < 1 || f.Length > 0 || files[f.Path] == nil {
			continue
		}
		if lines[f.Path] == nil {
			lines[f.Path] = strings.Split(string(files[f.Path]), "\n")
		}
		if f.Line > len(lines[f.Path]) {
			continue
		}
		line := []rune(lines[f.Path][f.Line-1])
		if f.Column >= 1 && f.Column <= len(line) {
			f.Length = length(line[f.Column-1:])
		}
	}
}

func length(rest []rune) int {
	text := string(rest)
	until := func(end string) int {
		if i := strings.Index(text, end); i > 0 {
			return len([]rune(text[:i+len(end)]))
		}
		return len([]rune(strings.TrimRight(text, " \t\r")))
	}
	switch {
	case strings.HasPrefix(text, "{{"):
		return until("}}")
	case rest[0] == '<':
		return until(">")
	case rest[0] == '"', rest[0] == '\'':
		for i := 1; i < len(rest); i++ {
			if rest[i] == '\\' {
				i++
			} else if rest[i] == rest[0] {
				return i + 1
			}
		}
		return len(rest)
	}
	n := 0
	for n < len(rest) && (unicode.IsLetter(rest[n]) || unicode.IsDigit(rest[n]) || strings.ContainsRune("_-.@#%$", rest[n])) {
		n++
	}
	return max(n, 1)
}
