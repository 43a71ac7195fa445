package jsondoc

import (
	"encoding/base64"
	"encoding/json"
	"errors"
	"fmt"
	"reflect"
	"strings"
	"time"
)

// Explain describes in words what encoding/json could not decode, without names of Go types. field
// is the path of the member with the fault, or "" if it is unknown.
func Explain(err error) (field, why string) {
	var kind *json.UnmarshalTypeError
	var moment *time.ParseError
	var encoded base64.CorruptInputError
	switch {
	case errors.As(err, &kind):
		name := "it"
		if kind.Field != "" {
			name = fmt.Sprintf("%q", kind.Field)
		}
		return kind.Field, fmt.Sprintf("%s must be %s, not %s.", name, named(kind.Type), sent(kind.Value))
	case errors.As(err, &moment):
		return "", fmt.Sprintf("%s is not a time such as 2027-03-01T09:00:00Z (RFC 3339).", moment.Value)
	case errors.As(err, &encoded):
		return "", fmt.Sprintf("its base64 text is not valid at byte %d.", int64(encoded))
	}
	return "", strings.TrimPrefix(err.Error(), "json: ") + "."
}

// named describes how values of a Go type are written in JSON.
func named(t reflect.Type) string {
	for t.Kind() == reflect.Pointer {
		t = t.Elem()
	}
	if t == reflect.TypeFor[[]byte]() {
		return "a string in base64"
	}
	switch t.Kind() {
	case reflect.String:
		return "a string"
	case reflect.Bool:
		return "true or false"
	case reflect.Float64:
		return "a number"
	case reflect.Slice, reflect.Array:
		return "an array"
	case reflect.Struct, reflect.Map:
		return "an object"
	}
	return "an integer"
}

// sent describes in words what the decoder found: "string", "number 1.5".
func sent(value string) string {
	kind, rest, more := strings.Cut(value, " ")
	switch {
	case more && kind == "number":
		return rest
	case kind == "object" || kind == "array":
		return "an " + kind
	case kind == "bool":
		return "true or false"
	}
	return "a " + kind
}
