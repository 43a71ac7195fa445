package host

// Rules describe what a place does to what is pasted there.
type Rules struct {
	As         string   `json:"as"`         // one of Kinds
	Scripts    string   `json:"scripts"`    // one of ScriptRules
	Frames     string   `json:"frames"`     // one of FrameRules
	Forms      string   `json:"forms"`      // "keep" or "drop"
	Styles     string   `json:"styles"`     // style attributes: "keep" or "drop"
	Attributes string   `json:"attributes"` // data-… and other unknown attributes: "keep" or "drop"
	Images     string   `json:"images"`     // "keep" or "drop"
	Links      string   `json:"links"`      // one of LinkRules
	Boxed      *Boxed   `json:"boxed,omitempty"`
	Braces     []string `json:"braces,omitempty"`     // what starts an expression of its templates, such as "{{"
	XML        bool     `json:"xml,omitempty"`        // only well-formed XML is accepted
	Most       int      `json:"most,omitempty"`       // largest number of characters; 0 for no limit
	MayDrop    bool     `json:"mayDrop,omitempty"`    // scripts run, unless the user lacks the permission or a filter removes them
	Components []string `json:"components,omitempty"` // frameworks whose files it accepts
}

// Boxed says that a place puts its content into a frame.
type Boxed struct {
	Height  int  `json:"height"`  // the frame's height in CSS pixels, unless it is changed
	Scripts bool `json:"scripts"` // scripts run in the frame
	Origin  bool `json:"origin"`  // with storage and cookies, like a separate page
}

// Kinds are what a place accepts: HTML; text that shows as typed; Markdown without HTML
// (CommonMark), from which markup is removed; a bare address; a file of a program; directives of a
// content policy (Content Security Policy Level 3).
var Kinds = []string{"markup", "text", "markdown", "address", "file", "policy"}

// ScriptRules are what happens to a script element: it runs; it is removed; it waits for consent;
// it runs in another part of the page; it stays but never runs, because a program inserted it
// (HTML, section 8.4.3: scripts inserted by innerHTML do not run).
var ScriptRules = []string{"run", "drop", "hold", "move", "inert"}

// FrameRules are what happens to a frame: it is kept; it gets a sandbox in which scripts run
// without storage; it gets a sandbox in which nothing runs; it is removed. A place for an address
// may show the linked page in such a frame.
var FrameRules = []string{"keep", "fence", "still", "drop"}

// LinkRules are what happens to a link: it is kept; it is replaced by the linked page's oEmbed
// content if it is alone on its line; it is removed.
var LinkRules = []string{"keep", "embed", "drop"}

// keepsScripts reports whether a pasted script is sure to run: not where it may be removed, nor
// where it waits for a consent that visitors may never give.
func (r Rules) keepsScripts() bool { return (r.Scripts == "run" || r.Scripts == "move") && !r.MayDrop }

// usual returns the rules of a place without any statements.
func usual(as string) Rules {
	r := Rules{As: as, Scripts: "run", Frames: "keep", Forms: "keep", Styles: "keep", Attributes: "keep", Images: "keep", Links: "keep"}
	switch as {
	case "text", "policy":
		r.Scripts, r.Frames, r.Forms, r.Styles, r.Attributes, r.Images, r.Links = "drop", "drop", "drop", "drop", "drop", "drop", "drop"
	case "markdown", "address":
		r.Scripts, r.Frames, r.Forms, r.Styles, r.Attributes, r.Images = "drop", "drop", "drop", "drop", "drop", "drop"
	}
	return r
}
