package store_test

import (
	"fmt"
	"os"
	"path/filepath"
	"sort"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/audit"
	"glasspocket/internal/app/bulk"
	"glasspocket/internal/app/customer"
	"glasspocket/internal/app/delivery"
	"glasspocket/internal/app/pocket"
	"glasspocket/internal/app/release"
	"glasspocket/internal/app/task"
	"glasspocket/internal/cue"
	"glasspocket/internal/paging"
	"glasspocket/internal/problem"
	"glasspocket/internal/render"
	"glasspocket/internal/store"
	"glasspocket/internal/work"
)

// eternal is where every released schema's rows stay, one file a schema.
const eternal = "../../testdata/eternal/store"

// as makes a data folder as the program with that schema left it.
func as(t *testing.T, schema int64) string {
	folder := t.TempDir()
	db, err := sqlx.Open("sqlite", filepath.Join(folder, store.File)+store.Pragmas)
	require.NoError(t, err)
	defer db.Close()
	db.SetMaxOpenConns(1)
	p, err := store.Steps(db)
	require.NoError(t, err)
	_, err = p.UpTo(ctx, schema)
	require.NoError(t, err)
	rows, err := os.ReadFile(filepath.Join(eternal, fmt.Sprintf("%d.sql", schema)))
	require.NoError(t, err)
	_, err = db.Exec(string(rows))
	require.NoError(t, err)
	return folder
}

// Every schema ever released comes forward with all its rows, after a copy was made, and
// the copy can be restored.
func TestUpgradeFromEverySchema(t *testing.T) {
	files, err := filepath.Glob(filepath.Join(eternal, "*.sql"))
	require.NoError(t, err)
	sort.Strings(files)
	require.NotEmpty(t, files)
	for _, file := range files {
		schema, err := strconv.ParseInt(strings.TrimSuffix(filepath.Base(file), ".sql"), 10, 64)
		require.NoError(t, err)
		t.Run(fmt.Sprint(schema), func(t *testing.T) {
			folder := as(t, schema)
			s, err := open(folder)
			require.NoError(t, err)
			defer s.Close()
			p, err := s.Pocket(ctx, "demo-countdown")
			require.NoError(t, err)
			assert.Equal(t, "kelp-and-kiln", p.CustomerID)
			assert.Equal(t, [2]int{2, 3}, [2]int{p.Publication, p.Revision})
			assert.Nil(t, p.Withheld.At)
			list, err := s.Publications(ctx, "demo-countdown", 0, 9)
			require.NoError(t, err)
			assert.Len(t, list, 2)
			now, err := s.Current(ctx, "demo-countdown", render.Page)
			require.NoError(t, err)
			by, _ := now.Inputs.Of(render.FromRelease)
			assert.Equal(t, list[0].ReleaseID, by.Revision, "the rendering knows its release")
			assert.NotEmpty(t, now.Document)
			u, err := s.UserByName(ctx, "lantern-quay")
			require.NoError(t, err)
			assert.Equal(t, access.OperatorAdmin, u.Role)
			newest, err := s.NewestReleaseFor(ctx, "countdown", release.LotLast)
			require.NoError(t, err)
			kept, built, err := s.ReleaseFiles(ctx, newest.ID)
			require.NoError(t, err)
			assert.NotEmpty(t, built.Mount)
			assert.Equal(t, newest.Digest, kept.Digest())
			if schema >= 3 {
				const bowl = "030a55ecd84042561d8f88d5fd74c50ae4e17de1818f54aec697da79f63b5c20"
				a, err := s.Asset(ctx, "kelp-and-kiln", bowl)
				require.NoError(t, err)
				assert.Equal(t, 12, a.About().Width)
				of, err := s.AssetFile(ctx, bowl, "bowl-12.png")
				require.NoError(t, err)
				assert.NotEmpty(t, of)
			}

			assert.Equal(t, 100, newest.Share, "a release of before is rolled out to all")
			assert.True(t, p.Lot >= 0 && p.Lot <= release.LotLast)
			if schema >= 4 {
				assert.Equal(t, 42, p.Lot)
				d, files, err := s.WidgetDraftFiles(ctx, "tide")
				require.NoError(t, err)
				assert.Equal(t, 3, d.Revision)
				require.Len(t, files, 1)
				assert.Equal(t, "<p>Tide</p>", string(files[0].Bytes))
			}

			pockets := 2
			if schema >= 5 {
				pockets = 3 // one of nobody's yet
				held(t, s)
			} else {
				c, err := s.Customer(ctx, "kelp-and-kiln")
				require.NoError(t, err)
				assert.Equal(t, [4]any{1, "UTC", "[]", "[]"}, [4]any{c.Revision, c.Zone, string(c.Sites), string(c.Brand)})
			}
			if schema >= 6 {
				installed(t, s, p, list[0])
			} else {
				assert.Zero(t, [2]cue.Cues{p.Cues, list[0].Cues}, "what was there before shows everywhere")
			}
			if schema >= 7 {
				keys, err := s.AssetUses(ctx, "kelp-and-kiln", "030a55ecd84042561d8f88d5fd74c50ae4e17de1818f54aec697da79f63b5c20")
				require.NoError(t, err)
				assert.Contains(t, keys, "demo-countdown", "its sealed script shows it")
				_, child, err := s.TokenUser(ctx, strings.Repeat("e", 64))
				require.NoError(t, err)
				require.NotNil(t, child.Parent)
				require.NoError(t, s.RevokeToken(ctx, u.ID, *child.Parent, nil))
				_, _, err = s.TokenUser(ctx, strings.Repeat("e", 64))
				assert.ErrorIs(t, err, problem.ErrNotFound, "it ends with its parent")
			}
			if schema >= 11 {
				engaged(t, s)
			}
			found, err := s.Pockets(ctx, pocket.Query{Search: "KILN", Limit: 9})
			require.NoError(t, err)
			assert.NotEmpty(t, found, "what was there before is found by its words")

			steps, err := os.ReadDir("migrations")
			require.NoError(t, err)
			for n := schema + 1; n <= int64(len(steps)); n++ {
				copied, err := store.Inspect(ctx, filepath.Join(folder, fmt.Sprintf("%s.before-%d", store.File, n)))
				require.NoError(t, err, "a copy before each step")
				assert.Equal(t, store.Copied{Schema: n - 1, Pockets: pockets, Bytes: copied.Bytes}, copied)
			}
		})
	}
}

