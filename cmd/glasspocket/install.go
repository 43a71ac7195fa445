package main

import (
	"encoding/json"
	"flag"
	"fmt"
	"os"
	"path/filepath"
	"strings"

	"glasspocket/internal/app"
	"glasspocket/internal/fault"
	"glasspocket/internal/host"
	"glasspocket/internal/wire"
)

// installFlags are those that say where a pocket goes and how it stands there.
func installFlags(f *flag.FlagSet, in *app.Install) {
	f.StringVar(&in.Host, "host", "", "the kind of `host` that the page is built with; “list hosts” shows them")
	f.StringVar(&in.Where, "where", "", "`where` it shall stand: "+strings.Join(host.Wheres, ", ")+" (the host's first when left out)")
	f.Func("form", "the delivery `form`; the best one when left out", func(v string) error { in.Delivery = host.Delivery(v); return nil })
	p := &in.Placing
	f.StringVar(&p.Width, "width", "", "as `wide` as it may get: 640px, 80%")
	f.IntVar(&p.Height, "height", 0, "its height in `pixels`; as tall as the widget when left out")
	f.StringVar(&p.Align, "align", "", "where it stands when it is narrower: "+strings.Join(host.Aligns, ", "))
	f.StringVar(&p.Background, "background", "", "the `colour` behind it, #rrggbb")
	f.StringVar(&p.Shadow, "shadow", "", "its `shadow`: "+strings.Join(host.Shadows, ", "))
	f.StringVar(&p.Loading, "loading", "", "`when` it is fetched: early, or near (when it comes near the window)")
	f.StringVar(&p.Fallback, "fallback", "", "`what` stands there without it: "+strings.Join(host.Fallbacks, ", "))
	f.StringVar(&p.Words, "words", "", "the `words` of the fallback; the pocket's title when left out")
	f.StringVar(&p.Framework, "framework", "", "what a component is written for: "+strings.Join(host.Frameworks, ", "))
}

func printParts(s *session, parts []host.Part) {
	for i, part := range parts {
		if len(parts) > 1 { // a part alone goes to the clipboard as it is
			if i > 0 {
				fmt.Fprintln(s.out)
			}
			fmt.Fprintf(s.out, "<!-- %s -->\n", part.Where)
		}
		fmt.Fprintln(s.out, part.Text)
	}
}

var snippetVerb = verb{
	arguments: "KEY", about: "Print the text to paste into a page",
	examples: []string{"snippet demo-countdown", "snippet demo-countdown -form frame", "snippet demo-countdown -host blog -where column", "snippet demo-countdown -host plain-page -width 480px -align center"},
	flags: func(f *flag.FlagSet) func(*session) error {
		var in app.Install
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
				return fmt.Errorf("nothing of this pocket can be brought there; “glasspocket steps %s -host %s -all” says why", key, in.Host)
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
	arguments: "KEY", about: "Tell how to bring a pocket to a page, step by step",
	examples: []string{"steps demo-countdown -host blog", "steps demo-countdown -host shop-stacked -where home", "steps demo-countdown -host rich-text -all"},
	flags: func(f *flag.FlagSet) func(*session) error {
		var in app.Install
		installFlags(f, &in)
		all := f.Bool("all", false, "show all delivery forms there, and what each loses")
		return func(s *session) error {
			key, err := s.one("pocket")
			if err != nil {
				return err
			}
			if in.Host == "" {
				return usagef("say what the page is built with: -host NAME; “glasspocket list hosts” shows them")
			}
			out, err := s.api.Guide(s.ctx, key, in)
			if err != nil || s.json {
				return orPrint(s, err, out)
			}
			if *all {
				return s.printDeliveries(out)
			}
			if out.Guide == nil {
				return fmt.Errorf("nothing of this pocket can be brought there; with -all it says why")
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
			shows += ", when allowed"
		}
		says := o.Why
		if len(o.Loses) > 0 {
			says += " Loses: " + strings.Join(o.Loses, " ")
		}
		rows = append(rows, []string{string(o.Delivery), mark, shows, says})
	}
	s.table("FORM | | VISITORS GET | WHY", rows, "There is no form.")
	return nil
}

func (s *session) printGuide(g host.Guide) {
	fmt.Fprintf(s.out, "%s, %s: %s\n%s\n", g.Title, host.WhereWords[g.Where], strings.ToLower(g.Offer.Title), g.Offer.Why)
	for _, l := range g.Offer.Loses {
		fmt.Fprintf(s.out, "Know that: %s\n", l)
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
		fmt.Fprintf(s.out, "\nIf your page knows its visitors, let it state this on an element around the widget:\n\n      %s\n\n", g.Facts.Example)
		for _, f := range g.Facts.Facts {
			fmt.Fprintf(s.out, "  - %s: %s\n", f.Attribute, f.Label)
		}
		fmt.Fprintln(s.out, "  The page's own template or script writes the values. They never leave the page.")
	}
	fmt.Fprintf(s.out, "\nBefore it is published: %s\n\nThen look:\n", g.Editor)
	for _, l := range g.Look {
		fmt.Fprintln(s.out, "  - "+l)
	}
	fmt.Fprintln(s.out, "\nIf you see this:")
	for _, pit := range g.If {
		fmt.Fprintf(s.out, "  - %s\n    %s %s\n", pit.See, pit.Because, pit.Do)
	}
}

var sealVerb = verb{
	arguments: "KEY", about: "Keep what is published as a script that never changes",
	examples: []string{"seal demo-countdown", "snippet demo-countdown -form sealed"},
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
			fmt.Fprintf(s.out, "Sealed publication %d of %s. Pages that have its sealed snippet show exactly this until\nthey are given another one: snippet %[2]s -form sealed\n\nScript     %s\nIntegrity  %s\nPolicy     %s\n", out.Publication, key, out.Address, out.Integrity, out.Policy)
			return nil
		}
	},
}

