// Package program has what the service and the client share as programs: their version, and help
// texts that fit a terminal.
package program

import (
	"flag"
	"fmt"
	"io"
	"runtime"
	"runtime/debug"
	"slices"
	"strings"
)

// Columns is the width of help texts, in characters.
const Columns = 80

// revision is the revision of the source, set by “make build”.
var revision string

// Version returns the version of the build: the module's version or, between versions, the revision
// of the source.
func Version() string {
	info, ok := debug.ReadBuildInfo()
	if !ok {
		return "unknown"
	}
	set := map[string]string{}
	for _, s := range info.Settings {
		set[s.Key] = s.Value
	}
	if info.Main.Version != "" && info.Main.Version != "(devel)" {
		return info.Main.Version
	}
	switch vcs := set["vcs.revision"]; {
	case revision != "":
		return "devel-" + revision
	case vcs != "" && set["vcs.modified"] == "true":
		return "devel-" + vcs[:min(12, len(vcs))] + "-dirty"
	case vcs != "":
		return "devel-" + vcs[:min(12, len(vcs))]
	}
	return "devel"
}

// Describe returns one line about a program's build.
func Describe(name string) string {
	return fmt.Sprintf("%s %s (%s, %s/%s)", name, Version(), runtime.Version(), runtime.GOOS, runtime.GOARCH)
}

// optionMost is the largest width of the first column of Options, in characters.
const optionMost = 26

// Options writes a table of the options of f that are not in without: the name and the kind of
// value, then what it does, wrapped to Columns.
func Options(w io.Writer, f *flag.FlagSet, without ...string) {
	type row struct{ name, about string }
	var rows []row
	width := 0
	f.VisitAll(func(o *flag.Flag) {
		if slices.Contains(without, o.Name) {
			return
		}
		kind, about := flag.UnquoteUsage(o)
		switch {
		case o.DefValue == "", o.DefValue == "0", o.DefValue == "false", o.DefValue == "0s", strings.Contains(about, "(default"):
		default:
			about += fmt.Sprintf(" (default %s)", o.DefValue)
		}
		r := row{strings.TrimSpace("-" + o.Name + " " + kind), about}
		if n := len([]rune(r.name)); n <= optionMost {
			width = max(width, n)
		}
		rows = append(rows, r)
	})
	for _, r := range rows {
		about := Wrap(r.about, strings.Repeat(" ", width+4))
		if len([]rune(r.name)) > width { // too long for the column: a line of its own
			fmt.Fprintf(w, "  %s\n%s\n", r.name, about)
			continue
		}
		fmt.Fprintf(w, "  %-*s  %s\n", width, r.name, strings.TrimLeft(about, " "))
	}
}

// Wrap breaks a text into lines of at most Columns characters, each after indent. A word that is
// longer has a line of its own.
func Wrap(text, indent string) string {
	var lines []string
	line := ""
	for _, word := range strings.Fields(text) {
		switch {
		case line == "":
			line = word
		case len([]rune(indent+line+" "+word)) > Columns:
			lines = append(lines, indent+line)
			line = word
		default:
			line += " " + word
		}
	}
	return strings.Join(append(lines, indent+line), "\n")
}

// Command breaks a command line that is longer than Columns at spaces outside quotes, with \ at the
// end of each line, so that a shell still accepts it. Text after a # is a comment.
func Command(text, indent string) string {
	var words []string
	quote, word := rune(0), ""
	for _, r := range text {
		switch {
		case quote != 0 && r == quote:
			quote = 0
		case quote == 0 && (r == '\'' || r == '"'):
			quote = r
		}
		if r == ' ' && quote == 0 {
			words = append(words, word)
			word = ""
			continue
		}
		word += string(r)
	}
	words = append(words, word)
	var lines []string
	line := indent + words[0]
	for _, w := range words[1:] {
		switch {
		case w == "":
		case len([]rune(line+" "+w)) > Columns-2:
			if strings.HasPrefix(w, "#") || strings.Contains(line, " #") {
				lines = append(lines, line)
				line = indent + "    # " + strings.TrimPrefix(strings.TrimPrefix(w, "#"), " ")
				continue
			}
			lines = append(lines, line+" \\")
			line = indent + "    " + w
		default:
			line += " " + w
		}
	}
	return strings.Join(append(lines, line), "\n")
}
