package main

import (
	"encoding/json"
	"errors"
	"flag"
	"fmt"
	"io"
	"os"
	"slices"
	"strings"

	"glasspocket/internal/client"
	"glasspocket/internal/clip"
	"glasspocket/internal/fault"
	"glasspocket/internal/setting"
	"glasspocket/internal/wire"
)

// show writes a setting's value in the form that FromText reads.
func show(raw json.RawMessage) string {
	var text string
	if json.Unmarshal(raw, &text) == nil {
		return text
	}
	return string(raw)
}

// brief writes a value for a table cell; a list becomes its number of items.
func brief(raw json.RawMessage) string {
	var list []map[string]any
	if json.Unmarshal(raw, &list) == nil && len(list) > 0 {
		return counted(len(list), "item")
	}
	return clip.Text(strings.Join(strings.Fields(show(raw)), " "), cellMost)
}

// cellMost is the number of characters of a value that a table shows.
const cellMost = 72

var readVerb = verb{
	arguments: "KEY [SETTING …]", about: "Print a pocket's settings: all, several or one",
	examples: []string{"read demo-countdown accent", "read demo-countdown -json > settings.json"},
	flags: func(f *flag.FlagSet) func(*session) error {
		return func(s *session) error {
			if len(s.args) == 0 {
				return usagef("name the pocket: read KEY")
			}
			key, wanted := s.args[0], s.args[1:]
			draft, p, err := s.draft(key)
			if err != nil {
				return err
			}
			values := map[string]json.RawMessage{}
			if err := json.Unmarshal(draft.Settings, &values); err != nil {
				return err
			}
			w, err := s.api.WidgetOf(s.ctx, p.Widget, p.Key)
			if err != nil {
				return err
			}
			small := map[string]json.RawMessage{}
			if raw, ok := values[setting.SmallKey]; ok {
				if err := json.Unmarshal(raw, &small); err != nil {
					return err
				}
			}
			for _, name := range wanted {
				name = strings.TrimPrefix(name, onSmall)
				if (&setting.Schema{Settings: w.Settings}).Get(name) == nil {
					return unknownSetting(name, w)
				}
			}
			if s.json {
				if len(wanted) > 0 {
					for name := range values {
						if !slices.Contains(wanted, name) {
							delete(values, name)
						}
					}
				}
				return s.print(values)
			}
			var rows [][]string
			add := func(name, kind string, raw json.RawMessage, from string) bool {
				switch {
				case len(wanted) > 0 && !slices.Contains(wanted, name):
				case len(wanted) == 1: // a single value in full, for scripts
					fmt.Fprintln(s.out, show(raw))
					return true
				default:
					rows = append(rows, []string{name, kind, brief(raw), from})
				}
				return false
			}
			for _, set := range w.Settings {
				raw, from := json.RawMessage(`""`), "not set"
				if value, ok := values[set.Key]; ok {
					raw, from = value, "draft"
				} else if set.Default != nil {
					raw, _ = json.Marshal(set.Default)
					from = "default"
				}
				if add(set.Key, set.Type, raw, from) {
					return nil
				}
				if on, ok := small[set.Key]; ok {
					raw, from = on, "draft"
				} else if from = "same"; !slices.Contains(wanted, onSmall+set.Key) {
					continue
				}
				if add(onSmall+set.Key, set.Type, raw, from) {
					return nil
				}
			}
			s.table("SETTING | TYPE | VALUE | FROM", rows, "The widget has no settings.")
			return nil
		}
	},
}

// onSmall is the prefix of a setting's name on small screens.
const onSmall = setting.SmallKey + "/"

func (s *session) draft(key string) (wire.Draft, wire.Pocket, error) {
	p, err := s.api.Pocket(s.ctx, key)
	if err != nil {
		return wire.Draft{}, p, err
	}
	d, err := s.api.Draft(s.ctx, key)
	return d, p, err
}

func unknownSetting(name string, w wire.Widget) error {
	keys := make([]string, len(w.Settings))
	for i, set := range w.Settings {
		keys[i] = set.Key
	}
	return fault.List{{Field: name, Code: fault.SettingUnknown, What: fmt.Sprintf("The widget %s has no setting %q.", w.Name, name), Fix: fault.DidYouMean(name, keys)}}
}

