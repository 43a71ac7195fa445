package hosts

import (
	"encoding/json"
	"fmt"
	"io/fs"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/generated"
	"glasspocket/internal/host"
)

const remedy = "go test ./hosts -update"

// hosts/schema.json is generated from the reader of profiles.
func TestSchema(t *testing.T) {
	generated.File(t, SchemaFile, string(host.Schema()), remedy)
}

// docs/host-lab.md is generated from the results of the lab.
func TestLabPage(t *testing.T) {
	set, err := Shipped()
	require.NoError(t, err)
	shown := map[string]string{} // host, form, widget → what
	for _, p := range Proved() {
		shown[p.Host+" "+p.Delivery+" "+p.Widget] = p.Shows
	}
	var b strings.Builder
	b.WriteString("# Host lab\n\nThis page lists the result of each delivery on each kind of host. `TestHostLab` pastes the printed snippet into the editors of the simulated hosts in `demo/lab`, publishes it, and checks the page in Chromium. Every result matches the prediction. Hugo, ikiwiki and the components are tested with the real software, in `e2e/real_test.go`.\n\n| result | visitors get |\n|---|---|\n| widget | the widget on the page |\n| frame | the widget's own page in a frame |\n| boxed | the widget in the host's frame |\n| screen | a page of fixed size |\n| mail | a table with text and an image |\n| link | a link to the widget's page |\n| address | the address as text |\n| code | the code as text |\n| nothing | nothing |\n| held, then … | the fallback until scripts are allowed |\n| – | the delivery is not possible for this widget |\n\n<!-- Generated from hosts/proved/lab.json by “go test ./hosts -update”. -->\n")
	for _, widget := range []string{"countdown", "popup"} {
		fmt.Fprintf(&b, "\n## %s\n\n| host |", map[string]string{"countdown": "A countdown in the content", "popup": "A pop-up over the page"}[widget])
		for _, f := range host.Deliveries {
			fmt.Fprintf(&b, " %s |", f)
		}
		b.WriteString("\n|---" + strings.Repeat("|---", len(host.Deliveries)) + "|\n")
		for _, p := range set.List() {
			row, any := "| "+p.Title+" |", false
			for _, f := range host.Deliveries {
				cell := shown[p.Name+" "+string(f)+" "+widget]
				any = any || cell != ""
				if cell == "" {
					cell = "–"
				}
				row += " " + cell + " |"
			}
			if any {
				b.WriteString(row + "\n")
			}
		}
	}
	generated.File(t, filepath.Join("..", "docs", "host-lab.md"), b.String(), remedy)
}

// The reference in docs/host-profiles.md is generated from the reader of profiles.
func TestFormatPage(t *testing.T) {
	const mark = "<!-- The rest is generated from internal/host/format.go by “go test ./hosts -update”. -->\n\n"
	generated.Part(t, filepath.Join("..", "docs", "host-profiles.md"), mark, "", host.Reference(), remedy)
}

// Every profile that ships is read without a warning, keeps to the JSON Schema, and brings
// something of every widget to every place that it has steps for.
func TestShipped(t *testing.T) {
	set, err := Shipped()
	require.NoError(t, err)
	assert.GreaterOrEqual(t, len(set.List()), 16)
	schema, err := jsonschema.UnmarshalJSON(strings.NewReader(string(host.Schema())))
	require.NoError(t, err)
	c := jsonschema.NewCompiler()
	require.NoError(t, c.AddResource("schema.json", schema))
	compiled, err := c.Compile("schema.json")
	require.NoError(t, err)
	listed, err := fs.Glob(files, "*.json")
	require.NoError(t, err)
	assert.Len(t, listed, len(set.List())+1, "each file is a profile, but the schema")
	for _, p := range set.List() {
		text, err := files.ReadFile(p.Name + ".json")
		require.NoError(t, err)
		var doc any
		require.NoError(t, json.Unmarshal(text, &doc))
		assert.NoError(t, compiled.Validate(doc), p.Name)
		_, _, faults := (*host.Set)(nil).With(text)
		assert.Empty(t, faults, p.Name)
		for _, where := range p.Wheres() {
			for _, s := range []host.Subject{{Base: "https://pockets.example", Key: "flows", Title: "Flows"}, {Base: "https://pockets.example", Key: "floats", Title: "Floats", Floats: true}, {Base: "https://pockets.example", Key: "wraps", Title: "Wraps", Wraps: true}} {
				c := host.Choose(p, s, host.Needs{Floats: s.Floats, Wraps: s.Wraps}, where, host.Placing{})
				if !assert.NotNil(t, c.Best, "%s, %s, %s", p.Name, where, s.Key) {
					continue
				}
				if c.Best.Delivery == host.Sealed {
					s.Pinned = &host.Pinned{Address: "https://pockets.example/a/0/any.js", Integrity: "sha384-0", Policy: "script-src https://pockets.example/a/0/any.js"}
				}
				g := host.Lead(p, s, where, host.Placing{}, *c.Best)
				assert.NotEmpty(t, g.Steps, "%s, %s", p.Name, where)
				pasted := map[int]bool{}
				for _, step := range g.Steps {
					assert.NotContains(t, step.Say+step.After, "{snippet}")
					if step.Part != nil {
						pasted[*step.Part] = true
					}
				}
				assert.Len(t, pasted, len(g.Parts), "%s, %s: every part is pasted in a step", p.Name, where)
				assert.False(t, slices.ContainsFunc(g.Parts, func(p host.Part) bool { return p.Text == "" }), "%s, %s", p.Name, where)
			}
		}
	}
}
