package feed

import (
	"encoding/json"
	"encoding/xml"
	"net/url"
	"strings"

	"glasspocket/internal/item"
)

// Directory is a place where businesses are searched, as its OpenSearch description says
// (OpenSearch 1.1, draft 6).
type Directory struct {
	Name     string
	suggests string // template of the address of suggestions
}

// ReadDirectory reads an OpenSearch description. The directory must have suggestions as JSON.
func ReadDirectory(d *Document) (dir Directory, err error) {
	var description struct {
		Name string `xml:"ShortName"`
		URLs []struct {
			Type     string `xml:"type,attr"`
			Template string `xml:"template,attr"`
		} `xml:"Url"`
	}
	if err := xml.Unmarshal([]byte(d.utf8XML()), &description); err != nil {
		return dir, &Error{What: "The directory's description cannot be read: " + err.Error() + ".", Hint: "Ask the operator to check the address of the directory."}
	}
	for _, u := range description.URLs {
		if u.Type == "application/x-suggestions+json" {
			return Directory{item.Line(description.Name, 80), resolve(d.Address, escapedBraces.Replace(u.Template))}, nil
		}
	}
	return dir, &Error{What: "The directory has no suggestions in JSON.", Hint: "Ask the operator to choose another directory."}
}

// escapedBraces protects the parameters of a template while its address is resolved.
var escapedBraces = strings.NewReplacer("{", "%7B", "}", "%7D")

// Suggests returns the address of the suggestions for a text.
func (d Directory) Suggests(text string) string {
	address := d.suggests
	for parameter, value := range map[string]string{"searchTerms": text, "searchTerms?": text, "count?": "8", "startIndex?": "1", "startPage?": "1", "language?": "*", "inputEncoding?": "UTF-8", "outputEncoding?": "UTF-8"} {
		address = strings.ReplaceAll(address, "%7B"+strings.ReplaceAll(parameter, "?", "%3F")+"%7D", url.QueryEscape(value))
		address = strings.ReplaceAll(address, "%7B"+parameter+"%7D", url.QueryEscape(value))
	}
	return address
}

// Suggestion is an entry of a directory.
type Suggestion struct{ Name, About, Address string }

// ReadSuggestions reads suggestions (OpenSearch, extension Suggestions 1.0): an array of the text,
// the names, descriptions and addresses. Those without an address are left out.
func ReadSuggestions(d *Document) (list []Suggestion, err error) {
	var parts []json.RawMessage
	if err := json.Unmarshal([]byte(d.Text()), &parts); err != nil || len(parts) < 2 {
		return nil, &Error{What: "The directory's suggestions cannot be read.", Hint: "Try again later."}
	}
	column := func(i int) (texts []string) {
		if i < len(parts) {
			_ = json.Unmarshal(parts[i], &texts)
		}
		return texts
	}
	names, about, addresses := column(1), column(2), column(3)
	for i, name := range names {
		s := Suggestion{Name: item.Line(name, 120)}
		if i < len(about) {
			s.About = item.Line(about[i], 200)
		}
		if i < len(addresses) {
			s.Address = d.absolute(addresses[i])
		}
		if s.Address != "" && s.Name != "" && len(list) < suggestionsMost {
			list = append(list, s)
		}
	}
	return list, nil
}

const suggestionsMost = 8

// Subject returns what a page is about, for confirming a business: its name, its place and its
// rating. ok is false if the page does not say.
func Subject(d *Document) (name, place string, rated Rated, ok bool) {
	p, err := cut(d)
	if err != nil {
		return "", "", rated, false
	}
	f := &Found{}
	g := newGraph(f, p)
	g.items()
	n := g.subject()
	if n == nil {
		return "", "", rated, false
	}
	return item.Line(n.plainText("name"), 120), item.Line(addressOf(n), 200), f.Rated, true
}