var handoverVerb = verb{
	arguments: "KEY", about: "Make a page with the steps for somebody without an account",
	examples: []string{"handover demo-countdown -host blog -where column -note 'Above the calendar, please.'", "list handovers demo-countdown", "end handover demo-countdown 3"},
	flags: func(f *flag.FlagSet) func(*session) error {
		var in wire.NewHandover
		installFlags(f, &in.Install)
		f.StringVar(&in.Note, "note", "", "a `note` to whoever follows the steps")
		return func(s *session) error {
			key, err := s.one("pocket")
			if err != nil {
				return err
			}
			if in.Install.Host == "" {
				return usagef("say what the page is built with: -host NAME; “glasspocket list hosts” shows them")
			}
			out, err := s.api.HandOver(s.ctx, key, in)
			if err != nil || s.json {
				return orPrint(s, err, out)
			}
			fmt.Fprintf(s.out, "Whoever has this link sees the steps, without an account. It is told once:\n\n  %s\n\nTo end it: glasspocket end handover %s %d\n", out.Link, key, out.ID)
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
	s.table("ID | HOST | WHERE | FORM | BY | MADE | SEEN", rows, "No such pages yet: glasspocket handover "+key+" -host NAME")
	return nil
}

func (s *session) listHosts() error {
	out, err := s.api.Hosts(s.ctx)
	if err != nil || s.json {
		return orPrint(s, err, out)
	}
	var rows [][]string
	for _, h := range out.Hosts {
		own := ""
		if h.Own {
			own = "yours"
		}
		rows = append(rows, []string{h.Name, h.Title, own, strings.Join(h.Wheres, ", "), h.Summary})
	}
	s.table("HOST | TITLE | | WHERE | WHAT", rows, "There are none.")
	return nil
}

var cuesVerb = verb{
	arguments: "KEY", about: "Tell where a pocket shows, or say it: only at some addresses, only on its customer's sites",
	examples: []string{"here demo-popup", "here demo-popup -only /", "here demo-popup -only '/events/*' -not /events/old", "here demo-popup -own-sites -local", "here demo-popup -everywhere"},
	flags: func(f *flag.FlagSet) func(*session) error {
		var only, not []string
		f.Func("only", "show at this `address` only; may be given again. / is the home page, * stands for any characters", func(v string) error { only = append(only, v); return nil })
		f.Func("not", "do not show at this `address`; may be given again", func(v string) error { not = append(not, v); return nil })
		own := f.Bool("own-sites", false, "show on the customer's sites only")
		local := f.Bool("local", false, "with -own-sites: and on a developer's own machine")
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
				return usagef("-everywhere goes with nothing else")
			case said || *everywhere:
				cues.Only, cues.Not, cues.OwnSites, cues.Local = only, not, *own, *local
				if draft, err = s.api.ChangePocket(s.ctx, key, draft.Revision, wire.ChangePocket{Cues: &cues}); err != nil {
					return err
				}
				cues = draft.Cues
				if !s.json {
					defer fmt.Fprintf(s.out, "Visitors get it with the next publication: glasspocket publish %s\n", key)
				}
			}
			if s.json {
				return s.print(cues)
			}
			if cues.IsZero() {
				fmt.Fprintf(s.out, "%s shows everywhere.\n", key)
			}
			for _, a := range cues.Only {
				fmt.Fprintf(s.out, "shows at          %s\n", a)
			}
			for _, a := range cues.Not {
				fmt.Fprintf(s.out, "does not show at  %s\n", a)
			}
			if cues.OwnSites {
				also := ""
				if cues.Local {
					also = ", and on one's own machine"
				}
				fmt.Fprintf(s.out, "shows on          its customer's sites%s\n", also)
			}
			return nil
		}
	},
}

