package intake

import (
	"encoding/base64"
	"fmt"
	"net/url"
	"path"
	"regexp"
	"strconv"
	"strings"

	"golang.org/x/net/html"

	"glasspocket/internal/asset"
	"glasspocket/internal/clip"
	"glasspocket/internal/tree"
)

// unseen are elements that belong to a page's head, or that a widget does not show.
var unseen = map[string]bool{"noscript": true, "template": true, "base": true, "meta": true, "link": true, "title": true, "head": true}

// foreign are elements that a view cannot have, and what to do instead.
var foreign = map[string]string{
	"iframe": "Use a link, or make its content part of the widget.", "frame": "", "frameset": "", "object": "Use an <img>, <audio> or <video>.", "embed": "Use an <img>, <audio> or <video>.",
	"applet": "", "portal": "", "textarea": "Use an <input>.", "plaintext": "", "xmp": "", "noembed": "", "noframes": "", "foreignobject": "Put the text next to the drawing.",
}

// twice finds the duplicate ids in the part.
func (m *maker) twice() {
	seen := map[string]bool{}
	tree.Each(m.root, func(n *html.Node) {
		id := tree.Get(n, "id")
		if id != "" && seen[id] && !m.ids[id] {
			if m.leaves(RepairIDs) {
				m.hand(lineOf(n), fmt.Sprintf("The ID %q occurs more than once.", id), "Labels, links and scripts find only the first one. Use a class.")
				return
			}
			m.ids[id] = true
			m.done(lineOf(n), "The ID %q occurred more than once. It is now a class, also in the style and the script.", id)
		}
		seen[id] = true
	})
}

// walk converts the part to what a view can have.
func (m *maker) walk(n *html.Node) {
	var next *html.Node
	for c := n.FirstChild; c != nil; c = next {
		next = c.NextSibling
		switch c.Type {
		case html.CommentNode:
			if strings.HasPrefix(strings.TrimSpace(c.Data), "[if") || strings.ContainsAny(c.Data, "{<>") {
				n.RemoveChild(c)
			}
		case html.ElementNode:
			line := lineOf(c)
			if unseen[c.Data] {
				n.RemoveChild(c)
				continue
			}
			if fix, refused := foreign[strings.ToLower(c.Data)]; refused {
				n.RemoveChild(c)
				if source := tree.Get(c, "src"); source != "" {
					m.remote(source, "frame", line)
				}
				if fix == "" {
					fix = "Leave it out."
				}
				m.hand(line, fmt.Sprintf("<%s> was left out, because a view cannot contain it.", c.Data), fix)
				continue
			}
			m.element(c, line)
			m.walk(c)
		}
	}
}

var javascriptForm = regexp.MustCompile(`(?i)^\s*javascript:`)

// Names in HTML and SVG. The HTML parser accepts nearly everything.
var (
	tagForm       = regexp.MustCompile(`^[a-zA-Z][a-zA-Z0-9-]*$`)
	attributeForm = regexp.MustCompile(`^[a-zA-Z_][\w.:-]*$`)
)

func (m *maker) element(n *html.Node, line int) {
	if !tagForm.MatchString(n.Data) {
		m.hand(line, fmt.Sprintf("%q is not the name of an element. It is now a <span>.", clip.Input(strings.TrimSpace(n.Data))), "Write the intended element.")
		n.Data, n.Namespace = "span", ""
	}
	for _, a := range append([]html.Attribute{}, n.Attr...) {
		key := strings.ToLower(a.Key)
		switch {
		case !attributeForm.MatchString(a.Key):
			tree.Drop(n, a.Key)
		case key == "on":
			tree.Drop(n, a.Key)
		case strings.HasPrefix(key, "on"):
			tree.Drop(n, a.Key)
			m.listen(n, strings.TrimPrefix(key, "on"), a.Val, line)
		case key == "style":
			tree.Drop(n, a.Key)
			if strings.TrimSpace(a.Val) != "" {
				m.addClass(n, m.declare(a.Val))
			}
		case key == "href" && javascriptForm.MatchString(a.Val), key == "action" && javascriptForm.MatchString(a.Val):
			code := javascriptForm.ReplaceAllString(a.Val, "")
			if decoded, err := url.PathUnescape(code); err == nil {
				code = decoded
			}
			tree.Set(n, a.Key, "#")
			if strings.TrimSpace(code) != "" && !strings.HasPrefix(strings.TrimSpace(code), "void") {
				m.listen(n, "click", code+"; return false", line)
			}
		case key == "id" && m.ids[a.Val]:
			tree.Drop(n, a.Key)
			m.addClass(n, a.Val)
		case key == "srcdoc", key == "ping", key == "formaction", key == "background", key == "is", key == "nonce", key == "integrity", key == "crossorigin":
			tree.Drop(n, a.Key)
		case key == "srcset":
			tree.Drop(n, a.Key)
			m.hand(line, "The image's other sizes (srcset) were left out.", "The service creates several sizes of the widget's own images.")
		}
	}
	switch n.Data {
	case "img":
		m.image(n, line)
	case "audio", "video", "source", "track":
		if source := tree.Get(n, "src"); source != "" {
			m.remote(m.addressOf(source, ""), "sound", line)
			m.hand(line, fmt.Sprintf("<%s> plays %s.", n.Data, clip.Input(strings.TrimSpace(source))), "Make it a sound setting, or load it from its server.")
		}
	case "a":
		if to := tree.Get(n, "href"); m.base != nil && relative(to) {
			tree.Set(n, "href", m.addressOf(to, ""))
		}
	case "form":
		m.hand(line, "The form still submits to its old address.", "Check its action. This service does not store what visitors submit there.")
	}
}

