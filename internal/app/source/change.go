package source

import (
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"regexp"
	"slices"
	"strings"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/audit"
	"glasspocket/internal/digest"
	"glasspocket/internal/fault"
	"glasspocket/internal/feed"
	"glasspocket/internal/item"
	"glasspocket/internal/problem"
	"glasspocket/internal/setting"
)

// Chosen is what a new source needs: a candidate that somebody has chosen.
type Chosen struct {
	Name     string // "" for the source's own
	Reader   string
	Address  string // or File
	File     []byte
	FileName string
	Options  feed.Options
	Secret   feed.Secret
}

// prepare returns a new source of a customer, without a name and items.
func (a *Sources) prepare(ctx context.Context, s access.Scope, customer string, n Chosen) (src Source, err error) {
	if err := a.customers.Reach(ctx, s, access.ConnectSources, customer); err != nil {
		return src, err
	}
	reader := feed.Named(n.Reader)
	if reader == nil {
		return src, unknownReader(n.Reader)
	}
	if count, err := a.store.CountSources(ctx, customer); err != nil {
		return src, err
	} else if count >= Most {
		return src, &problem.Error{Kind: problem.Conflict, Code: "too-many-sources", What: fmt.Sprintf("A customer can have at most %d sources.", Most), Hint: "Delete sources that no pocket uses."}
	}
	if err := checkOptions(n.Options); err != nil {
		return src, err
	}
	if err := checkSecret(n.Secret, n.Address); err != nil {
		return src, err
	}
	src = Source{ID: newID(), CustomerID: customer, Reader: n.Reader, Address: strings.TrimSpace(n.Address), FileName: n.FileName, Options: n.Options, CreatedAt: a.now(), CreatedBy: s.Name, Revision: 1}
	if n.Secret.In != "" {
		src.SecretIn, src.SecretName, src.Secret = n.Secret.In, n.Secret.Name, a.vault.Seal(n.Secret.Value, src.ID)
	}
	return src, nil
}

// Connect adds a source, and fetches it for the first time. If that fails, there is no source.
func (a *Sources) Connect(ctx context.Context, s access.Scope, customer string, n Chosen) (src Source, err error) {
	if src, err = a.prepare(ctx, s, customer, n); err != nil {
		return src, err
	}
	var got Got
	if len(n.File) > 0 {
		src.Address = ""
		if got, err = a.gotFile(ctx, src, n.File); err != nil {
			return src, err
		}
	} else {
		out := a.fetch(ctx, src, Progress{}, true)
		if out.failed != nil {
			return src, lookError(out.failed)
		}
		got = out.got
		if got.Address != "" {
			src.Address, got.Address = got.Address, ""
		}
	}
	if got.Stock == nil { // it has no items yet
		got.Stock, got.Revision = &item.Stock{}, 1
	}
	if got.About == nil {
		got.About = &About{}
	}
	src.Name = strings.TrimSpace(n.Name)
	if src.Name == "" {
		src.Name = item.Line(got.About.Title, 100)
	}
	if src.Name == "" {
		src.Name = nameOf(&feed.Document{Address: src.Address, Name: src.FileName}, "")
	}
	if err := checkName(src.Name); err != nil {
		return src, err
	}
	src.About = *got.About
	if got.Fetch != nil {
		got.Fetch.By = s.Name
	}
	rec := audit.NewRecord(s, src.CreatedAt, audit.Entry{CustomerID: customer, Did: "connect", Kind: "source", Of: src.ID, Note: src.Name})
	if err := a.store.AddSource(ctx, src, got, rec); err != nil {
		return src, err
	}
	a.wake()
	return a.store.Source(ctx, src.ID)
}

func unknownReader(name string) *problem.Error {
	var names []string
	for _, r := range feed.Readers {
		names = append(names, r.Name)
	}
	return &problem.Error{Kind: problem.Invalid, Code: "reader-unknown", Field: "reader", What: fmt.Sprintf("There is no reader %q.", name), Hint: fault.DidYouMean(name, names)}
}

