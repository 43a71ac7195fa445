package view

import (
	"slices"
	"strconv"
	"strings"

	"golang.org/x/net/html"

	"glasspocket/internal/fault"
	"glasspocket/internal/shape"
)

// MarkAttribute is the attribute by which an element of a marked rendering tells which
// Element it is. Only previews are marked.
const MarkAttribute = "data-glass-part"

// Element is an element of a view's source, however often it is shown.
type Element struct {
	Name     string   `json:"name"`
	Start    int      `json:"start"` // byte offset of its "<"
	Open     int      `json:"open"`  // behind its start tag
	End      int      `json:"end"`   // behind its end tag; Open where there is none
	Parent   int      `json:"parent"`
	Settings []string `json:"settings,omitempty"` // that its attributes, its own text and whether it shows come from, in this order
	Messages []string `json:"messages,omitempty"` // likewise
}

// Marked is a view whose rendering tells which element of the source each element is.
type Marked struct {
	*View              // as it is written; its faults have their places
	marked   *View     // with the marks
	Elements []Element // by mark
}

// Mark parses a view as Parse does, and once more with marks.
func Mark(src []byte, settings map[string]*shape.Type) (*Marked, fault.List) {
	// Both at once: whoever types waits for it. Of a view with faults the marks are no use.
	m := &Marked{}
	done := make(chan struct{})
	go func() {
		defer close(done)
		// Marks are for looking; what they stumble over must not end the service.
		defer func() {
			if recover() != nil {
				m.Elements, m.marked = nil, nil
			}
		}()
		text := string(src)
		if len(src) > SourceMost {
			return
		}
		m.Elements = elements(text)
		m.marked, _ = Open([]byte(withMarks(text, m.Elements)), settings)
	}()
	v, faults := Parse(src, settings)
	<-done
	if v == nil {
		return nil, faults
	}
	m.View = v
	return m, nil
}

// RenderMarked runs the view; each element that the source writes has its mark. Faults are
// placed as Render places them.
func (m *Marked) RenderMarked(d Data) (Rendered, fault.List) {
	if m.marked != nil {
		if r, faults := m.marked.Render(d); len(faults) == 0 {
			return r, nil
		}
	}
	return m.View.Render(d)
}

// elements reads a sound view's elements, in the order of their start tags.
func elements(text string) (list []Element) {
	from, err := follow(text)
	if err != nil {
		return nil
	}
	masked := mask(text)
	type block struct{ settings, messages []string }
	var blocks []block  // that are open: {{if}}, {{range}}, {{with}}, {{define}}
	var shown [][]block // by element: what decides whether it shows, told after what stands in it
	finish := func() []Element {
		for i, around := range shown {
			for _, b := range around {
				list[i].Settings = union(list[i].Settings, b.settings)
				list[i].Messages = union(list[i].Messages, b.messages)
			}
		}
		return list
	}
	type open struct{ element, blocks int }
	stack := []open{{-1, 0}}
	own := func(i int, settings, messages []string) {
		if i >= 0 {
			list[i].Settings = union(list[i].Settings, settings)
			list[i].Messages = union(list[i].Messages, messages)
		}
	}
	action := func(start, end int) {
		settings, messages := from.within(start, end)
		top := stack[len(stack)-1].element
		switch m := word.FindStringSubmatch(text[start:end]); {
		case m == nil || !slices.Contains([]string{"if", "range", "with", "define", "block", "end", "else"}, m[1]):
			own(top, settings, messages)
		case m[1] == "end":
			if n := len(blocks); n > 0 {
				blocks = blocks[:n-1]
			}
		case m[1] == "else":
			if n := len(blocks); n > 0 {
				blocks[n-1].settings = union(blocks[n-1].settings, settings)
			}
		default:
			blocks = append(blocks, block{settings, messages})
			own(top, settings, messages)
		}
	}
	// actions goes through the actions that begin within a piece of the text.
	actions := func(start, end int) {
		for i := start; i+1 < end; i++ {
			if text[i] == '{' && text[i+1] == '{' {
				stop := actionEnd(text, i+2)
				action(i, stop)
				i = stop - 1
			}
		}
	}
	z := html.NewTokenizer(strings.NewReader(masked))
	for offset := 0; ; {
		kind := z.Next()
		start := offset
		offset += len(z.Raw())
		if kind == html.ErrorToken {
			actions(start, len(text))
			return finish()
		}
		selfClosing := kind == html.SelfClosingTagToken
		if kind != html.StartTagToken && !selfClosing && kind != html.EndTagToken {
			if kind == html.TextToken {
				actions(start, offset)
			}
			continue
		}
		nameBytes, _ := z.TagName()
		name := string(nameBytes)
		if kind == html.EndTagToken {
			for len(stack) > 1 {
				top := stack[len(stack)-1].element
				stack = stack[:len(stack)-1]
				list[top].End = offset
				if list[top].Name == name {
					break
				}
			}
			continue
		}
		parent := stack[len(stack)-1]
		list = append(list, Element{Name: name, Start: start, Open: offset, End: offset, Parent: parent.element})
		mine := len(list) - 1
		shown = append(shown, slices.Clone(blocks[min(parent.blocks, len(blocks)):]))
		stack = append(stack, open{mine, len(blocks)})
		actions(start, offset)
		if selfClosing || slices.Contains(voidTags, name) {
			stack = stack[:len(stack)-1]
		}
	}
}

func union(a, b []string) []string {
	for _, s := range b {
		if !slices.Contains(a, s) {
			a = append(a, s)
		}
	}
	return a
}

// withMarks puts its mark into each start tag whose name is fixed.
func withMarks(text string, elements []Element) string {
	var b strings.Builder
	last := 0
	for i, e := range elements {
		at := e.Start + 1 + len(e.Name)
		// The reader of HTML writes names in its own way: small, and without what is no letter.
		if at > len(text) || !strings.EqualFold(text[e.Start+1:at], e.Name) || strings.Contains(e.Name, maskChar) {
			continue
		}
		b.WriteString(text[last:at])
		b.WriteString(" " + MarkAttribute + `="` + strconv.Itoa(i) + `"`)
		last = at
	}
	b.WriteString(text[last:])
	return b.String()
}
