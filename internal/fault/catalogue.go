package fault

// Code names a kind of fault. Scripts and the console depend on codes, so a code is never renamed
// or reused.
type Code string

// Entry explains a Code. docs/faults.md is generated from the Catalogue.
type Entry struct {
	Code    Code   `json:"code"`
	Title   string `json:"title"`   // the fault, without a full stop
	Why     string `json:"why"`     // the reason for refusing it
	Example string `json:"example"` // input that causes it
}

// The codes, in the order of a widget folder's files.
const (
	FileMissing          Code = "file-missing"
	FileUnknown          Code = "file-unknown"
	FileTooLarge         Code = "file-too-large"
	FileNotText          Code = "file-not-text"
	TooDeep              Code = "too-deep"
	FileChanged          Code = "file-changed"
	ReleaseBreaks        Code = "release-breaks"
	AssetUnknown         Code = "asset-unknown"
	AssetBroken          Code = "asset-broken"
	JSONSyntax           Code = "json-syntax"
	KeyTwice             Code = "key-twice"
	KeyUnknown           Code = "key-unknown"
	KeyMissing           Code = "key-missing"
	WrongType            Code = "wrong-type"
	BadName              Code = "bad-name"
	BadLanguage          Code = "bad-language"
	FormatUnknown        Code = "format-unknown"
	SchemaInvalid        Code = "schema-invalid"
	SchemaUnusable       Code = "schema-unusable"
	NoDefault            Code = "no-default"
	SettingUnknown       Code = "setting-unknown"
	SettingMissing       Code = "setting-missing"
	ValueType            Code = "value-type"
	ValueLength          Code = "value-length"
	ValueRange           Code = "value-range"
	ValueStep            Code = "value-step"
	ValueChoice          Code = "value-choice"
	ValueColour          Code = "value-colour"
	ValueMoment          Code = "value-moment"
	ValueZone            Code = "value-zone"
	ValueLink            Code = "value-link"
	ValuePattern         Code = "value-pattern"
	ValueCharacter       Code = "value-character"
	ValueLengthOf        Code = "value-unit"
	ValueDate            Code = "value-date"
	ValueAsset           Code = "value-asset"
	ValueTwice           Code = "value-twice"
	MessageMissing       Code = "message-missing"
	MessagePlural        Code = "message-plural"
	ViewSyntax           Code = "view-syntax"
	ViewFunction         Code = "view-function"
	ViewField            Code = "view-field"
	ViewType             Code = "view-type"
	SettingUnused        Code = "setting-unused"
	CapabilityUndeclared Code = "capability-undeclared"
	CapabilityUnknown    Code = "capability-unknown"
	CapabilityUnused     Code = "capability-unused"
	ViewRecursion        Code = "view-recursion"
	ViewTag              Code = "view-tag"
	ViewAttribute        Code = "view-attribute"
	ViewBalance          Code = "view-balance"
	ViewRun              Code = "view-run"
	ViewTooMuch          Code = "view-too-much"
	ViewReplaced         Code = "view-replaced"
	StyleSyntax          Code = "style-syntax"
	StyleFence           Code = "style-fence"
	AddressLost          Code = "address-lost"
	PlaceUnknown         Code = "place-unknown"
	Contrast             Code = "contrast"
	AltMissing           Code = "alt-missing"
	IDTwice              Code = "id-twice"
	RemoteFile           Code = "remote-file"
	StyleGlobal          Code = "style-global"
	StyleNewer           Code = "style-newer"
	WidthFixed           Code = "width-fixed"
	ScriptOutside        Code = "script-outside"
	ScriptWeight         Code = "script-weight"
	MountSyntax          Code = "mount-syntax"
	MountImport          Code = "mount-import"

	HostContradiction Code = "host-contradiction"
)

