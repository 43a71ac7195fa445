package main

import (
	"flag"
	"fmt"
	"strconv"

	"glasspocket/internal/fault"
	"glasspocket/internal/wire"
)

func (s *session) listUsers() error {
	list, err := s.api.Users(s.ctx)
	if err != nil || s.json {
		return orPrint(s, err, wire.Users{Users: append([]wire.User{}, list...)})
	}
	var rows [][]string
	for _, u := range list {
		rows = append(rows, []string{u.Name, u.Role, u.Customer, day(u.CreatedAt)})
	}
	s.table("USER | ROLE | CUSTOMER | SINCE", rows, "There are no users.")
	return nil
}

func (s *session) listSessions() error {
	out, err := s.api.Sessions(s.ctx)
	if err != nil || s.json {
		return orPrint(s, err, out)
	}
	var rows [][]string
	for _, n := range out.Sessions {
		rows = append(rows, []string{strconv.FormatInt(n.ID, 10), day(n.CreatedAt), day(n.ExpiresAt), n.Client})
	}
	s.table("SESSION | SINCE | UNTIL | BROWSER", rows, "There are no sessions: nobody is signed in to the console under this name.")
	return nil
}

func (s *session) listReleases(widget string) error {
	out, err := s.api.Releases(s.ctx, widget)
	if err != nil || s.json {
		return orPrint(s, err, out)
	}
	var rows [][]string
	for _, r := range out.Releases {
		state := "in use"
		if r.WithdrawnAt != nil {
			state = "withdrawn " + day(*r.WithdrawnAt)
		}
		if r.Share < 100 {
			state += fmt.Sprintf(", %d of 100", r.Share)
		}
		rows = append(rows, []string{strconv.Itoa(r.Number), day(r.CreatedAt), r.CreatedBy, state, r.Digest[:12], r.Note})
	}
	s.table("NUMBER | AT | BY | STATE | DIGEST | NOTE", rows, "There are no releases.")
	return nil
}

func (s *session) makeUser(n wire.NewUser) error {
	out, err := s.api.MakeUser(s.ctx, n)
	if err != nil || s.json {
		return orPrint(s, err, out)
	}
	fmt.Fprintf(s.out, "Made the user %s (%s). The password is %s\nIt is not shown again.\n", out.Name, out.Role, out.Password)
	return nil
}

var passwordVerb = verb{
	arguments: "[NAME]", about: "Change your own password, or give somebody a new one",
	examples: []string{"password", "password mirre@kelp.example", "printf '%s\\n%s\\n' OLD NEW | glasspocket password"},
	flags: func(f *flag.FlagSet) func(*session) error {
		return func(s *session) error {
			if len(s.args) > 1 {
				return usagef("password takes one name, or none for your own")
			}
			if len(s.args) == 1 {
				out, err := s.api.ResetPassword(s.ctx, s.args[0])
				if err != nil || s.json {
					return orPrint(s, err, out)
				}
				fmt.Fprintf(s.out, "The password of %s is now %s\nIt is not shown again. Their sessions and tokens have ended.\n", s.args[0], out.Password)
				return nil
			}
			old, err := s.password("Present password: ")
			if err != nil {
				return err
			}
			new, err := s.password("New password: ")
			if err != nil {
				return err
			}
			if err := s.api.ChangePassword(s.ctx, old, new); err != nil {
				return err
			}
			if s.json {
				return s.print(map[string]any{"changed": true})
			}
			fmt.Fprintln(s.out, "Changed. Your sessions in the console have ended; tokens stay.")
			return nil
		}
	},
}

var withholdVerb = verb{
	arguments: "pocket KEY | customer ID", about: "Stop serving a pocket, or all of a customer's, at once; or serve again",
	examples: []string{`withhold pocket demo-countdown -why "A complaint is being looked at"`, "withhold customer kelp-and-kiln -back"},
	flags: func(f *flag.FlagSet) func(*session) error {
		why := f.String("why", "", "the reason, for the record (`text`)")
		back := f.Bool("back", false, "serve it again")
		return func(s *session) error {
			if len(s.args) != 2 {
				return usagef("name what to withhold: pocket KEY, or customer ID")
			}
			var out any
			var err error
			switch kind, name := s.args[0], s.args[1]; kind {
			case "pocket":
				out, err = s.api.WithholdPocket(s.ctx, name, *why, *back)
			case "customer":
				out, err = s.api.WithholdCustomer(s.ctx, name, *why, *back)
			default:
				return usagef("%q cannot be withheld. %s", kind, fault.DidYouMean(kind, []string{"pocket", "customer"}))
			}
			if err != nil || s.json {
				return orPrint(s, err, out)
			}
			if *back {
				fmt.Fprintf(s.out, "The %s %s is served again, from the next request on.\n", s.args[0], s.args[1])
			} else {
				fmt.Fprintf(s.out, "The %s %s is withheld: the service serves nothing of it from the next request on, and\nno visitor has it after a minute. To serve it again: glasspocket withhold %[1]s %[2]s -back\n", s.args[0], s.args[1])
			}
			return nil
		}
	},
}

