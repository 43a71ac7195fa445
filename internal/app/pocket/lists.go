package pocket

import (
	"context"
	"encoding/json"
	"fmt"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/release"
	"glasspocket/internal/app/source"
	"glasspocket/internal/content"
	"glasspocket/internal/fault"
	"glasspocket/internal/item"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/problem"
	"glasspocket/internal/setting"
)

// checkLists refuses lists of settings that have none, sources that the customer does not have, and
// corrections that the item model does not accept. It brings corrections into their usual form.
func (a *Pockets) checkLists(ctx context.Context, customer string, w release.Widget, lists content.Lists) error {
	var keys []string
	for _, s := range w.Release.Schema.Settings {
		if s.ItemKind != "" {
			keys = append(keys, s.Key)
		}
	}
	for key, l := range lists {
		if set := w.Release.Schema.Get(key); set == nil || set.ItemKind == "" {
			what := fmt.Sprintf("The widget %s has no list %q.", w.Widget, key)
			if len(keys) == 0 {
				return &problem.Error{Kind: problem.Invalid, Code: "list-unknown", Field: "sources", What: "The widget " + w.Widget + " has no list that can have sources.", Hint: "Choose a widget that shows items, such as reviews."}
			}
			return &problem.Error{Kind: problem.Invalid, Code: "list-unknown", Field: "sources", What: what, Hint: fault.DidYouMean(key, keys)}
		}
		for id, fields := range l.Corrections {
			text, err := json.Marshal(fields)
			if err != nil {
				return err
			}
			doc, faults := jsondoc.Read(text)
			if doc != nil {
				l.Corrections[id], faults = setting.CheckItemFields(doc)
			}
			if len(faults) > 0 {
				for i := range faults {
					faults[i].Field = "sources/" + key + "/corrections/" + id + "/" + faults[i].Field
				}
				return problem.Faulty("sources-faulty", "A correction is not valid.", faults)
			}
		}
	}
	return a.sources.Check(ctx, customer, lists)
}

// Select shows which items a list of a pocket would show, and why it drops the others. list is nil
// for the draft's, and so are settings.
func (a *Pockets) Select(ctx context.Context, s access.Scope, key, of string, list *item.Listing, settings []byte) (out source.Selected, used item.Listing, err error) {
	p, err := a.Get(ctx, s, key)
	if err != nil {
		return out, used, err
	}
	w, err := a.releases.For(ctx, p.Widget, p.Lot)
	if err != nil {
		return out, used, err
	}
	lists := content.Lists{of: p.Sources[of]}
	if list != nil {
		clean, faults := list.Clean()
		if len(faults) > 0 {
			return out, used, problem.Faulty("sources-faulty", "Some rules for the items are not valid.", faults)
		}
		lists[of] = clean
	}
	if err := a.checkLists(ctx, p.CustomerID, w, lists); err != nil {
		return out, used, err
	}
	values, _ := w.Release.Schema.Carried(p.Settings)
	if settings != nil {
		var faults fault.List
		if values, faults = w.Release.Schema.CheckJSON(settings); len(faults) > 0 {
			return out, used, problem.Faulty("settings-faulty", "Some settings are wrong.", faults)
		}
	}
	out, err = a.sources.Select(ctx, source.Into{Customer: p.CustomerID, Schema: w.Release.Schema, Values: values, Language: p.Language, Now: a.now()}, of, lists[of])
	return out, lists[of], err
}
