// Package host knows the kinds of places that pages are built in: what each lets through,
// what is to be pasted there for one pocket, how it will stand, and the steps to it.
package host

import "slices"

// Delivery is a delivery form: a way in which a pocket reaches a page.
type Delivery string

// The delivery forms.
const (
	Script    Delivery = "script"     // one paste: mount point and script together
	Split     Delivery = "split"      // mount point in the content, script once for the site
	Component Delivery = "component"  // source of a component for a page that is a program
	Sealed    Delivery = "sealed"     // one publication for ever, pinned by its digest
	Frame     Delivery = "frame"      // the pocket's page in an iframe
	Screen    Delivery = "screen"     // the address of a page of fixed size
	PlainForm Delivery = "plain-form" // an HTML form that works without script
	Email     Delivery = "email"      // tables and inline styles
	Link      Delivery = "link"       // a link to the pocket's page
)

// About tells what a form is.
type About struct {
	Delivery Delivery `json:"delivery"`
	Title    string   `json:"title"`
	What     string   `json:"what"`  // a sentence
	Loses    string   `json:"loses"` // what it loses against a script, a sentence; "" nothing
}

// Abouts lists the forms from the one that shows most to the one that shows least. A new
// form is one row here and one row in writers.
var Abouts = []About{
	{Script, "One paste", "Mount point and script together, where the widget shall stand.", ""},
	{Split, "In two places", "A mount point in the content, and one script for the whole site.", ""},
	{Component, "Component", "A source file for a page that is built as a program.", ""},
	{Sealed, "Sealed", "One publication for ever: the script is pinned by its digest, and nothing else may run.", "It never changes until it is pasted again."},
	{Frame, "Frame", "The widget's own page in a frame.", "It stays within the frame's edges, knows nothing of the page around it, and remembers nobody."},
	{Screen, "Screen", "The address of a page of fixed size with a transparent ground.", "It is a page of its own; nobody clicks in it."},
	{PlainForm, "Plain form", "An HTML form that works without any script.", "It is checked only after it was sent."},
	{Email, "E-mail", "Tables and inline styles, with a picture that is drawn when the mail is opened.", "Nothing moves, and nothing opens but a link."},
	{Link, "Link", "A link to the widget's own page.", "Visitors see it only when they follow the link."},
}

// Deliveries lists the delivery forms in the order of Abouts.
var Deliveries = func() (list []Delivery) {
	for _, a := range Abouts {
		list = append(list, a.Delivery)
	}
	return list
}()

// About is what f is; false when there is no such form.
func (f Delivery) About() (About, bool) {
	i := slices.IndexFunc(Abouts, func(a About) bool { return a.Delivery == f })
	if i < 0 {
		return About{}, false
	}
	return Abouts[i], true
}

// Frameworks are what a component can be written for.
var Frameworks = []string{"react", "vue", "svelte"}