var withdrawVerb = verb{
	arguments: "WIDGET NUMBER", about: "Use a release for nothing new, or bring it back",
	examples: []string{"withdraw countdown 3", "withdraw countdown 3 -back"},
	flags: func(f *flag.FlagSet) func(*session) error {
		back := f.Bool("back", false, "use it again")
		return func(s *session) error {
			if len(s.args) != 2 {
				return usagef("name widget and release: withdraw WIDGET NUMBER")
			}
			number, err := number(s.args[1], "release", "list releases "+s.args[0])
			if err != nil {
				return err
			}
			uses, err := s.api.ReleaseUses(s.ctx, s.args[0], number)
			if err != nil {
				return err
			}
			out, err := s.api.Withdraw(s.ctx, s.args[0], number, !*back)
			if err != nil || s.json {
				return orPrint(s, err, out)
			}
			if *back {
				fmt.Fprintf(s.out, "Release %d of %s is in use again.\n", out.Number, out.Widget)
			} else {
				fmt.Fprintf(s.out, "Release %d of %s is withdrawn.\n", out.Number, out.Widget)
				stuck := 0
				if out.Stuck != nil {
					stuck = out.Stuck.Count
				}
				if uses.Next > 0 {
					fmt.Fprintf(s.out, "  Pockets that follow it: %d. Visitors of %d get an older release, such as %d, instead.\n", uses.Following.Count, max(uses.Following.Count-stuck, 0), uses.Next)
					s.stuck(out)
				} else {
					fmt.Fprintf(s.out, "  No release is in use now. Until one is, the widget's pockets (%d) cannot be published.\n  Visitors keep what is published.\n", uses.OfWidget)
				}
				fmt.Fprintf(s.out, "  Pockets published with it: %d. Their visitors keep it.\n", uses.Pinned.Count)
			}
			return nil
		}
	},
}

// stuck names the pockets that a change of what is in use could not reach.
func (s *session) stuck(out wire.Release) {
	if out.Stuck == nil {
		return
	}
	fmt.Fprintf(s.out, "  Pockets that cannot change to it: %d. Their visitors keep what they have:\n", out.Stuck.Count)
	for _, p := range out.Stuck.Pockets {
		fmt.Fprintf(s.out, "    %s (%s): %s\n", p.Key, p.Title, p.Why)
	}
	if more := out.Stuck.Count - len(out.Stuck.Pockets); more > 0 {
		fmt.Fprintf(s.out, "    and %d more\n", more)
	}
	fmt.Fprintf(s.out, "  Publish these pockets again, or unpublish them.\n")
}

var restoreVerb = verb{
	arguments: "KEY NUMBER", about: "Publish an older publication of a pocket again",
	examples: []string{"restore demo-countdown 3", "restore demo-countdown 3 -at '2027-03-01T09:00[Europe/Berlin]'"},
	flags: func(f *flag.FlagSet) func(*session) error {
		at := f.String("at", "", "at this `moment`, not now")
		return func(s *session) error {
			if len(s.args) != 2 {
				return usagef("name pocket and publication: restore KEY NUMBER")
			}
			n, err := number(s.args[1], "publication", "list publications "+s.args[0])
			if err != nil {
				return err
			}
			if *at != "" {
				return s.schedule(s.args[0], wire.NewSchedule{Does: "restore", Number: n, At: *at})
			}
			out, err := s.api.Restore(s.ctx, s.args[0], n)
			if err != nil || s.json {
				return orPrint(s, err, out)
			}
			fmt.Fprintf(s.out, "Published number %d again, as number %d. The draft stays as it is.\nTo undo: glasspocket restore %s %d\n", n, out.Number, out.Key, out.Number-1)
			return nil
		}
	},
}

// number reads a counted number; list is what shows them.
func number(typed, kind, list string) (int, error) {
	n, err := strconv.Atoi(typed)
	if err != nil || n < 1 {
		return 0, usagef("%q is not the number of any %s; “glasspocket %s” shows them", typed, kind, list)
	}
	return n, nil
}
