package main

import (
	"encoding/json"
	"flag"
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"

	"glasspocket/internal/content"
	"glasspocket/internal/item"
	"glasspocket/internal/setting"
	"glasspocket/internal/wire"
)

// listing is a list of a pocket, with the draft that it is in.
type listing struct {
	key, list string
	draft     wire.Draft
	item.Listing
}

// listing reads a list of a pocket: the one that is named, or the widget's only one.
func (s *session) listing(key, list string) (l listing, err error) {
	l = listing{key: key, list: list}
	p, err := s.api.Pocket(s.ctx, key)
	if err != nil {
		return l, err
	}
	w, err := s.api.Widget(s.ctx, p.Widget)
	if err != nil {
		return l, err
	}
	var lists []string
	for _, set := range w.Settings {
		if set.Type == "items" {
			lists = append(lists, set.Key)
		}
	}
	switch {
	case len(lists) == 0:
		return l, fmt.Errorf("the widget %s has no list of items, so %s cannot have sources", p.Widget, key)
	case l.list == "" && len(lists) > 1:
		return l, usagef("the widget has several lists: %s. Name one with -list", strings.Join(lists, ", "))
	case l.list == "":
		l.list = lists[0]
	}
	if l.draft, err = s.api.Draft(s.ctx, key); err != nil {
		return l, err
	}
	l.Listing = l.draft.Sources[l.list]
	return l, nil
}

// save saves a list in the draft.
func (s *session) save(l listing) error {
	lists := content.Lists{}
	maps.Copy(lists, l.draft.Sources)
	lists[l.list] = l.Listing
	_, err := s.api.ChangePocket(s.ctx, l.key, l.draft.Revision, wire.ChangePocket{Change: content.Change{Sources: &lists}})
	return err
}

var filterVerb = verb{
	arguments: "KEY", about: "Choose the sources, rules and order of a pocket's items",
	examples: []string{"filter demo-reviews # shows the present rules and what they drop", "filter demo-reviews -rating 4 -no-words refund -order best -most 8"},
	flags: func(f *flag.FlagSet) func(*session) error {
		list := f.String("list", "", "`key` of the list, if the widget has several")
		sources := f.String("sources", "", "`IDs` of the sources in order, separated by commas; “none” for typed-in items only")
		words := f.String("words", "", "only items with one of these `words` or phrases, separated by commas; “any” ends the rule")
		noWords := f.String("no-words", "", "no items with one of these `words`; “none” ends the rule")
		tags := f.String("tags", "", "only items with one of these `tags`; “any” ends the rule")
		noTags := f.String("no-tags", "", "no items with one of these `tags`; “none” ends the rule")
		languages := f.String("languages", "", "only items in these `languages`; “any” ends the rule")
		rating := f.String("rating", "", "at least this `number` of stars out of 5; 0 ends the rule")
		days := f.String("days", "", "not older than this `number` of days; 0 ends the rule")
		most := f.String("most", "", "at most this `number` of items; 0 for as many as the widget takes")
		each := f.String("each", "", "at most this `number` of items from each source; 0 ends the rule")
		order := f.String("order", "", "`order`: "+strings.Join(item.Orders, ", "))
		average := f.String("average", "", "`what` an average rating covers: all or shown")
		text := f.String("with-text", "", "`yes` for only items with a text, or no")
		image := f.String("with-image", "", "`yes` for only items with an image, or no")
		replies := f.String("replies", "", "`no` leaves out posts that answer another one, or yes")
		upcoming := f.String("upcoming", "", "`yes` leaves out dates that are over, or no")
		repeats := f.String("duplicates", "", "`yes` shows duplicates, too, or no")
		return func(s *session) error {
			key, err := s.one("pocket")
			if err != nil {
				return err
			}
			l, err := s.listing(key, *list)
			if err != nil {
				return err
			}
			before, _ := json.Marshal(l.Listing)
			if *sources != "" {
				was := map[string]int{}
				for _, from := range l.From {
					was[from.Source] = from.Most
				}
				l.From = nil
				for _, id := range split(*sources) {
					l.From = append(l.From, item.From{Source: id, Most: was[id]})
				}
			}
			for _, each := range []struct {
				given string
				to    *[]string
			}{{*words, &l.Words.Some}, {*noWords, &l.Words.None}, {*tags, &l.Tags.Some}, {*noTags, &l.Tags.None}, {*languages, &l.Languages}} {
				if each.given != "" {
					*each.to = split(each.given)
				}
			}
			if *rating != "" {
				if l.Rating, err = strconv.ParseFloat(*rating, 64); err != nil {
					return usagef("-rating is a number of stars from 0 to 5")
				}
			}
			for _, each := range []struct {
				name, given string
				to          *int
			}{{"days", *days, &l.Days}, {"most", *most, &l.Most}} {
				if each.given == "" {
					continue
				}
				if *each.to, err = strconv.Atoi(each.given); err != nil {
					return usagef("-%s is a whole number", each.name)
				}
			}
			if *each != "" {
				n, err := strconv.Atoi(*each)
				if err != nil {
					return usagef("-each is a whole number")
				}
				for i := range l.From {
					l.From[i].Most = n
				}
			}
			if *order != "" {
				l.Order = *order
			}
			if *average != "" {
				l.Average = *average
			}
			for _, each := range []struct {
				name, given string
				to          *bool
				yes         bool
			}{{"with-text", *text, &l.WithText, true}, {"with-image", *image, &l.WithImage, true}, {"replies", *replies, &l.NoReplies, false}, {"upcoming", *upcoming, &l.Upcoming, true}, {"duplicates", *repeats, &l.Repeats, true}} {
				switch each.given {
				case "":
				case "yes", "no":
					*each.to = (each.given == "yes") == each.yes
				default:
					return usagef("-%s is yes or no", each.name)
				}
			}
			after, _ := json.Marshal(l.Listing)
			if string(before) == string(after) {
				return s.showSelection(l, false)
			}
			if err := s.save(l); err != nil {
				return err
			}
			return s.showSelection(l, true)
		}
	},
}