// engaged looks for what a program with schema 11 left.
func engaged(t *testing.T, s data) {
	run, err := s.DryRun(ctx, "dry-1")
	require.NoError(t, err)
	assert.JSONEq(t, `{"counts": {"same": 1, "changed": 1}, "outcomes": [], "left": 0}`, string(run.Result))
	failed, err := s.Tasks(ctx, task.Query{State: work.Failed, Limit: 9})
	require.NoError(t, err)
	require.Len(t, failed, 1)
	assert.Equal(t, [2]string{"The pocket has changed.", "Load it again."}, [2]string{failed[0].Why, failed[0].Hint})
	require.NoError(t, s.ExpireLeases(ctx, time.Now(), "this program's"))
	again, err := s.ClaimTasks(ctx, "guest-sweep", "", 9, "this program's", time.Now(), time.Now().Add(time.Minute))
	require.NoError(t, err)
	require.Len(t, again, 1, "what was running when the program ended is done again")
	var uses int
	require.NoError(t, s.Read.Get(&uses, "SELECT count(*) FROM uses WHERE key = 'demo-section'"))
	assert.Equal(t, 2, uses)
}

// installed looks for what a program with schema 6 left.
func installed(t *testing.T, s data, p pocket.Pocket, pub delivery.Publication) {
	cues := cue.Cues{Only: []string{"/"}, OwnSites: true}
	assert.Equal(t, [2]cue.Cues{cues, cues}, [2]cue.Cues{p.Cues, pub.Cues})
	sealed, err := s.SealedOf(ctx, p.Key)
	require.NoError(t, err)
	require.Len(t, sealed, 1)
	script, err := s.SealedScript(ctx, sealed[0].Digest, p.Key)
	require.NoError(t, err)
	assert.NotEmpty(t, script)
	h, err := s.SeeHandover(ctx, strings.Repeat("d", 64), time.Now())
	require.NoError(t, err)
	assert.Equal(t, "Above the calendar.", h.Note)
	assert.JSONEq(t, `{"host":"blog","where":"column","delivery":"script"}`, string(h.About))
	own, err := s.OwnHosts(ctx)
	require.NoError(t, err)
	require.Len(t, own, 1)
	assert.Equal(t, 2, own[0].Revision)
	picture, err := s.HostImage(ctx, "harbour", "box.svg")
	require.NoError(t, err)
	assert.Equal(t, "image/svg+xml", picture.Kind)
}

