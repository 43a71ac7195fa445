package content

import "glasspocket/internal/setting"

// Reference is something of a customer's that a content refers to.
type Reference struct {
	Kind string // Asset, Brand or Source
	ID   string // digest of an asset, name of a brand value, ID of a source
}

// The kinds of references.
const (
	Asset  = "asset"
	Brand  = "brand"
	Source = "source"
)

// References lists what settings and lists refer to, without duplicates.
func References(schema *setting.Schema, values setting.Values, lists Lists) (list []Reference) {
	seen := map[Reference]bool{}
	add := func(kind string, ids []string) {
		for _, id := range ids {
			if r := (Reference{kind, id}); !seen[r] {
				seen[r] = true
				list = append(list, r)
			}
		}
	}
	add(Asset, schema.Assets(values))
	add(Brand, schema.BrandUses(values))
	for _, l := range lists {
		for _, from := range l.From {
			add(Source, []string{from.Source})
		}
	}
	return list
}
