package shape

import (
	"encoding/json"
	"regexp"
	"strings"
)

// TypeScript returns the TypeScript type of a value in its JSON form.
func (t *Type) TypeScript() string { return t.declare("") }

var plainName = regexp.MustCompile(`^[A-Za-z_]\w*$`)

func (t *Type) declare(indent string) string {
	switch t.Kind {
	case TextKind:
		if len(t.Of) == 0 {
			return "string"
		}
		quoted := make([]string, len(t.Of))
		for i, v := range t.Of {
			quoted[i] = quote(v)
		}
		return strings.Join(quoted, " | ")
	case LinkKind, MarkupKind, AttributesKind:
		return "string"
	case NumberKind, WholeKind:
		return "number"
	case SwitchKind:
		return "boolean"
	case ListKind:
		element := t.Element.declare(indent)
		if strings.Contains(element, " | ") && !strings.HasPrefix(element, "{") {
			element = "(" + element + ")"
		}
		return element + "[]"
	case ObjectKind:
		if t.Fields == nil {
			return "Record<string, unknown>"
		}
		var b strings.Builder
		b.WriteString("{\n")
		for _, name := range t.Names() {
			key := name
			if !plainName.MatchString(name) {
				key = quote(name)
			}
			b.WriteString(indent + "  " + key + ": " + t.Fields[name].declare(indent+"  ") + ";\n")
		}
		b.WriteString(indent + "}")
		return b.String()
	}
	return "unknown"
}

func quote(s string) string {
	b, _ := json.Marshal(s)
	return string(b)
}
