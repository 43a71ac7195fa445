package content

import "glasspocket/internal/setting"

// Reference is something of a customer's that settings refer to.
type Reference struct {
	Kind string // Asset or Brand
	ID   string // digest of an asset, name of a brand value
}

// The kinds of references.
const (
	Asset = "asset"
	Brand = "brand"
)

// References lists what settings refer to, without duplicates.
func References(schema *setting.Schema, values setting.Values) (list []Reference) {
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
	return list
}
