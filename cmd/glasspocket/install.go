package main

import (
	"cmp"
	"encoding/json"
	"flag"
	"fmt"
	"os"
	"path/filepath"
	"strings"

	"glasspocket/internal/app/install"
	"glasspocket/internal/content"
	"glasspocket/internal/fault"
	"glasspocket/internal/host"
	"glasspocket/internal/wire"
)

// installFlags are the options for a pocket's host and its placement there.
func installFlags(f *flag.FlagSet, in *install.Install) {
	f.StringVar(&in.Host, "host", "", "`host` profile of the page: see “list hosts”")
	f.StringVar(&in.Where, "where", "", "`position` on the site: "+strings.Join(host.Wheres, ", ")+" (default: the host's first)")
	f.Func("delivery", "`delivery` to use: script, split, frame, link and so on (default: the best one there)", func(v string) error { in.Delivery = host.Delivery(v); return nil })
	p := &in.Placing
	f.StringVar(&p.Width, "width", "", "maximum `width`, such as 640px or 80%")
	f.IntVar(&p.Height, "height", 0, "height in `pixels` (default: the widget's height)")
	f.StringVar(&p.Align, "align", "", "`alignment` when it is narrower than the page: "+strings.Join(host.Aligns, ", "))
	f.StringVar(&p.Background, "background", "", "background `colour`, #rrggbb")
	f.StringVar(&p.Shadow, "shadow", "", "`shadow`: "+strings.Join(host.Shadows, ", "))
	f.StringVar(&p.Loading, "loading", "", "`when` it loads: early, or near (when it is about to scroll into view)")
	f.StringVar(&p.Fallback, "fallback", "", "`content` shown until or instead of the widget: "+strings.Join(host.Fallbacks, ", "))
	f.StringVar(&p.Words, "words", "", "`text` of the fallback (default: the pocket's title)")
	f.StringVar(&p.Framework, "framework", "", "`framework` of a component: "+strings.Join(host.Frameworks, ", "))
}

func printParts(s *session, parts []host.Part) {
	for i, part := range parts {
		if len(parts) > 1 { // a single part is copied unchanged
			if i > 0 {
				fmt.Fprintln(s.out)
			}
			fmt.Fprintf(s.out, "<!-- %s -->\n", part.Where)
		}
		fmt.Fprintln(s.out, part.Text)
	}
}

var snippetVerb = verb{
	arguments: "KEY", about: "Print the code to paste into a page",
	examples: []string{"snippet demo-countdown -delivery frame", "snippet demo-countdown -host blog -where column -width 480px"},
	flags: func(f *flag.FlagSet) func(*session) error {
		var in install.Install
		installFlags(f, &in)
		return func(s *session) error {
			key, err := s.one("pocket")
			if err != nil {
				return err
			}
			if in.Host == "" && in.Where == "" && in.Placing == (host.Placing{}) {
				if in.Delivery == "" {
					in.Delivery = host.Script
				}
				out, err := s.api.Snippets(s.ctx, key, in.Delivery)
				if err != nil || s.json {
					return orPrint(s, err, out)
				}
				for _, snippet := range out.Snippets {
					printParts(s, snippet.Parts)
				}
				return nil
			}
			if in.Host == "" {
				in.Host = "plain-page"
			}
			out, err := s.api.Guide(s.ctx, key, in)
			if err != nil {
				return err
			}
			if out.Guide == nil {
				return fmt.Errorf("this pocket cannot be installed there. To see why: glasspocket steps %s -host %s -all", key, in.Host)
			}
			if s.json {
				return s.print(out.Guide.Parts)
			}
			printParts(s, out.Guide.Parts)
			return nil
		}
	},
}

var stepsVerb = verb{
	arguments: "KEY", about: "Show the steps for installing a pocket on a page",
	examples: []string{"steps demo-countdown -host shop-stacked -where home", "steps demo-countdown -host rich-text -all"},
	flags: func(f *flag.FlagSet) func(*session) error {
		var in install.Install
		installFlags(f, &in)
		all := f.Bool("all", false, "list every delivery for this host and what each one loses")
		return func(s *session) error {
			key, err := s.one("pocket")
			if err != nil {
				return err
			}
			if in.Host == "" {
				// As in the console: where the customer's last pocket was installed.
				p, err := s.api.Pocket(s.ctx, key)
				if err != nil {
					return err
				}
				places, err := s.api.Places(s.ctx, p.Customer)
				if err != nil {
					return err
				}
				if len(places.Places) == 0 {
					return usagef("name the page's host with -host NAME; “glasspocket list hosts” lists them")
				}
				in.Host, in.Where = places.Places[0].Host, cmp.Or(in.Where, places.Places[0].Where)
			}
			out, err := s.api.Guide(s.ctx, key, in)
			if err != nil || s.json {
				return orPrint(s, err, out)
			}
			if *all {
				return s.printDeliveries(out)
			}
			if out.Guide == nil {
				return fmt.Errorf("this pocket cannot be installed there. To see why, add -all")
			}
			s.printGuide(*out.Guide)
			return nil
		}
	},
}

