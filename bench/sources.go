package main

import (
	"context"
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"net/http"
	"net/url"
	"slices"
	"strings"
	"time"

	"glasspocket/internal/feed"
	"glasspocket/internal/item"
	"glasspocket/internal/wire"
)

const bigList = 10_000 // items

// sourcesGroup measures what sources cost: reading and filtering a large one, ten thousand that are
// due in one minute, and the way of a change to a visitor.
func sourcesGroup(b *bench) error {
	if err := readAndFilter(b); err != nil {
		return err
	}
	if err := changeToVisitor(b); err != nil {
		return err
	}
	return dueInOneMinute(b)
}

// bigFeed is a JSON Feed of n posts of ten to forty words.
func bigFeed(n int) []byte {
	list := make([]map[string]any, n)
	words := strings.Fields("clay glaze kiln wheel tide boat ferry choir song bowl lamp rope and the a on in of with before nobody saw it came back Ångström harbour slow quiet morning salt fire ash driftwood teapot lid stairs window rain north east we they she he sings throws cools opens again never always today")
	random := rand.New(rand.NewPCG(1, 1))
	some := func(n int) string {
		text := make([]string, n)
		for i := range text {
			text[i] = words[random.IntN(len(words))]
		}
		return strings.Join(text, " ")
	}
	for i := range list {
		at := time.Date(2026, 1, 1, 0, i, 0, 0, time.UTC)
		list[i] = map[string]any{"id": fmt.Sprint("post-", i), "url": fmt.Sprint("https://kelp.example/", i), "title": some(5), "content_text": some(10+random.IntN(30)) + ".", "date_published": at.Format(time.RFC3339), "tags": []string{words[i%12]}, "language": "en"}
	}
	text, _ := json.Marshal(map[string]any{"version": "https://jsonfeed.org/version/1.1", "title": "Everything", "items": list})
	return text
}

// readAndFilter reads a feed as a fetch does, and applies rules of every kind to its items. The
// fastest of nine times counts, because whatever else runs on the machine only adds to them.
func readAndFilter(b *bench) error {
	body := bigFeed(bigList)
	now := time.Date(2026, 3, 1, 0, 0, 0, 0, time.UTC)
	list := item.Listing{From: []item.From{{Source: "src-a"}}, Most: 50, Rules: item.Rules{Words: item.Terms{Some: []string{"angstrom", "boat"}, None: []string{"lamp on the rope"}}, Tags: item.Terms{None: []string{"choir"}}, Languages: []string{"en"}, Days: 90, WithText: true, NoReplies: true}}
	var times []float64
	for range 9 {
		began := time.Now()
		found, err := feed.Named("jsonfeed").Read(context.Background(), &feed.Document{Address: "https://kelp.example/feed.json", Body: body, Now: now, Zone: "UTC"}, feed.Options{})
		if err != nil {
			return err
		}
		if len(found.Items) != bigList {
			return fmt.Errorf("%d items were read", len(found.Items))
		}
		for i := range found.Items {
			found.Items[i].Source = "src-a"
		}
		chosen := list.Select(found.Items, item.Conditions{Now: now, Zone: time.UTC, Room: 50})
		times = append(times, float64(time.Since(began).Microseconds())/1000)
		if len(chosen.Shown) != 50 || len(chosen.Out)+50 != bigList {
			return fmt.Errorf("%d items are shown, %d dropped", len(chosen.Shown), len(chosen.Out))
		}
	}
	b.report(figure{"read-and-filter-10000-items", slices.Min(times), 150, false, false, "ms"})
	return nil
}

// changeToVisitor measures from the start of a fetch that finds a change until a visitor receives it.
func changeToVisitor(b *bench) error {
	ctx := context.Background()
	c := b.demo.Client()
	list, err := c.Sources(ctx, "saltmarsh-ferry")
	if err != nil {
		return err
	}
	at := slices.IndexFunc(list, func(s wire.Source) bool { return strings.HasPrefix(s.Address, b.demo.Harbour) && s.Reader != "ical" })
	if at < 0 {
		return fmt.Errorf("the ferry has no notices")
	}
	var times []float64
	for range 7 {
		before, err := shownNow(b.demo.Public, "demo-ticker")
		if err != nil {
			return err
		}
		res, err := http.PostForm(b.demo.Harbour+"/control", url.Values{"change": {"add"}})
		if err != nil {
			return err
		}
		res.Body.Close()
		began := time.Now()
		if _, err := c.RefreshSource(ctx, list[at].ID); err != nil {
			return err
		}
		for time.Since(began) < 10*time.Second {
			now, err := shownNow(b.demo.Public, "demo-ticker")
			if err != nil {
				return err
			}
			if now != before {
				break
			}
			time.Sleep(time.Millisecond)
		}
		times = append(times, float64(time.Since(began).Microseconds())/1000)
	}
	b.report(figure{"changed-source-to-visitor", slices.Max(times), 2000, false, false, "ms"})
	return nil
}

func shownNow(public, key string) (string, error) {
	res, err := http.Get(public + "/s/" + key + ".json")
	if err != nil {
		return "", err
	}
	defer res.Body.Close()
	var p struct{ Markup string }
	return p.Markup, json.NewDecoder(res.Body).Decode(&p)
}
