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
	{Script, "One paste", "Mount point and script together, pasted where the widget goes.", ""},
	{Split, "Two pastes", "A mount point in the content, and one script for the whole site.", ""},
	{Component, "Component", "A source file for a site that is an application.", ""},
	{Sealed, "Sealed", "One fixed publication: its digest pins the script, and nothing else can run.", "It does not change until you replace the snippet."},
	{Frame, "Frame", "The widget's own page in a frame.", "It cannot extend beyond its frame, has no information about the page, and cannot remember visitors."},
	{Screen, "Screen", "The address of a page with a fixed size and a transparent background.", "It is a separate page, and nobody can click in it."},
	{PlainForm, "Plain form", "An HTML form that works without any script.", "It is checked only after it is sent."},
	{Email, "Email", "Tables and inline styles, with an image that is drawn when somebody opens the email.", "Nothing in it moves, and only links work."},
	{Link, "Link", "A link to the widget's own page.", "Visitors see it only if they follow the link."},
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
