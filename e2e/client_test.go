package e2e

import (
	"bytes"
	"encoding/json"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/e2e/service"
	"glasspocket/internal/store"
)

// glasspocket runs the client as a person does.
func glasspocket(t *testing.T, stdin string, args ...string) (code int, out, errs string) {
	t.Helper()
	c := exec.Command(service.Binary("glasspocket"), args...)
	c.Dir = service.Root()
	c.Env = []string{"GLASSPOCKET_SERVER=" + demo.Manage, "GLASSPOCKET_TOKEN=" + demo.Token, "GLASSPOCKET_CONFIG=" + filepath.Join(t.TempDir(), "none.json"), "TZ=UTC"}
	c.Stdin = strings.NewReader(stdin)
	var o, e bytes.Buffer
	c.Stdout, c.Stderr = &o, &e
	err := c.Run()
	if err != nil {
		require.IsType(t, &exec.ExitError{}, err)
	}
	return c.ProcessState.ExitCode(), o.String(), e.String()
}

// The way from a folder to a snippet with the client alone, then each kind of mistake
// with its exit code and its words.
func TestClientVerbs(t *testing.T) {
	file := filepath.Join(t.TempDir(), "settings.json")
	require.NoError(t, os.WriteFile(file, []byte("{\n  \"heading\": 12,\n  \"target\": \"2027-02-30T18:00[Europe/Berlin]\",\n  \"acent\": \"#fff\",\n  \"radius\": 99,\n  \"endLink\": \"javascript:alert(1)\"\n}\n"), 0o600))
	exported := filepath.Join(t.TempDir(), "by-client.pocket.json")
	broken := t.TempDir()
	require.NoError(t, os.WriteFile(filepath.Join(broken, "view.html"), []byte("<p>\n<b onclick='x'></p>"), 0o600))
	for _, c := range []struct {
		args  string // words split at spaces; ~ stands for a space within one
		stdin string
		code  int
		has   []string // in what is printed, on either side
	}{
		{"", "", 0, []string{"Usage: glasspocket VERB", "Exit codes"}},
		{"set -h", "", 0, []string{"Change settings in a pocket's draft", "Examples:", "-file"}},
		{"check widgets/countdown", "", 0, []string{"countdown has no faults: 26 settings, 6 starters, 4 languages."}},
		{"release widgets/countdown", "", 0, []string{"countdown has not changed since release 1"}},
		{"make customer Tern~&~Tide -id tern", "", 0, []string{"Made the customer tern (Tern & Tide)."}},
		{"make pocket -customer tern -widget countdown -starter tideline -key by-client", "", 0, []string{"Made the pocket by-client."}},
		{"set by-client target=2099-01-01T00:00[Europe/Berlin] labels=off radius=3 heading=Soon", "", 0, []string{"Saved in the draft (revision 2)"}},
		{"read by-client heading", "", 0, []string{"Soon\n"}},
		{"read by-client", "", 0, []string{"radius         number   3 ", "draft", "units", "default"}},
		{"read by-client labels radius -json", "", 0, []string{"\"labels\": false,\n  \"radius\": 3\n}"}},
		{"set by-client heading=", "", 0, []string{"Saved in the draft (revision 3)"}},
		{"publish by-client", "", 0, []string{"Published by-client as number 1."}},
		{"publish by-client -json", "", 0, []string{"\"number\": 2"}},
		{"list pockets -customer tern", "", 0, []string{"by-client", "published (2, "}},
		{"publish by-client -follow", "", 0, []string{"Published by-client as number 3."}},
		{"list pockets -customer tern", "", 0, []string{"published (3, ", ", follows"}},
		{"restore by-client 1", "", 0, []string{"Published number 1 again as number 4.", "glasspocket restore by-client 3"}},
		{"restore by-client one", "", 2, []string{"glasspocket list publications by-client"}},
		{"list settings reviews", "", 0, []string{"SETTING", "layout        choice     grid ", "small screens, a page   grid, list, wall, carousel, single, badge, note", "from 1 to 50 in steps of 1", "0 to 200 items of author, rating"}},
		{"list settings countdown -json", "", 0, []string{`"key": "target"`}},
		{"list settings", "", 2, []string{"name the widget"}},
		{"list settings reviws", "", 1, []string{"reviws"}},
		{"make pocket -customer kelp-and-kiln -widget countdown -starter tideline -key by-client-small", "", 0, []string{"Made the pocket"}},
		{"set by-client-small small/units=days", "", 0, []string{"Saved in the draft"}},
		{"read by-client-small", "", 0, []string{"small/units    choice   days "}},
		{"read by-client-small small/units", "", 0, []string{"days\n"}},
		{"set by-client-small small/units=", "", 0, []string{"Saved in the draft"}},
		{"read by-client-small small/units", "", 0, []string{"days-hours-minutes-seconds\n"}},
		{"set by-client-small small/radius=1", "", 3, []string{"same value on all screen sizes"}},
		{"read demo-cards", "", 0, []string{"6 items   "}},
		{"make pocket -customer kelp-and-kiln -widget cards -key by-client-card", "", 0, []string{"Made the pocket"}},
		{"set by-client-card -file -", `{"cards": [{"id": "a1", "kind": "card", "title": "Clay"}]}`, 0, []string{"Saved in the draft"}},
		{"read by-client-card", "", 0, []string{" 1 item "}},
		{"read demo-cards cards", "", 0, []string{`"title":"Under the dome"`}},
		{"list releases countdown", "", 0, []string{"NUMBER", "in use"}},
		{"withdraw countdown 77", "", 1, []string{"There is no release \"countdown 77\"."}},
		{"withhold pocket by-client -why A~complaint", "", 0, []string{"glasspocket withhold pocket by-client -undo"}},
		{"list pockets -customer tern", "", 0, []string{"withheld, published"}},
		{"withhold pocket by-client -undo", "", 0, []string{"is served again"}},
		{"withhold customer tern", "", 0, []string{"The customer tern is withheld"}},
		{"list customers", "", 0, []string{"WITHHELD"}},
		{"withhold customer tern -undo", "", 0, []string{"is served again"}},
		{"make user ada@tern.example -role customer-editor -customer tern", "", 0, []string{"Made the user ada@tern.example (customer-editor). The password is "}},
		{"make user ada@tern.example -role king", "", 1, []string{"There is no role \"king\"."}},
		{"list users", "", 0, []string{"ada@tern.example", "customer-editor"}},
		{"password ada@tern.example", "", 0, []string{"The new password of ada@tern.example is ", "Their sessions and tokens no longer work."}},
		{"password", "wrong\na good long phrase\n", 1, []string{"The current password is wrong."}},
		{"list sessions", "", 0, []string{"SESSION"}},
		{"delete user ada@tern.example", "", 0, []string{"can no longer sign in"}},
		{"make token shop -role customer-editor -customer tern", "", 0, []string{"pocket-"}},
		{"list tokens", "", 0, []string{"customer-editor tern"}},
		{"list publications by-client", "", 0, []string{"NUMBER", "lantern-quay", "token"}},
		{"list customers -json", "", 0, []string{"\"name\": \"Tern & Tide\""}},
		{"snippet by-client", "", 0, []string{`<div data-glass-pocket="by-client" style="min-height:calc(92px`, demo.Public + "/s/by-client.js"}},
		{"set by-client -file -", `{"target": "2098-01-01T00:00[UTC]"}`, 0, []string{"revision 4"}},
		// What a customer does with a pocket.
		{"set by-client accent=brand:accent heading=Soon", "", 0, []string{"revision 5"}},
		{"brand tern", "", 0, []string{"The brand has no values yet"}},
		{"brand tern accent=#aa3300 -dry-run", "", 0, []string{"by-client", "changed"}},
		{"brand tern accent=blueish", "", 3, []string{`"Accent" is "blueish", which is not a hexadecimal colour`}},
		{"brand tern accent=#aa3300 heading=book", "", 0, []string{"Visitors see the change in every pocket"}},
		{"brand tern", "", 0, []string{"accent", "#aa3300", "Headings   book"}},
		{"diff by-client", "", 0, []string{"the brand's accent", "Content   Heading"}},
		{"diff by-client -from 1 -to 1", "", 0, []string{"There are no differences."}},
		{"starter by-client observatory -dry-run", "", 0, []string{"Kept your own value: Layout (Tiles; the starter has Dials)", "-replace layout"}},
		{"starter by-client observatry", "", 1, []string{`no starter "observatry"`, "Did you mean “observatory”?"}},
		{"starter by-client observatory", "", 0, []string{"Kept your own value: Layout", "Background", "revision 6"}},
		{"case by-client Phone -width 360 -content many", "", 0, []string{`Saved the preview case "Phone"`}},
		{"case by-client Phone -page moon", "", 1, []string{`no sample page "moon"`}},
		{"list cases by-client", "", 0, []string{"Phone   360 px, many"}},
		{"delete case by-client Phone", "", 0, []string{"Deleted the preview case"}},
		{"publish by-client -at 2098-01-01T00:00[UTC] -until 2098-02-01T00:00[UTC]", "", 0, []string{"publish by-client at 2098-01-01T00:00[UTC]", "restore by-client at 2098-02-01T00:00[UTC]"}},
		{"publish by-client -at 2098-02-30T00:00[UTC]", "", 3, []string{"is not on the calendar"}},
		{"publish by-client -at 2020-01-01T00:00[UTC]", "", 1, []string{"is in the past"}},
		{"list schedules by-client", "", 0, []string{"publish", "restore 4", "waiting"}},
		{"publish by-client -host bog", "", 1, []string{"Did you mean “blog”?"}},
		{"publish by-client -where home", "", 2, []string{"-where needs -host"}},
		{"publish by-client -host blog -where home", "", 0, []string{"Published by-client as number 5.", "the blog's template:", "/s/by-client.js", "The steps: glasspocket steps by-client"}},
		{"steps by-client", "", 0, []string{"only on the home page: one paste", "Open the source of the blog's template."}},
		{"cues by-client -only /events/*", "", 0, []string{"/events/*"}},
		{"publish by-client -host blog -where home", "", 1, []string{"A rule shows", "glasspocket cues by-client -only /"}},
		{"unpublish by-client", "", 0, []string{"show nothing in its place"}},
		{"unpublish by-client", "", 1, []string{"is not published"}},
		{"bulk publish by-client", "", 0, []string{"The job is done: 1 pocket succeeded, 0 failed."}},
		{"bulk publish -customer tern -state withheld", "", 1, []string{"No pockets match that list.", "use fewer filters"}},
		{"move by-client", "", 1, []string{"already uses release 1"}},
		{"duplicate by-client -to kelp-and-kiln", "", 0, []string{"for kelp-and-kiln. It is not published yet"}},
		{"export by-client -o " + exported, "", 0, []string{"Exported ", "with 0 assets"}},
		{"import " + exported + " -customer tern", "", 0, []string{"The job is done: 1 pocket succeeded, 0 failed."}},
		{"import " + exported, "", 1, []string{"No customer is named.", "Name a customer"}},
		{"import " + file + " -customer tern", "", 1, []string{"1 failed", "file 1: The file has format 0"}},
		{"list jobs", "", 0, []string{"import", "publish", "1 of 1"}},
		{"delete pocket by-client", "", 1, []string{"is published, and pages show it"}},
		{"change tern -zone Atlantic/Faroe -sites tern.example", "", 0, []string{"zone Atlantic/Faroe", "sites tern.example"}},
		{"change tern -zone Marrow/Kelp", "", 1, []string{`no time zone "Marrow/Kelp"`}},
		{"invite tern -role customer-editor -name Runa", "", 0, []string{demo.Manage + "/join#", "The first person to open it joins"}},
		{"invite tern -role operator-admin", "", 1, []string{"Choose customer-editor or customer-viewer."}},
		{"list people tern", "", 0, []string{"Runa", "customer-editor"}},
		{"audit -customer tern", "", 0, []string{"invited somebody to customer tern", "imported pocket", "changed brand tern: accent, heading"}},
		{"audit -pocket by-client", "", 0, []string{"unpublished pocket by-client", "lantern-quay   job"}},
		{"audit -pocket nope", "", 1, []string{`There is no pocket "nope".`}},
		{"snippet by-client -delivery plain-form", "", 1, []string{"no fields for visitors to fill in"}},
		{"list pockets -search zzz-none -json", "", 0, []string{`"pockets": []`}},
		{"version", "", 0, []string{"glasspocket ", "go1."}},
		{"whoami", "", 0, []string{"lantern-quay (operator-admin)"}},
		{"explain value-zone", "", 0, []string{"IANA database", "For example: "}},
		// Mistakes.
		{"explain value-zones", "", 2, []string{"Did you mean “value-zone”?"}},
		{"publsh by-client", "", 2, []string{`unknown verb "publsh". Did you mean “publish”?`}},
		{"publish", "", 2, []string{"name one pocket"}},
		{"set by-client accent", "", 2, []string{"is not NAME=VALUE"}},
		{"list pokets", "", 2, []string{"Did you mean “pockets”?"}},
		{"set by-client -file " + file, "", 3, []string{":2:14  \"heading\" must be text, not a number", "            ^", ":3:13", ":4:3  There is no setting \"acent\"", "Did you mean “accent”?", ":5:13", ":6:14", "5 faults."}},
		{"set by-client accent=teal radius=99", "", 3, []string{"\"accent\" is \"teal\"", "\"radius\" is 99", "2 faults."}},
		{"set by-client acent=#ffffff", "", 3, []string{"has no setting \"acent\"", "Did you mean “accent”?"}},
		{"check " + broken, "", 3, []string{"view.html:2:4  A view cannot contain the attribute onclick.", "<b onclick='x'></p>", "There is no widget.json.", "faults."}},
		{"check " + broken + " -json", "", 3, []string{`"code": "view-attribute"`}},
		{"check nowhere", "", 1, []string{"the folder cannot be read"}},
		{"publish nothing", "", 1, []string{`There is no pocket "nothing".`, "List the pockets"}},
		{"make pocket -customer tern -widget countdown -key by-client", "", 1, []string{`The key "by-client" is taken.`}},
		{"make pocket -customer tern -widget countdwn", "", 1, []string{`There is no widget "countdwn".`}},
		{"list pockets -server http://127.0.0.1:1", "", 4, []string{"no service answers at http://127.0.0.1:1", "Check that glasspocketd is running"}},
		{"list pockets -server " + demo.Sites, "", 4, []string{"which is not from this API"}},
		{"list pockets -token wrong", "", 5, []string{"This service does not know this token.", "glasspocket signin"}},
		{"list pockets -token wrong -json", "", 5, []string{`"code": "token-unknown"`}},
	} {
		t.Run(c.args, func(t *testing.T) {
			args := strings.Fields(c.args)
			for i := range args {
				args[i] = strings.ReplaceAll(args[i], "~", " ")
			}
			code, out, errs := glasspocket(t, c.stdin, args...)
			assert.Equal(t, c.code, code, out+errs)
			for _, has := range c.has {
				assert.Contains(t, out+errs, has)
			}
		})
	}
	code, out, _ := glasspocket(t, "", "read", "by-client", "-json")
	require.Zero(t, code)
	code, _, errs := glasspocket(t, out, "set", "by-client", "-file", "-")
	assert.Zero(t, code, "what read prints, set takes: "+errs)
}

