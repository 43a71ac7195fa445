package widget

import (
	"fmt"
	"slices"
	"strings"
)

// DeclarationsFile is where Declarations lie in a widget's folder.
const DeclarationsFile = "pocket.d.ts"

// Declarations writes the TypeScript declarations of what a widget's mount function gets:
// the settings, messages, items and facts of this very folder, so that an editor completes
// them by name.
func (r *Release) Declarations() string {
	var b strings.Builder
	b.WriteString("// What this widget's mount function gets. Made by “glasspocket types”; make it anew when\n// widget.json or settings.json have changed.\n\n")
	b.WriteString("export interface Settings {\n")
	for _, key := range r.Manifest.Mount.Settings {
		s := r.Schema.Get(key)
		if label := s.Label.In("en"); label != "" {
			fmt.Fprintf(&b, "  /** %s */\n", strings.ReplaceAll(label, "*/", "* /"))
		}
		mark := ""
		if s.When != nil {
			mark = "?" // what does not matter with the others does not come
		}
		fmt.Fprintf(&b, "  %s%s: %s;\n", key, mark, indent(s.Shape().TypeScript()))
	}
	b.WriteString("}\n\n")
	fmt.Fprintf(&b, "export type Message = %s;\n\n", union(r.Manifest.Mount.Messages))
	items := r.Items()
	if items != "" {
		fmt.Fprintf(&b, "export type Item = Settings[%q][number];\n\n", items)
	}
	b.WriteString("export interface Facts {\n")
	for _, f := range r.Manifest.Facts {
		kind, mark := "string", "?"
		if f.Type == "switch" {
			kind, mark = "boolean", ""
		}
		fmt.Fprintf(&b, "  /** %s */\n  %s%s: %s;\n", f.Label.In("en"), f.Name, mark, kind)
	}
	b.WriteString("}\n\n")
	declaration := pocketDeclaration
	if items == "" {
		declaration = strings.Replace(declaration, itemsMember, "", 1)
	}
	if len(r.Manifest.Facts) == 0 {
		declaration = strings.Replace(declaration, factsMember, "", 1)
	}
	b.WriteString(declaration)
	return b.String()
}

// Items is the key of the setting that a mount function gets as its items: the first of that
// type that the manifest's "mount" lists; "" when there is none.
func (r *Release) Items() string {
	for _, key := range r.Manifest.Mount.Settings {
		if r.Schema.Get(key).Type == "items" {
			return key
		}
	}
	return ""
}

func union(names []string) string {
	if len(names) == 0 {
		return "never"
	}
	sorted := slices.Clone(names)
	slices.Sort(sorted)
	for i, n := range sorted {
		sorted[i] = fmt.Sprintf("%q", n)
	}
	return strings.Join(sorted, " | ")
}

func indent(text string) string { return strings.ReplaceAll(text, "\n", "\n  ") }

// PocketMember is one member of what a mount function gets, for the reference page.
type PocketMember struct{ Name, About string }

// PocketMembers are those of a widget that has items and facts; see pocketDeclaration.
func PocketMembers() (list []PocketMember) {
	var about []string
	for _, line := range strings.Split(pocketDeclaration, "\n") {
		line = strings.TrimSpace(line)
		switch {
		case strings.HasPrefix(line, "/**"), strings.HasPrefix(line, "* "):
			if words := strings.Trim(line, "/* "); words != "" {
				about = append(about, words)
			}
		case strings.HasSuffix(line, ";") && about != nil:
			list = append(list, PocketMember{strings.TrimSuffix(line, ";"), strings.Join(about, " ")})
			about = nil
		}
	}
	return list
}

// What only some widgets get.
const (
	itemsMember = "  /** What the widget shows, in order: its setting of the type items that the manifest's \"mount\" lists first. */\n  items: Item[];\n"
	factsMember = "  /** What the page states of itself or its visitor. It never leaves the page. */\n  facts: { now(): Facts; changed(callback: () => void): void };\n"
)

const pocketDeclaration = `export interface Pocket {
  /** The widget's own root. Look everything up from here; two copies on a page then never meet. */
  root: HTMLElement;
  /** The settings that the manifest's "mount" lists, as the page may have overridden them. */
  settings: Settings;
` + itemsMember + factsMember + `  /** The language of the messages, as a BCP 47 tag. */
  language: string;
  /** A message that the manifest's "mount" lists, in the plural form for count. */
  say(message: Message, count?: number): string;
  /** The time in milliseconds since 1970, set right by the service's clock where it is known. */
  now(): number;
  /** Asks for the service's clock, once a page; tick is called whenever that changes now(). */
  exact(tick: () => void): void;
  /**
   * What is remembered of a visitor: until the page is left, and for that many days where the page
   * says that the visitor has agreed. changed is called when read may say more than before.
   */
  memory: { read(): unknown; write(data: unknown, days: number): void; changed(callback: () => void): void };
  /** Takes the widget out of the page's sight, or back into it. */
  hide(hidden: boolean): void;
  /** Tells the page: an event glass-pocket:NAME at the mount point. */
  tell(name: string, detail?: unknown): void;
  /**
   * Called when the page sends such an event to the mount point, when another copy of the pocket
   * tells it, or on a click on an element that bears data-glass-NAME="KEY" with the pocket's key;
   * that element is given.
   */
  hear(name: string, callback: (by?: Element) => void): void;
  /** Tells how far the visitor has read, from 0 to 1, now and whenever it changes. */
  reading(callback: (depth: number) => void): void;
  /** Tells how many pixels of the window's top and bottom the page's own bars take. */
  edges(callback: (taken: { top: number; bottom: number }) => void): void;
  /** Aborted when the widget is taken out of the page. Give it to every listener outside of root. */
  signal: AbortSignal;
}
`
