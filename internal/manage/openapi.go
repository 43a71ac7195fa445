package manage

import (
	"encoding/json"
	"fmt"
	"reflect"
	"regexp"
	"strings"
	"time"

	"glasspocket/internal/wire"
)

type object = map[string]any

var pathParameter = regexp.MustCompile(`:(\w+)`)

// document generates the OpenAPI 3.1 document from the routes and their Go types.
func (d *door) document() []byte {
	s := schemas{}
	s.of(reflect.TypeFor[wire.Problem]())
	problem := object{"description": "Refused: see code and hint", "content": object{"application/problem+json": object{"schema": ref("Problem")}}}
	paths := object{}
	for _, r := range d.routes() {
		path := pathParameter.ReplaceAllString(r.path, "{$1}")
		var parameters []object
		for _, m := range pathParameter.FindAllStringSubmatch(r.path, -1) {
			parameters = append(parameters, object{"name": m[1], "in": "path", "required": true, "schema": object{"type": "string"}})
		}
		for _, q := range r.query {
			parameters = append(parameters, object{"name": q.name, "in": "query", "description": q.about, "schema": object{"type": q.kind}})
		}
		if r.match != "" {
			parameters = append(parameters, object{"name": "If-Match", "in": "header", "required": true, "description": "The object's ETag. Lists and * work as in RFC 9110. Weak tags do not match.", "schema": object{"type": "string"}})
		}
		answer := object{"description": "Done"}
		if r.out != nil {
			answer["content"] = object{"application/json": object{"schema": s.of(reflect.TypeOf(r.out))}}
		}
		responses := object{itoa(r.status): answer, "default": problem}
		if r.id == "releaseWidget" || r.id == "uploadAsset" {
			responses["200"] = answer
		}
		op := object{"operationId": r.id, "summary": r.summary, "responses": responses}
		if r.open {
			op["security"] = []object{}
			parameters = append(parameters, object{"name": "Origin", "in": "header", "required": r.id == "signIn", "description": "This service's own address, as browsers send it. Without a token, requests from other origins are refused. Sec-Fetch-Site: same-origin takes precedence.", "schema": object{"type": "string", "format": "uri"}})
		}
		if parameters != nil {
			op["parameters"] = parameters
		}
		if r.in != nil {
			kind := "application/json"
			if r.merge {
				kind = "application/merge-patch+json"
			}
			op["requestBody"] = object{"required": true, "content": object{kind: object{"schema": s.of(reflect.TypeOf(r.in))}}}
		}
		at, _ := paths[path].(object)
		if at == nil {
			at = object{}
			paths[path] = at
		}
		at[strings.ToLower(r.method)] = op
	}
	doc, err := json.MarshalIndent(object{
		"openapi":  "3.1.0",
		"info":     object{"title": "Glass Pocket manage API", "version": "1"},
		"servers":  []object{{"url": "/api/v1"}},
		"paths":    paths,
		"security": []object{{"token": []string{}}, {"session": []string{}}},
		"components": object{"schemas": s, "securitySchemes": object{
			"token":   object{"type": "http", "scheme": "bearer"},
			"session": object{"type": "apiKey", "in": "cookie", "name": d.cookie()},
		}},
	}, "", "  ")
	if err != nil {
		panic(err)
	}
	return append(doc, '\n')
}

// Document returns the OpenAPI document, for builds without a service.
func Document() []byte { return (&door{}).document() }

func ref(name string) object { return object{"$ref": "#/components/schemas/" + name} }

func itoa(n int) string { b, _ := json.Marshal(n); return string(b) }

// schemas collects the schemas of named types.
type schemas map[string]any

// named are the types with a name in the document, which has no packages.
var named = map[string]reflect.Type{}

func (s schemas) of(t reflect.Type) object {
	switch {
	case t == reflect.TypeFor[time.Time]():
		return object{"type": "string", "format": "date-time"}
	case t == reflect.TypeFor[json.RawMessage]():
		return object{"type": "object"} // always an object of settings
	case t == reflect.TypeFor[[]byte]():
		return object{"type": "string", "contentEncoding": "base64"}
	}
	switch t.Kind() {
	case reflect.Pointer:
		return s.of(t.Elem())
	case reflect.String:
		return object{"type": "string"}
	case reflect.Bool:
		return object{"type": "boolean"}
	case reflect.Int, reflect.Int64:
		return object{"type": "integer"}
	case reflect.Float64:
		return object{"type": "number"}
	case reflect.Slice:
		return object{"type": "array", "items": s.of(t.Elem())}
	case reflect.Map:
		return object{"type": "object", "additionalProperties": s.of(t.Elem())}
	case reflect.Interface:
		return object{}
	case reflect.Struct:
		if of, taken := named[t.Name()]; taken && of != t {
			panic(fmt.Sprintf("two types of the API are named %s: %s and %s", t.Name(), of.PkgPath(), t.PkgPath()))
		}
		named[t.Name()] = t
		if _, done := s[t.Name()]; !done {
			s[t.Name()] = nil // reserves the place while the fields are read
			s[t.Name()] = s.fields(t)
		}
		return ref(t.Name())
	}
	panic("no schema for " + t.String())
}

func (s schemas) fields(t reflect.Type) object {
	properties, required := object{}, []string{}
	for f := range t.Fields() {
		name, options, _ := strings.Cut(f.Tag.Get("json"), ",")
		if f.Anonymous && name == "" { // its fields become fields of this type
			of := s.fields(f.Type)
			for key, schema := range of["properties"].(object) {
				properties[key] = schema
			}
			if names, ok := of["required"].([]string); ok {
				required = append(required, names...)
			}
			continue
		}
		if name == "" || name == "-" {
			continue
		}
		properties[name] = s.of(f.Type)
		if !(strings.Contains(options, "omitempty") || strings.Contains(options, "omitzero")) {
			required = append(required, name)
		}
	}
	o := object{"type": "object", "properties": properties}
	if len(required) > 0 {
		o["required"] = required
	}
	return o
}
