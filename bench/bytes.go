package main

import (
	"bytes"
	"fmt"
	"io"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"time"

	"github.com/andybalholm/brotli"

	"glasspocket/e2e/service"
)

// fetch gets an address in one content coding and returns the bytes as sent.
func fetch(address, coding string) ([]byte, http.Header, error) {
	req, err := http.NewRequest("GET", address, nil)
	if err != nil {
		return nil, nil, err
	}
	req.Header.Set("Accept-Encoding", coding)
	res, err := http.DefaultClient.Do(req)
	if err != nil {
		return nil, nil, err
	}
	defer res.Body.Close()
	if res.StatusCode != 200 {
		return nil, nil, fmt.Errorf("%s answered %s", address, res.Status)
	}
	body, err := io.ReadAll(res.Body)
	return body, res.Header, err
}

func bytesGroup(b *bench) error {
	loader, _, err := fetch(b.demo.Public+"/loader.js", "br")
	if err != nil {
		return err
	}
	script, _, err := fetch(b.demo.Public+"/s/demo-countdown.js", "br")
	if err != nil {
		return err
	}
	b.report(figure{"loader-brotli", float64(len(loader)), 2560, false, true, "B"})
	b.report(figure{"script-beyond-loader-brotli", float64(len(script) - len(loader)), 3072, false, true, "B"})

	// The console's first load: its page and every script and style that the page names.
	page, _, err := fetch(b.demo.Manage+"/", "br")
	if err != nil {
		return err
	}
	total := len(page)
	plain, err := io.ReadAll(brotli.NewReader(bytes.NewReader(page)))
	if err != nil {
		return err
	}
	for _, m := range regexp.MustCompile(`(?:src|href)="(/assets/[^"]+)"`).FindAllSubmatch(plain, -1) {
		part, _, err := fetch(b.demo.Manage+string(m[1]), "br")
		if err != nil {
			return err
		}
		total += len(part)
	}
	b.report(figure{"console-first-load-brotli", float64(total), 66 << 10, false, true, "B"})
	info, err := os.Stat(service.Binary("glasspocketd"))
	if err != nil {
		return err
	}
	b.report(figure{"binary", float64(info.Size()), 56e6, false, true, "B"})

	begin := time.Now()
	build := exec.Command("make", "build")
	build.Dir = service.Root()
	// One source touched: what a developer waits for after a change.
	if err := os.Chtimes(filepath.Join(service.Root(), "cmd", "glasspocketd", "main.go"), begin, begin); err != nil {
		return err
	}
	if out, err := build.CombinedOutput(); err != nil {
		return fmt.Errorf("%w: %s", err, out)
	}
	b.report(figure{"build-warm", time.Since(begin).Seconds(), 15, false, false, "s"})
	return nil
}
