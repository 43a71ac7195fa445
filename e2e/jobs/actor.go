// Package jobs performs ten everyday jobs in the console as people do, with real clicks and
// keystrokes, and counts the actions: clicks, choices, filled fields, drags and key commands.
package jobs

import (
	"encoding/json"
	"fmt"
	"strings"

	"github.com/chromedp/cdproto/browser"
	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/cdproto/input"
	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"

	page "glasspocket/e2e/browser"
)

// Actor uses a page and counts what it does. Its methods take an expression for the element. They
// panic with a failure, which Run returns.
type Actor struct {
	Page    *page.Page
	Keys    bool     // with the keyboard alone
	Actions int      // so far
	Log     []string // one line for each action
}

// failure is what a method panics with.
type failure struct{ error }

// Open prepares a tab: it may use the clipboard, and what the console copies is kept for Copied.
func Open(b *page.Browser, width, height int) (*Actor, error) {
	p, err := b.Open(width, height)
	if err != nil {
		return nil, err
	}
	a := &Actor{Page: p}
	context := chromedp.FromContext(p.Ctx).BrowserContextID
	for _, name := range []string{"clipboard-read", "clipboard-write"} {
		if _, err := chromedp.CallBrowser(p.Ctx, browser.SetPermission, browser.SetPermissionParams{Permission: &browser.PermissionDescriptor{Name: name, AllowWithoutSanitization: false}, Setting: browser.PermissionSettingGranted, BrowserContextID: context}); err != nil {
			return nil, err
		}
	}
	if _, err := chromedp.Call(p.Ctx, emulation.SetFocusEmulationEnabled, emulation.SetFocusEmulationEnabledParams{Enabled: true}); err != nil {
		return nil, err
	}
	return a, p.Before(`{ const { writeText, write } = Clipboard.prototype;
		Clipboard.prototype.writeText = async function (text) { await writeText.call(this, text); window.copiedText = text };
		Clipboard.prototype.write = async function (items) { const text = await (await items[0].getType("text/plain")).text(); await write.call(this, items); window.copiedText = text } }`)
}

func must(err error, doing string, a *Actor) {
	if err == nil {
		return
	}
	text, _ := page.Eval[string](a.Page, `location.pathname + " | at " + document.activeElement.outerHTML.slice(0, 120) + " | " + document.body.innerText.slice(0, 1500)`)
	panic(failure{fmt.Errorf("%s: %w\nafter %s\nthe page says %s\nconsole: %v", doing, err, strings.Join(a.Log, "; "), text, a.Page.Errors())})
}

// Eval evaluates an expression.
func Eval[T any](a *Actor, expression string) T {
	v, err := page.Eval[T](a.Page, expression)
	must(err, "evaluating "+expression, a)
	return v
}

// Wait waits until an expression is true.
func (a *Actor) Wait(expression string) { must(a.Page.Wait(expression), "waiting", a) }

// Go opens an address.
func (a *Actor) Go(address string) { must(a.Page.Go(address), "opening "+address, a) }

func (a *Actor) did(what string) {
	a.Actions++
	a.Log = append(a.Log, fmt.Sprintf("%d %s", a.Actions, what))
}

// find waits for an element that can be used, and scrolls to it.
func (a *Actor) find(element string) {
	a.Wait(`(window.at_ = ` + element + `) && !at_.disabled && !at_.closest("fieldset:disabled") && at_.getClientRects().length`)
}

// steady waits until the element has stayed in place for as long as a hand needs to reach it, and
// returns its middle.
func (a *Actor) steady() (x, y float64) {
	box := Eval[[]float64](a, `new Promise(done => { let before = "", same = 0; const look = () => { at_.scrollIntoView({ block: "center", inline: "nearest" }); const r = at_.getBoundingClientRect(); const now = [r.left, r.top, r.width, r.height].join(); same = now == before ? same + 1 : 0; before = now; if (same == 8) done([r.left + r.width / 2, r.top + r.height / 2]); else requestAnimationFrame(look) }; look() })`)
	return box[0], box[1]
}

