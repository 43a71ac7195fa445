// Package cue defines the rules for where a pocket shows.
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
	// Only are address rules: the pocket shows where one of them matches, or everywhere if there
	// are none.
	Only []string `json:"only,omitempty"`
	// Not are address rules where the pocket never shows, whatever Only says.
	Not []string `json:"not,omitempty"`
	// OwnSites limits the pocket to its customer's sites.
	OwnSites bool `json:"ownSites,omitempty"`
	// Local also allows it on a developer's own machine.
	Local bool `json:"local,omitempty"`
}

// Limits.
const (
	AddressesMost = 50
	AddressMost   = 200 // characters in a rule
)

// IsZero reports whether the pocket shows everywhere.
func (c Cues) IsZero() bool { return len(c.Only) == 0 && len(c.Not) == 0 && !c.OwnSites }

// Chooses reports whether the address decides.
func (c Cues) Chooses() bool { return len(c.Only) > 0 || len(c.Not) > 0 }

// Read reads stored cues. An empty text gives the zero Cues.
func Read(text []byte) (c Cues, err error) {
	if len(text) == 0 {
		return c, nil
	}
	return c, json.Unmarshal(text, &c)
}

// An address rule is a path, with * for any characters, as in "/", "/events/*"; or a domain and a
// path; or the part of an address after #, for single-page applications.
var ruleForm = regexp.MustCompile(`^([a-z0-9.-]+(:\d{1,5})?)?([/#]|$)`)

// Clean returns c in its stored form: addresses as browsers write them, without duplicates, and
// without the parts of an address that rules ignore.
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
		// Browsers percent-encode other letters (RFC 3986, section 2.1).
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

// Shows reports whether a pocket shows at an address; sites are its customer's. The page's script
// decides in the same way (loader/kit/here.ts), and the same table of cases tests both,
// testdata/addresses.json.
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

// plain returns a path as rules compare it: without parts that most servers ignore.
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
	// "/events/*" includes the section's own page.
	if section, ok := strings.CutSuffix(rule, "/*"); ok && path == section {
		return true
	}
	return fits(plain(rule), path)
}

// fits compares text with a rule in which * stands for any characters. It never goes back, so that
// no rule takes long.
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

// OnSite reports whether host, with its port unless that is the scheme's default, is one of sites.
// "shop.example" matches itself with and without "www."; "*.shop.example" matches everything below
// it.
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

// bare removes the "www." that people ignore.
func bare(name string) string { return strings.TrimPrefix(name, "www.") }

// IsLocal reports whether a name is that of a developer's own machine (RFC 6761, sections 6.2 and
// 6.3).
func IsLocal(name string) bool {
	return name == "localhost" || name == "127.0.0.1" || name == "::1" || name == "[::1]" || strings.HasSuffix(name, ".localhost") || strings.HasSuffix(name, ".test")
}

// Ancestors returns the sources of frame-ancestors for a pocket that is limited to sites (Content
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