// held looks for what a program with schema 5 left.
func held(t *testing.T, s data) {
	c, err := s.Customer(ctx, "kelp-and-kiln")
	require.NoError(t, err)
	assert.Equal(t, [4]any{3, "Atlantic/Faroe", `["kelp-and-kiln.example"]`, 1}, [4]any{c.Revision, c.Zone, string(c.Sites), c.BrandRevision})
	audit, err := s.Audit(ctx, audit.Query{CustomerID: "kelp-and-kiln", Limit: 9})
	require.NoError(t, err)
	require.Len(t, audit, 1)
	assert.Equal(t, "published pocket demo-countdown as number 2", audit[0].Sentence())
	plans, err := s.Schedules(ctx, "demo-countdown", 0, 9)
	require.NoError(t, err)
	require.Len(t, plans, 1)
	assert.Equal(t, [2]string{"restore", "2099-01-01T09:00[Atlantic/Faroe]"}, [2]string{plans[0].Does, plans[0].Moment})
	cases, err := s.PreviewCases(ctx, "demo-countdown")
	require.NoError(t, err)
	assert.Equal(t, []pocket.Case{{Name: "On a phone", Conditions: pocket.Conditions{Width: 360}}}, cases)
	invited, err := s.Invitation(ctx, strings.Repeat("a", 64))
	require.NoError(t, err)
	assert.Equal(t, [2]any{"Runa", access.CustomerEditor}, [2]any{invited.Name, invited.Role})
	begun, err := s.GuestPocket(ctx, strings.Repeat("b", 64), invited.CreatedAt)
	require.NoError(t, err)
	assert.Equal(t, "begun-tide", begun)
	items, err := s.JobItems(ctx, "job-1", work.Done, 0, 9)
	require.NoError(t, err)
	require.Len(t, items, 1)
	assert.Equal(t, "demo-countdown", items[0].Of)
}

// What was stored under words that have changed since is found under the present ones.
func TestUpgradeRenamesStoredWords(t *testing.T) {
	folder := as(t, 7)
	db, err := sqlx.Open("sqlite", filepath.Join(folder, store.File))
	require.NoError(t, err)
	_, err = db.Exec(`
		INSERT INTO trail (at, since, customer_id, by, client, did, kind, of) VALUES
			('2026-11-26 10:00:00+00:00', '2026-11-26 10:00:00+00:00', 'saltmarsh-ferry', 'runa', 'console', 'end', 'token', '7'),
			('2026-11-26 10:00:00+00:00', '2026-11-26 10:00:00+00:00', 'saltmarsh-ferry', 'runa', 'console', 'end', 'pocket', 'old-tide'),
			('2026-11-26 10:00:00+00:00', '2026-11-26 10:00:00+00:00', 'saltmarsh-ferry', 'runa', 'console', 'copy', 'pocket', 'tide');
		INSERT INTO jobs (id, does, ask, by, client, role, created_at, state, of) VALUES
			('job-2', 'end', CAST('{"does":"end","keys":["demo-countdown"]}' AS BLOB), 'lantern-quay', 'token', 'operator-admin', '2026-11-27 09:00:00+00:00', 'running', 1);
		UPDATE hosts SET profile = CAST('{ "places": [ { "steps": { "new": [ { "say": "Say \"picture\": twice", "picture" : "box.svg" } ] }, "takes": { "forms" : "drop" } } ], "pitfalls": [ { "forms" : [ "frame" ] } ] }' AS BLOB)`)
	require.NoError(t, err)
	require.NoError(t, db.Close())
	s, err := open(folder)
	require.NoError(t, err)
	defer s.Close()
	audit, err := s.Audit(ctx, audit.Query{CustomerID: "saltmarsh-ferry", Limit: 9})
	require.NoError(t, err)
	did := []string{}
	for _, e := range audit {
		did = append(did, e.Sentence())
	}
	assert.Equal(t, []string{"duplicated pocket tide", "deleted pocket old-tide", "revoked token 7"}, did)
	running, err := s.Job(ctx, "job-2")
	require.NoError(t, err)
	assert.Equal(t, bulk.JobDelete, running.Does)
	assert.JSONEq(t, `{"does":"delete","keys":["demo-countdown"]}`, string(running.Ask))
	own, err := s.OwnHosts(ctx)
	require.NoError(t, err)
	assert.JSONEq(t, `{"places":[{"steps":{"new":[{"say":"Say \"picture\": twice","image":"box.svg"}]},"takes":{"forms":"drop"}}],"pitfalls":[{"deliveries":["frame"]}]}`, string(own[0].Profile))
	c, err := s.Customer(ctx, customer.NobodysCustomer)
	require.NoError(t, err)
	assert.Equal(t, "Guests", c.Name)
}

