package setting

import (
	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/message"
)

// readEnum sets the options to the values that the type has, or to the ones that "enum" selects.
func readEnum(s *Setting, v *jsondoc.Value, all []string, labels map[string]message.Words) (faults fault.List) {
	enum := v.Get("enum")
	if enum == nil {
		for _, value := range all {
			s.Options = append(s.Options, Option{Value: value, Label: labels[value]})
		}
		return nil
	}
	for _, item := range enum.Items {
		if !contains(all, item.Text) {
			faults = append(faults, item.Fault(fault.SchemaUnusable, s.Key, "The type "+s.Type+" has no such value.", fault.DidYouMean(item.Text, all)))
			continue
		}
		s.Options = append(s.Options, Option{Value: item.Text, Label: labels[item.Text]})
	}
	return faults
}
