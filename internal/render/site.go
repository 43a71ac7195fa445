package render

import (
	"bytes"
	"encoding/json"
	"fmt"
	"html"
	"maps"
	"regexp"
	"slices"
	"strings"
	"sync"

	"glasspocket/internal/digest"
	"glasspocket/internal/fault"
	"glasspocket/internal/widget"
)

// Version changes whenever the rendering of a publication would change. Stored renderings of
// another version are made again on the next request.
const Version = "6"

// Site renders for one public address.
type Site struct {
	Base   string // public address without a slash at its end, "https://pockets.example"
	loader string
	sealed string // the loader that loads no other script
	kit    func(parts []string) (string, error)
	kits   sync.Map // code by joined parts
	kitSum string   // digest of the whole kit
	// Identity identifies everything that a rendering depends on, except publication and release.
	Identity string
}

// NewSite returns a Site. It needs the public address, the loader built for it, the loader of
// sealed scripts, and a function that bundles parts of the kit.
func NewSite(base, loader, sealed string, kit func(parts []string) (string, error)) (*Site, error) {
	whole, err := kit(allParts())
	if err != nil {
		return nil, err
	}
	return &Site{Base: base, loader: loader, sealed: sealed, kit: kit, kitSum: digest.Of([]byte(whole))[:12], Identity: Version + "-" + digest.Of([]byte(loader + whole))[:16]}, nil
}

// Loader returns /loader.js: the loader alone, which loads the pockets that mount points name.
func (s *Site) Loader() []byte { return []byte(s.loader + "\nglassPocket.auto();\n") }

// Delivery has everything that visitors can load for one key.
type Delivery struct {
	Script Encoded // /s/KEY.js
	JSON   Encoded // /s/KEY.json
	Page   Encoded // /p/KEY
}

// Part identifies a document of a delivery.
type Part int

// The parts.
const (
	Script Part = iota // /s/KEY.js
	JSON               // /s/KEY.json
	Page               // /p/KEY
)

// Parts lists them.
var Parts = []Part{Script, JSON, Page}

// Part returns one document.
func (d *Delivery) Part(p Part) *Encoded {
	return [...]*Encoded{&d.Script, &d.JSON, &d.Page}[p]
}

// Sums returns the entity tags of the parts, which verify stored documents.
func (d *Delivery) Sums() string { return d.Script.ETag + " " + d.JSON.ETag + " " + d.Page.ETag }

// Deliver renders a publication and compresses it.
func (s *Site) Deliver(subject Subject) (*Delivery, fault.List) {
	p, faults := s.show(subject)
	if len(faults) > 0 {
		return nil, faults
	}
	p = s.whole(p, subject.Release)
	return &Delivery{
		Script: Encode(s.script(s.loader, p, subject)),
		JSON:   Encode(encode(p)),
		Page:   Encode(s.page(p, subject.Title, true)),
	}, nil
}

// Answer renders a publication with a page's overrides, for that page's request for /s/KEY.json.
// The result is not stored.
func (s *Site) Answer(subject Subject) (Encoded, fault.List) {
	p, faults := s.show(subject)
	if len(faults) > 0 {
		return Encoded{}, faults
	}
	return Encode(encode(s.whole(p, subject.Release))), nil
}

// whole returns the payload with the release's style and the address of its script.
func (s *Site) whole(p Payload, r *widget.Release) Payload {
	p.Style = onlyWhatApplies(r, p) + p.Style
	if m := s.ModuleName(r); m != "" {
		p.Module = s.Base + "/a/" + m
	}
	return p
}

// script returns the one-request script: loader, payload and mount module.
func (s *Site) script(loader string, p Payload, subject Subject) []byte {
	p.Module = ""
	r := subject.Release
	module := s.mount(r, s.table(r, &p).bound(s.Base, subject))
	p.Look.Small, p.Look.Fonts = nil, nil // they are in the style, and in the script
	var b strings.Builder
	b.WriteString(loader)
	b.WriteString("\nglassPocket.take(")
	b.Write(encode(p))
	if module != "" {
		b.WriteString(",function($mount){" + module + "}")
	}
	b.WriteString(");\n")
	return []byte(b.String())
}

