package install

import (
	"context"
	"errors"
	"fmt"
	"regexp"
	"slices"
	"sync"
	"time"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/audit"
	"glasspocket/internal/asset"
	"glasspocket/internal/fault"
	"glasspocket/internal/host"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/problem"
)

// OwnHost is a host profile by the operator, or the operator's version of a built-in one.
type OwnHost struct {
	Name     string    `db:"name"`
	Profile  []byte    `db:"profile"` // the file as written
	Revision int       `db:"revision"`
	At       time.Time `db:"at"`
	By       string    `db:"by"`
}

// HostImage is an image for the steps of an operator's profile.
type HostImage struct {
	File  string `db:"file"`
	Kind  string `db:"kind"` // media type
	Bytes []byte `db:"bytes"`
}

// Limits of what an operator can write.
const (
	OwnHostMost   = 256 << 10 // bytes of a profile
	HostImageMost = 2 << 20   // bytes of an image
	HostImagesMax = 60        // images of a profile
)

// hosts caches the host profiles.
type hosts struct {
	mu  sync.Mutex
	set *host.Set // nil if it must be read again
	own map[string]OwnHost
}

// Hosts returns all host profiles: the built-in ones, replaced by or followed by the operator's.
// own has the operator's by name.
func (a *Installs) Hosts(ctx context.Context, s access.Scope) (set *host.Set, own map[string]OwnHost, err error) {
	if err := s.Require(access.SeePockets); err != nil {
		return nil, nil, err
	}
	return a.allHosts(ctx)
}

func (a *Installs) allHosts(ctx context.Context) (*host.Set, map[string]OwnHost, error) {
	h := &a.hosts
	h.mu.Lock()
	defer h.mu.Unlock()
	if h.set != nil {
		return h.set, h.own, nil
	}
	set, own, err := a.readHosts(ctx, "")
	if err != nil {
		return nil, nil, err
	}
	h.set, h.own = set, own
	return set, own, nil
}

// readHosts adds the operator's profiles, except one, to the built-in ones.
func (a *Installs) readHosts(ctx context.Context, but string) (*host.Set, map[string]OwnHost, error) {
	list, err := a.store.OwnHosts(ctx)
	if err != nil {
		return nil, nil, err
	}
	set, own := a.shipped, map[string]OwnHost{}
	for _, o := range list {
		if o.Name == but {
			continue
		}
		own[o.Name] = o
		next, _, faults := set.With(o.Profile)
		if len(faults.Hard()) > 0 { // a newer program may have stricter rules
			a.notice("one of the operator's host profiles cannot be used", "host", o.Name, "why", faults[0].What)
			continue
		}
		set = next
	}
	return set, own, nil
}

// Host returns a host profile.
func (a *Installs) Host(ctx context.Context, s access.Scope, name string) (*host.Profile, error) {
	set, _, err := a.Hosts(ctx, s)
	if err != nil {
		return nil, err
	}
	p := set.Get(name)
	if p == nil {
		return nil, &problem.Error{Kind: problem.NotFound, Code: "no-such-host", Field: "host", What: fmt.Sprintf("There is no host profile %q.", name), Hint: fault.DidYouMean(name, set.Names())}
	}
	return p, nil
}

// Ships reports whether a host profile is built in.
func (a *Installs) Ships(name string) bool { return a.shipped.Get(name) != nil }

// TryHost reads a profile like SaveHost, but saves nothing.
func (a *Installs) TryHost(ctx context.Context, s access.Scope, name string, profile []byte) (*host.Profile, error) {
	if err := s.Require(access.ReleaseWidgets); err != nil {
		return nil, err
	}
	if len(profile) > OwnHostMost {
		return nil, &problem.Error{Kind: problem.Invalid, Code: "host-too-large", Field: "profile", What: "A host profile can have at most 256 KiB.", Hint: "Shorten it."}
	}
	// An operator's version always extends the built-in one, never an earlier version.
	set, _, err := a.readHosts(ctx, name)
	if err != nil {
		return nil, err
	}
	_, p, faults := set.With(profile)
	if len(faults.Hard()) > 0 {
		return nil, problem.Faulty("host-faulty", "The profile cannot be used.", faults.In(name+".json"))
	}
	if p.Name != name {
		f := fault.Fault{Path: name + ".json", Field: "name", Code: fault.BadName, What: fmt.Sprintf("The name in the profile is %q.", p.Name), Fix: fmt.Sprintf("Change it to %q, or save the profile under its own name.", name)}
		if doc, _ := jsondoc.Read(profile); doc != nil {
			if at := doc.Get("name"); at != nil {
				f.Line, f.Column = at.Line, at.Column
			}
		}
		return nil, problem.Faulty("host-faulty", "The profile cannot be used.", fault.List{f})
	}
	return p, nil
}

