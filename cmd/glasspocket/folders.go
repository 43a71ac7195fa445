package main

import (
	"bytes"
	"errors"
	"flag"
	"fmt"
	"net"
	"os"
	"path/filepath"
	"sort"
	"strings"

	"glasspocket/console"
	"glasspocket/internal/bundle"
	"glasspocket/internal/client"
	"glasspocket/internal/fault"
	"glasspocket/internal/folder"
	"glasspocket/internal/heap"
	"glasspocket/internal/intake"
	"glasspocket/internal/local"
	"glasspocket/internal/merge"
	"glasspocket/internal/widget"
	"glasspocket/internal/wire"
)

// two returns the two arguments of a verb.
func (s *session) two(first, second string) (string, string, error) {
	if len(s.args) != 2 {
		return "", "", usagef("name the %s and the %s", first, second)
	}
	return s.args[0], s.args[1], nil
}

// empty makes sure that a folder contains nothing that could be overwritten.
func empty(dir string) error {
	entries, err := os.ReadDir(dir)
	if err != nil && !errors.Is(err, os.ErrNotExist) {
		return err
	}
	if len(entries) > 0 {
		return fmt.Errorf("%s is not empty. Name a folder that does not exist yet", dir)
	}
	return nil
}

var startVerb = verb{
	arguments: "DIR", about: "Start a widget folder, blank or from an HTML page",
	examples: []string{`start tide -title "High water" -language de`, "start board -page board.html -part '#board'"},
	flags: func(f *flag.FlagSet) func(*session) error {
		title := f.String("title", "", "the widget's `title`")
		language := f.String("language", "en", "the widget's first language, a BCP 47 `tag`")
		page := f.String("page", "", "HTML `file` to start from")
		root := f.String("root", "", "`folder` of the page's site, for addresses that start with / (default: the page's own folder)")
		part := f.String("part", "", "CSS `selector` of the part of the page to use (default: the whole body)")
		return func(s *session) error {
			dir, err := s.one("new folder")
			if err != nil {
				return err
			}
			if err := empty(dir); err != nil {
				return err
			}
			name := filepath.Base(filepath.Clean(dir))
			if !widget.NameForm.MatchString(name) {
				return usagef("the folder's name becomes the widget's name, and %q is not valid: use at most 40 lower-case letters, digits and hyphens", name)
			}
			if *page == "" {
				if *title == "" {
					*title = strings.ToUpper(name[:1]) + strings.ReplaceAll(name[1:], "-", " ")
				}
				if err := folder.Write(dir, folder.Differences(nil, widget.Blank(name, *title, *language))); err != nil {
					return err
				}
				return s.done(map[string]any{"title": *title, "folder": dir}, "Started the widget %s in %s.\nNext: glasspocket watch %s\n", name, dir, dir)
			}
			html, err := os.ReadFile(*page)
			if err != nil {
				return err
			}
			beside, err := folder.Beside(*page, *root)
			if err != nil {
				return err
			}
			made, faults := intake.Make(intake.Ask{Page: html, Name: name, Part: *part, Beside: beside}, bundle.Builder{})
			if len(faults) > 0 {
				return faults
			}
			if err := folder.Write(dir, folder.Differences(nil, made.Files)); err != nil {
				return err
			}
			if s.json {
				return s.print(map[string]any{"title": made.Title, "notes": made.Notes, "remotes": made.Remotes, "parts": made.Parts, "faults": made.Faults})
			}
			printNotes(s, *page, made)
			s.sources = made.Files
			printFaults(s.out, made.Faults, s.sources)
			fmt.Fprintf(s.out, "Started the widget %s in %s from %s.\nNext: glasspocket watch %s\n", name, dir, *page, dir)
			return nil
		}
	},
}

func printNotes(s *session, page string, made *intake.Made) {
	for _, done := range []bool{true, false} {
		for _, n := range made.Notes {
			if n.Done != done {
				continue
			}
			if n.Line > 0 {
				fmt.Fprintf(s.out, "%s:%d  ", page, n.Line)
			}
			fmt.Fprintln(s.out, n.What)
			if n.Fix != "" {
				fmt.Fprintln(s.out, "    "+n.Fix)
			}
		}
	}
}

