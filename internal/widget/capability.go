package widget

import (
	"fmt"
	"regexp"
	"slices"
	"strings"

	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
)

// Capability is something that a widget's script or view can do only if the manifest declares it.
// To add one, add it here; if it needs a part of the kit, add that part to loader/kit and to the
// parts of package render.
type Capability struct {
	Name string
	// About says what it is for, for the reference.
	About string
	// Members are those of the mount function's argument that belong to it.
	Members []string
	// Declaration is their declaration in TypeScript.
	Declaration string
}

// The capabilities that other packages ask for.
const (
	Clock   = "clock"
	Memory  = "memory"
	Reading = "reading"
	Edges   = "edges"
	Events  = "events"
	Items   = "items"
	Forms   = "form"

	Carousel = "carousel"
	Fold     = "fold"
	Ago      = "ago"
	Panel    = "panel"
	Photos   = "photos"
	More     = "more"
)

// Capabilities lists all, in the order of the reference.
var Capabilities = []Capability{
	{Clock, "the time, corrected by the service's clock; in an email, the widget is an image that is drawn when the email is opened", []string{"now", "exact"}, `  /** The current time in milliseconds since 1970, corrected by the service's clock once that is known. */
  now(): number;
  /** Requests the service's time, once per page. tick is called whenever that changes now(). */
  exact(tick: () => void): void;
`},
	{Memory, "data about a visitor, for the next visit", []string{"memory"}, `  /**
   * Data about a visitor. It is kept until the visitor leaves the page, or for days days if the page
   * says that the visitor has agreed. changed calls back when read() may return something else.
   */
  memory: { read(): unknown; write(data: unknown, days: number): void; changed(callback: () => void): void };
`},
	{Events, "events between the widget and the page, and clicks on the page's own elements", []string{"tell", "hear"}, `  /** Dispatches the event glass-pocket:NAME at the mount point, so that the page can react. */
  tell(name: string, detail?: unknown): void;
  /**
   * Calls back when the page dispatches glass-pocket:NAME at the mount point, or when another copy
   * of the pocket does. A click on an element with data-glass-NAME="KEY", where KEY is the pocket's
   * key, counts too; callback receives that element.
   */
  hear(name: string, callback: (by?: Element) => void): void;
`},
	{Reading, "how far the visitor has read the page; previews get something to scroll", []string{"reading"}, `  /** Reports how far the visitor has read, from 0 to 1: at once, and whenever it changes. */
  reading(callback: (depth: number) => void): void;
`},
	{Edges, "the space that the page's own fixed bars take", []string{"edges"}, `  /** Reports how many pixels the page's own fixed bars cover at the top and bottom of the window. */
  edges(callback: (taken: { top: number; bottom: number }) => void): void;
`},
	{Items, "the items of the first setting of the type items in the manifest's \"mount\"", []string{"items"}, `  /** The widget's items in order: the first setting of the type items in the manifest's "mount". */
  items: Item[];
`},
	{Carousel, "a track that scrolls sideways, with buttons, keys, and automatic advance", []string{"carousel"}, `  /**
   * Pages through cards, an element that scrolls sideways and snaps. bar, which contains the buttons,
   * is hidden while all cards fit. With every, in seconds, the track advances while nobody interacts,
   * and play pauses it. moved is called whenever the nearest card changes. Returns what moves by a
   * number of cards, moves to a card, and measures again after cards were added.
   */
  carousel(
    cards: HTMLElement,
    controls: {
      bar: HTMLElement;
      back: HTMLButtonElement;
      on: HTMLButtonElement;
      play?: HTMLButtonElement;
      every?: number;
      moved?(here: number, last: boolean): void;
      paused?(paused: boolean): void;
    },
  ): { by(cards: 1 | -1): void; to(index: number): void; look(): void };
`},
	{Fold, "long texts that are cut, with a button for the rest", []string{"fold"}, `  /**
   * Cuts texts after the lines that the stylesheet allows for [data-fold="cut"]. text and button are
   * selectors within a block, more and less the button's labels. Returns what adds blocks.
   */
  fold(of: { text: string; button: string; more: string; less: string }): (blocks: Iterable<HTMLElement>) => void;
`},
	{Ago, "relative times such as “2 hours ago” in the view's <time data-ago>, which stay correct", []string{"ago"}, `  /** Writes the relative times of all <time data-ago>, now and whenever they change. Call it again after you add some. */
  ago(): void;
`},
	{Panel, "a modal dialog of the view: the focus stays in it, and returns when it closes", []string{"panel"}, `  /** Opens and closes box. A click on the backdrop or on [data-close] closes it, too. closed is called after that. */
  panel(box: HTMLDialogElement, closed?: () => void): { open(by?: HTMLElement): void; close(): void };
`},
	{Photos, "images that open in a dialog of the view", []string{"photos"}, `  /**
   * Opens the image of each <button data-photo> in the <img> of box; those in the same [data-photos]
   * are one series, with the buttons .back and .on.
   */
  photos(box: HTMLDialogElement): void;
`},
	{More, "more items of a list whose \"page\" is set, without leaving the page", []string{"more"}, `  /**
   * Loads what link leads to, the next items, into list. added receives them and how many are left;
   * failed is the link's label if that does not work. Returns what loads them without a click.
   */
  more(of: {
    link: HTMLAnchorElement;
    list: HTMLElement;
    failed: string;
    added(items: HTMLElement[], left: number): void;
  }): () => Promise<void> | undefined;
`},
	{Forms, "a form in the view that sends something; a form with `method=\"dialog\"` sends nothing", nil, ""},
}

