package host

// Rules say what a place does to what is put into it.
type Rules struct {
	As         string   `json:"as"`         // one of Kinds
	Scripts    string   `json:"scripts"`    // one of ScriptRules
	Frames     string   `json:"frames"`     // one of FrameRules
	Forms      string   `json:"forms"`      // "keep" or "drop"
	Styles     string   `json:"styles"`     // style attributes: "keep" or "drop"
	Attributes string   `json:"attributes"` // data-… and others that the place does not know: "keep" or "drop"
	Images     string   `json:"images"`     // "keep" or "drop"
	Links      string   `json:"links"`      // one of LinkRules
	Boxed      *Boxed   `json:"boxed,omitempty"`
	Braces     []string `json:"braces,omitempty"`     // what begins something of its templates, as "{{"
	XML        bool     `json:"xml,omitempty"`        // it must be well-formed XML
	Most       int      `json:"most,omitempty"`       // characters that it takes; 0 any number
	MayDrop    bool     `json:"mayDrop,omitempty"`    // scripts run, unless whoever pastes has no right to them or a filter removes them
	Components []string `json:"components,omitempty"` // frameworks whose files it takes
}

// Boxed says that a place puts what it is given into a frame of its own.
type Boxed struct {
	Height  int  `json:"height"`  // CSS pixels that the frame has unless it is set otherwise
	Scripts bool `json:"scripts"` // they run in there
	Origin  bool `json:"origin"`  // with storage and cookies, as a page of its own
}

// Kinds say what a place takes: HTML; text that is printed as it was typed; Markdown without
// HTML (CommonMark), from which markup is taken out; an address alone; a file of a program;
// directives of a content policy (Content Security Policy Level 3).
var Kinds = []string{"markup", "text", "markdown", "address", "file", "policy"}

// What becomes of a script element: it runs; is taken out; waits until it is allowed; runs,
// but from another place of the page; stands there and never runs, since a program put it
// there (HTML, section 8.4.3: what innerHTML inserts does not run).
var ScriptRules = []string{"run", "drop", "hold", "move", "inert"}

// What becomes of a frame: it is kept; gets a sandbox in which scripts run without storage;
// gets one in which nothing runs; is taken out. A place for an address may show what it leads
// to in such a frame.
var FrameRules = []string{"keep", "fence", "still", "drop"}

// What becomes of a link: it is kept; is replaced by what the linked page offers by oEmbed,
// when it stands alone; is taken out.
var LinkRules = []string{"keep", "embed", "drop"}

// keepsScripts tells whether a script that is pasted there is sure to run: not where it may be
// removed, nor where it waits for a consent that visitors may never give.
func (r Rules) keepsScripts() bool { return (r.Scripts == "run" || r.Scripts == "move") && !r.MayDrop }

// usual are the rules of a place that says nothing.
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
