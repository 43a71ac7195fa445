package main

import (
	"bufio"
	"encoding/json"
	"errors"
	"flag"
	"fmt"
	"maps"
	"os"
	"path/filepath"
	"strconv"
	"strings"

	"golang.org/x/term"

	"glasspocket/internal/client"
	"glasspocket/internal/fault"
	"glasspocket/internal/wire"
)

var listKinds = []string{"assets", "cases", "customers", "failing", "fetches", "handovers", "hosts", "jobs", "people", "pockets", "publications", "releases", "schedules", "sessions", "settings", "sources", "tasks", "tokens", "users", "widgets"}

var listVerb = verb{
	arguments: "widgets | releases WIDGET | settings WIDGET | customers | people CUSTOMER | assets CUSTOMER | sources CUSTOMER | failing | fetches SOURCE | pockets | publications KEY | schedules KEY | cases KEY | hosts | handovers KEY | jobs | tasks | users | tokens | sessions", about: "List widgets, pockets, customers and everything else",
	examples: []string{"list pockets -customer kelp-and-kiln -order -changed", "list settings countdown"},
	flags: func(f *flag.FlagSet) func(*session) error {
		var l client.PocketList
		listFlags(f, &l.List)
		f.StringVar(&l.Order, "order", "key", "`order` of pockets: key, title or changed, or -key and so on for the reverse")
		return func(s *session) error {
			if len(s.args) == 0 {
				return usagef("name what to list: %s", strings.Join(listKinds, ", "))
			}
			switch kind, rest := s.args[0], s.args[1:]; {
			case kind == "publications" && len(rest) == 1:
				return s.listPublications(rest[0])
			case kind == "publications":
				return usagef("name the pocket: list publications KEY")
			case kind == "assets" && len(rest) < 2:
				return s.assets()
			case kind == "releases" && len(rest) == 1:
				return s.listReleases(rest[0])
			case kind == "releases":
				return usagef("name the widget: list releases WIDGET")
			case kind == "settings" && len(rest) == 1:
				return s.listSettings(rest[0])
			case kind == "settings":
				return usagef("name the widget: list settings WIDGET")
			case (kind == "schedules" || kind == "cases" || kind == "handovers") && len(rest) != 1:
				return usagef("name the pocket: list %s KEY", kind)
			case kind == "handovers":
				return s.listHandovers(rest[0])
			case kind == "schedules":
				return s.listSchedules(rest[0])
			case kind == "cases":
				return s.listCases(rest[0])
			case kind == "sources" && len(rest) == 1:
				return s.listSources(rest[0])
			case kind == "sources":
				return usagef("name the customer: list sources CUSTOMER")
			case kind == "fetches":
				return s.listFetches(rest)
			case kind == "people" && len(rest) != 1:
				return usagef("name the customer: list people CUSTOMER")
			case kind == "people":
				return s.listPeople(rest[0])
			case len(rest) > 0:
				return usagef("list %s has no arguments", kind)
			case kind == "widgets":
				return s.listWidgets()
			case kind == "failing":
				return s.listFailing()
			case kind == "hosts":
				return s.listHosts()
			case kind == "customers":
				return s.listCustomers(l.Search)
			case kind == "pockets":
				return s.listPockets(l)
			case kind == "jobs":
				return s.listJobs()
			case kind == "tasks":
				return s.listTasks(l.State)
			case kind == "tokens":
				return s.listTokens()
			case kind == "users":
				return s.listUsers()
			case kind == "sessions":
				return s.listSessions()
			default:
				return usagef("cannot list %q. %s", kind, fault.DidYouMean(kind, listKinds))
			}
		}
	},
}

