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
	"text/tabwriter"
	"time"

	"glasspocket/internal/client"
	"glasspocket/internal/fault"
)

// session is one run of a verb.
type session struct {
	ctx           context.Context
	stdin         io.Reader
	lines         *bufio.Reader // of stdin, once something was read from it
	out           io.Writer
	args          []string
	server, token string
	json          bool
	sources       map[string][]byte // files that faults may point into
	api           *client.Client
}

// kept is the config file: where “remember” puts server and token.
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
		return "", fmt.Errorf("there is no place for a config file (%w): name one in GLASSPOCKET_CONFIG", err)
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
		return k, fmt.Errorf("%s holds a token and can be read by others (mode %04o): run chmod 600 on it", file, info.Mode().Perm())
	}
	text, err := os.ReadFile(file)
	if err == nil {
		err = json.Unmarshal(text, &k)
	}
	if err != nil {
		return k, fmt.Errorf("%s cannot be read (%w): write it anew with “glasspocket remember”", file, err)
	}
	return k, nil
}

// configure settles server and token: flags, then environment, then what is kept.
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
		// A kept token belongs to the kept server and goes nowhere else.
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
		return "", usagef("name one %s; there are %d arguments", what, len(s.args))
	}
	return s.args[0], nil
}

func (s *session) print(v any) error {
	e := json.NewEncoder(s.out)
	e.SetIndent("", "  ")
	e.SetEscapeHTML(false)
	return e.Encode(v)
}

// done reports what a verb has done: as JSON if that is asked for, else in words.
func (s *session) done(v any, format string, a ...any) error {
	if s.json {
		return s.print(v)
	}
	_, err := fmt.Fprintf(s.out, format, a...)
	return err
}

// table prints rows in aligned columns, a heading first.
func (s *session) table(heading string, rows [][]string, none string) {
	if len(rows) == 0 {
		fmt.Fprintln(s.out, none)
		return
	}
	w := tabwriter.NewWriter(s.out, 0, 0, 3, ' ', 0)
	fmt.Fprintln(w, strings.ReplaceAll(heading, " | ", "\t"))
	for _, r := range rows {
		fmt.Fprintln(w, strings.Join(r, "\t"))
	}
	w.Flush()
}

func day(t time.Time) string { return t.Local().Format("2006-01-02 15:04") }

// printFaults prints each fault with the line that it stands in, underlined.
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
			// A long line is shown around the place.
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