// SaveHost saves a host profile, or the operator's version of one, if its revision is still
// revision: 0 for a new one.
func (a *Installs) SaveHost(ctx context.Context, s access.Scope, name string, profile []byte, revision int) (*host.Profile, OwnHost, error) {
	p, err := a.TryHost(ctx, s, name, profile)
	if err != nil {
		return nil, OwnHost{}, err
	}
	o := OwnHost{Name: name, Profile: profile, Revision: revision + 1, At: a.now(), By: s.Name}
	err = a.store.SaveOwnHost(ctx, o, revision, audit.NewRecord(s, a.now(), audit.Entry{Did: "change", Kind: "host", Of: name}))
	if errors.Is(err, problem.ErrChanged) {
		return nil, o, &problem.Error{Kind: problem.Precondition, Code: "host-changed", What: fmt.Sprintf("Somebody else changed %s first.", name), Hint: "Read the current version, then repeat your change."}
	}
	a.forgetHosts()
	return p, o, err
}

// DeleteHost deletes an operator's profile. If it replaced a built-in one, that is used again.
func (a *Installs) DeleteHost(ctx context.Context, s access.Scope, name string) error {
	if err := s.Require(access.ReleaseWidgets); err != nil {
		return err
	}
	err := a.store.DeleteOwnHost(ctx, name, audit.NewRecord(s, a.now(), audit.Entry{Did: "delete", Kind: "host", Of: name}))
	if errors.Is(err, problem.ErrNotFound) {
		return problem.Missing("host", name, "Only your own profiles can be deleted, not the ones that ship.")
	}
	a.forgetHosts()
	return err
}

func (a *Installs) forgetHosts() {
	a.hosts.mu.Lock()
	a.hosts.set = nil
	a.hosts.mu.Unlock()
}

var imageName = regexp.MustCompile(`^[a-z0-9][a-z0-9._-]{0,79}\.(png|jpg|webp|svg)$`)

// SaveHostImage saves an image for the steps of an operator's profile.
func (a *Installs) SaveHostImage(ctx context.Context, s access.Scope, name, file string, content []byte) error {
	if err := s.Require(access.ReleaseWidgets); err != nil {
		return err
	}
	_, own, err := a.allHosts(ctx)
	if err != nil {
		return err
	}
	if _, ok := own[name]; !ok {
		return problem.Missing("host", name, "Save your profile first, then its images.")
	}
	if !imageName.MatchString(file) {
		return &problem.Error{Kind: problem.Invalid, Code: "image-name", Field: "file", What: fmt.Sprintf("%q is not a valid image name.", file), Hint: "Use lower-case letters, digits and hyphens, and end with .png, .jpg, .webp or .svg."}
	}
	if len(content) > HostImageMost {
		return &problem.Error{Kind: problem.Invalid, Code: "image-faulty", Field: "file", What: "An image can have at most 2 MiB.", Hint: "Make the image smaller."}
	}
	made, faults := a.builder.Asset(file, content)
	if len(faults) == 0 && made.Kind != asset.Image {
		faults = fault.List{{Field: "file", Code: fault.ValueAsset, What: "This is not an image.", Fix: "Send a PNG, JPEG, WebP or SVG file."}}
	}
	if len(faults) > 0 {
		return problem.Faulty("image-faulty", "The image cannot be used.", faults)
	}
	if list, err := a.store.HostImages(ctx, name); err != nil {
		return err
	} else if len(list) >= HostImagesMax && !slices.Contains(list, file) {
		return &problem.Error{Kind: problem.Conflict, Code: "too-many-images", What: fmt.Sprintf("A profile can have at most %d images.", HostImagesMax), Hint: "Delete one first."}
	}
	return a.store.SaveHostImage(ctx, name, HostImage{file, asset.TypeOf(file), content}, audit.NewRecord(s, a.now(), audit.Entry{Did: "image", Kind: "host", Of: name, Note: file}))
}

// HostImage returns an image of an operator's profile. It needs no scope, because people with the
// link of a handover see it too: it shows a host, and nothing of a customer.
func (a *Installs) HostImage(ctx context.Context, name, file string) (HostImage, error) {
	p, err := a.store.HostImage(ctx, name, file)
	if errors.Is(err, problem.ErrNotFound) {
		return p, problem.Missing("image", file, "Check the file names in the profile's steps.")
	}
	return p, err
}

// HostImages lists the images of an operator's profile.
func (a *Installs) HostImages(ctx context.Context, s access.Scope, name string) ([]string, error) {
	if err := s.Require(access.ReleaseWidgets); err != nil {
		return nil, err
	}
	return a.store.HostImages(ctx, name)
}

// DeleteHostImage deletes an image.
func (a *Installs) DeleteHostImage(ctx context.Context, s access.Scope, name, file string) error {
	if err := s.Require(access.ReleaseWidgets); err != nil {
		return err
	}
	err := a.store.DeleteHostImage(ctx, name, file, audit.NewRecord(s, a.now(), audit.Entry{Did: "image", Kind: "host", Of: name, Note: file + " (deleted)"}))
	if errors.Is(err, problem.ErrNotFound) {
		return problem.Missing("image", file, "List the profile's images to see their names.")
	}
	return err
}