// gotFile reads an uploaded file as a fetch would.
func (a *Sources) gotFile(ctx context.Context, src Source, file []byte) (Got, error) {
	zone, err := a.customers.ZoneOf(ctx, src.CustomerID)
	if err != nil {
		return Got{}, err
	}
	now := a.now()
	found, err := feed.Named(src.Reader).Read(ctx, &feed.Document{Name: src.FileName, Body: file, Now: now, Zone: zone}, src.Options)
	if err != nil {
		return Got{}, lookError(err)
	}
	stock, revision, err := a.store.Stock(ctx, src.ID)
	if err != nil && !errors.Is(err, problem.ErrNotFound) {
		return Got{}, err
	}
	merged, changes := stock.Merge(src.ID, found.Items, false, now)
	about := aboutOf(found)
	return Got{At: now, File: file, Stock: &merged, Revision: max(revision, src.Stock) + 1, About: &about, Renew: true, Next: now, Progress: Progress{CheckedAt: now, ReadAt: now, Sum: digest.Of(file), Pending: true},
		Fetch: &Fetch{At: now, LastAt: now, Times: 1, Bytes: len(file), Added: changes.Added, Changed: changes.Changed, Removed: changes.Removed}}, nil
}

// Changed is a change of a source. Nil leaves a field as it is.
type Changed struct {
	Name     *string
	Options  *feed.Options
	Address  *string
	Secret   *feed.Secret // one without a way of sending removes the present one
	File     []byte       // replaces the file of an upload
	FileName string
}

// Change changes a source. With other options, another address or another file, it is read again
// before anything is saved, so that a mistake changes nothing.
func (a *Sources) Change(ctx context.Context, s access.Scope, id string, revision int, c Changed) (Source, error) {
	src, err := a.change(ctx, s, id)
	if err != nil {
		return src, err
	}
	defer a.fetching.lock(id)()
	if src, err = a.Get(ctx, s, id); err != nil {
		return src, err
	}
	if src.Revision != revision {
		return src, &problem.Error{Kind: problem.Precondition, Code: "source-changed", What: fmt.Sprintf("The source has changed. Its revision is now %d.", src.Revision), Hint: "Read the current version, then repeat your change."}
	}
	var names []string
	if c.Name != nil {
		src.Name = strings.TrimSpace(*c.Name)
		if err := checkName(src.Name); err != nil {
			return src, err
		}
		names = append(names, "name")
	}
	reread := false
	if c.Options != nil {
		if err := checkOptions(*c.Options); err != nil {
			return src, err
		}
		src.Options, reread, names = *c.Options, true, append(names, "options")
	}
	if c.Address != nil && *c.Address != src.Address {
		if src.Address == "" {
			return src, &problem.Error{Kind: problem.Conflict, Code: "source-is-file", Field: "address", What: "This source is an uploaded file, so it has no address.", Hint: "Connect the address as another source."}
		}
		if src.SecretIn != "" && hostOf(*c.Address) != hostOf(src.Address) && c.Secret == nil {
			return src, &problem.Error{Kind: problem.Invalid, Code: "source-token", Field: "address", What: "The new address is at another host, which must not get the present token.", Hint: "Enter a token for the new host, or remove the token."}
		}
		src.Address, reread, names = strings.TrimSpace(*c.Address), true, append(names, "address")
	}
	if c.Secret != nil {
		if err := checkSecret(*c.Secret, src.Address); err != nil {
			return src, err
		}
		src.SecretIn, src.SecretName, src.Secret = c.Secret.In, c.Secret.Name, []byte{}
		if c.Secret.In != "" {
			src.Secret = a.vault.Seal(c.Secret.Value, src.ID)
		}
		reread, names = true, append(names, "token")
	}
	var got *Got
	switch {
	case len(c.File) > 0:
		if src.Address != "" {
			return src, &problem.Error{Kind: problem.Conflict, Code: "source-is-address", What: "This source is fetched from its address, so it has no file.", Hint: "Connect the file as another source."}
		}
		if c.FileName != "" {
			src.FileName = c.FileName
		}
		names = append(names, "file")
		g, err := a.gotFile(ctx, src, c.File)
		if err != nil {
			return src, err
		}
		got = &g
	case reread && src.Address == "":
		file, err := a.store.SourceFile(ctx, id)
		if err != nil {
			return src, err
		}
		g, err := a.gotFile(ctx, src, file)
		if err != nil {
			return src, err
		}
		got = &g
	case reread:
		out := a.fetch(ctx, src, Progress{}, true)
		if out.failed != nil {
			return src, lookError(out.failed)
		}
		got = &out.got
		if got.Address != "" {
			src.Address, got.Address = got.Address, ""
		}
	}
	rec := audit.NewRecord(s, a.now(), audit.Entry{CustomerID: src.CustomerID, Did: "change", Kind: "source", Of: id, Names: names, Note: src.Name})
	if err := a.store.SaveSource(ctx, src, revision, rec); err != nil {
		return src, err
	}
	if got != nil {
		if got.Fetch != nil {
			got.Fetch.By = s.Name
		}
		if err := a.save(ctx, src, *got, nil); err != nil {
			return src, err
		}
	}
	return a.Get(ctx, s, id)
}

