package store_test

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/app/delivery"
	"glasspocket/internal/app/release"
	"glasspocket/internal/app/rollout"
	"glasspocket/internal/app/workshop"
	"glasspocket/internal/asset"
	"glasspocket/internal/content"
	"glasspocket/internal/paging"
	"glasspocket/internal/problem"
	"glasspocket/internal/widget"
)

func releaseOf(name, digest string) *widget.Release {
	r := &widget.Release{Digest: digest, Files: widget.Files{"view.html": []byte(digest)}}
	r.Manifest.Name = name
	return r
}

// A follower wants the newest release in use whose share reaches its lot; whoever does not
// follow, or was never published, is nobody's follower; and pages leave nobody out.
func TestFollowers(t *testing.T) {
	s, _ := fresh(t)
	at := time.Date(2027, 3, 1, 9, 0, 0, 0, time.UTC)
	ids := map[int]int64{}
	for number, share := range []int{30, 100, 52, 12} {
		info, fresh, err := s.AddRelease(ctx, releaseOf("countdown", fmt.Sprint(number)), rollout.NewRelease{After: number, Share: share, At: at, By: "x"}, nil)
		require.NoError(t, err)
		require.True(t, fresh)
		ids[info.Number] = info.ID
	}
	_, _, err := s.AddRelease(ctx, releaseOf("countdown", "late"), rollout.NewRelease{After: 3, Share: 100, At: at}, nil)
	assert.ErrorIs(t, err, problem.ErrChanged, "another came in between")
	first, err := s.ReleaseByNumber(ctx, "countdown", 1)
	require.NoError(t, err)
	assert.Equal(t, 100, first.Share, "the first release has no other beside it")

	want := map[string]int64{}
	for i := range 23 {
		p := newPocket(fmt.Sprintf("p-%02d", i))
		p.Lot = i * 4
		require.NoError(t, s.AddPocket(ctx, p, nil, nil))
		if i == 7 {
			continue // never published
		}
		require.NoError(t, s.Publish(ctx, delivery.Publication{Key: p.Key, Number: 1, CustomerID: "kelp", ReleaseID: ids[1], Release: 1, Content: content.Content{Follow: i != 11}, Heights: []byte("[]"), Revision: 1, At: at},
			delivery.Rendering{Key: p.Key, Publication: 1, CustomerID: "kelp", Inputs: made(ids[1]), Script: []byte{1}, JSON: []byte{1}, Page: []byte{1}}, nil))
		switch {
		case i == 11: // pinned
		case p.Lot < 12:
			want[p.Key] = ids[4]
		case p.Lot < 52:
			want[p.Key] = ids[3]
		default:
			want[p.Key] = ids[2]
		}
	}
	followers := func(page int) map[string]int64 {
		got := map[string]int64{}
		for after := ""; ; {
			list, err := s.Followers(ctx, "countdown", after, page)
			require.NoError(t, err)
			for _, f := range list {
				require.Greater(t, f.Key, after)
				after = f.Key
				got[f.Key] = f.Wanted
			}
			if len(list) < page {
				return got
			}
		}
	}
	for _, page := range []int{1, 5, 7, 100} {
		assert.Equal(t, want, followers(page), "%d at once", page)
	}
	n, err := s.CountFollowers(ctx, "countdown")
	require.NoError(t, err)
	assert.Equal(t, len(want), n)
	for lot, number := range map[int]int{0: 4, 11: 4, 12: 3, 51: 3, 52: 2, release.LotLast: 2} {
		info, err := s.NewestReleaseFor(ctx, "countdown", lot)
		require.NoError(t, err)
		assert.Equal(t, number, info.Number, "lot %d", lot)
	}

	// Rolled out to all, then taken back.
	_, err = s.ShareRelease(ctx, "countdown", 4, 100, nil)
	require.NoError(t, err)
	for key, wanted := range followers(100) {
		assert.Equal(t, ids[4], wanted, key)
	}
	for number := 1; number <= 4; number++ {
		_, err = s.Withdraw(ctx, "countdown", number, &at, nil)
		require.NoError(t, err)
	}
	for key, wanted := range followers(100) {
		assert.Equal(t, ids[1], wanted, "%s stays with what it was published with", key)
	}
	_, err = s.ShareRelease(ctx, "countdown", 9, 100, nil)
	assert.ErrorIs(t, err, problem.ErrNotFound)
}

