package setting

import (
	"encoding/json"
	"fmt"
	"strings"
	"time"

	"golang.org/x/net/html"

	"glasspocket/internal/asset"
)

// wordsMost limits the texts that InWords returns, in characters.
const wordsMost = 160

// InWords describes a checked value for people: an option by its label, a moment by date and zone,
// a list by its length. It returns "" for no value.
func (s *Setting) InWords(value any, language string) string {
	if value == nil {
		return ""
	}
	if s.Inherit != "" && value == Inherited {
		return "same as the page"
	}
	if name := BrandName(value); name != "" && branded(s.Type) {
		return "the brand's " + name
	}
	m, _ := value.(map[string]any)
	list, _ := value.([]any)
	text, _ := value.(string)
	switch s.Type {
	case "switch":
		if value == true {
			return "on"
		}
		return "off"
	case "choice", "alignment", "heading":
		for _, o := range s.Options {
			if o.Value == text {
				return o.Label.In(language)
			}
		}
	case "choices", "tags":
		names := make([]string, len(list))
		for i, v := range list {
			names[i] = fmt.Sprint(v)
			for _, o := range s.Options {
				if o.Value == v {
					names[i] = o.Label.In(language)
				}
			}
		}
		return short(strings.Join(names, ", "))
	case "number":
		return plainly(value) + spaced(s.Unit)
	case "moment":
		if at, p := parseMoment(text); p == nil {
			return at.At.Format("2 January 2006, 15:04") + " (" + at.Zone + ")"
		}
	case "date":
		if at, err := time.Parse("2006-01-02", text); err == nil {
			return at.Format("2 January 2006")
		}
	case "richText":
		return short(plainText(text))
	case "image", "sound":
		return assetInWords(m)
	case "font":
		if asset.IsRef(text) {
			return "an uploaded font"
		}
	case "rating":
		if given, has := m["value"]; has {
			return plainly(given) + " of " + plainly(m["best"])
		}
		return ""
	case "link":
		address, _ := m["address"].(string)
		return short(address)
	case "list", "items":
		return itemsInWords(len(list))
	case "border":
		return fmt.Sprintf("%s px %v, %v", plainly(m["width"]), m["style"], m["colour"])
	case "gradient":
		stops, _ := m["stops"].([]any)
		colours := make([]string, len(stops))
		for i, stop := range stops {
			of, _ := stop.(map[string]any)
			colours[i] = fmt.Sprint(of["colour"])
		}
		return fmt.Sprintf("%s, %s°", strings.Join(colours, " to "), plainly(m["angle"]))
	}
	if text != "" || value == "" {
		return short(strings.Join(strings.Fields(text), " "))
	}
	if row, known := cssTable[s.Type]; known && m != nil {
		return row.css(value, s.Unit)
	}
	written, _ := json.Marshal(value)
	return short(string(written))
}

func itemsInWords(n int) string {
	if n == 1 {
		return "1 item"
	}
	return fmt.Sprintf("%d items", n)
}

func spaced(unit string) string {
	if unit == "" || unit == "%" {
		return unit
	}
	return " " + unit
}

func short(text string) string {
	if r := []rune(text); len(r) > wordsMost {
		return string(r[:wordsMost-1]) + "…"
	}
	return text
}

func assetInWords(m map[string]any) string {
	ref, _ := m["asset"].(string)
	alt, _ := m["alt"].(string)
	switch {
	case ref == "":
		return "none"
	case alt != "":
		return short(alt)
	case asset.OfFolder(ref):
		return strings.TrimPrefix(ref, asset.Folder)
	}
	return ref[:min(12, len(ref))] + "…"
}

// plainText returns the text of rich text, with a space between blocks.
func plainText(rich string) string {
	var b strings.Builder
	z := html.NewTokenizer(strings.NewReader(rich))
	for {
		switch z.Next() {
		case html.ErrorToken:
			return strings.Join(strings.Fields(b.String()), " ")
		case html.TextToken:
			b.Write(z.Text())
		default:
			name, _ := z.TagName()
			if s := string(name); s == "p" || s == "li" || s == "br" || s == "ul" || s == "ol" {
				b.WriteByte(' ')
			}
		}
	}
}
