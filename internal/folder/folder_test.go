package folder

import (
	"archive/zip"
	"bytes"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/fault"
	"glasspocket/internal/widget"
)

// zipped makes a zip with entries as somebody hostile writes them.
func zipped(t *testing.T, entries ...*zip.FileHeader) []byte {
	t.Helper()
	var b bytes.Buffer
	w := zip.NewWriter(&b)
	for _, e := range entries {
		e.Method = zip.Deflate
		f, err := w.CreateHeader(e)
		require.NoError(t, err)
		_, err = f.Write([]byte(e.Comment))
		require.NoError(t, err)
	}
	require.NoError(t, w.Close())
	return b.Bytes()
}

func TestZip(t *testing.T) {
	files, faults, err := Read("../../widgets/person")
	require.NoError(t, err)
	require.Empty(t, faults)
	packed, err := Pack("person", files)
	require.NoError(t, err)
	again, err := Pack("person", files)
	require.NoError(t, err)
	assert.Equal(t, packed, again, "the same files make the same bytes")
	back, faults, err := Unpack(packed)
	require.NoError(t, err)
	require.Empty(t, faults)
	assert.Equal(t, files, back, "nothing is lost on the way")

	flat, faults, err := Unpack(zipped(t, &zip.FileHeader{Name: "widget.json", Comment: "{}"}, &zip.FileHeader{Name: "messages/en.json", Comment: "{}"}, &zip.FileHeader{Name: "__MACOSX/x"}, &zip.FileHeader{Name: ".git/config"}))
	require.NoError(t, err)
	require.Empty(t, faults)
	assert.Equal(t, []string{"messages/en.json", "widget.json"}, flat.Paths())

	link := &zip.FileHeader{Name: "x/view.html", Comment: "/etc/passwd"}
	link.SetMode(fs.ModeSymlink | 0o777)
	for name, c := range map[string]struct {
		packed []byte
		what   string
	}{
		"climbs out": {zipped(t, &zip.FileHeader{Name: "x/../../evil.html", Comment: "x"}), "outside the folder"},
		"absolute":   {zipped(t, &zip.FileHeader{Name: "/etc/evil", Comment: "x"}), "outside the folder"},
		"backslash":  {zipped(t, &zip.FileHeader{Name: `x\..\evil`, Comment: "x"}), "outside the folder"},
		"link":       {zipped(t, link), "is a link"},
		"twice":      {zipped(t, &zip.FileHeader{Name: "x/a.ts", Comment: "1"}, &zip.FileHeader{Name: "x/a.ts", Comment: "2"}), "twice"},
		"too many": {zipped(t, func() (l []*zip.FileHeader) {
			for i := range 900 {
				l = append(l, &zip.FileHeader{Name: "x/" + strings.Repeat("a", i+1)})
			}
			return l
		}()...), "900 entries"},
	} {
		_, faults, err := Unpack(c.packed)
		require.NoError(t, err, name)
		require.NotEmpty(t, faults, name)
		assert.Contains(t, faults[0].What, c.what, name)
	}
	// A gigabyte of nothing packs into a megabyte; no more than a file may have is unpacked.
	var b bytes.Buffer
	w := zip.NewWriter(&b)
	f, err := w.Create("x/view.html")
	require.NoError(t, err)
	for range 256 {
		_, err = f.Write(make([]byte, 1<<20))
		require.NoError(t, err)
	}
	require.NoError(t, w.Close())
	_, faults, err = Unpack(b.Bytes())
	require.NoError(t, err)
	require.Len(t, faults, 1)
	assert.Equal(t, fault.FileTooLarge, faults[0].Code)
	_, _, err = Unpack([]byte("PK nonsense"))
	assert.ErrorContains(t, err, "not a readable ZIP file")
}

// A link in a folder leads nowhere: neither is it read, nor is anything written through it.
func TestLinks(t *testing.T) {
	dir, elsewhere := t.TempDir(), t.TempDir()
	secret := filepath.Join(elsewhere, "secret")
	require.NoError(t, os.WriteFile(secret, []byte("kept"), 0o600))
	require.NoError(t, os.Symlink(secret, filepath.Join(dir, "view.html")))
	require.NoError(t, os.Symlink(elsewhere, filepath.Join(dir, "assets")))
	files, faults, err := Read(dir)
	require.NoError(t, err)
	assert.Empty(t, files)
	require.Len(t, faults, 2)
	assert.Contains(t, faults[1].What, "view.html is a symbolic link")
	assert.ErrorContains(t, Write(dir, map[string][]byte{"view.html": []byte("x")}), "symbolic link")
	assert.Error(t, Write(dir, map[string][]byte{"assets/a.svg": []byte("x")}))
	assert.Error(t, Write(dir, map[string][]byte{"../x": []byte("x")}))
	// Nor where it came from is kept through one, or taken away.
	require.NoError(t, os.Mkdir(filepath.Join(elsewhere, "files"), 0o755))
	require.NoError(t, os.Symlink(elsewhere, filepath.Join(dir, baseDir)))
	assert.Error(t, WriteBase(dir, Base{Widget: "w"}, widget.Files{"view.html": []byte("<p>")}))
	_, err = os.Stat(filepath.Join(elsewhere, "files"))
	require.NoError(t, err)
	require.NoError(t, os.Remove(filepath.Join(elsewhere, "files")))
	text, err := os.ReadFile(secret)
	require.NoError(t, err)
	assert.Equal(t, "kept", string(text))
	left, err := os.ReadDir(elsewhere)
	require.NoError(t, err)
	assert.Len(t, left, 1)
}

func TestBase(t *testing.T) {
	dir := t.TempDir()
	_, _, known, err := ReadBase(dir)
	require.NoError(t, err)
	assert.False(t, known)
	files := widget.Files{"view.html": []byte("<p>"), "assets/a.bin": {0, 255}, "empty.ts": {}}
	require.NoError(t, WriteBase(dir, Base{Server: "s", Widget: "w"}, files))
	b, was, known, err := ReadBase(dir)
	require.NoError(t, err)
	assert.True(t, known)
	assert.Equal(t, "w", b.Widget)
	assert.Equal(t, files, was)
	assert.Equal(t, map[string][]byte{"empty.ts": nil, "new": []byte("n"), "view.html": []byte("<b>")}, Differences(files, widget.Files{"view.html": []byte("<b>"), "assets/a.bin": {0, 255}, "new": []byte("n")}))
	inBase, _, err := Read(dir)
	require.NoError(t, err)
	assert.Empty(t, inBase, "it is hidden")
}

// What is fetched was written by somebody else: a file that tools run by themselves is not written,
// nor is anything beside it.
func TestPlantedFiles(t *testing.T) {
	for _, planted := range []string{".git/config", ".envrc", ".vscode/tasks.json", "package.json", "eslint.config.js"} {
		dir := t.TempDir()
		err := Write(dir, map[string][]byte{"widget.json": []byte("{}"), planted: []byte("x")})
		require.ErrorContains(t, err, "nothing was written")
		left, err := os.ReadDir(dir)
		require.NoError(t, err)
		assert.Empty(t, left, planted)
	}
}
