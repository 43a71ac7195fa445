package lab

import (
	"encoding/json"
	"encoding/xml"
	"errors"
	"fmt"
	"html"
	"io"
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"text/template"
	"time"

	"github.com/microcosm-cc/bluemonday"
)

// all lists the hosts, one function for each.
func all() []*Host {
	return []*Host{plainPage(), pageOfParts(), richText(), shopCodeSection(), shopStacked(), freePlacement(), scriptsOnHold(), rawMarkup(), blog(), course(), discussion(), linksPage(), mail(), screenSource(), program(), strictPolicy(), tagManager()}
}

// written is the HTML that an author can write in a text: no scripts, no styles, nothing unknown.
func written() *bluemonday.Policy {
	p := bluemonday.NewPolicy()
	p.AllowElements("p", "div", "span", "br", "b", "i", "em", "strong", "ul", "ol", "li", "blockquote", "table", "tr", "td", "noscript")
	p.AllowAttrs("href", "title").OnElements("a")
	p.AllowAttrs("src", "alt", "width", "height").OnElements("img")
	p.AllowStandardURLs()
	return p
}

func framed(p *bluemonday.Policy) *bluemonday.Policy {
	p.AllowElements("iframe")
	p.AllowAttrs("src", "title", "width", "height", "frameborder", "loading").OnElements("iframe")
	return p
}

func plainPage() *Host {
	return &Host{Name: "plain-page", Title: "Hask Orchard, by hand",
		Fields: []Field{{Name: "body", Label: "The page’s file, between two paragraphs"}, {Name: "column", Label: "In the side column (element aside)"}, {Name: "end", Label: "Before </body> of every page"}},
		Page: func(s *Site, path string) Page {
			return Page{HTML: document(s, "Hask Orchard", "", shown("body", s.Fields["body"]), shown("column", s.Fields["column"]), shown("end", s.Fields["end"]))}
		}}
}

func pageOfParts() *Host {
	return &Host{Name: "page-of-parts", Title: "Kelp & Kiln, made of sections",
		Fields: []Field{{Name: "code", Label: "Section: code", Sample: "<p>Your code goes here.</p>"}, {Name: "words", Label: "Section: text"}, {Name: "column", Label: "Side column: code"}, {Name: "every-page", Label: "Settings: code for every page"}},
		Check:  most("code", 20000),
		Page: func(s *Site, path string) Page {
			words := "<p>" + strings.ReplaceAll(html.EscapeString(s.Fields["words"]), "\n", "<br>") + "</p>"
			return Page{HTML: document(s, "Kelp & Kiln", "", shown("words", words)+shown("code", s.Fields["code"]), shown("column", s.Fields["column"]), shown("every-page", s.Fields["every-page"]))}
		}}
}

func most(field string, characters int) func(string, string) error {
	return func(name, text string) error {
		if name == field && len([]rune(text)) > characters {
			return fmt.Errorf("This box accepts at most %d characters, but there are %d.", characters, len([]rune(text)))
		}
		return nil
	}
}

func richText() *Host {
	source := framed(written())
	return &Host{Name: "rich-text", Title: "Teasel Hall, one long text",
		Fields: []Field{{Name: "source", Label: "The text, source view"}, {Name: "visual", Label: "The text, visual view"}, {Name: "site-code", Label: "Site: footer code"}},
		Page: func(s *Site, path string) Page {
			visual := "<p>" + html.EscapeString(s.Fields["visual"]) + "</p>"
			return Page{HTML: document(s, "Teasel Hall", "", shown("source", source.Sanitize(s.Fields["source"]))+shown("visual", visual), "", shown("site-code", s.Fields["site-code"]))}
		}}
}

// through runs text through a template language, as themes do: braces have a meaning.
func through(text string) (string, error) {
	t, err := template.New("").Option("missingkey=error").Parse(text)
	if err != nil {
		return "", errors.New("The template cannot be read: " + strings.TrimPrefix(err.Error(), "template: :"))
	}
	var b strings.Builder
	if err := t.Execute(&b, map[string]string{"shop": "Hask Orchard"}); err != nil {
		return "", errors.New("The template stopped: " + err.Error())
	}
	return b.String(), nil
}

