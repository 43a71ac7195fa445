package widget

import (
	"fmt"
	"path"
	"regexp"
	"slices"
	"strings"

	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/setting"
	"glasspocket/internal/stylesheet"

	"github.com/tdewolff/parse/v2/css"
)

// ScriptMost is the recommended size limit of a mount module, in bytes compressed with brotli.
const ScriptMost = 3 << 10

// warn looks for what will cause problems later.
func (r *Release) warn(b Builder) {
	add := func(file string, more fault.List) {
		for _, f := range more.In(file) {
			f.Warning = true
			f.Path = file
			if f.Code == fault.RemoteFile && r.declared(f) {
				continue
			}
			r.Warnings = append(r.Warnings, f)
		}
	}
	if r.view != nil {
		add(ViewFile, r.view.Warnings())
	}
	add(StyleFile, warnStyle(r.Files[StyleFile]))
	for _, p := range r.Files.Paths() {
		if ext := path.Ext(p); (ext == ".ts" || ext == ".js") && !strings.HasSuffix(p, ".d.ts") {
			add(p, warnScript(r.Files[p]))
		}
	}
	for _, entry := range mountFiles {
		if n := b.Weight(r.Built.Mount); r.Files[entry] != nil && n > ScriptMost {
			add(entry, fault.List{{Line: 1, Column: 1, Code: fault.ScriptWeight, What: fmt.Sprintf("The mount module has %d bytes when compressed; the budget is %d.", n, ScriptMost), Fix: "Move work to the view and the stylesheet, or leave something out."}})
		}
	}
	if r.Schema == nil {
		return
	}
	add(SchemaFile, r.warnDefaults())
	for _, name := range r.Files.under(startersDir) {
		file := path.Join(startersDir, name+".json")
		add(file, r.warnValues(r.Files[file], r.starterValues(name)))
	}
	sample, _ := r.Preview(nil, now())
	add(SampleFile, r.warnAlternatives(r.Files[SampleFile], sample))
}

// declared reports whether the remote file in a warning is one that the manifest names.
func (r *Release) declared(f fault.Fault) bool {
	text := r.Files[f.Path]
	rest, _, _ := strings.Cut(string(text[jsondoc.Offset(text, f.Line, f.Column):]), "\n")
	at := strings.Index(rest, "//")
	if at < 0 {
		return false
	}
	address := rest[at:]
	return slices.ContainsFunc(r.Manifest.Remotes, func(remote string) bool {
		_, remote, _ = strings.Cut(remote, ":")
		return strings.HasPrefix(address, remote)
	})
}

func (r *Release) starterValues(name string) setting.Values {
	s, _ := r.Starter(name)
	full, _ := r.Preview(s.Settings, now())
	return full
}

// warnValues checks the settings of a starter; places refer to text, its file.
func (r *Release) warnValues(text []byte, full setting.Values) fault.List {
	doc, _ := jsondoc.Read(text)
	given := doc.Get("settings")
	faults := r.warnGiven(given, full)
	if small := given.Get(setting.SmallKey); small != nil {
		faults = append(faults, r.warnGiven(small, full.OnSmall())...)
	}
	return faults
}

// warnGiven checks what is given, in the context of all values.
func (r *Release) warnGiven(given *jsondoc.Value, full setting.Values) (faults fault.List) {
	for _, s := range r.Schema.Settings {
		ink, on := given.Get(s.Key), given.Get(s.On)
		if s.On == "" || ink == nil && on == nil || !s.Matters(full) {
			continue
		}
		if ink == nil {
			ink = on
		}
		if f := tooFaint(s, full); f != "" {
			faults = append(faults, ink.Fault(fault.Contrast, s.Key, f, "Make one of the two colours darker or lighter."))
		}
	}
	return append(faults, alternatives(given, r.Schema.Settings)...)
}

func (r *Release) warnAlternatives(text []byte, _ setting.Values) fault.List {
	doc, _ := jsondoc.Read(text)
	return alternatives(doc.Get("settings"), r.Schema.Settings)
}