// Every help text fits a terminal, every verb takes -json, and what cannot be printed is no success.
func TestClientOutput(t *testing.T) {
	t.Parallel()
	_, top, _ := glasspocket(t, "", "-h")
	texts := map[string]string{"": top}
	for _, m := range regexp.MustCompile(`(?m)^  ([a-z]+) `).FindAllStringSubmatch(top, -1) {
		_, texts[m[1]], _ = glasspocket(t, "", m[1], "-h")
	}
	require.Greater(t, len(texts), 40)
	for _, command := range []string{"-h", "serve -h", "demo -h", "backup -h", "restore -h"} {
		_, texts["glasspocketd "+command] = glasspocketd(t, strings.Fields(command)...)
	}
	for name, text := range texts {
		for line := range strings.Lines(text) {
			assert.LessOrEqual(t, len([]rune(strings.TrimSuffix(line, "\n"))), 80, "%s: %s", name, line)
		}
	}
	_, text := glasspocketd(t, "version")
	assert.Contains(t, text, "glasspocketd ")

	dir := t.TempDir()
	for _, c := range []string{"start " + dir + "/tide", "pack " + dir + "/tide " + dir + "/tide.zip", "unpack " + dir + "/tide.zip " + dir + "/again", "types " + dir + "/tide", "fetch countdown " + dir + "/countdown", "fetch countdown " + dir + "/countdown"} {
		code, out, errs := glasspocket(t, "", append(strings.Fields(c), "-json")...)
		require.Zero(t, code, errs)
		assert.True(t, json.Valid([]byte(out)), "%s: %s", c, out)
	}
	for _, args := range []string{"read demo-countdown", "snippet demo-countdown", "steps demo-countdown -host blog", "list pockets", "audit"} {
		full, err := os.OpenFile("/dev/full", os.O_WRONLY, 0)
		require.NoError(t, err)
		defer full.Close()
		c := exec.Command(service.Binary("glasspocket"), strings.Fields(args)...)
		c.Env = []string{"GLASSPOCKET_SERVER=" + demo.Manage, "GLASSPOCKET_TOKEN=" + demo.Token}
		var e bytes.Buffer
		c.Stdout, c.Stderr = full, &e
		_ = c.Run()
		assert.Equal(t, 1, c.ProcessState.ExitCode(), args)
		assert.Contains(t, e.String(), "could not be written", args)
	}
	c := exec.Command(service.Binary("glasspocket"), "whoami")
	c.Env = []string{"GLASSPOCKET_SERVER=" + demo.Manage, "GLASSPOCKET_CONFIG=" + dir + "/none"}
	said, _ := c.CombinedOutput()
	assert.Equal(t, 5, c.ProcessState.ExitCode())
	assert.Contains(t, string(said), "You are not signed in.\nRun “glasspocket signin NAME”")
	c = exec.Command(service.Binary("glasspocket"), "list", "pockets")
	c.Env = []string{"GLASSPOCKET_SERVER=" + demo.Manage, "GLASSPOCKET_CONFIG=" + dir + "/none"}
	said, _ = c.CombinedOutput()
	assert.Equal(t, 5, c.ProcessState.ExitCode())
	assert.Contains(t, string(said), "This needs an account.\nRun “glasspocket signin NAME”", "the gallery is open, so guests get another refusal")
	// A path that is not there is named.
	code, told := glasspocketd(t, "backup", "-data", serviceData(t), dir+"/no/such/backup.db")
	assert.Equal(t, 1, code)
	assert.Contains(t, told, "there is no folder "+dir+"/no/such")
}

