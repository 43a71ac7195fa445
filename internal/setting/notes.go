package setting

import (
	"slices"

	"glasspocket/internal/jsondoc"
)

// Note describes a setting type for the format's reference.
type Note struct {
	What  string // the type and its keywords
	Value string // a value in canonical form, as JSON
}

// Notes has a note for each of TypeNames.
var Notes = map[string]Note{
	"alignment": {"The alignment of text, relative to the writing direction. `enum` can restrict the four values.", `"center"`},
	"border":    {"A border. `width` is 0 to 40 pixels; `style` is none, solid, dashed, dotted or double.", `{"width": 1, "style": "solid", "colour": "#d7e0dd"}`},
	"choice":    {"One of several values. Each value matches `^[a-z0-9][a-z0-9-]{0,39}$`.", `"row"`},
	"choices":   {"Any number of several values. `items` contains their `enum`.", `["date", "stars"]`},
	"colour":    {"A colour, with optional transparency in the last two digits. `#rgb` is accepted and expanded.", `"#0b6b6380"`},
	"date":      {"A calendar date (RFC 3339, full-date); `\"\"` for none.", `"2027-03-01"`},
	"duration":  {"A duration (ISO 8601: days of 24 hours, hours, minutes, seconds).", `"PT8S"`},
	"font":      {"A font: the name of a stack of system fonts, `\"inherit\"` for the page's font, or an uploaded font by its digest or its path in assets/.", `"book"`},
	"gradient":  {"A linear gradient. `angle` is in degrees (0 is up, 90 is right); 2 to 8 colours have positions in percent.", `{"angle": 90, "stops": [{"colour": "#0b6b63", "at": 0}, {"colour": "#17233a", "at": 100}]}`},
	"heading":   {"The level of a heading in the outline of the page; `none` makes it plain text. `enum` can restrict the seven values. `{{heading .settings.level}}` writes the attributes.", `"2"`},
	"icon":      {"The name of one of our icons; `\"\"` for none. `{{icon .settings.mark}}` draws it.", `"star"`},
	"image":     {"An image: an asset by its digest or its path in assets/, a text alternative, and the focus point in percent that stays visible when the image is cropped. `{{image .settings.photo \"50vw\"}}` writes it.", `{"asset": "assets/boat.jpg", "alt": "A boat at the pier", "decorative": false, "focus": {"x": 50, "y": 50}}`},
	"items":     {"Content in the common item model, below.", `[{"id": "r1", "title": "Good", "rating": {"value": 5, "best": 5}}]`},
	"language":  {"A language as a BCP 47 tag; `\"\"` for none.", `"pt-BR"`},
	"length":    {"A number with a unit that the customer chooses.", `"1.5em"`},
	"link":      {"An address (http, https, mailto, tel), and whether it opens in a new tab. `<a {{linkTo .settings.more}}>` writes the attributes.", `{"address": "https://kelp-and-kiln.example", "target": "same"}`},
	"list":      {"A list of groups of settings. `items` is an object with `properties` like those of the schema. Each item keeps its `id` when it moves; the service creates a missing `id`.", `[{"id": "1f2e3d4c", "title": "One"}]`},
	"moment":    {"A local date and time with an IANA time zone (RFC 9557, as in Temporal), from 1970 to 2200. A time that the clocks skip moves forward by the gap. A time that happens twice is the first one, unless it has an offset.", `"2027-03-01T18:00[Europe/Berlin]"`},
	"money":     {"An amount in the currency's minor units and its ISO 4217 code. `{{money .settings.price}}` writes it.", `{"amount": 1250, "currency": "EUR"}`},
	"number":    {"A number. The control `slider` needs `minimum` and `maximum`.", `12`},
	"rating":    {"A rating out of `best`; without `value`, there is no rating.", `{"value": 4.5, "best": 5}`},
	"richText":  {"Sanitised HTML: p, br, strong, em, s, code, blockquote, ul, ol, li, h3, h4 and links stay. Other elements are removed, but their text stays.", `"<p>Tea and <strong>kiln</strong></p>"`},
	"shadow":    {"A shadow. `kind` is none, outside or inside; lengths are in pixels.", `{"kind": "outside", "x": 0, "y": 6, "blur": 24, "spread": 0, "colour": "#00000022"}`},
	"sound":     {"A sound: an asset by its digest or its path in assets/.", `{"asset": "assets/bell.mp3"}`},
	"spacing":   {"A margin or padding in pixels for each side. A single number is accepted for all four.", `{"top": 8, "right": 16, "bottom": 8, "left": 16}`},
	"switch":    {"True or false.", `true`},
	"tags":      {"Up to 20 different short texts.", `["clay", "evening"]`},
	"text":      {"One line of text, or several with the control `lines`. `maxLength` is 200 by default and at most 5000; `pattern` uses RE2; `\"format\": \"uri\"` is a link (http, https, mailto, tel).", `"The kiln opens again"`},
	"time":      {"A time of day; `\"\"` for none.", `"18:30"`},
}

// InCSS returns how a setting type is passed to the stylesheet: "property", "attribute" or "".
func InCSS(name string) string { return cssTable[name].As }

// GlassOf lists the keys of "glass" that this type has in addition to the common ones.
func GlassOf(name string) []string {
	return slices.DeleteFunc(types[name].glass(), func(key string) bool {
		return slices.ContainsFunc(GlassKeys, func(k jsondoc.Key) bool { return k.Name == key && k.Earlier })
	})
}
