package main

import (
	"bufio"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
	"time"

	"golang.org/x/term"

	"glasspocket/internal/client"
	"glasspocket/internal/fault"
	"glasspocket/internal/program"
)

// session is one run of a verb.
type session struct {
	ctx           context.Context
	stdin         io.Reader
	lines         *bufio.Reader // buffers stdin, once something was read from it
	out, errs     io.Writer
	width         int // the terminal's, in characters; 0 if out is a file or a pipe
	args          []string
	server, token string
	json          bool
	sources       map[string][]byte // files that faults may point into
	api           *client.Client
}

// kept is the config file, in which “remember” saves the server and the token.
type kept struct {
	Server string `json:"server"`
	Token  string `json:"token"`
}

func keptFile() (string, error) {
	if f := os.Getenv("GLASSPOCKET_CONFIG"); f != "" {
		return f, nil
	}
	dir, err := os.UserConfigDir()
	if err != nil {
		return "", fmt.Errorf("no folder for the config file was found (%w). Name a file in GLASSPOCKET_CONFIG", err)
	}
	return filepath.Join(dir, "glasspocket", "config.json"), nil
}

func readKept() (k kept, err error) {
	file, err := keptFile()
	if err != nil {
		return k, nil
	}
	info, err := os.Stat(file)
	if errors.Is(err, fs.ErrNotExist) {
		return k, nil
	}
	if err != nil {
		return k, err
	}
	if info.Mode().Perm()&0o077 != 0 {
		return k, fmt.Errorf("%s contains a token, and other users can read it (mode %04o). Run: chmod 600 %[1]s", file, info.Mode().Perm())
	}
	text, err := os.ReadFile(file)
	if err == nil {
		err = json.Unmarshal(text, &k)
	}
	if err != nil {
		return k, fmt.Errorf("%s cannot be read (%w). Write it again with “glasspocket remember”", file, err)
	}
	return k, nil
}

// configure finds the server and the token: options, then environment, then the config file.
func (s *session) configure() error {
	if s.server == "" {
		s.server = os.Getenv("GLASSPOCKET_SERVER")
	}
	if s.token == "" {
		s.token = os.Getenv("GLASSPOCKET_TOKEN")
	}
	if s.server == "" || s.token == "" {
		k, err := readKept()
		if err != nil {
			return err
		}
		// A saved token is only sent to the server that it was saved with.
		if s.token == "" && (s.server == "" || s.server == k.Server) {
			s.token = k.Token
		}
		if s.server == "" {
			s.server = k.Server
		}
	}
	if s.server == "" {
		s.server = "http://127.0.0.1:7440"
	}
	s.api = &client.Client{Server: s.server, Token: s.token}
	return nil
}

func (s *session) one(what string) (string, error) {
	if len(s.args) != 1 {
		return "", usagef("name one %s; you gave %d arguments", what, len(s.args))
	}
	return s.args[0], nil
}

func (s *session) print(v any) error {
	e := json.NewEncoder(s.out)
	e.SetIndent("", "  ")
	e.SetEscapeHTML(false)
	return e.Encode(v)
}

// done reports a result, as JSON if -json is set, and in words if not.
func (s *session) done(v any, format string, a ...any) error {
	if s.json {
		return s.print(v)
	}
	_, err := fmt.Fprintf(s.out, format, a...)
	return err
}

// table prints rows in aligned columns, cut to the width of the terminal; without rows, it prints none.
func (s *session) table(heading string, rows [][]string, none string) {
	if len(rows) == 0 {
		fmt.Fprintln(s.out, none)
		return
	}
	program.Table(s.out, strings.Split(heading, " | "), rows, s.width)
}

// progress shows, on standard error, the progress of an operation that takes longer than a second.
type progress struct {
	w        io.Writer
	terminal bool
	since    time.Time
	shown    int // characters on the terminal's last line
}

func (s *session) progress() *progress {
	f, ok := s.errs.(*os.File)
	return &progress{w: s.errs, terminal: ok && term.IsTerminal(int(f.Fd())), since: time.Now()}
}

// show replaces the last text on a terminal; elsewhere it adds a line, at most one a second.
func (p *progress) show(format string, a ...any) {
	if time.Since(p.since) < time.Second {
		return
	}
	text := fmt.Sprintf(format, a...)
	if !p.terminal {
		p.since = time.Now()
		fmt.Fprintln(p.w, text)
		return
	}
	fmt.Fprintf(p.w, "\r%-*s", p.shown, text)
	p.shown = len([]rune(text))
}

// done clears the terminal's line.
func (p *progress) done() {
	if p.shown > 0 {
		fmt.Fprintf(p.w, "\r%s\r", strings.Repeat(" ", p.shown))
		p.shown = 0
	}
}

func day(t time.Time) string { return t.Local().Format("2006-01-02 15:04") }

// printFaults prints each fault with its line of the file and underlines the text at fault.
func printFaults(w io.Writer, faults fault.List, sources map[string][]byte) {
	for _, f := range faults {
		where := f.Path
		if f.Line > 0 {
			where += fmt.Sprintf(":%d:%d", f.Line, f.Column)
		}
		if where = strings.TrimPrefix(where, ":"); where != "" {
			where += "  "
		}
		kind := ""
		if f.Warning {
			kind = "warning: "
		}
		fmt.Fprintf(w, "%s%s%s  [%s]\n", where, kind, f.What, f.Code)
		if lines := strings.Split(string(sources[f.Path]), "\n"); f.Line > 0 && f.Line <= len(lines) && sources[f.Path] != nil {
			line := []rune(strings.TrimRight(strings.ReplaceAll(lines[f.Line-1], "\t", " "), "\r"))
			// Show only the part of a long line around the fault.
			from := max(0, f.Column-50)
			to := min(len(line), from+100)
			if from < to {
				ahead := min(f.Column-1-from, to-from)
				fmt.Fprintf(w, "    %s\n    %s%s\n", string(line[from:to]), strings.Repeat(" ", ahead), strings.Repeat("^", max(1, min(f.Length, to-from-ahead))))
			}
		}
		fmt.Fprintf(w, "    %s\n", f.Fix)
	}
	warnings := 0
	for _, f := range faults {
		if f.Warning {
			warnings++
		}
	}
	var sums []string
	for _, sum := range []struct {
		n    int
		noun string
	}{{len(faults) - warnings, "fault"}, {warnings, "warning"}} {
		if sum.n > 0 {
			sums = append(sums, counted(sum.n, sum.noun))
		}
	}
	if len(sums) > 0 {
		fmt.Fprintln(w, strings.Join(sums, ", ")+".")
	}
}

// counted writes "1 fault", "2 faults".
func counted(n int, noun string) string {
	if n == 1 {
		return "1 " + noun
	}
	return fmt.Sprintf("%d %ss", n, noun)
}