// image makes a setting from an image that was copied, or that the page contains.
func (m *maker) image(n *html.Node, line int) {
	address := strings.TrimSpace(tree.Get(n, "src"))
	if address == "" {
		return
	}
	c, brought := Copy{}, false
	if strings.HasPrefix(strings.ToLower(address), "data:") {
		if c, brought = m.held(address); !brought {
			m.hand(line, "An embedded image cannot be read and was left out.", "Add it as a file.")
			tree.Drop(n, "src")
			return
		}
	} else {
		var state string
		address = m.addressOf(address, "")
		state, c = m.remote(address, "image", line)
		if brought = state == "copied"; brought {
			if _, faults := asset.Make(path.Base(c.Path), c.Bytes); len(faults) > 0 {
				m.hand(line, fmt.Sprintf("The image %s has a format that widgets cannot use.", clip.Input(strings.TrimSpace(address))), faults[0].What)
				m.forget(address)
				brought = false
				return
			}
		}
		if state == "left" && m.Beside != nil && relative(address) {
			m.hand(line, fmt.Sprintf("The image %s was not found.", clip.Input(strings.TrimSpace(address))), "Put it next to the page, or name the site's folder with -root.")
		} else if state == "left" && !absolute.MatchString(address) {
			m.hand(line, fmt.Sprintf("The image %s is next to the page, where the widget cannot find it.", clip.Input(strings.TrimSpace(address))), "Add a copy of it.")
		} else if state == "left" {
			m.hand(line, fmt.Sprintf("The image %s is on another server.", clip.Input(strings.TrimSpace(address))), "Add a copy, or load it from that server.")
		}
	}
	if !brought {
		if relative(address) {
			tree.Drop(n, "src") // browsers would resolve it against the visitor's page
		}
		return
	}
	key := "image"
	if len(m.keys) > 0 {
		key = fmt.Sprintf("image%d", len(m.keys)+1)
	}
	alt := tree.Get(n, "alt")
	value := map[string]any{"asset": c.Path, "alt": alt}
	if alt == "" && tree.Has(n, "alt") {
		value = map[string]any{"asset": c.Path, "decorative": true}
	}
	label := "Image"
	if alt != "" {
		label = "Image: " + clip.Input(strings.TrimSpace(alt))
	}
	m.keys = append(m.keys, key)
	m.fields[key] = map[string]any{"type": "object", "default": value, "glass": map[string]any{"type": "image", "label": map[string]string{"en": label}}}
	// The page's other attributes for it move to an element around it.
	action := fmt.Sprintf(`{{image .settings.%s "100vw"`, key)
	if class := strings.TrimSpace(tree.Get(n, "class")); class != "" {
		action += fmt.Sprintf(" %q", class)
	}
	n.Parent.InsertBefore(m.action(fmt.Sprintf("{{if .settings.%s.shown}}%s}}{{end}}", key, action)), n)
	n.Parent.RemoveChild(n)
	m.done(line, "The image %s is now the setting %q.", clip.Input(strings.TrimSpace(address)), key)
}

var absolute = regexp.MustCompile(`(?i)^(https?:)?//`)

