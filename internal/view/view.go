// Package view is the template language of a widget's view.html: Go's html/template, with its
// contextual escaping, and restrictions of ours. A view is a program by somebody else. The
// restrictions bound its run time and output, and prevent it from calling methods and from making
// markup that runs as script.
package view

import (
	"bytes"
	"errors"
	"fmt"
	"html/template"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"sync"
	texttemplate "text/template"
	"text/template/parse"
	"time"

	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/message"
	"glasspocket/internal/shape"
)

// Limits of one rendering.
const (
	StepsMost = 200_000
	TimeMost  = 50 * time.Millisecond
	BytesMost = 1 << 20
)

// stepsFree is the number of steps before the clock is checked: on a busy machine, a view that does
// little must not be stopped.
const stepsFree = 20_000

// SourceMost is the largest size of view.html, in bytes.
const SourceMost = 256 << 10

// View is a parsed, checked and escaped view. It is safe for concurrent use.
type View struct {
	// pristine is never executed: html/template can clone only templates that have not been, and
	// concurrent renderings need clones with functions that are bound to their data.
	pristine *template.Template
	// program does the same as pristine, faster; nil if the view contains something that programs
	// do not support.
	program *program
	// ready is a pool of instances whose templates have been executed, so that their escaping, most
	// of the work of a first rendering, is done.
	ready  sync.Pool
	text   string
	says   []Said
	used   map[string]bool
	called map[string]bool // functions
	notes  notes
}

// instance is what a single rendering uses at a time: functions bound to its data, and a clone of
// the template that calls them, once it was needed.
type instance struct {
	template *template.Template
	data     *Data
	out      writer
	course   course
}

// Said is a place where the view shows a message with a fixed key.
type Said struct {
	Key          string
	Line, Column int
}

// Data is what one rendering sees, under the names in brackets.
type Data struct {
	Settings map[string]any    // [settings] by key; strings, float64, bool, maps and lists of these, shape.Link, shape.Markup
	Messages message.Catalogue // read by say
	Language string            // [language] BCP 47
	Now      time.Time         // read by timeLeft
	Totals   map[string]Total  // of lists whose items come from sources; read by ratingsOf
	Pages    map[string]Page   // of lists that are shown in pages; read by pageOf and ratingsOf
	Calendar string            // address of the pocket's dates as an iCalendar file; "" in a preview
	Prefix   string            // of the classes v0, v1, …, for a fragment that is added to another rendering
	Small    bool              // a second rendering for small screens, which shares the stylesheet of the first

	rules   []string // declarations of the classes v0, v1, … or s0, s1, …, collected during the run
	numbers map[[2]float64]string
	images  int // made so far
}

// Rendered is the result of a view.
type Rendered struct {
	Markup string
	Style  string // rules for single elements, minified; "" if there are none
}

// trusted converts checked values to the template engine's trusted types, at any depth: links, so
// that schemes which it does not know, such as tel, are not replaced, and sanitised markup.
func trusted(v any) any {
	switch v := v.(type) {
	case shape.Link:
		return template.URL(v)
	case shape.Markup:
		return template.HTML(v)
	case map[string]any:
		out := make(map[string]any, len(v))
		for k, e := range v {
			out[k] = trusted(e)
		}
		return out
	case []any:
		out := make([]any, len(v))
		for i, e := range v {
			out[i] = trusted(e)
		}
		return out
	}
	return v
}

// Parse reads a view. settings are the types of the fields of .settings; nil allows any. A syntax
// fault hides faults in the rest of that view; all other faults are reported together.
func Parse(src []byte, settings map[string]*shape.Type) (*View, fault.List) {
	return readView(src, settings, true)
}

// Open reads a view of a stored release, which was parsed when it was released. Rules that were
// added later do not stop it.
func Open(src []byte, settings map[string]*shape.Type) (*View, fault.List) {
	return readView(src, settings, false)
}

