package view

import (
	"cmp"
	"fmt"
	"strings"

	"golang.org/x/net/html"

	"glasspocket/internal/clip"
	"glasspocket/internal/shape"
)

// Page is the part of a list that a rendering shows.
type Page struct {
	From, To, Total int
	Size            int    // items of a page
	Next, Previous  string // addresses; "" if there is none
	Whole           []any  // all items, if they are in the settings
}

// page is what pageOf returns.
var page = shape.Object("page", map[string]*shape.Type{
	"from": shape.Whole, "to": shape.Whole, "total": shape.Whole, "left": shape.Whole, "more": shape.Whole, "next": shape.Address, "previous": shape.Address,
})

func (d *Data) pageOf(key string) (map[string]any, error) {
	p, ok := d.Pages[key]
	if !ok {
		list, is := d.Settings[key].([]any)
		if !is {
			return nil, fmt.Errorf("pageOf needs the key of a list, and %q is not one", clip.Input(key))
		}
		p = Page{To: len(list), Total: len(list)}
	}
	return map[string]any{"from": p.From, "to": p.To, "total": p.Total, "left": p.Total - p.To, "more": min(p.Total-p.To, cmp.Or(p.Size, p.Total)), "next": shape.Link(p.Next), "previous": shape.Link(p.Previous)}, nil
}

// ItemsMark is the attribute of the element that contains a list with pages.
const ItemsMark = "data-items"

// Within returns the content of the element of a rendering with data-items="KEY", and whether there
// is one.
func Within(markup, key string) (inner string, ok bool) {
	z := html.NewTokenizer(strings.NewReader(markup))
	at, depth, start := 0, 0, 0
	var tag string
	for {
		kind := z.Next()
		if kind == html.ErrorToken {
			return "", false
		}
		before := at
		at += len(z.Raw())
		if kind != html.StartTagToken && kind != html.EndTagToken {
			continue
		}
		name, more := z.TagName()
		switch {
		case kind == html.StartTagToken && depth == 0:
			for more {
				var k, v []byte
				if k, v, more = z.TagAttr(); string(k) == ItemsMark && string(v) == key {
					tag, depth, start = string(name), 1, at
				}
			}
		case depth > 0 && string(name) == tag && kind == html.StartTagToken:
			depth++
		case depth > 0 && string(name) == tag:
			if depth--; depth == 0 {
				return markup[start:before], true
			}
		}
	}
}
