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
	s.table("USER | ROLE | CUSTOMER | MADE", rows, "There are no users.")
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
	s.table("SESSION | SIGNED IN | EXPIRES | BROWSER", rows, "There are no sessions. You are not signed in to the console.")
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
			state += fmt.Sprintf(", %d%% of pockets", r.Share)
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
	arguments: "[NAME]", about: "Change your password, or reset somebody else's",
	examples: []string{"password", "password mirre@kelp.example"},
	flags: func(f *flag.FlagSet) func(*session) error {
		return func(s *session) error {
			if len(s.args) > 1 {
				return usagef("password has at most one argument: a name")
			}
			if len(s.args) == 1 {
				out, err := s.api.ResetPassword(s.ctx, s.args[0])
				if err != nil || s.json {
					return orPrint(s, err, out)
				}
				fmt.Fprintf(s.out, "The new password of %s is %s\nCopy it now: it is not shown again. Their sessions and tokens no longer work.\n", s.args[0], out.Password)
				return nil
			}
			old, err := s.password("Current password: ")
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
			fmt.Fprintln(s.out, "Changed your password. You are signed out of the console everywhere. Your tokens still work.")
			return nil
		}
	},
}

var withholdVerb = verb{
	arguments: "pocket KEY | customer ID", about: "Stop serving a pocket or a customer immediately, or serve it again",
	examples: []string{`withhold pocket demo-countdown -why "Complaint under review"`, "withhold pocket demo-countdown -undo"},
	flags: func(f *flag.FlagSet) func(*session) error {
		why := f.String("why", "", "the `reason`, for the audit")
		back := f.Bool("undo", false, "serve it again")
		return func(s *session) error {
			if len(s.args) != 2 {
				return usagef("say what to withhold: pocket KEY or customer ID")
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
				fmt.Fprintf(s.out, "The %s %s is served again. Every visitor sees it within a minute.\n", s.args[0], s.args[1])
			} else {
				fmt.Fprintf(s.out, "The %s %s is withheld. No visitor sees it after a minute.\nTo serve it again: glasspocket withhold %[1]s %[2]s -undo\n", s.args[0], s.args[1])
			}
			return nil
		}
	},
}

var withdrawVerb = verb{
	arguments: "WIDGET NUMBER", about: "Take a release out of use, or put it back into use",
	examples: []string{"withdraw countdown 1", "withdraw countdown 1 -undo"},
	flags: func(f *flag.FlagSet) func(*session) error {
		back := f.Bool("undo", false, "put it back into use")
		return func(s *session) error {
			if len(s.args) != 2 {
				return usagef("name the widget and the release: withdraw WIDGET NUMBER")
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
					fmt.Fprintf(s.out, "  Affected: %s that follow new releases. Visitors of %d get an older release, such as %d.\n", counted(uses.Following.Count, "pocket"), max(uses.Following.Count-stuck, 0), uses.Next)
					s.stuck(out)
				} else {
					fmt.Fprintf(s.out, "  No release is in use now. The widget has %s, which cannot be published until one is.\n  Visitors still see the published version.\n", counted(uses.OfWidget, "pocket"))
				}
				fmt.Fprintf(s.out, "  Not affected: %s published with this release.\n", counted(uses.Pinned.Count, "pocket"))
			}
			return nil
		}
	},
}

// stuck names the pockets that cannot change to the release that is now in use.
func (s *session) stuck(out wire.Release) {
	if out.Stuck == nil {
		return
	}
	fmt.Fprintf(s.out, "  Not changed: %s that cannot use that release:\n", counted(out.Stuck.Count, "pocket"))
	for _, p := range out.Stuck.Pockets {
		fmt.Fprintf(s.out, "    %s (%s): %s\n", p.Key, p.Title, p.Why)
	}
	if more := out.Stuck.Count - len(out.Stuck.Pockets); more > 0 {
		fmt.Fprintf(s.out, "    and %d more\n", more)
	}
	fmt.Fprintf(s.out, "  To change them, publish them again or unpublish them.\n")
}

var restoreVerb = verb{
	arguments: "KEY NUMBER", about: "Publish an older version of a pocket again",
	examples: []string{"restore demo-countdown 1", "restore demo-countdown 1 -at '2099-03-01T09:00[Europe/Berlin]'"},
	flags: func(f *flag.FlagSet) func(*session) error {
		at := f.String("at", "", "at this `time`, with its zone, instead of now")
		return func(s *session) error {
			if len(s.args) != 2 {
				return usagef("name the pocket and the publication: restore KEY NUMBER")
			}
			n, err := number(s.args[1], "publication", "list publications "+s.args[0])
			if err != nil {
				return err
			}
			if *at != "" {
				return s.schedule(s.args[0], wire.NewSchedule{Does: "restore", Number: n, At: *at})
			}
			out, err := s.api.Restore(s.ctx, s.args[0], wire.Restore{Number: n})
			if err != nil || s.json {
				return orPrint(s, err, out)
			}
			fmt.Fprintf(s.out, "Published number %d again as number %d. The draft has not changed.\nTo undo this: glasspocket restore %s %d\n", n, out.Number, out.Key, out.Number-1)
			return nil
		}
	},
}

// number reads the number of something; list is the command that shows the numbers.
func number(typed, kind, list string) (int, error) {
	n, err := strconv.Atoi(typed)
	if err != nil || n < 1 {
		return 0, usagef("%q is not the number of a %s; “glasspocket %s” lists them", typed, kind, list)
	}
	return n, nil
}
