package main

import (
	"flag"
	"fmt"
	"os"
	"path/filepath"

	"glasspocket/internal/bundle"
	"glasspocket/internal/fault"
	"glasspocket/internal/widget"
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
		return nil, fmt.Errorf("%s is a file: name the widget's folder", dir)
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
	arguments: "DIR", about: "Check a widget folder, here, without a service",
	examples: []string{"check widgets/countdown"},
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
			fmt.Fprintf(s.out, "%s is sound: %s, %s, %s.\n", r.Manifest.Name, counted(len(r.Schema.Settings), "setting"), counted(len(r.Starters), "starter"), counted(len(r.Manifest.Languages), "language"))
			return nil
		}
	},
}

var releaseVerb = verb{
	arguments: "DIR", about: "Release a widget folder",
	examples: []string{"release widgets/countdown"},
	flags: func(f *flag.FlagSet) func(*session) error {
		return func(s *session) error {
			r, err := s.folder()
			if err != nil {
				return err
			}
			out, err := s.api.Release(s.ctx, r.Manifest.Name, r.Files)
			if err != nil {
				return err
			}
			if s.json {
				return s.print(out)
			}
			printFaults(s.out, out.Warnings, s.sources)
			if out.Fresh {
				fmt.Fprintf(s.out, "Released %s as number %d. Pockets get it when they are next published.\n", out.Widget, out.Number)
			} else {
				fmt.Fprintf(s.out, "%s is unchanged since release %d; nothing was released.\n", out.Widget, out.Number)
			}
			return nil
		}
	},
}

var typesVerb = verb{
	arguments: "DIR", about: "Write the TypeScript declarations of a widget folder's mount function",
	examples: []string{"types widgets/countdown"},
	flags: func(f *flag.FlagSet) func(*session) error {
		return func(s *session) error {
			r, err := s.folder()
			if err != nil {
				return err
			}
			file := filepath.Join(s.args[0], widget.DeclarationsFile)
			text := r.Declarations()
			if old, err := os.ReadFile(file); err == nil && string(old) == text {
				fmt.Fprintf(s.out, "%s is right already.\n", file)
				return nil
			}
			if err := os.WriteFile(file, []byte(text), 0o644); err != nil {
				return err
			}
			fmt.Fprintf(s.out, "Wrote %s. In mount.ts: import type { Pocket } from \"./pocket\";\n", file)
			return nil
		}
	},
}

var explainVerb = verb{
	arguments: "CODE", about: "Explain a fault by its code",
	examples: []string{"explain value-colour"},
	flags: func(f *flag.FlagSet) func(*session) error {
		return func(s *session) error {
			code, err := s.one("code, as it stands in [brackets] behind a fault")
			if err != nil {
				return err
			}
			e, ok := fault.Explain(fault.Code(code))
			if !ok {
				codes := make([]string, len(fault.Catalogue))
				for i, e := range fault.Catalogue {
					codes[i] = string(e.Code)
				}
				return usagef("there is no fault %q. %s", code, fault.DidYouMean(code, codes))
			}
			if s.json {
				return s.print(e)
			}
			fmt.Fprintf(s.out, "%s\n\n%s.\n%s\nFor example: %s\n", e.Code, e.Title, e.Why, e.Example)
			return nil
		}
	},
}
