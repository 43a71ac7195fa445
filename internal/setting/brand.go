package setting

import (
	"fmt"
	"maps"
	"reflect"
	"slices"

	"glasspocket/internal/asset"
	"glasspocket/internal/clip"
	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
)

// BrandValue is a colour, a font or an image of a customer's brand. Settings of the same type refer
// to it by its name.
type BrandValue struct {
	Name  string `json:"name"`
	Type  string `json:"type"` // "colour", "font" or "image"
	Label string `json:"label"`
	Value any    `json:"value"` // in the form of that setting type
}

// Brand is the design that a customer's widgets share.
type Brand []BrandValue

// BrandMost is the largest number of values in a brand.
const BrandMost = 40

// BrandNames are the names that widgets use: a setting that has one in "brand" starts with the
// brand's value. A brand may have other names too.
var BrandNames = []BrandValue{
	{Name: "ink", Type: "colour", Label: "Text"},
	{Name: "ground", Type: "colour", Label: "Background"},
	{Name: "accent", Type: "colour", Label: "Accent"},
	{Name: "onAccent", Type: "colour", Label: "Text on accent"},
	{Name: "text", Type: "font", Label: "Text"},
	{Name: "heading", Type: "font", Label: "Headings"},
	{Name: "logo", Type: "image", Label: "Logo"},
}

// brandKey is the only member of a value that refers to a brand: {"brand": "accent"}.
const brandKey = "brand"

// BrandRef is a value that refers to a brand's value.
func BrandRef(name string) any { return map[string]any{brandKey: name} }

// IsBrandRef reports whether a value refers to a brand's value.
func IsBrandRef(v any) bool { return BrandName(v) != "" }

// BrandName returns the name of the brand's value that v refers to, or "" if v is not such a
// reference.
func BrandName(v any) string {
	m, ok := v.(map[string]any)
	if !ok || len(m) != 1 {
		return ""
	}
	name, _ := m[brandKey].(string)
	return name
}

// Branded reports whether the setting can refer to a brand's value.
func (s *Setting) Branded() bool { return branded(s.Type) }

func branded(kind string) bool {
	_, can := types[kind].(inBrands)
	return can
}

// checkBrandRef reads a value that refers to a brand. It returns nil for any other value.
func (s *Setting) checkBrandRef(v *jsondoc.Value) (any, problems) {
	if !branded(s.Type) || v.Kind != jsondoc.Object || len(v.Members) != 1 || v.Members[0].Key != brandKey {
		return nil, nil
	}
	name := v.Members[0].Value
	if name.Kind != jsondoc.String || !KeyForm.MatchString(name.Text) {
		return nil, one(fault.BadName, fmt.Sprintf("%q refers to the brand in a form that is not valid.", s.Key), `Write {"brand": "accent"}, with the name of one of the customer's brand values.`).in(name, brandKey)
	}
	return BrandRef(name.Text), nil
}

