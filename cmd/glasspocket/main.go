// Command glasspocket is the command-line client of the manage API.
package main

import (
	"context"
	"errors"
	"flag"
	"fmt"
	"io"
	"os"
	"os/signal"
	"slices"
	"sort"
	"strings"

	"golang.org/x/term"

	"glasspocket/internal/client"
	"glasspocket/internal/fault"
	"glasspocket/internal/program"
)

// Exit codes, documented in usage and docs/client.md.
const (
	exitRefused     = 1 // the service refused the request, or the client failed
	exitUsage       = 2 // the command line is wrong
	exitFaults      = 3 // a widget folder or settings have faults
	exitUnreachable = 4 // no service answered
	exitSignIn      = 5 // the token is missing, unknown, expired, or not allowed to do this
	exitChanged     = 6 // somebody else changed it meanwhile
)

// verb is one thing that the client can do.
type verb struct {
	arguments, about string
	examples         []string
	// flags declares the verb's own options and returns what runs it.
	flags func(f *flag.FlagSet) func(*session) error
}

var verbs = map[string]verb{
	"start":     startVerb,
	"brand":     brandVerb,
	"case":      caseVerb,
	"change":    changeVerb,
	"duplicate": duplicateVerb,
	"diff":      diffVerb,
	"export":    exportVerb,
	"import":    importVerb,
	"invite":    inviteVerb,
	"bulk":      bulkVerb,
	"move":      moveVerb,
	"starter":   starterVerb,
	"audit":     auditVerb,
	"unpublish": unpublishVerb,
	"check":     checkVerb,
	"fetch":     fetchVerb,
	"pack":      packVerb,
	"roll":      rollVerb,
	"send":      sendVerb,
	"unpack":    unpackVerb,
	"watch":     watchVerb,
	"release":   releaseVerb,
	"list":      listVerb,
	"make":      makeVerb,
	"delete":    deleteVerb,
	"cancel":    cancelVerb,
	"revoke":    revokeVerb,
	"explain":   explainVerb,
	"read":      readVerb,
	"restore":   restoreVerb,
	"run":       runVerb,
	"password":  passwordVerb,
	"withdraw":  withdrawVerb,
	"withhold":  withholdVerb,
	"set":       setVerb,
	"publish":   publishVerb,
	"snippet":   snippetVerb,
	"remember":  rememberVerb,
	"steps":     stepsVerb,
	"seal":      sealVerb,
	"try":       tryVerb,
	"handover":  handoverVerb,
	"cues":      cuesVerb,
	"host":      hostVerb,
	"signin":    signinVerb,
	"types":     typesVerb,
	"upload":    uploadVerb,
	"whoami":    whoamiVerb,
	"connect":   connectVerb,
	"map":       mapVerb,
	"items":     itemsVerb,
	"filter":    filterVerb,
	"refresh":   refreshVerb,
	"hide":      hideVerb,
	"pin":       pinVerb,
	"correct":   correctVerb,
}

// usageError is a mistake on the command line.
type usageError struct{ what string }

func (e *usageError) Error() string { return e.what }

func usagef(format string, a ...any) error { return &usageError{fmt.Sprintf(format, a...)} }

func usage(w io.Writer) {
	fmt.Fprint(w, `glasspocket controls a Glass Pocket service from the command line.

Usage: glasspocket VERB [options] [arguments]

`)
	names := make([]string, 0, len(verbs))
	for n := range verbs {
		names = append(names, n)
	}
	sort.Strings(names)
	for _, n := range names {
		about := program.Wrap(verbs[n].about, strings.Repeat(" ", 12))
		fmt.Fprintf(w, "  %-9s  %s\n", n, strings.TrimLeft(about, " "))
	}
	fmt.Fprint(w, `
“glasspocket VERB -h” shows the arguments, options and examples of a verb.
“glasspocket version” prints the version.

The server and the token come from -server and -token. Without these, they come
from GLASSPOCKET_SERVER and GLASSPOCKET_TOKEN, or from the config file that
“signin” and “remember” write.

Exit codes
  0  done
  1  refused or failed
  2  wrong command line
  3  faults in a widget folder or in settings
  4  no service answered
  5  not signed in, or not allowed
  6  somebody else changed the same thing first
`)
}

func main() {
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt)
	code := run(ctx, os.Args[1:], os.Stdin, os.Stdout, os.Stderr)
	stop()
	os.Exit(code)
}

func run(ctx context.Context, args []string, stdin io.Reader, stdout, stderr io.Writer) int {
	if len(args) == 0 {
		args = []string{"help"}
	}
	out := &output{w: stdout}
	code := perform(ctx, args, stdin, out, stderr)
	if out.err != nil && code == 0 {
		fmt.Fprintln(stderr, "glasspocket: the output could not be written:", out.err)
		return exitRefused
	}
	return code
}

// output remembers that something could not be written: a script must not mistake half a list for all of it.
type output struct {
	w   io.Writer
	err error
}

// Write implements io.Writer.
func (o *output) Write(p []byte) (int, error) {
	n, err := o.w.Write(p)
	if err != nil && o.err == nil {
		o.err = err
	}
	return n, err
}

// widthOf is the width in characters of the terminal that w writes to, 0 when it is not one.
func widthOf(w io.Writer) int {
	if o, ok := w.(*output); ok {
		if f, ok := o.w.(*os.File); ok {
			if width, _, err := term.GetSize(int(f.Fd())); err == nil {
				return width
			}
		}
	}
	return 0
}