var hostVerb = verb{
	arguments: "NAME [FILE]", about: "Show a kind of host, or write one: a profile with the pictures beside it",
	examples: []string{"host blog", "host harbour-press harbour-press.json -dry", "host harbour-press harbour-press.json", "end host harbour-press"},
	flags: func(f *flag.FlagSet) func(*session) error {
		dry := f.Bool("dry", false, "say only what is wrong with the file")
		return func(s *session) error {
			switch len(s.args) {
			case 1:
				out, err := s.api.Host(s.ctx, s.args[0])
				if err != nil || s.json {
					return orPrint(s, err, out)
				}
				if out.Profile != nil { // what the operator wrote, to be written further
					return s.print(out.Profile)
				}
				return s.print(out.Host)
			case 2:
				return s.sendHost(s.args[0], s.args[1], *dry)
			}
			return usagef("name the kind of host: host NAME, or host NAME FILE to write it")
		}
	},
}

// sendHost writes a profile, and the pictures that its steps name, which lie beside it.
func (s *session) sendHost(name, file string, dry bool) error {
	text, err := os.ReadFile(file)
	if err != nil {
		return err
	}
	if !json.Valid(text) {
		// The service would only see that the request is no JSON.
		_, _, faults := (*host.Set)(nil).With(text)
		return faults.In(file)
	}
	revision := 0
	if now, err := s.api.Host(s.ctx, name); err == nil {
		revision = now.Revision
	}
	out, err := s.api.SaveHost(s.ctx, name, wire.SaveHost{Profile: text, Revision: revision, DryRun: dry})
	if err != nil {
		return err
	}
	pictures := map[string]bool{}
	for _, p := range out.Host.Places {
		for _, steps := range p.Steps {
			for _, step := range steps {
				if step.Image != "" {
					pictures[step.Image] = true
				}
			}
		}
	}
	for picture := range pictures {
		at := filepath.Join(filepath.Dir(file), picture)
		content, err := os.ReadFile(at)
		if err != nil {
			return fault.List{{Path: file, Field: "picture", Code: fault.FileMissing, What: fmt.Sprintf("A step shows %s, which does not lie beside the profile.", picture), Fix: "Put it there, or take it out of the step."}}
		}
		if !dry {
			if err := s.api.SaveHostImage(s.ctx, name, picture, content); err != nil {
				return err
			}
		}
	}
	if s.json {
		return s.print(out)
	}
	if dry {
		fmt.Fprintf(s.out, "%s can be used. Nothing was saved.\n", file)
		return nil
	}
	fmt.Fprintf(s.out, "Saved %s, with %s.\n", name, counted(len(pictures), "picture"))
	return nil
}

var tryVerb = verb{
	arguments: "KEY ADDRESS|FILE", about: "See how a pocket would stand on a page, before it is pasted there",
	examples: []string{"try demo-countdown https://kelp.example/workshops -host page-of-parts", "try demo-countdown page.html -host rich-text -spot 3"},
	flags: func(f *flag.FlagSet) func(*session) error {
		var in wire.TryOn
		installFlags(f, &in.Install)
		spot := f.Int("spot", -1, "the `number` of the place that it stands behind; the likely one when left out")
		return func(s *session) error {
			if len(s.args) != 2 {
				return usagef("name the pocket and the page: try KEY ADDRESS, or try KEY FILE")
			}
			if in.Install.Host == "" {
				return usagef("say what the page is built with: -host NAME; “glasspocket list hosts” shows them")
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
			fmt.Fprintf(s.out, "On %s, visitors get: %s\n", on, out.Outcome.Shows)
			for _, l := range out.Outcome.Losses {
				fmt.Fprintf(s.out, "  taken away: %s. %s\n", l.What, strings.TrimSpace(l.Why+" "+l.Fix))
			}
			if out.Add != "" {
				fmt.Fprintf(s.out, "  add to the page's content policy: %s\n", out.Add)
			}
			for _, f := range out.Findings {
				where := "in the page already: "
				if f.Code == "site-not-entered" || f.Code == "not-here" {
					where = ""
				}
				fmt.Fprintf(s.out, "  %s%s %s\n", where, f.What, f.Fix)
			}
			if len(out.Spots) > 0 {
				fmt.Fprintf(s.out, "\nIt stands behind number %d of these places (-spot):\n", out.Spot)
				for i, at := range out.Spots {
					fmt.Fprintf(s.out, "  %2d  %s\n", i, at.After)
				}
			}
			fmt.Fprintf(s.out, "\nSee it for half an hour at\n  %s\nand as a picture, without scripts, at\n  %s\n", out.Live, out.Still)
			return nil
		}
	},
}
