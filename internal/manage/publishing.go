package manage

import (
	"fmt"
	"net/url"
	"strconv"
	"strings"

	"glasspocket/internal/app/audit"
	"glasspocket/internal/app/pocket"
	"glasspocket/internal/app/publish"
	"glasspocket/internal/compare"
	"glasspocket/internal/problem"
	"glasspocket/internal/setting"
	"glasspocket/internal/wire"
)

func (d *door) changePocket(k *call) (any, error) {
	revision, err := k.revision(d.ofPocket(k))
	if err != nil {
		return nil, err
	}
	var in wire.ChangePocket
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	p, err := d.App.Pockets.Change(k, k.scope, k.Params("key"), revision, pocket.Change{Title: in.Title, Language: in.Language, Starter: in.Starter, Change: in.Change})
	return draftOut(k, p, nil, err)
}

func (d *door) listCases(k *call) (any, error) {
	list, err := d.App.Pockets.Cases(k, k.scope, k.Params("key"))
	out := wire.PreviewCases{Cases: []wire.PreviewCase{}}
	for _, c := range list {
		out.Cases = append(out.Cases, wire.PreviewCase{Name: c.Name, Conditions: c.Conditions})
	}
	return out, err
}

// caseName returns the name of a preview case in the address, which can contain any character.
func (k *call) caseName() string {
	name, err := url.PathUnescape(k.Params("name"))
	if err != nil {
		return k.Params("name")
	}
	return name
}

func (d *door) saveCase(k *call) (any, error) {
	var in pocket.Conditions
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	c := pocket.Case{Name: k.caseName(), Conditions: in}
	err := d.App.Pockets.SaveCase(k, k.scope, k.Params("key"), c)
	return wire.PreviewCase{Name: strings.TrimSpace(c.Name), Conditions: in}, err
}

func (d *door) deleteCase(k *call) (any, error) {
	return nil, d.App.Pockets.DeleteCase(k, k.scope, k.Params("key"), k.caseName())
}

func (d *door) starterDifferences(k *call) (any, error) {
	var replace []string
	if t := k.Query("replace"); t != "" {
		replace = strings.Split(t, ",")
	}
	r, err := d.App.Pockets.Restart(k, k.scope, k.Params("key"), k.Params("starter"), replace)
	if err != nil {
		return nil, err
	}
	return wire.StarterDifferences{Starter: k.Params("starter"), Settings: wire.SettingsOf(r.Settings), Changes: append([]compare.ValueChange{}, r.Changes...), Kept: append([]compare.ValueChange{}, r.Kept...)}, nil
}

func (d *door) changeStarter(k *call) (any, error) {
	revision, err := k.revision(d.ofPocket(k))
	if err != nil {
		return nil, err
	}
	var in wire.ChangeStarter
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	p, err := d.App.Pockets.ChangeStarter(k, k.scope, k.Params("key"), revision, in.Starter, in.Replace)
	return draftOut(k, p, nil, err)
}

// numberIn reads the number of a publication in the query, 0 if it is missing.
func (k *call) numberIn(name string) (int, error) {
	text := k.Query(name)
	if text == "" {
		return 0, nil
	}
	n, err := strconv.Atoi(text)
	if err != nil || n < 1 {
		return 0, &problem.Error{Kind: problem.Invalid, Code: "number-faulty", Field: name, What: fmt.Sprintf("%q is not the number of a publication.", text), Hint: "List the publications to see their numbers."}
	}
	return n, nil
}

func (d *door) pocketDifferences(k *call) (any, error) {
	from, err := k.numberIn("from")
	if err != nil {
		return nil, err
	}
	to, err := k.numberIn("to")
	if err != nil {
		return nil, err
	}
	out, err := d.App.Publishing.Differences(k, k.scope, k.Params("key"), from, to)
	return wire.PocketDifferences{From: out.From, To: out.To, Changes: append([]compare.ValueChange{}, out.Changes...)}, err
}