// tags are the other braces of such languages, whose content is not printed.
var tags = regexp.MustCompile(`(?s)\{%.*?%\}`)

func rendered(text string) string {
	out, err := through(tags.ReplaceAllString(text, ""))
	if err != nil {
		return "<!-- " + html.EscapeString(err.Error()) + " -->"
	}
	return out
}

func templated(fields ...string) func(string, string) error {
	return func(name, text string) error {
		for _, f := range fields {
			if f == name {
				_, err := through(tags.ReplaceAllString(text, ""))
				return err
			}
		}
		return nil
	}
}

func shopCodeSection() *Host {
	description := framed(written())
	description.AllowDataAttributes()
	description.AllowStyling()
	description.AllowAttrs("style").Globally()
	description.AllowStyles("min-height", "max-width", "margin", "background", "box-shadow", "border", "display", "padding-top", "padding-bottom").MatchingHandler(func(string) bool { return true }).Globally()
	return &Host{Name: "shop-code-section", Title: "Hask Orchard, the farm shop",
		Fields: []Field{{Name: "section", Label: "Section: code"}, {Name: "description", Label: "Product: text, source"}, {Name: "layout", Label: "Theme: layout, before </body>"}},
		Check:  templated("section", "layout"),
		Page: func(s *Site, path string) Page {
			return Page{HTML: document(s, "The farm shop", "", shown("section", rendered(s.Fields["section"]))+shown("description", description.Sanitize(s.Fields["description"])), "", shown("layout", rendered(s.Fields["layout"])))}
		}}
}

func shopStacked() *Host {
	words := written()
	return &Host{Name: "shop-stacked", Title: "Kelp & Kiln, the shop",
		Fields: []Field{{Name: "words", Label: "Section: text, source"}, {Name: "layout", Label: "Theme: layout, before </body>"}},
		Check:  templated("layout"),
		Page: func(s *Site, path string) Page {
			return Page{HTML: document(s, "The kiln’s shop", "", shown("words", words.Sanitize(s.Fields["words"])), "", shown("layout", rendered(s.Fields["layout"])))}
		}}
}

// inside reports the content of a frame from within, because the page around it cannot inspect it.
const inside = `<script>{let looks=0,told=0;addEventListener("message",e=>{if(e.data&&e.data.glassPocketHeight>0)told=1});(function look(){let text="";for(const e of document.querySelectorAll("*"))if(e.shadowRoot)text+=e.shadowRoot.textContent;parent.postMessage({labInside:text.length,labFrames:document.querySelectorAll("iframe").length,labTold:told,labForm:!!document.forms.length,labTable:!!document.querySelector("table")&&[...document.images].every(i=>i.complete&&i.naturalWidth),labLink:!!document.querySelector("a[href*='/p/']"),labText:document.body.innerText,labLooks:++looks},"*");setTimeout(look,100)})()}</script>`

func freePlacement() *Host {
	return &Host{Name: "free-placement", Title: "Northbeck, placed by hand",
		Fields: []Field{{Name: "address-box", Label: "Box: address", Line: true}, {Name: "code-box", Label: "Box: code"}, {Name: "site-code", Label: "Site: code for all pages"}},
		Check:  addressOnly("address-box"),
		Page: func(s *Site, path string) Page {
			box, code := "", ""
			if a := s.Fields["address-box"]; a != "" {
				box = `<iframe sandbox="allow-scripts" width="640" height="260" style="border:0" src="` + html.EscapeString(a) + `"></iframe>`
			}
			if c := s.Fields["code-box"]; c != "" {
				code = `<iframe sandbox="allow-scripts" width="640" height="150" style="border:0" srcdoc="` + html.EscapeString("<!doctype html><body style='margin:0'>"+c+inside) + `"></iframe>`
			}
			return Page{HTML: document(s, "Northbeck Observatory", "", shown("address-box", box)+shown("code-box", code), "", shown("site-code", s.Fields["site-code"]))}
		}}
}

