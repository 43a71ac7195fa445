package main

import (
	"flag"
	"fmt"
	"maps"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"strings"

	"glasspocket/internal/clip"
	"glasspocket/internal/feed"
	"glasspocket/internal/wire"
)

var connectVerb = verb{
	arguments: "CUSTOMER ADDRESS | CUSTOMER @NAME@HOST | CUSTOMER BUSINESS | CUSTOMER FILE", about: "Connect a source: a feed, calendar, page, profile, business or file",
	examples: []string{"connect hask-orchard-cider http://127.0.0.1:7445/notices -pick 1", "connect kelp-and-kiln 'kelp & kiln' # searches for the business"},
	flags: func(f *flag.FlagSet) func(*session) error {
		name := f.String("name", "", "a `name` for the source (default: its own)")
		pick := f.Int("pick", 0, "choose this `number` of several results")
		kind := f.String("kind", "", "`kind` of its items: review, post, date, card, person or notice (default: what the source says)")
		replies := f.Bool("replies", false, "of a profile: also what it replies to others")
		boosts := f.Bool("boosts", false, "of a profile: also what it passes on of others")
		token := f.String("token-value", "", "the `token` or key that the source requires")
		tokenIn := f.String("token-in", feed.Bearer, "`how` the token is sent: bearer, header or query")
		tokenName := f.String("token-name", "", "`name` of the header field or the parameter")
		return func(s *session) error {
			if len(s.args) != 2 {
				return usagef("name the customer, and an address, a @name@host, a business or a file")
			}
			customer, what := s.args[0], s.args[1]
			look := wire.SourceLook{Text: what}
			if info, err := os.Stat(what); err == nil && info.Mode().IsRegular() {
				file, err := os.ReadFile(what)
				if err != nil {
					return err
				}
				look = wire.SourceLook{File: file, FileName: filepath.Base(what)}
			}
			if *token != "" {
				look.Secret = &wire.SourceSecret{In: *tokenIn, Name: *tokenName, Value: *token}
			}
			found, err := s.api.LookForSource(s.ctx, customer, look)
			if err != nil {
				return err
			}
			if len(found.Businesses) > 0 {
				if *pick < 1 || *pick > len(found.Businesses) {
					return s.offerBusinesses(found.Businesses)
				}
				look.Text = found.Businesses[*pick-1].Address
				if found, err = s.api.LookForSource(s.ctx, customer, look); err != nil {
					return err
				}
				*pick = 1
			}
			if *pick == 0 && len(found.Candidates) == 1 {
				*pick = 1
			}
			if *pick < 1 || *pick > len(found.Candidates) {
				return s.offerCandidates(found.Candidates)
			}
			chosen := found.Candidates[*pick-1]
			n := wire.NewSource{Name: *name, Reader: chosen.Reader, Address: chosen.Address, Options: chosen.Options, Secret: look.Secret, File: look.File, FileName: look.FileName}
			if n.Name == "" {
				n.Name = chosen.Name
			}
			if *kind != "" {
				n.Options.Kind = *kind
			}
			n.Options.Replies, n.Options.Boosts = *replies, *boosts
			src, err := s.api.ConnectSource(s.ctx, customer, n)
			if err != nil || s.json {
				return orPrint(s, err, src)
			}
			fmt.Fprintf(s.out, "Connected %s as %s: %s, %s.\n", src.Name, src.ID, src.Form, counted(src.Items, "item"))
			s.notes(src.About)
			fmt.Fprintf(s.out, "Show its items in a pocket: glasspocket filter KEY -sources %s\n", src.ID)
			return nil
		}
	},
}

// notes prints how a source was read.
func (s *session) notes(about wire.SourceAbout) {
	for _, text := range append(slices.Clone(about.Repairs), about.Skipped...) {
		fmt.Fprintln(s.out, "  "+text)
	}
}