// listSettings prints each setting of a widget and the values that it can have.
func (s *session) listSettings(name string) error {
	w, err := s.api.Widget(s.ctx, name)
	if err != nil || s.json {
		return orPrint(s, err, w.Settings)
	}
	var rows [][]string
	for _, set := range w.Settings {
		value := "(required)"
		if !set.Required {
			raw, _ := json.Marshal(set.Default)
			value = brief(raw)
		}
		var also []string
		if set.Small {
			also = append(also, "small screens")
		}
		if set.Override {
			also = append(also, "a page")
		}
		rows = append(rows, []string{set.Key, set.Type, value, strings.Join(also, ", "), set.Allows()})
	}
	s.table("SETTING | TYPE | DEFAULT | CAN DIFFER ON | VALUES", rows, "The widget has no settings.")
	return nil
}

func (s *session) listWidgets() error {
	out, err := s.api.Widgets(s.ctx)
	if err != nil || s.json {
		return orPrint(s, err, out)
	}
	var rows [][]string
	for _, w := range out.Widgets {
		var starters []string
		for _, t := range w.Starters {
			starters = append(starters, t.Name)
		}
		rows = append(rows, []string{w.Name, strconv.Itoa(w.Release.Number), strings.Join(w.Languages, " "), strings.Join(starters, " ")})
	}
	s.table("WIDGET | RELEASE | LANGUAGES | STARTERS", rows, "There are no widgets yet. Release one: glasspocket release DIR")
	return nil
}

func (s *session) listCustomers(search string) error {
	list, err := s.api.Customers(s.ctx, search)
	if err != nil || s.json {
		return orPrint(s, err, wire.Customers{Customers: append([]wire.Customer{}, list...)})
	}
	var rows [][]string
	for _, c := range list {
		rows = append(rows, []string{c.ID, c.Name, day(c.CreatedAt), withheld(c.Withheld)})
	}
	none := "There are no customers yet. Make one: glasspocket make customer NAME"
	if search != "" {
		none = fmt.Sprintf("No customer has %q in its name or ID.", search)
	}
	s.table("CUSTOMER | NAME | SINCE | WITHHELD", rows, none)
	return nil
}

func (s *session) listPockets(l client.PocketList) error {
	list, names := []wire.Pocket{}, map[string]string{}
	var err error
	for l.Limit = 200; ; {
		page, more := s.api.ListPockets(s.ctx, l)
		if err = more; err != nil {
			break
		}
		list = append(list, page.Pockets...)
		maps.Copy(names, page.Customers)
		if l.Cursor = page.Next; l.Cursor == "" {
			break
		}
	}
	if err != nil || s.json {
		return orPrint(s, err, wire.Pockets{Pockets: list, Customers: names})
	}
	var rows [][]string
	for _, p := range list {
		state := p.State
		if p.PublishedAt != nil {
			state += " (" + strconv.Itoa(p.Publication) + ", " + day(*p.PublishedAt) + ")"
		}
		if p.Follow && p.Publication > 0 {
			state += ", follows"
		}
		if p.Withheld != nil {
			state = "withheld, " + state
		}
		rows = append(rows, []string{p.Key, p.Customer, p.Widget, state, p.Title})
	}
	empty := "There are no pockets yet. Make one: glasspocket make pocket -customer ID -widget NAME"
	if l.List != (wire.List{}) {
		empty = "No pockets match these options."
	}
	s.table("POCKET | CUSTOMER | WIDGET | STATE | TITLE", rows, empty)
	return nil
}

func (s *session) listPublications(key string) error {
	out, err := s.api.Publications(s.ctx, key)
	if err != nil || s.json {
		return orPrint(s, err, out)
	}
	var rows [][]string
	for _, p := range out.Publications {
		release, restores := strconv.Itoa(p.Release), ""
		if p.Follow {
			release += ", follows"
		}
		if p.Restores > 0 {
			restores = strconv.Itoa(p.Restores)
		}
		rows = append(rows, []string{strconv.Itoa(p.Number), day(p.At), p.By, p.Client, release, restores})
	}
	s.table("NUMBER | AT | BY | CLIENT | RELEASE | RESTORES", rows, "This pocket has not been published yet. Publish it: glasspocket publish "+key)
	return nil
}

