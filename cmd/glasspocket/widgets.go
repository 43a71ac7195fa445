package main

import (
	"context"
	"errors"
	"flag"
	"fmt"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"time"

	"glasspocket/internal/bundle"
	"glasspocket/internal/client"
	"glasspocket/internal/fault"
	"glasspocket/internal/widget"
	"glasspocket/internal/wire"
)

// folder reads a widget folder from disk, and builds it, so that faults are shown with
// their lines and nothing faulty is sent.
func (s *session) folder() (*widget.Release, error) {
	dir, err := s.one("widget folder")
	if err != nil {
		return nil, err
	}
	if info, err := os.Stat(dir); err != nil {
		return nil, fmt.Errorf("the folder cannot be read: %w", err)
	} else if !info.IsDir() {
		return nil, fmt.Errorf("%s is a file. Name the widget's folder", dir)
	}
	files, faults, err := widget.Collect(os.DirFS(dir))
	if err != nil {
		return nil, err
	}
	s.sources = files
	if err := faults.Err(); err != nil {
		return nil, err
	}
	r, faults := widget.Read(files, bundle.Builder{})
	return r, faults.Err()
}

var checkVerb = verb{
	arguments: "DIR", about: "Check a widget folder on this computer, without a service",
	examples: []string{"check widgets/countdown", "check tide -json"},
	flags: func(f *flag.FlagSet) func(*session) error {
		return func(s *session) error {
			r, err := s.folder()
			if err != nil {
				return err
			}
			if s.json {
				return s.print(map[string]any{"widget": r.Manifest.Name, "digest": r.Digest, "faults": append(fault.List{}, r.Warnings...)})
			}
			printFaults(s.out, r.Warnings, s.sources)
			fmt.Fprintf(s.out, "%s has no faults: %s, %s, %s.\n", r.Manifest.Name, counted(len(r.Schema.Settings), "setting"), counted(len(r.Starters), "starter"), counted(len(r.Manifest.Languages), "language"))
			return nil
		}
	},
}

var releaseVerb = verb{
	arguments: "DIR", about: "Release a widget folder after a dry run over every pocket that follows",
	examples: []string{"release tide -dry-run", `release tide -note "Larger digits" -share 10`},
	flags: func(f *flag.FlagSet) func(*session) error {
		note := f.String("note", "", "`note` about the changes")
		share := f.Int("share", 100, "`percentage` of following pockets that get it at first")
		dry := f.Bool("dry-run", false, "release nothing; show what would change in which pockets")
		yes := f.Bool("breaks", false, "release even if some pockets cannot use it; they keep their present release")
		return func(s *session) error {
			r, err := s.folder()
			if err != nil {
				return err
			}
			run, err := s.dryRun(r, *dry)
			if err != nil {
				return err
			}
			breaks := &breaksError{run.Of, run.Broken}
			if *dry && run.Broken > 0 {
				return breaks
			} else if *dry {
				return nil
			}
			out, err := s.api.ReleaseAs(s.ctx, r.Manifest.Name, wire.NewRelease{Files: wire.FilesOf(r.Files), Note: *note, Share: *share, DryRun: run.ID, Breaks: *yes})
			var p *client.Problem
			if errors.As(err, &p) && p.Code == "release-breaks" && !s.json {
				return breaks // its pockets are listed already
			}
			if err != nil {
				return err
			}
			if s.json {
				return s.print(out)
			}
			printFaults(s.out, out.Warnings, s.sources)
			switch {
			case !out.Fresh:
				fmt.Fprintf(s.out, "%s has not changed since release %d. Nothing was released.\n", out.Widget, out.Number)
			case out.Share != *share:
				fmt.Fprintf(s.out, "Released %s as number %d for all pockets, because no older release is in use.\n", out.Widget, out.Number)
			case out.Share < 100:
				fmt.Fprintf(s.out, "Released %s as number %d for %d%% of the pockets that follow.\nFor all of them: glasspocket roll %[1]s %[2]d 100\nTo undo this:    glasspocket withdraw %[1]s %[2]d\n", out.Widget, out.Number, out.Share)
			default:
				fmt.Fprintf(s.out, "Released %s as number %d. Pockets that follow use it now; others when somebody publishes them.\n", out.Widget, out.Number)
			}
			return nil
		}
	},
}

// breaksError reports pockets that a release would break.
type breaksError struct{ of, broken int }

func (e *breaksError) Error() string {
	return fmt.Sprintf("%d of %s that follow cannot use this release.\nDescribe under \"changes\" in settings.json how older settings change. Or add -breaks: those pockets then keep their present release.", e.broken, counted(e.of, "pocket"))
}

// outcomesShown is how many pockets of a dry run are listed.
const outcomesShown = 20

