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

// Placing describes how a pocket is displayed where it is pasted. It is chosen with the snippet and
// is not part of the pocket, which can look different elsewhere. The zero Placing changes nothing.
type Placing struct {
	Width      string `json:"width,omitempty"`      // largest width: "640px", "80%"; "" for the width of the place
	Height     int    `json:"height,omitempty"`     // CSS pixels; 0 for the widget's own
	Align      string `json:"align,omitempty"`      // one of Aligns, for a widget that is narrower than the place
	Background string `json:"background,omitempty"` // "#rrggbb"; "" for a transparent background
	Shadow     string `json:"shadow,omitempty"`     // one of Shadows
	Loading    string `json:"loading,omitempty"`    // one of Loadings
	Fallback   string `json:"fallback,omitempty"`   // one of Fallbacks
	Words      string `json:"words,omitempty"`      // text of the fallback; "" for the pocket's title
	Framework  string `json:"framework,omitempty"`  // for a component, one of Frameworks
}

// The possible values in a Placing.
var (
	Aligns    = []string{"start", "center", "end"}
	Shadows   = []string{"soft", "deep"}
	Loadings  = []string{"early", "near"}
	Fallbacks = []string{"link", "words", "nothing"}
)

// HeightMost is the largest height in a Placing, in CSS pixels.
const HeightMost = 5000

var (
	widthForm  = regexp.MustCompile(`^([1-9]\d{0,3})(px|%)$`)
	colourForm = regexp.MustCompile(`^#[0-9a-f]{6}$`)
	shadowCSS  = map[string]string{"soft": "0 2px 12px #0000001f", "deep": "0 8px 32px #00000042"}
	marginCSS  = map[string]string{"start": "", "center": "0 auto", "end": "0 0 0 auto"}
)

// Check reports invalid values of a Placing.
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

// priority returns a script's fetch priority (HTML, section 2.5.8): high if it is to load early.
func (p Placing) priority() string {
	if p.Loading == "early" {
		return "high"
	}
	return ""
}

// box returns the style of an element around a mount point, for properties that the mount point
// itself would lose, see loader/mount.ts. It returns "" if none are needed.
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