// Gone returns /s/KEY.js for a key that has no publication, or whose pocket is withheld: a script
// that shows nothing and logs why, once.
func (s *Site) Gone(key string, withheld bool) []byte {
	why := "is not published. Check the key in the snippet, or publish the pocket."
	if withheld {
		why = "is withheld by its operator and shows nothing for now."
	}
	text, _ := json.Marshal(fmt.Sprintf("Glass Pocket: “%s” %s", key, why))
	base, _ := json.Marshal(s.Base + "/why.js")
	return fmt.Appendf(nil, `(g=>{g.said[%[1]s]||(g.said[%[1]s]=1,console.error(%[1]s));if(!g.n&&location.hash.endsWith("#glass-pocket-why"))import(%[2]s)})(globalThis.glassPocket??={n:0,said:{}});
`, text, base)
}

// pageStyle is the page's own rule, after which Stand inserts more.
const pageStyle = "<style>html,body{margin:0;background:transparent}</style>\n"

// reportLink lets a visitor of the separate page report it, since the page is the customer's, but
// at the operator's address. /tell.js shows it there; in a frame it stays hidden.
const reportLink = `<p id="glass-pocket-report" hidden style="margin:24px 8px 8px;font:13px/1.5 system-ui,sans-serif"><a href="%s/report?key=%s" style="color:#4d5d74">Report this page</a></p>`

var reportLinks = regexp.MustCompile(`<p id="glass-pocket-report".*?</p>\n`)

// Standing describes how to lay out a pocket's page: for a screen of fixed size, with a background.
type Standing struct {
	Width, Height int    // CSS pixels; 0 for the natural size
	Background    string // "rrggbb"; "" for transparent
}

// Stand returns a pocket's plain page in that layout.
func Stand(page []byte, at Standing) []byte {
	css := ""
	if at.Background != "" {
		css += "html{background:#" + at.Background + "}"
	}
	if at.Width > 0 {
		css += fmt.Sprintf("body{width:%dpx}", at.Width)
	}
	if at.Height > 0 {
		css += fmt.Sprintf("body{height:%dpx;overflow:hidden}", at.Height)
	}
	page = reportLinks.ReplaceAll(page, nil) // viewers of a fixed screen cannot follow links
	return bytes.Replace(page, []byte(pageStyle), []byte(pageStyle+"<style>"+css+"</style>\n"), 1)
}

// Declared returns a rendering as markup that shows without any script: a shadow root for the
// element that contains it (HTML, section 4.12.3, shadowrootmode).
func (p Payload) Declared() string {
	var attributes, properties strings.Builder
	for _, name := range slices.Sorted(maps.Keys(p.Look.Attributes)) {
		fmt.Fprintf(&attributes, ` %s="%s"`, name, html.EscapeString(p.Look.Attributes[name]))
	}
	for _, name := range slices.Sorted(maps.Keys(p.Look.Properties)) {
		fmt.Fprintf(&properties, "%s:%s;", name, p.Look.Properties[name])
	}
	return fmt.Sprintf(`<template shadowrootmode="open"><style>:host{display:block}.pocket{all:initial;display:block;%s}%s</style><div class="pocket" lang="%s" dir="%s"%s>%s</div></template>`,
		properties.String(), p.Style, p.Language, p.Direction, attributes.String(), p.Markup)
}

// page returns the pocket as a document. Without scripts it shows the published rendering; with
// scripts the loader draws it, so that the first paint is right; unless live is false, for a page
// that only those without scripts reach.
func (s *Site) page(p Payload, title string, live bool) []byte {
	scripts, inside, without := "", p.Declared(), ""
	if live {
		inside, without = "", "<noscript><div>"+inside+"</div></noscript>\n"
		scripts = fmt.Sprintf(`<script src="%s/s/%s.js"></script>
`, s.Base, p.Key)
	}
	return fmt.Appendf(nil, `<!doctype html>
<html lang="%[1]s" dir="%[2]s">
<meta charset="utf-8">
<meta name="viewport" content="width=device-width">
<meta name="robots" content="noindex">
<title>%[3]s</title>
<link rel="alternate" type="application/json+oembed" href="%[6]s/oembed?url=%[6]s/p/%[5]s" title="%[3]s">
<meta property="og:type" content="website">
<meta property="og:title" content="%[3]s">
<meta property="og:url" content="%[6]s/p/%[5]s">
<meta property="og:image" content="%[6]s/p/%[5]s.png">
<meta property="og:image:alt" content="%[3]s">
<base target="_top">
%[4]s<body>
<div data-glass-pocket="%[5]s">%[10]s</div>
%[8]s
%[9]s<script async src="%[6]s/tell.js"></script>
%[7]s</body>
</html>
`, p.Language, p.Direction, html.EscapeString(title), pageStyle, p.Key, s.Base, without, fmt.Sprintf(reportLink, s.Base, p.Key), scripts, inside)
}
