// Package demo is the made-up Marrow Isles: customers, their pockets, and the host pages
// that carry the snippets. It works through the client, as anybody would.
package demo

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"strings"
	"time"

	"glasspocket/internal/client"
	"glasspocket/internal/host"
	"glasspocket/internal/widget"
	"glasspocket/internal/wire"
	"glasspocket/widgets"
)

// zone is the time zone of the Marrow Isles.
const zone = "Atlantic/Faroe"

var customers = []wire.NewCustomer{
	{ID: "kelp-and-kiln", Name: "Kelp & Kiln"},
	{ID: "northbeck-observatory", Name: "Northbeck Observatory"},
	{ID: "saltmarsh-ferry", Name: "Saltmarsh Ferry"},
	{ID: "thistle-hall-choir", Name: "Thistle Hall Choir"},
	{ID: "hask-orchard-cider", Name: "Hask Orchard Cider"},
}

// pocket is one pocket of the demo. in is how far its moment is from the demo's start.
type pocket struct {
	wire.NewPocket
	in       time.Duration
	settings map[string]any
	form     host.Form
}

var pockets = []pocket{
	{
		wire.NewPocket{Key: "demo-countdown", Customer: "kelp-and-kiln", Widget: "countdown", Starter: "harbour", Title: "The kiln opens again", Language: "en"},
		12*24*time.Hour + 7*time.Hour + 42*time.Minute,
		map[string]any{"heading": "The kiln opens again", "ending": "link", "endMessage": "The kiln is open", "endLabel": "See what came out", "endLink": "https://kelp-and-kiln.example/opening"},
		host.Script,
	},
	{
		wire.NewPocket{Key: "demo-night", Customer: "northbeck-observatory", Widget: "countdown", Starter: "observatory", Title: "Next open night", Language: "en"},
		3*24*time.Hour + 5*time.Hour + 18*time.Minute,
		map[string]any{"heading": "Next open night under the dome", "ending": "message", "endMessage": "The dome is open. Come up!"},
		host.Split,
	},
	{
		wire.NewPocket{Key: "demo-ferry", Customer: "saltmarsh-ferry", Widget: "countdown", Starter: "tideline", Title: "Winter timetable", Language: "en"},
		5*24*time.Hour + 11*time.Hour,
		map[string]any{"heading": "Winter timetable starts in", "units": "days-hours-minutes", "ending": "message", "endMessage": "The winter timetable is in force"},
		host.Frame,
	},
	{
		wire.NewPocket{Key: "demo-choir", Customer: "thistle-hall-choir", Widget: "countdown", Starter: "playbill", Title: "Frühlingskonzert", Language: "de"},
		26*24*time.Hour + 3*time.Hour,
		map[string]any{"heading": "Bis zum Frühlingskonzert"},
		host.Script,
	},
	{
		wire.NewPocket{Key: "demo-orchard", Customer: "hask-orchard-cider", Widget: "countdown", Starter: "harbour", Title: "First pressing", Language: "en"},
		-2 * time.Hour,
		map[string]any{"heading": "First pressing of the year", "accent": "#9a3412", "ink": "#3a2a18", "surface": "#f9efdf", "ending": "link", "endMessage": "The first pressing is in the shop", "endLabel": "How to find us", "endLink": "https://hask-orchard.example/shop"},
		host.Script,
	},
	{
		wire.NewPocket{Key: "demo-tally", Customer: "hask-orchard-cider", Widget: "countdown", Starter: "tally", Title: "Bottles of the season", Language: "en"},
		33 * 24 * time.Hour,
		map[string]any{"heading": "Filled this season", "to": 12400, "after": "bottles", "begins": pressed},
		host.Script,
	},
	{
		wire.NewPocket{Key: "demo-seats", Customer: "thistle-hall-choir", Widget: "countdown", Starter: "lantern", Title: "Plätze für Sie", Language: "de"},
		0,
		map[string]any{"heading": "Für Sie zurückgelegt", "units": "hours-minutes-seconds"},
		host.Script,
	},
}

// pressed is when the season's tally began, by the demo's start.
const pressed = -9 * 24 * time.Hour

// World is what the host pages show: a pocket's snippets, exactly as the service printed them.
type World struct {
	snippets map[string][]host.Part // by pocket key
}

// Settle releases the shipped widgets and makes customers and pockets. What an earlier
// demo left in the same data folder stays as it is.
func Settle(ctx context.Context, c *client.Client, now time.Time) (*World, error) {
	for _, name := range widgets.Names {
		folder, err := widgets.Folder(name)
		if err != nil {
			return nil, err
		}
		files, faults, err := widget.Collect(folder)
		if err := errors.Join(err, faults.Err()); err != nil {
			return nil, err
		}
		if _, err := c.Release(ctx, name, files); err != nil {
			return nil, err
		}
	}
	for _, n := range customers {
		if _, err := c.MakeCustomer(ctx, n); err != nil && !is(err, "customer-exists") {
			return nil, err
		}
	}
	w := &World{snippets: map[string][]host.Part{}}
	for _, p := range pockets {
		if err := p.make(ctx, c, now); err != nil {
			return nil, fmt.Errorf("%s: %w", p.Key, err)
		}
		s, err := c.Snippets(ctx, p.Key, p.form)
		if err != nil {
			return nil, fmt.Errorf("%s: %w", p.Key, err)
		}
		w.snippets[p.Key] = s.Snippets[0].Parts
	}
	return w, nil
}

func (p pocket) make(ctx context.Context, c *client.Client, now time.Time) error {
	made, err := c.MakePocket(ctx, p.NewPocket)
	if is(err, "key-exists") {
		return nil
	}
	if err != nil {
		return err
	}
	place, err := time.LoadLocation(zone)
	if err != nil {
		return err
	}
	change := map[string]json.RawMessage{}
	moment := func(in time.Duration) string {
		return now.Add(in).In(place).Truncate(time.Minute).Format("2006-01-02T15:04") + "[" + zone + "]"
	}
	for k, v := range p.settings {
		if in, ok := v.(time.Duration); ok {
			v = moment(in)
		}
		change[k], _ = json.Marshal(v)
	}
	change["target"], _ = json.Marshal(moment(p.in))
	draft, err := c.ChangeDraft(ctx, p.Key, made.Revision, change)
	if err != nil {
		return err
	}
	_, err = c.Publish(ctx, p.Key, wire.Publish{Revision: draft.Revision})
	return err
}

func is(err error, code string) bool {
	var p *client.Problem
	return errors.As(err, &p) && p.Code == code
}

// snippet joins the parts of a pocket's snippet from index from to to, as pasted.
func (w *World) snippet(key string, from, to int) string {
	var parts []string
	for _, p := range w.snippets[key][from:min(to, len(w.snippets[key]))] {
		parts = append(parts, p.Text)
	}
	return strings.Join(parts, "\n")
}