// split splits a list at its commas. “none” and “any” are empty lists.
func split(text string) (list []string) {
	if text == "none" || text == "any" {
		return nil
	}
	for part := range strings.SplitSeq(text, ",") {
		if part = strings.TrimSpace(part); part != "" {
			list = append(list, part)
		}
	}
	return list
}

// showSelection prints which items a list shows, and why it drops the others.
func (s *session) showSelection(l listing, saved bool) error {
	out, err := s.api.Selection(s.ctx, l.key, l.list, wire.NewSelection{})
	if err != nil || s.json {
		return orPrint(s, err, out)
	}
	fmt.Fprintf(s.out, "%s of %s shows %d of %s: %s.\n", l.list, l.key, len(out.Shown), counted(out.Total, "item"), out.List.InWords())
	var rows [][]string
	for _, r := range out.Rules {
		rows = append(rows, []string{r.Label, strconv.Itoa(r.Keeps), strconv.Itoa(r.Drops)})
	}
	if len(rows) > 0 {
		s.table("RULE | KEEPS | DROPS", rows, "")
	}
	if rows = nil; len(out.Dropped) > 0 {
		for _, d := range out.Dropped {
			var why []string
			for _, r := range d.Reasons {
				why = append(why, r.Why)
			}
			rows = append(rows, []string{nameOfItem(d.Item), strings.Join(why, " ")})
		}
		fmt.Fprintln(s.out)
		s.table("NOT SHOWN | WHY", rows, "")
	}
	if saved {
		fmt.Fprintf(s.out, "\nSaved in the draft. To show it to visitors: glasspocket publish %s\n", l.key)
	}
	return nil
}

// found finds an item of a list by its ID, or by words that only it has.
func (s *session) found(l listing, words string) (wire.SourceItem, error) {
	out, err := s.api.Selection(s.ctx, l.key, l.list, wire.NewSelection{})
	if err != nil {
		return wire.SourceItem{}, err
	}
	all := slices.Clone(out.Shown)
	for _, d := range out.Dropped {
		all = append(all, d.Item)
	}
	var hits []wire.SourceItem
	for _, it := range all {
		if it.ID == words {
			return it, nil
		}
		text, _ := json.Marshal(it.Values)
		if strings.Contains(item.Fold(string(text)), item.Fold(words)) {
			hits = append(hits, it)
		}
	}
	switch len(hits) {
	case 1:
		return hits[0], nil
	case 0:
		return wire.SourceItem{}, fmt.Errorf("no item of %s has the words “%s”", l.key, words)
	}
	var names []string
	for _, it := range hits[:min(len(hits), 5)] {
		names = append(names, it.ID+" “"+nameOfItem(it)+"”")
	}
	return wire.SourceItem{}, fmt.Errorf("%d items have the words “%s”. Name one by its ID: %s", len(hits), words, strings.Join(names, ", "))
}

