package asset

import (
	"bytes"
	"encoding/xml"
	"errors"
	"fmt"
	"io"
	"regexp"
	"slices"
	"strconv"
	"strings"
)

// isSVG recognises an SVG by its first element.
func isSVG(src []byte) bool {
	if len(src) > Limits[Image] || !bytes.Contains(src[:min(len(src), 4096)], []byte("<svg")) {
		return false
	}
	d := xml.NewDecoder(bytes.NewReader(src))
	d.Strict = false
	for {
		t, err := d.Token()
		if err != nil {
			return false
		}
		if e, ok := t.(xml.StartElement); ok {
			return e.Name.Local == "svg"
		}
	}
}

// DrawingMost is the largest size of an SVG, in bytes. It is not re-encoded.
const DrawingMost = 512 << 10

var (
	activeElements = []string{"script", "foreignobject", "iframe", "object", "embed", "handler", "set", "animate"}
	remote         = regexp.MustCompile(`(?i)(?:url\(\s*["']?|@import\s+["']?)\s*(?:https?:|//)`)
)

// drawing accepts an SVG unchanged. Pages show it as an image, and it is served with a restrictive
// policy, so nothing in it could run. Scripts in it are refused anyway, because people copy files
// to other places.
func drawing(base string, src []byte) ([]Form, [][]byte, *trouble) {
	if len(src) > DrawingMost {
		return nil, nil, &trouble{fmt.Sprintf("is a drawing of %s; the limit is %s.", size(len(src)), size(DrawingMost)), "Simplify its paths, or save it as PNG."}
	}
	form := Form{Name: base + ".svg"}
	d := xml.NewDecoder(bytes.NewReader(src))
	first := true
	for {
		t, err := d.Token()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			return nil, nil, &trouble{"is not well-formed SVG: " + err.Error() + ".", "Save it again from the drawing program."}
		}
		switch t := t.(type) {
		case xml.Directive:
			if bytes.Contains(bytes.ToUpper(t), []byte("ENTITY")) {
				return nil, nil, &trouble{"declares entities, which are not allowed.", "Delete its DOCTYPE."}
			}
		case xml.StartElement:
			if bad := acts(t); bad != "" {
				line, _ := d.InputPos()
				return nil, nil, &trouble{fmt.Sprintf("contains %s in line %d, which is not allowed in an image.", bad, line), "Delete it, or save the drawing as plain SVG."}
			}
			if first {
				first = false
				form.Width, form.Height = dimensions(t)
			}
		case xml.CharData:
			if remote.Match(t) {
				return nil, nil, &trouble{"loads something from another server.", "Embed it in the drawing."}
			}
		}
	}
	if form.Width == 0 {
		return nil, nil, &trouble{"has neither width and height nor a viewBox.", "Add a viewBox to the <svg> element, so that its space can be reserved."}
	}
	return []Form{form}, [][]byte{src}, nil
}

// acts names the part of an element that could run or load something, or "".
func acts(e xml.StartElement) string {
	if slices.Contains(activeElements, strings.ToLower(e.Name.Local)) {
		return "<" + e.Name.Local + ">"
	}
	for _, a := range e.Attr {
		name, value := strings.ToLower(a.Name.Local), strings.ToLower(strings.TrimSpace(a.Value))
		switch {
		case strings.HasPrefix(name, "on"):
			return "the attribute " + a.Name.Local
		case name == "href" && !strings.HasPrefix(value, "#") && !strings.HasPrefix(value, "data:image/"):
			return "a link to " + strconv.Quote(a.Value[:min(len(a.Value), 40)])
		case remote.MatchString(a.Value):
			return "an address of another server"
		}
	}
	return ""
}

var leading = regexp.MustCompile(`^\d+(?:\.\d+)?`)

// dimensions reads the size of an SVG in pixels (SVG 2, section 8.2), or 0 if unknown.
func dimensions(svg xml.StartElement) (int, int) {
	var w, h float64
	var box []string
	for _, a := range svg.Attr {
		n, _ := strconv.ParseFloat(leading.FindString(a.Value), 64)
		switch a.Name.Local {
		case "width":
			if !strings.HasSuffix(a.Value, "%") {
				w = n
			}
		case "height":
			if !strings.HasSuffix(a.Value, "%") {
				h = n
			}
		case "viewBox":
			box = strings.FieldsFunc(a.Value, func(r rune) bool { return r == ' ' || r == ',' || r == '\n' || r == '\t' })
		}
	}
	if (w == 0 || h == 0) && len(box) == 4 {
		w, _ = strconv.ParseFloat(box[2], 64)
		h, _ = strconv.ParseFloat(box[3], 64)
	}
	if w < 1 || h < 1 || w > 1e5 || h > 1e5 {
		return 0, 0
	}
	return int(w + 0.5), int(h + 0.5)
}