// A change of schema that fails leaves the database as it was, and says so.
func TestFailedUpgradeChangesNothing(t *testing.T) {
	folder := as(t, 1)
	file := filepath.Join(folder, store.File)
	db, err := sqlx.Open("sqlite", file)
	require.NoError(t, err)
	_, err = db.Exec("CREATE TABLE numbered_sessions (x)") // in the way of the step's last part
	require.NoError(t, err)
	require.NoError(t, db.Close())
	_, err = open(folder)
	require.ErrorContains(t, err, "The database is unchanged")
	db, err = sqlx.Open("sqlite", file)
	require.NoError(t, err)
	defer db.Close()
	var columns int
	require.NoError(t, db.Get(&columns, "SELECT count(*) FROM pragma_table_info('releases') WHERE name = 'withdrawn_at'"))
	assert.Zero(t, columns)
}

// What settings refer to was found by a search in their text; now it is rows.
func TestUpgradeFindsReferences(t *testing.T) {
	folder := as(t, 8)
	const bowl = "030a55ecd84042561d8f88d5fd74c50ae4e17de1818f54aec697da79f63b5c20"
	db, err := sqlx.Open("sqlite", filepath.Join(folder, store.File))
	require.NoError(t, err)
	_, err = db.Exec(`
		DELETE FROM sealed_assets;
		UPDATE pockets SET settings = CAST('{"photo": {"asset": "` + bowl + `", "alt": ""}, "price": 1.50}' AS BLOB), brand_draft = ' accent body-font ', brand_published = ' accent ' WHERE key = 'demo-countdown';
		UPDATE customers SET brand = CAST('[{"name": "logo", "type": "image", "value": {"asset": "` + bowl + `"}}]' AS BLOB) WHERE id = 'kelp-and-kiln';
		UPDATE schedules SET publication = CAST('{"settings": {}, "cues": "{\"not\":[\"/shop\"]}", "brand": " accent ", "follow": true}' AS BLOB)`)
	require.NoError(t, err)
	require.NoError(t, db.Close())
	s, err := open(folder)
	require.NoError(t, err)
	defer s.Close()
	keys, err := s.AssetUses(ctx, "kelp-and-kiln", bowl)
	require.NoError(t, err)
	assert.Equal(t, []string{"demo-countdown", "demo-section", "the brand"}, keys)
	var uses []string
	require.NoError(t, s.Read.Select(&uses, "SELECT kind || ' ' || id || ' ' || of FROM uses WHERE key = 'demo-countdown' ORDER BY 1"))
	assert.Equal(t, []string{"asset " + bowl + " draft", "brand accent draft", "brand accent live", "brand body-font draft"}, uses)
	branded, err := s.Branded(ctx, "kelp-and-kiln", []string{"body-font", "other"}, paging.Page{Limit: 9})
	require.NoError(t, err)
	require.Len(t, branded, 1)
	whole, err := s.Pocket(ctx, branded[0].Key)
	require.NoError(t, err)
	assert.Equal(t, 1.5, whole.Settings["price"])
	waiting, err := s.WaitingSchedules(ctx, "demo-countdown")
	require.NoError(t, err)
	require.Len(t, waiting, 1)
	assert.JSONEq(t, `{"settings": {}, "cues": {"not": ["/shop"]}, "follow": true}`, string(waiting[0].Publication))
	// Deleting a schedule deletes what it refers to.
	require.NoError(t, s.FinishSchedule(ctx, waiting[0].ID, time.Now(), work.Cancelled, "", nil))
	var left []string
	require.NoError(t, s.Read.Select(&left, "SELECT of FROM uses WHERE of LIKE 'schedule%'"))
	assert.Empty(t, left)
}
