// Command bench measures the figures that the docs and the design promise, and prints one line a
// figure: NAME MEASURED BUDGET within|over, separated by tabs. Ratios are measured side by
// side in one run. It exits 1 when a budget in bytes or counts is over.
package main

import (
	"flag"
	"fmt"
	"os"
	"path/filepath"
	"sort"
	"strings"

	"glasspocket/e2e/browser"
	"glasspocket/e2e/service"
	"glasspocket/internal/heap"
)

// figure is one measured value and its budget.
type figure struct {
	name     string
	measured float64
	budget   float64
	least    bool   // the budget is a lower bound
	exact    bool   // bytes or counts: over budget fails the run
	unit     string // "B", "", "ms", "ms3" with three decimals, "x"
}

func (f figure) over() bool {
	if f.least {
		return f.measured < f.budget
	}
	return f.measured > f.budget
}

func (f figure) String() string {
	write := func(v float64) string {
		switch f.unit {
		case "x":
			return fmt.Sprintf("%.3f", v)
		case "ms3":
			return fmt.Sprintf("%.3fms", v)
		case "ms", "s":
			return fmt.Sprintf("%.1f%s", v, f.unit)
		}
		return fmt.Sprintf("%.0f%s", v, f.unit)
	}
	bound, verdict := "<=", "within"
	if f.least {
		bound = ">="
	}
	if f.over() {
		verdict = "over"
	}
	return strings.Join([]string{f.name, write(f.measured), bound + write(f.budget), verdict}, "\t")
}

// bench is one run against one demo.
type bench struct {
	demo    *service.Demo
	browser *browser.Browser
	report  func(figure)
}

func main() {
	if len(os.Args) > 1 && os.Args[1] == "bare" {
		bare(os.Args[2:])
		return
	}
	if len(os.Args) > 1 && os.Args[1] == "feeds" {
		feeds()
		return
	}
	only := flag.String("only", "", "run only the groups whose `name` contains this: bytes, install, format, page, publish, console, actions, gallery, list, worktop, sources, items, serve, store, million")
	flag.Parse()
	code, err := run(*only)
	if err != nil {
		fmt.Fprintln(os.Stderr, "bench:", err)
		code = 1
	}
	os.Exit(code)
}

func run(only string) (int, error) {
	heap.Room() // as the service has it, for what is measured in here
	demo, err := service.StartDemo("")
	if err != nil {
		return 1, err
	}
	defer demo.Stop()
	chromium, err := browser.Start()
	if err != nil {
		return 1, err
	}
	defer chromium.Close()
	results, err := os.Create(filepath.Join(service.Root(), "bench", "results.tsv"))
	if err != nil {
		return 1, err
	}
	defer results.Close()
	code := 0
	b := &bench{demo: demo, browser: chromium, report: func(f figure) {
		fmt.Println(f)
		fmt.Fprintln(results, f)
		if f.exact && f.over() {
			code = 1
		}
	}}
	for _, group := range []struct {
		name string
		run  func(*bench) error
	}{
		{"bytes", bytesGroup}, {"install", installGroup}, {"format", formatGroup}, {"page", pageGroup}, {"publish", publishGroup}, {"console", consoleGroup}, {"actions", actionsGroup}, {"gallery", galleryGroup}, {"list", listGroup}, {"worktop", worktopGroup}, {"sources", sourcesGroup}, {"items", itemsGroup}, {"store", storeGroup}, {"serve", serveGroup}, {"million", millionGroup},
	} {
		if strings.Contains(group.name, only) {
			if err := group.run(b); err != nil {
				return 1, fmt.Errorf("%s: %w", group.name, err)
			}
		}
	}
	return code, nil
}

func median(v []float64) float64 {
	s := append([]float64{}, v...)
	sort.Float64s(s)
	return (s[(len(s)-1)/2] + s[len(s)/2]) / 2
}