func (r *Release) warnDefaults() (faults fault.List) {
	doc, _ := jsondoc.Read(r.Files[SchemaFile])
	props := doc.Get("properties")
	full, _ := r.Schema.Complete(setting.Values{})
	given := &jsondoc.Value{Kind: jsondoc.Object}
	for _, s := range r.Schema.Settings {
		d := props.Get(s.Key).Get("default")
		if d == nil {
			continue
		}
		given.Members = append(given.Members, jsondoc.Member{Key: s.Key, Value: d})
		if f := tooFaint(s, full); f != "" && s.Matters(full) {
			faults = append(faults, d.Fault(fault.Contrast, s.Key, f, "Make one of the two colours darker or lighter."))
		}
	}
	return append(faults, alternatives(given, r.Schema.Settings)...)
}

func tooFaint(s *setting.Setting, full setting.Values) string {
	ink, ok1 := full[s.Key].(string)
	on, ok2 := full[s.On].(string)
	if s.On == "" || !ok1 || !ok2 {
		return ""
	}
	// The background of a translucent surface is unknown; white is assumed.
	if c := setting.Contrast(ink, on); c > 0 && c < setting.ContrastLeast {
		return fmt.Sprintf("%s on %s has a contrast of %.1f; text needs %.1f.", ink, on, c, setting.ContrastLeast)
	}
	return ""
}

// alternatives reports images without a text alternative.
func alternatives(v *jsondoc.Value, fields []*setting.Setting) (faults fault.List) {
	for _, s := range fields {
		at := v.Get(s.Key)
		if at == nil {
			continue
		}
		if s.LacksAlternative(at) {
			faults = append(faults, at.Fault(fault.AltMissing, s.Key, "This image has no text alternative.", `Describe it in "alt", or set "decorative": true if it carries no information.`))
		}
		fields, many := s.Holds()
		switch {
		case many:
			for _, item := range at.Items {
				faults = append(faults, alternatives(item, fields)...)
			}
		case fields != nil:
			faults = append(faults, alternatives(at, fields)...)
		}
	}
	return faults
}

var (
	bareElement = regexp.MustCompile(`^(\*|[a-zA-Z][a-zA-Z0-9]*)(\s*[>+~ ]\s*(\*|[a-zA-Z][a-zA-Z0-9]*))*$`)
	fixedWidth  = regexp.MustCompile(`(?:^|[;\s])((?:min-)?(?:width|inline-size)\s*:\s*(\d+)(?:\.\d+)?px)`)
)

// narrowest is the smallest width that a widget must support, in CSS pixels.
const narrowest = 320

// warnStyle checks a stylesheet block by block.
func warnStyle(src []byte) (faults fault.List) {
	masked := string(stylesheet.Masked(src))
	var around []string // the preludes of the open blocks
	var before []string // the declarations of this block so far
	start := 0
	within := func(names ...string) bool {
		for _, p := range around {
			for _, n := range names {
				if strings.HasPrefix(p, n) {
					return true
				}
			}
		}
		return false
	}
	places := jsondoc.Placing(src)
	put := func(offset int, code fault.Code, what, fix string) {
		line, column := places.Place(offset)
		faults = append(faults, fault.Fault{Line: line, Column: column, Code: code, What: what, Fix: fix})
	}
	for _, t := range stylesheet.Tokens(string(src)) {
		if len(faults) >= fault.Most {
			break
		}
		i := t.At
		switch t.Kind {
		case css.LeftBraceToken:
			prelude := strings.TrimSpace(masked[start:i])
			if !strings.HasPrefix(prelude, "@") && !within("@keyframes") {
				at := start
				for _, selector := range strings.Split(masked[start:i], ",") {
					if s := strings.TrimSpace(selector); bareElement.MatchString(s) {
						put(at+strings.Index(selector, s), fault.StyleGlobal, fmt.Sprintf("%q matches every element of this kind in the view.", s), "Use a class, as in .pocket "+s+".")
					}
					at += len(selector) + 1
				}
			}
			if !within("@supports") {
				for _, f := range newerSelectors(masked[start:i]) {
					put(start+f.at, fault.StyleNewer, f.what, f.fix)
				}
			}
			around = append(around, prelude)
			before = nil
			start = i + 1
		case css.RightBraceToken, css.SemicolonToken:
			if !within("@media", "@container", "@supports") {
				if m := fixedWidth.FindStringSubmatchIndex(masked[start:i]); m != nil {
					var n int
					fmt.Sscan(masked[start+m[4]:start+m[5]], &n)
					if n > narrowest {
						put(start+m[2], fault.WidthFixed, fmt.Sprintf("A phone or a side column is narrower than %d pixels.", n), "Use max-width, or put the rule into @container (min-width: …).")
					}
				}
			}
			if !within("@supports") {
				for _, f := range newerValues(masked[start:i], before) {
					put(start+f.at, fault.StyleNewer, f.what, f.fix)
				}
			}
			before = append(before, masked[start:i])
			if t.Kind == css.RightBraceToken {
				before = nil
			}
			if t.Kind == css.RightBraceToken && len(around) > 0 {
				around = around[:len(around)-1]
			}
			start = i + 1
		}
	}
	return faults
}