// A draft is changed from the revision that was read; what was made of its assets goes with
// them, unless somebody else shows the same.
func TestWidgetDrafts(t *testing.T) {
	s, _ := fresh(t)
	at := time.Date(2027, 3, 1, 9, 0, 0, 0, time.UTC)
	made := func(digest string) *asset.Made {
		return &asset.Made{Info: asset.Info{Digest: digest, Kind: asset.Image, Forms: []asset.Form{{Name: digest + ".webp"}}}, Files: [][]byte{[]byte("bytes of " + digest)}}
	}
	file := func(path, text string) workshop.File {
		return workshop.File{Path: path, Bytes: []byte(text), Digest: "of " + text, ChangedAt: at, ChangedBy: "mirre"}
	}
	picture := func(path, digest string) workshop.File {
		f := file(path, digest)
		f.Made = made(digest)
		return f
	}
	d := workshop.Draft{Widget: "tide", Revision: 1, CreatedAt: at, ChangedAt: at, ChangedBy: "mirre"}
	require.NoError(t, s.AddWidgetDraft(ctx, d, []workshop.File{file("view.html", "<p>"), picture("assets/boat.png", "boat"), picture("assets/twin.png", "boat"), file("empty.ts", "")}, nil))
	assert.ErrorIs(t, s.AddWidgetDraft(ctx, d, nil, nil), problem.ErrExists)
	stored := func() (n int) {
		require.NoError(t, s.Read.Get(&n, "SELECT count(*) FROM asset_files"))
		return n
	}
	assert.Equal(t, 1, stored())
	read, files, err := s.WidgetDraftFiles(ctx, "tide")
	require.NoError(t, err)
	assert.Equal(t, []any{d.Widget, d.Revision, d.ChangedBy}, []any{read.Widget, read.Revision, read.ChangedBy})
	assert.True(t, read.CreatedAt.Equal(at))
	var paths []string
	for _, f := range files {
		paths = append(paths, f.Path)
	}
	assert.Equal(t, []string{"assets/boat.png", "assets/twin.png", "empty.ts", "view.html"}, paths)
	assert.Equal(t, "boat", files[0].Made.Digest)
	assert.Nil(t, files[3].Made)

	d.Revision = 2
	removed := workshop.File{Path: "assets/boat.png", Removed: true}
	require.NoError(t, s.SaveWidgetDraft(ctx, d, 1, []workshop.File{removed}, nil))
	assert.Equal(t, 1, stored(), "its twin shows the same")
	assert.ErrorIs(t, s.SaveWidgetDraft(ctx, d, 1, []workshop.File{file("view.html", "late")}, nil), problem.ErrChanged)
	d.Revision = 3
	require.NoError(t, s.SaveWidgetDraft(ctx, d, 2, []workshop.File{picture("assets/twin.png", "kiln")}, nil))
	_, files, err = s.WidgetDraftFiles(ctx, "tide")
	require.NoError(t, err)
	assert.Equal(t, []string{"kiln", "<p>"}, []string{files[0].Made.Digest, string(files[2].Bytes)}, "the late change has left nothing")
	assert.Equal(t, 1, stored(), "what nobody shows is gone")
	require.NoError(t, s.AddWidgetDraft(ctx, workshop.Draft{Widget: "ebb", Revision: 1, CreatedAt: at, ChangedAt: at}, nil, nil))
	list, err := s.WidgetDrafts(ctx, paging.Page{After: "ebb", Limit: 9})
	require.NoError(t, err)
	require.Len(t, list, 1)
	assert.Equal(t, "tide", list[0].Widget)
	require.NoError(t, s.DeleteWidgetDraft(ctx, "tide", nil))
	assert.ErrorIs(t, s.DeleteWidgetDraft(ctx, "tide", nil), problem.ErrNotFound)
	_, _, err = s.WidgetDraftFiles(ctx, "tide")
	assert.ErrorIs(t, err, problem.ErrNotFound)
	assert.Zero(t, stored())
}