// held decodes an image in a data: URL (RFC 2397).
func (m *maker) held(address string) (Copy, bool) {
	head, data, ok := strings.Cut(address[len("data:"):], ",")
	if !ok {
		return Copy{}, false
	}
	bytes := []byte(data)
	if strings.HasSuffix(strings.ToLower(head), ";base64") {
		decoded, err := base64.StdEncoding.DecodeString(strings.Map(func(r rune) rune {
			if r == ' ' || r == '\n' || r == '\t' {
				return -1
			}
			return r
		}, data))
		if err != nil {
			return Copy{}, false
		}
		bytes = decoded
	} else if decoded, err := url.PathUnescape(data); err == nil {
		bytes = []byte(decoded)
	}
	kind, _, _ := strings.Cut(strings.ToLower(head), ";")
	ending := map[string]string{"image/png": "png", "image/jpeg": "jpg", "image/gif": "gif", "image/webp": "webp", "image/svg+xml": "svg"}[kind]
	if ending == "" {
		return Copy{}, false
	}
	file := fmt.Sprintf("assets/image-%d.%s", len(m.keys)+1, ending)
	if _, faults := asset.Make(path.Base(file), bytes); len(faults) > 0 {
		return Copy{}, false
	}
	c := Copy{Path: file, Bytes: bytes}
	if m.Copies == nil {
		m.Copies = map[string]Copy{}
	}
	m.Copies[address] = c
	return c, true
}

// listen records a handler from an attribute.
func (m *maker) listen(n *html.Node, name, code string, line int) {
	mark := len(m.events) + 1
	for _, e := range m.events {
		if fmt.Sprint(e.mark) == tree.Get(n, "data-does") {
			mark = e.mark
		}
	}
	tree.Set(n, "data-does", fmt.Sprint(mark))
	m.events = append(m.events, event{mark, name, code, line})
}

// declare returns a class for the declarations of a style attribute.
func (m *maker) declare(declarations string) string {
	declarations = strings.TrimRight(strings.TrimSpace(declarations), ";")
	for i, other := range m.inline {
		if other == declarations {
			return fmt.Sprintf("p%d", i+1)
		}
	}
	m.inline = append(m.inline, declarations)
	return fmt.Sprintf("p%d", len(m.inline))
}

func (m *maker) addClass(n *html.Node, class string) {
	tree.Set(n, "class", strings.TrimSpace(tree.Get(n, "class")+" "+class))
}

// markup writes the view: the part, in an element with the widget's name.
func (m *maker) markup() string {
	wrapper := &html.Node{Type: html.ElementNode, Data: "div"}
	classes := []string{m.Name}
	taken := m.root
	if taken.Data == "body" {
		if c := tree.Get(taken, "class"); c != "" {
			classes = append(classes, c)
		}
		if s := tree.Get(taken, "style"); strings.TrimSpace(s) != "" {
			classes = append(classes, m.declare(s))
		}
		for _, a := range taken.Attr {
			if name, ok := strings.CutPrefix(a.Key, "on"); ok {
				m.events = append(m.events, event{0, name, a.Val, lineOf(taken)})
			}
		}
		for c := taken.FirstChild; c != nil; c = taken.FirstChild {
			taken.RemoveChild(c)
			wrapper.AppendChild(c)
		}
	} else {
		m.element(taken, lineOf(taken))
		taken.Parent.RemoveChild(taken)
		wrapper.AppendChild(taken)
	}
	wrapper.Attr = []html.Attribute{{Key: "class", Val: strings.Join(classes, " ")}}
	tree.Each(wrapper, func(n *html.Node) { tree.Drop(n, lineKey) })
	var b strings.Builder
	if err := html.Render(&b, wrapper); err != nil {
		m.hand(0, "The markup cannot be written: "+err.Error()+".", "Use a part of the page.")
	}
	return strings.TrimSpace(m.protected(tidy.ReplaceAllString(b.String(), "\n\n"))) + "\n"
}

var tidy = regexp.MustCompile(`\n(?:[ \t]*\n)+`)

// In the tree, an action is represented by actionMark, its number and actionMark again. The page
// itself cannot contain this private-use character.
const actionMark = "\ue1aa"

var actionPlace = regexp.MustCompile(actionMark + `(\d+)` + actionMark)

// action returns a node that represents an action of the view language.
func (m *maker) action(text string) *html.Node {
	m.actions = append(m.actions, text)
	return &html.Node{Type: html.TextNode, Data: fmt.Sprintf("%s%d%[1]s", actionMark, len(m.actions)-1)}
}

// protected escapes the page's own braces, so that they are not read as actions, and inserts ours.
func (m *maker) protected(markup string) string {
	markup = strings.ReplaceAll(markup, "{{", `{{"{{"}}`)
	markup = strings.ReplaceAll(markup, "{"+actionMark, `{{"{"}}`+actionMark)
	return actionPlace.ReplaceAllStringFunc(markup, func(at string) string {
		i, _ := strconv.Atoi(strings.Trim(at, actionMark))
		return m.actions[i]
	})
}