// dryRun renders every following pocket with a folder, shows the progress and reports the result.
// alone means that no release follows.
func (s *session) dryRun(r *widget.Release, alone bool) (run wire.DryRun, err error) {
	name := r.Manifest.Name
	if run, err = s.api.StartDryRun(s.ctx, name, wire.NewDryRun{Files: wire.FilesOf(r.Files)}); err != nil {
		return run, err
	}
	p := s.progress()
	defer p.done()
	for wait := 5 * time.Millisecond; !run.Finished && !run.Cancelled; wait = min(2*wait, time.Second) {
		select {
		case <-s.ctx.Done():
			_ = s.api.CancelDryRun(context.WithoutCancel(s.ctx), name, run.ID)
			return run, errors.New("stopped. Nothing was released")
		case <-time.After(wait):
		}
		if run, err = s.api.DryRun(s.ctx, name, run.ID, ""); err != nil {
			return run, err
		}
		p.show("Dry run: %d of %d pockets", run.Done, run.Of)
	}
	p.done()
	switch {
	case run.Cancelled:
		return run, errors.New("the dry run was cancelled. Nothing was released")
	case s.json && alone:
		return run, s.print(run)
	case s.json || run.Of == 0 && !alone:
		return run, nil
	}
	fmt.Fprintf(s.out, "Dry run, %s: %d identical, %d changed, %d broken.\n", counted(run.Of, "pocket"), run.Identical, run.Changed, run.Broken)
	for _, p := range run.Pockets[:min(outcomesShown, len(run.Pockets))] {
		why := p.Why
		if p.Verdict == "changed" {
			why = strings.Join(p.What, ", ")
		}
		fmt.Fprintf(s.out, "  %-8s %s  %s\n", p.Verdict, p.Key, why)
	}
	if more := run.Changed + run.Broken - outcomesShown; more > 0 {
		fmt.Fprintf(s.out, "  and %d more. The console lists them all with previews\n", more)
	}
	return run, nil
}

var rollVerb = verb{
	arguments: "WIDGET NUMBER PERCENTAGE", about: "Roll a release out to a percentage of the pockets that follow",
	examples: []string{"roll tide 1 25", "roll tide 1 100"},
	flags: func(*flag.FlagSet) func(*session) error {
		return func(s *session) error {
			if len(s.args) != 3 {
				return usagef("name the widget, the release and the percentage: roll WIDGET NUMBER PERCENTAGE")
			}
			n, err := number(s.args[1], "release", "list releases "+s.args[0])
			if err != nil {
				return err
			}
			share, err := strconv.Atoi(s.args[2])
			if err != nil {
				return usagef("%q is not a percentage from 1 to 100", s.args[2])
			}
			out, err := s.api.ShareRelease(s.ctx, s.args[0], n, share)
			if err != nil || s.json {
				return orPrint(s, err, out)
			}
			switch {
			case out.Share != share:
				fmt.Fprintf(s.out, "Release %d of %s is the oldest one in use, so every pocket without a newer one uses it.\n", out.Number, out.Widget)
			case out.Share == 100:
				fmt.Fprintf(s.out, "Release %d of %s is rolled out to all pockets that follow.\n", out.Number, out.Widget)
			default:
				fmt.Fprintf(s.out, "Release %d of %s is rolled out to %d%% of the pockets that follow.\n", out.Number, out.Widget, out.Share)
			}
			s.stuck(out)
			return nil
		}
	},
}

var typesVerb = verb{
	arguments: "DIR", about: "Write TypeScript declarations for a widget folder's mount function",
	examples: []string{"types widgets/countdown", "types tide"},
	flags: func(f *flag.FlagSet) func(*session) error {
		return func(s *session) error {
			r, err := s.folder()
			if err != nil {
				return err
			}
			file := filepath.Join(s.args[0], widget.DeclarationsFile)
			text := r.Declarations()
			if old, err := os.ReadFile(file); err == nil && string(old) == text {
				return s.done(map[string]any{"file": file, "written": false}, "%s is up to date.\n", file)
			}
			if err := os.WriteFile(file, []byte(text), 0o644); err != nil {
				return err
			}
			return s.done(map[string]any{"file": file, "written": true}, "Wrote %s. In mount.ts: import type { Pocket } from \"./pocket\";\n", file)
		}
	},
}

var explainVerb = verb{
	arguments: "CODE", about: "Explain a fault by its code",
	examples: []string{"explain value-colour", "explain view-syntax -json"},
	flags: func(f *flag.FlagSet) func(*session) error {
		return func(s *session) error {
			code, err := s.one("code, shown in [brackets] after a fault")
			if err != nil {
				return err
			}
			e, ok := fault.Explain(fault.Code(code))
			if !ok {
				codes := make([]string, len(fault.Catalogue))
				for i, e := range fault.Catalogue {
					codes[i] = string(e.Code)
				}
				return usagef("there is no fault code %q. %s", code, fault.DidYouMean(code, codes))
			}
			if s.json {
				return s.print(e)
			}
			fmt.Fprintf(s.out, "%s\n\n%s.\n%s\nFor example: %s\n", e.Code, e.Title, e.Why, e.Example)
			return nil
		}
	},
}