func (s *session) offerBusinesses(list []wire.Business) error {
	if s.json {
		return s.print(wire.SourceFound{Candidates: []wire.SourceCandidate{}, Businesses: list})
	}
	var rows [][]string
	for i, b := range list {
		rating := "none"
		if b.Reviews > 0 {
			rating = fmt.Sprintf("%.1f of 5, %s", b.Rating, counted(b.Reviews, "review"))
		}
		rows = append(rows, []string{strconv.Itoa(i + 1), b.Name, b.Place, rating, b.Directory})
	}
	s.table("NUMBER | BUSINESS | PLACE | RATING | DIRECTORY", rows, "")
	fmt.Fprintln(s.out, "Nothing is connected yet. Check the place and the number of reviews, then repeat the command with -pick NUMBER.")
	return nil
}

func (s *session) offerCandidates(list []wire.SourceCandidate) error {
	if s.json {
		return s.print(wire.SourceFound{Candidates: list, Businesses: []wire.Business{}})
	}
	var rows [][]string
	for i, c := range list {
		first := ""
		if len(c.Items) > 0 {
			first = nameOfItem(c.Items[0])
		}
		rows = append(rows, []string{strconv.Itoa(i + 1), c.Name, c.Form, counted(c.Count, "item"), first})
	}
	s.table("NUMBER | SOURCE | FORM | ITEMS | FIRST", rows, "")
	fmt.Fprintln(s.out, "Nothing is connected yet. Repeat the command with -pick NUMBER.")
	return nil
}

// nameOfItem describes an item in a few words.
func nameOfItem(it wire.SourceItem) string {
	text := func(v any, key string) string {
		m, _ := v.(map[string]any)
		t, _ := m[key].(string)
		return t
	}
	words := text(it.Values, "title")
	if words == "" {
		words = text(it.Values, "text")
	}
	if by := text(it.Values["author"], "name"); by != "" {
		words = by + ": " + words
	}
	return clip.Text(strings.Join(strings.Fields(words), " "), 60)
}

// source finds a source by its ID, or by customer and name. It returns the arguments after it.
func (s *session) source(args []string) (wire.Source, []string, error) {
	if len(args) > 0 && strings.HasPrefix(args[0], "src-") {
		src, err := s.api.Source(s.ctx, args[0])
		return src, args[1:], err
	}
	if len(args) < 2 {
		return wire.Source{}, nil, usagef("name the source: its ID, or the customer and the source's name. “glasspocket list sources CUSTOMER” shows both")
	}
	list, err := s.api.Sources(s.ctx, args[0])
	if err != nil {
		return wire.Source{}, nil, err
	}
	for _, src := range list {
		if strings.EqualFold(src.Name, args[1]) {
			return src, args[2:], nil
		}
	}
	return wire.Source{}, nil, fmt.Errorf("%s has no source named “%s”. To see its sources: glasspocket list sources %[1]s", args[0], args[1])
}

// listSources prints a customer's sources.
func (s *session) listSources(customer string) error {
	list, err := s.api.Sources(s.ctx, customer)
	if err != nil || s.json {
		return orPrint(s, err, wire.Sources{Sources: append([]wire.Source{}, list...)})
	}
	var rows [][]string
	for _, src := range list {
		checked, next := "", ""
		if src.CheckedAt != nil {
			checked = day(*src.CheckedAt)
		}
		if src.NextAt != nil {
			next = day(*src.NextAt)
		}
		state := src.State
		if src.Pushed {
			state += ", reports changes"
		}
		if src.Why != "" {
			state += ": " + src.Why
		}
		rows = append(rows, []string{src.ID, src.Name, src.Form, strconv.Itoa(src.Items), checked, next, state})
	}
	s.table("SOURCE | NAME | FORM | ITEMS | CHECKED | NEXT | STATE", rows, "There are no sources yet. Connect one: glasspocket connect "+customer+" ADDRESS")
	return nil
}

// listFailing prints the sources that have failed for a day, or have ended.
func (s *session) listFailing() error {
	list, err := s.api.FailingSources(s.ctx)
	if err != nil || s.json {
		return orPrint(s, err, wire.FailingSources{Sources: append([]wire.FailingSource{}, list...)})
	}
	var rows [][]string
	for _, f := range list {
		shown, next := "", "tried again"
		if f.ChangedAt != nil {
			shown = day(*f.ChangedAt)
		}
		if f.Ended {
			next = "ended"
		}
		rows = append(rows, []string{f.ID, f.Customer, f.Name, day(f.Since), shown, next, f.Why})
	}
	s.table("SOURCE | CUSTOMER | NAME | FAILING SINCE | VISITORS SEE ITEMS OF | STATE | WHY", rows, "No source has failed for a day.")
	return nil
}

