// Package cue holds the rules for when and where a pocket shows.
package cue

import (
	"encoding/json"
	"fmt"
	"net/netip"
	"net/url"
	"regexp"
	"slices"
	"strings"

	"glasspocket/internal/fault"
)

// Cues are a pocket's rules. The zero Cues show it everywhere.
type Cues struct {
	// Only are addresses: it shows where one of them is met, everywhere when there are none.
	Only []string `json:"only,omitempty"`
	// Not are addresses at which it does not show, whatever Only says.
	Not []string `json:"not,omitempty"`
	// OwnSites limits it to the sites of its customer.
	OwnSites bool `json:"ownSites,omitempty"`
	// Local lets it show on a developer's own machine all the same.
	Local bool `json:"local,omitempty"`
}

// Bounds of what may be written.
const (
	AddressesMost = 50
	AddressMost   = 200 // characters of one
)

// IsZero tells whether it shows everywhere.
func (c Cues) IsZero() bool { return len(c.Only) == 0 && len(c.Not) == 0 && !c.OwnSites }

// Chooses tells whether it depends on the address.
func (c Cues) Chooses() bool { return len(c.Only) > 0 || len(c.Not) > 0 }

// Read reads stored cues; nothing is the zero Cues.
func Read(text []byte) (c Cues, err error) {
	if len(text) == 0 {
		return c, nil
	}
	return c, json.Unmarshal(text, &c)
}

// An address rule is a path, with * for any characters, as in "/", "/events/*"; or a path
// behind a domain; or what stands behind # in an address, for pages that are programs.
var ruleForm = regexp.MustCompile(`^([a-z0-9.-]+(:\d{1,5})?)?([/#]|$)`)

// Clean is c as it is kept: addresses as a browser has them, each once. Whole addresses lose
// what the rule does not look at.
func (c Cues) Clean() (Cues, fault.List) {
	var faults fault.List
	clean := func(field string, list []string) (out []string) {
		if len(list) > AddressesMost {
			faults = append(faults, fault.Fault{Field: field, Code: fault.ValueLength, What: fmt.Sprintf("There are %d addresses.", len(list)), Fix: fmt.Sprintf("The limit is %d. Use * to match any characters.", AddressesMost)})
			return nil
		}
		for i, given := range list {
			rule, what := tidy(given)
			if what != "" {
				faults = append(faults, fault.Fault{Field: fmt.Sprintf("%s/%d", field, i), Code: fault.ValuePattern, What: fmt.Sprintf("“%s” %s", given, what), Fix: "Write the path as the browser shows it, such as / or /events/*, with or without the domain."})
			} else if rule != "" && !slices.Contains(out, rule) {
				out = append(out, rule)
			}
		}
		return out
	}
	return Cues{Only: clean("only", c.Only), Not: clean("not", c.Not), OwnSites: c.OwnSites, Local: c.Local}, faults
}

func tidy(given string) (rule, wrong string) {
	rule = strings.TrimSpace(given)
	if rule == "" {
		return "", ""
	}
	if _, after, ok := strings.Cut(rule, "://"); ok {
		if rule = after; !strings.ContainsAny(rule, "/#") {
			rule += "/"
		}
	}
	host, path := rule, ""
	if i := strings.IndexAny(rule, "/#"); i >= 0 {
		host, path = strings.ToLower(rule[:i]), rule[i:]
	} else {
		host = strings.ToLower(host)
		if !strings.Contains(host, ".") {
			return "", "is not a path: paths start with /."
		}
		path = "/*"
	}
	if strings.HasPrefix(path, "/") {
		path, _, _ = strings.Cut(path, "#")
		path, _, _ = strings.Cut(path, "?")
		if strings.ContainsAny(path, " \t\n") {
			return "", "contains a space."
		}
		// Browsers write other letters by their bytes (RFC 3986, section 2.1).
		path = strings.ReplaceAll((&url.URL{Path: path}).EscapedPath(), "%2A", "*")
		path = strings.ReplaceAll(path, "%25", "%")
	}
	if rule = host + path; len(rule) > AddressMost {
		return "", fmt.Sprintf("has more than %d characters.", AddressMost)
	}
	if !ruleForm.MatchString(rule) {
		return "", "is not an address."
	}
	return rule, ""
}