// Catalogue lists every code once. To add a fault, add a constant and a row here.
var Catalogue = []Entry{
	{FileMissing, "A required file is missing", "A widget needs a manifest, settings, a view and at least one language.", "a folder without view.html"},
	{FileUnknown, "A file that the format does not define", "The service would never use it. Its name is probably misspelt.", "styles.css instead of style.css"},
	{TooDeep, "Brackets, operators or loops are nested too deeply", "The parsers that read a folder are recursive. Without a limit, one file could stop the whole service.", "a mount.js with 20,000 opening brackets"},
	{FileTooLarge, "A file or folder exceeds its size limit", "Visitors download the files of a release, and every check reads all of them.", "a mount.js of 3 MB"},
	{FileNotText, "A text file is not valid UTF-8", "All text files are read as UTF-8 (RFC 3629). Another encoding would show wrong letters.", "view.html saved as Latin-1"},
	{FileChanged, "Somebody else has changed this file of the draft", "Saving would overwrite their changes.", "two people who edit style.css of one widget"},
	{ReleaseBreaks, "A pocket that follows cannot use this release", "The pocket would keep its present release.", "a setting that customers use is renamed, and \"changes\" does not say so"},
	{AssetUnknown, "An asset is not an image, a sound or a font", "The service identifies files by their content, not by their name.", "assets/bell.mp3 that contains text"},
	{AssetBroken, "An asset cannot be used", "The file is cut off, claims an impossible size, or contains something that runs.", "an image that claims 100,000 × 100,000 pixels; an SVG with <script>"},
	{JSONSyntax, "A JSON file cannot be read", "JSON (RFC 8259) has no comments and no trailing commas, and strings are in double quotes.", `{"name": "countdown",}`},
	{KeyTwice, "An object has the same key twice", "JSON readers disagree about which of the two values counts (RFC 8259, section 4).", `{"name": "a", "name": "b"}`},
	{KeyUnknown, "A key that the format does not define", "The service would silently ignore it. The key is probably misspelt.", `{"titel": "Countdown"}`},
	{KeyMissing, "A required key is missing", "There is no sensible default for it.", `{"format": 1}`},
	{WrongType, "A value has the wrong JSON type", "The service does not guess, for example, how to turn a string into a list.", `{"languages": "en"}`},
	{BadName, "A name is not valid", "Names become addresses, custom properties and template fields, so they may use only a few characters.", `{"name": "My Countdown!"}`},
	{BadLanguage, "A language tag is not valid, or has no messages", "Languages are BCP 47 tags such as en or pt-BR. Each needs a file in messages/.", `{"languages": ["english"]}`},
	{FormatUnknown, "This program cannot read this version of the format", "It could misunderstand a folder that was written for a newer version.", `{"format": 9}`},
	{SchemaInvalid, "settings.json is not valid JSON Schema 2020-12", "Other tools must be able to read it too.", `{"type": "objekt"}`},
	{SchemaUnusable, "A setting's schema does not match its setting type", "The editor, the check and the style would each treat the setting differently.", `{"type": "string", "glass": {"type": "switch"}}`},
	{NoDefault, "A setting is not required and has no default", "A view needs a value for every setting.", `{"type": "string", "glass": {"type": "text"}}`},
	{SettingUnknown, "A value for a setting that does not exist", "The service would silently ignore it.", `{"acent": "#0b6b63"}`},
	{SettingMissing, "A required setting has no value", "The widget cannot be shown without it.", `{} for a widget that requires target`},
	{ValueType, "A value has the wrong JSON type", "A number is not a text, and the text \"false\" is not the value false.", `{"showHeading": "yes"}`},
	{ValueLength, "A text is too short or too long", "The widget sets the limit to suit its layout.", "a heading of 900 characters"},
	{ValueRange, "A number is below its minimum or above its maximum", "The widget sets the limits.", `{"radius": 900}`},
	{ValueStep, "A number is not a multiple of its step", "The schema's multipleOf defines which numbers are valid.", `{"radius": 1.5}`},
	{ValueChoice, "A value is not one of the choices", "The widget supports only the listed values.", `{"layout": "circle"}`},
	{ValueColour, "A colour cannot be read", "Colours are written as #rrggbb, or #rrggbbaa with transparency.", `{"accent": "teal"}`},
	{ValueMoment, "A date and time cannot be read, or does not exist", "Write the local date and time with its time zone, as in 2027-03-01T18:00[Europe/Berlin].", `{"target": "tomorrow"}`},
	{ValueZone, "A time zone is not in the IANA database", "Abbreviations such as CET are ambiguous, or ignore daylight saving time.", `{"target": "2027-03-01T18:00[Berlin]"}`},
	{ValueLink, "A link is not http, https, mailto or tel", "Other schemes can run script on the visitor's page.", `{"link": "javascript:alert(1)"}`},
	{ValuePattern, "A text does not match the setting's pattern", "The widget sets the pattern.", `{"code": "ab"} for ^[0-9]+$`},
	{ValueCharacter, "A character that no page can contain", "Browsers drop or replace NUL and other control characters.", "a heading that contains NUL"},
	{ValueLengthOf, "A length has no number, or not an allowed unit", "A length is a number with a unit, so that nobody has to guess what 12 means.", `{"gap": "12"}`},
	{ValueDate, "A date, a time of day or a duration cannot be read", "They are written as in RFC 3339 and ISO 8601.", `{"day": "1.3.2027"}, {"pause": "8 seconds"}`},
	{ValueAsset, "An asset does not exist, or is of the wrong kind", "Assets are in the widget's folder, or uploaded. An image on another server could change or disappear.", `{"photo": {"asset": "https://…/boat.jpg"}}`},
	{ValueTwice, "A list has the same ID twice", "The ID identifies an item wherever it moves in the list.", `[{"id": "a"}, {"id": "a"}]`},
	{MessageMissing, "A message is missing in at least one language", "Visitors would see a key instead of a text.", `{{say "dayz"}}`},
	{MessagePlural, "Plural forms lack \"other\", or use a category that the language does not have", "The categories are those of Unicode CLDR. Every language has \"other\".", `{"days": {"one": "day"}}`},
	{ViewSyntax, "A view cannot be parsed", "The rest of the view cannot be checked until it parses.", `{{if .settings.heading}`},
	{ViewFunction, "A function that views do not have", "Views can call only a fixed list of functions. None of them can run without end or create trusted markup.", `{{printf "%d" 1}}`},
	{ViewField, "A field does not exist", "Only declared settings and the view's own variables exist.", `{{.settings.headline}}`},
	{ViewRecursion, "A template includes itself", "It would never end.", `{{define "a"}}{{template "a" .}}{{end}}`},
	{ViewTag, "An element that views may not contain", "Strict pages drop it, or it affects the page outside the widget.", `<script>, <style>, <base>, <meta>`},
	{ViewAttribute, "An attribute that views may not contain", "Strict pages drop it, or it runs as script.", `<div onclick="…">, style="…", srcdoc="…"`},
	{ViewBalance, "A tag is not closed, or closed without being open", "Browsers would repair it in a way that the check cannot predict.", `<div><p></div>`},
	{ViewRun, "A view stops with an error", "The same would happen on a visitor's page.", `{{index .settings.heading 3}}`},
	{ViewTooMuch, "A view takes too many steps, runs too long, or writes too much", "The limits are 200,000 steps, 50 ms and 1 MiB.", `{{range 1000000000}}{{end}}`},
	{ViewType, "A value has the wrong type", "Types are checked through range, with, define and variables, so that the fault appears here and not on a visitor's page.", `{{range .settings.heading}}`},
	{SettingUnused, "Nothing uses this setting", "A customer could change it and see no difference. The check looks in the view, in the stylesheet (a look setting's custom property or attribute) and in the mount module's list.", `"glass": {"type": "colour", "look": true, …} without var(--accent) in style.css`},
	{CapabilityUndeclared, "The widget uses something that its manifest does not declare", "The service sends a capability's code only to pockets of widgets that declare it, and tells customers by it what a widget needs of a page. For a folder without \"capabilities\", this is a warning.", `memory.read() in mount.ts, without "capabilities": ["memory"]`},
	{CapabilityUnknown, "There is no such capability", "The format's reference lists all.", `"capabilities": ["storage"]`},
	{CapabilityUnused, "Warning: a declared capability is not used", "Visitors would load code for nothing, and customers would read about needs that the widget does not have.", `"capabilities": ["memory"] without memory in the script`},
	{ViewReplaced, "A value had to be replaced for safety", "The template engine found no safe way to write the value in this place.", `<a href="{{.settings.heading}}"> with a javascript: value`},
	{StyleSyntax, "A stylesheet cannot be parsed", "Browsers silently drop a broken rule.", `.a { color: red`},
	{StyleFence, "A rule that a widget's stylesheet may not contain", "It does nothing inside a shadow root, depends on the page, or loads a file from another server.", `@import, @font-face, :root, rem`},
	{AddressLost, "A relative address of a file", "Visitors' browsers would look for it next to the page that shows the widget, and find nothing.", "url(\"assets/boat.png\") in style.css, <img src=\"boat.png\"> in the view"},
	{MountSyntax, "A mount module does not build", "The message comes from esbuild, with the position in the file.", `export default function (`},
	{PlaceUnknown, "A slot or a fact is in the manifest or the view, but not in both", "A page's owner would fill it in without effect, or never learn about it.", `<slot name="aside"> without "slots" in widget.json`},
	{Contrast, "Warning: text is hard to read against its background", "Text needs a contrast of 4.5 (WCAG 2.2, 1.4.3). A colour names its background with \"on\" in its \"glass\".", `"ink": "#9aa5b1" on "surface": "#ffffff"`},
	{AltMissing, "Warning: an image has no text alternative", "People who cannot see the image hear its file name, or nothing.", `{"photo": {"asset": "assets/boat.jpg"}}`},
	{IDTwice, "Warning: the widget contains the same ID more than once", "Labels and links find only the first one.", `{{range .settings.cards}}<p id="card">{{end}}`},
	{RemoteFile, "Warning: the widget loads something from another server", "It can change, be slow or disappear, and the other server learns about every visitor.", `<img src="https://a.example/boat.jpg">`},
	{StyleGlobal, "Warning: a selector matches every element of a kind", "It also applies to the next such element that somebody adds to the view.", `p { margin: 0 }`},
	{StyleNewer, "Warning: the oldest supported browsers do not have this CSS", "They drop the whole rule or declaration. The supported versions are listed in docs/public.md.", "background: color-mix(in srgb, var(--accent) 12%, white)"},
	{WidthFixed, "Warning: a width of more than 320 pixels", "Phones and side columns are narrower. The widget would be cut off.", `.card { width: 400px }`},
	{ScriptOutside, "Warning: a script accesses the page outside its widget", "Two copies on one page would interfere with each other, and the rest of the page does not belong to the widget.", `document.querySelector(".card")`},
	{ScriptWeight, "Warning: a mount module exceeds its size budget", "Visitors wait for it on every page with the widget.", "a mount module of 5 KB, compressed"},
	{MountImport, "A mount module imports something from outside its folder", "Only the widget's own files are available when a release is built.", `import x from "some-package"`},
	{HostContradiction, "Two statements in a host profile contradict each other", "Somebody who follows its steps would find nothing on the page.", `"scripts": "run" on pages whose policy says script-src 'none'`},
}

// Explain returns the catalogue's entry for a code, or false if there is none.
func Explain(code Code) (Entry, bool) {
	for _, e := range Catalogue {
		if e.Code == code {
			return e, true
		}
	}
	return Entry{}, false
}