func (s *session) printDeliveries(out wire.Guided) error {
	var rows [][]string
	offers := out.Choice.Others
	if b := out.Choice.Best; b != nil {
		offers = append([]host.Offer{*b}, offers...)
	}
	for i, o := range offers {
		mark := ""
		if i == 0 && out.Choice.Best != nil {
			mark = "best"
		}
		shows := o.Outcome.Shows
		if o.Outcome.Held {
			shows += ", once allowed"
		}
		says := o.Why
		if len(o.Loses) > 0 {
			says += " Loses: " + strings.Join(o.Loses, " ")
		}
		rows = append(rows, []string{string(o.Delivery), mark, shows, says})
	}
	s.table("DELIVERY | CHOICE | VISITORS SEE | WHY", rows, "There is no delivery for this host.")
	return nil
}

func (s *session) printGuide(g host.Guide) {
	fmt.Fprintf(s.out, "%s, %s: %s\n%s\n", g.Title, host.WhereWords[g.Where], strings.ToLower(g.Offer.Title), g.Offer.Why)
	for _, l := range g.Offer.Loses {
		fmt.Fprintf(s.out, "Note: %s\n", l)
	}
	fmt.Fprintln(s.out)
	for i, step := range g.Steps {
		if step.Place != "" {
			fmt.Fprintf(s.out, "%s\n\n", step.Place)
		}
		say := step.Say
		if step.Client != "" {
			say = step.Client
		}
		fmt.Fprintf(s.out, "%2d. %s\n", i+1, say)
		if step.Part != nil {
			fmt.Fprintln(s.out)
			for line := range strings.SplitSeq(strings.TrimRight(g.Parts[*step.Part].Text, "\n"), "\n") {
				fmt.Fprintln(s.out, "      "+line)
			}
			fmt.Fprintln(s.out)
		}
		if step.After != "" {
			fmt.Fprintln(s.out, "    "+step.After)
		}
	}
	if g.Facts != nil {
		fmt.Fprintf(s.out, "\nIf your page knows its visitors, it can state this in attributes of an element around the widget:\n\n      %s\n\n", g.Facts.Example)
		for _, f := range g.Facts.Facts {
			fmt.Fprintf(s.out, "  - %s: %s\n", f.Attribute, f.Label)
		}
		fmt.Fprintln(s.out, "  Your page's template or script sets the values. They never leave the page.")
	}
	fmt.Fprintf(s.out, "\nBefore you publish: %s\n\nCheck the result:\n", g.Editor)
	for _, l := range g.Look {
		fmt.Fprintln(s.out, "  - "+l)
	}
	fmt.Fprintln(s.out, "\nIf something is wrong:")
	for _, pit := range g.If {
		fmt.Fprintf(s.out, "  - %s\n    %s %s\n", pit.See, pit.Because, pit.Do)
	}
}

var sealVerb = verb{
	arguments: "KEY", about: "Save the live version as a script that never changes",
	examples: []string{"seal demo-countdown", "seal demo-countdown -json"},
	flags: func(f *flag.FlagSet) func(*session) error {
		return func(s *session) error {
			key, err := s.one("pocket")
			if err != nil {
				return err
			}
			out, err := s.api.Seal(s.ctx, key)
			if err != nil || s.json {
				return orPrint(s, err, out)
			}
			fmt.Fprintf(s.out, "Sealed publication %d of %s. Pages with its sealed snippet show exactly this version until\nsomebody replaces the snippet. To print it: glasspocket snippet %[2]s -delivery sealed\n\nScript     %s\nIntegrity  %s\nPolicy     %s\n", out.Publication, key, out.Address, out.Integrity, out.Policy)
			return nil
		}
	},
}

