package demo

import (
	"context"
	"fmt"

	"glasspocket/internal/client"
	"glasspocket/internal/content"
	"glasspocket/internal/feed"
	"glasspocket/internal/item"
	"glasspocket/internal/wire"
)

// Places are the addresses of the stand-ins, without a slash at the end. Without them, the demo has
// no sources.
type Places struct {
	Voices  string `json:"voices"`
	Skerry  string `json:"skerry"`
	Harbour string `json:"harbour"`
}

// connect connects the customers' sources, and returns their IDs by name.
func connect(ctx context.Context, c *client.Client, at Places) (map[string]string, error) {
	ids := map[string]string{}
	if at.Voices == "" {
		return ids, nil
	}
	for _, s := range []struct {
		customer string
		wire.NewSource
	}{
		{"kelp-and-kiln", wire.NewSource{Name: "Kelp & Kiln on Marrow Voices", Reader: "page", Address: at.Voices + "/b/kelp-and-kiln", Options: feed.Options{Part: item.Review}}},
		{"kelp-and-kiln", wire.NewSource{Name: "Kelp & Kiln on Skerry", Reader: "activity", Address: at.Skerry + "/users/kiln"}},
		{"saltmarsh-ferry", wire.NewSource{Name: "Harbour notices", Reader: "json", Address: at.Harbour + "/notices.json", Options: feed.Options{Kind: item.Notice,
			Mapping: map[string]string{feed.ListKey: "/notices", "id": "/id", "title": "/headline", "text": "/body", "importance": "/priority", "at": "/posted/at", "expires": "/validUntil"}}}},
		{"saltmarsh-ferry", wire.NewSource{Name: "Crossings", Reader: "ical", Address: at.Harbour + "/calendars/ferry.ics"}},
		{"teasel-hall-choir", wire.NewSource{Name: "Concerts", Reader: "ical", Address: at.Harbour + "/calendars/choir.ics"}},
	} {
		known, err := c.Sources(ctx, s.customer)
		if err != nil {
			return nil, err
		}
		for _, has := range known {
			if has.Name == s.Name {
				ids[s.Name] = has.ID
			}
		}
		if ids[s.Name] != "" {
			continue
		}
		made, err := c.ConnectSource(ctx, s.customer, s.NewSource)
		if err != nil {
			return nil, fmt.Errorf("%s: %w", s.Name, err)
		}
		ids[s.Name] = made.ID
	}
	return ids, nil
}

// listsOf returns the lists of a pocket whose content comes from sources.
func listsOf(key string, sources map[string]string) content.Lists {
	from := func(name string) []item.From { return []item.From{{Source: sources[name]}} }
	switch {
	case len(sources) == 0:
		return nil
	case key == "demo-reviews":
		return content.Lists{"reviews": {From: from("Kelp & Kiln on Marrow Voices"), Rules: item.Rules{Rating: 3, WithText: true}, Most: 12}}
	case key == "demo-feed":
		return content.Lists{"posts": {From: from("Kelp & Kiln on Skerry")}}
	case key == "demo-dates":
		return content.Lists{"dates": {From: from("Concerts"), Order: item.Next}}
	case key == "demo-notices":
		return content.Lists{"notices": {From: from("Harbour notices")}}
	case key == "demo-ticker":
		return content.Lists{"notices": {From: from("Harbour notices"), Most: 6}}
	}
	return nil
}
