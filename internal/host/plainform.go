package host

// Field is a field of a plain form.
type Field struct {
	Name     string
	Label    string
	Type     string // of an input element (HTML, section 4.10.5.1)
	Required bool
}

// plainForm writes a form that a browser submits without a script.
func plainForm(s Subject, a Ask) []Part {
	var fields []element
	for _, f := range s.Fields {
		required := ""
		if f.Required {
			required = on
		}
		fields = append(fields, el("p", nil, el("label", nil, text(f.Label), el("br", nil), el("input", attributes("type", f.Type, "name", f.Name, "required", required)))))
	}
	fields = append(fields, el("p", nil, el("button", attributes("type", "submit"), text("Send"))))
	form := el("form", attributes("method", "post", "action", s.Base+"/f/"+s.Key), fields...)
	form.lines = true
	if box := a.Placing.box(); box != "" && a.Content.Styles != "drop" {
		form.with = append(form.with, attributes("style", box)...)
	}
	return []Part{part("content", "in the content", a.Content, true, form)}
}
