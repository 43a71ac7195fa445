package main

import (
	"context"
	"encoding/json"
	"fmt"
	"strings"
	"time"

	"glasspocket/internal/wire"
)

// publishGroup publishes a thousand times and asks the public side right after each.
func publishGroup(b *bench) error {
	ctx, c := context.Background(), b.demo.Client()
	const key, times = "bench-publish", 1000
	p, err := c.MakePocket(ctx, wire.NewPocket{Key: key, Customer: "kelp-and-kiln", Widget: "countdown", Starter: "harbour"})
	if err != nil {
		return err
	}
	stale := 0
	var took []float64
	revision := p.Revision
	for i := range times {
		heading := fmt.Sprintf("Number %d.", i)
		text, _ := json.Marshal(heading)
		d, err := c.ChangeDraft(ctx, key, revision, map[string]json.RawMessage{"heading": text, "target": json.RawMessage(`"2099-01-01T00:00[UTC]"`)})
		if err != nil {
			return err
		}
		revision = d.Revision
		begin := time.Now()
		if _, err := c.Publish(ctx, key, wire.Publish{Revision: revision}); err != nil {
			return err
		}
		took = append(took, float64(time.Since(begin).Microseconds())/1000)
		body, _, err := fetch(b.demo.Public+"/s/"+key+".json", "identity")
		if err != nil {
			return err
		}
		if !strings.Contains(string(body), heading) {
			stale++
		}
	}
	b.report(figure{"stale-answers-in-1000-publishes", float64(stale), 0, false, true, ""})
	b.report(figure{"publish-median", median(took), 30, false, false, "ms"})
	return nil
}
