package intake

import (
	"path"
	"strconv"
	"strings"

	"github.com/tdewolff/parse/v2/css"

	"glasspocket/internal/asset"
	"glasspocket/internal/clip"
)

// fontsIn collects the fonts of a stylesheet, before any of its rules uses one.
func (m *maker) fontsIn(s source) {
	tokens := cssTokens(s.text, s.line)
	for i, t := range tokens {
		if css.TokenType(t.kind) == css.AtKeywordToken && strings.EqualFold(t.text, "@font-face") {
			m.font(tokens[i:closes(tokens, i)], s.dir)
		}
	}
}

// font makes a setting from a font next to the page. Its other families and weights, and fonts from
// other servers, need manual work.
func (m *maker) font(tokens []token, dir string) {
	family, place := "", tokens[0].line
	var addresses []string
	for i, t := range tokens {
		switch kind := css.TokenType(t.kind); {
		case kind == css.IdentToken && strings.EqualFold(t.text, "font-family"):
			for _, value := range tokens[i+1:] {
				if value.text == ";" {
					break
				}
				family += value.text
			}
			family = strings.Trim(strings.TrimLeft(family, ": \n\t"), ` "'`)
		case kind == css.URLToken:
			addresses = append(addresses, strings.Trim(strings.TrimSuffix(t.text[4:], ")"), ` "'`))
		case kind == css.FunctionToken && strings.EqualFold(t.text, "url(") && i+1 < len(tokens):
			addresses = append(addresses, strings.Trim(tokens[i+1].text, `"'`))
		}
	}
	key := strings.ToLower(family)
	for _, address := range addresses {
		state, c := m.remote(m.addressOf(address, dir), "font", place)
		if m.fonts[key] != "" || state != "copied" || family == "" {
			continue
		}
		if made, faults := asset.Make(path.Base(c.Path), c.Bytes); len(faults) > 0 || made.Kind != asset.Font {
			m.forget(m.addressOf(address, dir))
			continue
		}
		name := "font"
		if len(m.fonts) > 0 {
			name += strconv.Itoa(len(m.fonts) + 1)
		}
		if m.fonts == nil {
			m.fonts = map[string]string{}
		}
		m.fonts[key] = "var(--" + name + ")"
		m.keys = append(m.keys, name)
		m.fields[name] = map[string]any{"type": "string", "default": c.Path, "glass": map[string]any{"type": "font", "look": true, "label": map[string]string{"en": "Font: " + clip.Input(strings.TrimSpace(family))}}}
		m.done(place, "The font %s is now the setting %q.", clip.Input(strings.TrimSpace(family)), name)
	}
	if m.fonts[key] == "" {
		m.hand(place, "@font-face was left out of the stylesheet.", left["@font-face"])
	}
}

// familyOf returns the replacement for the family of a copied font; "" for anything else.
func (m *maker) familyOf(property string, t token) string {
	if property != "font-family" && property != "font" {
		return ""
	}
	switch css.TokenType(t.kind) {
	case css.StringToken, css.IdentToken:
		return m.fonts[strings.ToLower(strings.Trim(t.text, `"'`))]
	}
	return ""
}