var watchVerb = verb{
	arguments: "DIR", about: "Open the worktop for a folder and show every change as you save it",
	examples: []string{"watch tide", "watch tide -addr 127.0.0.1:7450"},
	flags: func(f *flag.FlagSet) func(*session) error {
		addr := f.String("addr", "127.0.0.1:0", "loopback `address` to listen on (default: a free port)")
		return func(s *session) error {
			dir, err := s.one("widget folder")
			if err != nil {
				return err
			}
			host, _, err := net.SplitHostPort(*addr)
			if ip := net.ParseIP(host); err != nil || host != "localhost" && (ip == nil || !ip.IsLoopback()) {
				return usagef("-addr %q is not a loopback address. Others could then change your files", *addr)
			}
			heap.Room()
			bench, err := local.Open(dir, bundle.Builder{})
			if err != nil {
				return err
			}
			worktop, err := net.Listen("tcp", *addr)
			if err != nil {
				return err
			}
			previews, err := net.Listen("tcp", net.JoinHostPort(host, "0"))
			if err != nil {
				return err
			}
			failed := make(chan error, 2)
			go func() {
				failed <- bench.Watch(s.ctx, func(err error) { fmt.Fprintln(s.out, "The folder cannot be read:", err) })
			}()
			go func() { failed <- bench.Serve(s.ctx, worktop, previews, console.Files()) }()
			address := bench.Address(worktop.Addr().String())
			if s.json {
				if err := s.print(map[string]string{"worktop": address}); err != nil {
					return err
				}
			} else {
				fmt.Fprintf(s.out, "Watching %s. Open this address in a browser:\n  %s\nIt shows every change as soon as you save. Stop with Ctrl-C.\n", dir, address)
			}
			if err := <-failed; err != nil {
				return err
			}
			return nil
		}
	},
}

var fetchVerb = verb{
	arguments: "WIDGET DIR", about: "Download a widget into a folder, or merge newer changes into that folder",
	examples: []string{"fetch countdown my-countdown", "fetch countdown first-countdown -release 1"},
	flags: func(f *flag.FlagSet) func(*session) error {
		number := f.Int("release", 0, "`number` of the release to download (default: the draft, or the newest release if there is no draft)")
		return func(s *session) error {
			name, dir, err := s.two("widget", "folder")
			if err != nil {
				return err
			}
			theirs, what, err := s.remoteFiles(name, *number)
			if err != nil {
				return err
			}
			base, was, known, err := folder.ReadBase(dir)
			if err != nil {
				return err
			}
			if !known {
				if err := empty(dir); err != nil {
					return err
				}
				if err := folder.Write(dir, folder.Differences(nil, theirs)); err != nil {
					return err
				}
				if err := folder.WriteBase(dir, folder.Base{Server: s.api.Server, Widget: name}, theirs); err != nil {
					return err
				}
				return s.done(map[string]any{"folder": dir, "changed": theirs.Paths()}, "Fetched %s of %s into %s: %s. Next: glasspocket watch %s\n", what, name, dir, counted(len(theirs), "file"), dir)
			}
			if base.Widget != name {
				return fmt.Errorf("%s was fetched of %s: name another folder for %s", dir, base.Widget, name)
			}
			mine, faults, err := folder.Read(dir)
			if err != nil {
				return err
			}
			if err := faults.Err(); err != nil {
				return err
			}
			merged, collisions := merge.Folders(was, mine, theirs)
			changes := folder.Differences(mine, merged)
			if err := folder.Write(dir, changes); err != nil {
				return err
			}
			// Files with collisions keep their old base, so that sending them is refused until they are resolved.
			fetched := widget.Files{}
			for p, content := range theirs {
				fetched[p] = content
			}
			for _, c := range collisions {
				if old, there := was[c.Path]; there {
					fetched[c.Path] = old
				} else {
					delete(fetched, c.Path)
				}
			}
			if err := folder.WriteBase(dir, folder.Base{Server: s.api.Server, Widget: name}, fetched); err != nil {
				return err
			}
			if len(collisions) > 0 {
				return s.collided(dir, collisions)
			}
			text := fmt.Sprintf("%s already has every change of %s.\n", dir, name)
			if len(changes) > 0 {
				text = ""
			}
			for _, p := range sortedKeys(changes) {
				text += "merged  " + p + "\n"
			}
			return s.done(map[string]any{"folder": dir, "changed": sortedKeys(changes)}, "%s", text)
		}
	},
}