// serviceData is a data folder with a database.
func serviceData(t *testing.T) string {
	t.Helper()
	dir := t.TempDir()
	s, err := store.Open(t.Context(), dir)
	require.NoError(t, err)
	require.NoError(t, s.Close())
	return dir
}

// The config file is kept for its owner alone, and refused when others can read it.
func TestClientConfig(t *testing.T) {
	config := filepath.Join(t.TempDir(), "deep", "config.json")
	run := func(stdin string, args ...string) (int, string) {
		c := exec.Command(service.Binary("glasspocket"), args...)
		c.Env = []string{"GLASSPOCKET_CONFIG=" + config}
		c.Stdin = strings.NewReader(stdin)
		out, _ := c.CombinedOutput()
		return c.ProcessState.ExitCode(), string(out)
	}
	code, out := run("wrong\n", "signin", demo.Name, "-server", demo.Manage)
	assert.Equal(t, 5, code, out)
	assert.NoFileExists(t, config)
	code, out = run(demo.Password+"\n", "signin", demo.Name, "-server", demo.Manage)
	require.Zero(t, code, out)
	info, err := os.Stat(config)
	require.NoError(t, err)
	assert.Equal(t, os.FileMode(0o600), info.Mode().Perm())
	code, out = run("", "whoami")
	assert.Zero(t, code, out)
	code, out = run("", "whoami", "-server", demo.Sites)
	assert.NotZero(t, code)
	assert.NotContains(t, out, "operator-admin", "a kept token goes to no other server")
	require.NoError(t, os.Chmod(config, 0o644))
	code, out = run("", "whoami")
	assert.Equal(t, 1, code)
	assert.Contains(t, out, "chmod 600")
}