func (s *session) listTokens() error {
	out, err := s.api.Tokens(s.ctx)
	if err != nil || s.json {
		return orPrint(s, err, out)
	}
	var rows [][]string
	for _, t := range out.Tokens {
		rows = append(rows, []string{strconv.FormatInt(t.ID, 10), t.Name, strings.TrimSpace(t.Role + " " + t.Customer), day(t.CreatedAt), day(t.ExpiresAt)})
	}
	s.table("TOKEN | NAME | ROLE | MADE | EXPIRES", rows, "There are no tokens.")
	return nil
}

func withheld(w *wire.Withheld) string {
	if w == nil {
		return ""
	}
	return strings.TrimSpace(day(w.At) + " " + w.Why)
}

func orPrint(s *session, err error, v any) error {
	if err != nil {
		return err
	}
	return s.print(v)
}

var makeVerb = verb{
	arguments: "customer NAME | pocket | token NAME | user NAME", about: "Make a customer, a pocket, a token or a user",
	examples: []string{
		`make customer "Tern Rowing Club" -id tern`,
		`make pocket -customer tern -widget countdown -starter harbour -title "The race starts"`,
	},
	flags: func(f *flag.FlagSet) func(*session) error {
		id := f.String("id", "", "a customer's permanent `ID` (default: made from the name)")
		var n wire.NewPocket
		f.StringVar(&n.Customer, "customer", "", "the `customer` of a pocket or user, or the only one that a token can reach")
		f.StringVar(&n.Widget, "widget", "", "the pocket's `widget`")
		f.StringVar(&n.Starter, "starter", "", "the `starter` to start from")
		f.StringVar(&n.Title, "title", "", "the pocket's `title`")
		f.StringVar(&n.Language, "language", "", "the pocket's `language`, a BCP 47 tag (default: the widget's first)")
		f.StringVar(&n.Key, "key", "", "the pocket's permanent public `key` (default: random)")
		days := f.Int("days", 90, "lifetime of the token in `days`, 1 to 366")
		role := f.String("role", "", "the `role` of a user, or a lower role for a token: operator-admin, developer, customer-editor or customer-viewer")
		return func(s *session) error {
			if len(s.args) == 0 {
				return usagef("say what to make: customer, pocket, token or user")
			}
			name := strings.Join(s.args[1:], " ")
			switch s.args[0] {
			case "customer":
				if name == "" {
					return usagef("give the customer's name: make customer NAME")
				}
				out, err := s.api.MakeCustomer(s.ctx, wire.NewCustomer{ID: *id, Name: name})
				if err != nil || s.json {
					return orPrint(s, err, out)
				}
				fmt.Fprintf(s.out, "Made the customer %s (%s).\n", out.ID, out.Name)
			case "pocket":
				if n.Customer == "" || n.Widget == "" {
					return usagef("a pocket needs -customer and -widget")
				}
				if name != "" {
					return usagef("make pocket has options, but no arguments. Set the title with -title %q", name)
				}
				out, err := s.api.MakePocket(s.ctx, n)
				if err != nil || s.json {
					return orPrint(s, err, out)
				}
				fmt.Fprintf(s.out, "Made the pocket %s. Next:\n  glasspocket read %[1]s\n  glasspocket set %[1]s NAME=VALUE\n  glasspocket publish %[1]s\n", out.Key)
			case "token":
				if name == "" {
					return usagef("name the token after the program that will use it: make token NAME")
				}
				out, err := s.api.MakeToken(s.ctx, wire.NewToken{Name: name, Days: *days, Role: *role, Customer: n.Customer})
				if err != nil || s.json {
					return orPrint(s, err, out)
				}
				fmt.Fprintf(s.out, "%s\nCopy it now: it is not shown again. It expires on %s.\n", out.Secret, day(out.ExpiresAt))
			case "user":
				if name == "" || *role == "" {
					return usagef("give the user's name and role: make user NAME -role ROLE")
				}
				return s.makeUser(wire.NewUser{Name: name, Role: *role, Customer: n.Customer})
			default:
				return usagef("%q cannot be made. %s", s.args[0], fault.DidYouMean(s.args[0], []string{"customer", "pocket", "token", "user"}))
			}
			return nil
		}
	},
}