func perform(ctx context.Context, args []string, stdin io.Reader, stdout, stderr io.Writer) int {
	if args[0] == "-h" || args[0] == "-help" || args[0] == "--help" || args[0] == "help" {
		usage(stdout)
		return 0
	}
	if args[0] == "version" || args[0] == "-version" || args[0] == "--version" {
		fmt.Fprintln(stdout, program.Describe("glasspocket"))
		return 0
	}
	v, ok := verbs[args[0]]
	if !ok {
		names := make([]string, 0, len(verbs))
		for n := range verbs {
			names = append(names, n)
		}
		sort.Strings(names)
		fmt.Fprintf(stderr, "glasspocket: unknown verb %q. %s\n", args[0], fault.DidYouMean(args[0], names))
		return exitUsage
	}
	s := &session{ctx: ctx, stdin: stdin, out: stdout, errs: stderr, width: widthOf(stdout)}
	f := flag.NewFlagSet("glasspocket "+args[0], flag.ContinueOnError)
	f.SetOutput(stderr)
	f.StringVar(&s.server, "server", "", "`address` of the service's API and console")
	f.StringVar(&s.token, "token", "", "API `token` to use")
	f.BoolVar(&s.json, "json", false, "print the API's JSON, with every value in full")
	do := v.flags(f)
	f.Usage = func() {
		w := f.Output()
		fmt.Fprintf(w, "%s\n\nUsage:\n", program.Wrap(v.about+".", ""))
		for _, arguments := range strings.Split(v.arguments, " | ") {
			fmt.Fprintln(w, strings.TrimRight("  glasspocket "+args[0]+" [options] "+arguments, " "))
		}
		if len(v.examples) > 0 {
			fmt.Fprintln(w, "\nExamples:")
			for _, e := range v.examples {
				fmt.Fprintln(w, program.Command("glasspocket "+e, "  "))
			}
		}
		every := flag.NewFlagSet("", flag.ContinueOnError)
		own := 0
		f.VisitAll(func(o *flag.Flag) {
			if slices.Contains(common, o.Name) {
				every.Var(o.Value, o.Name, o.Usage)
			} else {
				own++
			}
		})
		if own > 0 {
			fmt.Fprintln(w, "\nOptions:")
			program.Options(w, f, common...)
		}
		fmt.Fprintln(w, "\nOptions of every verb:")
		program.Options(w, every)
	}
	rest := args[1:]
	for _, a := range rest {
		if a == "-h" || a == "-help" || a == "--help" {
			f.SetOutput(stdout)
		}
	}
	// Options may also follow arguments, but the flag package stops at the first argument.
	for {
		if err := f.Parse(rest); err != nil {
			if errors.Is(err, flag.ErrHelp) {
				return 0
			}
			return exitUsage
		}
		rest = f.Args()
		if len(rest) == 0 {
			break
		}
		s.args = append(s.args, rest[0])
		rest = rest[1:]
	}
	err := s.configure()
	if err == nil {
		err = do(s)
	}
	return s.explain(err, args[0], stderr)
}

// common are the options that every verb has.
var common = []string{"server", "token", "json"}

// explain prints an error in words and returns its exit code.
func (s *session) explain(err error, name string, w io.Writer) int {
	var usageErr *usageError
	var faults fault.List
	var collision *collisionError
	var problem *client.Problem
	var breaks *breaksError
	var unreachable *client.Unreachable
	switch {
	case err == nil:
		return 0
	case errors.As(err, &usageErr):
		fmt.Fprintf(w, "glasspocket: %s\n“glasspocket %s -h” shows how.\n", usageErr.what, name)
		return exitUsage
	case errors.As(err, &collision):
		fmt.Fprintln(w, "glasspocket:", collision)
		return exitChanged
	case errors.As(err, &faults):
		if s.json {
			s.print(map[string]any{"faults": faults})
		} else {
			printFaults(w, faults, s.sources)
		}
		return exitFaults
	case errors.As(err, &breaks):
		if !s.json {
			fmt.Fprintln(w, "glasspocket:", breaks)
		}
		return exitFaults
	case errors.As(err, &unreachable):
		fmt.Fprintln(w, "glasspocket:", unreachable)
		return exitUnreachable
	case errors.As(err, &problem):
		if s.json {
			s.print(problem.Problem)
		}
		if len(problem.Faults) > 0 {
			if !s.json {
				if problem.Faults[0].What != problem.Detail {
					fmt.Fprintln(w, "glasspocket:", problem.Detail)
				}
				printFaults(w, problem.Faults, s.sources)
			}
			return exitFaults
		}
		if !s.json {
			hint := problem.Hint
			if problem.Code == "account-needed" || problem.Code == "not-signed-in" { // the service addresses users of the console and of the API
				hint = "Run “glasspocket signin NAME”, or set GLASSPOCKET_TOKEN."
			}
			fmt.Fprintf(w, "glasspocket: %s\n%s\n", problem.Detail, hint)
		}
		switch problem.Status {
		case 401, 403:
			return exitSignIn
		case 412:
			return exitChanged
		}
		return exitRefused
	}
	fmt.Fprintln(w, "glasspocket:", err)
	return exitRefused
}
