package manage

import (
	"fmt"
	"strconv"
	"time"

	"github.com/gofiber/fiber/v3"

	"glasspocket/internal/app"
	"glasspocket/internal/remote"
	"glasspocket/internal/wire"
)

// route is one operation of the API. The OpenAPI document is made from the same table
// that requests go through, so the two cannot disagree.
type route struct {
	method, path string // path in Fiber's form, below /api/v1
	id, summary  string
	status       int
	open         bool // needs no sign-in
	query        []parameter
	match        string // "", "required": If-Match with the draft's revision
	in, out      any    // zero values of the body's types; nil for none
	merge        bool   // the body is a JSON Merge Patch (RFC 7396)
	most         int    // bytes of the body; BodyMost when 0
	do           func(*call) (any, error)
}

type parameter struct{ name, about, kind string }

var paging = []parameter{{"cursor", "where to go on, from the last answer's next", "string"}, {"limit", "how many, 1 to 200; 50 when left out", "integer"}}

// call is one request being answered.
type call struct {
	fiber.Ctx
	scope  app.Scope
	status int // when other than the route's
}

func (d *door) routes() []route {
	return []route{
		{method: "POST", path: "/session", id: "signIn", summary: "Sign in; the session's cookie comes with the answer", status: 201, most: SettingsMost, open: true, in: wire.SignIn{}, out: wire.Session{}, do: d.signIn},
		{method: "GET", path: "/session", id: "whoAmI", summary: "Who is signed in", status: 200, out: wire.Session{}, do: d.whoAmI},
		{method: "DELETE", path: "/session", id: "signOut", summary: "End the session", status: 204, do: d.signOut},
		{method: "PUT", path: "/session/password", id: "changePassword", summary: "Change one's own password; other sessions end", status: 204, in: wire.ChangePassword{}, do: d.changePassword},
		{method: "GET", path: "/sessions", id: "listSessions", summary: "The asker's sessions", status: 200, out: wire.Sessions{}, do: d.listSessions},
		{method: "DELETE", path: "/sessions/:id", id: "revokeSession", summary: "End a session at once", status: 204, do: d.revokeSession},
		{method: "GET", path: "/users", id: "listUsers", summary: "Everybody who can sign in, by name", status: 200, query: paging, out: wire.Users{}, do: d.listUsers},
		{method: "POST", path: "/users", id: "makeUser", summary: "Make a user; a random password is told once", status: 201, in: wire.NewUser{}, out: wire.User{}, do: d.makeUser},
		{method: "PATCH", path: "/users/:name", id: "changeUser", summary: "Give a user another role; their sessions end", status: 200, in: wire.ChangeUser{}, out: wire.User{}, do: d.changeUser},
		{method: "DELETE", path: "/users/:name", id: "deleteUser", summary: "Take a user's access away at once", status: 204, do: d.deleteUser},
		{method: "POST", path: "/users/:name/password", id: "resetPassword", summary: "Give a user a new random password; their sessions and tokens end", status: 200, out: wire.NewPassword{}, do: d.resetPassword},
		{method: "GET", path: "/tokens", id: "listTokens", summary: "The asker's tokens", status: 200, out: wire.Tokens{}, do: d.listTokens},
		{method: "POST", path: "/tokens", id: "makeToken", summary: "Make a token; its secret is told once", status: 201, in: wire.NewToken{}, out: wire.Token{}, do: d.makeToken},
		{method: "DELETE", path: "/tokens/:id", id: "revokeToken", summary: "End a token at once", status: 204, do: d.revokeToken},
		{method: "GET", path: "/customers", id: "listCustomers", summary: "Customers in reach, by id", status: 200, query: append([]parameter{{"search", "only those with this in name or id", "string"}}, paging...), out: wire.Customers{}, do: d.listCustomers},
		{method: "POST", path: "/customers", id: "makeCustomer", summary: "Make a customer", status: 201, in: wire.NewCustomer{}, out: wire.Customer{}, do: d.makeCustomer},
		{method: "GET", path: "/customers/:id", id: "readCustomer", summary: "One customer", status: 200, out: wire.Customer{}, do: d.readCustomer},
		{method: "PATCH", path: "/customers/:id", id: "changeCustomer", summary: "Change a customer's name, time zone, language or sites", status: 200, match: "required", in: wire.ChangeCustomer{}, out: wire.Customer{}, do: d.changeCustomer},
		{method: "GET", path: "/customers/:id/brand", id: "readBrand", summary: "Colours, fonts and pictures that a customer's settings can refer to", status: 200, out: wire.Brand{}, do: d.brandOut},
		{method: "PUT", path: "/customers/:id/brand", id: "changeBrand", summary: "Change a customer's brand; pockets that refer to it are rendered again", status: 200, most: SettingsMost, match: "required", in: wire.NewBrand{}, out: wire.Brand{}, do: d.changeBrand},
		{method: "POST", path: "/customers/:id/brand/dry-runs", id: "dryRunBrand", summary: "Which pockets another brand would change; nothing is saved", status: 200, most: SettingsMost, query: paging, in: wire.NewBrand{}, out: wire.Restyled{}, do: d.dryRunBrand},
		{method: "GET", path: "/customers/:id/people", id: "listPeople", summary: "Who belongs to a customer, and who is invited", status: 200, out: wire.People{}, do: d.people},
		{method: "DELETE", path: "/customers/:id/people/:name", id: "revokeAccess", summary: "Take somebody's access to a customer away at once", status: 204, do: d.revokeAccess},
		{method: "POST", path: "/customers/:id/invitations", id: "invite", summary: "Invite somebody to a customer; the link is told once", status: 201, in: wire.NewInvitation{}, out: wire.Invitation{}, do: d.invite},
		{method: "DELETE", path: "/customers/:id/invitations/:number", id: "revokeInvitation", summary: "Take an invitation back", status: 204, do: d.revokeInvitation},
		{method: "POST", path: "/invitations", id: "readInvitation", summary: "What an invitation is to, by its secret", status: 200, open: true, in: wire.Secret{}, out: wire.Invited{}, do: d.readInvitation},
		{method: "POST", path: "/invitations/uses", id: "join", summary: "Take an invitation up; the session's cookie comes with the answer", status: 201, most: SettingsMost, open: true, in: wire.Join{}, out: wire.Session{}, do: d.join},
		{method: "GET", path: "/gallery", id: "readGallery", summary: "What there is to begin with", status: 200, out: wire.Gallery{}, do: d.gallery},
		{method: "GET", path: "/gallery/:name", id: "readGalleryPreviews", summary: "The starters of a widget with sample content", status: 200, query: []parameter{{"customer", "with this customer's brand", "string"}, {"language", "in this language", "string"}}, out: wire.GalleryPreviews{}, do: d.galleryPreviews},
		{method: "POST", path: "/guest-pockets", id: "startGuestPocket", summary: "Begin a pocket without an account, where the operator's gallery is open", status: 201, most: SettingsMost, open: true, in: wire.NewGuestPocket{}, out: wire.GuestPocket{}, do: d.startGuestPocket},
		{method: "POST", path: "/guest-pockets/visits", id: "resumeGuestPocket", summary: "Go on with such a pocket on another device, by its secret", status: 200, open: true, in: wire.Secret{}, out: wire.GuestPocket{}, do: d.resumeGuestPocket},
		{method: "POST", path: "/guest-pockets/accounts", id: "signUp", summary: "Make an account for who has begun a pocket; the session's cookie comes with the answer", status: 201, most: SettingsMost, in: wire.SignUp{}, out: wire.Session{}, do: d.signUp},
		{method: "POST", path: "/guest-pockets/claims", id: "claim", summary: "Take such a pocket over, by its secret", status: 200, in: wire.Claim{}, out: wire.Pocket{}, do: d.claim},
		{method: "GET", path: "/jobs", id: "listJobs", summary: "Long work, the newest first", status: 200, out: wire.Jobs{}, do: d.listJobs},
		{method: "POST", path: "/jobs", id: "startJob", summary: "Begin to publish, unpublish, move, copy, end or import many pockets", status: 201, in: wire.NewJob{}, out: wire.Job{}, do: d.startJob},
		{method: "GET", path: "/jobs/:id", id: "readJob", summary: "How far long work has come, and what failed", status: 200, out: wire.Job{}, do: d.readJob},
		{method: "DELETE", path: "/jobs/:id", id: "cancelJob", summary: "End long work before it is through; what is done stays done", status: 204, do: d.cancelJob},
		{method: "GET", path: "/pockets/:key/file", id: "exportPocket", summary: "A pocket as one JSON file, with its assets listed", status: 200, query: []parameter{{"assets", "whole: with their bytes", "string"}}, out: app.PocketFile{}, do: d.exportPocket},
		{method: "POST", path: "/pockets/:key/duplicates", id: "duplicatePocket", summary: "Make a pocket with the same draft", status: 201, in: wire.Duplicate{}, out: wire.Pocket{}, do: d.duplicatePocket},
		{method: "POST", path: "/pockets/:key/moves", id: "movePocket", summary: "Publish what visitors get once more, with another release", status: 201, in: wire.Move{}, out: wire.Publication{}, do: d.movePocket},
		{method: "DELETE", path: "/pockets/:key", id: "deletePocket", summary: "Take a pocket away that is not published, with its history", status: 204, do: d.deletePocket},
		{method: "PUT", path: "/customers/:id/withheld", id: "withholdCustomer", summary: "Stop serving a customer's pockets at once", status: 200, in: wire.Withhold{}, out: wire.Customer{}, do: d.withholdCustomer},
		{method: "DELETE", path: "/customers/:id/withheld", id: "bringBackCustomer", summary: "Serve a withheld customer's pockets again", status: 200, out: wire.Customer{}, do: d.bringBackCustomer},
		{method: "GET", path: "/customers/:id/assets", id: "listAssets", summary: "A customer's pictures, sounds and fonts, by digest", status: 200, query: paging, out: wire.Assets{}, do: d.listAssets},
		{method: "POST", path: "/customers/:id/assets", id: "uploadAsset", summary: "Upload a picture, sound or font; the same content again is the same asset", status: 201, in: wire.NewAsset{}, out: wire.Asset{}, do: d.uploadAsset},
		{method: "GET", path: "/customers/:id/assets/:digest", id: "readAsset", summary: "One asset, and the pockets that show it", status: 200, out: wire.Asset{}, do: d.readAsset},
		{method: "DELETE", path: "/customers/:id/assets/:digest", id: "deleteAsset", summary: "Take an asset away that no pocket shows", status: 204, do: d.deleteAsset},
		{method: "POST", path: "/checks", id: "checkWidget", summary: "Check a widget folder without releasing it", status: 200, in: wire.Folder{}, out: wire.Checked{}, do: d.check},
		{method: "GET", path: "/widgets", id: "listWidgets", summary: "Widgets by name, each by its newest release", status: 200, out: wire.Widgets{}, do: d.listWidgets},
		{method: "GET", path: "/widgets/:name", id: "readWidget", summary: "One widget by its newest release, or by the one that a pocket has", status: 200, query: []parameter{{"pocket", "the key of the pocket", "string"}}, out: wire.Widget{}, do: d.readWidget},
		{method: "POST", path: "/widgets/:name/releases", id: "releaseWidget", summary: "Release a widget folder, or its draft, once every pocket that follows was rendered with it", status: 201, in: wire.NewRelease{}, out: wire.Release{}, do: d.release},
		{method: "GET", path: "/widgets/:name/releases", id: "listReleases", summary: "A widget's releases, the newest first", status: 200, query: paging, out: wire.Releases{}, do: d.listReleases},
		{method: "GET", path: "/widgets/:name/releases/:number/files", id: "readReleaseFiles", summary: "The files of a release, by its number or as the newest", status: 200, out: wire.ReleaseFolder{}, do: d.releaseFiles},
		{method: "PATCH", path: "/widgets/:name/releases/:number", id: "changeRelease", summary: "Use a release for nothing new, or bring it back; or roll it out further", status: 200, in: wire.ChangeRelease{}, out: wire.Release{}, do: d.changeRelease},
		{method: "GET", path: "/widgets/:name/releases/:number/uses", id: "readReleaseUses", summary: "The pockets that withdrawing a release affects", status: 200, out: wire.ReleaseUses{}, do: d.releaseUses},
		{method: "GET", path: "/widgets/:name/releases/:number/differences", id: "readReleaseDifferences", summary: "What a release has otherwise than the one before it", status: 200, out: wire.Differences{}, do: d.releaseDifferences},
		{method: "POST", path: "/widgets/:name/releases/:number/previews", id: "previewRelease", summary: "Render a release in some cases", status: 200, in: wire.PreviewWidget{}, out: wire.PreviewedWidget{}, do: d.previewRelease},
		{method: "POST", path: "/widgets/:name/dry-runs", id: "startDryRun", summary: "Begin to render every pocket that follows with files that are not released", status: 201, in: wire.NewDryRun{}, out: wire.DryRun{}, do: d.startDryRun},
		{method: "GET", path: "/widgets/:name/dry-runs/:id", id: "readDryRun", summary: "How far a dry run has come, and which pockets change or break", status: 200, query: paging, out: wire.DryRun{}, do: d.readDryRun},
		{method: "DELETE", path: "/widgets/:name/dry-runs/:id", id: "cancelDryRun", summary: "Stop a dry run", status: 204, do: d.cancelDryRun},
		{method: "GET", path: "/widgets/:name/dry-runs/:id/pockets/:key", id: "readBeforeAndAfter", summary: "Both pictures of a pocket of a dry run", status: 200, out: wire.BeforeAndAfter{}, do: d.beforeAndAfter},
		{method: "GET", path: "/widgets/:name/draft/differences", id: "readDraftDifferences", summary: "What a draft has otherwise than the widget's newest release", status: 200, out: wire.Differences{}, do: d.draftDifferences},
		{method: "GET", path: "/widgets/:name/draft/origin", id: "readOrigin", summary: "What has changed in the widget that a draft is a copy of, and what comes of taking it over", status: 200, out: wire.Origin{}, do: d.origin},
		{method: "POST", path: "/pages", id: "importPage", summary: "Make a widget folder of a whole HTML page; nothing is kept", status: 200, in: wire.Page{}, out: wire.ImportedPage{}, do: d.importPage},
		{method: "GET", path: "/drafts", id: "listWidgetDrafts", summary: "Widgets on the worktop, by name", status: 200, query: paging, out: wire.WidgetDrafts{}, do: d.listDrafts},
		{method: "POST", path: "/widgets/:name/draft", id: "startWidgetDraft", summary: "Put a widget on the worktop: files, or a release", status: 201, in: wire.NewWidgetDraft{}, out: wire.WidgetDraft{}, do: d.startDraft},
		{method: "GET", path: "/widgets/:name/draft", id: "readWidgetDraft", summary: "The files being edited", status: 200, out: wire.WidgetDraft{}, do: d.readWidgetDraft},
		{method: "PATCH", path: "/widgets/:name/draft", id: "changeWidgetDraft", summary: "Change some files; each says what it is a change of", status: 200, in: wire.DraftFiles{}, out: wire.WidgetDraft{}, do: d.saveWidgetDraft},
		{method: "GET", path: "/widgets/:name/draft/zip", id: "packWidgetDraft", summary: "The files being edited, as a zip file in base64", status: 200, out: wire.Packed{}, do: d.packWidgetDraft},
		{method: "DELETE", path: "/widgets/:name/draft", id: "deleteWidgetDraft", summary: "Take a widget off the worktop; what was released stays", status: 204, do: d.deleteWidgetDraft},
		{method: "POST", path: "/widgets/:name/draft/checks", id: "checkWidgetDraft", summary: "Check a draft, with files that are not saved", status: 200, in: wire.DraftFiles{}, out: wire.Checked{}, do: d.checkWidgetDraft},
		{method: "POST", path: "/widgets/:name/draft/previews", id: "previewWidgetDraft", summary: "Render a draft, with files that are not saved, in some cases", status: 200, in: wire.PreviewWidget{}, out: wire.PreviewedWidget{}, do: d.previewWidgetDraft},
		{method: "GET", path: "/pockets", id: "listPockets", summary: "Pockets in reach", status: 200, query: append([]parameter{
			{"customer", "only this customer's", "string"}, {"search", "only those with this in title or key", "string"}, {"widget", "only of this widget", "string"},
			{"state", "only unpublished, published, changed or withheld ones", "string"}, {"behind", "true: only those with an older release than the newest, which do not follow", "boolean"},
			{"order", "key, title or changed, with - before it for the other way round; key when left out", "string"}}, paging...), out: wire.Pockets{}, do: d.listPockets},
		{method: "POST", path: "/pockets", id: "makePocket", summary: "Make a pocket", status: 201, most: SettingsMost, in: wire.NewPocket{}, out: wire.Pocket{}, do: d.makePocket},
		{method: "GET", path: "/pockets/:key", id: "readPocket", summary: "One pocket", status: 200, out: wire.Pocket{}, do: d.readPocket},
		{method: "PATCH", path: "/pockets/:key", id: "changePocket", summary: "Change a pocket's name or language, as part of its draft", status: 200, match: "required", in: wire.ChangePocket{}, out: wire.Draft{}, do: d.changePocket},
		{method: "GET", path: "/pockets/:key/draft", id: "readDraft", summary: "The settings being edited", status: 200, out: wire.Draft{}, do: d.readDraft},
		{method: "PATCH", path: "/pockets/:key/draft", id: "changeDraft", summary: "Change some settings; null takes a value away", status: 200, most: SettingsMost, match: "required", in: map[string]any{}, merge: true, out: wire.Draft{}, do: d.changeDraft},
		{method: "PUT", path: "/pockets/:key/draft", id: "replaceDraft", summary: "Replace all settings", status: 200, most: SettingsMost, match: "required", in: map[string]any{}, out: wire.Draft{}, do: d.replaceDraft},
		{method: "POST", path: "/pockets/:key/preview", id: "previewPocket", summary: "Render settings without saving them", status: 200, most: SettingsMost, in: wire.Preview{}, out: wire.Previewed{}, do: d.preview},
		{method: "GET", path: "/pockets/:key/cases", id: "listPreviewCases", summary: "The conditions to see a pocket in that are kept with it", status: 200, out: wire.PreviewCases{}, do: d.listCases},
		{method: "PUT", path: "/pockets/:key/cases/:name", id: "savePreviewCase", summary: "Keep a preview case, in place of one of the same name", status: 200, most: SettingsMost, in: app.Conditions{}, out: wire.PreviewCase{}, do: d.saveCase},
		{method: "DELETE", path: "/pockets/:key/cases/:name", id: "deletePreviewCase", summary: "Take a preview case away", status: 204, do: d.deleteCase},
		{method: "GET", path: "/pockets/:key/starters/:starter", id: "readStarterDifferences", summary: "What going over to another starter would change, and what stays as it was typed", status: 200, query: []parameter{{"take", "settings to take from the starter though they were typed, with commas between", "string"}}, out: wire.StarterDifferences{}, do: d.starterDifferences},
		{method: "PUT", path: "/pockets/:key/starter", id: "changeStarter", summary: "Go over to another starter; what was typed stays", status: 200, match: "required", in: wire.ChangeStarter{}, out: wire.Draft{}, do: d.changeStarter},
		{method: "GET", path: "/pockets/:key/differences", id: "readPocketDifferences", summary: "What the draft has otherwise than what visitors get; or one publication than another", status: 200, query: []parameter{{"from", "number of a publication; what visitors get when left out", "integer"}, {"to", "number of a publication; the draft when left out", "integer"}}, out: wire.PocketDifferences{}, do: d.pocketDifferences},
		{method: "DELETE", path: "/pockets/:key/publication", id: "unpublish", summary: "Show visitors nothing from the next request on", status: 200, out: wire.Publication{}, do: d.unpublish},
		{method: "GET", path: "/pockets/:key/schedules", id: "listSchedules", summary: "What was scheduled for a pocket, the newest first", status: 200, query: paging, out: wire.Schedules{}, do: d.listSchedules},
		{method: "POST", path: "/pockets/:key/schedules", id: "schedule", summary: "Plan that a pocket is published, restored or unpublished at a moment", status: 201, in: wire.NewSchedule{}, out: wire.Schedules{}, do: d.schedule},
		{method: "DELETE", path: "/pockets/:key/schedules/:id", id: "cancelSchedule", summary: "Take back what was scheduled", status: 204, do: d.cancelSchedule},
		{method: "GET", path: "/audit", id: "readAudit", summary: "Who has changed what, the newest first", status: 200, query: append([]parameter{{"customer", "only what is this customer's", "string"}, {"kind", "what sort of thing, with of: pocket, customer, widget, user …", "string"}, {"of", "its key, name or id", "string"}}, paging...), out: wire.Audit{}, do: d.audit},
		{method: "GET", path: "/pockets/:key/publications", id: "listPublications", summary: "Publications, the newest first", status: 200, query: paging, out: wire.Publications{}, do: d.listPublications},
		{method: "POST", path: "/pockets/:key/publications", id: "publish", summary: "Publish the draft", status: 201, in: wire.Publish{}, out: wire.Publication{}, do: d.publish},
		{method: "POST", path: "/pockets/:key/restorations", id: "restore", summary: "Publish an older publication again", status: 201, in: wire.Restore{}, out: wire.Publication{}, do: d.restore},
		{method: "PUT", path: "/pockets/:key/withheld", id: "withholdPocket", summary: "Stop serving a pocket at once", status: 200, in: wire.Withhold{}, out: wire.Pocket{}, do: d.withholdPocket},
		{method: "DELETE", path: "/pockets/:key/withheld", id: "bringBackPocket", summary: "Serve a withheld pocket again", status: 200, out: wire.Pocket{}, do: d.bringBackPocket},
		{method: "GET", path: "/hosts", id: "listHosts", summary: "The kinds of host that pockets are brought to", status: 200, out: wire.Hosts{}, do: d.listHosts},
		{method: "GET", path: "/hosts/:name", id: "readHost", summary: "Everything that is known of a kind of host", status: 200, out: wire.HostProfile{}, do: d.readHost},
		{method: "PUT", path: "/hosts/:name", id: "saveHost", summary: "Write a kind of host, or an own version of one that ships", status: 200, in: wire.SaveHost{}, out: wire.HostProfile{}, do: d.saveHost},
		{method: "DELETE", path: "/hosts/:name", id: "deleteHost", summary: "Take an own kind of host, or an own version, away", status: 204, do: d.deleteHost},
		{method: "PUT", path: "/hosts/:name/images/:file", id: "saveHostImage", summary: "Keep a picture that an own profile's steps name", status: 204, in: wire.NewImage{}, do: d.saveHostImage},
		{method: "DELETE", path: "/hosts/:name/images/:file", id: "deleteHostImage", summary: "Take such a picture away", status: 204, do: d.deleteHostImage},
		{method: "POST", path: "/pockets/:key/guides", id: "guide", summary: "The best delivery form for a host, all others, and the steps", status: 200, in: app.Install{}, out: wire.Guided{}, do: d.guide},
		{method: "POST", path: "/pockets/:key/tries", id: "tryOn", summary: "How a pocket would stand on a page, before it is pasted there", status: 200, in: wire.TryOn{}, out: wire.TriedOn{}, do: d.tryOn},
		{method: "POST", path: "/pockets/:key/sealed", id: "seal", summary: "Keep what is published as a script that never changes", status: 201, out: wire.Sealed{}, do: d.seal},
		{method: "GET", path: "/pockets/:key/handovers", id: "listHandovers", summary: "Pages with the steps, for people without an account", status: 200, out: wire.Handovers{}, do: d.listHandovers},
		{method: "POST", path: "/pockets/:key/handovers", id: "handOver", summary: "Make such a page; its link is told once", status: 201, in: wire.NewHandover{}, out: wire.Handover{}, do: d.handOver},
		{method: "DELETE", path: "/pockets/:key/handovers/:id", id: "revokeHandover", summary: "End such a page: its link leads nowhere from now on", status: 204, do: d.revokeHandover},
		{method: "POST", path: "/handovers", id: "readHandover", summary: "What such a page shows, by the secret of its link", status: 200, open: true, in: wire.Secret{}, out: wire.HandedOver{}, do: d.handedOver},
		{method: "GET", path: "/pockets/:key/snippets", id: "listSnippets", summary: "The texts to paste", status: 200, query: []parameter{{"form", "only this delivery form", "string"}}, out: wire.Snippets{}, do: d.snippets},
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
		if k.scope.Role == app.Guest {
			if !d.guests.Allow(remote.Network(d.Proxies.Address(c))) {
				return &app.Error{Kind: app.TooMany, Code: "asked-too-often", What: "Your network asks for too much without an account.", Hint: "Ask again in a second, or sign up.", Wait: time.Second}
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
	return &httpError{fiber.StatusRequestEntityTooLarge, "body-too-large", "The request's body is too large.", fmt.Sprintf("At most %d MiB are taken.", most>>20)}
}

type httpError struct {
	status           int
	code, what, hint string
}

func (e *httpError) Error() string { return e.what }

// downwards reads cursor and limit of a list that counts down from the newest: before is
// a number, 0 for all.
func (k *call) downwards() (before, limit int, err error) {
	p, err := k.page()
	if err != nil || p.After == "" {
		return 0, p.Limit, err
	}
	if before, err = strconv.Atoi(p.After); err != nil || before < 1 {
		return 0, 0, &app.Error{Kind: app.Invalid, Code: "cursor-faulty", Field: "cursor", What: "This is no cursor of this list.", Hint: "Send the last answer's next."}
	}
	return before, p.Limit, nil
}

// pageUsual is how much a page of a list holds when nobody says.
const pageUsual = 50

// page reads cursor and limit.
func (k *call) page() (app.Page, error) {
	p := app.Page{After: k.Query("cursor"), Limit: pageUsual}
	if l := k.Query("limit"); l != "" {
		n, err := strconv.Atoi(l)
		if err != nil || n < 1 || n > 200 {
			return p, &app.Error{Kind: app.Invalid, Code: "limit-faulty", Field: "limit", What: fmt.Sprintf("%q is not a limit from 1 to 200.", l), Hint: "Leave it out for 50."}
		}
		p.Limit = n
	}
	p.Limit++ // one more tells whether there is a next page
	return p, nil
}

// cut returns at most limit-1 of list, and the cursor when there were more.
func cut[T any](list []T, limit int, cursor func(T) string) ([]T, string) {
	if len(list) < limit {
		return list, ""
	}
	list = list[:limit-1]
	return list, cursor(list[len(list)-1])
}
