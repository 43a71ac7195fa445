// Package program is what the service and the client have in common as programs: their version, and
// help texts that fit a terminal.
package program

import (
	"flag"
	"fmt"
	"io"
	"runtime"
	"runtime/debug"
	"strings"
)

// Columns is the width that help texts are wrapped to.
const Columns = 80

// revision is what “make build” notes of the source.
var revision string

// Version tells which build a program is: the module's version or, between versions, the revision
// of the source and its time.
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

// Describe is a line about a program's build.
func Describe(name string) string {
	return fmt.Sprintf("%s %s (%s, %s/%s)", name, Version(), runtime.Version(), runtime.GOOS, runtime.GOARCH)
}

// Options writes the options of f, wrapped.
func Options(w io.Writer, f *flag.FlagSet) {
	f.VisitAll(func(o *flag.Flag) {
		kind, about := flag.UnquoteUsage(o)
		fmt.Fprintf(w, "  -%s", o.Name)
		if kind != "" {
			fmt.Fprintf(w, " %s", kind)
		}
		fmt.Fprintln(w)
		switch o.DefValue {
		case "", "0", "false", "0s":
		default:
			about += fmt.Sprintf(" (default %s)", o.DefValue)
		}
		fmt.Fprintln(w, Wrap(about, "      "))
	})
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

// Command breaks a command line that is longer than Columns so that a shell still takes it: at
// spaces outside of quotes, with \ at the end of a line. What follows a # is a comment.
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
