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

	"glasspocket/internal/client"
	"glasspocket/internal/clip"
	"glasspocket/internal/wire"
)

// listFlags are the options that select pockets.
func listFlags(f *flag.FlagSet, l *wire.List) {
	f.StringVar(&l.Customer, "customer", "", "only pockets of this `customer`")
	f.StringVar(&l.Search, "search", "", "only pockets with this `text` in the title or key")
	f.StringVar(&l.Widget, "widget", "", "only pockets of this `widget`")
	f.StringVar(&l.State, "state", "", "only pockets in this `state`: unpublished, published, changed or withheld. For tasks: waiting, running, failed, done or cancelled")
	f.BoolVar(&l.Behind, "behind", false, "only pockets that keep an older release than the newest")
}

var bulkVerb = verb{
	arguments: "publish|unpublish|move|duplicate|delete [KEY …]", about: "Publish, unpublish, move, duplicate or delete many pockets",
	examples: []string{"bulk publish -customer kelp-and-kiln", "bulk duplicate demo-popup demo-cards -to saltmarsh-ferry"},
	flags: func(f *flag.FlagSet) func(*session) error {
		var l wire.List
		listFlags(f, &l)
		to := f.String("to", "", "with duplicate: the new pockets' `customer`")
		release := f.Int("release", 0, "with move: the release's `number` (default: the newest)")
		follow := f.Bool("follow", false, "with publish and move: use each new release automatically")
		all := f.Bool("all", false, "confirm that you mean all pockets, if nothing selects some")
		return func(s *session) error {
			if len(s.args) == 0 {
				return usagef("say what to do: publish, unpublish, move, duplicate or delete")
			}
			n := wire.NewJob{Does: s.args[0], Keys: s.args[1:], Release: *release, Customer: *to}
			if *follow {
				n.Follow = follow
			}
			narrowed := l != wire.List{}
			switch {
			case len(n.Keys) > 0 && (narrowed || *all):
				return usagef("name pockets or select them with options, not both")
			case len(n.Keys) == 0 && !narrowed && !*all:
				return usagef("this would apply to all pockets. Name some, select some with options, or add -all")
			case len(n.Keys) == 0:
				n.List = &l
			}
			return s.job(n)
		}
	},
}

// job starts a job and shows its progress until it ends. An interrupt cancels it.
func (s *session) job(n wire.NewJob) error {
	j, err := s.api.StartJob(s.ctx, n)
	if err != nil {
		return err
	}
	p := s.progress()
	for j.State == "running" {
		p.show("%d of %d pockets, %d failed", j.Done+j.Failed, j.Of, j.Failed)
		select {
		case <-time.After(200 * time.Millisecond):
		case <-s.ctx.Done():
			p.done()
			if err := s.api.CancelJob(context.WithoutCancel(s.ctx), j.ID); err != nil {
				return err
			}
			return errors.New("cancelled. Its results so far are kept")
		}
		if j, err = s.api.Job(context.WithoutCancel(s.ctx), j.ID); err != nil {
			return err
		}
	}
	p.done()
	if s.json {
		return s.print(j)
	}
	ended := map[string]string{"cancelled": "The job was cancelled", "failed": "The job failed"}[j.State]
	if ended == "" {
		ended = "The job is done"
	}
	fmt.Fprintf(s.out, "%s: %s succeeded, %d failed.\n", ended, counted(j.Done, "pocket"), j.Failed)
	for _, m := range j.Made {
		fmt.Fprintf(s.out, "  %s\n", m.Made)
	}
	for _, i := range j.Failures {
		fmt.Fprintf(s.out, "  %s: %s %s\n", i.Key, i.Why, i.Hint)
	}
	if j.Failed > 0 {
		return errors.New("some pockets failed")
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
	s.table("JOB | ACTION | STATE | DONE | FAILED | BY | STARTED", rows, "There are no jobs.")
	return nil
}

var exportVerb = verb{
	arguments: "KEY", about: "Export a pocket as one JSON file",
	examples: []string{"export demo-popup -assets -o popup.json", "export demo-cards > cards.json"},
	flags: func(f *flag.FlagSet) func(*session) error {
		assets := f.Bool("assets", false, "include the assets themselves, so that another service can import the file")
		into := f.String("o", "", "write to this `file` instead of standard output")
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
			fmt.Fprintf(s.out, "Exported %[2]s to %[1]s, with %[3]s.\n", *into, out.Title, counted(len(out.Assets), "asset"))
			return nil
		}
	},
}

var importVerb = verb{
	arguments: "FILE …", about: "Make pockets from exported files, or from standard input with -",
	examples: []string{"import popup.json -customer saltmarsh-ferry", "import popup.json cards.json -customer northbeck-observatory"},
	flags: func(f *flag.FlagSet) func(*session) error {
		customer := f.String("customer", "", "the new pockets' `customer`")
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
						return fmt.Errorf("%s is not a JSON file. Use a file that “export” wrote, unchanged", name)
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
	arguments: "KEY", about: "Make a pocket with the same draft as another",
	examples: []string{"duplicate demo-popup", "duplicate demo-popup -to saltmarsh-ferry"},
	flags: func(f *flag.FlagSet) func(*session) error {
		to := f.String("to", "", "the new pocket's `customer` (default: the same one)")
		return func(s *session) error {
			key, err := s.one("pocket")
			if err != nil {
				return err
			}
			out, err := s.api.DuplicatePocket(s.ctx, key, *to)
			if err != nil || s.json {
				return orPrint(s, err, out)
			}
			fmt.Fprintf(s.out, "Made the pocket %s (%s) for %s. It is not published yet.\n", out.Key, out.Title, out.Customer)
			return nil
		}
	},
}

var moveVerb = verb{
	arguments: "KEY", about: "Publish the live version again with another release",
	examples: []string{"move demo-countdown -follow", "move demo-popup -release 1 -follow"},
	flags: func(f *flag.FlagSet) func(*session) error {
		release := f.Int("release", 0, "the release's `number` (default: the newest)")
		follow := f.Bool("follow", false, "use each new release automatically from now on")
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
	about:    "Show who changed what, newest first",
	examples: []string{"audit -pocket demo-countdown", "audit -customer kelp-and-kiln -limit 200"},
	flags: func(f *flag.FlagSet) func(*session) error {
		var q client.AuditQuery
		f.StringVar(&q.Customer, "customer", "", "only changes for this `customer`")
		pocket := f.String("pocket", "", "only changes to the pocket with this `key`")
		widget := f.String("widget", "", "only changes to this `widget`")
		f.IntVar(&q.Limit, "limit", 50, "`number` of entries, at most 200")
		return func(s *session) error {
			if len(s.args) > 0 {
				return usagef("audit has options, but no arguments")
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
				rows = append(rows, []string{e.At.UTC().Format("2006-01-02 15:04"), e.By, e.Client, clip.Text(strings.TrimSpace(e.Sentence), cellMost)})
			}
			s.table("AT | BY | CLIENT | CHANGE", rows, "There are no changes.")
			return nil
		}
	},
}
