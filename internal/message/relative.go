package message

import (
	_ "embed"
	"encoding/json"
)

//go:embed relative.json
var relativeJSON []byte

// Relative has the texts of relative times in the past (Unicode CLDR, relative time). They are data,
// because a browser needs some 50 ms for its first object of Intl. "#" is the number. A text is chosen
// by the number's plural form: Form has the index of the form for 1, 2, … 59.
type Relative struct {
	Now       string   `json:"now"`
	Yesterday string   `json:"yesterday"`
	Minute    []string `json:"minute"`
	Hour      []string `json:"hour"`
	Day       []string `json:"day"`
	Form      string   `json:"form"`
}

var relatives = func() (all map[string]*Relative) {
	if err := json.Unmarshal(relativeJSON, &all); err != nil {
		panic(err)
	}
	return all
}()

// RelativeIn returns the relative times of a language, or nil if there are none: then dates stay
// dates.
func RelativeIn(lang string) *Relative {
	if r := relatives[lang]; r != nil {
		return r
	}
	return relatives[Base(lang)]
}
