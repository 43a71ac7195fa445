package main

import (
	"flag"
	"fmt"
	"strconv"
	"strings"

	"glasspocket/internal/app"
	"glasspocket/internal/compare"
	"glasspocket/internal/wire"
)

var publishVerb = verb{
	arguments: "KEY", about: "Publish a pocket's draft, now or at a moment",
	examples: []string{"publish demo-countdown", "publish demo-countdown -follow", "publish demo-countdown -at '2027-03-01T09:00[Europe/Berlin]' -back '2027-03-08T09:00[Europe/Berlin]'"},
	flags: func(f *flag.FlagSet) func(*session) error {
		follow := f.Bool("follow", false, "from now on, show it under the widget's newest release without publishing again")
		pin := f.Bool("pin", false, "from now on, keep the release that it is published with")
		at := f.String("at", "", "publish it at this `moment`: the draft as it is now")
		back := f.String("back", "", "at this `moment` visitors get again what they get now")
		return func(s *session) error {
			key, err := s.one("pocket")
			if err != nil {
				return err
			}
			if *follow && *pin {
				return usagef("give -follow or -pin, not both")
			}
			if *back != "" && *at == "" {
				return usagef("-back goes with -at; to go back from now on plan it by itself: restore KEY NUMBER -at MOMENT")
			}
			var ask wire.Publish
			if *follow || *pin {
				ask.Follow = follow
			}
			if *at != "" {
				return s.schedule(key, wire.NewSchedule{Does: "publish", Publish: ask, At: *at, Back: *back})
			}
			out, err := s.api.Publish(s.ctx, key, ask)
			if err != nil || s.json {
				return orPrint(s, err, out)
			}
			fmt.Fprintf(s.out, "Published %s as number %d. The service serves it now; every visitor has it within a\nminute. To see it at once in a browser that has it open, reload past its cache (Shift).\n", out.Key, out.Number)
			return nil
		}
	},
}

func (s *session) schedule(key string, n wire.NewSchedule) error {
	out, err := s.api.Schedule(s.ctx, key, n)
	if err != nil || s.json {
		return orPrint(s, err, out)
	}
	for _, p := range out.Schedules {
		fmt.Fprintf(s.out, "Scheduled as %d: %s %s at %s (%s).\n", p.ID, p.Does, key, p.Moment, p.Due.Format("2006-01-02 15:04 UTC"))
		if p.Odd != "" {
			fmt.Fprintln(s.out, p.Odd)
		}
	}
	return nil
}

var unpublishVerb = verb{
	arguments: "KEY", about: "Show visitors nothing of a pocket, from the next request on or at a moment",
	examples: []string{"unpublish demo-countdown", "unpublish demo-countdown -at '2027-03-01T09:00[Europe/Berlin]'"},
	flags: func(f *flag.FlagSet) func(*session) error {
		at := f.String("at", "", "at this `moment`, not now")
		return func(s *session) error {
			key, err := s.one("pocket")
			if err != nil {
				return err
			}
			if *at != "" {
				return s.schedule(key, wire.NewSchedule{Does: "unpublish", At: *at})
			}
			out, err := s.api.Unpublish(s.ctx, key)
			if err != nil || s.json {
				return orPrint(s, err, out)
			}
			fmt.Fprintf(s.out, "Unpublished %s: pages that have its snippet show nothing in its place. Draft and history stay.\n", key)
			return nil
		}
	},
}

// changes prints what differs, in the words of the form.
func (s *session) changes(list []compare.ValueChange, empty string) {
	var rows [][]string
	for _, c := range list {
		rows = append(rows, []string{c.Group, c.Label, clip(c.Before), clip(c.After)})
		for _, i := range c.Items {
			rows = append(rows, []string{"", "  " + i.Kind + ": " + clip(i.Name), "", ""})
			for _, w := range i.What {
				rows = append(rows, []string{"", "    " + w.Label, clip(w.Before), clip(w.After)})
			}
		}
	}
	s.table("IN | WHAT | BEFORE | AFTER", rows, empty)
}

var diffVerb = verb{
	arguments: "KEY", about: "Tell what a pocket's draft has otherwise than what visitors get",
	examples: []string{"differ demo-countdown", "differ demo-countdown -from 1 -to 2"},
	flags: func(f *flag.FlagSet) func(*session) error {
		from := f.Int("from", 0, "`number` of a publication; what visitors get when left out")
		to := f.Int("to", 0, "`number` of a publication; the draft when left out")
		return func(s *session) error {
			key, err := s.one("pocket")
			if err != nil {
				return err
			}
			out, err := s.api.PocketDifferences(s.ctx, key, *from, *to)
			if err != nil || s.json {
				return orPrint(s, err, out)
			}
			s.changes(out.Changes, "Nothing differs.")
			return nil
		}
	},
}

