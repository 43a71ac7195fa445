package main

import (
	"context"
	"flag"
	"fmt"
	"net/netip"
	"os"
	"strings"
	"time"

	"glasspocket/internal/app/guest"
	"glasspocket/internal/program"
)

// orEnv returns a flag's default: the environment variable if it is set.
func orEnv(name, otherwise string) string {
	if v := os.Getenv(name); v != "" {
		return v
	}
	return otherwise
}

func listenFlags(f *flag.FlagSet, c *config) {
	f.StringVar(&c.publicAddr, "public-addr", orEnv("GLASSPOCKET_PUBLIC_ADDR", "127.0.0.1:7441"), "listen `address` for visitors (GLASSPOCKET_PUBLIC_ADDR)")
	f.StringVar(&c.manageAddr, "manage-addr", orEnv("GLASSPOCKET_MANAGE_ADDR", "127.0.0.1:7440"), "listen `address` for the console and the API (GLASSPOCKET_MANAGE_ADDR)")
}

// serveFlags declares all configuration; docs/running.md lists the same.
func serveFlags(c *config) *flag.FlagSet {
	f := flag.NewFlagSet("glasspocketd serve", flag.ContinueOnError)
	f.StringVar(&c.data, "data", os.Getenv("GLASSPOCKET_DATA"), "data `folder` (GLASSPOCKET_DATA)")
	listenFlags(f, c)
	f.StringVar(&c.publicURL, "public-url", os.Getenv("GLASSPOCKET_PUBLIC_URL"), "public `address` for visitors' pages, if there is a proxy; fixed at the first start (GLASSPOCKET_PUBLIC_URL)")
	f.StringVar(&c.manageURL, "manage-url", os.Getenv("GLASSPOCKET_MANAGE_URL"), "public `address` of the console, if there is a proxy (GLASSPOCKET_MANAGE_URL)")
	f.StringVar(&c.fetchAllow, "fetch-allow", os.Getenv("GLASSPOCKET_FETCH_ALLOW"), "private `addresses` from which customers' pages can be fetched, separated by commas: networks such as 10.1.0.0/16, or addresses such as 127.0.0.1:8080 (GLASSPOCKET_FETCH_ALLOW)")
	f.StringVar(&c.trusted, "trusted-proxies", os.Getenv("GLASSPOCKET_TRUSTED_PROXIES"), "trusted proxy `networks` whose X-Forwarded-For is used, separated by commas, such as 10.0.0.0/8 (GLASSPOCKET_TRUSTED_PROXIES)")
	f.StringVar(&c.directories, "directories", os.Getenv("GLASSPOCKET_DIRECTORIES"), "`addresses` of OpenSearch descriptions of directories in which customers can search for their business, separated by commas (GLASSPOCKET_DIRECTORIES)")
	f.BoolVar(&c.sameSite, "same-site", os.Getenv("GLASSPOCKET_SAME_SITE") == "true", "allow the visitors' side and the console under one registrable domain (GLASSPOCKET_SAME_SITE)")
	f.BoolVar(&c.open, "open-gallery", os.Getenv("GLASSPOCKET_OPEN_GALLERY") == "true", "let people without an account use the gallery and start a pocket; they sign up to publish it (GLASSPOCKET_OPEN_GALLERY)")
	f.DurationVar(&c.keeps, "open-gallery-keeps", guest.GuestsKeptUsual, "how long a guest's pocket is kept after its last change")
	f.StringVar(&c.reportTo, "report-to", os.Getenv("GLASSPOCKET_REPORT_TO"), "mailto: or web `address` to which visitors can report a page (GLASSPOCKET_REPORT_TO)")
	f.IntVar(&c.connections, "connections", 20_000, "maximum `number` of open connections for each listener; more are answered with 503")
	f.IntVar(&c.connectionsEach, "connections-per-network", connectionsEach, "maximum `number` of them from one network (IPv4 /24, IPv6 /64), except trusted proxies; 0 means no limit")
	f.DurationVar(&c.drain, "drain", 0, "how long /readyz reports “not ready” before the service stops, such as 5s")
	f.StringVar(&c.logFormat, "log", orEnv("GLASSPOCKET_LOG", "text"), "`format` of the log: text or json (GLASSPOCKET_LOG)")
	f.BoolVar(&c.debug, "debug", false, "log every request to the console and the API")
	return f
}

func serveCommand(ctx context.Context, args []string) error {
	var c config
	f := serveFlags(&c)
	f.Usage = func() {
		fmt.Fprintf(f.Output(), "Usage: glasspocketd serve -data DIR [options]\n\nRuns the service until it is interrupted. At the first start with a new data\nfolder, it prints a sign-in for the console, once.\n\nOptions:\n")
		program.Options(f.Output(), f)
	}
	if err := f.Parse(args); err != nil {
		return quietly(err)
	}
	if c.data == "" {
		return fmt.Errorf("serve needs a data folder. Name one with -data DIR")
	}
	if f.NArg() > 0 {
		return fmt.Errorf("serve has options but no arguments, and there is %q", strings.Join(f.Args(), " "))
	}
	var err error
	if c.log, err = logger(c.debug, c.logFormat); err != nil {
		return err
	}
	if c.proxies, err = networks(c.trusted); err != nil {
		return err
	}
	c.now = time.Now
	s, err := start(ctx, c)
	if err != nil {
		return err
	}
	defer s.close()
	password, made, err := s.app.Users.FirstStart(ctx, "operator")
	if err != nil {
		return err
	}
	fmt.Printf("Visitors  %s\nConsole   %s\n", s.publicURL, s.manageURL)
	if made {
		fmt.Printf("\nFirst start. Sign in as “operator” with the password %s\nCopy it now: it is not shown again.\n", password)
	}
	return s.wait(ctx)
}

// networks reads a list such as "10.0.0.0/8, ::1".
func networks(list string) (networks []netip.Prefix, err error) {
	for _, each := range strings.FieldsFunc(list, func(r rune) bool { return r == ',' || r == ' ' }) {
		n, err := netip.ParsePrefix(each)
		if at, ipErr := netip.ParseAddr(each); ipErr == nil {
			n, err = netip.PrefixFrom(at, at.BitLen()), nil
		}
		if err != nil {
			return nil, fmt.Errorf("-trusted-proxies: %q is not a network such as 10.0.0.0/8", each)
		}
		networks = append(networks, n)
	}
	return networks, nil
}

// wait returns when the process receives a signal to stop, or the service stops by itself.
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

// quietly shortens the flag package's own errors, which it has printed already.
func quietly(err error) error {
	if err == flag.ErrHelp {
		return err
	}
	return fmt.Errorf("see -h for the options")
}
