package manage

import (
	"fmt"
	"strconv"
	"time"

	"github.com/gofiber/fiber/v3"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/install"
	"glasspocket/internal/app/pocket"
	"glasspocket/internal/app/portable"
	"glasspocket/internal/paging"
	"glasspocket/internal/problem"
	"glasspocket/internal/remote"
	"glasspocket/internal/wire"
)

// route is an operation of the API. The same table serves requests and generates the OpenAPI
// document, so they always agree.
type route struct {
	method, path string // path in Fiber's form, below /api/v1
	id, summary  string
	status       int
	open         bool // needs no sign-in
	query        []parameter
	match        string // "", "required": If-Match with the draft's revision
	in, out      any    // zero values of the bodies' types; nil for none
	merge        bool   // the body is a JSON Merge Patch (RFC 7396)
	most         int    // largest body in bytes; 0 for BodyMost
	do           func(*call) (any, error)
}

type parameter struct{ name, about, kind string }

var pages = []parameter{{"cursor", "“next” of the last response", "string"}, {"limit", "page size, 1 to 200 (default 50)", "integer"}}

// call is a request with its response.
type call struct {
	fiber.Ctx
	scope  access.Scope
	status int // if it differs from the route's
}

func (d *door) routes() []route {
	return []route{
		{method: "POST", path: "/session", id: "signIn", summary: "Sign in and get a session cookie", status: 201, most: SettingsMost, open: true, in: wire.SignIn{}, out: wire.Session{}, do: d.signIn},
		{method: "GET", path: "/session", id: "whoAmI", summary: "Read who is signed in", status: 200, out: wire.Session{}, do: d.whoAmI},
		{method: "DELETE", path: "/session", id: "signOut", summary: "Sign out", status: 204, do: d.signOut},
		{method: "PUT", path: "/session/password", id: "changePassword", summary: "Change your password and end your other sessions", status: 204, in: wire.ChangePassword{}, do: d.changePassword},
		{method: "GET", path: "/sessions", id: "listSessions", summary: "List your sessions", status: 200, out: wire.Sessions{}, do: d.listSessions},
		{method: "DELETE", path: "/sessions/:id", id: "revokeSession", summary: "Revoke a session", status: 204, do: d.revokeSession},
		{method: "GET", path: "/users", id: "listUsers", summary: "List the users, by name", status: 200, query: pages, out: wire.Users{}, do: d.listUsers},
		{method: "POST", path: "/users", id: "makeUser", summary: "Make a user; a random password is returned only here", status: 201, in: wire.NewUser{}, out: wire.User{}, do: d.makeUser},
		{method: "PATCH", path: "/users/:name", id: "changeUser", summary: "Change a user's role and end their sessions", status: 200, in: wire.ChangeUser{}, out: wire.User{}, do: d.changeUser},
		{method: "DELETE", path: "/users/:name", id: "deleteUser", summary: "Delete a user", status: 204, do: d.deleteUser},
		{method: "POST", path: "/users/:name/password", id: "resetPassword", summary: "Give a user a new random password, and end their sessions and tokens", status: 200, out: wire.NewPassword{}, do: d.resetPassword},
		{method: "GET", path: "/tokens", id: "listTokens", summary: "List your tokens", status: 200, out: wire.Tokens{}, do: d.listTokens},
		{method: "POST", path: "/tokens", id: "makeToken", summary: "Make a token; its secret is returned only here", status: 201, in: wire.NewToken{}, out: wire.Token{}, do: d.makeToken},
		{method: "DELETE", path: "/tokens/:id", id: "revokeToken", summary: "Revoke a token", status: 204, do: d.revokeToken},
		{method: "GET", path: "/customers", id: "listCustomers", summary: "List the customers that you can access, by ID", status: 200, query: append([]parameter{{"search", "only customers with this text in the name or ID", "string"}}, pages...), out: wire.Customers{}, do: d.listCustomers},
		{method: "POST", path: "/customers", id: "makeCustomer", summary: "Make a customer", status: 201, in: wire.NewCustomer{}, out: wire.Customer{}, do: d.makeCustomer},
		{method: "GET", path: "/customers/:id", id: "readCustomer", summary: "Read a customer", status: 200, out: wire.Customer{}, do: d.readCustomer},
		{method: "PATCH", path: "/customers/:id", id: "changeCustomer", summary: "Change a customer's name, time zone, language or sites", status: 200, match: "required", in: wire.ChangeCustomer{}, out: wire.Customer{}, do: d.changeCustomer},
		{method: "GET", path: "/customers/:id/brand", id: "readBrand", summary: "Read the colours, fonts and images that a customer's settings can refer to", status: 200, out: wire.Brand{}, do: d.brandOut},
		{method: "PUT", path: "/customers/:id/brand", id: "changeBrand", summary: "Change a customer's brand and render the pockets that use it again", status: 200, most: SettingsMost, match: "required", in: wire.NewBrand{}, out: wire.Brand{}, do: d.changeBrand},
		{method: "POST", path: "/customers/:id/brand/dry-runs", id: "dryRunBrand", summary: "List the pockets that a new brand would change, without saving it", status: 200, most: SettingsMost, query: pages, in: wire.NewBrand{}, out: wire.Restyled{}, do: d.dryRunBrand},
		{method: "GET", path: "/customers/:id/places", id: "listPlaces", summary: "List where a customer installed pockets, the last used first", status: 200, out: wire.Places{}, do: d.listPlaces},
		{method: "POST", path: "/customers/:id/places", id: "rememberPlace", summary: "Remember where a customer installed a pocket", status: 201, in: wire.NewPlace{}, out: install.UsedPlace{}, do: d.rememberPlace},
		{method: "GET", path: "/customers/:id/people", id: "listPeople", summary: "List a customer's people and invitations", status: 200, out: wire.People{}, do: d.people},
		{method: "DELETE", path: "/customers/:id/people/:name", id: "revokeAccess", summary: "Revoke a person's access to a customer", status: 204, do: d.revokeAccess},
		{method: "POST", path: "/customers/:id/invitations", id: "invite", summary: "Invite somebody to a customer; the link is returned only here", status: 201, in: wire.NewInvitation{}, out: wire.Invitation{}, do: d.invite},
		{method: "DELETE", path: "/customers/:id/invitations/:number", id: "revokeInvitation", summary: "Revoke an invitation", status: 204, do: d.revokeInvitation},
		{method: "POST", path: "/invitations", id: "readInvitation", summary: "Read an invitation by its secret", status: 200, open: true, in: wire.Secret{}, out: wire.Invited{}, do: d.readInvitation},
		{method: "POST", path: "/invitations/uses", id: "join", summary: "Accept an invitation and get a session cookie", status: 201, most: SettingsMost, open: true, in: wire.Join{}, out: wire.Session{}, do: d.join},
		{method: "GET", path: "/gallery", id: "readGallery", summary: "List the starters of the gallery", status: 200, out: wire.Gallery{}, do: d.gallery},
		{method: "GET", path: "/gallery/:name", id: "readGalleryPreviews", summary: "Render a widget's starters with sample content", status: 200, query: []parameter{{"customer", "render with this customer's brand", "string"}, {"language", "render in this language", "string"}}, out: wire.GalleryPreviews{}, do: d.galleryPreviews},
		{method: "POST", path: "/guest-pockets", id: "startGuestPocket", summary: "Start a pocket without an account, if the gallery is open", status: 201, most: SettingsMost, open: true, in: wire.NewGuestPocket{}, out: wire.GuestPocket{}, do: d.startGuestPocket},
		{method: "POST", path: "/guest-pockets/visits", id: "resumeGuestPocket", summary: "Resume a guest pocket on another device, by its secret", status: 200, open: true, in: wire.Secret{}, out: wire.GuestPocket{}, do: d.resumeGuestPocket},
		{method: "POST", path: "/guest-pockets/sources/look", id: "trySource", summary: "Find out what an address, a profile, a business or a file offers, without an account", status: 200, most: SettingsMost, in: wire.SourceLook{}, out: wire.SourceFound{}, do: d.trySource},
		{method: "POST", path: "/guest-pockets/accounts", id: "signUp", summary: "Make an account for a guest and get a session cookie", status: 201, most: SettingsMost, in: wire.SignUp{}, out: wire.Session{}, do: d.signUp},
		{method: "POST", path: "/guest-pockets/claims", id: "claim", summary: "Claim a guest pocket by its secret", status: 200, in: wire.Claim{}, out: wire.Pocket{}, do: d.claim},
		{method: "GET", path: "/tasks", id: "listTasks", summary: "List background tasks, newest first, with the kinds and their numbers", status: 200, query: append([]parameter{{"state", "waiting, running, failed, done or cancelled", "string"}, {"kind", "only tasks of this kind", "string"}}, pages...), out: wire.Tasks{}, do: d.listTasks},
		{method: "POST", path: "/tasks/:id/runs", id: "runTask", summary: "Run a waiting task now, or a failed one again", status: 200, out: wire.Task{}, do: d.runTask},
		{method: "DELETE", path: "/tasks/:id", id: "cancelTask", summary: "Cancel a task that waits or runs", status: 204, do: d.cancelTask},
		{method: "GET", path: "/jobs", id: "listJobs", summary: "List jobs, newest first", status: 200, out: wire.Jobs{}, do: d.listJobs},
		{method: "POST", path: "/jobs", id: "startJob", summary: "Start a job that publishes, unpublishes, moves, duplicates, deletes or imports many pockets", status: 201, in: wire.NewJob{}, out: wire.Job{}, do: d.startJob},
		{method: "GET", path: "/jobs/:id", id: "readJob", summary: "Read a job's progress and failures", status: 200, out: wire.Job{}, do: d.readJob},
		{method: "DELETE", path: "/jobs/:id", id: "cancelJob", summary: "Cancel a job; its results so far are kept", status: 204, do: d.cancelJob},
		{method: "GET", path: "/pockets/:key/file", id: "exportPocket", summary: "Export a pocket as one JSON file", status: 200, query: []parameter{{"assets", "“whole” includes the content of the assets", "string"}}, out: portable.PocketFile{}, do: d.exportPocket},
		{method: "POST", path: "/pockets/:key/duplicates", id: "duplicatePocket", summary: "Duplicate a pocket", status: 201, in: wire.Duplicate{}, out: wire.Pocket{}, do: d.duplicatePocket},
		{method: "POST", path: "/pockets/:key/moves", id: "movePocket", summary: "Publish the live version again with another release", status: 201, in: wire.Move{}, out: wire.Publication{}, do: d.movePocket},
		{method: "DELETE", path: "/pockets/:key", id: "deletePocket", summary: "Delete a pocket that is not published, with its history", status: 204, do: d.deletePocket},
		{method: "PUT", path: "/customers/:id/withheld", id: "withholdCustomer", summary: "Stop serving a customer's pockets immediately", status: 200, in: wire.Withhold{}, out: wire.Customer{}, do: d.withholdCustomer},
		{method: "DELETE", path: "/customers/:id/withheld", id: "bringBackCustomer", summary: "Serve a withheld customer's pockets again", status: 200, out: wire.Customer{}, do: d.bringBackCustomer},
		{method: "GET", path: "/customers/:id/assets", id: "listAssets", summary: "List a customer's images, sounds and fonts, by digest", status: 200, query: pages, out: wire.Assets{}, do: d.listAssets},
		{method: "POST", path: "/customers/:id/assets", id: "uploadAsset", summary: "Upload an image, sound or font; equal content becomes one asset", status: 201, in: wire.NewAsset{}, out: wire.Asset{}, do: d.uploadAsset},
		{method: "GET", path: "/customers/:id/assets/:digest", id: "readAsset", summary: "Read an asset and the pockets that use it", status: 200, out: wire.Asset{}, do: d.readAsset},
		{method: "DELETE", path: "/customers/:id/assets/:digest", id: "deleteAsset", summary: "Delete an asset that no pocket uses", status: 204, do: d.deleteAsset},
		{method: "POST", path: "/customers/:id/sources/look", id: "lookForSource", summary: "Read an address, a @name@host or a file, and list what could be connected", status: 200, in: wire.SourceLook{}, out: wire.SourceFound{}, do: d.lookForSource},
		{method: "GET", path: "/customers/:id/sources", id: "listSources", summary: "List a customer's sources, by name", status: 200, query: pages, out: wire.Sources{}, do: d.listSources},
		{method: "POST", path: "/customers/:id/sources", id: "connectSource", summary: "Connect a source and fetch it for the first time", status: 201, in: wire.NewSource{}, out: wire.Source{}, do: d.connectSource},
		{method: "GET", path: "/failing-sources", id: "listFailingSources", summary: "List the sources that have failed for a day, or have ended", status: 200, out: wire.FailingSources{}, do: d.listFailing},
		{method: "GET", path: "/sources/:id", id: "readSource", summary: "Read a source, its state, and the pockets that use it", status: 200, out: wire.Source{}, do: d.readSource},
		{method: "PATCH", path: "/sources/:id", id: "changeSource", summary: "Change a source; it is read again first, so a mistake changes nothing", status: 200, match: "required", in: wire.ChangeSource{}, out: wire.Source{}, do: d.changeSource},
		{method: "DELETE", path: "/sources/:id", id: "deleteSource", summary: "Delete a source that no pocket uses", status: 204, do: d.deleteSource},
		{method: "POST", path: "/sources/:id/look", id: "lookAtSource", summary: "Read a source with other options, without saving anything", status: 200, most: SettingsMost, in: wire.SourceLook{}, out: wire.SourceFound{}, do: d.lookAtSource},
		{method: "POST", path: "/sources/:id/refresh", id: "refreshSource", summary: "Fetch a source now, and report the changes", status: 200, out: wire.SourceRefreshed{}, do: d.refreshSource},
		{method: "GET", path: "/sources/:id/items", id: "listItems", summary: "List the items of a source", status: 200, query: append([]parameter{{"search", "words that the items must have", "string"}}, pages...), out: wire.SourceItems{}, do: d.listItems},
		{method: "GET", path: "/sources/:id/fetches", id: "listFetches", summary: "List what came of the fetches of a source, the newest first", status: 200, out: wire.SourceFetches{}, do: d.listFetches},
		{method: "POST", path: "/pockets/:key/lists/:list/selection", id: "selectItems", summary: "Show which items a list would show, and why it drops the others", status: 200, most: SettingsMost, in: wire.NewSelection{}, out: wire.Selection{}, do: d.selectItems},
		{method: "POST", path: "/checks", id: "checkWidget", summary: "Check a widget folder without releasing it", status: 200, in: wire.Folder{}, out: wire.Checked{}, do: d.check},
		{method: "GET", path: "/widgets", id: "listWidgets", summary: "List the widgets with their newest releases, by name", status: 200, out: wire.Widgets{}, do: d.listWidgets},
		{method: "GET", path: "/widgets/:name", id: "readWidget", summary: "Read a widget's newest release, or the release that a pocket uses", status: 200, query: []parameter{{"pocket", "the key of the pocket", "string"}}, out: wire.Widget{}, do: d.readWidget},
		{method: "POST", path: "/widgets/:name/releases", id: "releaseWidget", summary: "Release a widget folder or draft after a dry run over every pocket that follows", status: 201, in: wire.NewRelease{}, out: wire.Release{}, do: d.release},
		{method: "GET", path: "/widgets/:name/releases", id: "listReleases", summary: "List a widget's releases, newest first", status: 200, query: pages, out: wire.Releases{}, do: d.listReleases},
		{method: "GET", path: "/widgets/:name/releases/:number/files", id: "readReleaseFiles", summary: "Read the files of a release, by its number or as “newest”", status: 200, out: wire.ReleaseFolder{}, do: d.releaseFiles},
		{method: "PATCH", path: "/widgets/:name/releases/:number", id: "changeRelease", summary: "Withdraw a release, put it back into use, or roll it out further", status: 200, in: wire.ChangeRelease{}, out: wire.Release{}, do: d.changeRelease},
		{method: "GET", path: "/widgets/:name/releases/:number/uses", id: "readReleaseUses", summary: "List the pockets that are affected if a release is withdrawn", status: 200, out: wire.ReleaseUses{}, do: d.releaseUses},
		{method: "GET", path: "/widgets/:name/releases/:number/differences", id: "readReleaseDifferences", summary: "Compare a release with the previous one", status: 200, out: wire.Differences{}, do: d.releaseDifferences},
		{method: "POST", path: "/widgets/:name/releases/:number/previews", id: "previewRelease", summary: "Render a release in preview cases", status: 200, in: wire.PreviewWidget{}, out: wire.PreviewedWidget{}, do: d.previewRelease},
		{method: "POST", path: "/widgets/:name/dry-runs", id: "startDryRun", summary: "Start a dry run: render every pocket that follows with unreleased files", status: 201, in: wire.NewDryRun{}, out: wire.DryRun{}, do: d.startDryRun},
		{method: "GET", path: "/widgets/:name/dry-runs/:id", id: "readDryRun", summary: "Read a dry run's progress and the pockets that change or break", status: 200, query: pages, out: wire.DryRun{}, do: d.readDryRun},
		{method: "DELETE", path: "/widgets/:name/dry-runs/:id", id: "cancelDryRun", summary: "Cancel a dry run", status: 204, do: d.cancelDryRun},
		{method: "GET", path: "/widgets/:name/dry-runs/:id/pockets/:key", id: "readBeforeAndAfter", summary: "Render a pocket of a dry run before and after", status: 200, out: wire.BeforeAndAfter{}, do: d.beforeAndAfter},
		{method: "GET", path: "/widgets/:name/draft/differences", id: "readDraftDifferences", summary: "Compare a draft with the widget's newest release", status: 200, out: wire.Differences{}, do: d.draftDifferences},
		{method: "GET", path: "/widgets/:name/draft/origin", id: "readOrigin", summary: "Read the changes in the widget that a draft was copied from, and the result of a merge", status: 200, out: wire.Origin{}, do: d.origin},
		{method: "POST", path: "/pages", id: "importPage", summary: "Convert an HTML page to a widget folder, without saving it", status: 200, in: wire.Page{}, out: wire.ImportedPage{}, do: d.importPage},
		{method: "GET", path: "/drafts", id: "listWidgetDrafts", summary: "List the drafts on the worktop, by name", status: 200, query: pages, out: wire.WidgetDrafts{}, do: d.listDrafts},
		{method: "POST", path: "/widgets/:name/draft", id: "startWidgetDraft", summary: "Start a draft on the worktop from files or a release", status: 201, in: wire.NewWidgetDraft{}, out: wire.WidgetDraft{}, do: d.startDraft},
		{method: "GET", path: "/widgets/:name/draft", id: "readWidgetDraft", summary: "Read the files of a draft", status: 200, out: wire.WidgetDraft{}, do: d.readWidgetDraft},
		{method: "PATCH", path: "/widgets/:name/draft", id: "changeWidgetDraft", summary: "Change files of a draft; each names the digest that it replaces", status: 200, in: wire.DraftFiles{}, out: wire.WidgetDraft{}, do: d.saveWidgetDraft},
		{method: "GET", path: "/widgets/:name/draft/zip", id: "packWidgetDraft", summary: "Read the files of a draft as a ZIP file in base64", status: 200, out: wire.Packed{}, do: d.packWidgetDraft},
		{method: "DELETE", path: "/widgets/:name/draft", id: "deleteWidgetDraft", summary: "Delete a draft from the worktop; its releases stay", status: 204, do: d.deleteWidgetDraft},
		{method: "POST", path: "/widgets/:name/draft/checks", id: "checkWidgetDraft", summary: "Check a draft with unsaved changes", status: 200, in: wire.DraftFiles{}, out: wire.Checked{}, do: d.checkWidgetDraft},
		{method: "POST", path: "/widgets/:name/draft/previews", id: "previewWidgetDraft", summary: "Render a draft with unsaved changes in preview cases", status: 200, in: wire.PreviewWidget{}, out: wire.PreviewedWidget{}, do: d.previewWidgetDraft},
		{method: "GET", path: "/pockets", id: "listPockets", summary: "List the pockets that you can access", status: 200, query: append([]parameter{
			{"customer", "only pockets of this customer", "string"}, {"search", "only pockets with this text in the title or key", "string"}, {"widget", "only pockets of this widget", "string"},
			{"state", "unpublished, published, changed or withheld", "string"}, {"behind", "true: only pockets that keep an older release than the newest", "boolean"},
			{"order", "key, title or changed; with a leading - in reverse (default key)", "string"}}, pages...), out: wire.Pockets{}, do: d.listPockets},
		{method: "POST", path: "/pockets", id: "makePocket", summary: "Make a pocket", status: 201, most: SettingsMost, in: wire.NewPocket{}, out: wire.Pocket{}, do: d.makePocket},
		{method: "GET", path: "/pockets/:key", id: "readPocket", summary: "Read a pocket", status: 200, out: wire.Pocket{}, do: d.readPocket},
		{method: "PATCH", path: "/pockets/:key", id: "changePocket", summary: "Change a pocket's title, language, starter or cues in its draft", status: 200, match: "required", in: wire.ChangePocket{}, out: wire.Draft{}, do: d.changePocket},
		{method: "GET", path: "/pockets/:key/draft", id: "readDraft", summary: "Read a pocket's draft", status: 200, out: wire.Draft{}, do: d.readDraft},
		{method: "PATCH", path: "/pockets/:key/draft", id: "changeDraft", summary: "Change some settings; null deletes a value", status: 200, most: SettingsMost, match: "required", in: map[string]any{}, merge: true, out: wire.Draft{}, do: d.changeDraft},
		{method: "PUT", path: "/pockets/:key/draft", id: "replaceDraft", summary: "Replace all settings", status: 200, most: SettingsMost, match: "required", in: map[string]any{}, out: wire.Draft{}, do: d.replaceDraft},
		{method: "POST", path: "/pockets/:key/preview", id: "previewPocket", summary: "Render settings without saving them", status: 200, most: SettingsMost, in: wire.Preview{}, out: wire.Previewed{}, do: d.preview},
		{method: "GET", path: "/pockets/:key/cases", id: "listPreviewCases", summary: "List a pocket's preview cases", status: 200, out: wire.PreviewCases{}, do: d.listCases},
		{method: "PUT", path: "/pockets/:key/cases/:name", id: "savePreviewCase", summary: "Save a preview case and replace one with the same name", status: 200, most: SettingsMost, in: pocket.Conditions{}, out: wire.PreviewCase{}, do: d.saveCase},
		{method: "DELETE", path: "/pockets/:key/cases/:name", id: "deletePreviewCase", summary: "Delete a preview case", status: 204, do: d.deleteCase},
		{method: "GET", path: "/pockets/:key/starters/:starter", id: "readStarterDifferences", summary: "Read what switching to another starter would change and keep", status: 200, query: []parameter{{"replace", "your own settings to replace too, separated by commas", "string"}}, out: wire.StarterDifferences{}, do: d.starterDifferences},
		{method: "PUT", path: "/pockets/:key/starter", id: "changeStarter", summary: "Switch to another starter and keep your own values", status: 200, match: "required", in: wire.ChangeStarter{}, out: wire.Draft{}, do: d.changeStarter},
		{method: "GET", path: "/pockets/:key/differences", id: "readPocketDifferences", summary: "Compare the draft with the live version, or two publications", status: 200, query: []parameter{{"from", "number of a publication (default: the live version)", "integer"}, {"to", "number of a publication (default: the draft)", "integer"}}, out: wire.PocketDifferences{}, do: d.pocketDifferences},
		{method: "DELETE", path: "/pockets/:key/publication", id: "unpublish", summary: "Take a pocket offline", status: 200, query: []parameter{{"after", "only if this is still the newest publication", "integer"}}, out: wire.Publication{}, do: d.unpublish},
		{method: "GET", path: "/pockets/:key/schedules", id: "listSchedules", summary: "List a pocket's schedules, newest first", status: 200, query: pages, out: wire.Schedules{}, do: d.listSchedules},
		{method: "POST", path: "/pockets/:key/schedules", id: "schedule", summary: "Schedule a pocket to be published, restored or unpublished", status: 201, in: wire.NewSchedule{}, out: wire.Schedules{}, do: d.schedule},
		{method: "DELETE", path: "/pockets/:key/schedules/:id", id: "cancelSchedule", summary: "Cancel a schedule", status: 204, do: d.cancelSchedule},
		{method: "GET", path: "/audit", id: "readAudit", summary: "Read who changed what, newest first", status: 200, query: append([]parameter{{"customer", "only changes for this customer", "string"}, {"kind", "kind of object, together with “of”: pocket, customer, widget, user …", "string"}, {"of", "the object's key, name or ID", "string"}}, pages...), out: wire.Audit{}, do: d.audit},
		{method: "GET", path: "/pockets/:key/publications", id: "listPublications", summary: "List a pocket's publications, newest first", status: 200, query: pages, out: wire.Publications{}, do: d.listPublications},
		{method: "POST", path: "/pockets/:key/publications", id: "publish", summary: "Publish the draft", status: 201, in: wire.Publish{}, out: wire.Publication{}, do: d.publish},
		{method: "POST", path: "/pockets/:key/restorations", id: "restore", summary: "Publish an older publication again", status: 201, in: wire.Restore{}, out: wire.Publication{}, do: d.restore},
		{method: "PUT", path: "/pockets/:key/withheld", id: "withholdPocket", summary: "Stop serving a pocket immediately", status: 200, in: wire.Withhold{}, out: wire.Pocket{}, do: d.withholdPocket},
		{method: "DELETE", path: "/pockets/:key/withheld", id: "bringBackPocket", summary: "Serve a withheld pocket again", status: 200, out: wire.Pocket{}, do: d.bringBackPocket},
		{method: "GET", path: "/hosts", id: "listHosts", summary: "List the host profiles", status: 200, out: wire.Hosts{}, do: d.listHosts},
		{method: "GET", path: "/hosts/:name", id: "readHost", summary: "Read a host profile", status: 200, out: wire.HostProfile{}, do: d.readHost},
		{method: "PUT", path: "/hosts/:name", id: "saveHost", summary: "Save your own host profile, or your version of one that ships", status: 200, in: wire.SaveHost{}, out: wire.HostProfile{}, do: d.saveHost},
		{method: "DELETE", path: "/hosts/:name", id: "deleteHost", summary: "Delete your own host profile or version", status: 204, do: d.deleteHost},
		{method: "PUT", path: "/hosts/:name/images/:file", id: "saveHostImage", summary: "Save an image for the steps of your own profile", status: 204, in: wire.NewImage{}, do: d.saveHostImage},
		{method: "DELETE", path: "/hosts/:name/images/:file", id: "deleteHostImage", summary: "Delete an image of your own profile", status: 204, do: d.deleteHostImage},
		{method: "POST", path: "/pockets/:key/guides", id: "guide", summary: "Read the best delivery for a host, the alternatives, and the steps", status: 200, in: install.Install{}, out: wire.Guided{}, do: d.guide},
		{method: "POST", path: "/pockets/:key/tries", id: "tryOn", summary: "Try a pocket on a page before it is installed there", status: 200, in: wire.TryOn{}, out: wire.TriedOn{}, do: d.tryOn},
		{method: "POST", path: "/pockets/:key/sealed", id: "seal", summary: "Seal the live version as a script that never changes", status: 201, out: wire.Sealed{}, do: d.seal},
		{method: "GET", path: "/pockets/:key/handovers", id: "listHandovers", summary: "List a pocket's handovers", status: 200, out: wire.Handovers{}, do: d.listHandovers},
		{method: "POST", path: "/pockets/:key/handovers", id: "handOver", summary: "Make a handover: a page with the steps for somebody without an account; the link is returned only here", status: 201, in: wire.NewHandover{}, out: wire.Handover{}, do: d.handOver},
		{method: "DELETE", path: "/pockets/:key/handovers/:id", id: "revokeHandover", summary: "Revoke a handover", status: 204, do: d.revokeHandover},
		{method: "POST", path: "/handovers", id: "readHandover", summary: "Read a handover by the secret of its link", status: 200, open: true, in: wire.Secret{}, out: wire.HandedOver{}, do: d.handedOver},
		{method: "GET", path: "/pockets/:key/snippets", id: "listSnippets", summary: "List the snippets", status: 200, query: []parameter{{"delivery", "only this delivery", "string"}}, out: wire.Snippets{}, do: d.snippets},
	}
}

