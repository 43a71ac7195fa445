package host

import (
	"net/url"
	"slices"
	"strings"
)

// Policy is a content policy as in a header or a meta element (Content Security Policy Level 3):
// any number of policies, separated by commas, all of which must allow a request.
type Policy []map[string][]string

// ReadPolicy reads policies. It keeps unknown directives and never uses them.
func ReadPolicy(text string) (p Policy) {
	for one := range strings.SplitSeq(text, ",") {
		directives := map[string][]string{}
		for d := range strings.SplitSeq(one, ";") {
			words := strings.Fields(d)
			if len(words) == 0 {
				continue
			}
			name := strings.ToLower(words[0])
			if _, twice := directives[name]; !twice { // the first of a name counts (section 2.2.1)
				directives[name] = words[1:]
			}
		}
		if len(directives) > 0 {
			p = append(p, directives)
		}
	}
	return p
}

// instead lists the directives to use if one is missing (section 6.8.3).
var instead = map[string][]string{
	"script-src-elem": {"script-src", "default-src"},
	"style-src-attr":  {"style-src", "default-src"},
	"frame-src":       {"child-src", "default-src"},
	"script-src":      {"default-src"},
	"style-src":       {"default-src"},
	"img-src":         {"default-src"},
	"connect-src":     {"default-src"},
	"font-src":        {"default-src"},
	"form-action":     nil,
}

func sources(directives map[string][]string, name string) (list []string, found string) {
	for _, n := range append([]string{name}, instead[name]...) {
		if list, ok := directives[n]; ok {
			return list, n
		}
	}
	return nil, ""
}

// Allows reports whether all policies let a page at self load an address and, if not, which
// directive refuses it. pinned are digests of the element's integrity attribute.
func (p Policy) Allows(directive, self, address string, pinned ...string) (ok bool, by string) {
	for _, one := range p {
		list, name := sources(one, directive)
		if name == "" {
			continue
		}
		if !anyAllows(list, directive, self, address, pinned) {
			return false, name
		}
	}
	return true, ""
}

func anyAllows(list []string, directive, self, address string, pinned []string) bool {
	if slices.Contains(list, "'strict-dynamic'") && directive == "script-src-elem" {
		// Scripts from the parser then need a nonce or their digest (section 8.2).
		return pinnedBy(list, pinned)
	}
	if pinnedBy(list, pinned) {
		return true
	}
	return slices.ContainsFunc(list, func(source string) bool { return matches(source, self, address) })
}

func pinnedBy(list, pinned []string) bool {
	return len(pinned) > 0 && !slices.ContainsFunc(pinned, func(d string) bool { return !slices.Contains(list, "'"+d+"'") })
}

// none returns the directive with which a policy allows nothing at all of a kind, or "".
func (p Policy) none(directive string) string {
	for _, one := range p {
		if list, by := sources(one, directive); by != "" && (len(list) == 0 || slices.Contains(list, "'none'")) {
			return by
		}
	}
	return ""
}

// AllowsInlineStyle reports whether style attributes work on a page with this policy.
func (p Policy) AllowsInlineStyle() bool {
	for _, one := range p {
		list, name := sources(one, "style-src-attr")
		if name == "" {
			continue
		}
		hashed := slices.ContainsFunc(list, func(s string) bool {
			return strings.HasPrefix(s, "'nonce-") || strings.HasPrefix(s, "'sha")
		})
		if !slices.Contains(list, "'unsafe-inline'") || hashed {
			return false
		}
	}
	return true
}

// matches reports whether a source expression allows an address (section 6.7.2.8).
func matches(source, self, address string) bool {
	to, err := url.Parse(address)
	if err != nil {
		return false
	}
	switch lower := strings.ToLower(source); {
	case lower == "'self'":
		from, err := url.Parse(self)
		return err == nil && strings.EqualFold(from.Scheme, to.Scheme) && strings.EqualFold(from.Host, to.Host)
	case lower == "*":
		return to.Scheme == "http" || to.Scheme == "https"
	case strings.HasPrefix(lower, "'"):
		return false
	case strings.HasSuffix(lower, ":") && !strings.Contains(lower, "/"):
		return schemeFits(strings.TrimSuffix(lower, ":"), to.Scheme)
	}
	scheme, rest, found := strings.Cut(source, "://")
	if !found {
		scheme, rest = "", source
		if from, err := url.Parse(self); err == nil {
			scheme = from.Scheme
		}
	}
	if scheme != "" && !schemeFits(strings.ToLower(scheme), to.Scheme) {
		return false
	}
	host, path, _ := strings.Cut(rest, "/")
	if path != "" {
		path = "/" + path
	}
	host, port, ported := strings.Cut(strings.ToLower(host), ":")
	name := strings.ToLower(to.Hostname())
	if wild, ok := strings.CutPrefix(host, "*"); ok {
		if !strings.HasSuffix(name, wild) || len(name) <= len(wild) {
			return false
		}
	} else if host != name {
		return false
	}
	there := to.Port()
	if there == "" {
		there = map[string]string{"http": "80", "https": "443"}[to.Scheme]
	}
	if !ported {
		port = map[string]string{"http": "80", "https": "443"}[to.Scheme]
	}
	if port != "*" && port != there {
		return false
	}
	switch {
	case path == "":
		return true
	case strings.HasSuffix(path, "/"):
		return strings.HasPrefix(to.Path, path)
	}
	return path == to.Path
}

// schemeFits reports whether a scheme allows another: http allows https too.
func schemeFits(allowed, scheme string) bool {
	return allowed == scheme || allowed == "http" && scheme == "https"
}

// with returns a directive that allows an additional source: the first policy's own, or the one
// that it falls back to.
func (p Policy) with(name, source string) string {
	for _, one := range p {
		if have, from := sources(one, name); from != "" {
			have = slices.DeleteFunc(slices.Clone(have), func(s string) bool { return s == "'none'" })
			return name + " " + strings.Join(append(have, source), " ")
		}
	}
	return name + " " + source
}

// Plus returns the policy after somebody added the sources in text. A directive that had fallen
// back to another one keeps that one's sources.
func (p Policy) Plus(text string) Policy {
	added := ReadPolicy(text)
	out := Policy{}
	for _, one := range p {
		next := map[string][]string{}
		for name, list := range one {
			next[name] = list
		}
		for _, directives := range added {
			for name, list := range directives {
				have, from := sources(one, name)
				if from == "" && !strings.HasPrefix(name, "trusted-types") {
					continue // nothing is refused
				}
				if _, set := next[name]; !set && from == "" {
					continue
				}
				next[name] = append(slices.DeleteFunc(slices.Clone(have), func(s string) bool { return s == "'none'" }), list...)
			}
		}
		out = append(out, next)
	}
	return out
}