func readView(src []byte, settings map[string]*shape.Type, judge bool) (*View, fault.List) {
	if len(src) > SourceMost {
		return nil, fault.List{{Code: fault.FileTooLarge, What: fmt.Sprintf("The view has %d bytes; the limit is %d.", len(src), SourceMost), Fix: "Make it smaller."}}
	}
	text := string(src)
	// missingkey=error: a misspelt field must stop here instead of showing "<no value>" to
	// visitors.
	t, err := template.New("view").Option("missingkey=error").Funcs((&Data{}).functions()).Parse(text)
	if err != nil {
		return nil, syntaxFaults(text, err)
	}
	plain, err := texttemplate.New("view").Funcs(texttemplate.FuncMap((&Data{}).functions())).Parse(text)
	if err != nil {
		return nil, fault.List{syntaxFault(text, err)}
	}
	w := &walker{text: text, places: jsondoc.Placing(src), includes: map[string][]string{}}
	for _, each := range t.Templates() {
		if each.Tree != nil {
			w.template(each.Name(), each.Tree.Root)
		}
	}
	w.cycles()
	if len(w.faults) == 0 {
		w.nested(t.Templates())
	}
	if judge && slices.ContainsFunc(w.faults, func(f fault.Fault) bool { return f.Code == fault.TooDeep || f.Code == fault.ViewRecursion }) {
		w.faults.Sort() // the code below requires a view without these faults
		return nil, w.faults
	}
	types := infer(w, plain, settings)
	types.writePlainly(t)
	found, more := checkMarkup(text)
	w.faults = append(w.faults, more...)
	if judge && len(w.faults) > 0 {
		w.faults.Sort()
		return nil, w.faults
	}
	v := &View{pristine: t, text: text, says: w.says, used: types.used, called: w.called, notes: found}
	// Escaping happens at the first execution. Execute now, so that its errors are faults of the
	// view.
	trial, err := t.Clone()
	if err == nil {
		err = trial.Execute(discard{}, nil)
	}
	var escape *template.Error
	if errors.As(err, &escape) {
		return nil, fault.List{{Line: max(escape.Line, 1), Column: 1, Code: fault.ViewSyntax, What: "The view cannot be escaped safely: " + escape.Description + ".",
			Fix: "End every branch in the same context of the markup, and close quotes and tags."}}
	}
	if faults := types.replaced(trial); judge && len(faults) > 0 {
		return nil, faults
	}
	v.program = makeProgram(trial)
	return v, nil
}

// Uses reports whether the view reads a setting.
func (v *View) Uses(setting string) bool { return v.used[setting] }

// Says lists the messages that the view shows with fixed keys.
func (v *View) Says() []Said { return v.says }

// Render runs the view. It returns faults if the view stops with an error or exceeds a limit, or if
// a value was replaced because it was not safe in its place.
func (v *View) Render(d Data) (Rendered, fault.List) {
	run, _ := v.ready.Get().(*instance)
	if run == nil {
		run = newInstance()
	}
	defer func() {
		*run.data = Data{}
		v.ready.Put(run)
	}()
	*run.data = d
	err := errLeft
	if v.program != nil {
		err = run.byProgram(v.program)
	}
	if err != nil {
		err = run.byTemplate(v)
	}
	if err != nil {
		return Rendered{}, fault.List{v.runFault(err)}
	}
	rendered := run.rendered()
	out := rendered.Markup
	if i := strings.Index(out, replacement); i >= 0 && !typed(d.Settings) {
		return Rendered{}, fault.List{{Code: fault.ViewReplaced, What: fmt.Sprintf("A value had to be replaced for safety, near %q.", around(out, i)),
			Fix: "Put text settings between tags or into quoted attributes, and only link settings (\"format\": \"uri\") into href and src."}}
	}
	return rendered, nil
}

func newInstance() *instance {
	run := &instance{data: &Data{}}
	run.course.out = &run.out
	for _, f := range Functions {
		run.course.functions = append(run.course.functions, f.of(run.data))
	}
	return run
}

// byProgram can stop at any step, with half of the output written.
func (run *instance) byProgram(p *program) error {
	run.start()
	c := &run.course
	err := p.run(c, map[string]any{"settings": run.data.Settings, "language": run.data.Language})
	clear(c.variables[:cap(c.variables)])
	c.variables, c.base = c.variables[:0], 0
	return err
}

func (run *instance) byTemplate(v *View) error {
	if run.template == nil {
		t, err := v.pristine.Clone()
		if err != nil {
			return err
		}
		run.template = t.Funcs(run.data.functions())
	}
	run.start()
	settings := make(map[string]any, len(run.data.Settings))
	for k, v := range run.data.Settings {
		settings[k] = trusted(v)
	}
	return run.template.Execute(&run.out, map[string]any{"settings": settings, "language": run.data.Language})
}

func (run *instance) rendered() Rendered {
	var style strings.Builder
	for i, declarations := range run.data.rules {
		style.WriteString("." + run.data.class(i) + "{" + declarations + "}")
	}
	return Rendered{run.out.text.String(), style.String()}
}

func (run *instance) start() {
	run.data.rules = nil
	run.out.text.Reset()
	run.out.steps, run.out.deadline = 0, time.Now().Add(TimeMost)
}

// replacement is what html/template writes instead of a value that it does not trust.
const replacement = "ZgotmplZ"

// typed reports whether a setting contains the text of replacement itself.
func typed(settings map[string]any) bool {
	for _, v := range settings {
		if strings.Contains(fmt.Sprint(v), replacement) {
			return true
		}
	}
	return false
}

func around(s string, i int) string {
	return strings.ToValidUTF8(s[max(0, i-40):min(len(s), i+16)], "")
}

type discard struct{}

func (discard) Write([]byte) (int, error) { return 0, errors.New("only escaping was requested") }

var (
	errSteps = errors.New("too many steps")
	errTime  = errors.New("too long")
	errBytes = errors.New("too much output")
)

// writer counts every write. Every loop step and template body writes at least once.
type writer struct {
	text     bytes.Buffer
	steps    int
	deadline time.Time
}