func (d *door) handler(r route) fiber.Handler {
	count := d.Meter.Route("manage", r.method+" "+r.path)
	return func(c fiber.Ctx) error {
		c.Locals(measured, count)
		k := &call{Ctx: c}
		if most := r.most; most > 0 && len(c.BodyRaw()) > most {
			return tooLarge(most)
		}
		if !r.open {
			var err error
			if k.scope, err = d.scope(c); err != nil {
				return err
			}
		}
		if k.scope.Role == access.Guest {
			if !d.guests.Allow(remote.Network(d.Proxies.Address(c))) {
				return &problem.Error{Kind: problem.TooMany, Code: "asked-too-often", What: "Your network sends too many requests without an account.", Hint: "Try again in a second, or sign up.", Wait: time.Second}
			}
			defer d.guests.Turn()()
		}
		out, err := r.do(k)
		if err != nil {
			return err
		}
		c.Set("Cache-Control", "no-store")
		status := r.status
		if k.status != 0 {
			status = k.status
		}
		if out == nil {
			return c.SendStatus(status)
		}
		return c.Status(status).JSON(out)
	}
}

func tooLarge(most int) error {
	return &httpError{fiber.StatusRequestEntityTooLarge, "body-too-large", "The request's body is too large.", fmt.Sprintf("The limit is %d MiB.", most>>20)}
}

