package widget_test

import (
	"fmt"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"

	"glasspocket/internal/bundle"
	"glasspocket/internal/fault"
	"glasspocket/internal/widget"
)

// The check compares what a manifest declares with the syntax tree of the script, and with the view.
func TestCapabilities(t *testing.T) {
	const undeclared, unused = fault.CapabilityUndeclared, fault.CapabilityUnused
	for _, c := range []struct {
		name, declared, script, view string
		want                         []fault.Code
		can                          []string
	}{
		{"in a pattern", `["clock"]`, `export default ({ now: time, signal }) => { setTimeout(() => time(), 9) }`, "", nil, []string{"clock"}},
		{"by a member", `["clock", "memory"]`, `export default function (p) { p.exact(() => p.memory.read()) }`, "", nil, []string{"clock", "memory"}},
		{"in a function that gets the argument", `["edges"]`, `import { go } from "./go"; export default (p) => go(1, p)`, "", nil, []string{"edges"}},
		{"taken from a variable", `[]`, `export default (p) => { const { tell } = p; tell("x") }`, "", []fault.Code{undeclared}, nil},
		{"another object's member", `[]`, `export default ({ root }) => { root.title = Date.now(); root.items; root.reading }`, "", nil, nil},
		{"a variable of the same name", `[]`, `export default (p) => { for (const q of p.root.children) { let p = q; p.edges(p) } }`, "", nil, nil},
		{"two of three", `["clock"]`, `export default ({ memory, now, hear }) => hear("x", () => memory.write(now(), 1))`, "", []fault.Code{undeclared, undeclared}, []string{"clock"}},
		{"unused", `["clock", "events"]`, `export default ({ tell }) => tell("x")`, "", []fault.Code{unused}, []string{"clock", "events"}},
		{"unused, without a script", `["memory"]`, "", "", []fault.Code{unused}, []string{"memory"}},
		{"perhaps used by a computed name", `["memory"]`, `export default (p) => { for (const name of ["memory"]) p[name].read() }`, "", nil, []string{"memory"}},
		{"perhaps used from a list", `["memory"]`, `export default (p) => { for (const one of [p]) one.memory.read() }`, "", nil, []string{"memory"}},
		{"misspelt", `["memori"]`, `export default ({ root }) => root`, "", []fault.Code{fault.CapabilityUnknown}, nil},
		{"a form", `["form"]`, "", `<form action="/x"><button>Send</button></form>`, nil, []string{"form"}},
		{"a form that is not declared", `[]`, "", `<form><button>Send</button></form>`, []fault.Code{undeclared}, nil},
		{"a dialog's form", `[]`, "", `<form method="dialog"><button>Close</button></form>`, nil, nil},
		{"not declared at all", "", `export default ({ memory, reading }) => reading(() => memory.read())`, "", []fault.Code{undeclared}, []string{"memory", "reading"}},
		{"nothing to declare", "", `export default ({ root }) => root.remove()`, "", nil, nil},
	} {
		t.Run(c.name, func(t *testing.T) {
			files := small()
			if c.declared != "" {
				files["widget.json"] = fmt.Appendf(nil, `{"format": 1, "name": "small", "title": {"en": "Small"}, "languages": ["en"], "capabilities": %s}`, c.declared)
			}
			if c.script != "" {
				files["mount.js"] = []byte(c.script)
				files["go.js"] = []byte(`export const go = (n, pocket) => pocket.edges(() => n)`)
			}
			files["view.html"] = append(files["view.html"], c.view...)
			r, faults := widget.Read(files, bundle.Builder{})
			var codes []fault.Code
			if r != nil {
				faults = r.Warnings
				for _, name := range widget.CapabilityNames() {
					assert.Equal(t, slices.Contains(c.can, name), r.Can(name), name)
				}
			}
			for _, f := range faults {
				assert.Equal(t, widget.ManifestFile, f.Path, f.String())
				codes = append(codes, f.Code)
			}
			assert.Equal(t, c.want, codes)
		})
	}
}
