package local

import (
	"fmt"
	"os"
	"path/filepath"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/app/workshop"
	"glasspocket/internal/bundle"
	"glasspocket/internal/digest"
	"glasspocket/internal/fault"
	"glasspocket/internal/folder"
	"glasspocket/internal/render"
	"glasspocket/internal/widget"
)

func opened(t *testing.T) (*Bench, string) {
	dir := t.TempDir()
	require.NoError(t, folder.Write(dir, folder.Differences(nil, widget.Blank("tide", "Tide", "en"))))
	b, err := Open(dir, bundle.Builder{})
	require.NoError(t, err)
	b.site, err = render.NewSite("http://127.0.0.1:1", "/*loader*/", "", bundle.Kit)
	require.NoError(t, err)
	return b, dir
}

func on(t *testing.T, dir, path string) string {
	text, err := os.ReadFile(filepath.Join(dir, path))
	require.NoError(t, err)
	return string(text)
}

// Two tabs on one folder: of those that change one file at once, one is written, whole.
func TestTabsOfOneFolder(t *testing.T) {
	b, dir := opened(t)
	was := digest.Of([]byte(on(t, dir, "style.css")))
	var won atomic.Int32
	var all sync.WaitGroup
	for tab := range 12 {
		all.Go(func() {
			collisions, err := b.save([]workshop.FileChange{
				{Path: "style.css", Bytes: fmt.Appendf(nil, "/* %d */", tab), Was: was},
				{Path: fmt.Sprintf("of-%d.ts", tab), Bytes: []byte("export {};\n")},
			})
			assert.NoError(t, err)
			if len(collisions) == 0 {
				won.Add(1)
			} else {
				assert.Equal(t, []any{1, fault.FileChanged, "style.css"}, []any{len(collisions), collisions[0].Code, collisions[0].Path})
			}
		})
	}
	all.Wait()
	require.Equal(t, int32(1), won.Load())
	var n int
	_, err := fmt.Sscanf(on(t, dir, "style.css"), "/* %d */", &n)
	require.NoError(t, err)
	made, err := filepath.Glob(filepath.Join(dir, "of-*.ts"))
	require.NoError(t, err)
	assert.Equal(t, []string{filepath.Join(dir, fmt.Sprintf("of-%d.ts", n))}, made)
	// Imported away on a state that is not there any more: it stays.
	collisions, err := b.save([]workshop.FileChange{{Path: "style.css", Removed: true, Was: was}})
	require.NoError(t, err)
	assert.Len(t, collisions, 1)
	collisions, err = b.save([]workshop.FileChange{{Path: "style.css", Removed: true, Was: digest.Of([]byte(on(t, dir, "style.css")))}})
	require.NoError(t, err)
	assert.Empty(t, collisions)
	_, err = os.Stat(filepath.Join(dir, "style.css"))
	assert.True(t, os.IsNotExist(err))
}

// What the author's own editor saves is told to whoever waits, once read; what it breaks is
// said, and what was sound before goes on being there.
func TestOwnEditorsChanges(t *testing.T) {
	b, dir := opened(t)
	changed, end := b.changes()
	defer end()
	watching := make(chan error, 1)
	go func() { watching <- b.Watch(t.Context(), func(err error) { t.Error(err) }) }()
	told := func(what string) {
		t.Helper()
		select {
		case <-changed:
		case err := <-watching:
			t.Fatal("watching ended: ", err)
		case <-time.After(20 * time.Second):
			t.Fatal("nobody was told: ", what)
		}
	}
	first := b.draft()
	require.Equal(t, 1, first.Revision)
	// It may not watch yet: written anew until it does.
	view := "<h2>{{.settings.heading}}</h2><p>{{.settings.accent}}</p>\n"
	require.Eventually(t, func() bool {
		require.NoError(t, os.WriteFile(filepath.Join(dir, "view.html"), []byte(view), 0o644))
		select {
		case <-changed:
			return true
		case <-time.After(300 * time.Millisecond):
			return false
		}
	}, 20*time.Second, time.Millisecond)
	now := b.draft()
	assert.Greater(t, now.Revision, first.Revision)
	tried := b.try(nil, []widget.Case{{}})
	require.Len(t, tried.Shown, 1)
	assert.Contains(t, tried.Shown[0].Payload.Markup, "<p data-glass-part=")
	assert.Contains(t, b.check(nil).Widget, "tide")

	require.NoError(t, os.Mkdir(filepath.Join(dir, "messages", "more"), 0o755))
	require.NoError(t, os.Rename(filepath.Join(dir, "messages", "en.json"), filepath.Join(dir, "messages", "de.json")))
	told("a file has another name")
	checked := b.check(nil)
	assert.Empty(t, checked.Widget)
	require.NotEmpty(t, checked.Faults)
	// What is not saved yet counts before what is on disk.
	sound := b.check([]workshop.FileChange{{Path: "messages/en.json", Bytes: []byte("{}")}, {Path: "messages/de.json", Removed: true}})
	assert.Equal(t, "tide", sound.Widget, sound.Faults)
	assert.NotEmpty(t, sound.Digest)

	// A link to elsewhere is not followed, whoever puts it there, and is said.
	outside := filepath.Join(t.TempDir(), "secret.css")
	require.NoError(t, os.WriteFile(outside, []byte(".secret {}"), 0o644))
	require.NoError(t, os.Remove(filepath.Join(dir, "style.css")))
	require.NoError(t, os.Symlink(outside, filepath.Join(dir, "style.css")))
	told("a link")
	assert.Eventually(t, func() bool {
		for _, f := range b.check(nil).Faults {
			if f.Path == "style.css" {
				return true
			}
		}
		return false
	}, 20*time.Second, 10*time.Millisecond)
	for _, f := range b.draft().Files {
		assert.NotContains(t, f.Text, "secret")
	}
	_, err := b.save([]workshop.FileChange{{Path: "style.css", Bytes: []byte("x")}})
	if err == nil {
		info, err := os.Lstat(filepath.Join(dir, "style.css"))
		require.NoError(t, err)
		assert.Zero(t, info.Mode()&os.ModeSymlink, "the link itself is replaced")
	}
	assert.Equal(t, ".secret {}", func() string { text, _ := os.ReadFile(outside); return string(text) }())
}