// after reads the number of the publication that must still be the newest; 0 for any.
func (k *call) after() (int, error) {
	text := k.Query("after")
	if text == "" {
		return 0, nil
	}
	n, err := strconv.Atoi(text)
	if err != nil || n < 1 {
		return 0, &problem.Error{Kind: problem.Invalid, Code: "number-form", Field: "after", What: fmt.Sprintf("%q is not the number of a publication.", text), Hint: "List the publications to see their numbers."}
	}
	return n, nil
}

func (d *door) unpublish(k *call) (any, error) {
	after, err := k.after()
	if err != nil {
		return nil, err
	}
	p, err := d.App.Publishing.Unpublish(k, k.scope, k.Params("key"), after)
	if err != nil {
		return nil, err
	}
	return publicationOut(p), nil
}

func scheduleOut(s publish.Schedule) wire.Schedule {
	out := wire.Schedule{ID: s.ID, Does: s.Does, Number: s.Number, Moment: s.Moment, Due: s.Due.UTC(), CreatedAt: s.CreatedAt, By: s.By, Client: s.Client, Outcome: s.Outcome, EndedAt: s.EndedAt, Why: s.Why, Made: s.Made}
	if m, f := setting.ReadMoment(s.Moment); f == nil {
		out.Odd = m.Odd()
	}
	return out
}

func (d *door) schedule(k *call) (any, error) {
	var in wire.NewSchedule
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	list, err := d.App.Publishing.Schedule(k, k.scope, k.Params("key"), publish.NewSchedule{Does: in.Does, Number: in.Number, At: in.At, Back: in.Back,
		Draft: publish.Draft{Revision: in.Publish.Revision, Heights: in.Publish.Heights, Follow: in.Publish.Follow}})
	if err != nil {
		return nil, err
	}
	out := wire.Schedules{Schedules: []wire.Schedule{}}
	for _, s := range list {
		out.Schedules = append(out.Schedules, scheduleOut(s))
	}
	return out, nil
}

func (d *door) listSchedules(k *call) (any, error) {
	before, limit, err := k.downwards()
	if err != nil {
		return nil, err
	}
	list, err := d.App.Publishing.Schedules(k, k.scope, k.Params("key"), int64(before), limit)
	out := wire.Schedules{Schedules: []wire.Schedule{}}
	list, out.Next = cut(list, limit, func(s publish.Schedule) string { return strconv.FormatInt(s.ID, 10) })
	for _, s := range list {
		out.Schedules = append(out.Schedules, scheduleOut(s))
	}
	return out, err
}

func (d *door) cancelSchedule(k *call) (any, error) {
	id, err := strconv.ParseInt(k.Params("id"), 10, 64)
	if err != nil {
		id = -1 // matches nothing
	}
	return nil, d.App.Publishing.CancelSchedule(k, k.scope, k.Params("key"), id)
}

func (d *door) audit(k *call) (any, error) {
	before, limit, err := k.downwards()
	if err != nil {
		return nil, err
	}
	q := audit.Query{CustomerID: k.Query("customer"), Kind: k.Query("kind"), Of: k.Query("of"), Before: int64(before), Limit: limit}
	if (q.Kind == "") != (q.Of == "") {
		return nil, &problem.Error{Kind: problem.Invalid, Code: "audit-query", Field: "of", What: "The parameters kind and of belong together.", Hint: "Send both, as in kind=pocket&of=KEY, or neither."}
	}
	read := d.App.Audit.List
	if q.Kind == "pocket" {
		read = d.App.Pockets.Audit
	}
	list, err := read(k, k.scope, q)
	out := wire.Audit{Entries: []wire.Entry{}}
	list, out.Next = cut(list, limit, func(e audit.Entry) string { return strconv.FormatInt(e.ID, 10) })
	for _, e := range list {
		out.Entries = append(out.Entries, wire.Entry{ID: e.ID, At: e.At, Since: e.Since, Customer: e.CustomerID, By: e.By, Client: e.Client, Did: e.Did, Kind: e.Kind, Of: e.Of, Names: e.Names, Number: e.Number, Sentence: e.Sentence()})
	}
	return out, err
}