var hideVerb = picking("hide", "Hide an item in a pocket, whatever its rules", "It is hidden.", "It is not hidden any more.", []string{"hide demo-reviews 'Cold room'", "hide demo-reviews 'Cold room' -undo"},
	func(l *item.Listing, id string, undo bool) {
		l.Hidden = toggled(l.Hidden, id, undo)
		l.Pinned = toggled(l.Pinned, id, true)
	})

var pinVerb = picking("pin", "Show an item of a pocket first, whatever its rules", "It comes first.", "It is not pinned any more.", []string{"pin demo-reviews 'Worth the crossing'", "pin demo-reviews 'Worth the crossing' -undo"},
	func(l *item.Listing, id string, undo bool) {
		l.Pinned = toggled(l.Pinned, id, undo)
		l.Hidden = toggled(l.Hidden, id, true)
	})

// toggled adds an ID to a list, or removes it.
func toggled(list []string, id string, remove bool) []string {
	list = slices.DeleteFunc(slices.Clone(list), func(has string) bool { return has == id })
	if !remove {
		list = append(list, id)
	}
	return list
}

// picking makes a verb that changes one item of a list.
func picking(name, about, done, undone string, examples []string, change func(l *item.Listing, id string, undo bool)) verb {
	return verb{arguments: "KEY ITEM | KEY WORDS", about: about, examples: examples, flags: func(f *flag.FlagSet) func(*session) error {
		list := f.String("list", "", "`key` of the list, if the widget has several")
		undo := f.Bool("undo", false, "undo it")
		return func(s *session) error {
			if len(s.args) != 2 {
				return usagef("name the pocket and the item: %s KEY WORDS", name)
			}
			l, err := s.listing(s.args[0], *list)
			if err != nil {
				return err
			}
			it, err := s.found(l, s.args[1])
			if err != nil {
				return err
			}
			change(&l.Listing, it.ID, *undo)
			if err := s.save(l); err != nil {
				return err
			}
			said := done
			if *undo {
				said = undone
			}
			return s.done(it, "“%s”: %s\nTo show it to visitors: glasspocket publish %s\n", nameOfItem(it), said, l.key)
		}
	}}
}

var correctVerb = verb{
	arguments: "KEY ITEM FIELD=VALUE … | KEY WORDS FIELD=VALUE …", about: "Correct fields of an item in a pocket, whatever its source says",
	examples: []string{"correct demo-reviews 'Good tea' 'title=Good tea, harder stools'", "correct demo-reviews 'Good tea' -undo"},
	flags: func(f *flag.FlagSet) func(*session) error {
		list := f.String("list", "", "`key` of the list, if the widget has several")
		undo := f.Bool("undo", false, "show the item again as its source has it")
		return func(s *session) error {
			if len(s.args) < 2 || *undo == (len(s.args) > 2) {
				return usagef("name the pocket, the item and FIELD=VALUE, or use -undo")
			}
			l, err := s.listing(s.args[0], *list)
			if err != nil {
				return err
			}
			it, err := s.found(l, s.args[1])
			if err != nil {
				return err
			}
			corrections := map[string]map[string]any{}
			maps.Copy(corrections, l.Corrections)
			fields := map[string]any{}
			maps.Copy(fields, corrections[it.ID])
			for _, pair := range s.args[2:] {
				field, value, ok := strings.Cut(pair, "=")
				if !ok {
					return usagef("%q is not FIELD=VALUE", pair)
				}
				if fields[field], err = correction(field, value); err != nil {
					return err
				}
			}
			if corrections[it.ID] = fields; *undo {
				delete(corrections, it.ID)
			}
			l.Corrections = corrections
			if err := s.save(l); err != nil {
				return err
			}
			said := "It is corrected in this pocket."
			if *undo {
				said = "It is as its source has it."
			}
			return s.done(it, "“%s”: %s\nTo show it to visitors: glasspocket publish %s\n", nameOfItem(it), said, l.key)
		}
	},
}

// correction reads the value of a field: text as it is, anything else as JSON.
func correction(field, value string) (any, error) {
	for _, f := range setting.ItemFields {
		if f.Key != field {
			continue
		}
		if f.Type == "text" || f.Type == "moment" || f.Type == "choice" || f.Type == "language" || f.Type == "richText" {
			return value, nil
		}
		var v any
		if err := json.Unmarshal([]byte(value), &v); err != nil {
			return nil, usagef("the value of %s is JSON, such as %s", field, setting.NoteOf(f.Type).Value)
		}
		return v, nil
	}
	return value, nil // the service says what is wrong
}
