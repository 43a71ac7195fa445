// Package merge combines two people's changes to the same text or folder.
package merge

import (
	"bytes"
	"slices"
	"strings"
	"unicode/utf8"

	"github.com/aymanbagabas/go-udiff"
)

// Collision is a place where both changed the same lines differently.
type Collision struct {
	Path   string `json:"path,omitempty"`
	Line   int    `json:"line"` // in the result, from 1; Mine is there
	Base   string `json:"base"`
	Mine   string `json:"mine"`
	Theirs string `json:"theirs"`
}

// linesMost limits the work: longer texts are not compared line by line.
const linesMost = 20_000

// Three merges two texts that were derived from base, line by line (the algorithm diff3; S. Khanna,
// K. Kunal, B. C. Pierce, “A Formal Investigation of Diff3”, 2007). Where both changed the same
// lines, it keeps mine and reports a collision.
func Three(base, mine, theirs string) (string, []Collision) {
	switch {
	case mine == theirs, theirs == base:
		return mine, nil
	case mine == base:
		return theirs, nil
	}
	b, m, t := lines(base), lines(mine), lines(theirs)
	if len(b)+len(m)+len(t) > linesMost {
		return mine, []Collision{{Line: 1, Base: base, Mine: mine, Theirs: theirs}}
	}
	inMine, inTheirs := matched(b, m), matched(b, t)
	var out []string
	var collisions []Collision
	at, atMine, atTheirs := 0, 0, 0
	for at < len(b) || atMine < len(m) || atTheirs < len(t) {
		// Lines that are the same in all three.
		if at < len(b) && inMine[at] == atMine && inTheirs[at] == atTheirs {
			out = append(out, b[at])
			at, atMine, atTheirs = at+1, atMine+1, atTheirs+1
			continue
		}
		// Continue to the next line that is in all three.
		next, nextMine, nextTheirs := len(b), len(m), len(t)
		for i := at; i < len(b); i++ {
			if inMine[i] >= atMine && inTheirs[i] >= atTheirs {
				next, nextMine, nextTheirs = i, inMine[i], inTheirs[i]
				break
			}
		}
		was, one, other := b[at:next], m[atMine:nextMine], t[atTheirs:nextTheirs]
		switch {
		case slices.Equal(one, was), slices.Equal(one, other):
			out = append(out, other...)
		case slices.Equal(other, was):
			out = append(out, one...)
		default:
			collisions = append(collisions, Collision{Line: len(out) + 1, Base: strings.Join(was, ""), Mine: strings.Join(one, ""), Theirs: strings.Join(other, "")})
			out = append(out, one...)
		}
		at, atMine, atTheirs = next, nextMine, nextTheirs
	}
	return strings.Join(out, ""), collisions
}

// lines splits a text after its line breaks.
func lines(s string) []string {
	if s == "" {
		return nil
	}
	list := strings.SplitAfter(s, "\n")
	if list[len(list)-1] == "" {
		list = list[:len(list)-1]
	}
	return list
}

// matched returns for each line of base its index in other, or -1.
func matched(base, other []string) []int {
	at := make([]int, len(base))
	line, there, offset := 0, 0, 0
	for _, e := range udiff.Lines(strings.Join(base, ""), strings.Join(other, "")) {
		for ; offset < e.Start; line, there = line+1, there+1 {
			at[line] = there
			offset += len(base[line])
		}
		for ; offset < e.End; line++ {
			at[line] = -1
			offset += len(base[line])
		}
		there += len(lines(e.New))
	}
	for ; line < len(base); line, there = line+1, there+1 {
		at[line] = there
	}
	return at
}

// Folders merges two folders that were derived from base, file by file and line by line. Where they
// collide, it keeps mine.
func Folders(base, mine, theirs map[string][]byte) (map[string][]byte, []Collision) {
	out := map[string][]byte{}
	var collisions []Collision
	paths := map[string]bool{}
	for _, folder := range []map[string][]byte{base, mine, theirs} {
		for p := range folder {
			paths[p] = true
		}
	}
	sorted := make([]string, 0, len(paths))
	for p := range paths {
		sorted = append(sorted, p)
	}
	slices.Sort(sorted)
	for _, p := range sorted {
		was, there := base[p]
		one, iHave := mine[p]
		other, theyHave := theirs[p]
		changedMine := iHave != there || !bytes.Equal(one, was)
		changedTheirs := theyHave != there || !bytes.Equal(other, was)
		switch {
		case !changedTheirs, iHave == theyHave && bytes.Equal(one, other):
			if iHave {
				out[p] = one
			}
		case !changedMine:
			if theyHave {
				out[p] = other
			}
		case iHave && theyHave && utf8.Valid(one) && utf8.Valid(other) && utf8.Valid(was):
			text, more := Three(string(was), string(one), string(other))
			for _, c := range more {
				c.Path = p
				collisions = append(collisions, c)
			}
			out[p] = []byte(text)
		default:
			collisions = append(collisions, Collision{Path: p, Line: 1, Base: string(was), Mine: string(one), Theirs: string(other)})
			if iHave {
				out[p] = one
			}
		}
	}
	return out, collisions
}