// Can reports whether the widget has a capability.
func (r *Release) Can(capability string) bool { return slices.Contains(r.capabilities, capability) }

// CapabilityNames lists the names of all capabilities.
func CapabilityNames() []string {
	names := make([]string, len(Capabilities))
	for i, c := range Capabilities {
		names[i] = c.Name
	}
	return names
}

// sends matches the tag of a form. A form of a dialog sends nothing.
var sends = regexp.MustCompile(`<form\b[^>]*>`)

// Sends reports whether a view has a form that sends something.
func Sends(view string) bool { return len(formsIn(view)) > 0 }

func formsIn(view string) []string {
	return slices.DeleteFunc(sends.FindAllString(view, -1), func(tag string) bool { return strings.Contains(tag, `method="dialog"`) })
}

// readCapabilities sets what a release can do: what its manifest declares or, for a folder from
// before capabilities were declared, what its script and its view name.
func (r *Release) readCapabilities(m manifestDoc, check bool, add func(string, fault.List)) {
	declared := m.doc.Get("capabilities")
	if declared == nil {
		for _, c := range Capabilities {
			if slices.ContainsFunc(c.Members, func(word string) bool { return HasWord(r.Built.Mount, word) }) || c.Name == Forms && strings.Contains(string(r.Files[ViewFile]), "<form") {
				r.capabilities = append(r.capabilities, c.Name)
			}
		}
	}
	at := map[string]*jsondoc.Value{}
	for _, item := range listed(declared) {
		if item.Kind != jsondoc.String || !slices.Contains(CapabilityNames(), item.Text) {
			add(ManifestFile, fault.List{item.Fault(fault.CapabilityUnknown, "capabilities", fmt.Sprintf("There is no capability %q.", item.Text), fault.DidYouMean(item.Text, CapabilityNames()))})
			continue
		}
		r.capabilities, at[item.Text] = append(r.capabilities, item.Text), item
	}
	if !check {
		return
	}
	members, sure := members(r.Built.Mount)
	var missing []string
	for _, c := range Capabilities {
		used, known := c.used(members), sure
		if c.Name == Forms {
			used, known = formsIn(string(r.Files[ViewFile])), true
		}
		switch {
		case len(used) > 0 && declared == nil:
			missing = append(missing, fmt.Sprintf("%q", c.Name))
		case len(used) > 0 && !r.Can(c.Name):
			what := fmt.Sprintf("The widget uses %s, but the manifest does not declare the capability %q.", strings.Join(used, " and "), c.Name)
			add(ManifestFile, fault.List{declared.Fault(fault.CapabilityUndeclared, "capabilities", what, fmt.Sprintf("Add %q to \"capabilities\".", c.Name))})
		case len(used) == 0 && known && at[c.Name] != nil:
			f := at[c.Name].Fault(fault.CapabilityUnused, "capabilities", fmt.Sprintf("The widget does not use the capability %q.", c.Name), "Delete it here.")
			r.warnOf(ManifestFile, f)
		}
	}
	if missing != nil {
		r.warnOf(ManifestFile, fault.Fault{Line: 1, Column: 1, Field: "capabilities", Code: fault.CapabilityUndeclared, What: "The manifest does not declare what the widget uses.", Fix: fmt.Sprintf("Add \"capabilities\": [%s].", strings.Join(missing, ", "))})
	}
}

// used returns those of a capability's members that a script uses.
func (c Capability) used(members map[string]bool) (list []string) {
	for _, name := range c.Members {
		if members[name] {
			list = append(list, name)
		}
	}
	return list
}

// warnOf adds warnings about a file.
func (r *Release) warnOf(file string, list ...fault.Fault) {
	for _, f := range list {
		f.Path, f.Warning = file, true
		r.Warnings = append(r.Warnings, f)
	}
}