func addressOnly(field string) func(string, string) error {
	return func(name, text string) error {
		if name != field || text == "" {
			return nil
		}
		if u, err := url.Parse(text); err != nil || u.Scheme != "http" && u.Scheme != "https" || strings.ContainsAny(text, "<> \n") {
			return errors.New("This is not an address. Addresses start with https:// and contain no spaces.")
		}
		return nil
	}
}

var scriptTag = regexp.MustCompile(`(?i)<script\b`)

func scriptsOnHold() *Host {
	hold := func(s *Site, text string) string {
		if s.On["allow"] {
			return text
		}
		return scriptTag.ReplaceAllString(text, `<script type="text/plain" data-held`)
	}
	return &Host{Name: "scripts-on-hold", Title: "Saltmarsh Ferry, with consent",
		Fields:   []Field{{Name: "embed", Label: "Box: code"}, {Name: "footer", Label: "Code for every page"}},
		Switches: []Switch{{"allow", "Allow scripts on this site"}},
		Page: func(s *Site, path string) Page {
			return Page{HTML: document(s, "Saltmarsh Ferry", "", shown("embed", hold(s, s.Fields["embed"])), "", shown("footer", hold(s, s.Fields["footer"])))}
		}}
}

var wholeScript = regexp.MustCompile(`(?is)<script\b[^>]*>.*?</script>`)

// moved removes scripts from markup, to be added at the end of the page, as optimisers do.
func moved(markup string) (rest, scripts string) {
	return wholeScript.ReplaceAllString(markup, ""), strings.Join(wholeScript.FindAllString(markup, -1), "")
}

func rawMarkup() *Host {
	return &Host{Name: "raw-markup", Title: "Teasel Hall, behind a cache", Keeps: 10 * time.Minute,
		Fields: []Field{{Name: "raw", Label: "Section: raw HTML"}, {Name: "column", Label: "Side column: raw HTML"}, {Name: "every-page", Label: "HTML for every page"}},
		Page: func(s *Site, path string) Page {
			raw, end := moved(s.Fields["raw"])
			column, more := moved(s.Fields["column"])
			return Page{HTML: document(s, "Teasel Hall Choir", "", shown("raw", raw), shown("column", column), shown("every-page", s.Fields["every-page"])+end+more)}
		}}
}

func blog() *Host {
	post := framed(written())
	post.AllowDataAttributes()
	post.AllowAttrs("style").Globally()
	post.AllowStyles("min-height", "max-width", "margin", "background", "box-shadow", "border", "display", "padding-top", "padding-bottom").MatchingHandler(func(string) bool { return true }).Globally()
	return &Host{Name: "blog", Title: "Northbeck, the log of nights",
		Fields: []Field{{Name: "post", Label: "Post: source view"}, {Name: "side", Label: "Sidebar box"}, {Name: "template", Label: "Template: end of the page"}},
		Check: func(name, text string) error {
			if name == "side" {
				return most("side", 10000)(name, text)
			}
			if name != "template" {
				return nil
			}
			d := xml.NewDecoder(strings.NewReader("<html>" + text + "</html>"))
			for {
				_, err := d.Token()
				if errors.Is(err, io.EOF) {
					return nil
				}
				if err != nil {
					return errors.New("This template is not well-formed XML: " + err.Error())
				}
			}
		},
		Page: func(s *Site, path string) Page {
			return Page{HTML: document(s, "The log of nights", "", shown("post", post.Sanitize(s.Fields["post"])), shown("side", s.Fields["side"]), shown("template", s.Fields["template"]))}
		}}
}