var handoverVerb = verb{
	arguments: "KEY", about: "Make a page with the install steps for somebody without an account",
	examples: []string{"handover demo-countdown -host blog -where column", "handover demo-countdown -host blog -note 'Above the calendar, please.'"},
	flags: func(f *flag.FlagSet) func(*session) error {
		var in wire.NewHandover
		installFlags(f, &in.Install)
		f.StringVar(&in.Note, "note", "", "`note` to the person who follows the steps")
		return func(s *session) error {
			key, err := s.one("pocket")
			if err != nil {
				return err
			}
			if in.Install.Host == "" {
				return usagef("name the page's host with -host NAME; “glasspocket list hosts” lists them")
			}
			out, err := s.api.HandOver(s.ctx, key, in)
			if err != nil || s.json {
				return orPrint(s, err, out)
			}
			fmt.Fprintf(s.out, "Anybody with this link sees the steps, without an account. Copy it now: it is not shown again.\n\n  %s\n\nTo revoke it: glasspocket revoke handover %s %d\n", out.Link, key, out.ID)
			return nil
		}
	},
}

func (s *session) listHandovers(key string) error {
	out, err := s.api.Handovers(s.ctx, key)
	if err != nil || s.json {
		return orPrint(s, err, out)
	}
	var rows [][]string
	for _, h := range out.Handovers {
		seen := "never"
		if h.SeenAt != nil {
			seen = day(*h.SeenAt)
		}
		rows = append(rows, []string{fmt.Sprint(h.ID), h.Install.Host, host.WhereWords[h.Install.Where], string(h.Install.Delivery), h.By, day(h.CreatedAt), seen})
	}
	s.table("ID | HOST | POSITION | DELIVERY | BY | MADE | OPENED", rows, "There are no handovers yet. Make one: glasspocket handover "+key+" -host NAME")
	return nil
}

func (s *session) listHosts() error {
	out, err := s.api.Hosts(s.ctx)
	if err != nil || s.json {
		return orPrint(s, err, out)
	}
	var rows [][]string
	for _, h := range out.Hosts {
		source := "built in"
		switch {
		case h.Own && h.Ours:
			source = "your version"
		case h.Own:
			source = "yours"
		}
		rows = append(rows, []string{h.Name, h.Title, source, strings.Join(h.Wheres, ", "), h.Summary})
	}
	s.table("HOST | TITLE | SOURCE | POSITIONS | SUMMARY", rows, "There are no host profiles.")
	return nil
}

var cuesVerb = verb{
	arguments: "KEY", about: "Show or change where a pocket shows: on which pages and on which sites",
	examples: []string{"cues demo-popup -only '/events/*' -not /events/old", "cues demo-popup -everywhere"},
	flags: func(f *flag.FlagSet) func(*session) error {
		var only, not []string
		f.Func("only", "show only at this `address`; can be repeated. / is the home page, * matches any characters", func(v string) error { only = append(only, v); return nil })
		f.Func("not", "do not show at this `address`; can be repeated", func(v string) error { not = append(not, v); return nil })
		own := f.Bool("own-sites", false, "show only on the customer's sites")
		local := f.Bool("local", false, "with -own-sites: show on a local computer too")
		everywhere := f.Bool("everywhere", false, "show everywhere again")
		return func(s *session) error {
			key, err := s.one("pocket")
			if err != nil {
				return err
			}
			draft, err := s.api.Draft(s.ctx, key)
			if err != nil {
				return err
			}
			cues := draft.Cues
			switch said := len(only)+len(not) > 0 || *own || *local; {
			case *everywhere && said:
				return usagef("use -everywhere without other options")
			case said || *everywhere:
				cues.Only, cues.Not, cues.OwnSites, cues.Local = only, not, *own, *local
				if draft, err = s.api.ChangePocket(s.ctx, key, draft.Revision, wire.ChangePocket{Change: content.Change{Cues: &cues}}); err != nil {
					return err
				}
				cues = draft.Cues
				if !s.json {
					defer fmt.Fprintf(s.out, "Saved in the draft. To show it to visitors: glasspocket publish %s\n", key)
				}
			}
			if s.json {
				return s.print(cues)
			}
			if cues.IsZero() {
				fmt.Fprintf(s.out, "%s shows everywhere.\n", key)
			}
			for _, a := range cues.Only {
				fmt.Fprintf(s.out, "shows only at      %s\n", a)
			}
			for _, a := range cues.Not {
				fmt.Fprintf(s.out, "does not show at   %s\n", a)
			}
			if cues.OwnSites {
				also := ""
				if cues.Local {
					also = " and on a local computer"
				}
				fmt.Fprintf(s.out, "shows only on      its customer's sites%s\n", also)
			}
			return nil
		}
	},
}