func sortedKeys(m map[string][]byte) []string {
	keys := make([]string, 0, len(m))
	for k := range m {
		keys = append(keys, k)
	}
	sort.Strings(keys)
	return keys
}

// collisionError reports that both sides changed the same lines.
type collisionError struct{ what string }

func (e *collisionError) Error() string { return e.what }

// collided shows where both sides changed the same lines. The folder keeps its own version.
func (s *session) collided(dir string, collisions []merge.Collision) error {
	if s.json {
		list := []map[string]any{}
		for _, c := range collisions {
			list = append(list, map[string]any{"path": c.Path, "line": c.Line, "mine": c.Mine, "theirs": c.Theirs})
		}
		if err := s.print(map[string]any{"folder": dir, "collisions": list}); err != nil {
			return err
		}
	}
	for _, c := range collisions {
		if s.json {
			break
		}
		fmt.Fprintf(s.out, "%s:%d  changed on both sides\n", filepath.Join(dir, c.Path), c.Line)
		for _, side := range []struct{ sign, text string }{{"-", c.Mine}, {"+", c.Theirs}} {
			for i, l := range strings.Split(strings.TrimRight(side.text, "\n"), "\n") {
				if i == 8 {
					fmt.Fprintf(s.out, "    %s …\n", side.sign)
					break
				}
				fmt.Fprintf(s.out, "    %s %s\n", side.sign, l)
			}
		}
	}
	return &collisionError{fmt.Sprintf("%s changed both here and on the service. Your folder keeps your lines, shown with -; the service has the lines with +. Edit the files, then run “send” with -mine.", counted(len(collisions), "place"))}
}

// remoteFiles are the files of a widget at the service.
func (s *session) remoteFiles(name string, number int) (widget.Files, string, error) {
	if number == 0 {
		draft, err := s.api.WidgetDraft(s.ctx, name)
		if err == nil {
			files := widget.Files{}
			for _, f := range draft.Files {
				files[f.Path] = f.Bytes()
			}
			return files, "the draft", nil
		}
		var p *client.Problem
		if !errors.As(err, &p) || p.Status != 404 {
			return nil, "", err
		}
	}
	release, err := s.api.ReleaseFolder(s.ctx, name, number)
	if err != nil {
		return nil, "", err
	}
	files := widget.Files{}
	for _, f := range release.Files {
		content := f.Base64
		if content == nil {
			content = []byte(f.Text)
		}
		files[f.Path] = content
	}
	return files, fmt.Sprintf("release %d", release.Number), nil
}