// listFetches prints a source, the pockets that use it, and what came of its fetches.
func (s *session) listFetches(args []string) error {
	src, rest, err := s.source(args)
	if err != nil {
		return err
	}
	if len(rest) > 0 {
		return usagef("list fetches has no further arguments")
	}
	out, err := s.api.SourceFetches(s.ctx, src.ID)
	if err != nil || s.json {
		return orPrint(s, err, out)
	}
	if src, err = s.api.Source(s.ctx, src.ID); err != nil {
		return err
	}
	fmt.Fprintf(s.out, "%s (%s), %s. Used by: %s\n", src.Name, src.ID, counted(src.Items, "item"), usedBy(src.UsedBy))
	if src.Why != "" {
		fmt.Fprintln(s.out, src.Why, src.Hint)
	}
	s.notes(src.About)
	var rows [][]string
	for _, f := range out.Fetches {
		result := fmt.Sprintf("+%d ~%d -%d", f.Added, f.Changed, f.Removed)
		if f.Why != "" {
			result = f.Why
		}
		if f.Times > 1 {
			result += fmt.Sprintf(" (%d times until %s)", f.Times, moment(f.LastAt))
		}
		rows = append(rows, []string{moment(f.At), strconv.Itoa(f.Status), strconv.Itoa(f.Bytes), strconv.Itoa(f.Took), f.By, result})
	}
	s.table("TIME | STATUS | BYTES | MS | BY | ADDED, CHANGED, REMOVED", rows, "It has not been fetched yet.")
	return nil
}

func usedBy(list []string) string {
	if len(list) == 0 {
		return "no pocket"
	}
	return strings.Join(list, ", ")
}

var mapVerb = verb{
	arguments: "SOURCE [FIELD=PLACE …] | CUSTOMER NAME [FIELD=PLACE …]", about: "Map the columns of a table or the values of JSON to fields of items",
	examples: []string{"map saltmarsh-ferry 'Harbour notices' # shows what there is", "map saltmarsh-ferry 'Harbour notices' title=/headline text=/body importance=/priority"},
	flags: func(f *flag.FlagSet) func(*session) error {
		kind := f.String("kind", "", "`kind` of its items: review, post, date, card, person or notice")
		list := f.String("list", "", "JSON `pointer` of the list of items")
		return func(s *session) error {
			src, pairs, err := s.source(s.args)
			if err != nil {
				return err
			}
			options := src.Options
			options.Mapping = maps.Clone(options.Mapping)
			if options.Mapping == nil {
				options.Mapping = map[string]string{}
			}
			for _, pair := range pairs {
				field, place, ok := strings.Cut(pair, "=")
				if !ok {
					return usagef("%q is not FIELD=PLACE. Without a place, the field is not filled", pair)
				}
				if options.Mapping[field] = place; place == "" {
					delete(options.Mapping, field)
				}
			}
			if *list != "" {
				options.Mapping[feed.ListKey] = *list
			}
			if *kind != "" {
				options.Kind = *kind
			}
			if len(pairs) == 0 && *list == "" && *kind == "" {
				found, err := s.api.LookAtSource(s.ctx, src.ID, wire.SourceLook{Options: &options})
				if err != nil {
					return err
				}
				return s.showMapping(found.Candidates[0])
			}
			out, err := s.api.ChangeSource(s.ctx, src.ID, src.Revision, wire.ChangeSource{Options: &options})
			if err != nil || s.json {
				return orPrint(s, err, out)
			}
			fmt.Fprintf(s.out, "%s now has %s.\n", out.Name, counted(out.Items, "item"))
			s.notes(out.About)
			first, more, err := s.api.SourceItems(s.ctx, src.ID, "", 5) // with the IDs that other verbs take
			if err != nil {
				return err
			}
			if err := s.itemsTable(first, false); err != nil || !more {
				return err
			}
			fmt.Fprintf(s.out, "These are the first. See all: glasspocket items %s\n", src.ID)
			return nil
		}
	},
}

