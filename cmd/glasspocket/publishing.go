package main

import (
	"flag"
	"fmt"
	"strconv"
	"strings"

	"glasspocket/internal/app/install"
	"glasspocket/internal/app/pocket"
	"glasspocket/internal/clip"
	"glasspocket/internal/compare"
	"glasspocket/internal/content"
	"glasspocket/internal/wire"
)

var publishVerb = verb{
	arguments: "KEY", about: "Publish a pocket's draft, now or at a set time",
	examples: []string{"publish demo-countdown -host blog -where home", "publish demo-countdown -at '2099-03-01T09:00[Europe/Berlin]' -until '2099-03-08T09:00[Europe/Berlin]'"},
	flags: func(f *flag.FlagSet) func(*session) error {
		follow := f.Bool("follow", false, "use each new release of the widget automatically from now on")
		pin := f.Bool("pin", false, "keep this release until somebody publishes again")
		at := f.String("at", "", "publish the present draft at this `time`, with its zone")
		until := f.String("until", "", "with -at: go back to the present live version at this `time`")
		hostName := f.String("host", "", "print the snippet for this `host`, and remember it for the customer's next pocket")
		where := f.String("where", "", "with -host: the `place` on the site, such as home or site")
		return func(s *session) error {
			key, err := s.one("pocket")
			if err != nil {
				return err
			}
			if *follow && *pin {
				return usagef("give -follow or -pin, not both")
			}
			if *until != "" && *at == "" {
				return usagef("-until needs -at. To schedule only the way back: restore KEY NUMBER -at TIME")
			}
			if *hostName != "" && *at != "" {
				return usagef("-host prints the snippet of what is published now, so it does not go with -at")
			}
			if *where != "" && *hostName == "" {
				return usagef("-where needs -host")
			}
			var ask wire.Publish
			if *follow || *pin {
				ask.Follow = follow
			}
			if *at != "" {
				return s.schedule(key, wire.NewSchedule{Does: "publish", Publish: ask, At: *at, Back: *until})
			}
			if *hostName != "" {
				if _, err := s.api.Host(s.ctx, *hostName); err != nil {
					return err
				}
				if *where == "home" {
					if err := s.limitToHome(key); err != nil {
						return err
					}
				}
			}
			out, err := s.api.Publish(s.ctx, key, ask)
			if err != nil || s.json {
				return orPrint(s, err, out)
			}
			fmt.Fprintf(s.out, "Published %s as number %d. Every visitor sees it within a minute.\nTo see it at once in an open browser, reload without the cache (Shift+Reload).\n", out.Key, out.Number)
			if *hostName == "" {
				return nil
			}
			return s.printSnippetFor(key, install.Install{Host: *hostName, Where: *where})
		}
	},
}

// limitToHome sets the rule that shows a pocket only on the home page, as choosing that place in the
// console does. It changes no other rule.
func (s *session) limitToHome(key string) error {
	draft, err := s.api.Draft(s.ctx, key)
	if err != nil {
		return err
	}
	switch only := draft.Cues.Only; {
	case len(only) == 1 && only[0] == "/":
		return nil
	case len(only) > 0:
		return fmt.Errorf("A rule shows %s only at %s, so it would not show on the home page. To replace the rule: glasspocket cues %s -only /", key, strings.Join(only, ", "), key)
	}
	cues := draft.Cues
	cues.Only = []string{"/"}
	_, err = s.api.ChangePocket(s.ctx, key, draft.Revision, wire.ChangePocket{Change: content.Change{Cues: &cues}})
	return err
}

// printSnippetFor prints the snippet for a host, and remembers the place for the customer.
func (s *session) printSnippetFor(key string, in install.Install) error {
	guided, err := s.api.Guide(s.ctx, key, in)
	if err != nil {
		return err
	}
	if guided.Guide == nil {
		return fmt.Errorf("this pocket cannot be installed there. To see why: glasspocket steps %s -host %s -all", key, in.Host)
	}
	for _, part := range guided.Guide.Parts {
		fmt.Fprintf(s.out, "\nFor “%s”, %s:\n%s\n", guided.Guide.Title, part.Where, part.Text)
	}
	fmt.Fprintf(s.out, "\nThe steps: glasspocket steps %s\n", key)
	p, err := s.api.Pocket(s.ctx, key)
	if err != nil {
		return err
	}
	_, err = s.api.RememberPlace(s.ctx, p.Customer, wire.NewPlace{Host: in.Host, Where: guided.Install.Where})
	return err
}

