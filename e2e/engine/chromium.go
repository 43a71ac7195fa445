package engine

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"

	"glasspocket/e2e/browser"
)

// chromium is package browser's Chromium behind the driver's interface.
type chromium struct {
	browser *browser.Browser
	page    *browser.Page
	x, y    float64
}

func startChromium() (driver, error) {
	b, err := browser.StartShell()
	if err != nil {
		return nil, err
	}
	p, err := b.Open(1280, 800)
	if err != nil {
		b.Close()
		return nil, err
	}
	return &chromium{browser: b, page: p}, nil
}

func (c *chromium) open(address string) error { return c.page.Go(address) }

func (c *chromium) evaluate(body string) ([]byte, error) {
	text, err := browser.Eval[string](c.page, "(async () => {"+body+"})()")
	return []byte(text), err
}

func (c *chromium) resize(width, height int) error {
	return c.page.Do(chromedp.EmulateViewport(int64(width), int64(height)))
}

var chromiumKeys = map[string]string{Backspace: kb.Backspace, Tabulator: kb.Tab, Enter: kb.Enter, Escape: kb.Escape, End: kb.End, Home: kb.Home, Left: kb.ArrowLeft, Right: kb.ArrowRight}

func (c *chromium) perform(sources ...source) error {
	for _, s := range sources {
		var held chromedp.Modifier
		for _, a := range s.Actions {
			var err error
			switch a.Type {
			case "keyDown", "keyUp":
				down := a.Type == "keyDown"
				if m, ok := map[string]chromedp.Modifier{Shift: chromedp.ModifierShift, Control: chromedp.ModifierCtrl}[a.Value]; ok {
					if held &^= m; down {
						held |= m
					}
				} else if down {
					key := a.Value
					if k, ok := chromiumKeys[key]; ok {
						key = k
					}
					err = c.page.Do(chromedp.KeyEvent(key, chromedp.KeyModifiers(held)))
				}
			case "pointerMove":
				c.x, c.y = float64(*a.X), float64(*a.Y)
				err = c.page.Do(chromedp.MouseEvent(chromedp.MouseMoved, c.x, c.y))
			case "pointerDown":
				err = c.page.Do(chromedp.MouseEvent(chromedp.MousePressed, c.x, c.y, chromedp.ButtonLeft, chromedp.ClickCount(1)))
			case "pointerUp":
				err = c.page.Do(chromedp.MouseEvent(chromedp.MouseReleased, c.x, c.y, chromedp.ButtonLeft, chromedp.ClickCount(1)))
			default:
				err = fmt.Errorf("no action %q", a.Type)
			}
			if err != nil {
				return err
			}
		}
	}
	return nil
}

func (c *chromium) image() ([]byte, error) {
	dir, err := os.MkdirTemp("", "glass-pocket-shot-")
	if err != nil {
		return nil, err
	}
	defer os.RemoveAll(dir)
	file := filepath.Join(dir, "shot.png")
	if err := c.page.Shot(file); err != nil {
		return nil, err
	}
	return os.ReadFile(file)
}

func (c *chromium) errors() (list []string) {
	for _, e := range c.page.Errors() {
		list = append(list, strings.TrimPrefix(e, "error: "))
	}
	return list
}

func (c *chromium) close() {
	c.page.Close()
	c.browser.Close()
}
