package fault

// Code names a kind of fault. Codes are part of the API: scripts and the console
// key on them, so a code is never renamed or given a second meaning.
type Code string

// Entry explains a Code. docs/faults.md is made from the Catalogue.
type Entry struct {
	Code    Code   `json:"code"`
	Title   string `json:"title"`   // what it is
	Why     string `json:"why"`     // why it is refused
	Example string `json:"example"` // a piece of input that causes it
}

// The codes, in the order of the files of a widget folder that they are found in.
const (
	FileMissing    Code = "file-missing"
	FileUnknown    Code = "file-unknown"
	FileTooLarge   Code = "file-too-large"
	FileNotText    Code = "file-not-text"
	TooDeep        Code = "too-deep"
	FileChanged    Code = "file-changed"
	ReleaseBreaks  Code = "release-breaks"
	AssetUnknown   Code = "asset-unknown"
	AssetBroken    Code = "asset-broken"
	JSONSyntax     Code = "json-syntax"
	KeyTwice       Code = "key-twice"
	KeyUnknown     Code = "key-unknown"
	KeyMissing     Code = "key-missing"
	WrongType      Code = "wrong-type"
	BadName        Code = "bad-name"
	BadLanguage    Code = "bad-language"
	FormatUnknown  Code = "format-unknown"
	SchemaInvalid  Code = "schema-invalid"
	SchemaUnusable Code = "schema-unusable"
	NoDefault      Code = "no-default"
	SettingUnknown Code = "setting-unknown"
	SettingMissing Code = "setting-missing"
	ValueType      Code = "value-type"
	ValueLength    Code = "value-length"
	ValueRange     Code = "value-range"
	ValueStep      Code = "value-step"
	ValueChoice    Code = "value-choice"
	ValueColour    Code = "value-colour"
	ValueMoment    Code = "value-moment"
	ValueZone      Code = "value-zone"
	ValueLink      Code = "value-link"
	ValuePattern   Code = "value-pattern"
	ValueCharacter Code = "value-character"
	ValueLengthOf  Code = "value-unit"
	ValueDate      Code = "value-date"
	ValueAsset     Code = "value-asset"
	ValueTwice     Code = "value-twice"
	MessageMissing Code = "message-missing"
	MessagePlural  Code = "message-plural"
	ViewSyntax     Code = "view-syntax"
	ViewFunction   Code = "view-function"
	ViewField      Code = "view-field"
	ViewType       Code = "view-type"
	SettingUnused  Code = "setting-unused"
	ViewRecursion  Code = "view-recursion"
	ViewTag        Code = "view-tag"
	ViewAttribute  Code = "view-attribute"
	ViewBalance    Code = "view-balance"
	ViewRun        Code = "view-run"
	ViewTooMuch    Code = "view-too-much"
	ViewReplaced   Code = "view-replaced"
	StyleSyntax    Code = "style-syntax"
	StyleFence     Code = "style-fence"
	AddressLost    Code = "address-lost"
	PlaceUnknown   Code = "place-unknown"
	Contrast       Code = "contrast"
	AltMissing     Code = "alt-missing"
	IDTwice        Code = "id-twice"
	RemoteFile     Code = "remote-file"
	StyleGlobal    Code = "style-global"
	StyleNewer     Code = "style-newer"
	WidthFixed     Code = "width-fixed"
	ScriptOutside  Code = "script-outside"
	ScriptWeight   Code = "script-weight"
	MountSyntax    Code = "mount-syntax"
	MountImport    Code = "mount-import"

	HostContradiction Code = "host-contradiction"
)