func (s *session) schedule(key string, n wire.NewSchedule) error {
	out, err := s.api.Schedule(s.ctx, key, n)
	if err != nil || s.json {
		return orPrint(s, err, out)
	}
	for _, p := range out.Schedules {
		fmt.Fprintf(s.out, "Schedule %d: %s %s at %s (%s).\n", p.ID, p.Does, key, p.Moment, p.Due.Format("2006-01-02 15:04 UTC"))
		if p.Odd != "" {
			fmt.Fprintln(s.out, p.Odd)
		}
	}
	return nil
}

var unpublishVerb = verb{
	arguments: "KEY", about: "Take a pocket offline, now or at a set time",
	examples: []string{"unpublish demo-countdown", "unpublish demo-popup -at '2099-03-01T09:00[Europe/Berlin]'"},
	flags: func(f *flag.FlagSet) func(*session) error {
		at := f.String("at", "", "at this `time`, with its zone, instead of now")
		return func(s *session) error {
			key, err := s.one("pocket")
			if err != nil {
				return err
			}
			if *at != "" {
				return s.schedule(key, wire.NewSchedule{Does: "unpublish", At: *at})
			}
			out, err := s.api.Unpublish(s.ctx, key, 0)
			if err != nil || s.json {
				return orPrint(s, err, out)
			}
			fmt.Fprintf(s.out, "Unpublished %s. Pages with its snippet show nothing in its place. Its draft and history stay.\n", key)
			return nil
		}
	},
}

// changes prints the differences with the labels of the settings.
func (s *session) changes(list []compare.ValueChange, empty string) {
	var rows [][]string
	for _, c := range list {
		rows = append(rows, []string{c.Group, c.Label, clip.Text(c.Before, cellMost), clip.Text(c.After, cellMost)})
		for _, i := range c.Items {
			rows = append(rows, []string{"", "  " + i.Kind + ": " + clip.Text(i.Name, cellMost), "", ""})
			for _, w := range i.What {
				rows = append(rows, []string{"", "    " + w.Label, clip.Text(w.Before, cellMost), clip.Text(w.After, cellMost)})
			}
		}
	}
	s.table("GROUP | SETTING | BEFORE | AFTER", rows, empty)
}

var diffVerb = verb{
	arguments: "KEY", about: "Compare a pocket's draft with its live version",
	examples: []string{"diff demo-countdown", "diff demo-countdown -from 1 -to 1"},
	flags: func(f *flag.FlagSet) func(*session) error {
		from := f.Int("from", 0, "`number` of a publication (default: the live version)")
		to := f.Int("to", 0, "`number` of a publication (default: the draft)")
		return func(s *session) error {
			key, err := s.one("pocket")
			if err != nil {
				return err
			}
			out, err := s.api.PocketDifferences(s.ctx, key, *from, *to)
			if err != nil || s.json {
				return orPrint(s, err, out)
			}
			s.changes(out.Changes, "There are no differences.")
			return nil
		}
	},
}

var starterVerb = verb{
	arguments: "KEY STARTER", about: "Switch a pocket to another starter and keep your own values",
	examples: []string{"starter demo-countdown observatory -dry-run", "starter demo-countdown observatory -replace accent,ink"},
	flags: func(f *flag.FlagSet) func(*session) error {
		dry := f.Bool("dry-run", false, "change nothing; show what would change")
		replace := f.String("replace", "", "your own `settings` to replace too, separated by commas")
		return func(s *session) error {
			if len(s.args) != 2 {
				return usagef("name the pocket and the starter: starter KEY STARTER")
			}
			key, name := s.args[0], s.args[1]
			names := strings.FieldsFunc(*replace, func(r rune) bool { return r == ',' || r == ' ' })
			tell := func(d wire.StarterDifferences, nothing string) {
				s.changes(d.Changes, nothing)
				for _, k := range d.Kept {
					fmt.Fprintf(s.out, "Kept your own value: %s (%s; the starter has %s). To replace it: -replace %s\n", k.Label, clip.Text(k.Before, cellMost), clip.Text(k.After, cellMost), k.Key)
				}
			}
			if *dry {
				differs, err := s.api.StarterDifferences(s.ctx, key, name, names)
				if err != nil || s.json {
					return orPrint(s, err, differs)
				}
				tell(differs, "This would change nothing.")
				return nil
			}
			// Read the draft first, so that the report is about the revision that is changed.
			draft, err := s.api.Draft(s.ctx, key)
			if err != nil {
				return err
			}
			differs, err := s.api.StarterDifferences(s.ctx, key, name, names)
			if err != nil {
				return err
			}
			out, err := s.api.ChangeStarter(s.ctx, key, draft.Revision, wire.ChangeStarter{Starter: name, Replace: names})
			if err == nil && !s.json {
				tell(differs, "This changes nothing that visitors can see.")
			}
			return s.saved(key, out, err)
		}
	},
}

