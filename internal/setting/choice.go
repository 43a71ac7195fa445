package setting

import (
	"fmt"
	"regexp"
	"slices"

	"glasspocket/internal/asset"
	"glasspocket/internal/clip"
	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/message"
	"glasspocket/internal/shape"
)

// OptionsMost is the largest number of options in a choice.
const OptionsMost = 100

// optionValue restricts an option's value so that a selector can contain it as the value of a data
// attribute.
var optionValue = regexp.MustCompile(`^[a-z0-9][a-z0-9-]{0,39}$`)

type choice struct{}

func (choice) jsonTypes() []string                 { return []string{"string"} }
func (choice) controls() []string                  { return []string{"list", "segments", "images"} }
func (choice) keys() []string                      { return []string{"enum"} }
func (choice) glass() []string                     { return []string{"options", "images", "pictures"} }
func (choice) shape(s *Setting) *shape.Type        { return shape.OneOf(s.values()...) }
func (choice) view(_ *Setting, v any, _ World) any { return v }

func (choice) read(s *Setting, v *jsondoc.Value) fault.List {
	glass := v.Get("glass")
	return append(readOptions(s, v, glass), readImages(s, glass)...)
}

// readImages reads the image of each option, for the control "images". Earlier releases call it "pictures".
func readImages(s *Setting, glass *jsondoc.Value) (faults fault.List) {
	images := glass.Get("images")
	if images == nil {
		images = glass.Get("pictures")
	}
	if images == nil {
		if s.Control == "images" {
			faults = append(faults, at(glass, "control").Fault(fault.KeyMissing, s.Key, "The control \"images\" needs an image for each option.", `Add "images": {"row": "assets/row.svg", …} to "glass".`))
		}
		return faults
	}
	for i, o := range s.Options {
		p := images.Get(o.Value)
		if p == nil {
			faults = append(faults, images.Fault(fault.KeyMissing, s.Key, fmt.Sprintf("The option %q has no image.", o.Value), fmt.Sprintf(`Add "%s": "assets/…".`, o.Value)))
			continue
		}
		_, ps := s.readAsset(p, asset.Image)
		faults = append(faults, ps.faults(p, s.Key, "")...)
		s.Options[i].Image = p.Text
	}
	for _, m := range images.Members {
		if !slices.Contains(s.values(), m.Key) {
			faults = append(faults, fault.Fault{Line: m.Line, Column: m.Column, Field: s.Key, Code: fault.KeyUnknown,
				What: fmt.Sprintf("glass.images shows %q, which is not in \"enum\".", m.Key), Fix: fault.DidYouMean(m.Key, s.values())})
		}
	}
	return faults
}

// readOptions reads the values from v's "enum" and their labels from glass.
func readOptions(s *Setting, v, glass *jsondoc.Value) fault.List {
	enum := v.Get("enum")
	if enum == nil || enum.Kind != jsondoc.Array || len(enum.Items) == 0 || len(enum.Items) > OptionsMost {
		return fault.List{at(v, "enum").Fault(fault.SchemaUnusable, s.Key, fmt.Sprintf("A choice needs an \"enum\" of 1 to %d strings.", OptionsMost), `Add "enum": ["…", "…"].`)}
	}
	var faults fault.List
	labels := glass.Get("options")
	for _, item := range enum.Items {
		if item.Kind != jsondoc.String || !optionValue.MatchString(item.Text) {
			faults = append(faults, item.Fault(fault.BadName, s.Key, "An option's value can have at most 40 lower-case letters, digits and hyphens.", "Write the text that people read in glass.options."))
			if item.Kind == jsondoc.String { // its label, and a default that names it, are valid
				s.Options = append(s.Options, Option{Value: item.Text})
			}
			continue
		}
		o := Option{Value: item.Text}
		label := labels.Get(item.Text)
		if label == nil {
			faults = append(faults, item.Fault(fault.KeyMissing, s.Key, fmt.Sprintf("The option %q has no label.", item.Text), fmt.Sprintf(`Add "%s": {"en": "…"} to glass.options.`, item.Text)))
			s.Options = append(s.Options, o) // so that values are still compared with it
			continue
		}
		var more fault.List
		o.Label, more = message.ReadWords(label, item.Text)
		faults = append(faults, more...)
		s.Options = append(s.Options, o)
	}
	if labels != nil {
		for _, m := range labels.Members {
			if !slices.Contains(s.values(), m.Key) {
				faults = append(faults, fault.Fault{Line: m.Line, Column: m.Column, Field: s.Key, Code: fault.KeyUnknown,
					What: fmt.Sprintf("glass.options labels %q, which is not in \"enum\".", m.Key), Fix: fault.DidYouMean(m.Key, s.values())})
			}
		}
	}
	return faults
}

func (choice) check(s *Setting, v *jsondoc.Value) (any, problems) {
	if v.Kind != jsondoc.String {
		return nil, wrongType(s, v, "one of its choices", "Put it in double quotes.")
	}
	if !slices.Contains(s.values(), v.Text) {
		return nil, one(fault.ValueChoice, fmt.Sprintf("%q is not one of the choices for %q.", clip.Input(v.Text), s.Key), fault.DidYouMean(v.Text, s.values()))
	}
	return v.Text, nil
}

func (s *Setting) values() []string {
	list := make([]string, len(s.Options))
	for i, o := range s.Options {
		list[i] = o.Value
	}
	return list
}

func (choice) note() Note {
	return Note{"One of several values. Each value matches `^[a-z0-9][a-z0-9-]{0,39}$`.", `"row"`}
}

func (choice) css() string {
	return `{ "as": "attribute", "write": "{value}" }`
}

func (choice) words(s *Setting, v any, language string) string { return s.optionInWords(v, language) }

func (choice) inPage(s *Setting, p *InPage) { p.Of = s.Shape().Of }

func (t choice) condition(s *Setting, v *jsondoc.Value) (any, problems) { return t.check(s, v) }