// Shows tells whether an address is one that a pocket shows at; sites are those of its
// customer. The page's script asks the same (loader/kit/here.ts), and both are held to one
// table of cases, testdata/addresses.json.
func (c Cues) Shows(address string, sites []string) bool {
	u, err := url.Parse(address)
	if err != nil {
		return false
	}
	if c.OwnSites && !OnSite(u.Host, sites) && !(c.Local && IsLocal(u.Hostname())) {
		return false
	}
	meets := func(rule string) bool { return met(rule, u) }
	return (len(c.Only) == 0 || slices.ContainsFunc(c.Only, meets)) && !slices.ContainsFunc(c.Not, meets)
}

var index = regexp.MustCompile(`/index\.[a-z]{2,5}$`)

// plain is a path as rules compare it: without what most servers take for nothing.
func plain(path string) string {
	if path = index.ReplaceAllString(path, "/"); path != "/" {
		path = strings.TrimSuffix(path, "/")
	}
	if path == "" {
		return "/"
	}
	return path
}

func met(rule string, u *url.URL) bool {
	i := strings.IndexAny(rule, "/#")
	if host := rule[:i]; host != "" && bare(host) != bare(strings.ToLower(u.Host)) {
		return false
	}
	if rule = rule[i:]; rule[0] == '#' {
		return fits(rule, "#"+u.EscapedFragment())
	}
	path := plain(u.EscapedPath())
	// "/events/*" is all of the section, its own page too.
	if section, ok := strings.CutSuffix(rule, "/*"); ok && path == section {
		return true
	}
	return fits(plain(rule), path)
}

// fits compares text with a rule in which * stands for any characters. It goes forward only,
// so that no rule takes long.
func fits(rule, text string) bool {
	parts := strings.Split(rule, "*")
	if len(parts) == 1 {
		return rule == text
	}
	if !strings.HasPrefix(text, parts[0]) {
		return false
	}
	text = text[len(parts[0]):]
	for _, part := range parts[1 : len(parts)-1] {
		i := strings.Index(text, part)
		if i < 0 {
			return false
		}
		text = text[i+len(part):]
	}
	return strings.HasSuffix(text, parts[len(parts)-1])
}

// OnSite tells whether a host, with its port when it is not the scheme's own, is one of sites:
// "shop.example" is that, with and without "www." before it, and no other; "*.shop.example" is
// everything below it.
func OnSite(host string, sites []string) bool {
	host = strings.ToLower(host)
	name, _, ported := strings.Cut(host, ":")
	for _, site := range sites {
		at := host
		if !strings.Contains(site, ":") {
			at = name
		} else if !ported {
			continue
		}
		if below, ok := strings.CutPrefix(site, "*."); ok && strings.HasSuffix(at, "."+below) || bare(at) == bare(site) {
			return true
		}
	}
	return false
}

// bare is a name without the "www." that people take for nothing.
func bare(name string) string { return strings.TrimPrefix(name, "www.") }

// IsLocal tells whether a name is that of a developer's own machine (RFC 6761, sections 6.2
// and 6.3).
func IsLocal(name string) bool {
	return name == "localhost" || name == "127.0.0.1" || name == "::1" || name == "[::1]" || strings.HasSuffix(name, ".localhost") || strings.HasSuffix(name, ".test")
}

// Ancestors are the sources of frame-ancestors for a pocket that shows on sites only (Content
// Security Policy Level 3, section 7.7.2).
func Ancestors(sites []string, local bool) string {
	list := []string{}
	for _, site := range sites {
		names := []string{site}
		name := bare(site)
		domain, _, _ := strings.Cut(name, ":")
		if _, err := netip.ParseAddr(domain); err != nil && !strings.HasPrefix(name, "*.") && strings.Contains(domain, ".") {
			names = []string{name, "www." + name}
		}
		for _, name := range names {
			if !strings.Contains(name, ":") {
				name += ":*"
			}
			list = append(list, "http://"+name, "https://"+name)
		}
	}
	if local {
		list = append(list, "http://localhost:*", "https://localhost:*", "http://127.0.0.1:*", "http://*.localhost:*", "http://*.test:*", "https://*.test:*")
	}
	if len(list) == 0 {
		return "'none'"
	}
	slices.Sort(list)
	return strings.Join(slices.Compact(list), " ")
}
