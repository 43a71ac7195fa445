package view

import (
	"fmt"
	"html"
	"html/template"
	"math"
	"net/url"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"unicode"

	"glasspocket/internal/clip"
	"glasspocket/internal/icon"
	"glasspocket/internal/shape"
)

// The functions here make markup. Setting types have checked their arguments, and they still escape
// everything.

// headingAttributes makes any element a heading (WAI-ARIA 1.2, role heading), so that a view does
// not need an element for each level.
func headingAttributes(level string) template.HTMLAttr {
	if len(level) != 1 || level[0] < '1' || level[0] > '6' {
		return ""
	}
	return template.HTMLAttr(`role="heading" aria-level="` + level + `"`)
}

// linkAttributes are the attributes of a customer's link. They tell search engines that the page
// does not endorse the link, and prevent the opened page from controlling this one.
func linkAttributes(link map[string]any) template.HTMLAttr {
	address := addressOf(link["address"])
	if address == "" {
		return ""
	}
	attributes := `href="` + html.EscapeString(address) + `" rel="ugc nofollow noopener"`
	if link["target"] == "_blank" {
		attributes += ` target="_blank"`
	}
	return template.HTMLAttr(attributes)
}

func addressOf(v any) string {
	switch a := v.(type) {
	case template.URL:
		return string(a)
	case shape.Link:
		return string(a)
	}
	return ""
}

// image offers an image in all its sizes (HTML, "Images", srcset and sizes), with reserved space.
// Its focus point becomes a rule of the rendering's stylesheet.
func (d *Data) image(image map[string]any, sizes string, class ...string) template.HTML {
	if image["shown"] != true {
		return ""
	}
	var set []string
	src := addressOf(image["address"])
	forms, _ := image["forms"].([]any)
	forms = forms[fewer(forms, sizes):]
	for i, f := range forms {
		form := f.(map[string]any)
		width, _ := form["width"].(float64)
		if address := addressOf(form["address"]); width > 0 && len(forms) > 1 {
			set = append(set, fmt.Sprintf("%s %dw", address, int(width)))
			// Clients without srcset use a medium size.
			if i > 0 && width >= 640 {
				src = address
			}
		}
	}
	var classes []string
	if len(class) > 0 && class[0] != "" {
		classes = append(classes, class[0])
	}
	x, _ := image["focusX"].(float64)
	y, _ := image["focusY"].(float64)
	if x != 50 || y != 50 {
		classes = append(classes, d.rule(fmt.Sprintf("object-position:%s%% %s%%", plain(x), plain(y))))
	}
	// The first image of a rendering is probably in view.
	d.images++
	lazy := d.images > 1 || d.Prefix != ""
	var b strings.Builder
	b.WriteString("<img")
	put := func(name, value string) { b.WriteString(" " + name + `="` + html.EscapeString(value) + `"`) }
	if len(classes) > 0 {
		put("class", strings.Join(classes, " "))
	}
	put("src", src)
	if len(set) > 0 {
		put("srcset", strings.Join(set, ", "))
		put("sizes", sizes)
	}
	if w, h := image["width"].(float64), image["height"].(float64); w > 0 && h > 0 {
		put("width", plain(w))
		put("height", plain(h))
	}
	alt, _ := image["alt"].(string)
	put("alt", alt)
	if lazy {
		b.WriteString(` loading="lazy"`)
	}
	b.WriteString(` decoding="async">`)
	return template.HTML(b.String())
}

// fewer returns how many of the largest forms are never needed for a small image of fixed width, such
// as a face: screens have at most four pixels for one of CSS.
func fewer(forms []any, sizes string) (n int) {
	width, err := strconv.ParseFloat(strings.TrimSuffix(sizes, "px"), 64)
	if err != nil || width > 64 || !strings.HasSuffix(sizes, "px") {
		return 0
	}
	for n+1 < len(forms) {
		next, _ := forms[n+1].(map[string]any)
		if w, _ := next["width"].(float64); w < 4*width {
			return n
		}
		n++
	}
	return n
}