// scriptHabits are what a mount module should not do, outside comments and strings.
var scriptHabits = []struct {
	find      *regexp.Regexp
	code      fault.Code
	what, fix string
}{
	{regexp.MustCompile(`\bdocument\s*\.\s*(?:querySelector(?:All)?|getElement\w+|body|head|forms|write)\b`), fault.ScriptOutside, "This looks for an element of the page, outside the widget.", "Start at root, which the mount function receives: root.querySelector(…)."},
	{regexp.MustCompile(`\b(?:window|document|globalThis|self)\s*\.\s*(?:body\s*\.\s*)?on(?:scroll|resize|load|key\w+|click|mouse\w+|pointer\w+|touch\w+|wheel|hashchange|popstate|message|focus|blur|visibilitychange)\s*=[^=]`), fault.ScriptOutside, "This sets the event handler of the whole page. If there are two copies, only the last one gets the event.", "Use addEventListener(…, { signal })."},
	{regexp.MustCompile(`(?:(?m:^)|[;{}])\s*(on(?:scroll|resize|load|key\w+|click|mouse\w+|pointer\w+|touch\w+|wheel|hashchange|popstate|message|focus|blur|visibilitychange)\s*=[^=])`), fault.ScriptOutside, "This sets the event handler of the whole page. If there are two copies, only the last one gets the event.", "Use addEventListener(…, { signal })."},
	{regexp.MustCompile(`\bdocument\s*\.\s*documentElement\s*\.\s*scroll(?:Top|Left)\b`), fault.ScriptOutside, "On a page without a doctype, this is always 0.", "Use reading(…), which the mount function receives, or document.scrollingElement."},
	{regexp.MustCompile(`\b(?:window|globalThis|self)\s*\.\s*(?:[a-np-zA-Z_$]\w*|o(?:[a-mo-z_$]\w*)?)\s*=[^=]`), fault.ScriptOutside, "This creates or changes a global variable of the page.", "Use a variable in the mount function. Two copies on a page would share the global variable."},
	{regexp.MustCompile(`\b(?:fetch|import)\s*\(\s*["'\x60]\s*(?:https?:)?//`), fault.RemoteFile, "This loads something from another server, which can change or disappear.", "Put the file into the folder, or make the address a setting."},
	{regexp.MustCompile(`\b(?:alert|confirm|prompt)\s*\(`), fault.ScriptOutside, "This blocks the whole page.", "Show the message in the widget."},
}

func warnScript(src []byte) (faults fault.List) {
	masked := scriptComments.ReplaceAllFunc(src, blank)
	places := jsondoc.Placing(src)
	for _, h := range scriptHabits {
		for _, at := range h.find.FindAllSubmatchIndex(masked, fault.Most) {
			line, column := places.Place(at[len(at)-2]) // of the group, or the whole match
			faults = append(faults, fault.Fault{Line: line, Column: column, Code: h.code, What: h.what, Fix: h.fix})
		}
	}
	return faults
}

var scriptComments = regexp.MustCompile(`(?s)/\*.*?\*/|(?m:(?:^|\s)//.*$)`)
