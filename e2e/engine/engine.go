// Package engine drives Chromium, Firefox and WebKit in the same way, so that one test can run
// in all three. Chromium-only tests use package browser, which can do more.
package engine

import (
	"encoding/json"
	"fmt"
	"os"
	"time"

	"glasspocket/e2e/browser"
)

// Tab is one page in a browser engine. It is not safe for concurrent use.
type Tab struct {
	Name   string // chromium, firefox or webkit
	driver driver
}

// driver is what an engine's protocol must do. Input follows the W3C WebDriver actions, which
// WebDriver and WebDriver BiDi share.
type driver interface {
	open(address string) error
	// evaluate calls an async function body and returns what it returns, as JSON.
	evaluate(body string) ([]byte, error)
	perform(sources ...source) error
	resize(width, height int) error
	image() ([]byte, error)
	errors() []string
	close()
}

type source struct {
	Type       string         `json:"type"` // key or pointer
	ID         string         `json:"id"`
	Parameters map[string]any `json:"parameters,omitempty"`
	Actions    []action       `json:"actions"`
}

type action struct {
	Type     string `json:"type"` // keyDown, keyUp, pointerMove, pointerDown, pointerUp, pause
	Value    string `json:"value,omitempty"`
	X        *int   `json:"x,omitempty"`
	Y        *int   `json:"y,omitempty"`
	Button   *int   `json:"button,omitempty"`
	Duration *int   `json:"duration,omitempty"`
}

// Keys without a character of their own (WebDriver, section 17.4.2).
const (
	Backspace = "\ue003"
	Tabulator = "\ue004"
	Enter     = "\ue007"
	Shift     = "\ue008"
	Control   = "\ue009"
	Escape    = "\ue00c"
	End       = "\ue010"
	Home      = "\ue011"
	Left      = "\ue012"
	Right     = "\ue014"
)

// Open opens a tab of an engine with a profile of its own, 1280 by 800 CSS pixels.
func Open(name string) (*Tab, error) {
	start, ok := map[string]func() (driver, error){"chromium": startChromium, "firefox": startFirefox, "webkit": startWebKit}[name]
	if !ok {
		return nil, fmt.Errorf("there is no engine %q", name)
	}
	d, err := start()
	if err != nil {
		return nil, fmt.Errorf("%s: %w", name, err)
	}
	t := &Tab{Name: name, driver: d}
	if err := t.Size(1280, 800); err != nil {
		d.close()
		return nil, err
	}
	return t, nil
}

// Close ends the browser.
func (t *Tab) Close() { t.driver.close() }

// Go opens an address and waits until it has loaded.
func (t *Tab) Go(address string) error {
	if err := t.driver.open(address); err != nil {
		return fmt.Errorf("%s: opening %s: %w", t.Name, address, err)
	}
	return nil
}

// Size sets the size of the page in CSS pixels. WebKit has a minimum width of 447.
func (t *Tab) Size(width, height int) error { return t.driver.resize(width, height) }

// Errors are the uncaught errors and console errors so far; WebKit reports none.
func (t *Tab) Errors() []string { return t.driver.errors() }

// Shot writes an image of what is in view.
func (t *Tab) Shot(file string) error {
	png, err := t.driver.image()
	if err != nil {
		return err
	}
	return os.WriteFile(file, png, 0o644)
}

// Eval evaluates an expression, awaiting a promise. The value must survive JSON.
func Eval[T any](t *Tab, expression string) (v T, err error) {
	text, err := t.driver.evaluate("const value = await (" + expression + "\n); return JSON.stringify(value === undefined ? null : value);")
	if err == nil {
		err = json.Unmarshal(text, &v)
	}
	if err != nil {
		err = fmt.Errorf("%s: evaluating %.300s: %w", t.Name, expression, err)
	}
	return v, err
}

// Wait waits until an expression is true. As long as it throws it is not.
func (t *Tab) Wait(expression string) error {
	poll := "(() => { try { return !!(" + expression + ") } catch { return false } })()"
	var err error
	for until := time.Now().Add(browser.Patience); time.Now().Before(until); time.Sleep(5 * time.Millisecond) {
		var ok bool
		if ok, err = Eval[bool](t, poll); ok {
			return nil
		}
	}
	is, _ := Eval[string](t, "(() => { try { return String("+expression+") } catch (e) { return String(e) } })()")
	return fmt.Errorf("%s: waiting for %s, which is %q: %v", t.Name, expression, is, err)
}

// Press presses keys one after the other, each while those before it in the same string that
// are modifiers are held.
func (t *Tab) Press(keys ...string) error {
	s := source{Type: "key", ID: "keyboard"}
	for _, chord := range keys {
		down := []rune(chord)
		for _, k := range down {
			s.Actions = append(s.Actions, action{Type: "keyDown", Value: string(k)})
		}
		for i := range down {
			s.Actions = append(s.Actions, action{Type: "keyUp", Value: string(down[len(down)-1-i])})
		}
	}
	return t.driver.perform(s)
}

// Type types text, one keystroke a character.
func (t *Tab) Type(text string) error {
	var keys []string
	for _, r := range text {
		keys = append(keys, string(r))
	}
	return t.Press(keys...)
}

// Click presses the mouse at a place in the viewport.
func (t *Tab) Click(x, y float64) error {
	a, b, left, none := int(x), int(y), 0, 0
	return t.driver.perform(source{Type: "pointer", ID: "mouse", Parameters: map[string]any{"pointerType": "mouse"}, Actions: []action{
		{Type: "pointerMove", X: &a, Y: &b, Duration: &none}, {Type: "pointerDown", Button: &left}, {Type: "pointerUp", Button: &left},
	}})
}

// ClickOn scrolls an element into view and clicks in its middle, once it has a size and has
// come to rest. The expression gives the element.
func (t *Tab) ClickOn(element string) error {
	const place = `(async () => { const find = () => { const e = %s, r = e.getBoundingClientRect(); if (!r.width) throw 0; if (r.top < 0 || r.bottom > innerHeight) e.scrollIntoView({ block: "center", behavior: "instant" }); return e.getBoundingClientRect() };
		try { const a = find(); await new Promise(requestAnimationFrame); const b = find(); return a.left == b.left && a.top == b.top ? [b.left + b.width / 2, b.top + b.height / 2] : null } catch { return null } })()`
	for until := time.Now().Add(browser.Patience); time.Now().Before(until); {
		at, err := Eval[[]float64](t, fmt.Sprintf(place, element))
		if err != nil {
			return err
		}
		if at != nil {
			return t.Click(at[0], at[1])
		}
	}
	return fmt.Errorf("%s: there is nothing to click at %s", t.Name, element)
}
