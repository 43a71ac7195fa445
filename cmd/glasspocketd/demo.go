package main

import (
	"context"
	"encoding/json"
	"errors"
	"flag"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"time"

	"glasspocket/demo"
	"glasspocket/internal/app"
	"glasspocket/internal/app/guest"
	"glasspocket/internal/app/user"
	"glasspocket/internal/client"
	"glasspocket/internal/program"
)

func demoCommand(ctx context.Context, args []string) error {
	var c config
	f := flag.NewFlagSet("glasspocketd demo", flag.ContinueOnError)
	f.Usage = func() {
		fmt.Fprintf(f.Output(), "Usage: glasspocketd demo [options]\n\nRuns the service with demo data from the fictional Marrow Isles: five customers,\ntheir pockets, and host pages with the snippets. Stop it with Ctrl-C.\n\nOptions:\n")
		program.Options(f.Output(), f)
	}
	listenFlags(f, &c)
	sitesAddr := f.String("sites-addr", orEnv("GLASSPOCKET_SITES_ADDR", "127.0.0.1:7442"), "listen `address` of the host pages (GLASSPOCKET_SITES_ADDR)")
	var stands stands
	stands.flags(f)
	f.StringVar(&c.data, "data", "", "data `folder` (default: a temporary folder, deleted at the end)")
	f.BoolVar(&c.open, "open-gallery", true, "let people without an account use the gallery and start a pocket")
	f.DurationVar(&c.keeps, "open-gallery-keeps", guest.GuestsKeptUsual, "how long such a pocket is kept after its last change")
	frozen := f.String("frozen-time", "", "stop the service's clock at this RFC 3339 `time`, for repeatable screenshots")
	announce := f.String("announce", "", "write the addresses, the sign-in and the token as JSON to this `file` when ready")
	if err := f.Parse(args); err != nil {
		return quietly(err)
	}
	c.connectionsEach, c.reportTo = connectionsEach, "mailto:reports@lantern-quay.example"
	c.now = time.Now
	var err error
	if c.log, err = logger(false, "text"); err != nil {
		return err
	}
	if *frozen != "" {
		at, err := time.Parse(time.RFC3339, *frozen)
		if err != nil {
			return fmt.Errorf("-frozen-time %q is not a time such as 2027-03-01T09:00:00Z", *frozen)
		}
		c.now = func() time.Time { return at }
	}
	if c.data == "" {
		dir, err := os.MkdirTemp("", "glass-pocket-demo-")
		if err != nil {
			return err
		}
		defer os.RemoveAll(dir)
		c.data = dir
	}
	sitesListener, err := listen(*sitesAddr, "-sites-addr")
	if err != nil {
		return err
	}
	defer sitesListener.Close()
	if err := stands.listen(c.now); err != nil {
		return err
	}
	defer stands.close()
	// Its own host pages and stand-ins are on this machine.
	c.fetchAllow = strings.Join(append(stands.addresses(), sitesListener.Addr().String()), ",")
	c.directories = stands.places().Voices + "/opensearch.xml"
	s, err := start(ctx, c)
	if err != nil {
		return err
	}
	defer s.close()
	stands.serve(s.failed)

	signIn, err := demoSignIn(ctx, s.app, c.data)
	if err != nil {
		return err
	}
	// From here on the demo uses the API like any other client.
	api := &client.Client{Server: s.manageURL, Token: signIn.Token}
	world, err := demo.Settle(ctx, api, c.now(), stands.places())
	if err != nil {
		return fmt.Errorf("the demo data could not be created: %w", err)
	}
	sites := demo.Sites(world, address("", sitesListener.Addr()))
	go func() { s.failed <- sites.Serve(sitesListener) }()
	defer sites.Close()

	a := announcement{Public: s.publicURL, Manage: s.manageURL, Sites: address("", sitesListener.Addr()), Data: c.data, Places: stands.places(), signIn: signIn}
	if *announce != "" {
		if err := a.write(*announce); err != nil {
			return err
		}
	}
	a.print()
	return s.wait(ctx)
}

type announcement struct {
	Public string `json:"public"`
	Manage string `json:"manage"`
	Sites  string `json:"sites"`
	Data   string `json:"data"`
	demo.Places
	signIn
}

// write creates the file in one step, readable for this user only: it contains secrets.
func (a announcement) write(file string) error {
	text, _ := json.MarshalIndent(a, "", "  ")
	temporary := filepath.Join(filepath.Dir(file), "."+filepath.Base(file)+".new")
	if err := os.WriteFile(temporary, append(text, '\n'), 0o600); err != nil {
		return err
	}
	return os.Rename(temporary, file)
}

func (a announcement) print() {
	fmt.Printf(`
Glass Pocket with the demo data of the Marrow Isles

  Page with a widget   %[1]s/kelp-and-kiln
  All demo pages       %[1]s
  Simulated hosts      %[1]s/lab/
  Stand-ins            %[6]s/control   reviews
                       %[7]s/control   posts
                       %[8]s/control   notices and dates
  Console              %[2]s/sign-in
    name               %[3]s
    password           %[4]s
  For the client       export GLASSPOCKET_SERVER=%[2]s
                       export GLASSPOCKET_TOKEN=%[5]s

Try this:
  1. Open the page with a widget, then the console. Change “Ends” and “Accent”
     of “The kiln opens again”, publish, and reload the page.
  2. Do the same in a terminal:
       bin/glasspocket set demo-countdown accent=#b4532a
       bin/glasspocket publish demo-countdown
  3. See how to install it on another kind of host:
       bin/glasspocket steps demo-countdown -host rich-text
  4. Publish a post with the button at %[7]s/control. Within
     a minute, the page with a widget shows it when you reload it.

Stop with Ctrl-C.
`, a.Sites, a.Manage, a.Name, a.Password, a.Token, a.Voices, a.Skerry, a.Harbour)
}

// signIn has the demo's name and password. It is generated for each data folder and is not part of
// the program.
type signIn struct {
	Name     string `json:"name"`
	Password string `json:"password"`
	Token    string `json:"token"`
}

// demoSignIn creates the demo's user, or returns the sign-in that an earlier demo stored in its
// data folder.
func demoSignIn(ctx context.Context, a *app.App, folder string) (d signIn, err error) {
	file := filepath.Join(folder, "demo-sign-in.json")
	if text, err := os.ReadFile(file); err == nil && json.Unmarshal(text, &d) == nil {
		return d, nil
	}
	d.Name = "lantern-quay"
	var made bool
	if d.Password, made, err = a.Users.FirstStart(ctx, d.Name); err != nil {
		return d, err
	}
	if !made {
		return d, errors.New("the data folder belongs to a service that is not a demo. Name another with -data, or run “glasspocketd serve”")
	}
	scope, _, err := a.Users.SignIn(ctx, d.Name, d.Password, "", "demo")
	if err != nil {
		return d, err
	}
	if _, d.Token, err = a.Users.MakeToken(ctx, scope, user.NewToken{Name: "demo", Lasts: 30 * 24 * time.Hour}); err != nil {
		return d, err
	}
	text, _ := json.Marshal(d)
	return d, os.WriteFile(file, text, 0o600)
}