// CheckBrand reads a brand. Faults are placed by the value's index, as in "2/value".
func CheckBrand(doc *jsondoc.Value) (Brand, fault.List) {
	if doc.Kind != jsondoc.Array {
		return nil, fault.List{doc.Fault(fault.WrongType, "values", "A brand is a list of values.", `Write [{"name": "accent", "type": "colour", "label": "Accent", "value": "#0b6b63"}].`)}
	}
	if len(doc.Items) > BrandMost {
		return nil, fault.List{doc.Fault(fault.ValueLength, "values", fmt.Sprintf("A brand can have at most %d values.", BrandMost), "Delete some.")}
	}
	keys := []jsondoc.Key{{Name: "name", Must: true, Is: []jsondoc.Kind{jsondoc.String}}, {Name: "type", Must: true, Is: []jsondoc.Kind{jsondoc.String}}, {Name: "label", Is: []jsondoc.Kind{jsondoc.String}}, {Name: "value", Must: true}}
	brand, faults := Brand{}, fault.List{}
	for i, item := range doc.Items {
		at := fmt.Sprintf("%d/", i)
		if more := item.Expect("a value of a brand", keys); len(more) > 0 {
			for _, f := range more {
				f.Field = at + f.Field
				faults = append(faults, f)
			}
			continue
		}
		b := BrandValue{Name: item.TextOf("name"), Type: item.TextOf("type"), Label: item.TextOf("label")}
		known := slices.IndexFunc(BrandNames, func(k BrandValue) bool { return k.Name == b.Name })
		switch {
		case !KeyForm.MatchString(b.Name):
			faults = append(faults, item.Get("name").Fault(fault.BadName, at+"name", fmt.Sprintf("%q is not a valid name for a brand value.", clip.Input(b.Name)), "Use at most 40 letters and digits, and start with a lower-case letter."))
			continue
		case !branded(b.Type):
			faults = append(faults, item.Get("type").Fault(fault.ValueChoice, at+"type", fmt.Sprintf("A brand value cannot have the type %q.", clip.Input(b.Type)), "Choose colour, font or image."))
			continue
		case known >= 0 && BrandNames[known].Type != b.Type:
			faults = append(faults, item.Get("type").Fault(fault.ValueChoice, at+"type", fmt.Sprintf("The brand value %q has the type %s.", b.Name, BrandNames[known].Type), "Choose another name, or use that type."))
			continue
		case slices.ContainsFunc(brand, func(other BrandValue) bool { return other.Name == b.Name }):
			faults = append(faults, item.Get("name").Fault(fault.ValueTwice, at+"name", fmt.Sprintf("The name %q is used twice.", b.Name), "Delete one of them."))
			continue
		}
		if b.Label == "" {
			b.Label = b.Name
			if known >= 0 {
				b.Label = BrandNames[known].Label
			}
		}
		if r, bad := Unshowable(b.Label); bad || len([]rune(b.Label)) > 60 {
			faults = append(faults, item.Get("label").Fault(fault.ValueLength, at+"label", fmt.Sprintf("A label can have at most 60 characters, and not U+%04X.", r), "Change the label."))
			continue
		}
		of := &Setting{Key: b.Label, Type: b.Type}
		value, ps := types[b.Type].check(of, item.Get("value"))
		if ps != nil {
			faults = append(faults, ps.faults(item.Get("value"), at+"value", "")...)
			continue
		}
		if ref := assetIn(b.Type, value); asset.OfFolder(ref) {
			faults = append(faults, item.Get("value").Fault(fault.ValueAsset, at+"value", "A brand uses the customer's uploads, not the files of a widget.", "Upload the file, and refer to it by its digest."))
			continue
		}
		b.Value = value
		brand = append(brand, b)
	}
	return brand, faults
}

func assetIn(kind string, value any) string {
	if kind == "font" {
		if t, _ := value.(string); asset.IsRef(t) {
			return t
		}
		return ""
	}
	refs := assetOf(value)
	if len(refs) == 0 {
		return ""
	}
	return refs[0]
}

// Assets lists the digests of the uploaded assets in a brand.
func (b Brand) Assets() (digests []string) {
	for _, v := range b {
		if ref := assetIn(v.Type, v.Value); ref != "" {
			digests = append(digests, ref)
		}
	}
	return digests
}

func (b Brand) find(name, kind string) (any, bool) {
	for _, v := range b {
		if v.Name == name && v.Type == kind {
			return v.Value, true
		}
	}
	return nil, false
}

// Differs lists the names whose values differ from another brand's.
func (b Brand) Differs(other Brand) (names []string) {
	for _, v := range append(slices.Clone(b), other...) {
		was, had := b.find(v.Name, v.Type)
		is, has := other.find(v.Name, v.Type)
		if (had != has || !reflect.DeepEqual(was, is)) && !slices.Contains(names, v.Name) {
			names = append(names, v.Name)
		}
	}
	return names
}

// WithBrand replaces references to the brand by the brand's values. If the brand lacks one, the
// setting has its default, or no value.
func (s *Schema) WithBrand(values Values, brand Brand) Values {
	if len(s.BrandUses(values)) == 0 {
		return values
	}
	out := withBrand(s.Settings, values, brand)
	if small, ok := values[SmallKey].(map[string]any); ok {
		out[SmallKey] = map[string]any(withBrand(s.Settings, small, brand))
	}
	return out
}

