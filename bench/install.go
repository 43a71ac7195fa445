package main

import (
	"context"
	"errors"
	"fmt"
	"os/exec"
	"regexp"
	"strings"
	"time"

	"glasspocket/demo/lab"
	"glasspocket/e2e/service"
	"glasspocket/hosts"
	"glasspocket/internal/host"
	"glasspocket/internal/widget"
)

// styled is a mount point's reservation, which the budget of a snippet leaves out.
var styled = regexp.MustCompile(` style="[^"]*"`)

// installGroup measures what is pasted, how long the choice of it takes, and whether the host
// lab shows what was predicted.
func installGroup(b *bench) error {
	ctx, c := context.Background(), b.demo.Client()
	most := 0
	for _, key := range []string{"demo-countdown", "demo-cards", "demo-popup", "demo-reviews", "demo-person", "demo-ticker", "demo-progress"} {
		s, err := c.Snippets(ctx, key, host.Script)
		if err != nil {
			return err
		}
		most = max(most, len(styled.ReplaceAllString(s.Snippets[0].Parts[0].Text, "")))
	}
	b.report(figure{"snippet-bytes-without-reservation", float64(most), 200, false, true, "B"})

	// The slowest of all kinds of host and wishes, each the median of many.
	set, err := hosts.Shipped()
	if err != nil {
		return err
	}
	subject := host.Subject{Base: b.demo.Public, Key: "demo-countdown", Title: "The kiln opens again", Heights: []widget.Height{{From: 0, Height: 146}, {From: 560, Height: 162}}}
	slowest, choices := 0.0, 0
	for _, p := range set.List() {
		for _, where := range p.Wheres() {
			var took []float64
			for range 101 {
				begin := time.Now()
				choice := host.Choose(p, subject, host.Needs{Script: true, Storage: true}, where, host.Placing{})
				took = append(took, float64(time.Since(begin).Microseconds())/1000)
				if choice.Best == nil {
					return fmt.Errorf("nothing for %s, %s", p.Name, where)
				}
			}
			choices++
			slowest = max(slowest, median(took))
		}
	}
	b.report(figure{"choices-of-a-form", float64(choices), 60, true, true, ""})
	b.report(figure{"choice-of-a-form-slowest", slowest, 1, false, false, "ms3"})

	// The lab is a test: each cell, and each prediction made before pasting, is held there.
	cells := len(hosts.Proved())
	out, err := exec.Command("go", "test", "-trimpath", "-count=1", service.Root()+"/e2e", "-run", "^TestHostLab$", "-v").CombinedOutput()
	if exit := new(exec.ExitError); err != nil && !errors.As(err, &exit) {
		return err
	}
	b.report(figure{"lab-hosts", float64(len(lab.New("").Names())), 16, true, true, ""})
	b.report(figure{"lab-cells", float64(cells), 250, true, true, ""})
	b.report(figure{"lab-cells-not-as-predicted", float64(strings.Count(string(out), "Not equal")), 0, false, true, ""})
	if !strings.Contains(string(out), "--- PASS: TestHostLab ") {
		return fmt.Errorf("the host lab failed:\n%s", out)
	}
	return nil
}
