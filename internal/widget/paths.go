package widget

import (
	"fmt"
	"io/fs"
	"path"
	"regexp"
	"slices"
	"strings"
	"unicode/utf8"

	"glasspocket/internal/asset"
	"glasspocket/internal/fault"
)

// PathMost is the longest path of a file, in characters.
const PathMost = 200

// knownFiles are the files with a fixed path in the format.
var knownFiles = append([]string{ManifestFile, SchemaFile, ViewFile, StyleFile, SampleFile}, mountFiles...)

// beside are files that a folder can contain without being part of the widget.
var beside = regexp.MustCompile(`^(README(\.md)?|LICEN[CS]E(\.(md|txt))?|CHANGELOG\.md|tsconfig\.json)$`)

// The forms of other paths. Names have no dot except that of their extension: tools run files such
// as eslint.config.js and .envrc without asking, and people fetch folders that they did not write.
var (
	scriptForm = regexp.MustCompile(`^([A-Za-z0-9_-]+/)*[A-Za-z0-9_-]+(\.d)?\.(ts|js)$`)
	jsonForm   = regexp.MustCompile(`^(` + startersDir + `|` + messagesDir + `)/[^/.]+\.json$`)
)

// elsewhere are files that other tools need in a source folder, but widgets do not.
var elsewhere = map[string]bool{"package.json": true, "package-lock.json": true, "composer.json": true, "deno.json": true}

// PathFault says what is wrong with a path in a widget folder, or nil. The list is closed, and the
// same for folders, zips, drafts and fetched files.
func PathFault(p string) *fault.Fault {
	refuse := func(code fault.Code, what, fix string) *fault.Fault {
		return &fault.Fault{Path: shortened(p), Code: code, What: what, Fix: fix}
	}
	switch {
	case utf8.RuneCountInString(p) > PathMost:
		return refuse(fault.BadName, fmt.Sprintf("The path %q has more than %d characters.", shortened(p), PathMost), "Use shorter names.")
	case !fs.ValidPath(p) || p == "." || strings.ContainsFunc(p, func(r rune) bool { return r < ' ' || r == 0x7f || r == '\\' }):
		return refuse(fault.FileUnknown, fmt.Sprintf("%q is not a path within the folder.", shortened(p)), "Use relative paths with /, without . and .. in them.")
	case strings.HasPrefix(p, asset.Folder):
		if what := asset.NameFault(p); what != "" {
			return refuse(fault.BadName, what, "Rename the file. Use lower-case letters, digits and hyphens with a file extension, as in assets/red-boat.jpg.")
		}
		return nil
	case slices.Contains(knownFiles, p), beside.MatchString(p), jsonForm.MatchString(p), scriptForm.MatchString(p) && !strings.HasPrefix(p, "node_modules/") && !strings.Contains(p, "/node_modules/"):
		return nil
	}
	return refuse(fault.FileUnknown, fmt.Sprintf("The format does not define the file %q.", p), "Delete it. docs/widget-format.md lists the files that a widget can have.")
}

// pathFaults reports paths that a widget folder cannot have.
func (files Files) pathFaults() (faults fault.List) {
	for _, p := range files.Paths() {
		f := PathFault(p)
		if f == nil {
			continue
		}
		// A similar name that exists already is not the intended one.
		if near := fault.Nearest(p, knownFiles); f.Code == fault.FileUnknown && near != "" && files[near] == nil && !elsewhere[p] && path.Dir(p) == "." {
			f.Fix = fault.DidYouMean(p, knownFiles)
		}
		faults = append(faults, *f)
	}
	return faults
}

func shortened(p string) string {
	p = strings.ToValidUTF8(p, "?")
	if r := []rune(p); len(r) > 80 {
		return string(r[:79]) + "…"
	}
	return p
}
