// Package demo creates the fictional Marrow Isles: customers, their pockets, and the host pages
// with the snippets. It uses the client, like anybody else.
package demo

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"strings"
	"time"

	"glasspocket/internal/bundle"
	"glasspocket/internal/client"
	"glasspocket/internal/content"
	"glasspocket/internal/host"
	"glasspocket/internal/setting"
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
	{ID: "teasel-hall-choir", Name: "Teasel Hall Choir"},
	{ID: "hask-orchard-cider", Name: "Hask Orchard Cider"},
}

// example is a pocket of the demo. in is the time from the demo's start to a countdown's moment. The
// other widgets start with their sample content.
type example struct {
	wire.NewPocket
	in       time.Duration
	settings map[string]any
	form     host.Delivery
}

var pockets = []example{
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
		wire.NewPocket{Key: "demo-choir", Customer: "teasel-hall-choir", Widget: "countdown", Starter: "opening-night", Title: "Frühlingskonzert", Language: "de"},
		26*24*time.Hour + 3*time.Hour,
		map[string]any{"heading": "Bis zum Frühlingskonzert"},
		host.Script,
	},
	{
		wire.NewPocket{Key: "demo-orchard", Customer: "hask-orchard-cider", Widget: "countdown", Starter: "harbour", Title: "First pressing", Language: "en"},
		-2 * time.Hour,
		map[string]any{"heading": "First pressing of the year", "accent": "#8a3b12", "ink": "#3a2a18", "surface": "#f9efdf", "ending": "link", "endMessage": "The first pressing is in the shop", "endLabel": "How to find us", "endLink": "https://hask-orchard.example/shop"},
		host.Script,
	},
	{
		wire.NewPocket{Key: "demo-bottles", Customer: "hask-orchard-cider", Widget: "countdown", Starter: "season-count", Title: "Bottles of the season", Language: "en"},
		33 * 24 * time.Hour,
		map[string]any{"heading": "Filled this season", "to": 12400, "after": "bottles", "begins": pressed},
		host.Script,
	},
	{
		wire.NewPocket{Key: "demo-seats", Customer: "teasel-hall-choir", Widget: "countdown", Starter: "lantern", Title: "Plätze für Sie", Language: "de"},
		0,
		map[string]any{"heading": "Für Sie zurückgelegt", "units": "hours-minutes-seconds"},
		host.Script,
	},
	{
		wire.NewPocket{Key: "demo-section", Customer: "kelp-and-kiln", Widget: "section", Starter: "boathouse", Title: "Evenings at the wheel", Language: "en"},
		0, map[string]any{}, host.Script,
	},
	{
		wire.NewPocket{Key: "demo-reviews", Customer: "kelp-and-kiln", Widget: "reviews", Starter: "shelf", Title: "What people say", Language: "en"},
		0, map[string]any{"surface": "#ffffff", "accent": "#9a3f12", "titleFace": "book", "width": 280, "reviews": []any{}}, host.Script,
	},
	{
		wire.NewPocket{Key: "demo-progress", Customer: "northbeck-observatory", Widget: "progress", Starter: "dusk", Title: "How far you have read", Language: "en"},
		0, map[string]any{"thickness": 6, "gradient": gradient{90, []stop{{"#2f3069", 0}, {"#9d8be0", 60}, {"#62cdbf", 100}}}}, host.Split,
	},
	{
		wire.NewPocket{Key: "demo-person", Customer: "northbeck-observatory", Widget: "person", Starter: "dome", Title: "Eske Lindqvist-Moor", Language: "en"},
		0, person("eske", "Eske Lindqvist-Moor", "Keeper of the dome", "Knows where to look, and when not to bother.", "Eske grinds the mirrors, greases the roof and writes the log. Ask for the night of the green arc."), host.Split,
	},
	{
		wire.NewPocket{Key: "demo-person-tjark", Customer: "northbeck-observatory", Widget: "person", Starter: "dome", Title: "Tjark Saltmarsh", Language: "en"},
		0, person("tjark", "Tjark Saltmarsh", "Boatman", "Brings you over, and waits until the last telescope is covered.", "Tjark has steered by these stars for thirty years and still asks for their names."), host.Split,
	},
	{
		wire.NewPocket{Key: "demo-person-ola", Customer: "northbeck-observatory", Widget: "person", Starter: "dome", Title: "Ola Hask", Language: "en"},
		0, person("ola", "Ola Hask", "Tea, soup, blankets", "Keeps everybody warm between two exposures.", "Ola runs the orchard by day. On open nights the cider is hot and the soup is on the stove from nine."), host.Split,
	},
	{
		wire.NewPocket{Key: "demo-ticker", Customer: "saltmarsh-ferry", Widget: "ticker", Starter: "quay", Title: "On the isles today", Language: "en"},
		0, map[string]any{"surface": "#0b3a53", "accent": "#f3e2a0"}, host.Script,
	},
	{
		wire.NewPocket{Key: "demo-feed", Customer: "kelp-and-kiln", Widget: "feed", Starter: "jetty", Title: "News from the boathouse", Language: "en"},
		0, map[string]any{"accent": "#9a3f12", "titleFace": "book", "posts": []any{}}, host.Script,
	},
	{
		wire.NewPocket{Key: "demo-dates", Customer: "teasel-hall-choir", Widget: "dates", Starter: "season", Title: "Termine", Language: "de"},
		0, map[string]any{"title": "Nächste Termine", "dates": []any{}}, host.Script,
	},
	{
		wire.NewPocket{Key: "demo-notices", Customer: "saltmarsh-ferry", Widget: "notices", Starter: "slate", Title: "Harbour notices", Language: "en"},
		0, map[string]any{"notices": []any{}}, host.Frame,
	},
	{
		wire.NewPocket{Key: "demo-cards", Customer: "saltmarsh-ferry", Widget: "cards", Starter: "shore", Title: "Around the Marrow Isles", Language: "en"},
		0, map[string]any{}, host.Script,
	},
	{
		wire.NewPocket{Key: "demo-popup", Customer: "hask-orchard-cider", Widget: "popup", Starter: "harvest", Title: "First pressing", Language: "en"},
		0, map[string]any{"opens": "depth", "depth": 60}, host.Script,
	},
}