func (s *session) showMapping(c wire.SourceCandidate) error {
	if s.json {
		return s.print(c)
	}
	if c.Outline == nil {
		fmt.Fprintf(s.out, "%s needs no mapping: it is a %s.\n", c.Name, c.Form)
		return nil
	}
	filled := map[string]string{}
	for field, place := range c.Options.Mapping {
		filled[place] = field
	}
	var rows [][]string
	for _, cell := range c.Outline.Cells {
		rows = append(rows, []string{cell.Name, filled[cell.Name], strings.Join(cell.Values, " · ")})
	}
	s.table("PLACE | FILLS | FIRST VALUES", rows, "There is nothing to map.")
	if len(c.Outline.Lists) > 0 {
		fmt.Fprintf(s.out, "The items are at %s. Lists: %s\n", c.Options.Mapping[feed.ListKey], strings.Join(c.Outline.Lists, ", "))
	}
	var names []string
	for _, f := range feed.Fields {
		names = append(names, f.Name)
	}
	fmt.Fprintf(s.out, "Fields: %s\n", strings.Join(names, ", "))
	return nil
}

var itemsVerb = verb{
	arguments: "SOURCE | CUSTOMER NAME", about: "List the items of a source",
	examples: []string{"items kelp-and-kiln 'Kelp & Kiln on Marrow Voices'", "items kelp-and-kiln 'Kelp & Kiln on Marrow Voices' -search tea -limit 5"},
	flags: func(f *flag.FlagSet) func(*session) error {
		search := f.String("search", "", "only items that have these `words`")
		limit := f.Int("limit", 50, "at most this `number` of items")
		return func(s *session) error {
			src, rest, err := s.source(s.args)
			if err != nil {
				return err
			}
			if len(rest) > 0 || *limit < 1 {
				return usagef("items has no further arguments, and -limit is at least 1")
			}
			list, more, err := s.api.SourceItems(s.ctx, src.ID, *search, *limit)
			if err != nil || s.json {
				return orPrint(s, err, wire.SourceItems{Items: append([]wire.SourceItem{}, list...)})
			}
			return s.itemsTable(list, more)
		}
	},
}

func (s *session) itemsTable(list []wire.SourceItem, more bool) error {
	var rows [][]string
	for _, it := range list {
		at := ""
		for _, key := range []string{"startDate", "at"} {
			if text, ok := it.Values[key].(string); ok && at == "" {
				at = strings.Replace(text[:min(len(text), 16)], "T", " ", 1)
			}
		}
		rating := ""
		if r, ok := it.Values["rating"].(map[string]any); ok {
			rating = fmt.Sprintf("%v/%v", r["value"], r["best"])
		}
		kind, _ := it.Values["kind"].(string)
		rows = append(rows, []string{it.ID, kind, at, rating, nameOfItem(it)})
	}
	s.table("ITEM | KIND | DATE | RATING | CONTENT", rows, "There are no such items.")
	if more {
		fmt.Fprintln(s.out, "There are more. Use -limit or -search.")
	}
	return nil
}

var refreshVerb = verb{
	arguments: "SOURCE | CUSTOMER NAME", about: "Fetch a source now, and report the changes",
	examples: []string{"refresh saltmarsh-ferry 'Harbour notices'", "refresh teasel-hall-choir Concerts -json"},
	flags: func(*flag.FlagSet) func(*session) error {
		return func(s *session) error {
			src, rest, err := s.source(s.args)
			if err != nil {
				return err
			}
			if len(rest) > 0 {
				return usagef("refresh has no further arguments")
			}
			out, err := s.api.RefreshSource(s.ctx, src.ID)
			if err != nil || s.json {
				return orPrint(s, err, out)
			}
			if out.Failed {
				fmt.Fprintf(s.out, "%s could not be fetched. %s %s\nThe last good items stay visible: %s.\n", src.Name, out.Source.Why, out.Source.Hint, counted(out.Source.Items, "item"))
				return nil
			}
			fmt.Fprintf(s.out, "%s has %s: %d new, %d changed, %d removed.\n", src.Name, counted(out.Source.Items, "item"), out.Added, out.Changed, out.Removed)
			s.notes(out.Source.About)
			return nil
		}
	},
}