// press clicks the element with the mouse. The click must reach it.
func (a *Actor) press() {
	x, y := a.steady()
	hit := Eval[string](a, fmt.Sprintf(`(e => e && (at_.contains(e) || e.closest("label")?.contains(at_)) ? "" : e?.outerHTML.slice(0, 200) ?? "nothing")(document.elementFromPoint(%f, %f))`, x, y))
	if hit != "" {
		must(fmt.Errorf("covered by %s", hit), "clicking", a)
	}
	Eval[any](a, `window.reached_ = null; addEventListener("pointerup", e => { reached_ = at_.contains(e.target) || !!e.target.closest?.("label")?.contains(at_) ? "" : e.target.outerHTML.slice(0, 200) }, { capture: true, once: true }); 0`)
	must(a.Page.Do(chromedp.MouseClickXY(x, y)), "clicking", a)
	if missed := Eval[string](a, `window.reached_ ?? ""`); missed != "" { // another page may have loaded since then
		must(fmt.Errorf("it moved, and %s was clicked", missed), "clicking", a)
	}
}

// reach moves the focus to the element with Tab or Shift+Tab. Like scrolling, this does not count.
func (a *Actor) reach() {
	for range 400 {
		switch Eval[string](a, `at_.isConnected ? document.activeElement == at_ || at_.contains(document.activeElement) && document.activeElement.matches("[role=radio]") ? "here" : document.activeElement.compareDocumentPosition(at_) & Node.DOCUMENT_POSITION_PRECEDING ? "back" : "on" : "gone"`) {
		case "here":
			return
		case "back":
			a.key("Tab", 8)
		case "on":
			a.key("Tab", 0)
		default:
			must(fmt.Errorf("the element is gone"), "moving the focus", a)
		}
	}
	must(fmt.Errorf("not reached: %s", Eval[string](a, `at_.outerHTML.slice(0, 200)`)), "moving the focus", a)
}

// focus moves the focus to the element, with Tab or a click, unless it is there already.
func (a *Actor) focus() {
	switch {
	case Eval[bool](a, `document.activeElement == at_`):
	case a.Keys:
		a.reach()
	default:
		a.press()
	}
}

// Click presses a button, link, checkbox or radio button.
func (a *Actor) Click(what, element string) {
	a.find(element)
	switch {
	case !a.Keys:
		a.press()
	case Eval[bool](a, `at_.matches("[role=radio], input[type=radio]")`):
		a.radio()
	default:
		a.reach()
		if Eval[bool](a, `at_.matches("[type=checkbox]")`) {
			a.key(" ", 0)
		} else {
			a.key("Enter", 0)
		}
	}
	a.did(what)
}

// radio chooses in a radio group with the arrow keys.
func (a *Actor) radio() {
	must(a.Page.Wait(`(window.want_ = at_, window.at_ = at_.closest("[role=radiogroup]").querySelector("[tabindex='0'], :checked") ?? at_)`), "finding the group", a)
	a.reach()
	for range 20 {
		if Eval[bool](a, `want_.ariaChecked == "true" || want_.checked === true`) {
			return
		}
		a.key("ArrowRight", 0)
	}
	must(fmt.Errorf("not chosen"), "choosing with the arrow keys", a)
}

// Choose picks an option of a list by its label.
func (a *Actor) Choose(what, element, label string) {
	a.find(element)
	if a.Keys {
		a.reach()
	} else {
		// The list of a select is drawn by the browser's own process, so its option is typed.
		a.press()
	}
	for _, r := range label {
		a.key(string(r), 0)
	}
	if !a.Keys {
		a.key("Enter", 0)
	}
	must(a.Page.Wait(fmt.Sprintf(`at_.selectedOptions[0].label == %q`, label)), "choosing "+label, a)
	a.did(what)
}

