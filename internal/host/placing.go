package host

import (
	"fmt"
	"regexp"
	"slices"
	"strconv"

	"glasspocket/internal/fault"
)

func itoa(n int) string { return strconv.Itoa(n) }

func atoi(s string) int { n, _ := strconv.Atoi(s); return n }

// Placing is how a pocket stands where it is pasted. It is chosen with the snippet and is no
// part of the pocket, which may stand otherwise elsewhere. The zero Placing changes nothing.
type Placing struct {
	Width      string `json:"width,omitempty"`      // as wide as it may get: "640px", "80%"; "" as wide as the place
	Height     int    `json:"height,omitempty"`     // CSS pixels; 0 as tall as the widget
	Align      string `json:"align,omitempty"`      // one of Aligns; of what is narrower than the place
	Background string `json:"background,omitempty"` // "#rrggbb"; "" lets the page show through
	Shadow     string `json:"shadow,omitempty"`     // one of Shadows
	Loading    string `json:"loading,omitempty"`    // one of Loadings
	Fallback   string `json:"fallback,omitempty"`   // one of Fallbacks
	Words      string `json:"words,omitempty"`      // of the fallback; "" the pocket's title
	Framework  string `json:"framework,omitempty"`  // one of Frameworks, of a component
}

// What a Placing may say.
var (
	Aligns    = []string{"start", "center", "end"}
	Shadows   = []string{"soft", "deep"}
	Loadings  = []string{"early", "near"}
	Fallbacks = []string{"link", "words", "nothing"}
)

// HeightMost is the largest height that a Placing may ask for, in CSS pixels.
const HeightMost = 5000

var (
	widthForm  = regexp.MustCompile(`^([1-9]\d{0,3})(px|%)$`)
	colourForm = regexp.MustCompile(`^#[0-9a-f]{6}$`)
	shadowCSS  = map[string]string{"soft": "0 2px 12px #0000001f", "deep": "0 8px 32px #00000042"}
	marginCSS  = map[string]string{"start": "", "center": "0 auto", "end": "0 0 0 auto"}
)

// Check tells what of a Placing cannot be.
func (p Placing) Check() (faults fault.List) {
	among := func(field, value string, of []string) {
		if value != "" && !slices.Contains(of, value) {
			faults = append(faults, fault.Fault{Field: field, Code: fault.ValueChoice, What: fmt.Sprintf("There is no %s %q.", field, value), Fix: fault.DidYouMean(value, of)})
		}
	}
	if p.Width != "" {
		m := widthForm.FindStringSubmatch(p.Width)
		if m == nil {
			faults = append(faults, fault.Fault{Field: "width", Code: fault.ValueLengthOf, What: fmt.Sprintf("%q is not a width.", p.Width), Fix: "Write whole pixels or a percentage, as in 640px or 80%."})
		} else if n, _ := strconv.Atoi(m[1]); m[2] == "%" && n > 100 {
			faults = append(faults, fault.Fault{Field: "width", Code: fault.ValueRange, What: "The width cannot exceed 100%.", Fix: "Write at most 100%."})
		}
	}
	if p.Height < 0 || p.Height > HeightMost {
		faults = append(faults, fault.Fault{Field: "height", Code: fault.ValueRange, What: fmt.Sprintf("A height of %d pixels is not valid.", p.Height), Fix: fmt.Sprintf("Write 1 to %d, or 0 for the widget's own height.", HeightMost)})
	}
	if p.Background != "" && !colourForm.MatchString(p.Background) {
		faults = append(faults, fault.Fault{Field: "background", Code: fault.ValueColour, What: fmt.Sprintf("%q is not a colour.", p.Background), Fix: "Write it as #rrggbb in lower case."})
	}
	if len([]rune(p.Words)) > 200 {
		faults = append(faults, fault.Fault{Field: "words", Code: fault.ValueLength, What: "The fallback has more than 200 characters.", Fix: "Shorten it."})
	}
	among("align", p.Align, Aligns)
	among("shadow", p.Shadow, Shadows)
	among("loading", p.Loading, Loadings)
	among("fallback", p.Fallback, Fallbacks)
	among("framework", p.Framework, Frameworks)
	return faults
}

// priority is that of a script (HTML, section 2.5.8): before others when it is wanted early.
func (p Placing) priority() string {
	if p.Loading == "early" {
		return "high"
	}
	return ""
}

// box is the style of an element around a mount point: what the mount point's own root
// would lose, see loader/mount.ts. "" when nothing is asked for.
func (p Placing) box() string {
	css := ""
	add := func(property, value string) {
		if value != "" {
			if css != "" {
				css += ";"
			}
			css += property + ":" + value
		}
	}
	add("max-width", p.Width)
	if p.Width != "" {
		add("margin", marginCSS[p.Align])
	}
	add("background", p.Background)
	add("box-shadow", shadowCSS[p.Shadow])
	return css
}