var sendVerb = verb{
	arguments: "DIR", about: "Upload a folder to the service's worktop without releasing it",
	examples: []string{"send tide", "send tide -mine"},
	flags: func(f *flag.FlagSet) func(*session) error {
		mine := f.Bool("mine", false, "upload your version even where the service has different changes")
		return func(s *session) error {
			dir, err := s.one("widget folder")
			if err != nil {
				return err
			}
			files, faults, err := folder.Read(dir)
			if err != nil {
				return err
			}
			s.sources = files
			if err := faults.Err(); err != nil {
				return err
			}
			name := folder.Named(files)
			if name == "" {
				return fault.List{{Path: widget.ManifestFile, Code: fault.KeyMissing, What: "The manifest has no widget name.", Fix: `Add "name" to widget.json.`}}
			}
			base, was, known, err := folder.ReadBase(dir)
			if err != nil {
				return err
			}
			if known && base.Widget != name {
				known = false // it was renamed
			}
			sent, text := []string{}, ""
			draft, err := s.api.WidgetDraft(s.ctx, name)
			var p *client.Problem
			switch {
			case errors.As(err, &p) && p.Status == 404:
				if _, err = s.api.StartWidgetDraft(s.ctx, name, wire.NewWidgetDraft{Files: wire.FilesOf(files)}); err != nil {
					return err
				}
				sent = files.Paths()
				text = fmt.Sprintf("Uploaded %s to the worktop: %s.\n", name, counted(len(files), "file"))
			case err != nil:
				return err
			default:
				theirs := widget.Files{}
				digests := map[string]string{}
				for _, f := range draft.Files {
					theirs[f.Path], digests[f.Path] = f.Bytes(), f.Digest
				}
				if !known {
					was = widget.Files{}
				}
				merged, collisions := merge.Folders(was, files, theirs)
				if !known && !*mine {
					// The common base is unknown, so every difference is a collision.
					collisions = nil
					for _, path := range theirs.Paths() {
						if content, there := files[path]; there && !bytes.Equal(content, theirs[path]) {
							collisions = append(collisions, merge.Collision{Path: path, Line: 1, Mine: string(content), Theirs: string(theirs[path])})
						}
					}
				}
				if len(collisions) > 0 && !*mine {
					return s.collided(dir, collisions)
				}
				var send []wire.DraftFile
				for _, path := range sortedKeys(folder.Differences(theirs, merged)) {
					content, there := merged[path]
					f := wire.DraftFile{Path: path, Was: digests[path], Removed: !there}
					if there {
						f = wire.DraftFileOf(path, content, nil, "")
						f.Digest, f.Was = "", digests[path]
					}
					send = append(send, f)
				}
				if len(send) > 0 {
					if _, err := s.api.ChangeWidgetDraft(s.ctx, name, send); err != nil {
						return err
					}
				}
				if err := folder.Write(dir, folder.Differences(files, merged)); err != nil {
					return err
				}
				files = merged
				for _, f := range send {
					sent = append(sent, f.Path)
					text += "uploaded  " + f.Path + "\n"
				}
				if len(send) == 0 {
					text = fmt.Sprintf("The worktop already has every change in %s.\n", dir)
				}
			}
			if err := folder.WriteBase(dir, folder.Base{Server: s.api.Server, Widget: name}, files); err != nil {
				return err
			}
			return s.done(map[string]any{"widget": name, "sent": sent}, "%s", text)
		}
	},
}

var packVerb = verb{
	arguments: "DIR FILE", about: "Pack a widget folder into a ZIP file",
	examples: []string{"pack tide tide.zip", "pack widgets/countdown countdown.zip"},
	flags: func(*flag.FlagSet) func(*session) error {
		return func(s *session) error {
			dir, file, err := s.two("widget folder", "ZIP file")
			if err != nil {
				return err
			}
			files, faults, err := folder.Read(dir)
			if err != nil {
				return err
			}
			if err := faults.Err(); err != nil {
				return err
			}
			if len(files) == 0 {
				return fmt.Errorf("%s contains no files", dir)
			}
			name := folder.Named(files)
			if name == "" {
				name = filepath.Base(filepath.Clean(dir))
			}
			packed, err := folder.Pack(name, files)
			if err != nil {
				return err
			}
			if err := os.WriteFile(file, packed, 0o644); err != nil {
				return err
			}
			return s.done(map[string]any{"file": file, "files": files.Paths(), "bytes": len(packed)}, "Packed %s of the widget %s into %s (%d bytes).\n", counted(len(files), "file"), name, file, len(packed))
		}
	},
}

var unpackVerb = verb{
	arguments: "FILE DIR", about: "Unpack a ZIP file into a widget folder",
	examples: []string{"unpack tide.zip tide-copy", "unpack countdown.zip countdown-copy"},
	flags: func(*flag.FlagSet) func(*session) error {
		return func(s *session) error {
			file, dir, err := s.two("ZIP file", "new folder")
			if err != nil {
				return err
			}
			if err := empty(dir); err != nil {
				return err
			}
			info, err := os.Stat(file)
			if err != nil {
				return err
			}
			if info.Size() > folder.ZipMost {
				return fmt.Errorf("%s has %d bytes; the limit is %d", file, info.Size(), folder.ZipMost)
			}
			packed, err := os.ReadFile(file)
			if err != nil {
				return err
			}
			files, faults, err := folder.Unpack(packed)
			if err != nil {
				return err
			}
			if err := faults.Err(); err != nil {
				return err
			}
			if err := folder.Write(dir, folder.Differences(nil, files)); err != nil {
				return err
			}
			return s.done(map[string]any{"folder": dir, "files": files.Paths()}, "Unpacked %s into %s.\nNext: glasspocket check %s\n", counted(len(files), "file"), dir, dir)
		}
	},
}