// Delete deletes a source with its items, unless a pocket uses it.
func (a *Sources) Delete(ctx context.Context, s access.Scope, id string) error {
	src, err := a.change(ctx, s, id)
	if err != nil {
		return err
	}
	uses, err := a.store.DeleteSource(ctx, id, audit.NewRecord(s, a.now(), audit.Entry{CustomerID: src.CustomerID, Did: "delete", Kind: "source", Of: id, Note: src.Name}))
	if errors.Is(err, problem.ErrNotFound) {
		return Missing(id)
	}
	if err == nil && len(uses) > 0 {
		return &problem.Error{Kind: problem.Conflict, Code: "source-in-use", What: fmt.Sprintf("The source is used by %s.", problem.List(uses)), Hint: "Remove it from these pockets and publish them, then delete it."}
	}
	return err
}

func checkOptions(o feed.Options) error {
	if o.Kind != "" && !slices.Contains(setting.ItemKinds, o.Kind) {
		return &problem.Error{Kind: problem.Invalid, Code: "source-options", Field: "options/kind", What: fmt.Sprintf("There is no kind %q.", o.Kind), Hint: fault.DidYouMean(o.Kind, setting.ItemKinds)}
	}
	fields := []string{feed.ListKey}
	for _, f := range feed.Fields {
		fields = append(fields, f.Name)
	}
	for field, from := range o.Mapping {
		if !slices.Contains(fields, field) {
			return &problem.Error{Kind: problem.Invalid, Code: "source-options", Field: "options/mapping", What: fmt.Sprintf("Items have no field %q.", field), Hint: fault.DidYouMean(field, fields)}
		}
		if len(from) > 500 {
			return &problem.Error{Kind: problem.Invalid, Code: "source-options", Field: "options/mapping/" + field, What: "The name of a column or value is too long.", Hint: "Choose one that the preview lists."}
		}
	}
	return nil
}

var fieldName = regexp.MustCompile("^[A-Za-z0-9!#$%&'*+.^_`|~-]{1,100}$")

// reserved are header fields that a token must not replace.
var reserved = []string{"host", "content-length", "transfer-encoding", "connection", "cookie", "te", "upgrade", "trailer", "expect", "range"}

func checkSecret(s feed.Secret, address string) error {
	wrong := func(field, what, hint string) error {
		return &problem.Error{Kind: problem.Invalid, Code: "source-token", Field: "secret/" + field, What: what, Hint: hint}
	}
	switch {
	case s.In == "":
		return nil
	case !slices.Contains([]string{feed.Bearer, feed.InField, feed.InQuery}, s.In):
		return wrong("in", fmt.Sprintf("There is no way %q to send a token.", s.In), "Use bearer, header or query.")
	case address == "":
		return wrong("in", "A file needs no token.", "Leave it out.")
	case strings.TrimSpace(s.Value) == "" || len(s.Value) > 4000 || strings.ContainsAny(s.Value, "\r\n\x00"):
		return wrong("value", "A token has 1 to 4000 characters in one line.", "Copy it from the source again.")
	case s.In != feed.Bearer && !fieldName.MatchString(s.Name):
		return wrong("name", fmt.Sprintf("%q is not the name of a header field or a parameter.", s.Name), "Use the name in the source's documentation, such as X-Api-Key.")
	case s.In == feed.InField && slices.Contains(reserved, strings.ToLower(s.Name)):
		return wrong("name", s.Name+" cannot hold a token.", "Use the name in the source's documentation.")
	}
	return nil
}

// newID returns the ID of a new source.
func newID() string { return "src-" + strings.ToLower(rand.Text()[:10]) }