func iconMarkup(name string) template.HTML { return template.HTML(icon.SVG(name)) }

func plain(n float64) string { return rounded(n, 2) }

// rounded writes a number with at most decimals decimals, without trailing zeros.
func rounded(n float64, decimals int) string {
	return strings.TrimSuffix(strings.TrimRight(strconv.FormatFloat(n, 'f', decimals, 64), "0"), ".")
}

// rule returns a class of the rendering's stylesheet that has these declarations.
func (d *Data) rule(declarations string) string {
	i := slices.Index(d.rules, declarations)
	if i < 0 {
		i = len(d.rules)
		d.rules = append(d.rules, declarations)
	}
	return d.class(i)
}

func (d *Data) class(i int) string {
	if d.Small {
		return d.Prefix + "s" + strconv.Itoa(i)
	}
	return d.Prefix + "v" + strconv.Itoa(i)
}

var (
	variable_ = regexp.MustCompile(`^[a-z][a-z0-9-]{0,39}$`)
	varied    = regexp.MustCompile(`^(#[0-9a-f]{6}([0-9a-f]{2})?|-?\d{1,6}(\.\d{1,6})?(px|em|%|deg|s|ms|fr|ch|vw|vh)?|[a-z]{1,20})$`)
)

// vary gives one element its own value through a class, since pages with a strict policy drop style
// attributes.
func (d *Data) vary(name string, value any) (string, error) {
	written, sound := "", false
	switch v := value.(type) {
	case float64:
		written, sound = plain4(v), math.Abs(v) < 999_999
	case int:
		written = fmt.Sprint(v)
	case string:
		written = v
	}
	declaration := "--" + name + ":" + written
	if slices.Contains(d.rules, declaration) { // checked above
		return d.rule(declaration), nil
	}
	if !variable_.MatchString(name) {
		return "", fmt.Errorf("%q is not a valid name for a custom property", name)
	}
	if !sound && !varied.MatchString(written) {
		return "", fmt.Errorf("vary needs a number, a length or a colour, not %q", fmt.Sprint(value))
	}
	return d.rule(declaration), nil
}

func plain4(n float64) string {
	s := rounded(n, 4)
	if s == "-0" {
		return "0"
	}
	return s
}

var factHole = regexp.MustCompile(`\{([a-z][a-zA-Z0-9]{0,39})\}`)

// withFacts inserts a placeholder for each fact. The page fills them, and the service never sees
// the facts.
func withFacts(text string) template.HTML {
	var b strings.Builder
	at := 0
	for _, m := range factHole.FindAllStringSubmatchIndex(text, -1) {
		b.WriteString(html.EscapeString(text[at:m[0]]))
		b.WriteString(`<span data-fact="` + text[m[2]:m[3]] + `"></span>`)
		at = m[1]
	}
	b.WriteString(html.EscapeString(text[at:]))
	return template.HTML(b.String())
}

var webAddress = regexp.MustCompile(`https?://[^\s<>"'’”»)\]]+`)

// linked makes links of the web addresses in a text. The text is a customer's or from a source, so
// the links are like those of linkTo.
func linked(text string) template.HTML {
	var b strings.Builder
	at := 0
	for _, m := range webAddress.FindAllStringIndex(text, -1) {
		address := strings.TrimRight(text[m[0]:m[1]], ".,;:!?…")
		if u, err := url.Parse(address); err != nil || u.Host == "" {
			continue
		}
		shown := html.EscapeString(address)
		b.WriteString(html.EscapeString(text[at:m[0]]))
		b.WriteString(`<a href="` + shown + `" rel="ugc nofollow noopener" target="_blank">` + shown + `</a>`)
		at = m[0] + len(address)
	}
	b.WriteString(html.EscapeString(text[at:]))
	return template.HTML(b.String())
}

