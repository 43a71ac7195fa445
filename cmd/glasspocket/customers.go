package main

import (
	"encoding/json"
	"flag"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"glasspocket/internal/setting"
	"glasspocket/internal/wire"
)

var changeVerb = verb{
	arguments: "CUSTOMER", about: "Change a customer's name, time zone, language or sites",
	examples: []string{"change kelp-and-kiln -zone Atlantic/Faroe -language de", "change kelp-and-kiln -sites 'kelp.example, *.kelp.example'"},
	flags: func(f *flag.FlagSet) func(*session) error {
		name := f.String("name", "", "the customer's `name`")
		zone := f.String("zone", "", "default time `zone` for dates and times, such as Europe/Berlin")
		language := f.String("language", "", "`language` of new pockets, a BCP 47 tag, or “none” for the widget's first language")
		sites := f.String("sites", "", "`domains` of the customer's sites, separated by commas, or “none”")
		return func(s *session) error {
			id, err := s.one("customer")
			if err != nil {
				return err
			}
			var n wire.ChangeCustomer
			given := 0
			f.Visit(func(each *flag.Flag) {
				switch each.Name {
				case "name":
					n.Name = name
				case "zone":
					n.Zone = zone
				case "language":
					if *language == "none" {
						*language = ""
					}
					n.Language = language
				case "sites":
					n.Sites = strings.FieldsFunc(*sites, func(r rune) bool { return r == ',' || r == ' ' })
					if *sites == "none" {
						n.Sites = []string{}
					}
				default:
					return
				}
				given++
			})
			if given == 0 {
				return usagef("say what to change: -name, -zone, -language or -sites")
			}
			current, err := s.api.Customer(s.ctx, id)
			if err != nil {
				return err
			}
			out, err := s.api.ChangeCustomer(s.ctx, id, current.Revision, n)
			if err != nil || s.json {
				return orPrint(s, err, out)
			}
			fmt.Fprintf(s.out, "%s (%s): zone %s, language %s, sites %s\n", out.ID, out.Name, out.Zone, orNone(out.Language), orNone(strings.Join(out.Sites, ", ")))
			return nil
		}
	},
}

func orNone(text string) string {
	if text == "" {
		return "none"
	}
	return text
}

var brandVerb = verb{
	arguments: "CUSTOMER [NAME=VALUE …]", about: "Show a customer's brand, or change it in every pocket that uses it",
	examples: []string{"brand kelp-and-kiln accent=#b4532a heading=book -dry-run", "brand kelp-and-kiln accent= # deletes the value"},
	flags: func(f *flag.FlagSet) func(*session) error {
		dry := f.Bool("dry-run", false, "change nothing; list the pockets that would change")
		return func(s *session) error {
			if len(s.args) == 0 {
				return usagef("name the customer: brand CUSTOMER")
			}
			id, pairs := s.args[0], s.args[1:]
			current, err := s.api.Brand(s.ctx, id)
			if err != nil {
				return err
			}
			if len(pairs) == 0 {
				if s.json {
					return s.print(current)
				}
				var rows [][]string
				for _, v := range current.Values {
					text, _ := json.Marshal(v.Value)
					rows = append(rows, []string{v.Name, v.Type, v.Label, brief(text)})
				}
				s.table("NAME | TYPE | LABEL | VALUE", rows, "The brand has no values yet. Add one: glasspocket brand "+id+" accent=#b4532a")
				return nil
			}
			values := current.Values
			for _, pair := range pairs {
				name, typed, ok := strings.Cut(pair, "=")
				if !ok {
					return usagef("%q is not NAME=VALUE", pair)
				}
				if values, err = withValue(values, current.Names, name, typed); err != nil {
					return err
				}
			}
			if *dry {
				out, err := s.api.DryRunBrand(s.ctx, id, values)
				if err != nil || s.json {
					return orPrint(s, unplaced(err), out)
				}
				var rows [][]string
				for _, p := range out.Pockets {
					rows = append(rows, []string{p.Key, p.Widget, p.State, p.Title})
				}
				s.table("POCKET | WIDGET | STATE | TITLE", rows, "This would change no pocket.")
				return nil
			}
			out, err := s.api.ChangeBrand(s.ctx, id, current.Revision, values)
			if err != nil || s.json {
				return orPrint(s, unplaced(err), out)
			}
			fmt.Fprintf(s.out, "Saved. Visitors see the change in every pocket that uses it within a minute.\n")
			return nil
		}
	},
}

// withValue sets one value of a brand, or deletes it.
func withValue(values []setting.BrandValue, names []wire.BrandName, name, typed string) ([]setting.BrandValue, error) {
	i := slices.IndexFunc(values, func(v setting.BrandValue) bool { return v.Name == name })
	if typed == "" {
		if i >= 0 {
			values = slices.Delete(slices.Clone(values), i, i+1)
		}
		return values, nil
	}
	kind := "colour"
	if k := slices.IndexFunc(names, func(n wire.BrandName) bool { return n.Name == name }); k >= 0 {
		kind = names[k].Type
	} else if i >= 0 {
		kind = values[i].Type
	}
	var value any = typed
	if kind == "image" {
		value = map[string]any{"asset": typed, "alt": name}
		if strings.HasPrefix(typed, "{") {
			if err := json.Unmarshal([]byte(typed), &value); err != nil {
				return nil, usagef("the value of %s is not valid JSON: %v", name, err)
			}
		}
	}
	values = slices.Clone(values)
	if i < 0 {
		return append(values, setting.BrandValue{Name: name, Type: kind, Value: value}), nil
	}
	values[i].Value = value
	return values, nil
}

var inviteVerb = verb{
	arguments: "CUSTOMER", about: "Invite somebody to a customer with a link that works once",
	examples: []string{"invite kelp-and-kiln -name Mirre", "invite kelp-and-kiln -role customer-viewer"},
	flags: func(f *flag.FlagSet) func(*session) error {
		role := f.String("role", "customer-editor", "their `role`: customer-editor or customer-viewer")
		name := f.String("name", "", "their `name`, for the list of invitations")
		return func(s *session) error {
			id, err := s.one("customer")
			if err != nil {
				return err
			}
			out, err := s.api.Invite(s.ctx, id, wire.NewInvitation{Role: *role, Name: *name})
			if err != nil || s.json {
				return orPrint(s, err, out)
			}
			fmt.Fprintf(s.out, "%s\nCopy this link now: it is not shown again. The first person to open it joins. It expires on %s.\n", out.Link, day(out.ExpiresAt))
			return nil
		}
	},
}

func (s *session) listPeople(id string) error {
	out, err := s.api.People(s.ctx, id)
	if err != nil || s.json {
		return orPrint(s, err, out)
	}
	var rows [][]string
	for _, u := range out.People {
		rows = append(rows, []string{u.Name, u.Role, "joined " + day(u.CreatedAt)})
	}
	for _, n := range out.Invitations {
		if n.UsedAt == nil {
			rows = append(rows, []string{"invitation " + strconv.FormatInt(n.ID, 10) + " " + n.Name, n.Role, "expires " + day(n.ExpiresAt)})
		}
	}
	s.table("NAME | ROLE | DATE", rows, "Nobody belongs to this customer yet. Invite somebody: glasspocket invite "+id)
	return nil
}
