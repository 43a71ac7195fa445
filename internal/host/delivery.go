// Package host knows the kinds of platforms that host pages: what each lets through, what to paste
// there for a pocket, how it will look, and the steps.
package host

import "slices"

// Delivery is a way to bring a pocket to a page.
type Delivery string

// The deliveries.
const (
	Script    Delivery = "script"     // paste once: mount point and script together
	Split     Delivery = "split"      // mount point in the content, script once for the site
	Component Delivery = "component"  // source of a component for a single-page application
	Sealed    Delivery = "sealed"     // one publication that never changes, pinned by its digest
	Frame     Delivery = "frame"      // the pocket's page in an iframe
	Screen    Delivery = "screen"     // the address of a page of fixed size
	PlainForm Delivery = "plain-form" // an HTML form that works without scripts
	Email     Delivery = "email"      // tables and inline styles
	Link      Delivery = "link"       // a link to the pocket's page
)

// About describes a delivery.
type About struct {
	Delivery Delivery `json:"delivery"`
	Title    string   `json:"title"`
	What     string   `json:"what"`  // a sentence
	Loses    string   `json:"loses"` // what it lacks compared with a script, a sentence; "" for nothing
}

// Abouts lists the deliveries, from the one that shows most to the one that shows least. To add
// one, add a row here and in writers.
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

// Deliveries lists the deliveries in the order of Abouts.
var Deliveries = func() (list []Delivery) {
	for _, a := range Abouts {
		list = append(list, a.Delivery)
	}
	return list
}()

// About describes f. It returns false if there is no such delivery.
func (f Delivery) About() (About, bool) {
	i := slices.IndexFunc(Abouts, func(a About) bool { return a.Delivery == f })
	if i < 0 {
		return About{}, false
	}
	return Abouts[i], true
}

// Frameworks are the frameworks for which components can be written.
var Frameworks = []string{"react", "vue", "svelte"}
