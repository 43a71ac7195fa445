package widget

import (
	"fmt"
	"regexp"
	"strings"

	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/nesting"
)

// styleFences are what a widget's stylesheet must not contain, outside comments and strings.
var styleFences = []struct {
	find      *regexp.Regexp
	what, fix string
}{
	{regexp.MustCompile(`(?i)@import\b`), "A widget's stylesheet cannot import another stylesheet.", "Copy the rules into style.css."},
	{regexp.MustCompile(`(?i)@font-face\b`), "@font-face does nothing inside a shadow root.", "Use the page's font (inherit) or a system font."},
	{regexp.MustCompile(`(?i)@property\b`), "@property does nothing inside a shadow root.", "Use a look setting, which becomes a custom property."},
	{regexp.MustCompile(`(?i):root\b`), ":root is the page, and a widget does not style the page.", "Use .pocket, the widget's own root."},
	{regexp.MustCompile(`(?i)(?:^|[^\w.#-])(html|body)\b[^;{}]*\{`), "html and body are the page, and a widget does not style the page.", "Use .pocket, the widget's own root."},
	{regexp.MustCompile(`(?i)\b\d*\.?\d+rem\b`), "rem depends on the page's root font size, which differs between pages.", "Use em or px."},
	{regexp.MustCompile(`(?i)url\(\s*(?:https?:|//)`), "A stylesheet cannot load from another server.", "Put the image into the folder, or draw it with CSS."},
}

// hidden matches comments and strings, which are not checked.
var hidden = regexp.MustCompile(`(?s)/\*.*?\*/|"(?:\\.|[^"\\])*"|'(?:\\.|[^'\\])*'`)

func checkStyle(css []byte) (faults fault.List) {
	places := jsondoc.Placing(css)
	if at, deep := nesting.Style(css); deep {
		line, column := places.Place(at)
		return fault.List{{Line: line, Column: column, Code: fault.TooDeep, What: fmt.Sprintf("Brackets are nested more than %d levels deep.", nesting.StyleMost), Fix: "Close the rules above, or use less nesting."}}
	}
	masked := mask(css)
	for _, fence := range styleFences {
		for _, at := range fence.find.FindAllSubmatchIndex(masked, fault.Most) {
			line, column := places.Place(at[len(at)-2]) // of the group, or the whole match
			faults = append(faults, fault.Fault{Line: line, Column: column, Code: fault.StyleFence, What: fence.what, Fix: fence.fix})
		}
	}
	return faults
}

// checkNewStyle checks a stylesheet before its release, including checks that were added later and
// must not affect existing releases.
func checkNewStyle(css []byte) fault.List { return append(checkStyle(css), lostAddresses(css)...) }

// lostAddresses reports relative addresses in a stylesheet, which loads no files of the folder.
func lostAddresses(css []byte) (faults fault.List) {
	masked := hiddenComments.ReplaceAllFunc(css, blank)
	places := jsondoc.Placing(css)
	for _, at := range addressIn.FindAllSubmatchIndex(masked, fault.Most) {
		address := strings.Trim(strings.TrimSpace(string(masked[at[2]:at[3]])), `"'`)
		if address == "" || address[0] == '#' || schemeForm.MatchString(address) {
			continue // empty, a part of the page, data, or another server, which is a separate fault
		}
		line, column := places.Place(at[0])
		faults = append(faults, fault.Fault{Line: line, Column: column, Code: fault.AddressLost, What: fmt.Sprintf("Visitors' browsers would look for %q next to the page that shows the widget.", address),
			Fix: "Show the image with an image setting in the view, write it as a data: address, or draw it with CSS."})
	}
	return faults
}

var (
	addressIn      = regexp.MustCompile(`(?i)\burl\(\s*("[^"]*"|'[^']*'|[^)"']*)\s*\)`)
	hiddenComments = regexp.MustCompile(`(?s)/\*.*?\*/`)
	schemeForm     = regexp.MustCompile(`(?i)^([a-z][a-z0-9+.-]*:|//)`)
)

func mask(css []byte) []byte { return hidden.ReplaceAllFunc(css, blank) }

// blank returns spaces of the same length, with the same line breaks.
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