var whoamiVerb = verb{
	examples: []string{"whoami", "whoami -json"}, about: "Show the user and role of the token",
	flags: func(f *flag.FlagSet) func(*session) error {
		return func(s *session) error {
			if s.token == "" { // with an open gallery, the service also answers requests without a token
				return &client.Problem{Problem: wire.Problem{Status: 401, Code: "not-signed-in", Detail: "You are not signed in.", Hint: "Sign in with “glasspocket signin NAME”, or pass a token with -token."}}
			}
			out, err := s.api.WhoAmI(s.ctx)
			if err != nil || s.json {
				return orPrint(s, err, out)
			}
			fmt.Fprintf(s.out, "%s (%s) at %s. Visitors get pockets from %s.\n", out.Name, out.Role, s.server, out.PublicBase)
			return nil
		}
	},
}

var signinVerb = verb{
	arguments: "NAME", about: "Sign in with a name and a password, and save a token on this computer",
	examples: []string{"signin lantern-quay -server http://127.0.0.1:7440", "signin lantern-quay < password-file"},
	flags: func(f *flag.FlagSet) func(*session) error {
		days := f.Int("days", 30, "lifetime of the token in `days`, 1 to 366")
		return func(s *session) error {
			name, err := s.one("name")
			if err != nil {
				return err
			}
			password, err := s.password("Password: ")
			if err != nil {
				return err
			}
			computer, _ := os.Hostname()
			t, err := s.api.SignIn(s.ctx, name, password, wire.NewToken{Name: strings.TrimSpace("client on " + computer), Days: *days})
			if err != nil {
				return err
			}
			s.token = t.Secret
			return s.keep()
		}
	},
}

// password asks for a password without showing it on a terminal; elsewhere it reads the next line.
func (s *session) password(prompt string) (string, error) {
	if f, ok := s.stdin.(*os.File); ok && term.IsTerminal(int(f.Fd())) {
		fmt.Fprint(os.Stderr, prompt)
		typed, err := term.ReadPassword(int(f.Fd()))
		fmt.Fprintln(os.Stderr)
		return string(typed), err
	}
	if s.lines == nil {
		s.lines = bufio.NewReader(s.stdin)
	}
	line, err := s.lines.ReadString('\n')
	if line = strings.TrimRight(line, "\r\n"); line == "" {
		return "", errors.Join(errors.New("standard input has no password"), err)
	}
	return line, nil
}

var rememberVerb = verb{
	about:    "Save a server and a token in the config file, readable only by you",
	examples: []string{"remember -server http://127.0.0.1:7440 -token $GLASSPOCKET_TOKEN", "remember -token $GLASSPOCKET_TOKEN"},
	flags: func(f *flag.FlagSet) func(*session) error {
		return func(s *session) error {
			if s.token == "" {
				return usagef("pass the token to save with -token")
			}
			if _, err := s.api.WhoAmI(s.ctx); err != nil {
				return err // do not save a token that does not work
			}
			return s.keep()
		}
	},
}

func (s *session) keep() error {
	file, err := keptFile()
	if err != nil {
		return err
	}
	if err := os.MkdirAll(filepath.Dir(file), 0o700); err != nil {
		return err
	}
	text, _ := json.MarshalIndent(kept{s.server, s.token}, "", "  ")
	// Write a new file, so that it does not inherit a looser mode.
	if err := os.WriteFile(file+".new", append(text, '\n'), 0o600); err != nil {
		return err
	}
	if err := os.Rename(file+".new", file); err != nil {
		return err
	}
	if s.json {
		return s.print(map[string]any{"file": file})
	}
	fmt.Fprintf(s.out, "Saved in %s.\n", file)
	return nil
}
