package intake

import (
	"glasspocket/internal/clip"
	"glasspocket/internal/tree"
	"net/url"
	"path"
	"regexp"
	"strconv"
	"strings"

	"golang.org/x/net/html"
)

// addressOf resolves an address against the file that contains it and the page's <base>. dir is the
// folder of that file, "" for the page's own.
func (m *maker) addressOf(address, dir string) string {
	address = strings.TrimSpace(address)
	if dir != "" && relative(address) && !strings.HasPrefix(address, "/") {
		return path.Join(dir, address)
	}
	if m.base != nil && dir == "" {
		if u, err := m.base.Parse(address); err == nil {
			return u.String()
		}
	}
	return address
}

// relative reports whether an address is relative to the page.
func relative(address string) bool {
	return address != "" && address[0] != '#' && !absolute.MatchString(address) && !scheme.MatchString(address)
}

var scheme = regexp.MustCompile(`(?i)^[a-z][a-z0-9+.-]*:`)

// bring reads a file next to the page, and makes a copy of it.
func (m *maker) bring(address, kind string) (Copy, bool) {
	if m.Beside == nil || !relative(address) {
		return Copy{}, false
	}
	at, _, _ := strings.Cut(address, "?")
	at, _, _ = strings.Cut(at, "#")
	if decoded, err := url.PathUnescape(at); err == nil {
		at = decoded
	}
	bytes, ok := m.Beside(at)
	if !ok {
		return Copy{}, false
	}
	c := Copy{Bytes: bytes}
	switch kind {
	case "image", "font", "sound":
		c.Path = m.assetPath(path.Base(at))
	case "module":
		c.Path = m.named("", path.Base(at))
	}
	copies := map[string]Copy{address: c}
	for have, copied := range m.Copies {
		copies[have] = copied
	}
	m.Copies = copies
	return c, true
}

var notInNames = regexp.MustCompile(`[^a-z0-9.-]+`)

// assetPath returns a path in assets/ for a file called name.
func (m *maker) assetPath(name string) string { return m.named("assets/", name) }

func (m *maker) named(folder, name string) string {
	name = strings.Trim(notInNames.ReplaceAllString(strings.ToLower(name), "-"), "-.")
	ending := path.Ext(name)
	stem := strings.Trim(strings.TrimSuffix(name, ending), "-.")
	if stem == "" || stem[0] < 'a' || stem[0] > 'z' {
		stem = strings.TrimSuffix("file-"+stem, "-")
	}
	if len(stem) > 32 {
		stem = stem[:32]
	}
	taken := func(at string) bool {
		for _, c := range m.Copies {
			if c.Path == at {
				return true
			}
		}
		return false
	}
	at := folder + stem + ending
	for n := 2; taken(at); n++ {
		at = folder + stem + "-" + strconv.Itoa(n) + ending
	}
	return at
}

// baseOf reads the page's <base>, which its relative addresses start from.
func (m *maker) baseOf(doc *html.Node) {
	n := tree.Find(doc, func(n *html.Node) bool { return n.Data == "base" && tree.Has(n, "href") })
	if n == nil {
		return
	}
	u, err := url.Parse(strings.TrimSpace(tree.Get(n, "href")))
	if err != nil {
		m.hand(lineOf(n), "The page's <base> cannot be read, so relative addresses are unchanged.", "Replace them with absolute addresses.")
		return
	}
	m.base = u
	m.done(lineOf(n), "The page's <base> was removed. Relative addresses are now absolute, based on %s.", clip.Input(strings.TrimSpace(u.String())))
}

// forget discards a copy that cannot be used.
func (m *maker) forget(address string) {
	copies := map[string]Copy{}
	for have, c := range m.Copies {
		if have != address {
			copies[have] = c
		}
	}
	m.Copies = copies
	if i, there := m.remotes[address]; there {
		m.made.Remotes[i].State = "left"
	}
}

func itoa(n int) string { return strconv.Itoa(n) }