type httpError struct {
	status           int
	code, what, hint string
}

func (e *httpError) Error() string { return e.what }

// downwards reads cursor and limit of a list that starts with the newest: before is a number, 0 for
// all.
func (k *call) downwards() (before, limit int, err error) {
	p, err := k.page()
	if err != nil || p.After == "" {
		return 0, p.Limit, err
	}
	if before, err = strconv.Atoi(p.After); err != nil || before < 1 {
		return 0, 0, &problem.Error{Kind: problem.Invalid, Code: "cursor-faulty", Field: "cursor", What: "This cursor does not belong to this list.", Hint: "Send the value of “next” from the last response."}
	}
	return before, p.Limit, nil
}

// pageUsual is the default length of a page of a list.
const pageUsual = 50

// page reads cursor and limit.
func (k *call) page() (paging.Page, error) {
	p := paging.Page{After: k.Query("cursor"), Limit: pageUsual}
	if l := k.Query("limit"); l != "" {
		n, err := strconv.Atoi(l)
		if err != nil || n < 1 || n > 200 {
			return p, &problem.Error{Kind: problem.Invalid, Code: "limit-faulty", Field: "limit", What: fmt.Sprintf("%q is not a limit from 1 to 200.", l), Hint: "Leave it out to get 50."}
		}
		p.Limit = n
	}
	p.Limit++ // one more shows whether there is a next page
	return p, nil
}

// cut returns at most limit-1 items of list, and the cursor if there are more.
func cut[T any](list []T, limit int, cursor func(T) string) ([]T, string) {
	if len(list) < limit {
		return list, ""
	}
	list = list[:limit-1]
	return list, cursor(list[len(list)-1])
}