func course() *Host {
	text := framed(written())
	text.AllowAttrs("style").Globally()
	text.AllowStyles("min-height", "max-width", "margin", "background", "box-shadow", "border", "display").MatchingHandler(func(string) bool { return true }).Globally()
	text.RequireSandboxOnIFrame(bluemonday.SandboxAllowScripts, bluemonday.SandboxAllowPopups)
	return &Host{Name: "course", Title: "Kelp & Kiln, the evening course",
		Fields: []Field{{Name: "text", Label: "Page: text, source"}, {Name: "side", Label: "Box beside the page, source"}},
		Page: func(s *Site, path string) Page {
			return Page{HTML: document(s, "The evening course", "", shown("text", strings.ReplaceAll(text.Sanitize(s.Fields["text"]), `sandbox=""`, `sandbox="allow-scripts"`)), shown("side", s.Fields["side"]), "")}
		}}
}

// alternate finds a page's oEmbed link (oEmbed 1.0, section 4).
var alternate = regexp.MustCompile(`<link rel="alternate" type="application/json\+oembed" href="([^"]+)"`)

var onlyFrames = func() *bluemonday.Policy {
	p := framed(bluemonday.NewPolicy())
	p.AllowStandardURLs()
	return p
}()

// unfold fetches what a link leads to, as such hosts do when a post is published.
func unfold(address string) (string, bool) {
	client := &http.Client{Timeout: 5 * time.Second}
	get := func(address string) []byte {
		res, err := client.Get(address)
		if err != nil {
			return nil
		}
		defer res.Body.Close()
		text, _ := io.ReadAll(io.LimitReader(res.Body, 1<<20))
		return text
	}
	m := alternate.FindSubmatch(get(address))
	if m == nil {
		return "", false
	}
	var about struct{ HTML string }
	if json.Unmarshal(get(html.UnescapeString(string(m[1]))), &about) != nil || about.HTML == "" { // of the type "link"
		return "", false
	}
	return onlyFrames.Sanitize(about.HTML), true
}

func discussion() *Host {
	return &Host{Name: "discussion", Title: "The isles talk", Fields: []Field{{Name: "post", Label: "Your post"}},
		Page: func(s *Site, path string) Page {
			var b strings.Builder
			for line := range strings.SplitSeq(s.Fields["post"], "\n") {
				if addressOnly("post")("post", line) == nil && line != "" {
					if s.unfolded[line] == "" {
						if markup, ok := unfold(line); ok {
							s.unfolded[line] = markup
						} else {
							s.unfolded[line] = `<a href="` + html.EscapeString(line) + `">` + html.EscapeString(line) + `</a>`
						}
					}
					b.WriteString("<p>" + s.unfolded[line] + "</p>")
					continue
				}
				b.WriteString("<p>" + html.EscapeString(line) + "</p>")
			}
			return Page{HTML: document(s, "The isles talk", "", shown("post", b.String()), "", "")}
		}}
}

func linksPage() *Host {
	return &Host{Name: "links-page", Title: "Hask Orchard, all links",
		Fields: []Field{{Name: "entry", Label: "Entry: its address", Line: true}}, Check: addressOnly("entry"),
		Page: func(s *Site, path string) Page {
			entry := ""
			if a := s.Fields["entry"]; a != "" {
				entry = `<ul><li><a href="` + html.EscapeString(a) + `">What is new</a></li></ul>`
			}
			return Page{HTML: document(s, "Hask Orchard", "", shown("entry", entry), "", "")}
		}}
}

func mail() *Host {
	body := bluemonday.NewPolicy()
	body.AllowElements("table", "tbody", "tr", "td", "p", "b", "br", "div", "span")
	body.AllowAttrs("href").OnElements("a")
	body.AllowAttrs("src", "alt", "width", "height").OnElements("img")
	body.AllowAttrs("role", "width", "align", "cellpadding", "cellspacing", "border", "bgcolor").OnElements("table", "td")
	body.AllowAttrs("style").Globally()
	body.AllowStyles("padding", "font", "color", "display", "border", "width", "max-width", "height", "min-height", "margin", "background").MatchingHandler(func(string) bool { return true }).Globally()
	body.AllowStandardURLs()
	return &Host{Name: "mail", Title: "An email to friends of the choir",
		Fields: []Field{{Name: "body", Label: "The email’s source"}},
		Page: func(s *Site, path string) Page {
			return Page{HTML: document(s, "An email to friends", "", shown("body", body.Sanitize(s.Fields["body"])), "", ""), Policy: "default-src 'none'; img-src http: https:; style-src 'unsafe-inline'"}
		}}
}