var starterVerb = verb{
	arguments: "KEY STARTER", about: "Go over to another starter; what was typed stays",
	examples: []string{"starter demo-countdown observatory -dry", "starter demo-countdown observatory -take accent,ink"},
	flags: func(f *flag.FlagSet) func(*session) error {
		dry := f.Bool("dry", false, "only tell what it would change")
		take := f.String("take", "", "`settings`, joined by commas, that become the starter's though they were typed")
		return func(s *session) error {
			if len(s.args) != 2 {
				return usagef("name the pocket and the starter: starter KEY STARTER")
			}
			key, name := s.args[0], s.args[1]
			names := strings.FieldsFunc(*take, func(r rune) bool { return r == ',' || r == ' ' })
			tell := func(d wire.StarterDifferences, nothing string) {
				s.changes(d.Changes, nothing)
				for _, k := range d.Kept {
					fmt.Fprintf(s.out, "Typed, and so kept: %s (%s, where the starter has %s). To take the starter's: -take %s\n", k.Label, clip(k.Before), clip(k.After), k.Key)
				}
			}
			if *dry {
				differs, err := s.api.StarterDifferences(s.ctx, key, name, names)
				if err != nil || s.json {
					return orPrint(s, err, differs)
				}
				tell(differs, "It would change nothing.")
				return nil
			}
			// The draft first: what is told is of the revision that is changed, or nothing is.
			draft, err := s.api.Draft(s.ctx, key)
			if err != nil {
				return err
			}
			differs, err := s.api.StarterDifferences(s.ctx, key, name, names)
			if err != nil {
				return err
			}
			out, err := s.api.ChangeStarter(s.ctx, key, draft.Revision, wire.ChangeStarter{Starter: name, Take: names})
			if err == nil && !s.json {
				tell(differs, "It changes nothing that is seen.")
			}
			return s.saved(key, out, err)
		}
	},
}

var caseVerb = verb{
	arguments: "KEY NAME", about: "Keep a condition to see a pocket in with it",
	examples: []string{`case demo-countdown "Last ten seconds" -moment '2027-03-01T17:59:50[Europe/Berlin]'`, `case demo-popup "Second visit" -visitor returning -page dark`},
	flags: func(f *flag.FlagSet) func(*session) error {
		var c app.Conditions
		f.IntVar(&c.Width, "width", 0, "width of the page in `pixels`")
		f.StringVar(&c.Page, "page", "", "`page` around it: "+strings.Join(app.Pages, ", "))
		f.StringVar(&c.Language, "language", "", "`language` that it speaks")
		f.BoolVar(&c.Turned, "turned", false, "written from right to left")
		f.StringVar(&c.Content, "content", "", "how much is in it: none, one, many or `long`")
		f.BoolVar(&c.Still, "still", false, "the visitor asks for less motion")
		f.StringVar(&c.Visitor, "visitor", "", "`who` looks: new or returning")
		f.StringVar(&c.Moment, "moment", "", "`moment` that it is seen at, with its zone")
		f.BoolVar(&c.Frozen, "frozen", false, "the clock stands still there")
		return func(s *session) error {
			if len(s.args) != 2 {
				return usagef("name the pocket and the case: case KEY NAME")
			}
			out, err := s.api.SavePreviewCase(s.ctx, s.args[0], s.args[1], c)
			if err != nil || s.json {
				return orPrint(s, err, out)
			}
			fmt.Fprintf(s.out, "Kept the case %q with %s; the console shows it.\n", out.Name, s.args[0])
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
		add(in.Still, "less motion")
		add(in.Frozen, "standing still")
		rows = append(rows, []string{c.Name, strings.Join(words, ", ")})
	}
	s.table("CASE | SEEN", rows, "No cases are kept with it. Keep one: glasspocket case "+key+" NAME …")
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
			outcome = "waits"
		case p.Made > 0:
			outcome += ", number " + strconv.Itoa(p.Made)
		case p.Why != "":
			outcome += ": " + p.Why
		}
		does := p.Does
		if p.Number > 0 {
			does += " " + strconv.Itoa(p.Number)
		}
		rows = append(rows, []string{strconv.FormatInt(p.ID, 10), does, p.Moment, p.By, clip(outcome)})
	}
	s.table("PLAN | DOES | AT | BY | OUTCOME", rows, "Nothing is scheduled for it.")
	return nil
}
