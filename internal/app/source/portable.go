package source

import (
	"context"
	"encoding/json"
	"errors"
	"slices"
	"strings"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/audit"
	"glasspocket/internal/content"
	"glasspocket/internal/feed"
	"glasspocket/internal/item"
	"glasspocket/internal/paging"
	"glasspocket/internal/problem"
)

// Portable is a source in a pocket's file. It never has the token.
type Portable struct {
	ID       string       `json:"id"` // where the file was written
	Name     string       `json:"name"`
	Reader   string       `json:"reader"`
	Address  string       `json:"address,omitempty"`
	FileName string       `json:"fileName,omitempty"`
	Options  feed.Options `json:"options,omitzero"`
	File     []byte       `json:"bytes,omitempty"` // of an upload, on request
	// Items are those that the pocket hides, pins or corrects: the source's own ID for each ID here.
	Items map[string]string `json:"items,omitempty"`
}

// named lists the IDs of the items that lists hide, pin or correct.
func named(lists content.Lists) map[string]bool {
	ids := map[string]bool{}
	for _, l := range lists {
		for _, id := range slices.Concat(l.Hidden, l.Pinned) {
			ids[id] = true
		}
		for id := range l.Corrections {
			ids[id] = true
		}
	}
	return ids
}

// Export returns the sources of lists. whole includes the bytes of uploaded files.
func (a *Sources) Export(ctx context.Context, lists content.Lists, whole bool) (list []Portable, err error) {
	ids := named(lists)
	done := map[string]bool{}
	for _, l := range lists {
		for _, from := range l.From {
			if done[from.Source] {
				continue
			}
			done[from.Source] = true
			src, err := a.store.Source(ctx, from.Source)
			if errors.Is(err, problem.ErrNotFound) {
				continue
			}
			if err != nil {
				return nil, err
			}
			p := Portable{ID: src.ID, Name: src.Name, Reader: src.Reader, Address: src.Address, FileName: src.FileName, Options: src.Options}
			if whole && src.Address == "" {
				if p.File, err = a.store.SourceFile(ctx, src.ID); err != nil {
					return nil, err
				}
			}
			stock, _, err := a.store.Stock(ctx, src.ID)
			if err != nil && !errors.Is(err, problem.ErrNotFound) {
				return nil, err
			}
			for _, it := range stock.Items {
				if ids[it.ID] {
					if p.Items == nil {
						p.Items = map[string]string{}
					}
					p.Items[it.ID] = it.Origin
				}
			}
			list = append(list, p)
		}
	}
	slices.SortFunc(list, func(a, b Portable) int { return strings.Compare(a.ID, b.ID) })
	return list, nil
}

// Adopt connects the sources of lists from elsewhere for a customer, and returns the lists with
// their IDs here. A source that the customer has already is used again; a new one is fetched soon. A
// source that is not in from, or is an upload without its bytes, is left out of the lists.
func (a *Sources) Adopt(ctx context.Context, s access.Scope, customer string, lists content.Lists, from []Portable) (content.Lists, error) {
	if len(lists) == 0 {
		return lists, nil
	}
	sources, items := map[string]string{}, map[string]string{}
	for _, p := range from {
		id, err := a.adopted(ctx, s, customer, p)
		if err != nil {
			return nil, err
		}
		sources[p.ID] = id
		for old, origin := range p.Items {
			if items[old] = old; id != p.ID {
				items[old] = item.IDOf(id, origin)
			}
		}
	}
	out := content.Lists{}
	for key, l := range lists {
		l.From = slices.Clone(l.From)
		for i := range l.From {
			l.From[i].Source = sources[l.From[i].Source]
		}
		l.From = slices.DeleteFunc(l.From, func(f item.From) bool { return f.Source == "" })
		l.Hidden, l.Pinned = renamed(l.Hidden, items), renamed(l.Pinned, items)
		corrections := map[string]map[string]any{}
		for id, fields := range l.Corrections {
			corrections[renamed([]string{id}, items)[0]] = fields
		}
		l.Corrections = corrections
		if clean, faults := l.Clean(); len(faults) > 0 {
			return nil, problem.Faulty("sources-faulty", "The rules for the items in the file are not valid.", faults)
		} else if !clean.IsZero() {
			out[key] = clean
		}
	}
	return out, nil
}

// renamed keeps the IDs of typed-in items, which are the same everywhere.
func renamed(ids []string, to map[string]string) []string {
	out := slices.Clone(ids)
	for i, id := range out {
		if is := to[id]; is != "" {
			out[i] = is
		}
	}
	return out
}

// adopted returns the ID of a customer's source that is like p, and connects it if there is none. It
// returns "" for an upload without bytes.
func (a *Sources) adopted(ctx context.Context, s access.Scope, customer string, p Portable) (string, error) {
	options, err := json.Marshal(p.Options)
	if err != nil {
		return "", err
	}
	for after := ""; ; {
		list, err := a.store.Sources(ctx, customer, paging.Page{After: after, Limit: 200})
		if err != nil {
			return "", err
		}
		for _, src := range list {
			has, err := json.Marshal(src.Options)
			if err != nil {
				return "", err
			}
			if src.Reader != p.Reader || src.Address != p.Address || string(has) != string(options) {
				continue
			}
			if src.ID == p.ID || p.Address != "" {
				return src.ID, nil
			}
		}
		if len(list) < 200 {
			break
		}
		last := list[len(list)-1]
		after = last.Name + "\x00" + last.ID
	}
	if p.Address == "" && len(p.File) == 0 {
		return "", nil
	}
	src, err := a.prepare(ctx, s, customer, Chosen{Name: p.Name, Reader: p.Reader, Address: p.Address, FileName: p.FileName, Options: p.Options})
	if err != nil {
		return "", err
	}
	src.Name = strings.TrimSpace(p.Name)
	if err := checkName(src.Name); err != nil {
		return "", err
	}
	got := Got{At: src.CreatedAt, Stock: &item.Stock{}, Revision: 1, About: &About{}, Next: src.CreatedAt}
	if len(p.File) > 0 {
		if got, err = a.gotFile(ctx, src, p.File); err != nil {
			return "", err
		}
	}
	rec := audit.NewRecord(s, src.CreatedAt, audit.Entry{CustomerID: customer, Did: "connect", Kind: "source", Of: src.ID, Note: src.Name})
	if err := a.store.AddSource(ctx, src, got, rec); err != nil {
		return "", err
	}
	a.wake()
	return src.ID, nil
}
