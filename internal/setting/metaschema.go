package setting

import (
	"bytes"
	"errors"
	"fmt"
	"strconv"

	"github.com/santhosh-tekuri/jsonschema/v6"

	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
)

// refuse is a schema loader that loads nothing: reading a schema must never use the network or the
// disk.
type refuse struct{}

func (refuse) Load(url string) (any, error) {
	return nil, fmt.Errorf("%s is not loaded: schemas cannot refer to other files", url)
}

// references reports references to other documents, and to the document itself, where a group could
// contain itself.
func references(v *jsondoc.Value) (faults fault.List) {
	for _, m := range v.Members {
		switch m.Key {
		case "$ref", "$dynamicRef":
			faults = append(faults, m.Value.Fault(fault.SchemaUnusable, m.Key, fmt.Sprintf("%q cannot refer to another file, server or group.", m.Key), "Write the definition here. The service loads nothing else, and a group cannot contain itself."))
		case "default", "enum":
		default:
			faults = append(faults, references(m.Value)...)
		}
	}
	for _, item := range v.Items {
		faults = append(faults, references(item)...)
	}
	return faults
}

// metaschema reports where the document is not valid JSON Schema 2020-12.
func metaschema(src []byte, doc *jsondoc.Value) fault.List {
	plain, err := jsonschema.UnmarshalJSON(bytes.NewReader(src))
	if err != nil {
		return nil // duplicate keys and the like have been reported before
	}
	c := jsonschema.NewCompiler()
	c.UseLoader(refuse{})
	c.DefaultDraft(jsonschema.Draft2020)
	if err := c.AddResource("settings.json", plain); err != nil {
		return nil
	}
	_, err = c.Compile("settings.json")
	if err == nil {
		return nil
	}
	var invalid *jsonschema.ValidationError
	var schemaErr *jsonschema.SchemaValidationError
	if errors.As(err, &schemaErr) && errors.As(schemaErr.Err, &invalid) {
		var faults fault.List
		seen := map[*jsondoc.Value]bool{}
		for _, leaf := range leaves(invalid) {
			place := find(doc, leaf.InstanceLocation)
			if seen[place] {
				continue
			}
			seen[place] = true
			faults = append(faults, place.Fault(fault.SchemaInvalid, last(leaf.InstanceLocation), "This is not valid JSON Schema 2020-12: "+leaf.ErrorKind.LocalizedString(printer)+".", "See the keyword in the JSON Schema 2020-12 specification."))
		}
		return faults
	}
	return fault.List{doc.Fault(fault.SchemaInvalid, "", "This JSON Schema 2020-12 cannot be used: "+err.Error(), "Delete everything that the format's reference page does not list.")}
}

func leaves(e *jsonschema.ValidationError) []*jsonschema.ValidationError {
	if len(e.Causes) == 0 {
		return []*jsonschema.ValidationError{e}
	}
	var all []*jsonschema.ValidationError
	for _, c := range e.Causes {
		all = append(all, leaves(c)...)
	}
	return all
}

func find(doc *jsondoc.Value, path []string) *jsondoc.Value {
	at := doc
	for _, step := range path {
		var next *jsondoc.Value
		if at.Kind == jsondoc.Array {
			if i, err := strconv.Atoi(step); err == nil && i < len(at.Items) {
				next = at.Items[i]
			}
		} else {
			next = at.Get(step)
		}
		if next == nil {
			return at
		}
		at = next
	}
	return at
}

func last(path []string) string {
	if len(path) == 0 {
		return ""
	}
	return path[len(path)-1]
}
