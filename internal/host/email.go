package host

import "strings"

// Row is a row of a pocket in an email: words, an image, or a link.
type Row struct {
	Kind    string // one of RowKinds
	Words   string // the text; of an image, its text alternative
	Address string // of an image or a link
	Width   int    // of an image, in CSS pixels
	Height  int
}

// RowKinds are the kinds of rows of an email.
var RowKinds = []string{"heading", "words", "image", "link"}

// mailWidth is the width that fits in every mail program, in CSS pixels.
const mailWidth = 600

var rowStyle = map[string]string{
	"heading": "padding:16px 16px 4px;font:bold 22px/1.3 Arial,Helvetica,sans-serif;color:#17233a",
	"words":   "padding:4px 16px;font:16px/1.5 Arial,Helvetica,sans-serif;color:#17233a",
	"image":   "padding:0",
	"link":    "padding:12px 16px 16px;font:16px/1.5 Arial,Helvetica,sans-serif",
}

// email writes a table, which mail programs lay out consistently, with styles on each cell.
func email(s Subject, a Ask) []Part {
	p := a.Placing
	rows := s.Mail
	if len(rows) == 0 {
		rows = []Row{{Kind: "image", Words: s.Title, Address: s.Base + "/p/" + s.Key + ".png", Width: mailWidth}}
	}
	linked := false
	var cells []element
	for _, row := range rows {
		cell := text(row.Words)
		switch row.Kind {
		case "image":
			width := min(max(row.Width, 1), mailWidth)
			cell = el("img", attributes("src", row.Address, "alt", row.Words, "width", itoa(width), "style", "display:block;border:0;width:100%;max-width:"+itoa(width)+"px;height:auto"))
			cell = el("a", attributes("href", s.page()), cell)
		case "link":
			linked = true
			cell = el("a", attributes("href", row.Address, "style", "color:#0b6b63"), cell)
		}
		cells = append(cells, el("tr", nil, el("td", attributes("style", rowStyle[row.Kind]), cell)))
	}
	if !linked {
		words := s.words(p)
		cells = append(cells, el("tr", nil, el("td", attributes("style", rowStyle["link"]), el("a", attributes("href", s.page(), "style", "color:#0b6b63"), text(words)))))
	}
	width := mailWidth
	if px, ok := strings.CutSuffix(p.Width, "px"); ok {
		width = min(atoi(px), mailWidth)
	}
	align := map[string]string{"start": "left", "center": "center", "end": "right"}[p.Align]
	table := el("table", attributes("role", "presentation", "width", itoa(width), "align", align, "cellpadding", "0", "cellspacing", "0", "border", "0",
		"bgcolor", p.Background, "style", "width:100%;max-width:"+itoa(width)+"px"), cells...)
	table.lines = true
	return []Part{part("content", "in the email", a.Content, true, table)}
}