var caseVerb = verb{
	arguments: "KEY NAME", about: "Save a preview case with a pocket",
	examples: []string{`case demo-countdown "Last ten seconds" -moment '2027-03-01T17:59:50[Europe/Berlin]' -frozen`, `case demo-popup "Second visit" -visitor returning -page dark`},
	flags: func(f *flag.FlagSet) func(*session) error {
		var c pocket.Conditions
		f.IntVar(&c.Width, "width", 0, "page width in `pixels`")
		f.StringVar(&c.Page, "page", "", "sample `page` around it: "+strings.Join(pocket.Pages, ", "))
		f.StringVar(&c.Language, "language", "", "preview `language`, a BCP 47 tag")
		f.BoolVar(&c.Turned, "turned", false, "right-to-left text")
		f.StringVar(&c.Content, "content", "", "`amount` of content: none, one, many or long")
		f.BoolVar(&c.Still, "still", false, "the visitor prefers reduced motion")
		f.StringVar(&c.Visitor, "visitor", "", "kind of `visitor`: new or returning")
		f.StringVar(&c.Moment, "moment", "", "preview `time`, with its zone")
		f.BoolVar(&c.Frozen, "frozen", false, "stop the clock at -moment")
		return func(s *session) error {
			if len(s.args) != 2 {
				return usagef("name the pocket and the case: case KEY NAME")
			}
			out, err := s.api.SavePreviewCase(s.ctx, s.args[0], s.args[1], c)
			if err != nil || s.json {
				return orPrint(s, err, out)
			}
			fmt.Fprintf(s.out, "Saved the preview case %q with %s. The console's preview offers it.\n", out.Name, s.args[0])
			return nil
		}
	},
}

func (s *session) listCases(key string) error {
	out, err := s.api.PreviewCases(s.ctx, key)
	if err != nil || s.json {
		return orPrint(s, err, out)
	}
	var rows [][]string
	for _, c := range out.Cases {
		var words []string
		in := c.Conditions
		add := func(on bool, text string) {
			if on {
				words = append(words, text)
			}
		}
		add(in.Width > 0, strconv.Itoa(in.Width)+" px")
		for _, text := range []string{in.Page, in.Language, in.Content, in.Visitor, in.Moment} {
			add(text != "", text)
		}
		add(in.Turned, "right to left")
		add(in.Still, "reduced motion")
		add(in.Frozen, "stopped clock")
		rows = append(rows, []string{c.Name, strings.Join(words, ", ")})
	}
	s.table("CASE | CONDITIONS", rows, "There are no preview cases yet. Save one: glasspocket case "+key+" NAME …")
	return nil
}

func (s *session) listSchedules(key string) error {
	out, err := s.api.Schedules(s.ctx, key)
	if err != nil || s.json {
		return orPrint(s, err, out)
	}
	var rows [][]string
	for _, p := range out.Schedules {
		outcome := p.Outcome
		switch {
		case outcome == "":
			outcome = "waiting"
		case p.Made > 0:
			outcome += ", number " + strconv.Itoa(p.Made)
		case p.Why != "":
			outcome += ": " + p.Why
		}
		does := p.Does
		if p.Number > 0 {
			does += " " + strconv.Itoa(p.Number)
		}
		rows = append(rows, []string{strconv.FormatInt(p.ID, 10), does, p.Moment, p.By, clip.Text(outcome, cellMost)})
	}
	s.table("SCHEDULE | ACTION | AT | BY | OUTCOME", rows, "Nothing is scheduled for this pocket.")
	return nil
}
