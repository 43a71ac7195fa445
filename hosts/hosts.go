// Package hosts has the built-in host profiles: a JSON file for each kind of host, in the format
// that docs/host-profiles.md describes. To add one, add a file here.
package hosts

import (
	"embed"
	"encoding/json"
	"fmt"
	"io/fs"
	"sync"

	"glasspocket/internal/host"
)

//go:embed *.json
var files embed.FS

// SchemaFile is the JSON Schema of the format, next to the profiles for editors.
const SchemaFile = "schema.json"

// order is that of lists: the most common ones first.
var order = []string{"plain-page", "page-of-parts", "rich-text", "free-placement", "shop-code-section", "shop-stacked", "raw-markup", "scripts-on-hold", "blog", "course", "program", "strict-policy", "tag-manager", "hugo", "ikiwiki", "discussion", "links-page", "mail", "screen-source"}

//go:embed proved/lab.json
var proved []byte

// Proof is the host lab's result for a delivery of a widget on a host.
type Proof struct {
	Host     string `json:"host"`
	Delivery string `json:"delivery"`
	Widget   string `json:"widget"`
	Shows    string `json:"shows"`
}

// Proved are the lab's results, by host, delivery and widget. A test writes them.
var Proved = sync.OnceValue(func() (list []Proof) {
	if err := json.Unmarshal(proved, &list); err != nil {
		panic(err) // cannot happen: a test wrote it
	}
	return list
})

// Shipped returns the built-in profiles, those in order first. A fault in one of them is a fault in
// this program, which a test finds.
var Shipped = sync.OnceValues(func() (*host.Set, error) {
	var set *host.Set
	names := append([]string{}, order...)
	entries, err := fs.Glob(files, "*.json")
	if err != nil {
		return nil, err
	}
	for _, file := range entries {
		name := file[:len(file)-len(".json")]
		known := file == SchemaFile
		for _, n := range order {
			known = known || n == name
		}
		if !known {
			names = append(names, name)
		}
	}
	for _, name := range names {
		text, err := files.ReadFile(name + ".json")
		if err != nil {
			return nil, err
		}
		next, p, faults := set.With(text)
		if p == nil {
			return nil, fmt.Errorf("hosts/%s.json: %w", name, faults.In(name+".json"))
		}
		if p.Name != name {
			return nil, fmt.Errorf("hosts/%s.json says that its name is %q", name, p.Name)
		}
		set = next
	}
	return set, nil
})