func (w *writer) Write(p []byte) (int, error) {
	if err := w.count(len(p)); err != nil {
		return 0, err
	}
	return w.text.Write(p)
}

func (w *writer) writeText(s string) error {
	if err := w.count(len(s)); err != nil {
		return err
	}
	w.text.WriteString(s)
	return nil
}

// count counts a write of size bytes.
func (w *writer) count(size int) error {
	w.steps++
	switch {
	case w.steps > StepsMost:
		return errSteps
	case w.text.Len()+size > BytesMost:
		return errBytes
	case w.steps > stepsFree && w.steps%256 == 0 && time.Now().After(w.deadline):
		return errTime
	}
	return nil
}

var (
	parsePlace = regexp.MustCompile(`^(?:html/)?template: ?\w*:(\d+):(?:(\d+):)? ?(.*)$`)
	quoted     = regexp.MustCompile(`["<']([^">']+)[">']`)
)

// unknown matches the parser's message about an unknown function.
var unknown = regexp.MustCompile(`function "([^"]+)" not defined`)

// syntaxFaults returns the parser's first fault. If that is an unknown function, it also returns
// all other unknown functions: the parser continues once each of them is defined.
func syntaxFaults(text string, err error) (list fault.List) {
	known := (&Data{}).functions()
	for range unknownMost {
		list = append(list, syntaxFault(text, err))
		m := unknown.FindStringSubmatch(err.Error())
		if m == nil {
			return list
		}
		known[m[1]] = func(...any) string { return "" }
		if _, err = texttemplate.New("view").Funcs(texttemplate.FuncMap(known)).Parse(text); err == nil {
			return list
		}
	}
	return list
}

// unknownMost is the largest number of unknown functions in a report.
const unknownMost = 20

func syntaxFault(text string, err error) fault.Fault {
	what, line := err.Error(), 1
	if m := parsePlace.FindStringSubmatch(firstLine(what)); m != nil {
		line, _ = strconv.Atoi(m[1])
		what = m[3]
	}
	column := 1
	if lines := strings.Split(text, "\n"); line <= len(lines) {
		at := strings.Index(lines[line-1], "{{")
		if m := quoted.FindStringSubmatch(what); m != nil {
			if i := strings.Index(lines[line-1], m[1]); i >= 0 {
				at = i
			}
		}
		if at >= 0 {
			column = 1 + len([]rune(lines[line-1][:at]))
		}
	}
	code, fix := fault.ViewSyntax, "“The view” in docs/widget-format.md explains what {{ }} can contain."
	if strings.Contains(what, "function") && strings.Contains(what, "not defined") {
		code, fix = fault.ViewFunction, "Views have: "+strings.Join(FunctionNames(), ", ")+"."
		if m := unknown.FindStringSubmatch(what); m != nil {
			what = fmt.Sprintf("the function %q does not exist", m[1])
			if near := fault.Nearest(m[1], FunctionNames()); near != "" {
				fix = fault.DidYouMean(m[1], FunctionNames())
			}
		}
	}
	return fault.Fault{Line: line, Column: column, Code: code, What: "The view cannot be read: " + what + ".", Fix: fix}
}

// ranAt matches the template engine's name for the node at which it stopped.
var ranAt = regexp.MustCompile(`at <([^>]+)>`)

func (v *View) runFault(err error) fault.Fault {
	f := fault.Fault{Code: fault.ViewRun, What: err.Error(), Fix: "Correct the view here."}
	text := firstLine(err.Error())
	if m := parsePlace.FindStringSubmatch(text); m != nil {
		f.Line, _ = strconv.Atoi(m[1])
		column, _ := strconv.Atoi(m[2])
		f.Column = column + 1
		f.What = m[3]
		// The engine counts bytes and points to the last part of a path; people look for its first
		// part.
		lines := strings.Split(v.text, "\n")
		if at := ranAt.FindStringSubmatch(f.What); at != nil && f.Line <= len(lines) {
			line := lines[f.Line-1]
			if i := strings.LastIndex(line[:min(len(line), column+len(at[1]))], at[1]); i >= 0 {
				f.Column = 1 + len([]rune(line[:i]))
			}
		}
	}
	switch {
	case errors.Is(err, errSteps), errors.Is(err, errTime), errors.Is(err, errBytes):
		f.Code, f.Fix = fault.ViewTooMuch, "Loop over less. The limits are 200,000 steps, 50 ms and 1 MiB."
	case strings.Contains(text, "map has no entry for key"), strings.Contains(text, "can't evaluate field"):
		f.Code, f.Fix = fault.ViewField, "Check the spelling. Inside range and with, write $.settings.NAME."
	}
	f.What = "The view stops with an error: " + strings.TrimSuffix(f.What, ".") + "."
	return f
}

func firstLine(s string) string {
	s, _, _ = strings.Cut(s, "\n")
	return s
}

func place(text string, offset parse.Pos) (int, int) { return jsondoc.Place([]byte(text), int(offset)) }
