package internal_test

import (
	"encoding/json"
	"go/ast"
	"go/parser"
	"go/token"
	"io/fs"
	"os"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// avoided are words and phrases that read as if translated, or that name a concept by a second word.
var avoided = []string{
	`shall`, `anew`, `telephones?`, `e-mails?`, `mend(s|ed|ing)?`, `one's`, `whoever`, `for good`, `for ever`, `meanwhile`,
	`take(s|n)? away`, `take(s|n)? (it |them )?back`, `take(s|n)? over`, `go(es)? before`, `belongs? into`, `look(s|ed)? after`, `stands?`,
	`(is|are) told`, `is no (\w+)`, `are no (\w+) of`, `not whole`, `leads on`, `are room for`, `other than visitors`, `what visitors get`,
	`begins?`, `began`, `begun`, `beginning`, `delivery forms?`, `audit trail`, `kinds? of host that`, `made-up`, `at this moment`,
	`circumstances?`, `typefaces?`, `all the same`, `of (its|their|his|your|my|our) own that`, `lies? beside`, `had back`, `likewise`, `thereby`, `wherefrom`,
	`is like that`, `at a moment`, `as things are`, `what follows it`, `otherwise`, `all is as`, `doubl(es|ing)`, `style sheets?`,
}

// Texts say these in another sense.
var allowed = regexp.MustCompile(`(?i)there (is|are) no\b|is no longer\b|stands for\b|stand-ins?\b`)

// A list of names is looked up, not read.
var lists = regexp.MustCompile(`^(CODE, )+CODE\.$`)

var avoid = regexp.MustCompile(`(?i)\b(` + strings.Join(avoided, "|") + `)\b|does not show\?`)

// text is a passage that people read, and where it is.
type text struct{ at, words string }

// Every sentence that people read is in plain English: without words that are known to puzzle them,
// and short enough to be read once.
func TestTone(t *testing.T) {
	for name, c := range map[string]struct {
		texts []text
		most  int // words in a sentence; 0 for any number
	}{
		"console":       {scriptTexts(t, "../console/src"), 25},
		"loader":        {scriptTexts(t, "../loader"), 25},
		"messages":      {goTexts(t, "../internal", "../cmd", "../demo"), 0},
		"host profiles": {jsonTexts(t, "../hosts/*.json"), 30},
		"widgets":       {jsonTexts(t, "../widgets/*/widget.json", "../widgets/*/settings.json", "../widgets/*/starters/*.json", "../widgets/*/messages/en.json"), 30},
		"docs":          {docTexts(t), 30},
	} {
		require.Greater(t, len(c.texts), 20, "%s are read", name)
		for _, x := range c.texts {
			if m := avoid.FindString(allowed.ReplaceAllString(x.words, "")); m != "" {
				assert.Fail(t, "not plain English", "%s: %q in %q", x.at, m, x.words)
			}
			for _, sentence := range sentences(x.words) {
				if lists.MatchString(sentence) {
					continue
				}
				if n := len(strings.Fields(sentence)); c.most > 0 && n > c.most {
					assert.Fail(t, "a long sentence", "%s: %d words, at most %d: %s", x.at, n, c.most, sentence)
				}
			}
		}
	}
}

func TestToneFindsFaults(t *testing.T) {
	for _, words := range []string{
		"It shall show.", "Begin anew", "No pocket is like that.", "Take away the pocket", "Other than visitors get", "Not now, but at a moment",
		"The draft is what visitors get already.", "Otherwise on small screens", "Without effect as things are set, and so not shown",
		"It has 90 characters; 80 are room for.", "This link is not whole.", "All is as it is predicted.", "A release is for good: what follows it is the next one.",
		"This is no file of a pocket", "The page leads on more than 5 times.", "What shall your page have?", "Flags go before the environment.",
		"It is no lock. Nothing secret belongs into a pocket.", "Something does not show?",
	} {
		assert.Regexp(t, avoid, allowed.ReplaceAllString(words, ""), words)
	}
	assert.NotRegexp(t, avoid, allowed.ReplaceAllString("It is no longer used, and there is no limit.", ""))
	assert.Len(t, sentences("One two. Three, e.g. four: five; six? Seven"), 4)
}

var ends = regexp.MustCompile(`[.!?:][”)]?(\s+|$)`)

// sentences splits a passage. A colon ends one too: a list after it can be read on its own.
func sentences(words string) (list []string) {
	words = strings.NewReplacer("e.g. ", "for example ", " … ", " ", "i.e. ", "that is ").Replace(words)
	for {
		at := ends.FindStringIndex(words)
		if at == nil {
			return append(list, words)
		}
		list, words = append(list, words[:at[1]]), words[at[1]:]
		if words == "" {
			return list
		}
	}
}

func walk(t *testing.T, root string, each func(path string, content string)) {
	t.Helper()
	require.NoError(t, filepath.WalkDir(root, func(p string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() {
			if d != nil && (d.Name() == "node_modules" || d.Name() == "testdata" || d.Name() == "dist") {
				return filepath.SkipDir
			}
			return err
		}
		b, err := os.ReadFile(p)
		each(p, string(b))
		return err
	}))
}

// goTexts are the string literals of several words, but not those of tests, queries and code.
func goTexts(t *testing.T, roots ...string) (list []text) {
	code := regexp.MustCompile("^SELECT|^INSERT|^UPDATE|^DELETE|^CREATE|[{}<>]\\s*\n|^\\s*(import|export|const|function|//)|default-src|<!doctype|^[^a-zA-Z]*$")
	for _, root := range roots {
		walk(t, root, func(p, content string) {
			if !strings.HasSuffix(p, ".go") || strings.HasSuffix(p, "_test.go") || strings.Contains(p, "/host/component.go") {
				return
			}
			set := token.NewFileSet()
			f, err := parser.ParseFile(set, p, content, 0)
			require.NoError(t, err)
			ast.Inspect(f, func(n ast.Node) bool {
				if _, is := n.(*ast.ImportSpec); is {
					return false
				}
				if l, is := n.(*ast.BasicLit); is && l.Kind == token.STRING {
					words, _ := strconv.Unquote(l.Value)
					if strings.Count(words, " ") > 1 && !code.MatchString(words) {
						list = append(list, text{set.Position(l.Pos()).String(), plain(words)})
					}
				}
				return true
			})
		})
	}
	return list
}

var (
	svelteCode = regexp.MustCompile(`(?s)<script.*?</script>|<!--.*?-->|\bclass(Name)?=("[^"]*"|\{[^}]*\})|\b(on\w+|bind:\w+|style:[\w-]+|use:\w+)=\{.*?\}`)
	braces     = regexp.MustCompile(`\{[^{}]*\}`)
	node       = regexp.MustCompile(`>([^<>]*[a-z] [^<>]*)<`)
	literal    = regexp.MustCompile("\"((?:[^\"\\\\\n]|\\\\.)*)\"|`((?:[^`\\\\]|\\\\.)*)`")
	remark     = regexp.MustCompile(`(?m)^\s*//.*$|\s// .*$`)
)

// scriptTexts are the texts between tags, and the string literals of several words.
func scriptTexts(t *testing.T, root string) (list []text) {
	walk(t, root, func(p, content string) {
		if strings.HasSuffix(p, ".test.ts") || strings.HasSuffix(p, "api/types.ts") || strings.HasSuffix(p, ".css") || strings.HasSuffix(p, "editor/called.ts") {
			return
		}
		content = remark.ReplaceAllString(content, "")
		for _, m := range literal.FindAllStringSubmatch(content, -1) {
			words := m[1] + m[2]
			if regexp.MustCompile(`^[A-Z“$][^=<>]*[a-z]+ [a-z]+|[a-z]+ [a-z]+[^=<>]*[.?!]$`).MatchString(words) && !regexp.MustCompile(`^\$\{[^}]*\}$|querySelector|=>|^/`).MatchString(words) {
				list = append(list, text{p, plain(words)})
			}
		}
		if strings.HasSuffix(p, ".svelte") {
			markup := svelteCode.ReplaceAllString(content, "")
			for range 4 { // from the inside out
				markup = braces.ReplaceAllString(markup, "·")
			}
			for _, m := range node.FindAllStringSubmatch(markup, -1) {
				list = append(list, text{p, plain(m[1])})
			}
		}
	})
	return list
}

// jsonTexts are the English texts of several words.
func jsonTexts(t *testing.T, globs ...string) (list []text) {
	for _, glob := range globs {
		files, err := filepath.Glob(glob)
		require.NoError(t, err)
		require.NotEmpty(t, files, glob)
		for _, file := range files {
			b, err := os.ReadFile(file)
			require.NoError(t, err)
			var v any
			require.NoError(t, json.Unmarshal(b, &v), file)
			var read func(v any, key string)
			read = func(v any, key string) {
				switch v := v.(type) {
				case string:
					if strings.Contains(v, " ") && key != "search" {
						list = append(list, text{file, plain(v)})
					}
				case []any:
					for _, e := range v {
						read(e, key)
					}
				case map[string]any:
					for k, e := range v {
						if k != "search" && (v["en"] == nil || k == "en") {
							read(e, k)
						}
					}
				}
			}
			read(v, "")
		}
	}
	return list
}

// docTexts are the paragraphs, list items and table cells of the docs, without code.
func docTexts(t *testing.T) (list []text) {
	files, err := filepath.Glob("../docs/*.md")
	require.NoError(t, err)
	fence := regexp.MustCompile("(?ms)^ *```.*?^ *```$|<!--.*?-->")
	for _, file := range append(files, "../README.md") {
		b, err := os.ReadFile(file)
		require.NoError(t, err)
		for line := range strings.Lines(fence.ReplaceAllString(string(b), "")) {
			for _, cell := range strings.Split(strings.ReplaceAll(line, `\|`, "/"), "|") {
				if cell = plain(cell); strings.Contains(cell, " ") {
					list = append(list, text{file, cell})
				}
			}
		}
	}
	return list
}

var (
	quoted = regexp.MustCompile("`[^`]*`")
	linked = regexp.MustCompile(`!?\[([^\]]*)\]\([^)]*\)`)
)

// plain is a passage without marks: code becomes one word, a link its text.
func plain(words string) string {
	words = linked.ReplaceAllString(quoted.ReplaceAllString(words, "CODE"), "$1")
	return strings.Join(strings.Fields(strings.NewReplacer("*", "", "#", "", "\\n", " ").Replace(words)), " ")
}
