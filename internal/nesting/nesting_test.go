package nesting

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

const n = ScriptMost + 1

func TestDeepScripts(t *testing.T) {
	many := func(s string) string { return strings.Repeat(s, n) }
	for name, src := range map[string]string{
		"brackets":                       many("["),
		"brackets with ends":             many("[") + many("]"),
		"prefix operators":               "x=" + many("!") + "a",
		"arrows":                         many("a=>") + "a",
		"assignments":                    many("a.b=") + "a",
		"members":                        "a" + many(".a"),
		"calls":                          "a" + many("()"),
		"optional calls":                 "a" + many("?.[0]"),
		"labels":                         many("L:"),
		"blocks":                         many("{"),
		"conditions":                     many("a?a:") + "a",
		"statements":                     many("if(a)\n") + "a",
		"templates":                      many("`${") + many("}`"),
		"brackets after strings":         many(`"]"+[`),
		"brackets after comments":        many("/*]*/["),
		"brackets after regular ones":    many("/]/.x+["),
		"after a member that is a word":  "a.return/" + many("["),
		"after a postfix":                "a++/" + many("[") + "/1",
		"after a function":               "a=function(){}/" + many("[") + "/1",
		"after a block":                  "if(a){}/\"/;" + many("["),
		"after a parenthesis":            "if(a)/\"/.x;" + many("["),
		"after an HTML comment":          "<!-- `\n" + many("["),
		"after a line separator":         "// a\u2028" + many("["),
		"after a wide space":             "a=\u00a0/\"/;" + many("["),
		"what cannot be told":            strings.Repeat("a={}/(/1;\n", 20),
		"commas":                         many("a.b,"),
		"commas in a block":              "L:{" + many("a.b,") + "}",
		"commas with choices":            many("a?b:c,"),
		"operators over lines":           "await\n" + many("await\n") + "a",
		"classes over lines":             many("class extends\n") + "a",
		"functions that are assigned to": many("a=function(){}.b=") + "1",
	} {
		at, deep := Script([]byte(src))
		assert.True(t, deep, name)
		assert.LessOrEqual(t, at, len(src), name)
	}
}

// What people and programs write is not deep: each of these goes on for long, but not inwards.
func TestLongScripts(t *testing.T) {
	for _, unit := range []string{
		"a();", "a\n", "const a = b.c(d)\n", "a(b)[0]\n", "function f(a,b){return a/b}", "if(a){b}else{c}", "if (a) {}\n/re(/.test(a)\n",
		"var a={b:1,c:[1,2],d:function(){}};", "x={a:1,\n", "class A { a = 1\n b() {}\n static c = 2\n }\n", "case 1:", "['(',1];", "/[(]/;", "`(`;", "a?b:c;", "d:a?b:c,", "x({d:1,e});", "export const a = `x${b}`\n",
		"// (((\n", "/* [ */", "a = a / (b) / [c];", "i++\n", "return\n",
	} {
		prefix := ""
		if unit == "if (a) {}\n/re(/.test(a)\n" {
			unit, prefix = "if (a) {}\n", unit // a few that cannot be told are read both ways
		}
		if unit == "x={a:1,\n" || unit == "case 1:" {
			continue // not a script by itself
		}
		_, deep := Script([]byte(prefix + strings.Repeat(unit, 20_000)))
		assert.False(t, deep, unit)
	}
	// And real code, some of it minified.
	found := 0
	for _, folder := range []string{"../../console/node_modules", "../../console/dist/assets", "../../widgets", "../../loader"} {
		filepath.WalkDir(folder, func(p string, e os.DirEntry, err error) error {
			if ending := filepath.Ext(p); err != nil || e.IsDir() || ending != ".js" && ending != ".mjs" && ending != ".cjs" {
				return nil
			}
			if i, err := e.Info(); err != nil || i.Size() > 512<<10 {
				return nil
			}
			src, err := os.ReadFile(p)
			require.NoError(t, err)
			found++
			at, deep := Script(src)
			assert.False(t, deep, "%s at %d", p, at)
			return nil
		})
	}
	assert.Greater(t, found, 10)
}

func TestDeepStyles(t *testing.T) {
	for _, unit := range []string{"a{", "a{b:(", "@media a{", "a:not(", "a{b:url(}", "/*}*/a{", `a{b:"}"; `, `a{b:\};`} {
		_, deep := Style([]byte(strings.Repeat(unit, StyleMost+1)))
		assert.True(t, deep, unit)
	}
	for _, unit := range []string{"a{b:c}", "a{b{c:d}}", `a{b:"{"}`, "/*{*/", "a:not([b]){}"} {
		_, deep := Style([]byte(strings.Repeat(unit, 20_000)))
		assert.False(t, deep, unit)
	}
}
