package view

import (
	"fmt"
	"slices"
	"strings"

	"golang.org/x/net/html"

	"glasspocket/internal/clip"
	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
)

var (
	// refusedTags run as script, apply as style or load from outside our restrictions, or are valid
	// only in a page's own frame.
	refusedTags = []string{"script", "style", "base", "meta", "link", "title", "html", "head", "body", "iframe", "frame", "frameset",
		"object", "embed", "applet", "portal", "template", "noscript", "plaintext", "xmp", "noembed", "noframes", "foreignobject", "textarea"}
	refusedAttributes = []string{"style", "srcdoc", "ping", "formaction", "background", "is"}
	voidTags          = []string{"area", "br", "col", "hr", "img", "input", "source", "track", "wbr"}
	animations        = []string{"animate", "set", "animatemotion", "animatetransform"}
)

// checkMarkup reads the view as HTML with its actions masked. It reports elements and attributes
// that a view cannot have, and tags that do not pair.
func checkMarkup(text string) (notes, fault.List) {
	masked := mask(text)
	var faults fault.List
	var found notes
	loops := loopBodies(text)
	ids := map[string]bool{}
	places := jsondoc.Placing([]byte(text))
	add := func(offset int, code fault.Code, what, fix string) {
		if len(faults) >= fault.Most {
			return
		}
		line, column := places.Place(offset)
		faults = append(faults, fault.Fault{Line: line, Column: column, Code: code, What: what, Fix: fix})
	}
	type open struct {
		name string
		at   int
	}
	var stack []open
	z := html.NewTokenizer(strings.NewReader(masked))
	offset := 0
	for {
		kind := z.Next()
		raw := string(z.Raw())
		at := offset
		offset += len(raw)
		if kind == html.ErrorToken {
			break
		}
		if kind != html.StartTagToken && kind != html.SelfClosingTagToken && kind != html.EndTagToken {
			continue
		}
		nameBytes, more := z.TagName()
		name := string(nameBytes)
		if kind == html.EndTagToken {
			if n := len(stack); n > 0 && stack[n-1].name == name {
				stack = stack[:n-1]
				continue
			}
			i := len(stack) - 1
			for ; i >= 0 && stack[i].name != name; i-- {
			}
			if i < 0 {
				add(at, fault.ViewBalance, fmt.Sprintf("</%s> has no opening tag.", name), "Delete it, or open the element earlier in the same branch.")
				continue
			}
			for _, o := range stack[i+1:] {
				add(o.at, fault.ViewBalance, fmt.Sprintf("<%s> is not closed before </%s>.", o.name, name), fmt.Sprintf("Add </%s>.", o.name))
			}
			stack = stack[:i]
			continue
		}
		if slices.Contains(refusedTags, name) {
			add(at, fault.ViewTag, fmt.Sprintf("A view cannot contain <%s>.", name), tagFix(name))
		}
		alt, hidden, asks := false, false, 0
		if name == "slot" {
			found.slots = append(found.slots, newPlace(text, at, slotName(raw)))
		}
		for more {
			var key, value []byte
			key, value, more = z.TagAttr()
			k := string(key)
			where := at + max(0, strings.Index(strings.ToLower(raw), k))
			switch {
			case strings.HasPrefix(k, "on"):
				add(where, fault.ViewAttribute, fmt.Sprintf("A view cannot contain the attribute %s.", k), "Listen for the event in the mount module.")
			case slices.Contains(refusedAttributes, k):
				add(where, fault.ViewAttribute, fmt.Sprintf("A view cannot contain the attribute %s.", k), "Use a class and the stylesheet. Strict pages drop this attribute.")
			case k == "attributename" && slices.Contains(animations, name) && (strings.Contains(strings.ToLower(string(value)), "href") || strings.Contains(string(value), maskChar)):
				add(where, fault.ViewAttribute, "A view cannot animate a link.", "Animate another attribute.")
			}
			fixed := !strings.Contains(string(value), maskChar)
			switch {
			case k == "alt":
				alt = true
			case k == "data-fact", k == "data-when-fact", k == "data-unless-fact":
				found.facts = append(found.facts, newPlace(text, where, string(value)))
				if k == "data-when-fact" {
					asks = where
				}
			case k == "hidden":
				hidden = true
			case k == "data-text":
				found.texts = append(found.texts, newPlace(text, where, string(value)))
			case k == "id" && fixed:
				if ids[string(value)] || loops.has(at) {
					found.warn(text, where, fault.IDTwice, fmt.Sprintf("The widget contains the ID %q more than once.", value), "Use a class, or build the ID from the item: id=\"x-{{.id}}\".")
				}
				ids[string(value)] = true
			case (k == "src" || k == "poster" || k == "data" || (k == "href" || k == "xlink:href") && (name == "use" || name == "image")) && fixed && relativeForm.Match(value):
				add(where, fault.AddressLost, fmt.Sprintf("Visitors' browsers would look for %s next to the page that shows the widget.", clip.Input(string(value))), "Put the file into assets/ and use it with an image or sound setting.")
			case (k == "src" || k == "srcset" || k == "poster" || k == "data") && fixed && remoteForm.MatchString(string(value)):
				found.warn(text, where, fault.RemoteFile, fmt.Sprintf("%s is on another server, which can change or disappear.", clip.Input(string(value))), "Put the file into assets/ and show it with an image setting.")
			}
		}
		if asks > 0 && !hidden {
			add(asks, fault.ViewAttribute, "This should show only when the page states the fact, but it shows to everybody until then.", "Add the attribute hidden. It is removed when the page states the fact.")
		}
		if name == "img" && !alt {
			found.warn(text, at, fault.AltMissing, "This image has no text alternative.", "Add alt=\"…\", or alt=\"\" if the image carries no information.")
		}
		inSVG := slices.ContainsFunc(stack, func(o open) bool { return o.name == "svg" || o.name == "math" })
		switch {
		case slices.Contains(voidTags, name):
		case kind == html.SelfClosingTagToken && (inSVG || name == "svg"):
		case kind == html.SelfClosingTagToken:
			add(at, fault.ViewBalance, fmt.Sprintf("HTML has no self-closing <%s/>.", name), fmt.Sprintf("Write <%s></%s>.", name, name))
		default:
			stack = append(stack, open{name, at})
		}
	}
	for _, o := range stack {
		add(o.at, fault.ViewBalance, fmt.Sprintf("<%s> is never closed.", o.name), fmt.Sprintf("Add </%s>. Each branch of {{if}} must close the elements that it opens.", o.name))
	}
	return found, faults
}