// Catalogue lists every code once. A new fault is one constant and one row here.
var Catalogue = []Entry{
	{FileMissing, "A file that every widget needs is not there", "Without manifest, settings, view and at least one language there is nothing to show.", "a folder without view.html"},
	{FileUnknown, "A file that the format does not know", "It would never be used; most often its name is misspelt.", "styles.css instead of style.css"},
	{TooDeep, "Brackets, operators or loops that are nested too deeply", "The parsers that read a folder recurse. Too deep a recursion would end the whole service.", "a mount.js of 20,000 opening brackets"},
	{FileTooLarge, "A file or folder over its size limit", "Everything in a release travels to visitors or is read on every check.", "a 3 MB mount.js"},
	{FileNotText, "A text file that is not valid UTF-8", "Everything we read is UTF-8 (RFC 3629); another encoding would show wrong letters.", "view.html saved as Latin-1"},
	{FileChanged, "A file of a draft that somebody else has changed meanwhile", "Saving would overwrite what they wrote.", "two people with style.css of one widget"},
	{ReleaseBreaks, "A release that a pocket which follows cannot be shown with", "The pocket would stay behind with the release that it has.", "a setting that customers have set, renamed without a change that says so"},
	{AssetUnknown, "An asset that is neither picture, sound nor font", "Files are known by their content, whatever their name says.", "assets/bell.mp3 that holds text"},
	{AssetBroken, "An asset that cannot be used", "It is cut off, claims an impossible size, or holds something that acts.", "a picture that claims 100,000 × 100,000 pixels; an SVG with <script>"},
	{JSONSyntax, "A JSON file that cannot be read", "JSON (RFC 8259) has no comments, no trailing commas, and strings in double quotes.", `{"name": "countdown",}`},
	{KeyTwice, "The same key twice in one object", "JSON readers disagree about which one counts (RFC 8259, section 4).", `{"name": "a", "name": "b"}`},
	{KeyUnknown, "A key that the format does not know", "It would be ignored silently; most often it is misspelt.", `{"titel": "Countdown"}`},
	{KeyMissing, "A key that must be there is not", "Nothing sensible can stand in for it.", `{"format": 1}`},
	{WrongType, "A key's value is of the wrong JSON type", "A text where a list is expected cannot be guessed right.", `{"languages": "en"}`},
	{BadName, "A name that cannot be used", "Names become addresses, custom properties and template fields, so they keep to a small alphabet.", `{"name": "My Countdown!"}`},
	{BadLanguage, "A language tag that is not one, or has no messages", "Languages are BCP 47 tags such as en or pt-BR, each with a file in messages/.", `{"languages": ["english"]}`},
	{FormatUnknown, "A format version this program does not read", "A newer folder may mean things that an older program would get wrong.", `{"format": 9}`},
	{SchemaInvalid, "settings.json is not valid JSON Schema 2020-12", "Other tools must be able to read it too.", `{"type": "objekt"}`},
	{SchemaUnusable, "A setting whose schema does not fit its setting type", "The form, the check and the style would each understand something else.", `{"type": "string", "glass": {"type": "switch"}}`},
	{NoDefault, "A setting that is neither required nor has a default", "A view must always have a value for each setting.", `{"type": "string", "glass": {"type": "text"}}`},
	{SettingUnknown, "A value for a setting that does not exist", "It would be ignored silently.", `{"acent": "#0f766e"}`},
	{SettingMissing, "A required setting without a value", "The widget cannot be shown without it.", `{} for a widget that requires target`},
	{ValueType, "A value of the wrong JSON type", "A number is not a text, and the text \"false\" is not false.", `{"showHeading": "yes"}`},
	{ValueLength, "A text shorter or longer than allowed", "The limit is the widget's, set for its layout.", "a heading of 900 characters"},
	{ValueRange, "A number below its minimum or above its maximum", "The limit is the widget's.", `{"radius": 900}`},
	{ValueStep, "A number that is not a multiple of its step", "The schema's multipleOf says which numbers exist.", `{"radius": 1.5}`},
	{ValueChoice, "A value that is not among the choices", "Only the listed values have a layout.", `{"layout": "circle"}`},
	{ValueColour, "A colour that cannot be read", "Colours are #rrggbb, or #rrggbbaa with transparency.", `{"accent": "teal"}`},
	{ValueMoment, "A moment that cannot be read or does not exist", "A moment is a wall-clock time with its zone, as in 2027-03-01T18:00[Europe/Berlin].", `{"target": "tomorrow"}`},
	{ValueZone, "A time zone that is not in the IANA database", "Abbreviations such as CET are ambiguous or ignore daylight saving.", `{"target": "2027-03-01T18:00[Berlin]"}`},
	{ValueLink, "A link that is not http(s), mailto or tel", "Other schemes can run script in the visitor's page.", `{"link": "javascript:alert(1)"}`},
	{ValuePattern, "A text that does not match the setting's pattern", "The pattern is the widget's.", `{"code": "ab"} for ^[0-9]+$`},
	{ValueCharacter, "A character that no page can carry", "NUL and other control characters are dropped or replaced by browsers.", "a heading with a NUL in it"},
	{ValueLengthOf, "A length without a number or a unit it may have", "A length is a number and its unit, so that nobody has to guess what 12 means.", `{"gap": "12"}`},
	{ValueDate, "A date, a time of day or a duration that cannot be read", "They are written as RFC 3339 and ISO 8601 do.", `{"day": "1.3.2027"}, {"pause": "8 seconds"}`},
	{ValueAsset, "An asset that is not there, or is of another kind", "A picture on somebody else's server may change or go; assets lie in the widget's folder or in the store.", `{"photo": {"asset": "https://…/boat.jpg"}}`},
	{ValueTwice, "The same id twice in a list", "An id tells an item from the others, whatever its place.", `[{"id": "a"}, {"id": "a"}]`},
	{MessageMissing, "A message that is used but not written in every language", "A visitor would see a key instead of a word.", `{{say "dayz"}}`},
	{MessagePlural, "Plural forms without \"other\", or with a category the language does not have", "Categories are those of Unicode CLDR; \"other\" is the one every language has.", `{"days": {"one": "day"}}`},
	{ViewSyntax, "A view that cannot be parsed", "The rest of the view cannot be judged until it parses.", `{{if .settings.heading}`},
	{ViewFunction, "A function that views do not have", "Views use a closed list of functions, so that none can run away or make trusted markup.", `{{printf "%d" 1}}`},
	{ViewField, "A field that is not there", "Only declared settings and the view's own variables exist.", `{{.settings.headline}}`},
	{ViewRecursion, "A template that includes itself", "It would never end.", `{{define "a"}}{{template "a" .}}{{end}}`},
	{ViewTag, "An element that a view must not have", "Strict pages drop it, or it reaches outside the widget.", `<script>, <style>, <base>, <meta>`},
	{ViewAttribute, "An attribute that a view must not have", "Strict pages drop it, or it runs as script.", `<div onclick="…">, style="…", srcdoc="…"`},
	{ViewBalance, "A tag that is not closed, or closed but not open", "Browsers would fix it differently from what you see here.", `<div><p></div>`},
	{ViewRun, "A view that stops with an error", "The same would happen on a visitor's page.", `{{index .settings.heading 3}}`},
	{ViewTooMuch, "A view that takes too many steps, too long, or writes too much", "Limits: 200,000 steps, 50 ms, 1 MiB.", `{{range 1000000000}}{{end}}`},
	{ViewType, "A value of the wrong type", "Types are followed through range, with, define and variables, so that a view stops here and not in a visitor's page.", `{{range .settings.heading}}`},
	{SettingUnused, "A setting that nothing uses", "A customer would set it and see no difference. View, stylesheet (a look setting by its custom property or attribute) and the mount module's list are looked at.", `"glass": {"type": "colour", "look": true, …} without var(--accent) in style.css`},
	{ViewReplaced, "A value in a place where it had to be replaced for safety", "The template engine found no safe way to write it there.", `<a href="{{.settings.heading}}"> with a javascript: value`},
	{StyleSyntax, "A stylesheet that cannot be parsed", "Browsers drop the broken rule silently.", `.a { color: red`},
	{StyleFence, "A rule that a widget's stylesheet must not have", "It does nothing inside a shadow root, depends on the page, or loads from elsewhere.", `@import, @font-face, :root, rem`},
	{AddressLost, "A relative address of a file", "Visitors' browsers would look for it beside the page that the widget is on, and find nothing.", "url(\"assets/boat.png\") in style.css, <img src=\"boat.png\"> in the view"},
	{MountSyntax, "A mount module that does not build", "What esbuild says, at the place where it says it.", `export default function (`},
	{PlaceUnknown, "A slot or a fact that manifest and view do not both have", "A page's owner would fill it in vain, or never learn of it.", `<slot name="aside"> without "slots" in widget.json`},
	{Contrast, "A warning: text that is hard to read on what it stands on", "Text needs a contrast of 4.5 (WCAG 2.2, 1.4.3). A colour says what it stands on by \"on\" in its \"glass\".", `"ink": "#9aa5b1" on "surface": "#ffffff"`},
	{AltMissing, "A warning: a picture that nothing stands for", "Who does not see it hears its file's name, or nothing.", `{"photo": {"asset": "assets/boat.jpg"}}`},
	{IDTwice, "A warning: an id that stands in the widget more than once", "Labels and links find the first one only.", `{{range .settings.cards}}<p id="card">{{end}}`},
	{RemoteFile, "A warning: something that comes from another server", "It may change, be slow or be gone, and it tells that server of every visitor.", `<img src="https://a.example/boat.jpg">`},
	{StyleGlobal, "A warning: a selector that hits every element of a kind", "The next paragraph that somebody adds to the view gets it too.", `p { margin: 0 }`},
	{StyleNewer, "A warning: CSS that the oldest supported browsers do not have", "They drop the whole rule or declaration. The browser floor is in docs/public.md.", "background: color-mix(in srgb, var(--accent) 12%, white)"},
	{WidthFixed, "A warning: a width above 320 pixels", "Telephones and side columns are narrower; the widget would be cut off.", `.card { width: 400px }`},
	{ScriptOutside, "A warning: a script that reaches outside its widget", "Two copies on one page get into each other's way, and the page's own things are not the widget's.", `document.querySelector(".card")`},
	{ScriptWeight, "A warning: a mount module over its budget", "Visitors wait for it, on every page that has the widget.", "a mount module of 5 KB, compressed"},
	{MountImport, "A mount module that imports from outside its folder", "Only the widget's own files are there when a release is built.", `import x from "left-pad"`},
	{HostContradiction, "Two things of a host profile that cannot both be so", "Whoever followed its steps would find nothing on the page.", `"scripts": "run" on pages whose policy says script-src 'none'`},
}

// Explain returns the catalogue's entry for code, or false if there is none.
func Explain(code Code) (Entry, bool) {
	for _, e := range Catalogue {
		if e.Code == code {
			return e, true
		}
	}
	return Entry{}, false
}
