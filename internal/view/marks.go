package view

import (
	"regexp"
	"slices"
	"strconv"
	"strings"

	"golang.org/x/net/html"

	"glasspocket/internal/fault"
	"glasspocket/internal/shape"
)

// MarkAttribute identifies the Element that an element of a marked rendering comes from. Only
// previews have it.
const MarkAttribute = "data-glass-part"

// Element is an element of a view's source. A rendering can show it any number of times.
type Element struct {
	Name     string   `json:"name"`
	Start    int      `json:"start"` // byte offset of its "<"
	Open     int      `json:"open"`  // after its start tag
	End      int      `json:"end"`   // after its end tag; the same as Open if there is none
	Parent   int      `json:"parent"`
	Settings []string `json:"settings,omitempty"` // sources of its attributes, its own text, and the conditions around it, in this order
	Messages []string `json:"messages,omitempty"` // in the same order
}

// Marked is a view whose rendering identifies the source of each element.
type Marked struct {
	*View              // as written; its faults have the right places
	marked   *View     // with the marks
	Elements []Element // by mark
}

// Mark parses a view as Parse does, and a second time with marks.
func Mark(src []byte, settings map[string]*shape.Type) (*Marked, fault.List) {
	// Both run at the same time, because somebody is typing and waits for the result. If the view
	// has faults, the marks are useless.
	m := &Marked{}
	done := make(chan struct{})
	go func() {
		defer close(done)
		// Marks only help the author, so a panic here must not stop the service.
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

// RenderMarked runs the view. Each element from the source has its mark. Faults are placed as in
// Render.
func (m *Marked) RenderMarked(d Data) (Rendered, fault.List) {
	if m.marked != nil {
		if r, faults := m.marked.Render(d); len(faults) == 0 {
			return r, nil
		}
	}
	return m.View.Render(d)
}

// elements reads the elements of a valid view, in the order of their start tags.
func elements(text string) (list []Element) {
	from, err := follow(text)
	if err != nil {
		return nil
	}
	masked := mask(text)
	type block struct{ settings, messages []string }
	var blocks []block  // the open ones: {{if}}, {{range}}, {{with}}, {{define}}
	var shown [][]block // by element: the blocks around it, whose conditions are listed after its own content
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
	// actions visits the actions that start within a part of the text.
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
		// An element that shows a text setting is that setting's, whatever else its tag depends on.
		if m := textMark.FindStringSubmatch(text[start:offset]); m != nil {
			own(mine, []string{m[1]}, nil)
		}
		actions(start, offset)
		if selfClosing || slices.Contains(voidTags, name) {
			stack = stack[:len(stack)-1]
		}
	}
}

var textMark = regexp.MustCompile(`\bdata-text="(\w+)"`)

func union(a, b []string) []string {
	for _, s := range b {
		if !slices.Contains(a, s) {
			a = append(a, s)
		}
	}
	return a
}

// withMarks adds a mark to each start tag with a fixed name.
func withMarks(text string, elements []Element) string {
	var b strings.Builder
	last := 0
	for i, e := range elements {
		at := e.Start + 1 + len(e.Name)
		// The HTML tokenizer changes names: it lowers their case, and drops what is not part of a
		// name.
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