func screenSource() *Host {
	return &Host{Name: "screen-source", Title: "Northbeck, the night’s stream",
		Fields: []Field{{Name: "source", Label: "Source: address of the page", Line: true}}, Check: addressOnly("source"),
		Page: func(s *Site, path string) Page {
			source := ""
			if a := s.Fields["source"]; a != "" {
				source = `<iframe width="640" height="360" style="position:absolute;inset:0;border:0" src="` + html.EscapeString(a) + `"></iframe>`
			}
			return Page{HTML: `<!doctype html><meta charset="utf-8"><title>The night’s stream</title><body style="margin:0"><div style="position:relative;width:640px;height:360px;background:linear-gradient(#0b1030,#1c3a4a)">` + shown("source", source) + `</div>`}
		}}
}

// program is a single-page application that inserts and replaces content.
func program() *Host {
	return &Host{Name: "program", Title: "The isles, a single-page application",
		Fields: []Field{{Name: "content", Label: "An entry’s HTML"}, {Name: "start", Label: "index.html, before </body>"}},
		Page: func(s *Site, path string) Page {
			content, _ := json.Marshal(s.Fields["content"])
			return Page{HTML: document(s, "The isles", "", `<div id="app"></div><script>const entry=`+strings.ReplaceAll(string(content), "</", `<\/`)+`;const pages={entry:'<div data-lab-place="content">'+entry+"</div>",other:"<p>Another page of the isles.</p>"};function show(page){document.getElementById("app").innerHTML=pages[page];history.pushState(null,"",location.pathname+(page=="other"?"?other":""))}document.getElementById("app").innerHTML=pages.entry</script><p><button id="other" onclick="show('other')">Another page</button> <button id="entry" onclick="show('entry')">The entry</button></p>`, "", shown("start", s.Fields["start"]))}
		}}
}

func strictPolicy() *Host {
	return &Host{Name: "strict-policy", Title: "Saltmarsh Ferry, behind a policy",
		Fields: []Field{{Name: "page", Label: "The page’s markup"}, {Name: "policy", Label: "Sources that the webmaster adds to the policy"}},
		Page: func(s *Site, path string) Page {
			// A webmaster's own policy: a missing directive starts with the sources of default-src.
			base := map[string]string{"default-src": "'self'", "object-src": "'none'", "base-uri": "'none'", "frame-ancestors": "'self'"}
			order := []string{"default-src", "object-src", "base-uri", "frame-ancestors"}
			for d := range strings.SplitSeq(s.Fields["policy"], ";") {
				name, sources, ok := strings.Cut(strings.TrimSpace(d), " ")
				if !ok {
					continue
				}
				if base[name] == "" {
					base[name], order = base["default-src"], append(order, name)
				}
				base[name] += " " + sources
			}
			var policy []string
			for _, name := range order {
				policy = append(policy, name+" "+base[name])
			}
			return Page{HTML: document(s, "Saltmarsh Ferry", "", shown("page", s.Fields["page"]), "", ""), Policy: strings.Join(policy, "; ")}
		}}
}

func tagManager() *Host {
	return &Host{Name: "tag-manager", Title: "Teasel Hall, by a tag manager",
		Fields: []Field{{Name: "tag", Label: "Tag: custom HTML"}},
		Page: func(s *Site, path string) Page {
			tag, _ := json.Marshal(s.Fields["tag"])
			container := `<script>addEventListener("DOMContentLoaded",()=>{const at=document.createElement("div");at.dataset.labPlace="tag";document.body.append(at);at.append(document.createRange().createContextualFragment(` + strings.ReplaceAll(string(tag), "</", `<\/`) + `))})</script>`
			return Page{HTML: document(s, "Teasel Hall", container, "", "", "")}
		}}
}
