package main

import (
	"context"
	"encoding/json"
	"errors"
	"flag"
	"fmt"
	"io"
	"os"
	"strconv"
	"strings"
	"time"

	"golang.org/x/term"

	"glasspocket/internal/client"
	"glasspocket/internal/wire"
)

// listFlags are those that say which pockets are meant.
func listFlags(f *flag.FlagSet, l *wire.List) {
	f.StringVar(&l.Customer, "customer", "", "only this customer's pockets (`id`)")
	f.StringVar(&l.Search, "search", "", "only those with this `text` in title or key")
	f.StringVar(&l.Widget, "widget", "", "only pockets of this widget (`name`)")
	f.StringVar(&l.State, "state", "", "only those in this `state`: unpublished, published, changed or withheld")
	f.BoolVar(&l.Behind, "behind", false, "only those published with an older release than the newest, which do not follow")
}

var bulkVerb = verb{
	arguments: "publish | unpublish | move | copy | end [KEY …]", about: "Do something to many pockets: those named, or all of a list",
	examples: []string{"many publish -customer kelp-and-kiln -state changed", "many move -widget countdown -behind", "many copy demo-popup demo-cards -to saltmarsh-ferry"},
	flags: func(f *flag.FlagSet) func(*session) error {
		var l wire.List
		listFlags(f, &l)
		to := f.String("to", "", "the customer (`id`) to copy to")
		release := f.Int("release", 0, "the release to move to; the newest when left out")
		follow := f.Bool("follow", false, "from then on they follow new releases")
		all := f.Bool("all", false, "really all pockets in reach, when nothing narrows the list")
		return func(s *session) error {
			if len(s.args) == 0 {
				return usagef("say what to do: publish, unpublish, move, copy or end")
			}
			n := wire.NewJob{Does: s.args[0], Keys: s.args[1:], Release: *release, Customer: *to}
			if *follow {
				n.Follow = follow
			}
			narrowed := l != wire.List{}
			switch {
			case len(n.Keys) > 0 && (narrowed || *all):
				return usagef("name pockets, or narrow a list; not both")
			case len(n.Keys) == 0 && !narrowed && !*all:
				return usagef("this would be all pockets: name some, narrow the list, or say -all")
			case len(n.Keys) == 0:
				n.List = &l
			}
			return s.job(n)
		}
	},
}

// job begins long work and shows how far it has come until it is through. An interrupt stops it.
func (s *session) job(n wire.NewJob) error {
	j, err := s.api.StartJob(s.ctx, n)
	if err != nil {
		return err
	}
	terminal := false
	if f, ok := s.out.(*os.File); ok && !s.json {
		terminal = term.IsTerminal(int(f.Fd()))
	}
	for j.State == "running" {
		if terminal {
			fmt.Fprintf(s.out, "\r%d of %d, %d failed", j.Done+j.Failed, j.Of, j.Failed)
		}
		select {
		case <-time.After(200 * time.Millisecond):
		case <-s.ctx.Done():
			fmt.Fprintln(s.out)
			if err := s.api.CancelJob(context.WithoutCancel(s.ctx), j.ID); err != nil {
				return err
			}
			return errors.New("stopped; what was done stays done")
		}
		if j, err = s.api.Job(context.WithoutCancel(s.ctx), j.ID); err != nil {
			return err
		}
	}
	if terminal {
		fmt.Fprint(s.out, "\r\033[K")
	}
	if s.json {
		return s.print(j)
	}
	fmt.Fprintf(s.out, "%s: %d done, %d failed.\n", j.State, j.Done, j.Failed)
	for _, m := range j.Made {
		fmt.Fprintf(s.out, "  %s\n", m.Made)
	}
	for _, i := range j.Failures {
		fmt.Fprintf(s.out, "  %s: %s %s\n", i.Key, i.Why, i.Hint)
	}
	if j.Failed > 0 {
		return errors.New("some could not be done")
	}
	return nil
}

func (s *session) listJobs() error {
	out, err := s.api.Jobs(s.ctx)
	if err != nil || s.json {
		return orPrint(s, err, out)
	}
	var rows [][]string
	for _, j := range out.Jobs {
		rows = append(rows, []string{j.ID, j.Does, j.State, fmt.Sprintf("%d of %d", j.Done+j.Failed, j.Of), strconv.Itoa(j.Failed), j.By, day(j.CreatedAt)})
	}
	s.table("JOB | DOES | STATE | DONE | FAILED | BY | BEGAN", rows, "There has been no long work.")
	return nil
}

