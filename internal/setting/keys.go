package setting

import (
	"regexp"

	"glasspocket/internal/jsondoc"
)

// KeyForm is the form of a setting's key, so that it can be a template field, a custom property and
// a data attribute.
var KeyForm = regexp.MustCompile(`^[a-z][a-zA-Z0-9]{0,39}$`)

// The keys of settings.json, of a property, and of the annotation object "glass".
var (
	SchemaKeys = []jsondoc.Key{
		{Name: "$schema", Must: true, Is: []jsondoc.Kind{jsondoc.String}, About: "`https://json-schema.org/draft/2020-12/schema`"},
		{Name: "$comment", Is: []jsondoc.Kind{jsondoc.String}, About: "for people"},
		{Name: "title", Is: []jsondoc.Kind{jsondoc.String}, About: "for people"},
		{Name: "description", Is: []jsondoc.Kind{jsondoc.String}, About: "for people"},
		{Name: "type", Must: true, Is: []jsondoc.Kind{jsondoc.String}, About: "`\"object\"`"},
		{Name: "required", Is: []jsondoc.Kind{jsondoc.Array}, About: "keys that must have a value before publishing"},
		{Name: "properties", Must: true, Is: []jsondoc.Kind{jsondoc.Object}, About: "the settings by key, at most 200"},
		{Name: "additionalProperties", Is: []jsondoc.Kind{jsondoc.Boolean}, About: "for other validators; with `false`, also declare `\"small\": {\"type\": \"object\"}` if a setting can differ on small screens"},
		{Name: "glass", Is: []jsondoc.Kind{jsondoc.Object}, About: "our annotations, below"},
	}
	TopGlassKeys = []jsondoc.Key{
		{Name: "groups", Is: []jsondoc.Kind{jsondoc.Array}, About: "the editor's headings in order, below"},
		{Name: "changes", Is: []jsondoc.Kind{jsondoc.Array}, About: "how values from older releases change; see “From release to release”"},
	}
	GroupKeys = []jsondoc.Key{
		{Name: "name", Must: true, Is: []jsondoc.Kind{jsondoc.String}, About: "the name that a setting's `group` refers to"},
		{Name: "label", Must: true, Is: []jsondoc.Kind{jsondoc.Object}, About: "the heading, by language"},
		{Name: "part", Is: []jsondoc.Kind{jsondoc.String}, About: "its section of the editor: `says` (content), `looks` (look) or `stands` (position); if left out, the settings in it decide"},
	}
	commonKeys = []string{"type", "default", "title", "description", "$comment", "glass"}
	// GlassKeys are the keys of "glass" in a setting. Some exist for certain types only.
	GlassKeys = []jsondoc.Key{
		{Name: "type", Must: true, Is: []jsondoc.Kind{jsondoc.String}, About: "the setting type, below"},
		{Name: "label", Must: true, Is: []jsondoc.Kind{jsondoc.Object}, About: "the label in the editor, by language"},
		{Name: "help", Is: []jsondoc.Kind{jsondoc.Object}, About: "a sentence below the field, by language"},
		{Name: "search", Is: []jsondoc.Kind{jsondoc.Object}, About: "further search words, by language"},
		{Name: "group", Is: []jsondoc.Kind{jsondoc.String}, About: "the name of its group (default: the first)"},
		{Name: "order", Is: []jsondoc.Kind{jsondoc.Number}, About: "its position in the group, in ascending order"},
		{Name: "control", Is: []jsondoc.Kind{jsondoc.String}, About: "the field in the editor (default: the first listed)"},
		{Name: "when", Is: []jsondoc.Kind{jsondoc.Object}, About: "other settings with a value or a list of values: `{\"clock\": \"visitor\"}`. With other values, this setting has no effect: the editor hides it, and it needs no value even if it is required"},
		{Name: "look", Is: []jsondoc.Kind{jsondoc.Boolean}, About: "true if the stylesheet uses it; see “In the stylesheet”"},
		{Name: "small", Is: []jsondoc.Kind{jsondoc.Boolean}, About: "true if it can differ on small screens; see “On small screens”"},
		{Name: "inherit", Is: []jsondoc.Kind{jsondoc.String}, About: "the CSS property that is inherited from the page if the value is `\"inherit\"`; see “Inherited from the page”"},
		{Name: "override", Is: []jsondoc.Kind{jsondoc.Boolean}, About: "true if a mount point can override it with `data-set-NAME=\"…\"`"},
		{Name: "unit", Is: []jsondoc.Kind{jsondoc.String}, About: "of a number: its unit in CSS: `px`, `em`, `%`, `ch`, `deg`, `s`, `ms`, `fr`"},
		{Name: "units", Is: []jsondoc.Kind{jsondoc.Array}, About: "of a length: its possible units: `px`, `em`, `%`, `ch`, `vw`, `vh` (default: the first three)"},
		{Name: "minimum", Is: []jsondoc.Kind{jsondoc.Number}, About: "of a length, a spacing or a duration (seconds): the smallest number"},
		{Name: "maximum", Is: []jsondoc.Kind{jsondoc.Number}, About: "of those: the largest"},
		{Name: "options", Is: []jsondoc.Kind{jsondoc.Object}, About: "of a choice or choices: the label of each value, by language"},
		{Name: "images", Is: []jsondoc.Kind{jsondoc.Object}, About: "of a choice with the control `images`: an image in the folder for each value"},
		{Name: "pictures", Is: []jsondoc.Kind{jsondoc.Object}, Earlier: true},
		{Name: "on", Is: []jsondoc.Kind{jsondoc.String}, About: "of a colour: the colour setting of its background, to check the contrast"},
		{Name: "brand", Is: []jsondoc.Kind{jsondoc.String}, About: "of a colour, a font or an image: the brand value that new pockets start with: `ink`, `ground`, `accent`, `onAccent`, `text`, `heading` or `logo`"},
		{Name: "kind", Is: []jsondoc.Kind{jsondoc.String}, About: "of items: `review`, `post`, `date`, `card`, `person` or `notice`"},
		{Name: "facts", Is: []jsondoc.Kind{jsondoc.Boolean}, About: "of a text: true if it can contain facts of the page, such as `{firstName}`; the editor then explains how a page states them"},
		{Name: "sortBy", Is: []jsondoc.Kind{jsondoc.String}, About: "of items: the choice setting that sets their order: `typed`, `newest`, `oldest`, `best`, `worst`, `soonest` (by start), or some of these"},
		{Name: "kinds", Is: []jsondoc.Kind{jsondoc.Array}, About: "of items: other kinds that the widget shows, too (default: any); `[]` for none. Items of any other kind are not shown, and the editor says why"},
		{Name: "needs", Is: []jsondoc.Kind{jsondoc.Array}, About: "of items: fields without which an item is not shown, and the editor says why. The view must handle items without any of the other fields"},
		{Name: "page", Is: []jsondoc.Kind{jsondoc.String}, About: "of items: the number setting with the items shown at first and added by each “show more”; see “Lists with pages”"},
		{Name: "fields", Is: []jsondoc.Kind{jsondoc.Array}, About: "of items: the fields of the item model that the widget shows"},
	}
	// someGlass are the keys of "glass" that exist for certain types only.
	someGlass = []string{"unit", "units", "minimum", "maximum", "options", "images", "pictures", "on", "brand", "kind", "fields", "facts", "sortBy", "kinds", "needs", "page"}
)

// Inheritable are the CSS properties that a setting can inherit from the page: those that inherit
// in CSS anyway (CSS Cascading and Inheritance 4).
var Inheritable = []string{"color", "font-family", "font-size", "font-style", "font-weight", "letter-spacing", "line-height", "text-align", "text-transform", "word-spacing"}