type gradient struct {
	Angle int    `json:"angle"`
	Stops []stop `json:"stops"`
}

type stop struct {
	Colour string `json:"colour"`
	At     int    `json:"at"`
}

func person(asset, name, role, summary, about string) map[string]any {
	return map[string]any{
		"name": name, "role": role, "summary": summary, "about": "<p>" + about + "</p>",
		"picture":  map[string]any{"asset": "assets/" + asset + ".svg", "alt": "Portrait of " + name},
		"contacts": []any{map[string]any{"icon": "mail", "label": "Write to " + strings.Fields(name)[0], "link": map[string]any{"address": "mailto:" + asset + "@northbeck.example"}}},
	}
}

// pressed is when the season's count starts, relative to the demo's start.
const pressed = -9 * 24 * time.Hour

// World has what the host pages show: the pockets' snippets, exactly as the service returned them.
type World struct {
	snippets map[string][]host.Part // by pocket key
}

// Settle releases the included widgets and creates customers and pockets. What an earlier demo left
// in the same data folder stays.
func Settle(ctx context.Context, c *client.Client, now time.Time, places Places) (*World, error) {
	samples := map[string]setting.Values{}
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
		if samples[name], err = sample(files, now); err != nil {
			return nil, fmt.Errorf("%s: %w", name, err)
		}
	}
	for _, n := range customers {
		if _, err := c.MakeCustomer(ctx, n); err != nil && !is(err, "customer-exists") {
			return nil, err
		}
	}
	sources, err := connect(ctx, c, places)
	if err != nil {
		return nil, err
	}
	w := &World{snippets: map[string][]host.Part{}}
	for _, p := range pockets {
		if err := p.make(ctx, c, now, samples[p.Widget], sources); err != nil {
			return nil, fmt.Errorf("%s: %w", p.Key, err)
		}
		s, err := c.Snippets(ctx, p.Key, p.form)
		if err != nil {
			return nil, fmt.Errorf("%s: %w", p.Key, err)
		}
		w.snippets[p.Key] = s.Snippets[0].Parts
	}
	return w, dress(ctx, c, now)
}

func (p example) make(ctx context.Context, c *client.Client, now time.Time, sample setting.Values, sources map[string]string) error {
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
	settings := map[string]any{}
	if p.Widget == "countdown" {
		settings["target"] = p.in
	} else {
		maps.Copy(settings, sample)
		draft, err := c.Draft(ctx, p.Key)
		if err != nil {
			return err
		}
		var begun map[string]any // the starter's values take precedence over the sample
		if err := json.Unmarshal(draft.Settings, &begun); err != nil {
			return err
		}
		for key := range begun {
			delete(settings, key)
		}
	}
	maps.Copy(settings, p.settings)
	for k, v := range settings {
		if in, ok := v.(time.Duration); ok {
			v = moment(in)
		}
		change[k], _ = json.Marshal(v)
	}
	draft, err := c.ChangeDraft(ctx, p.Key, made.Revision, change)
	if err != nil {
		return err
	}
	if lists := listsOf(p.Key, sources); lists != nil {
		if draft, err = c.ChangePocket(ctx, p.Key, draft.Revision, wire.ChangePocket{Change: content.Change{Sources: &lists}}); err != nil {
			return err
		}
	}
	_, err = c.Publish(ctx, p.Key, wire.Publish{Revision: draft.Revision})
	return err
}

// sample returns a widget's sample content, with moments relative to the demo's start.
func sample(files widget.Files, now time.Time) (setting.Values, error) {
	r, faults := widget.Read(files, bundle.Builder{})
	if err := faults.Err(); err != nil {
		return nil, err
	}
	values, faults := r.Sample(now)
	return values, faults.Err()
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
