package e2e

import (
	"encoding/json"
	"fmt"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/e2e/browser"
	"glasspocket/internal/client"
	"glasspocket/internal/wire"
)

// Every route of the API by everybody who may ask: nobody, each role, and a token that is
// narrower than its maker; on what is theirs and on what is somebody else's.
func TestEveryRouteByEveryRole(t *testing.T) {
	ctx := t.Context()
	const mine, theirs = "kelp-and-kiln", "saltmarsh-ferry"
	var document struct {
		Paths map[string]map[string]struct {
			OperationID string `json:"operationId"`
		} `json:"paths"`
	}
	_, text := send(t, "GET", demo.Manage+"/api/v1/openapi.json", "")
	require.NoError(t, json.Unmarshal([]byte(text), &document))

	// One user a role, each with a token of its own.
	tokens := map[string]string{"nobody": ""}
	for _, role := range []string{"operator-admin", "developer", "customer-editor", "customer-viewer"} {
		customer := ""
		if strings.HasPrefix(role, "customer") {
			customer = mine
		}
		u, err := api.MakeUser(ctx, wire.NewUser{Name: "role-" + role, Role: role, Customer: customer})
		require.NoError(t, err)
		token, err := api.SignIn(ctx, u.Name, u.Password, wire.NewToken{Name: role, Days: 1})
		require.NoError(t, err)
		tokens[role] = token.Secret
	}
	admin := &client.Client{Server: demo.Manage, Token: tokens["operator-admin"]}
	narrow, err := admin.MakeToken(ctx, wire.NewToken{Name: "narrow", Days: 1, Role: "customer-editor", Customer: mine})
	require.NoError(t, err)
	tokens["narrow"] = narrow.Secret
	actors := []string{"nobody", "operator-admin", "developer", "customer-editor", "customer-viewer", "narrow"}

	// What a path or body stands on is made anew after each request that may have changed it,
	// so that none spoils the next.
	count, kept := 0, map[string]string{}
	fresh := func(text, owner string) string {
		for _, each := range []struct {
			name string
			make func() string
		}{
			{"{pocket}", func() string {
				count++
				key := fmt.Sprintf("role-%d", count)
				_, err := api.MakePocket(ctx, wire.NewPocket{Key: key, Customer: owner, Widget: "countdown"})
				require.NoError(t, err)
				set(t, key, map[string]any{"target": "2099-01-01T00:00[UTC]"})
				publish(t, key)
				publish(t, key)
				return key
			}},
			{"{user}", func() string {
				count++
				name := fmt.Sprintf("fresh-%d", count)
				_, err := api.MakeUser(ctx, wire.NewUser{Name: name, Role: "developer"})
				require.NoError(t, err)
				return name
			}},
			{"{draft}", func() string {
				count++
				name := fmt.Sprintf("draft-%d", count)
				_, err := api.StartWidgetDraft(ctx, name, wire.NewWidgetDraft{From: "countdown"})
				require.NoError(t, err)
				return name
			}},
			{"{asset}", func() string {
				count++
				a, err := api.Upload(ctx, owner, fmt.Sprintf("fresh-%d.svg", count), fmt.Appendf(nil, `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 %d 9"/>`, count))
				require.NoError(t, err)
				return a.Digest
			}},
			{"{source}", func() string {
				count++
				s, err := api.ConnectSource(ctx, owner, wire.NewSource{Name: fmt.Sprint("Notices ", count), Reader: "jsonfeed", Address: demo.Harbour + "/notices/feed.json"})
				require.NoError(t, err)
				return s.ID
			}},
			{"{customer}", func() string { return owner }},
			{"{n}", func() string { count++; return strconv.Itoa(count) }},
		} {
			for strings.Contains(text, each.name) {
				about := each.name + " of " + owner
				if kept[about] == "" || each.name == "{n}" {
					kept[about] = each.make()
				}
				text = strings.Replace(text, each.name, kept[about], 1)
			}
		}
		return text
	}
	const nothing = ""
	rows := []struct {
		id, method, path, body string
		own, others            [6]int // by actor; others is left zero where a route knows no owner
	}{
		{"signIn", "POST", "/session", `{"name":"nobody-{n}","password":"x"}`, [6]int{401, 401, 401, 401, 401, 401}, [6]int{}},
		{"whoAmI", "GET", "/session", nothing, [6]int{200, 200, 200, 200, 200, 200}, [6]int{}},
		{"signOut", "DELETE", "/session", nothing, [6]int{204, 204, 204, 204, 204, 204}, [6]int{}},
		{"changePassword", "PUT", "/session/password", `{"old":"","new":"a good long phrase"}`, [6]int{401, 422, 422, 422, 422, 403}, [6]int{}},
		{"listSessions", "GET", "/sessions", nothing, [6]int{401, 200, 200, 200, 200, 403}, [6]int{}},
		{"revokeSession", "DELETE", "/sessions/999999", nothing, [6]int{401, 404, 404, 404, 404, 403}, [6]int{}},
		{"listTokens", "GET", "/tokens", nothing, [6]int{401, 200, 200, 200, 200, 403}, [6]int{}},
		{"makeToken", "POST", "/tokens", `{"name":"t","days":1}`, [6]int{401, 201, 201, 201, 201, 403}, [6]int{}},
		{"revokeToken", "DELETE", "/tokens/999999", nothing, [6]int{401, 404, 404, 404, 404, 403}, [6]int{}},
		{"listUsers", "GET", "/users", nothing, [6]int{401, 200, 403, 403, 403, 403}, [6]int{}},
		{"makeUser", "POST", "/users", `{"name":"made-{n}","role":"developer"}`, [6]int{401, 201, 403, 403, 403, 403}, [6]int{}},
		{"changeUser", "PATCH", "/users/{user}", `{"role":"operator-admin"}`, [6]int{401, 200, 403, 403, 403, 403}, [6]int{}},
		{"deleteUser", "DELETE", "/users/{user}", nothing, [6]int{401, 204, 403, 403, 403, 403}, [6]int{}},
		{"resetPassword", "POST", "/users/{user}/password", nothing, [6]int{401, 200, 403, 403, 403, 403}, [6]int{}},
		{"listCustomers", "GET", "/customers", nothing, [6]int{401, 200, 200, 200, 200, 200}, [6]int{}},
		{"makeCustomer", "POST", "/customers", `{"name":"Customer {n}"}`, [6]int{401, 201, 403, 403, 403, 403}, [6]int{}},
		{"withholdCustomer", "PUT", "/customers/{customer}/withheld", `{}`, [6]int{401, 200, 403, 403, 403, 403}, [6]int{401, 200, 403, 404, 404, 404}},
		{"bringBackCustomer", "DELETE", "/customers/{customer}/withheld", nothing, [6]int{401, 200, 403, 403, 403, 403}, [6]int{401, 200, 403, 404, 404, 404}},
		{"listAssets", "GET", "/customers/{customer}/assets", nothing, [6]int{401, 200, 200, 200, 200, 200}, [6]int{401, 200, 200, 404, 404, 404}},
		{"uploadAsset", "POST", "/customers/{customer}/assets", `{"name":"x{n}.svg","bytes":"PHN2ZyB4bWxucz0iaHR0cDovL3d3dy53My5vcmcvMjAwMC9zdmciIHZpZXdCb3g9IjAgMCA5IDkiLz4="}`, [6]int{401, 201, 201, 201, 403, 201}, [6]int{401, 201, 201, 404, 403, 404}},
		{"readAsset", "GET", "/customers/{customer}/assets/{asset}", nothing, [6]int{401, 200, 200, 200, 200, 200}, [6]int{401, 200, 200, 404, 404, 404}},
		{"deleteAsset", "DELETE", "/customers/{customer}/assets/{asset}", nothing, [6]int{401, 204, 204, 204, 403, 204}, [6]int{401, 204, 204, 404, 403, 404}},
		{"lookForSource", "POST", "/customers/{customer}/sources/look", `{"text":"` + demo.Harbour + `/notices"}`, [6]int{401, 200, 200, 200, 403, 200}, [6]int{401, 200, 200, 404, 403, 404}},
		{"listSources", "GET", "/customers/{customer}/sources", nothing, [6]int{401, 200, 200, 200, 200, 200}, [6]int{401, 200, 200, 404, 404, 404}},
		{"connectSource", "POST", "/customers/{customer}/sources", `{"name":"s{n}","reader":"ical","address":"` + demo.Harbour + `/calendars/choir.ics"}`, [6]int{401, 201, 201, 201, 403, 201}, [6]int{401, 201, 201, 404, 403, 404}},
		{"listFailingSources", "GET", "/failing-sources", nothing, [6]int{401, 200, 200, 200, 200, 200}, [6]int{401, 200, 200, 200, 200, 200}},
		{"readSource", "GET", "/sources/{source}", nothing, [6]int{401, 200, 200, 200, 200, 200}, [6]int{401, 200, 200, 404, 404, 404}},
		{"changeSource", "PATCH", "/sources/{source}", `{"name":"Renamed"}`, [6]int{401, 412, 412, 412, 403, 412}, [6]int{401, 412, 412, 404, 404, 404}},
		{"lookAtSource", "POST", "/sources/{source}/look", `{}`, [6]int{401, 200, 200, 200, 403, 200}, [6]int{401, 200, 200, 404, 404, 404}},
		{"refreshSource", "POST", "/sources/{source}/refresh", nothing, [6]int{401, 200, 200, 200, 403, 200}, [6]int{401, 200, 200, 404, 404, 404}},
		{"listItems", "GET", "/sources/{source}/items", nothing, [6]int{401, 200, 200, 200, 200, 200}, [6]int{401, 200, 200, 404, 404, 404}},
		{"listFetches", "GET", "/sources/{source}/fetches", nothing, [6]int{401, 200, 200, 200, 200, 200}, [6]int{401, 200, 200, 404, 404, 404}},
		{"deleteSource", "DELETE", "/sources/{source}", nothing, [6]int{401, 204, 204, 204, 403, 204}, [6]int{401, 204, 204, 404, 404, 404}},
		{"selectItems", "POST", "/pockets/demo-reviews/lists/reviews/selection", `{}`, [6]int{401, 200, 200, 200, 200, 200}, [6]int{}},
		{"listHosts", "GET", "/hosts", nothing, [6]int{200, 200, 200, 200, 200, 200}, [6]int{}},
		{"readHost", "GET", "/hosts/blog", nothing, [6]int{200, 200, 200, 200, 200, 200}, [6]int{}},
		{"saveHost", "PUT", "/hosts/own-{n}", `{"profile":{},"revision":0}`, [6]int{401, 422, 422, 403, 403, 403}, [6]int{}},
		{"deleteHost", "DELETE", "/hosts/none", nothing, [6]int{401, 404, 404, 403, 403, 403}, [6]int{}},
		{"saveHostImage", "PUT", "/hosts/none/images/a.png", `{"bytes":""}`, [6]int{401, 404, 404, 403, 403, 403}, [6]int{}},
		{"deleteHostImage", "DELETE", "/hosts/none/images/a.png", nothing, [6]int{401, 404, 404, 403, 403, 403}, [6]int{}},
		{"guide", "POST", "/pockets/{pocket}/guides", `{"host":"blog"}`, [6]int{401, 200, 200, 200, 200, 200}, [6]int{401, 200, 200, 404, 404, 404}},
		{"tryOn", "POST", "/pockets/{pocket}/tries", `{"install":{"host":"blog"},"html":"<p>Tide"}`, [6]int{401, 200, 200, 200, 403, 200}, [6]int{401, 200, 200, 404, 403, 404}},
		{"seal", "POST", "/pockets/{pocket}/sealed", nothing, [6]int{401, 201, 201, 201, 403, 201}, [6]int{401, 201, 201, 404, 403, 404}},
		{"listHandovers", "GET", "/pockets/{pocket}/handovers", nothing, [6]int{401, 200, 200, 200, 403, 200}, [6]int{401, 200, 200, 404, 403, 404}},
		{"handOver", "POST", "/pockets/{pocket}/handovers", `{"install":{"host":"blog"}}`, [6]int{401, 201, 201, 201, 403, 201}, [6]int{401, 201, 201, 404, 403, 404}},
		{"revokeHandover", "DELETE", "/pockets/{pocket}/handovers/999999", nothing, [6]int{401, 404, 404, 404, 403, 404}, [6]int{401, 404, 404, 404, 403, 404}},
		{"readHandover", "POST", "/handovers", `{"secret":"none"}`, [6]int{404, 404, 404, 404, 404, 404}, [6]int{}},
		{"checkWidget", "POST", "/checks", `{"files":[]}`, [6]int{401, 200, 200, 403, 403, 403}, [6]int{}},
		{"listWidgets", "GET", "/widgets", nothing, [6]int{200, 200, 200, 200, 200, 200}, [6]int{}},
		{"readWidget", "GET", "/widgets/countdown", nothing, [6]int{200, 200, 200, 200, 200, 200}, [6]int{}},
		{"releaseWidget", "POST", "/widgets/nothing/releases", `{"files":[]}`, [6]int{401, 422, 422, 403, 403, 403}, [6]int{}},
		{"listReleases", "GET", "/widgets/countdown/releases", nothing, [6]int{200, 200, 200, 200, 200, 200}, [6]int{}},
		{"readReleaseFiles", "GET", "/widgets/countdown/releases/newest/files", nothing, [6]int{401, 200, 200, 403, 403, 403}, [6]int{}},
		{"readReleaseUses", "GET", "/widgets/countdown/releases/1/uses", nothing, [6]int{401, 200, 200, 403, 403, 403}, [6]int{}},
		{"readReleaseDifferences", "GET", "/widgets/countdown/releases/1/differences", nothing, [6]int{401, 200, 200, 403, 403, 403}, [6]int{}},
		{"previewRelease", "POST", "/widgets/countdown/releases/1/previews", `{"cases":[{}]}`, [6]int{401, 200, 200, 403, 403, 403}, [6]int{}},
		{"startDryRun", "POST", "/widgets/{draft}/dry-runs", `{"draft":true}`, [6]int{401, 201, 201, 403, 403, 403}, [6]int{}},
		{"readDryRun", "GET", "/widgets/countdown/dry-runs/none", nothing, [6]int{401, 404, 404, 403, 403, 403}, [6]int{}},
		{"cancelDryRun", "DELETE", "/widgets/countdown/dry-runs/none", nothing, [6]int{401, 404, 404, 403, 403, 403}, [6]int{}},
		{"readBeforeAndAfter", "GET", "/widgets/countdown/dry-runs/none/pockets/demo-countdown", nothing, [6]int{401, 404, 404, 403, 403, 403}, [6]int{}},
		{"readDraftDifferences", "GET", "/widgets/{draft}/draft/differences", nothing, [6]int{401, 200, 200, 403, 403, 403}, [6]int{}},
		{"readOrigin", "GET", "/widgets/{draft}/draft/origin", nothing, [6]int{401, 200, 200, 403, 403, 403}, [6]int{}},
		{"changeRelease", "PATCH", "/widgets/countdown/releases/999", `{"withdrawn":true}`, [6]int{401, 404, 404, 403, 403, 403}, [6]int{}},
		{"importPage", "POST", "/pages", `{"name":"x","html":"<p>Tide"}`, [6]int{401, 200, 200, 403, 403, 403}, [6]int{}},
		{"listWidgetDrafts", "GET", "/drafts", nothing, [6]int{401, 200, 200, 403, 403, 403}, [6]int{}},
		{"startWidgetDraft", "POST", "/widgets/begun-{n}/draft", `{"from":"countdown"}`, [6]int{401, 201, 201, 403, 403, 403}, [6]int{}},
		{"readWidgetDraft", "GET", "/widgets/{draft}/draft", nothing, [6]int{401, 200, 200, 403, 403, 403}, [6]int{}},
		{"changeWidgetDraft", "PATCH", "/widgets/{draft}/draft", `{"files":[]}`, [6]int{401, 200, 200, 403, 403, 403}, [6]int{}},
		{"packWidgetDraft", "GET", "/widgets/{draft}/draft/zip", nothing, [6]int{401, 200, 200, 403, 403, 403}, [6]int{}},
		{"deleteWidgetDraft", "DELETE", "/widgets/{draft}/draft", nothing, [6]int{401, 204, 204, 403, 403, 403}, [6]int{}},
		{"checkWidgetDraft", "POST", "/widgets/{draft}/draft/checks", `{"files":[]}`, [6]int{401, 200, 200, 403, 403, 403}, [6]int{}},
		{"previewWidgetDraft", "POST", "/widgets/{draft}/draft/previews", `{"cases":[{}]}`, [6]int{401, 200, 200, 403, 403, 403}, [6]int{}},
		{"listPockets", "GET", "/pockets", nothing, [6]int{401, 200, 200, 200, 200, 200}, [6]int{}},
		{"makePocket", "POST", "/pockets", `{"customer":"{customer}","widget":"countdown"}`, [6]int{401, 201, 201, 201, 403, 201}, [6]int{401, 201, 201, 404, 403, 404}},
		{"readPocket", "GET", "/pockets/{pocket}", nothing, [6]int{401, 200, 200, 200, 200, 200}, [6]int{401, 200, 200, 404, 404, 404}},
		{"readDraft", "GET", "/pockets/{pocket}/draft", nothing, [6]int{401, 200, 200, 200, 200, 200}, [6]int{401, 200, 200, 404, 404, 404}},
		{"changeDraft", "PATCH", "/pockets/{pocket}/draft", `{"heading":"x"}`, [6]int{401, 200, 200, 200, 403, 200}, [6]int{401, 200, 200, 404, 404, 404}},
		{"replaceDraft", "PUT", "/pockets/{pocket}/draft", `{"heading":"x"}`, [6]int{401, 200, 200, 200, 403, 200}, [6]int{401, 200, 200, 404, 404, 404}},
		{"previewPocket", "POST", "/pockets/{pocket}/preview", `{}`, [6]int{401, 200, 200, 200, 200, 200}, [6]int{401, 200, 200, 404, 404, 404}},
		{"listPublications", "GET", "/pockets/{pocket}/publications", nothing, [6]int{401, 200, 200, 200, 200, 200}, [6]int{401, 200, 200, 404, 404, 404}},
		{"publish", "POST", "/pockets/{pocket}/publications", `{}`, [6]int{401, 201, 201, 201, 403, 201}, [6]int{401, 201, 201, 404, 403, 404}},
		{"restore", "POST", "/pockets/{pocket}/restorations", `{"number":1}`, [6]int{401, 201, 201, 201, 403, 201}, [6]int{401, 201, 201, 404, 403, 404}},
		{"changePocket", "PATCH", "/pockets/{pocket}", `{"title":"x"}`, [6]int{401, 200, 200, 200, 403, 200}, [6]int{401, 200, 200, 404, 404, 404}},
		{"listPreviewCases", "GET", "/pockets/{pocket}/cases", nothing, [6]int{401, 200, 200, 200, 200, 200}, [6]int{401, 200, 200, 404, 404, 404}},
		{"savePreviewCase", "PUT", "/pockets/{pocket}/cases/late", `{"page":"dark"}`, [6]int{401, 200, 200, 200, 403, 200}, [6]int{401, 200, 200, 404, 404, 404}},
		{"deletePreviewCase", "DELETE", "/pockets/{pocket}/cases/none", nothing, [6]int{401, 404, 404, 404, 403, 404}, [6]int{401, 404, 404, 404, 404, 404}},
		{"readStarterDifferences", "GET", "/pockets/{pocket}/starters/opening-night", nothing, [6]int{401, 200, 200, 200, 200, 200}, [6]int{401, 200, 200, 404, 404, 404}},
		{"changeStarter", "PUT", "/pockets/{pocket}/starter", `{"starter":"opening-night"}`, [6]int{401, 200, 200, 200, 403, 200}, [6]int{401, 200, 200, 404, 403, 404}},
		{"readPocketDifferences", "GET", "/pockets/{pocket}/differences", nothing, [6]int{401, 200, 200, 200, 200, 200}, [6]int{401, 200, 200, 404, 404, 404}},
		{"unpublish", "DELETE", "/pockets/{pocket}/publication", nothing, [6]int{401, 200, 200, 200, 403, 200}, [6]int{401, 200, 200, 404, 403, 404}},
		{"listSchedules", "GET", "/pockets/{pocket}/schedules", nothing, [6]int{401, 200, 200, 200, 200, 200}, [6]int{401, 200, 200, 404, 404, 404}},
		{"schedule", "POST", "/pockets/{pocket}/schedules", `{"does":"unpublish","at":"2099-01-01T00:00[UTC]"}`, [6]int{401, 201, 201, 201, 403, 201}, [6]int{401, 201, 201, 404, 404, 404}},
		{"cancelSchedule", "DELETE", "/pockets/{pocket}/schedules/999999", nothing, [6]int{401, 404, 404, 404, 403, 404}, [6]int{401, 404, 404, 404, 404, 404}},
		{"readAudit", "GET", "/audit", nothing, [6]int{401, 200, 200, 200, 200, 200}, [6]int{}},
		{"readCustomer", "GET", "/customers/{customer}", nothing, [6]int{401, 200, 200, 200, 200, 200}, [6]int{401, 200, 200, 404, 404, 404}},
		{"changeCustomer", "PATCH", "/customers/{customer}", `{"zone":"UTC"}`, [6]int{401, 412, 412, 412, 403, 412}, [6]int{401, 412, 412, 404, 404, 404}},
		{"readBrand", "GET", "/customers/{customer}/brand", nothing, [6]int{401, 200, 200, 200, 200, 200}, [6]int{401, 200, 200, 404, 404, 404}},
		{"changeBrand", "PUT", "/customers/{customer}/brand", `{"values":[]}`, [6]int{401, 412, 412, 412, 403, 412}, [6]int{401, 412, 412, 404, 404, 404}},
		{"dryRunBrand", "POST", "/customers/{customer}/brand/dry-runs", `{"values":[]}`, [6]int{401, 200, 200, 200, 200, 200}, [6]int{401, 200, 200, 404, 404, 404}},
		{"listPlaces", "GET", "/customers/{customer}/places", nothing, [6]int{401, 200, 200, 200, 200, 200}, [6]int{401, 200, 200, 404, 404, 404}},
		{"rememberPlace", "POST", "/customers/{customer}/places", `{"host":"blog","where":"home"}`, [6]int{401, 201, 201, 201, 403, 201}, [6]int{401, 201, 201, 404, 403, 404}},
		{"listPeople", "GET", "/customers/{customer}/people", nothing, [6]int{401, 200, 200, 200, 200, 200}, [6]int{401, 200, 200, 404, 404, 404}},
		{"revokeAccess", "DELETE", "/customers/{customer}/people/nobody-here", nothing, [6]int{401, 404, 403, 404, 403, 404}, [6]int{401, 404, 403, 404, 403, 404}},
		{"invite", "POST", "/customers/{customer}/invitations", `{"role":"customer-viewer"}`, [6]int{401, 201, 403, 201, 403, 201}, [6]int{401, 201, 403, 404, 403, 404}},
		{"revokeInvitation", "DELETE", "/customers/{customer}/invitations/999999", nothing, [6]int{401, 404, 403, 404, 403, 404}, [6]int{401, 404, 403, 404, 403, 404}},
		{"readInvitation", "POST", "/invitations", `{"secret":"none"}`, [6]int{404, 404, 404, 404, 404, 404}, [6]int{}},
		{"join", "POST", "/invitations/uses", `{"secret":"none","name":"x","password":"x"}`, [6]int{404, 404, 404, 404, 404, 404}, [6]int{}},
		{"readGallery", "GET", "/gallery", nothing, [6]int{200, 200, 200, 200, 200, 200}, [6]int{}},
		{"readGalleryPreviews", "GET", "/gallery/countdown", nothing, [6]int{200, 200, 200, 200, 200, 200}, [6]int{}},
		{"startGuestPocket", "POST", "/guest-pockets", `{"widget":"countdown"}`, [6]int{201, 201, 201, 201, 201, 201}, [6]int{}},
		{"resumeGuestPocket", "POST", "/guest-pockets/visits", `{"secret":"none"}`, [6]int{404, 404, 404, 404, 404, 404}, [6]int{}},
		{"trySource", "POST", "/guest-pockets/sources/look", `{"text":"` + demo.Harbour + `/notices"}`, [6]int{200, 401, 401, 401, 401, 401}, [6]int{}},
		{"signUp", "POST", "/guest-pockets/accounts", `{"customer":"X","name":"xy","password":"x"}`, [6]int{401, 401, 401, 401, 401, 401}, [6]int{}},
		{"claim", "POST", "/guest-pockets/claims", `{"secret":"none","customer":"{customer}"}`, [6]int{401, 404, 404, 404, 403, 404}, [6]int{401, 404, 404, 404, 403, 404}},
		{"listTasks", "GET", "/tasks", nothing, [6]int{401, 200, 200, 403, 403, 403}, [6]int{}},
		{"runTask", "POST", "/tasks/999999/runs", nothing, [6]int{401, 404, 404, 403, 403, 403}, [6]int{}},
		{"cancelTask", "DELETE", "/tasks/999999", nothing, [6]int{401, 404, 404, 403, 403, 403}, [6]int{}},
		{"listJobs", "GET", "/jobs", nothing, [6]int{401, 200, 200, 200, 200, 200}, [6]int{}},
		{"startJob", "POST", "/jobs", `{"does":"unpublish","keys":["{pocket}"]}`, [6]int{401, 201, 201, 201, 403, 201}, [6]int{401, 201, 201, 404, 403, 404}},
		{"readJob", "GET", "/jobs/none", nothing, [6]int{401, 404, 404, 404, 404, 404}, [6]int{}},
		{"cancelJob", "DELETE", "/jobs/none", nothing, [6]int{401, 404, 404, 404, 404, 404}, [6]int{}},
		{"exportPocket", "GET", "/pockets/{pocket}/file", nothing, [6]int{401, 200, 200, 200, 200, 200}, [6]int{401, 200, 200, 404, 404, 404}},
		{"duplicatePocket", "POST", "/pockets/{pocket}/duplicates", `{}`, [6]int{401, 201, 201, 201, 403, 201}, [6]int{401, 201, 201, 404, 404, 404}},
		{"movePocket", "POST", "/pockets/{pocket}/moves", `{"follow":true}`, [6]int{401, 201, 201, 201, 403, 201}, [6]int{401, 201, 201, 404, 403, 404}},
		{"deletePocket", "DELETE", "/pockets/{pocket}", nothing, [6]int{401, 409, 409, 409, 403, 409}, [6]int{401, 409, 409, 404, 404, 404}},
		{"withholdPocket", "PUT", "/pockets/{pocket}/withheld", `{}`, [6]int{401, 200, 403, 403, 403, 403}, [6]int{401, 200, 403, 404, 404, 404}},
		{"bringBackPocket", "DELETE", "/pockets/{pocket}/withheld", nothing, [6]int{401, 200, 403, 403, 403, 403}, [6]int{401, 200, 403, 404, 404, 404}},
		{"listSnippets", "GET", "/pockets/{pocket}/snippets", nothing, [6]int{401, 200, 200, 200, 200, 200}, [6]int{401, 200, 200, 404, 404, 404}},
	}
	covered := map[string]bool{}
	// These change nothing that lasts, only the asker's own session, or only what is proposed next.
	unnoted := []string{"lookForSource", "trySource", "lookAtSource", "refreshSource", "selectItems", "rememberPlace", "guide", "tryOn", "signIn", "signOut", "checkWidget", "startDryRun", "cancelDryRun", "importPage", "checkWidgetDraft", "previewWidgetDraft", "previewRelease", "previewPocket", "dryRunBrand", "readInvitation"}
	newest := func(t *testing.T) wire.Entry {
		list, err := api.Audit(ctx, client.AuditQuery{Limit: 100})
		require.NoError(t, err)
		at := slices.IndexFunc(list.Entries, func(e wire.Entry) bool { return e.Client != "job" }) // which works on by itself
		require.GreaterOrEqual(t, at, 0)
		return list.Entries[at]
	}
	for _, row := range rows {
		covered[row.id] = true
		t.Run(row.id, func(t *testing.T) {
			for owner, want := range map[string][6]int{mine: row.own, theirs: row.others} {
				for i, actor := range actors {
					if want[i] == 0 {
						continue
					}
					headers := []string{"Content-Type", "application/json", "Origin", demo.Manage, "If-Match", `"2"`}
					if tokens[actor] != "" {
						headers = append(headers, "Authorization", "Bearer "+tokens[actor])
					}
					path, sent := fresh(row.path, owner), fresh(row.body, owner)
					before := newest(t)
					var res *http.Response
					var body string
					require.Eventually(t, func() bool { // without an account so many a second are answered
						res, body = send(t, row.method, demo.Manage+"/api/v1"+path, sent, headers...)
						return res.StatusCode != http.StatusTooManyRequests
					}, browser.Patience, 100*time.Millisecond)
					assert.Equal(t, want[i], res.StatusCode, "%s, %s's: %s", actor, owner, body)
					if row.method != "GET" && res.StatusCode < 400 {
						clear(kept)
					}
					// Whoever changes anything leaves a line in the audit, and nobody else does.
					noted := res.StatusCode < 300 && row.method != "GET" && !slices.Contains(unnoted, row.id)
					if after := newest(t); noted {
						assert.NotEqual(t, before.ID, after.ID, "%s: no line in the audit", row.id)
						assert.Contains(t, []string{"role-" + actor, "role-operator-admin", "guest"}, after.By)
					} else {
						assert.Equal(t, before.ID, after.ID, "%s: %s", row.id, after.Sentence)
					}
				}
			}
		})
	}
	operations := 0
	for path, methods := range document.Paths {
		for method, operation := range methods {
			if operation.OperationID != "" {
				operations++
				assert.True(t, covered[operation.OperationID], "%s %s (%s) has no row: say who may ask for it", method, path, operation.OperationID)
			}
		}
	}
	assert.Equal(t, len(rows), operations)
	// A list shows what is in reach and nothing else.
	for _, actor := range []string{"customer-editor", "customer-viewer", "narrow"} {
		c := &client.Client{Server: demo.Manage, Token: tokens[actor]}
		list, err := c.Pockets(ctx, "")
		require.NoError(t, err)
		require.NotEmpty(t, list)
		for _, p := range list {
			assert.Equal(t, mine, p.Customer, actor)
		}
		customers, err := c.Customers(ctx, "")
		require.NoError(t, err)
		require.Len(t, customers, 1, actor)
	}
}

// A token that ends between two requests of one command is refused in words, and nothing
// is half done.
func TestTokenEndsInTheMiddle(t *testing.T) {
	ctx := t.Context()
	newPocket(t, "half-way", "2099-01-01T00:00[UTC]", nil)
	token, err := api.MakeToken(ctx, wire.NewToken{Name: "short", Days: 1})
	require.NoError(t, err)
	c := &client.Client{Server: demo.Manage, Token: token.Secret}
	draft, err := c.Draft(ctx, "half-way")
	require.NoError(t, err)
	require.NoError(t, api.RevokeToken(ctx, token.ID))
	_, err = c.ChangeDraft(ctx, "half-way", draft.Revision, raw(map[string]any{"heading": "x"}))
	p := problem(t, err)
	assert.Equal(t, 401, p.Status)
	assert.Contains(t, p.Hint, "glasspocket signin")
	after, err := api.Draft(ctx, "half-way")
	require.NoError(t, err)
	assert.Equal(t, draft.Revision, after.Revision)
}