var hostVerb = verb{
	arguments: "NAME [FILE]", about: "Show a host profile, or save your own from a file",
	examples: []string{"host blog > harbour.json", "host blog harbour.json -dry-run"},
	flags: func(f *flag.FlagSet) func(*session) error {
		dry := f.Bool("dry-run", false, "save nothing; only check the file")
		return func(s *session) error {
			switch len(s.args) {
			case 1:
				out, err := s.api.Host(s.ctx, s.args[0])
				if err != nil || s.json {
					return orPrint(s, err, out)
				}
				if out.Profile != nil { // the operator's own file, ready for editing
					return s.print(out.Profile)
				}
				return s.print(out.Host)
			case 2:
				return s.sendHost(s.args[0], s.args[1], *dry)
			}
			return usagef("name the host: host NAME shows its profile, host NAME FILE saves yours")
		}
	},
}

// sendHost saves a profile and the images that its steps name, from the folder of the profile.
func (s *session) sendHost(name, file string, dry bool) error {
	text, err := os.ReadFile(file)
	if err != nil {
		return err
	}
	if !json.Valid(text) {
		// Without this check, the service would only answer that the request is not JSON.
		_, _, faults := (*host.Set)(nil).With(text)
		return faults.In(file)
	}
	revision := 0
	if current, err := s.api.Host(s.ctx, name); err == nil {
		revision = current.Revision
	}
	out, err := s.api.SaveHost(s.ctx, name, wire.SaveHost{Profile: text, Revision: revision, DryRun: dry})
	if err != nil {
		return err
	}
	images := map[string]bool{}
	for _, p := range out.Host.Places {
		for _, steps := range p.Steps {
			for _, step := range steps {
				if step.Image != "" {
					images[step.Image] = true
				}
			}
		}
	}
	for image := range images {
		at := filepath.Join(filepath.Dir(file), image)
		content, err := os.ReadFile(at)
		if err != nil {
			return fault.List{{Path: file, Field: "image", Code: fault.FileMissing, What: fmt.Sprintf("A step shows %s, which is not in the profile's folder.", image), Fix: "Put the file there, or delete it from the step."}}
		}
		if !dry {
			if err := s.api.SaveHostImage(s.ctx, name, image, content); err != nil {
				return err
			}
		}
	}
	if s.json {
		return s.print(out)
	}
	if dry {
		fmt.Fprintf(s.out, "%s is valid. Dry run: nothing was saved.\n", file)
		return nil
	}
	fmt.Fprintf(s.out, "Saved the profile %s with %s.\n", name, counted(len(images), "image"))
	return nil
}

var tryVerb = verb{
	arguments: "KEY ADDRESS|FILE", about: "Try a pocket on a page before you paste anything there",
	examples: []string{"try demo-countdown http://127.0.0.1:7442/kelp-and-kiln -host page-of-parts", "try demo-countdown page.html -host rich-text -spot 3"},
	flags: func(f *flag.FlagSet) func(*session) error {
		var in wire.TryOn
		installFlags(f, &in.Install)
		spot := f.Int("spot", -1, "`number` of the element after which it goes (default: the most likely one)")
		return func(s *session) error {
			if len(s.args) != 2 {
				return usagef("name the pocket and the page: try KEY ADDRESS, or try KEY FILE")
			}
			if in.Install.Host == "" {
				return usagef("name the page's host with -host NAME; “glasspocket list hosts” lists them")
			}
			key, page := s.args[0], s.args[1]
			if text, err := os.ReadFile(page); err == nil {
				in.HTML = string(text)
			} else {
				in.Address = page
			}
			if *spot >= 0 {
				in.Spot = spot
			}
			out, err := s.api.TryOn(s.ctx, key, in)
			if err != nil || s.json {
				return orPrint(s, err, out)
			}
			on := "this page"
			if out.Title != "" {
				on = "“" + out.Title + "”"
			}
			fmt.Fprintf(s.out, "On %s, visitors see: %s\n", on, out.Outcome.Shows)
			for _, l := range out.Outcome.Losses {
				fmt.Fprintf(s.out, "  removed: %s. %s\n", l.What, strings.TrimSpace(l.Why+" "+l.Fix))
			}
			if out.Add != "" {
				fmt.Fprintf(s.out, "  add to the page's content policy: %s\n", out.Add)
			}
			for _, f := range out.Findings {
				where := "already on the page: "
				if f.Code == "site-not-entered" || f.Code == "not-here" {
					where = ""
				}
				fmt.Fprintf(s.out, "  %s%s %s\n", where, f.What, f.Fix)
			}
			if len(out.Spots) > 0 {
				fmt.Fprintf(s.out, "\nIt is inserted after element %d of these (-spot selects another):\n", out.Spot)
				for i, at := range out.Spots {
					fmt.Fprintf(s.out, "  %2d  %s\n", i, at.After)
				}
			}
			fmt.Fprintf(s.out, "\nFor half an hour, you can see the page live at\n  %s\nand without scripts at\n  %s\n", out.Live, out.Still)
			return nil
		}
	},
}
