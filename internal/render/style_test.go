package render

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"glasspocket/internal/stylesheet"
)

// Rules for other looks are left out; whatever might apply stays.
func TestOnlyWhatApplies(t *testing.T) {
	fixed := map[string][]string{"data-layout": {"line"}, "data-labels": {"true"}}
	for sheet, want := range map[string]string{
		`.a{color:red}`:                                                       `.a{color:red}`,
		`[data-layout=line] .a{x:y}`:                                          `[data-layout=line] .a{x:y}`,
		`[data-layout=tiles] .a{x:y}`:                                         ``,
		`[data-layout="tiles"] .a{x:y}.b{x:y}`:                                `.b{x:y}`,
		`.a,[data-layout=tiles] .a,[data-labels=true]{x}`:                     `.a,[data-labels=true]{x}`,
		`[data-layout=line][data-labels=false] .a{x:y}`:                       ``,
		`:not([data-layout=tiles]) .a{x:y}`:                                   `:not([data-layout=tiles]) .a{x:y}`,
		`:is([data-layout=tiles],.b) .a{x:y}`:                                 `:is([data-layout=tiles],.b) .a{x:y}`,
		`[data-layout^=ti] .a{x:y}`:                                           `[data-layout^=ti] .a{x:y}`,
		`[data-state=over]{x:y}`:                                              `[data-state=over]{x:y}`,
		`.a:before{content:"[data-layout=tiles]{"}`:                           `.a:before{content:"[data-layout=tiles]{"}`,
		`[title="a,b"] .a,[data-layout=tiles] .c{x:y}`:                        `[title="a,b"] .a{x:y}`,
		`@media(width>9px){[data-layout=tiles]{x:y}}.b{}`:                     `.b{}`,
		`@media(width>9px){[data-layout=tiles]{x:y}.c{x:y}}`:                  `@media(width>9px){.c{x:y}}`,
		`@supports(a:b){@container (width>9px){[data-labels=false]{x:y}}}`:    ``,
		`@keyframes spin{0%{x:y}to{x:y}}[data-labels=true]{animation:spin}`:   `@keyframes spin{0%{x:y}to{x:y}}[data-labels=true]{animation:spin}`,
		`@layer a,b;.a\{[data-layout=tiles]{x:y}.b{background:url("a}b")}.c{`: `@layer a,b;.b{background:url("a}b")}.c{}`,
	} {
		assert.Equal(t, want, prune(stylesheet.Tokens(sheet), fixed), sheet)
	}
}
