// Command eternal freezes what this program serves under its payload number: loader,
// one-request script and payload, in testdata/eternal/NUMBER. A number that has been
// frozen is released: it is never written again, only followed by the next.
package main

import (
	"fmt"
	"os"
	"path/filepath"
	"strconv"
	"time"

	"glasspocket/e2e/service"
	"glasspocket/internal/bundle"
	"glasspocket/internal/render"
	"glasspocket/internal/setting"
	"glasspocket/internal/widget"
	"glasspocket/widgets"
)

// Base stands for the public address; the test puts its own in its place.
const Base = "https://eternal.example"

func main() {
	if err := run(); err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
}

func run() error {
	folder := filepath.Join(service.Root(), "testdata", "eternal", strconv.Itoa(render.PayloadNumber))
	if _, err := os.Stat(folder); err == nil {
		return fmt.Errorf("%s is there: number %d is released and stays as it is; raise render.PayloadNumber to change anything in it", folder, render.PayloadNumber)
	}
	countdown, err := widgets.Folder("countdown")
	if err != nil {
		return err
	}
	files, _, err := widget.Collect(countdown)
	if err != nil {
		return err
	}
	release, faults := widget.Read(files, bundle.Builder{})
	if len(faults) > 0 {
		return faults
	}
	loader, err := bundle.Loader(Base)
	if err != nil {
		return err
	}
	site, err := render.NewSite(Base, loader, loader, bundle.Kit)
	if err != nil {
		return err
	}
	settings, faults := release.Schema.Complete(setting.Values{"target": "2099-01-01T00:00[UTC]", "heading": fmt.Sprintf("Number %d", render.PayloadNumber), "accent": "#123456"})
	if len(faults) > 0 {
		return faults
	}
	delivery, faults := site.Deliver(render.Subject{Key: "eternal-" + strconv.Itoa(render.PayloadNumber), Title: "Eternal", Publication: 1, Release: release, Settings: settings, Language: "en", Now: time.Date(2026, 11, 1, 0, 0, 0, 0, time.UTC)})
	if len(faults) > 0 {
		return faults
	}
	if err := os.MkdirAll(folder, 0o755); err != nil {
		return err
	}
	for name, text := range map[string][]byte{"loader.js": site.Loader(), "script.js": delivery.Script.Plain(), "payload.json": delivery.JSON.Plain()} {
		if err := os.WriteFile(filepath.Join(folder, name), text, 0o644); err != nil {
			return err
		}
	}
	fmt.Println("frozen:", folder)
	return nil
}
