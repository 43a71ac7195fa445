package setting

// Note says what a setting type is, for the reference of the format.
type Note struct {
	What  string // what it is, and what its keywords mean
	Value string // a value in its canonical form, as JSON
}

// Notes has one for each of TypeNames.
var Notes = map[string]Note{
	"alignment": {"Where lines of text stand; it follows the direction of writing. `enum` leaves some of the four out.", `"center"`},
	"border":    {"A border. `width` 0 to 40 pixels; `style` none, solid, dashed, dotted or double.", `{"width": 1, "style": "solid", "colour": "#d0d7de"}`},
	"choice":    {"One of a few values, each of `^[a-z0-9][a-z0-9-]{0,39}$`.", `"row"`},
	"choices":   {"Any number of a few values. `items` holds their `enum`.", `["date", "stars"]`},
	"colour":    {"A colour, with transparency in the last two digits. `#rgb` is taken and written long.", `"#0f766e80"`},
	"date":      {"A day of the calendar (RFC 3339, full-date); `\"\"` for none.", `"2027-03-01"`},
	"duration":  {"A length of time (ISO 8601: days of 24 hours, hours, minutes, seconds).", `"PT8S"`},
	"font":      {"A typeface: a stack of fonts that systems bring, `\"inherit\"` for the page's own, or an uploaded font by its digest or its path in assets/.", `"book"`},
	"gradient":  {"A linear gradient: `angle` in degrees, 0 up and 90 to the right; 2 to 8 colours at percentages of its length.", `{"angle": 90, "stops": [{"colour": "#0f766e", "at": 0}, {"colour": "#17233a", "at": 100}]}`},
	"heading":   {"How deep a heading lies in the outline of the page around it; `none` is no heading; `enum` leaves some of the seven out. `{{heading .settings.level}}` writes the attributes.", `"2"`},
	"icon":      {"One of our icons by its name; `\"\"` for none. `{{icon .settings.mark}}` draws it.", `"star"`},
	"image":     {"A picture: an asset by its digest or its path in assets/, the text that stands for it, and the point in percent that stays in view when it is cropped. `{{picture .settings.photo \"50vw\"}}` writes it.", `{"asset": "assets/boat.jpg", "alt": "A boat at the pier", "decorative": false, "focus": {"x": 50, "y": 50}}`},
	"items":     {"Content in the one item model, below: typed in, later from sources too.", `[{"id": "r1", "title": "Good", "rating": {"value": 5, "best": 5}}]`},
	"language":  {"A language as a BCP 47 tag; `\"\"` for none.", `"pt-BR"`},
	"length":    {"A number whose unit is the customer's choice.", `"1.5em"`},
	"link":      {"An address (http, https, mailto, tel) and whether it opens beside the page. `<a {{linkTo .settings.more}}>` writes the attributes.", `{"address": "https://kelp-and-kiln.example", "target": "same"}`},
	"list":      {"Groups of settings: `items` is an object with `properties` as the schema has them. Each item keeps its `id`, wherever it is moved; one that comes without is given one.", `[{"id": "1f2e3d4c", "title": "One"}]`},
	"moment":    {"A wall-clock time in a zone of the IANA database (RFC 9557 as Temporal reads it), 1970 to 2200. A time that a change of the clocks skips moves on by the gap; one that happens twice is the earlier, unless an offset says otherwise.", `"2027-03-01T18:00[Europe/Berlin]"`},
	"money":     {"An amount in the currency's minor units and its ISO 4217 code. `{{money .settings.price}}` writes it.", `{"amount": 1250, "currency": "EUR"}`},
	"number":    {"A number. The control `slider` needs both ends.", `12`},
	"rating":    {"A number out of `best`; without `value` there is none.", `{"value": 4.5, "best": 5}`},
	"richText":  {"HTML, sanitised: p, br, strong, em, s, code, blockquote, ul, ol, li, h3, h4 and links stay, everything else goes and its text stays.", `"<p>Tea and <strong>kiln</strong></p>"`},
	"shadow":    {"A shadow. `kind` none, outside or inside; lengths in pixels.", `{"kind": "outside", "x": 0, "y": 6, "blur": 24, "spread": 0, "colour": "#00000022"}`},
	"sound":     {"Something to listen to: an asset by its digest or its path in assets/.", `{"asset": "assets/bell.mp3"}`},
	"spacing":   {"A margin or a padding: pixels for each side. One number is taken for all four.", `{"top": 8, "right": 16, "bottom": 8, "left": 16}`},
	"switch":    {"True or false.", `true`},
	"tags":      {"Short texts, at most 20, each once.", `["clay", "evening"]`},
	"text":      {"A line, or several with the control `lines`. `maxLength` 200 when left out, at most 5000; `pattern` is RE2; `\"format\": \"uri\"` is a link (http, https, mailto, tel).", `"The kiln opens again"`},
	"time":      {"An hour and a minute; `\"\"` for none.", `"18:30"`},
}

// InCSS says how a setting type reaches the stylesheet: "property", "attribute" or "".
func InCSS(name string) string { return cssTable[name].As }

// GlassOf lists the keys of "glass" that only some types have, and this one has.
func GlassOf(name string) []string { return types[name].glass() }
