package manage

import (
	"fmt"
	"strconv"
	"time"

	"glasspocket/internal/app/release"
	"glasspocket/internal/app/rollout"
	"glasspocket/internal/fault"
	"glasspocket/internal/problem"
	"glasspocket/internal/widget"
	"glasspocket/internal/wire"
)

func files(in wire.Folder) widget.Files {
	f := widget.Files{}
	for _, each := range in.Files {
		if each.Base64 != nil {
			f[each.Path] = each.Base64
		} else {
			f[each.Path] = []byte(each.Text)
		}
	}
	return f
}

func (d *door) check(k *call) (any, error) {
	var in wire.Folder
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	r, faults, err := d.App.Rollouts.Check(k.scope, files(in))
	out := wire.Checked{Faults: faults}
	if r != nil {
		out.Widget, out.Digest, out.Faults = r.Manifest.Name, r.Digest, append([]fault.Fault{}, r.Warnings...)
	}
	return out, err
}

func releaseOut(i release.Info, fresh bool) wire.Release {
	return wire.Release{Widget: i.Widget, Number: i.Number, Digest: i.Digest, CreatedAt: i.CreatedAt, CreatedBy: i.CreatedBy, Fresh: fresh, WithdrawnAt: i.WithdrawnAt, Note: i.Note, Share: i.Share}
}

func (d *door) release(k *call) (any, error) {
	var in wire.NewRelease
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	n := rollout.NewRelease{Note: in.Note, Share: in.Share, DryRun: in.DryRun, Breaks: in.Breaks}
	if !in.Draft {
		n.Files = files(wire.Folder{Files: in.Files})
	}
	info, fresh, warnings, err := d.App.Rollouts.Release(k, k.scope, k.Params("name"), n)
	if err == nil && !fresh {
		k.status = 200
	}
	out := releaseOut(info, fresh)
	out.Warnings = warnings
	return out, err
}

func (d *door) widgetOut(w release.Widget) wire.Widget {
	m := w.Release.Manifest
	starters := w.Release.Starters
	if starters == nil {
		starters = []widget.Starter{}
	}
	images := map[string]wire.Image{}
	for path, made := range w.Release.Built.Assets {
		images[path] = wire.Image{Kind: made.Kind, Name: made.Name, Address: d.App.Customers.AssetAddress(made.Info)}
	}
	return wire.Widget{Floats: m.Floats, ReadsPage: w.Release.ReadsPage(), Slots: append([]widget.Slot{}, m.Slots...), Facts: append([]widget.Fact{}, m.Facts...), Images: images, Name: m.Name, Title: m.Title, Summary: m.Summary, Languages: m.Languages, Release: releaseOut(w.Info, false),
		Starters: starters, Groups: w.Release.Schema.Groups, Settings: w.Release.Schema.Settings}
}

func (d *door) listWidgets(k *call) (any, error) {
	list, err := d.App.Releases.List(k, k.scope)
	out := wire.Widgets{Widgets: []wire.Widget{}}
	for _, w := range list {
		out.Widgets = append(out.Widgets, d.widgetOut(w))
	}
	if err == nil {
		out.Releaseless, err = d.App.Releases.ReleaselessWidgets(k, k.scope)
	}
	return out, err
}

func (d *door) readWidget(k *call) (any, error) {
	key := k.Query("pocket")
	if key == "" {
		w, err := d.App.Releases.Widget(k, k.scope, k.Params("name"))
		if err != nil {
			return nil, err
		}
		return d.widgetOut(w), nil
	}
	w, err := d.App.Pockets.WidgetOf(k, k.scope, k.Params("name"), key)
	if err != nil {
		return nil, err
	}
	out := d.widgetOut(w)
	out.Sample = w.Release.SampleEntries(time.Now())
	out.FromBrand, err = d.App.Pockets.FromBrand(k, k.scope, key)
	return out, err
}

func (d *door) listReleases(k *call) (any, error) {
	before, limit, err := k.downwards()
	if err != nil {
		return nil, err
	}
	list, err := d.App.Releases.History(k, k.scope, k.Params("name"), before, limit)
	out := wire.Releases{Releases: []wire.Release{}}
	list, out.Next = cut(list, limit, func(i release.Info) string { return strconv.Itoa(i.Number) })
	for _, i := range list {
		out.Releases = append(out.Releases, releaseOut(i, false))
	}
	return out, err
}

// numbered reads the number of a release in the address.
func (k *call) numbered() (int, error) {
	number, err := strconv.Atoi(k.Params("number"))
	if err != nil || number < 1 {
		return 0, &problem.Error{Kind: problem.NotFound, Code: "release-not-found", What: fmt.Sprintf("There is no release %q.", k.Params("number")), Hint: "List the widget's releases to see their numbers."}
	}
	return number, nil
}

func (d *door) changeRelease(k *call) (any, error) {
	var in wire.ChangeRelease
	if err := k.decode(&in); err != nil {
		return nil, err
	}
	number, err := k.numbered()
	if err != nil {
		return nil, err
	}
	if (in.Withdrawn == nil) == (in.Share == nil) {
		return nil, &problem.Error{Kind: problem.Invalid, Code: "body-faulty", What: "The request needs either “withdrawn” or “share”.", Hint: `Send {"withdrawn": true} or {"share": 100}.`}
	}
	if in.Share != nil {
		info, stuck, err := d.App.Rollouts.Share(k, k.scope, k.Params("name"), number, *in.Share)
		return changedRelease(info, stuck), err
	}
	info, stuck, err := d.App.Rollouts.Withdraw(k, k.scope, k.Params("name"), number, *in.Withdrawn)
	return changedRelease(info, stuck), err
}

func changedRelease(info release.Info, stuck rollout.Stuck) wire.Release {
	out := releaseOut(info, false)
	if stuck.Count > 0 {
		of := stuckOut(stuck)
		out.Stuck = &of
	}
	return out
}

func stuckOut(s rollout.Stuck) wire.Stuck {
	out := wire.Stuck{Count: s.Count, Pockets: []wire.StuckPocket{}}
	for _, p := range s.Pockets {
		out.Pockets = append(out.Pockets, wire.StuckPocket(p))
	}
	return out
}

func (d *door) releaseUses(k *call) (any, error) {
	number, err := k.numbered()
	if err != nil {
		return nil, err
	}
	u, err := d.App.Rollouts.Uses(k, k.scope, k.Params("name"), number)
	usedBy := func(u rollout.UsedBy) wire.UsedBy {
		out := wire.UsedBy{Count: u.Count, Pockets: []wire.NamedPocket{}}
		for _, p := range u.Pockets {
			out.Pockets = append(out.Pockets, wire.NamedPocket(p))
		}
		return out
	}
	return wire.ReleaseUses{Following: usedBy(u.Following), Pinned: usedBy(u.Pinned), OfWidget: u.OfWidget, Next: u.Next, Stuck: stuckOut(u.Stuck)}, err
}