func withBrand(fields []*Setting, values Values, brand Brand) Values {
	out := maps.Clone(values)
	for _, f := range fields {
		v, there := out[f.Key]
		if !there {
			continue
		}
		if name := BrandName(v); name != "" && branded(f.Type) {
			value, has := brand.find(name, f.Type)
			switch {
			case has:
				out[f.Key] = value
			case f.Default != nil:
				out[f.Key] = f.Default
			default:
				delete(out, f.Key)
			}
			continue
		}
		fields, many := f.Holds()
		switch inner := v.(type) {
		case []any:
			if !many {
				continue
			}
			items := make([]any, len(inner))
			for i, item := range inner {
				m, _ := item.(map[string]any)
				items[i] = map[string]any(withBrand(fields, m, brand))
			}
			out[f.Key] = items
		case map[string]any:
			if fields != nil && !many {
				out[f.Key] = map[string]any(withBrand(fields, inner, brand))
			}
		}
	}
	return out
}

// Inner returns the fields of a list's items, declared by the list itself or by the item model.
func (s *Setting) Inner() []*Setting {
	if s.model != nil {
		return s.model
	}
	return s.Fields
}

// BrandUses lists the brand's names that values refer to: each once, sorted.
func (s *Schema) BrandUses(values Values) []string {
	names := brandUses(s.Settings, values, nil)
	if small, ok := values[SmallKey].(map[string]any); ok {
		names = brandUses(s.Settings, small, names)
	}
	slices.Sort(names)
	return slices.Compact(names)
}

func brandUses(fields []*Setting, values map[string]any, names []string) []string {
	for _, f := range fields {
		v := values[f.Key]
		if name := BrandName(v); name != "" && branded(f.Type) {
			names = append(names, name)
			continue
		}
		fields, many := f.Holds()
		switch inner := v.(type) {
		case []any:
			if many {
				for _, item := range inner {
					m, _ := item.(map[string]any)
					names = brandUses(fields, m, names)
				}
			}
		case map[string]any:
			if !many {
				names = brandUses(fields, inner, names)
			}
		}
	}
	return names
}

// Branded inserts references to a brand where the schema says that a setting starts with it. Text
// and background are replaced only together, and so are the accent and the text on it, because a
// mix with the starter's colours could be hard to read. If a brand colour would be hard to read
// with a colour that the starter keeps, the starter's colour stays. A setting that inherits from
// the page keeps inheriting.
func (s *Schema) Branded(values Values, brand Brand) Values {
	starts := map[string][]*Setting{}
	for _, set := range s.Settings {
		if _, has := brand.find(set.Brand, set.Type); has && s.given(values, set.Key) != Inherited {
			starts[set.Brand] = append(starts[set.Brand], set)
		}
	}
	for {
		out := s.branded(values, starts)
		weak := s.weakened(values, s.WithBrand(out, brand))
		before := len(starts)
		for _, set := range weak {
			if BrandName(out[set.Key]) != "" {
				delete(starts, set.Brand)
			}
		}
		if len(starts) == before {
			return out
		}
	}
}

// given returns a setting's value, or its default.
func (s *Schema) given(values Values, key string) any {
	if v, has := values[key]; has {
		return v
	}
	return s.Get(key).Default
}

// weakened lists the settings whose text and background were easy to read in from and are hard to
// read in to.
func (s *Schema) weakened(from, to Values) (weak []*Setting) {
	of := func(values Values, set *Setting) float64 {
		ink, _ := s.given(values, set.Key).(string)
		on, _ := s.given(values, set.On).(string)
		return Contrast(ink, on)
	}
	for _, set := range s.Settings {
		if set.On == "" {
			continue
		}
		if contrast := of(to, set); contrast > 0 && contrast < ContrastLeast && contrast < of(from, set) {
			weak = append(weak, set, s.Get(set.On))
		}
	}
	return weak
}

func (s *Schema) branded(values Values, starts map[string][]*Setting) Values {
	starts = maps.Clone(starts)
	both := func(a, b string) bool { return len(starts[a]) > 0 && len(starts[b]) > 0 }
	if !both("ink", "ground") {
		delete(starts, "ink")
		delete(starts, "ground")
	}
	if !both("accent", "onAccent") {
		delete(starts, "onAccent")
	}
	out := Values{}
	maps.Copy(out, values)
	for name, sets := range starts {
		for _, set := range sets {
			out[set.Key] = BrandRef(name)
		}
	}
	return out
}