var setVerb = verb{
	arguments: "KEY NAME=VALUE … | KEY -file FILE", about: "Change settings in a pocket's draft: one, several, or all from a file",
	examples: []string{
		"set demo-countdown accent=#b4532a 'target=2099-03-01T18:00[Europe/Berlin]'",
		"set demo-reviews small/layout=single # on small screens only",
	},
	flags: func(f *flag.FlagSet) func(*session) error {
		title := f.String("title", "", "the pocket's `title`")
		language := f.String("language", "", "the pocket's `language`, a BCP 47 tag")
		file := f.String("file", "", "replace all settings with the JSON object in this `file`, or - for standard input")
		return func(s *session) error {
			if len(s.args) == 0 {
				return usagef("name the pocket: set KEY NAME=VALUE")
			}
			key, pairs := s.args[0], s.args[1:]
			if *title != "" || *language != "" {
				draft, err := s.api.Draft(s.ctx, key)
				if err != nil {
					return err
				}
				out, err := s.api.ChangePocket(s.ctx, key, draft.Revision, wire.ChangePocket{Title: *title, Language: *language})
				if err != nil || len(pairs) == 0 && *file == "" {
					return s.saved(key, out, err)
				}
			}
			if (*file == "") == (len(pairs) == 0) {
				return usagef("give NAME=VALUE or -file, not both and not neither")
			}
			if *file != "" {
				return s.setFile(key, *file)
			}
			return s.setPairs(key, pairs)
		}
	},
}

func (s *session) setFile(key, file string) error {
	var text []byte
	var err error
	if file == "-" {
		text, err = io.ReadAll(s.stdin)
	} else {
		text, err = os.ReadFile(file)
	}
	if err != nil {
		return fmt.Errorf("the settings file cannot be read: %w", err)
	}
	draft, p, err := s.draft(key)
	if err != nil {
		return err
	}
	// Check here first, so that faults point into the file as written.
	w, err := s.api.WidgetOf(s.ctx, p.Widget, p.Key)
	if err != nil {
		return err
	}
	schema := &setting.Schema{Settings: w.Settings}
	if err := schema.Prepare(); err != nil {
		return err
	}
	if _, faults := schema.CheckJSON(text); len(faults) > 0 {
		s.sources = map[string][]byte{file: text}
		return faults.In(file)
	}
	out, err := s.api.ReplaceDraft(s.ctx, key, draft.Revision, text)
	return s.saved(key, out, err)
}

func (s *session) setPairs(key string, pairs []string) error {
	draft, p, err := s.draft(key)
	if err != nil {
		return err
	}
	w, err := s.api.WidgetOf(s.ctx, p.Widget, p.Key)
	if err != nil {
		return err
	}
	change, small := map[string]json.RawMessage{}, map[string]json.RawMessage{}
	var unknown fault.List
	for _, pair := range pairs {
		name, typed, ok := strings.Cut(pair, "=")
		if !ok {
			return usagef("%q is not NAME=VALUE", pair)
		}
		into := change
		if plain, on := strings.CutPrefix(name, onSmall); on {
			name, into = plain, small
		}
		set := (&setting.Schema{Settings: w.Settings}).Get(name)
		switch {
		case set == nil:
			unknown = append(unknown, unknownSetting(name, w).(fault.List)...)
		case typed == "":
			into[name] = json.RawMessage("null")
		default:
			into[name] = set.FromText(typed)
			if of, refers := strings.CutPrefix(typed, "brand:"); refers && set.Branded() {
				into[name], _ = json.Marshal(setting.BrandRef(of))
			}
		}
	}
	if len(small) > 0 {
		change[setting.SmallKey], _ = json.Marshal(small)
	}
	if len(unknown) > 0 {
		return unknown
	}
	out, err := s.api.ChangeDraft(s.ctx, key, draft.Revision, change)
	return s.saved(key, out, err)
}

func (s *session) saved(key string, out wire.Draft, err error) error {
	if err != nil || s.json {
		return orPrint(s, unplaced(err), out)
	}
	fmt.Fprintf(s.out, "Saved in the draft (revision %d). To show it to visitors: glasspocket publish %s\n", out.Revision, key)
	return nil
}

// unplaced deletes the positions from faults: the service's positions point into the request, which
// the user of the command line never saw.
func unplaced(err error) error {
	var p *client.Problem
	if errors.As(err, &p) {
		for i := range p.Faults {
			p.Faults[i].Line = 0
		}
	}
	return err
}