var exportVerb = verb{
	arguments: "KEY", about: "Write a pocket as one JSON file, with its assets listed",
	examples: []string{"export demo-popup > popup.json", "export demo-popup -assets -o popup.json"},
	flags: func(f *flag.FlagSet) func(*session) error {
		assets := f.Bool("assets", false, "put the bytes of the assets in too, so that another service can import it")
		into := f.String("o", "", "write it to this `file` instead of standard output")
		return func(s *session) error {
			key, err := s.one("pocket")
			if err != nil {
				return err
			}
			out, err := s.api.ExportPocket(s.ctx, key, *assets)
			if err != nil {
				return err
			}
			if *into == "" {
				return s.print(out)
			}
			text, err := json.MarshalIndent(out, "", "  ")
			if err != nil {
				return err
			}
			if err := os.WriteFile(*into, append(text, '\n'), 0o644); err != nil {
				return err
			}
			fmt.Fprintf(s.out, "Wrote %s: %s, with %s listed.\n", *into, out.Title, counted(len(out.Assets), "asset"))
			return nil
		}
	},
}

var importVerb = verb{
	arguments: "FILE …", about: "Make pockets of files that were exported; - reads standard input",
	examples: []string{"import popup.json -customer saltmarsh-ferry"},
	flags: func(f *flag.FlagSet) func(*session) error {
		customer := f.String("customer", "", "the customer (`id`) who gets them")
		return func(s *session) error {
			if len(s.args) == 0 {
				return usagef("name the files: import FILE …")
			}
			n := wire.NewJob{Does: "import", Customer: *customer}
			for _, name := range s.args {
				text, err := s.read(name)
				if err != nil {
					return err
				}
				var several []json.RawMessage
				if json.Unmarshal(text, &several) != nil {
					several = []json.RawMessage{text}
				}
				for _, each := range several {
					if !json.Valid(each) {
						return fmt.Errorf("%s is no JSON file: take one that was exported, as it is", name)
					}
				}
				n.Files = append(n.Files, several...)
			}
			return s.job(n)
		}
	},
}

// read reads a file, or standard input for -.
func (s *session) read(name string) ([]byte, error) {
	if name == "-" {
		return io.ReadAll(s.stdin)
	}
	return os.ReadFile(name)
}

var duplicateVerb = verb{
	arguments: "KEY", about: "Make a pocket with the same draft",
	examples: []string{"copy demo-popup", "copy demo-popup -to saltmarsh-ferry"},
	flags: func(f *flag.FlagSet) func(*session) error {
		to := f.String("to", "", "the customer (`id`) who gets it; the same one when left out")
		return func(s *session) error {
			key, err := s.one("pocket")
			if err != nil {
				return err
			}
			out, err := s.api.DuplicatePocket(s.ctx, key, *to)
			if err != nil || s.json {
				return orPrint(s, err, out)
			}
			fmt.Fprintf(s.out, "Made %s (%s) for %s, not published yet.\n", out.Key, out.Title, out.Customer)
			return nil
		}
	},
}

var moveVerb = verb{
	arguments: "KEY", about: "Publish what visitors get once more, with another release",
	examples: []string{"move demo-countdown", "move demo-countdown -release 2", "move demo-countdown -follow"},
	flags: func(f *flag.FlagSet) func(*session) error {
		release := f.Int("release", 0, "its `number`; the newest when left out")
		follow := f.Bool("follow", false, "from now on it follows new releases")
		return func(s *session) error {
			key, err := s.one("pocket")
			if err != nil {
				return err
			}
			n := wire.Move{Release: *release}
			if *follow {
				n.Follow = follow
			}
			out, err := s.api.MovePocket(s.ctx, key, n)
			if err != nil || s.json {
				return orPrint(s, err, out)
			}
			fmt.Fprintf(s.out, "Published %s as number %d, with release %d.\n", key, out.Number, out.Release)
			return nil
		}
	},
}

var auditVerb = verb{
	about:    "Tell who has changed what, the newest first",
	examples: []string{"audit", "audit -pocket demo-countdown", "audit -customer kelp-and-kiln -limit 200"},
	flags: func(f *flag.FlagSet) func(*session) error {
		var q client.AuditQuery
		f.StringVar(&q.Customer, "customer", "", "only what is this customer's (`id`)")
		pocket := f.String("pocket", "", "only this pocket (`key`)")
		widget := f.String("widget", "", "only this widget (`name`)")
		f.IntVar(&q.Limit, "limit", 50, "how many lines, at most 200")
		return func(s *session) error {
			if len(s.args) > 0 {
				return usagef("audit takes options only")
			}
			switch {
			case *pocket != "" && *widget != "":
				return usagef("give -pocket or -widget, not both")
			case *pocket != "":
				q.Kind, q.Of = "pocket", *pocket
			case *widget != "":
				q.Kind, q.Of = "widget", *widget
			}
			out, err := s.api.Audit(s.ctx, q)
			if err != nil || s.json {
				return orPrint(s, err, out)
			}
			var rows [][]string
			for _, e := range out.Entries {
				rows = append(rows, []string{e.At.UTC().Format("2006-01-02 15:04"), e.By, e.Client, clip(strings.TrimSpace(e.Sentence))})
			}
			s.table("AT | BY | THROUGH | WHAT", rows, "Nothing has been changed.")
			return nil
		}
	},
}
