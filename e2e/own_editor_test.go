package e2e

import (
	"bufio"
	"encoding/json"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"syscall"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/e2e/service"
	"glasspocket/internal/wire"
)

// watch runs the client's worktop on a folder, and gives its address.
func watch(t *testing.T, dir string) string {
	t.Helper()
	c := exec.Command(service.Binary("glasspocket"), "watch", dir, "-json")
	out, err := c.StdoutPipe()
	require.NoError(t, err)
	require.NoError(t, c.Start())
	t.Cleanup(func() {
		c.Process.Signal(syscall.SIGINT)
		assert.NoError(t, c.Wait(), "it ends in peace")
	})
	text := bufio.NewReader(out)
	var said struct{ Worktop string }
	require.NoError(t, json.NewDecoder(text).Decode(&said))
	return said.Worktop
}

// Somebody makes a widget with an editor of their own: what is saved shows at once, with the
// same messages and cases, and what is changed in the worktop is on disk.
func TestOwnEditor(t *testing.T) {
	t.Parallel()
	dir := filepath.Join(t.TempDir(), "tide-own")
	code, out, errs := glasspocket(t, "", "start", dir, "-title", "Tide of my own")
	require.Equal(t, 0, code, errs)
	assert.Contains(t, out, "glasspocket watch")
	save := func(path, text string) {
		t.Helper()
		require.NoError(t, os.MkdirAll(filepath.Dir(filepath.Join(dir, path)), 0o755))
		require.NoError(t, os.WriteFile(filepath.Join(dir, path), []byte(text), 0o644))
	}
	read := func(path string) string {
		text, err := os.ReadFile(filepath.Join(dir, path))
		require.NoError(t, err)
		return string(text)
	}
	address := watch(t, dir)
	p := tab(t)
	require.NoError(t, p.Go(strings.Replace(address, "/worktop/tide-own", "/", 1)))
	b := &bench{p, t, "tide-own"}
	b.sees(inTide + `(".heading")?.textContent == "Tide of my own"`)
	assert.Contains(t, b.text("header"), dir)

	save("view.html", strings.Replace(read("view.html"), "</h2>", " now</h2>", 1))
	b.sees(inTide + `(".heading").textContent == "Tide of my own now"`)
	save("style.css", strings.Replace(read("style.css"), "font-size: 22px", "font-size: 31px", 1))
	b.sees(`getComputedStyle(` + inTide + `(".heading")).fontSize == "31px"`)
	save("mount.js", "export default function mount({ root }) {\n  root.querySelector(\".heading\").title = \"by script\";\n  console.warn(\"careful\");\n}\n")
	b.sees(inTide + `(".heading").title == "by script"`)
	b.press("Console")
	b.wait(`document.querySelector("section[aria-label=Messages]").innerText.includes("careful") && document.querySelector("section[aria-label=Messages]").innerText.includes("mount.js:3")`)
	save("assets/bell.svg", `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><path d="M0 0h9v9z"/></svg>`)
	save("settings.json", strings.Replace(read("settings.json"), `"accent": {`, `"bell": { "type": "object", "default": { "asset": "assets/bell.svg", "alt": "A bell" }, "glass": { "type": "image", "label": { "en": "Bell" } } },
    "accent": {`, 1))
	save("view.html", strings.Replace(read("view.html"), "</section>", "  {{image .settings.bell \"9px\"}}\n</section>", 1))
	b.sees(inTide + `("img")?.complete && ` + inTide + `("img").naturalWidth > 0`)
	b.press("Right to left")
	b.sees(inTide + `(".pocket").dir == "rtl"`)
	b.press("Default")

	// The other way: what is changed here is on disk, and nothing else of the file is.
	before := read("style.css")
	b.point("heading")
	b.write("font-size: 31px", ".tide-own .heading {\n  margin: 0;\n  font-size: 40px;\n  line-height: 1.3;\n}")
	b.wait(`[...document.querySelectorAll("header [role=status]")].some(e => e.innerText == "Folder saved")`)
	assert.Equal(t, strings.Replace(before, "31px", "40px", 1), read("style.css"))
	// A fault is underlined and said, and what was seen stays.
	save("view.html", strings.Replace(read("view.html"), "{{.settings.heading}}", "{{.settings.headin}}", 1))
	b.press("Faults")
	b.wait(`document.querySelector("section[aria-label=Messages]").innerText.includes("headin")`)
	b.sees(inTide + `(".heading").textContent == "Tide of my own now"`)
	code, _, errs = glasspocket(t, "", "check", dir)
	assert.Equal(t, 3, code)
	assert.Contains(t, errs, "headin")
	save("view.html", strings.Replace(read("view.html"), "{{.settings.headin}}", "{{.settings.heading}}", 1))
	b.wait(`document.querySelector("section[aria-label=Messages]").innerText.includes("There are no faults. You can release this draft.")`)

	// To the service and back: comments, order and line breaks stay, and what two have changed
	// apart comes together.
	save("style.css", "/* mine alone */\n"+read("style.css"))
	code, out, errs = glasspocket(t, "", "send", dir)
	require.Equal(t, 0, code, errs)
	assert.Contains(t, out, "Uploaded tide-own to the worktop: 7 files.")
	other := filepath.Join(t.TempDir(), "other")
	code, out, errs = glasspocket(t, "", "fetch", "tide-own", other)
	require.Equal(t, 0, code, errs)
	assert.Contains(t, out, "Fetched the draft of tide-own")
	for _, path := range []string{"style.css", "view.html", "settings.json", "widget.json", "mount.js", "assets/bell.svg", "messages/en.json"} {
		text, err := os.ReadFile(filepath.Join(other, path))
		require.NoError(t, err)
		assert.Equal(t, read(path), string(text), path)
	}
	theirs := filepath.Join(other, "style.css")
	require.NoError(t, os.WriteFile(theirs, []byte(strings.Replace(read("style.css"), "padding: 16px 20px", "padding: 9px", 1)), 0o644))
	code, out, errs = glasspocket(t, "", "send", other)
	require.Equal(t, 0, code, errs)
	assert.Equal(t, "uploaded  style.css\n", out)
	save("style.css", strings.Replace(read("style.css"), "line-height: 1.3", "line-height: 2", 1))
	code, out, errs = glasspocket(t, "", "fetch", "tide-own", dir)
	require.Equal(t, 0, code, errs)
	assert.Equal(t, "merged  style.css\n", out)
	assert.Contains(t, read("style.css"), "padding: 9px")
	assert.Contains(t, read("style.css"), "line-height: 2")
	b.sees(`getComputedStyle(` + inTide + `(".tide-own")).paddingTop == "9px"`) // and shows
	code, out, _ = glasspocket(t, "", "send", dir)
	require.Equal(t, 0, code)
	assert.Equal(t, "uploaded  style.css\n", out)

	// The same line on both sides: nobody is overwritten.
	require.NoError(t, os.WriteFile(theirs, []byte(strings.Replace(read("style.css"), "padding: 9px", "padding: 1px", 1)), 0o644))
	save("style.css", strings.Replace(read("style.css"), "padding: 9px", "padding: 2px", 1))
	code, _, _ = glasspocket(t, "", "send", dir)
	require.Equal(t, 0, code)
	code, out, errs = glasspocket(t, "", "send", other)
	assert.Equal(t, 6, code)
	assert.Contains(t, out, "changed on both sides")
	assert.Contains(t, out, "+   padding: 2px;")
	assert.Contains(t, errs, "with -mine")
	assert.Contains(t, b.file("style.css"), "padding: 2px")
	code, _, errs = glasspocket(t, "", "send", other, "-mine")
	require.Equal(t, 0, code, errs)
	assert.Contains(t, b.file("style.css"), "padding: 1px")

	// Packed, unpacked, released.
	packed := filepath.Join(t.TempDir(), "tide.zip")
	code, out, errs = glasspocket(t, "", "pack", dir, packed)
	require.Equal(t, 0, code, errs)
	assert.Contains(t, out, "Packed 7 files of the widget tide-own")
	again := filepath.Join(t.TempDir(), "again")
	code, _, errs = glasspocket(t, "", "unpack", packed, again)
	require.Equal(t, 0, code, errs)
	code, out, errs = glasspocket(t, "", "release", again)
	require.Equal(t, 0, code, errs)
	assert.Contains(t, out, "Released tide-own as number 1.")

	// What a release would do to those who follow is said first, and what breaks stops it.
	follow := true
	for _, key := range []string{"tide-own-b", "tide-own-a"} {
		_, err := api.MakePocket(t.Context(), wire.NewPocket{Key: key, Customer: "saltmarsh-ferry", Widget: "tide-own"})
		require.NoError(t, err)
		set(t, key, map[string]any{"heading": "Ebb"})
		_, err = api.Publish(t.Context(), key, wire.Publish{Follow: &follow})
		require.NoError(t, err)
	}
	edit := func(path, old, new string) {
		text, err := os.ReadFile(filepath.Join(again, path))
		require.NoError(t, err)
		require.Contains(t, string(text), old)
		require.NoError(t, os.WriteFile(filepath.Join(again, path), []byte(strings.ReplaceAll(string(text), old, new)), 0o644))
	}
	edit("view.html", "</section>", "<p>new</p></section>")
	code, out, errs = glasspocket(t, "", "release", again, "-dry-run")
	require.Equal(t, 0, code, errs)
	assert.Equal(t, "Dry run, 2 pockets: 0 identical, 2 changed, 0 broken.\n  changed  tide-own-a  markup\n  changed  tide-own-b  markup\n", out)
	edit("view.html", ".settings.heading", ".settings.title")
	edit("settings.json", `"heading":`, `"title":`)
	for _, more := range [][]string{{"-dry-run"}, {}} {
		code, out, errs = glasspocket(t, "", append([]string{"release", again}, more...)...)
		assert.Equal(t, 3, code)
		assert.Contains(t, out, "0 changed, 2 broken.\n  broken   tide-own-a  There is no setting \"heading\".")
		assert.Contains(t, errs, "2 of 2 pockets that follow cannot use this release.")
	}
	code, out, errs = glasspocket(t, "", "release", again, "-breaks")
	require.Equal(t, 0, code, errs)
	assert.Contains(t, out, "Released tide-own as number 2.")
	// Those that stayed behind do not stop who releases the same again.
	code, out, errs = glasspocket(t, "", "release", again)
	require.Equal(t, 0, code, errs)
	assert.Contains(t, out, "tide-own has not changed since release 2")
	for args, want := range map[string]string{"unpack " + packed + " " + again: "is not empty", "start " + again: "is not empty", "start " + filepath.Join(t.TempDir(), "1x"): "is not valid", "watch " + dir + " -addr 0.0.0.0:1": "not a loopback address", "watch " + packed: "Name the widget's folder", "fetch nothing-there " + filepath.Join(t.TempDir(), "x"): "There is no widget"} {
		code, _, errs := glasspocket(t, "", strings.Fields(args)...)
		assert.NotZero(t, code, args)
		assert.Contains(t, errs, want, args)
	}
}