func tagFix(name string) string {
	switch name {
	case "script":
		return "Put the script into mount.ts or mount.js."
	case "style", "link":
		return "Put the rules into style.css."
	}
	return "Delete it. A widget is part of somebody else's page."
}

const maskChar = "\u001a"

// mask replaces each {{action}} by as many substitute characters, which cannot be part of a tag or
// a quote, so that offsets stay the same. Actions end as in text/template: at the first }} outside
// a quoted string.
func mask(text string) string {
	b := []byte(text)
	for i := 0; i+1 < len(b); i++ {
		if b[i] != '{' || b[i+1] != '{' {
			continue
		}
		end := actionEnd(text, i+2)
		for j := i; j < end; j++ {
			if b[j] != '\n' {
				b[j] = maskChar[0]
			}
		}
		i = end - 1
	}
	return string(b)
}

func actionEnd(text string, i int) int {
	if rest := strings.TrimLeft(strings.TrimPrefix(text[i:], "-"), " \t\r\n"); strings.HasPrefix(rest, "/*") {
		if end := strings.Index(text[i:], "*/"); end >= 0 {
			i += end + 2
		}
	}
	for i < len(text) {
		switch c := text[i]; c {
		case '"', '\'', '`':
			i++
			for i < len(text) && text[i] != c {
				if text[i] == '\\' && c != '`' {
					i++
				}
				i++
			}
		case '}':
			if strings.HasPrefix(text[i:], "}}") {
				return i + 2
			}
		}
		i++
	}
	return len(text)
}
