package manage

import (
	"bytes"
	"encoding/json"
	"errors"
	"io"

	"glasspocket/internal/jsondoc"
	"glasspocket/internal/problem"
)

// decode reads the body strictly, because an unknown key is usually a typing error.
func (k *call) decode(into any) error {
	dec := json.NewDecoder(bytes.NewReader(k.BodyRaw()))
	dec.DisallowUnknownFields()
	err := dec.Decode(into)
	if err == nil && dec.More() {
		err = errors.New("there is text after the end of the document")
	}
	if err == nil {
		return nil
	}
	field, why := jsondoc.Explain(err)
	e := &problem.Error{Kind: problem.Invalid, Code: "body-faulty", Field: field, What: "The request's body cannot be read: " + why, Hint: "See /api/v1/openapi.json for the expected body."}
	if errors.Is(err, io.EOF) {
		e.What = "The request has no body."
	}
	return e
}
