package view

import (
	"fmt"
	"html/template"
	"strings"
	"text/template/parse"

	"glasspocket/internal/fault"
	"glasspocket/internal/shape"
)

// escapers are the functions that html/template appends to an action in contexts where it replaces
// values that it does not trust (html/template, escape.go: funcMap). At the start of an address, it
// trusts the value of a link setting and nothing else.
var escapers = map[string]string{
	"_html_template_urlfilter":       "at the start of an address",
	"_html_template_srcsetescaper":   "in a list of addresses",
	"_html_template_cssescaper":      "inside style",
	"_html_template_cssvaluefilter":  "inside style",
	"_html_template_jsvalescaper":    "inside script",
	"_html_template_jsstrescaper":    "inside script",
	"_html_template_jsregexpescaper": "inside script",
	"_html_template_htmlnamefilter":  "as the name of an element or attribute",
}

// replaced finds the actions of an escaped view whose values could be replaced for safety.
func (i *inference) replaced(escaped *template.Template) (faults fault.List) {
	found := map[parse.Pos]bool{}
	eachAction(escaped, func(n *parse.ActionNode) {
		if found[n.Pos] {
			return // already reported: escaping copies templates for other contexts
		}
		is := i.actions[n.Pos]
		line, column := place(i.w.text, n.Pos)
		if is != nil && is.Kind == shape.AttributesKind {
			if !inTag(n) {
				found[n.Pos] = true
				faults = append(faults, fault.Fault{Line: line, Column: column, Code: fault.ViewType, What: "This returns attributes, which belong inside a tag.", Fix: "Write it after an element's name, as in <a {{linkTo .settings.more}}>."})
			}
			return
		}
		for _, c := range n.Pipe.Cmds {
			id, ok := c.Args[0].(*parse.IdentifierNode)
			if !ok {
				continue
			}
			where, filtered := escapers[id.Ident]
			if !filtered || is == nil || where == "at the start of an address" && is.Kind == shape.LinkKind {
				continue
			}
			found[n.Pos] = true
			fix := "Only link settings (\"format\": \"uri\") can start an address. Put other texts between tags or into quoted attributes."
			if !strings.Contains(where, "address") {
				fix = "Put texts between tags or into quoted attributes, and choose classes with {{if}}."
			}
			faults = append(faults, fault.Fault{Line: line, Column: column, Code: fault.ViewReplaced,
				What: fmt.Sprintf("%s is %s, where html/template replaces values that it does not trust.", strings.ToUpper(is.Kind.String()[:1])+is.Kind.String()[1:], where), Fix: fix})
			return
		}
	})
	faults.Sort()
	return faults
}

// inTag reports whether an action of an escaped view is in a place for attributes.
func inTag(n *parse.ActionNode) bool {
	for _, c := range n.Pipe.Cmds {
		if id, ok := c.Args[0].(*parse.IdentifierNode); ok && id.Ident == "_html_template_htmlnamefilter" {
			return true
		}
	}
	return false
}
