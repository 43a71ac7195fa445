package demo

import (
	"context"
	"fmt"
	"time"

	"glasspocket/internal/app/pocket"
	"glasspocket/internal/client"
	"glasspocket/internal/setting"
	"glasspocket/internal/wire"
)

// brands are what customers' new pockets start with.
var brands = map[string][]setting.BrandValue{
	"kelp-and-kiln": {
		{Name: "ink", Type: "colour", Value: "#3b2417"}, {Name: "ground", Type: "colour", Value: "#fbf5ee"}, {Name: "accent", Type: "colour", Value: "#9a4826"}, {Name: "onAccent", Type: "colour", Value: "#ffffff"},
		{Name: "heading", Type: "font", Value: "book"}, {Name: "glaze", Type: "colour", Label: "Celadon glaze", Value: "#7fa79a"},
	},
	"northbeck-observatory": {
		{Name: "ink", Type: "colour", Value: "#eef3ff"}, {Name: "ground", Type: "colour", Value: "#0d1430"}, {Name: "accent", Type: "colour", Value: "#8fd3ff"},
	},
	"saltmarsh-ferry": {
		{Name: "ink", Type: "colour", Value: "#0b3a53"}, {Name: "ground", Type: "colour", Value: "#f3f7fa"}, {Name: "accent", Type: "colour", Value: "#b4532a"}, {Name: "text", Type: "font", Value: "narrow"},
	},
}

// dress adds the customers' brands and sites, and preview cases of two pockets. Existing data
// stays.
func dress(ctx context.Context, c *client.Client, now time.Time) error {
	place := zone
	for _, n := range customers {
		is, err := c.Customer(ctx, n.ID)
		if err != nil {
			return err
		}
		if is.Revision > 1 {
			continue
		}
		revision := is.Revision
		if values := brands[n.ID]; values != nil {
			b, err := c.ChangeBrand(ctx, n.ID, revision, values)
			if err != nil {
				return fmt.Errorf("%s: %w", n.ID, err)
			}
			revision = b.Revision
		}
		if _, err := c.ChangeCustomer(ctx, n.ID, revision, wire.ChangeCustomer{Zone: &place, Sites: []string{n.ID + ".example", "*." + n.ID + ".example"}}); err != nil {
			return err
		}
	}
	at, err := time.LoadLocation(zone)
	if err != nil {
		return err
	}
	ends := now.Add(pockets[0].in).In(at).Truncate(time.Minute)
	for _, each := range []struct {
		key, name string
		in        pocket.Conditions
	}{
		{"demo-countdown", "Last ten seconds", pocket.Conditions{Moment: ends.Add(-10*time.Second).Format("2006-01-02T15:04:05") + "[" + zone + "]"}},
		{"demo-countdown", "When it is over", pocket.Conditions{Moment: ends.Add(time.Minute).Format("2006-01-02T15:04:05") + "[" + zone + "]", Frozen: true}},
		{"demo-countdown", "On a phone", pocket.Conditions{Width: 360}},
		{"demo-countdown", "In Arabic, at night", pocket.Conditions{Language: "ar", Page: "dark"}},
		{"demo-popup", "Second visit", pocket.Conditions{Visitor: "returning"}},
	} {
		if _, err := c.SavePreviewCase(ctx, each.key, each.name, each.in); err != nil {
			return err
		}
	}
	return nil
}