// Fill replaces the content of a field by typing.
func (a *Actor) Fill(what, element, text string) {
	a.find(element)
	a.focus()
	if Eval[string](a, `at_.type ?? ""`) == "datetime-local" {
		a.typeMoment(text)
	} else {
		a.command("a", "selectAll")
		for _, r := range text {
			a.key(string(r), 0)
		}
		must(a.Page.Wait(fmt.Sprintf(`(at_.value ?? at_.innerText.trim()) == %q`, text)), "typing", a)
	}
	a.did(what)
}

// typeMoment types a date and time, "2027-03-01T18:00", in the order of the browser's fields.
func (a *Actor) typeMoment(text string) {
	var y, m, d, h, min int
	_, err := fmt.Sscanf(text, "%d-%d-%dT%d:%d", &y, &m, &d, &h, &min)
	must(err, "reading the moment", a)
	half := "A"
	if h >= 12 {
		half, h = "P", h-12
	}
	if h == 0 {
		h = 12
	}
	must(a.Page.Do(chromedp.KeyEvent(kb.Home)), "typing", a)
	for _, r := range fmt.Sprintf("%02d%02d%04d", m, d, y) {
		a.key(string(r), 0)
	}
	a.key("ArrowRight", 0)
	for _, r := range fmt.Sprintf("%02d%02d%s", h, min, half) {
		a.key(string(r), 0)
	}
	must(a.Page.Wait(fmt.Sprintf(`at_.value == %q`, text)), "typing the moment", a)
}

// Paste puts a text on the clipboard, and pastes it where the focus is, or into an element.
func (a *Actor) Paste(what, element, text string) {
	quoted, _ := json.Marshal(text)
	Eval[any](a, fmt.Sprintf(`navigator.clipboard.writeText(%s).then(() => 0)`, quoted))
	if element != "" {
		a.find(element)
		a.focus()
	}
	a.command("v", "paste")
	a.did(what)
}

// Drop drags files onto an element.
func (a *Actor) Drop(what, element string, files ...string) {
	a.find(element)
	x, y := a.steady()
	for _, kind := range []input.DispatchDragEventType{"dragEnter", "dragOver", "drop"} {
		_, err := chromedp.Call(a.Page.Ctx, input.DispatchDragEvent, input.DispatchDragEventParams{Type: kind, X: x, Y: y, Data: &input.DragData{Items: []*input.DragDataItem{}, Files: files, DragOperationsMask: 1}})
		must(err, "dropping", a)
	}
	a.did(what)
}

// Press is a key command, such as Enter.
func (a *Actor) Press(what, key string) {
	a.key(key, 0)
	a.did(what)
}

var codes = map[string]string{"Tab": kb.Tab, "Enter": kb.Enter, "ArrowRight": kb.ArrowRight, "ArrowDown": kb.ArrowDown, "Escape": kb.Escape}

func (a *Actor) key(name string, modifiers int64) {
	text := name
	if code, ok := codes[name]; ok {
		text = code
	}
	var options []chromedp.KeyOption
	if modifiers != 0 {
		options = append(options, chromedp.KeyModifiers(kb.Modifier(modifiers)))
	}
	must(a.Page.Do(chromedp.KeyEvent(text, options...)), "pressing "+name, a)
}

// command presses Ctrl and a letter, with the editing command that a desktop attaches to it.
func (a *Actor) command(letter, command string) {
	upper := strings.ToUpper(letter)
	for _, kind := range []input.DispatchKeyEventType{"rawKeyDown", "keyUp"} {
		event := input.DispatchKeyEventParams{Type: kind, Modifiers: 2, Key: letter, Code: "Key" + upper, WindowsVirtualKeyCode: int64(upper[0])}
		if kind == "rawKeyDown" {
			event.Commands = []string{command}
		}
		_, err := chromedp.Call(a.Page.Ctx, input.DispatchKeyEvent, event)
		must(err, "pressing Ctrl+"+upper, a)
	}
}

// Copied waits for something that the console has copied, and returns it.
func (a *Actor) Copied() string {
	a.Wait(`window.copiedText`)
	return Eval[string](a, `window.copiedText`)
}
