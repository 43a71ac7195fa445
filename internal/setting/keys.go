package setting

import (
	"regexp"

	"glasspocket/internal/jsondoc"
)

// KeyForm is what a setting's key must look like, so that it can be a template field,
// a custom property and a data attribute.
var KeyForm = regexp.MustCompile(`^[a-z][a-zA-Z0-9]{0,39}$`)

// The keys of settings.json, of a property, and of the annotation object "glass".
var (
	SchemaKeys = []jsondoc.Key{
		{Name: "$schema", Must: true, Is: []jsondoc.Kind{jsondoc.String}, About: "`https://json-schema.org/draft/2020-12/schema`"},
		{Name: "$comment", Is: []jsondoc.Kind{jsondoc.String}, About: "for people"},
		{Name: "title", Is: []jsondoc.Kind{jsondoc.String}, About: "for people"},
		{Name: "description", Is: []jsondoc.Kind{jsondoc.String}, About: "for people"},
		{Name: "type", Must: true, Is: []jsondoc.Kind{jsondoc.String}, About: "`\"object\"`"},
		{Name: "required", Is: []jsondoc.Kind{jsondoc.Array}, About: "keys without which nothing can be published"},
		{Name: "properties", Must: true, Is: []jsondoc.Kind{jsondoc.Object}, About: "the settings by key, at most 200"},
		{Name: "additionalProperties", Is: []jsondoc.Kind{jsondoc.Boolean}, About: "for other validators; with `false` declare `\"small\": {\"type\": \"object\"}` too when a setting may differ on small screens"},
		{Name: "glass", Is: []jsondoc.Kind{jsondoc.Object}, About: "our annotations, below"},
	}
	TopGlassKeys = []jsondoc.Key{
		{Name: "groups", Is: []jsondoc.Kind{jsondoc.Array}, About: "the form's headings in order, below"},
		{Name: "changes", Is: []jsondoc.Kind{jsondoc.Array}, About: "what becomes of values that were set under older releases; see “From release to release”"},
	}
	GroupKeys = []jsondoc.Key{
		{Name: "name", Must: true, Is: []jsondoc.Kind{jsondoc.String}, About: "what a setting's `group` names"},
		{Name: "label", Must: true, Is: []jsondoc.Kind{jsondoc.Object}, About: "the heading, by language"},
		{Name: "part", Is: []jsondoc.Kind{jsondoc.String}, About: "the part of the form that it stands in: `says` (what the widget says), `looks` or `stands` (where and when it does); by what is in it when left out"},
	}
	commonKeys = []string{"type", "default", "title", "description", "$comment", "glass"}
	// GlassKeys are those of "glass" in a setting. Some belong to some types only.
	GlassKeys = []jsondoc.Key{
		{Name: "type", Must: true, Is: []jsondoc.Kind{jsondoc.String}, About: "the setting type, below"},
		{Name: "label", Must: true, Is: []jsondoc.Kind{jsondoc.Object}, About: "what the form calls it, by language"},
		{Name: "help", Is: []jsondoc.Kind{jsondoc.Object}, About: "a sentence below the field, by language"},
		{Name: "search", Is: []jsondoc.Kind{jsondoc.Object}, About: "words that people search for it by and that are in none of its texts, by language"},
		{Name: "group", Is: []jsondoc.Kind{jsondoc.String}, About: "the name of its group; the first when left out"},
		{Name: "order", Is: []jsondoc.Kind{jsondoc.Number}, About: "its place in the group, small first"},
		{Name: "control", Is: []jsondoc.Kind{jsondoc.String}, About: "how the form shows it; the first listed when left out"},
		{Name: "when", Is: []jsondoc.Kind{jsondoc.Object}, About: "other settings and the values of theirs with which this one matters, one or a list: `{\"clock\": \"visitor\"}`. Otherwise the form leaves it out, and it may lack a value though it is required"},
		{Name: "look", Is: []jsondoc.Kind{jsondoc.Boolean}, About: "true when it reaches the stylesheet; see “In the stylesheet”"},
		{Name: "small", Is: []jsondoc.Kind{jsondoc.Boolean}, About: "true when it may differ on small screens; see “On small screens”"},
		{Name: "inherit", Is: []jsondoc.Kind{jsondoc.String}, About: "the CSS property that comes from the page when the value is `\"inherit\"`; see “As the page has it”"},
		{Name: "override", Is: []jsondoc.Kind{jsondoc.Boolean}, About: "true when a mount point may give it another value: `data-set-NAME=\"…\"`"},
		{Name: "unit", Is: []jsondoc.Kind{jsondoc.String}, About: "of a number: what CSS writes behind it: `px`, `em`, `%`, `ch`, `deg`, `s`, `ms`, `fr`"},
		{Name: "units", Is: []jsondoc.Kind{jsondoc.Array}, About: "of a length: those it may have: `px`, `em`, `%`, `ch`, `vw`, `vh`; the first three when left out"},
		{Name: "minimum", Is: []jsondoc.Kind{jsondoc.Number}, About: "of a length, a spacing or a duration (seconds): the smallest number"},
		{Name: "maximum", Is: []jsondoc.Kind{jsondoc.Number}, About: "of those: the largest"},
		{Name: "options", Is: []jsondoc.Kind{jsondoc.Object}, About: "of a choice or several: the label of each value, by language"},
		{Name: "pictures", Is: []jsondoc.Kind{jsondoc.Object}, About: "of a choice with the control `pictures`: an asset of the folder for each value"},
		{Name: "on", Is: []jsondoc.Kind{jsondoc.String}, About: "of a colour: the colour setting that it is read on; its contrast is looked at"},
		{Name: "brand", Is: []jsondoc.Kind{jsondoc.String}, About: "of a colour, a font or an image: the value of the customer's brand that new pockets start from: `ink`, `ground`, `accent`, `onAccent`, `text`, `heading` or `logo`"},
		{Name: "kind", Is: []jsondoc.Kind{jsondoc.String}, About: "of items: `review`, `post`, `date`, `card` or `person`"},
		{Name: "facts", Is: []jsondoc.Kind{jsondoc.Boolean}, About: "of a text: true when facts of the page may stand in it, as `{firstName}`; the form then explains how a page states them"},
		{Name: "sortBy", Is: []jsondoc.Kind{jsondoc.String}, About: "of items: the choice setting that says in which order they show: `typed`, `newest`, `oldest`, `best`, `worst`, or some of these"},
		{Name: "fields", Is: []jsondoc.Kind{jsondoc.Array}, About: "of items: the fields of the item model that the widget shows"},
	}
	// someGlass are the keys of "glass" that only some types have.
	someGlass = []string{"unit", "units", "minimum", "maximum", "options", "pictures", "on", "brand", "kind", "fields", "facts", "sortBy"}
)

// Inheritable are the CSS properties that a widget may let in from the page: those that
// are inherited anyway (CSS Cascading and Inheritance 4).
var Inheritable = []string{"color", "font-family", "font-size", "font-style", "font-weight", "letter-spacing", "line-height", "text-align", "text-transform", "word-spacing"}
