package widget

import (
	"regexp"

	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
)

// styleFences are what a widget's stylesheet must not hold, outside comments and texts.
var styleFences = []struct {
	find       *regexp.Regexp
	what, mend string
}{
	{regexp.MustCompile(`(?i)@import\b`), "A widget's stylesheet cannot import another.", "Copy the rules into style.css."},
	{regexp.MustCompile(`(?i)@font-face\b`), "@font-face does nothing inside a shadow root.", "Use the page's font (inherit) or a system font."},
	{regexp.MustCompile(`(?i)@property\b`), "@property does nothing inside a shadow root.", "Use a look setting; it arrives as a custom property."},
	{regexp.MustCompile(`(?i):root\b`), ":root is the page, which a widget does not style.", "Use .pocket, the widget's own root."},
	{regexp.MustCompile(`(?i)(?:^|[^\w.#-])(html|body)\b[^;{}]*\{`), "html and body are the page, which a widget does not style.", "Use .pocket, the widget's own root."},
	{regexp.MustCompile(`(?i)\b\d*\.?\d+rem\b`), "rem follows the page's root font size, which differs from page to page.", "Use em or px."},
	{regexp.MustCompile(`(?i)url\(\s*(?:https?:|//)`), "A stylesheet cannot load from another server.", "Put the picture into the folder, or draw it with CSS."},
}

// hidden matches comments and quoted texts, which fences do not look into.
var hidden = regexp.MustCompile(`(?s)/\*.*?\*/|"(?:\\.|[^"\\])*"|'(?:\\.|[^'\\])*'`)

func checkStyle(css []byte) (faults fault.List) {
	masked := mask(css)
	for _, fence := range styleFences {
		for _, at := range fence.find.FindAllSubmatchIndex(masked, -1) {
			line, column := jsondoc.Place(css, at[len(at)-2]) // of the group, or the whole
			faults = append(faults, fault.Fault{Line: line, Column: column, Code: fault.StyleFence, What: fence.what, Mend: fence.mend})
		}
	}
	return faults
}

func mask(css []byte) []byte { return hidden.ReplaceAllFunc(css, blank) }

// blank is as many spaces, with the line breaks where they were.
func blank(m []byte) []byte {
	out := make([]byte, len(m))
	for i, c := range m {
		out[i] = ' '
		if c == '\n' {
			out[i] = c
		}
	}
	return out
}
