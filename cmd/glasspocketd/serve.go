package main

import (
	"context"
	"flag"
	"fmt"
	"os"
	"strings"
	"time"
)

// orEnv is a flag's default: the environment's value when there is one.
func orEnv(name, otherwise string) string {
	if v := os.Getenv(name); v != "" {
		return v
	}
	return otherwise
}

func listenFlags(f *flag.FlagSet, c *config) {
	f.StringVar(&c.publicAddr, "public-addr", orEnv("GLASSPOCKET_PUBLIC_ADDR", "127.0.0.1:7441"), "`address` to listen on for visitors (GLASSPOCKET_PUBLIC_ADDR)")
	f.StringVar(&c.manageAddr, "manage-addr", orEnv("GLASSPOCKET_MANAGE_ADDR", "127.0.0.1:7440"), "`address` to listen on for console and API (GLASSPOCKET_MANAGE_ADDR)")
}

func serveCommand(ctx context.Context, args []string) error {
	var c config
	f := flag.NewFlagSet("glasspocketd serve", flag.ContinueOnError)
	f.Usage = func() {
		fmt.Fprintf(f.Output(), "Usage: glasspocketd serve -data DIR [options]\n\nRuns the service until it is interrupted. At the first start with a new data folder it\nprints a sign-in for the console, once.\n\nOptions:\n")
		f.PrintDefaults()
	}
	f.StringVar(&c.data, "data", os.Getenv("GLASSPOCKET_DATA"), "`folder` that keeps everything (GLASSPOCKET_DATA)")
	listenFlags(f, &c)
	f.StringVar(&c.publicURL, "public-url", os.Getenv("GLASSPOCKET_PUBLIC_URL"), "`address` that visitors' pages load from, behind a proxy; fixed at the first start (GLASSPOCKET_PUBLIC_URL)")
	f.StringVar(&c.manageURL, "manage-url", os.Getenv("GLASSPOCKET_MANAGE_URL"), "`address` of the console, behind a proxy (GLASSPOCKET_MANAGE_URL)")
	debug := f.Bool("debug", false, "log every request")
	if err := f.Parse(args); err != nil {
		return quietly(err)
	}
	if c.data == "" {
		return fmt.Errorf("serve needs a data folder: give one with -data DIR")
	}
	if f.NArg() > 0 {
		return fmt.Errorf("serve takes options only, and there is %q", strings.Join(f.Args(), " "))
	}
	c.log, c.now = logger(*debug), time.Now
	s, err := start(ctx, c)
	if err != nil {
		return err
	}
	defer s.close()
	password, made, err := s.app.FirstStart(ctx, "operator")
	if err != nil {
		return err
	}
	fmt.Printf("Visitors  %s\nConsole   %s\n", s.publicURL, s.manageURL)
	if made {
		fmt.Printf("\nFirst start. Sign in as “operator” with the password %s\nIt is not shown again.\n", password)
	}
	return s.wait(ctx)
}

// wait returns when the service is told to stop, or stops by itself.
func (s *service) wait(ctx context.Context) error {
	select {
	case <-ctx.Done():
		fmt.Println("\nStopping.")
		return s.close()
	case err := <-s.failed:
		s.close()
		return fmt.Errorf("a listener stopped: %w", err)
	}
}

// quietly turns the flag package's own errors, which it has printed already, into a short one.
func quietly(err error) error {
	if err == flag.ErrHelp {
		return err
	}
	return fmt.Errorf("see -h for the options")
}