func initials(name string) string {
	words := strings.FieldsFunc(name, func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) })
	letter := func(w string) string {
		for _, r := range w {
			return string(unicode.ToUpper(r))
		}
		return ""
	}
	switch len(words) {
	case 0:
		return ""
	case 1:
		return letter(words[0])
	}
	return letter(words[0]) + letter(words[len(words)-1])
}

// summary is the result type of ratings.
var summary = shape.Object("ratings", map[string]*shape.Type{
	"count": shape.Whole, "best": shape.Number, "average": shape.Number, "part": shape.Number,
	"steps": shape.ListOf(shape.Object("", map[string]*shape.Type{"value": shape.Whole, "count": shape.Whole, "part": shape.Number})),
})

// Total is a summary of ratings that does not depend on the items that a list shows.
type Total struct {
	All           bool // of all reviews of the sources
	Count         int
	Average, Best float64
	Steps         []int // how many have the best rating, the next, …; nil if that is unknown
}

// ratingsOf summarises the ratings of a list by its key: of its sources, if it has some.
func (d *Data) ratingsOf(key string) (map[string]any, error) {
	t, has := d.Totals[key]
	if !has {
		items, ok := d.Settings[key].([]any)
		if p, paged := d.Pages[key]; paged {
			items = p.Whole
		}
		if !ok {
			return nil, fmt.Errorf("ratingsOf needs the key of a list, and %q is not one", clip.Input(key))
		}
		out, err := ratings(items)
		if err == nil {
			out["all"] = false
		}
		return out, err
	}
	out := map[string]any{"all": t.All, "count": t.Count, "best": t.Best, "average": t.Average, "part": 0.0, "steps": []any{}}
	if t.Best > 0 {
		out["part"] = t.Average / t.Best
	}
	var steps []any
	for i, n := range t.Steps {
		steps = append(steps, map[string]any{"value": len(t.Steps) - i, "count": n, "part": float64(n) / float64(max(t.Count, 1))})
	}
	if steps != nil {
		out["steps"] = steps
	}
	return out, nil
}

// total is what ratingsOf returns.
var total = shape.Object("ratings", map[string]*shape.Type{
	"all": shape.Switch, "count": shape.Whole, "best": shape.Number, "average": shape.Number, "part": shape.Number,
	"steps": shape.ListOf(shape.Object("", map[string]*shape.Type{"value": shape.Whole, "count": shape.Whole, "part": shape.Number})),
})

// ratings summarises ratings on the scale of the first one, to which others are converted. Items
// without a rating do not count; a rating of 0 counts as the lowest step.
func ratings(items []any) (map[string]any, error) {
	best, sum, count := 0.0, 0.0, 0
	var steps []int
	for _, item := range items {
		m, _ := item.(map[string]any)
		r, ok := m["rating"].(map[string]any)
		if !ok {
			return nil, fmt.Errorf("ratings needs items with the field rating")
		}
		value, _ := r["value"].(float64)
		of, _ := r["best"].(float64)
		if shown, _ := r["shown"].(bool); !shown || of <= 0 {
			continue
		}
		if best == 0 {
			best = of
			steps = make([]int, int(min(of, 10)))
		}
		part := value / of
		sum += part * best
		count++
		if i := int(math.Ceil(part*float64(len(steps))-0.5)) - 1; len(steps) > 0 {
			steps[max(0, min(i, len(steps)-1))]++
		}
	}
	out := map[string]any{"count": count, "best": best, "average": 0.0, "part": 0.0, "steps": []any{}}
	if count == 0 {
		return out, nil
	}
	out["average"], out["part"] = sum/float64(count), sum/float64(count)/best
	var list []any
	for i := len(steps) - 1; i >= 0; i-- {
		list = append(list, map[string]any{"value": i + 1, "count": steps[i], "part": float64(steps[i]) / float64(count)})
	}
	out["steps"] = list
	return out, nil
}
