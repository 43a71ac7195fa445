package e2e

import (
	"fmt"
	"net/http"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/sync/errgroup"

	"glasspocket/e2e/browser"
	"glasspocket/e2e/service"
	"glasspocket/internal/client"
	"glasspocket/internal/setting"
	"glasspocket/internal/wire"
)

// fill types a value into a control of the page in place of what it holds, or chooses it.
func fill(t *testing.T, p *browser.Page, selector, value string) {
	t.Helper()
	fillIn(t, p, fmt.Sprintf("document.querySelector(%q)", selector), value)
}

// fillIn is fill for the control that an expression finds.
func fillIn(t *testing.T, p *browser.Page, control, value string) {
	t.Helper()
	require.NoError(t, p.Wait(control))
	switch kind := eval[string](t, p, control+".type"); kind {
	case "select-one":
		eval[any](t, p, fmt.Sprintf(`(e => { e.value = %q; e.dispatchEvent(new Event("change", {bubbles: true})) })(%s); 0`, value, control))
	case "datetime-local":
		// Not typed: with keys pressed in this control, headless Chromium hung for good in some full runs.
		eval[any](t, p, fmt.Sprintf(`(e => { Object.getOwnPropertyDescriptor(Object.getPrototypeOf(e), "value").set.call(e, %q); e.dispatchEvent(new Event("input", {bubbles: true})); e.dispatchEvent(new Event("change", {bubbles: true})) })(%s); 0`, value, control))
	default:
		eval[any](t, p, `(e => { e.focus(); e.select() })(`+control+`); 0`)
		if value == "" {
			require.NoError(t, p.Do(chromedp.KeyEvent(kb.Backspace)))
		}
		keys(t, p, value)
		eval[any](t, p, control+`.dispatchEvent(new Event("change", {bubbles: true})); 0`) // as when it loses the keyboard
	}
	require.NoError(t, p.Wait(fmt.Sprintf("%s.value == %q", control, value)), "it has the keyboard: %s", eval[string](t, p, `document.activeElement.outerHTML.slice(0, 80)`))
}

const copied = `(window.copied = "", Object.defineProperty(navigator, "clipboard", {configurable: true, value: {writeText: async text => { window.copied = text }, write: async ([item]) => { window.copied = await (await item.getType("text/plain")).text(); window.copiedRich = await (await item.getType("text/html")).text() }}}), 0)`

// Somebody without an account finds a starter, sets it, signs up, publishes and has a snippet
// on the clipboard. The number of actions is counted by TestJobs.
func TestFromGalleryToSnippet(t *testing.T) {
	p := tab(t)
	require.NoError(t, p.Go(demo.Manage+"/"))
	require.NoError(t, p.Wait(galleryDrawn))
	// Every starter is drawn, each in its own card's window.
	gallery, err := api.Gallery(t.Context())
	require.NoError(t, err)
	starters := 0
	for _, w := range gallery.Widgets {
		starters += max(1, len(w.Starters))
	}
	require.NoError(t, p.Wait(fmt.Sprintf(`document.querySelector("iframe").dataset.drawn == %d`, starters)))
	inFrame(t, p, "/gallery", fmt.Sprintf(`document.querySelectorAll(".cell").length == %d && [...document.querySelectorAll(".cell .page > *")].every(s => s.shadowRoot)`, starters))
	// What is out of sight is laid out before anybody scrolls to it.
	require.NoError(t, p.Wait(fmt.Sprintf(`document.querySelector("iframe").dataset.laidOut == %d`, starters)))
	inFrame(t, p, "/gallery", `[...document.querySelectorAll(".cell")].every(c => c.style.contentVisibility == "visible") && [...document.querySelectorAll(".page:not(.floats) > *")].every(s => s.offsetHeight > 20)`)
	fill(t, p, "input[type=search]", "rings")
	require.NoError(t, p.Wait(`document.querySelectorAll("[data-window]").length == 1`))

	eval[any](t, p, `document.querySelector("main li button").click(); 0`) // 1
	require.NoError(t, p.Wait(`location.pathname.startsWith("/pockets/") && document.querySelector("iframe")?.dataset.drawn > 0 && document.body.innerText.includes("You can edit this without an account")`))
	key := strings.TrimPrefix(eval[string](t, p, "location.pathname"), "/pockets/")
	fill(t, p, "#setting-target", "2099-01-01T12:00") // 3
	require.NoError(t, p.Wait(saved))
	// The draft is waiting on another device too.
	link := eval[string](t, p, copied+`, [...document.querySelectorAll("button")].find(b => b.innerText == "Copy link for another device").click(), new Promise(r => setTimeout(() => r(window.copied)))`)
	other := tab(t)
	require.NoError(t, other.Go(link))
	require.NoError(t, other.Wait(fmt.Sprintf(`location.pathname == "/pockets/%s" && document.querySelector("#setting-target")?.value.startsWith("2099-01-01")`, key)))

	eval[any](t, p, copied)
	formPart(t, p, "Publish")
	press(t, p, "Plain HTML")
	fill(t, p, "#new-name", "tarn@the-boats.example")
	fill(t, p, "#new-password", "boats in the evening")
	press(t, p, "Sign up and publish")
	require.NoError(t, p.Wait(`window.copied.includes("<script async")`))
	assert.Equal(t, strings.Join(snippet(t, key, "script"), "\n"), eval[string](t, p, "window.copied"))
	mine, err := api.Pocket(t.Context(), key)
	require.NoError(t, err)
	assert.Equal(t, [2]any{"tarn", 1}, [2]any{mine.Customer, mine.Publication})
	require.NoError(t, other.Do(chromedp.Reload()))
	require.NoError(t, other.Wait(`document.querySelector("[role=alert]") || document.querySelector("h1")`))
	assert.NotContains(t, eval[string](t, other, "document.body.innerText"), "Draft saved", "the link has done its work")
}

// A card is as tall as what it shows, on a phone too: the window of a bar is not that of a portrait.
func TestGalleryCardsFit(t *testing.T) {
	p, err := chromium.Open(390, 800)
	require.NoError(t, err)
	t.Cleanup(p.Close)
	require.NoError(t, p.Go(demo.Manage+"/gallery"))
	require.NoError(t, p.Wait(`document.querySelector("iframe")?.dataset.laidOut > 3`))
	bar := `document.querySelector("[data-window='countdown/tideline']")`
	require.NoError(t, p.Wait(bar+`.getBoundingClientRect().height < 140`))
	high := `[...document.querySelectorAll("[data-window^='countdown/']")].map(w => Math.round(w.getBoundingClientRect().height / w.clientWidth * 100))`
	require.NoError(t, p.Wait(high+`.every(share => share > 15 && share < 60)`), "each is lower than a card without its picture, %v", eval[[]int](t, p, high))
	assert.Greater(t, eval[int](t, p, `new Set(`+high+`).size`), 2, "and as high as its own widget")
}

// An invitation's link is shown once, makes somebody one of a customer's people, and is used up.
func TestInvitationInConsole(t *testing.T) {
	t.Parallel()
	_, err := api.MakeCustomer(t.Context(), wire.NewCustomer{ID: "inviting", Name: "The Inviting"})
	require.NoError(t, err)
	p := signedIn(t)
	require.NoError(t, p.Go(demo.Manage+"/customers/inviting"))
	require.NoError(t, p.Wait(`(document.querySelectorAll("[role=tab]")[2]?.click(), [...document.querySelectorAll("button")].some(b => b.innerText == "Invite somebody"))`))
	press(t, p, "Invite somebody")
	fill(t, p, "#who", "Runa")
	pressInDialog(t, p, "Make link")
	require.NoError(t, p.Wait(`document.querySelector("[role=dialog] pre")`))
	link := eval[string](t, p, `document.querySelector("[role=dialog] pre").innerText`)
	runa := tab(t)
	require.NoError(t, runa.Go(link))
	require.NoError(t, runa.Wait(`document.body.innerText.includes("Join The Inviting") && document.body.innerText.includes("invites Runa")`))
	fill(t, runa, "#name", "runa@inviting.example")
	fill(t, runa, "#password", "clay and a long evening")
	press(t, runa, "Join")
	require.NoError(t, runa.Wait(`location.pathname == "/" && document.querySelector("h1")?.innerText == "Pockets" && document.body.innerText.includes("There are no pockets yet")`))
	again := tab(t)
	require.NoError(t, again.Go(link))
	require.NoError(t, again.Wait(`document.querySelector("[role=alert]")?.innerText.includes("has already been used by runa@inviting.example")`))
}

// A change of brand shows what it changes, with images, and then changes it.
func TestBrandInConsole(t *testing.T) {
	t.Parallel()
	ctx := t.Context()
	_, err := api.MakeCustomer(ctx, wire.NewCustomer{ID: "branding", Name: "The Branding"})
	require.NoError(t, err)
	p := signedIn(t)
	require.NoError(t, p.Go(demo.Manage+"/customers/branding"))
	at := func(label string) string {
		return fmt.Sprintf(`[...document.querySelectorAll("fieldset > div")].find(d => d.innerText.startsWith(%q))`, label)
	}
	require.NoError(t, p.Wait(at("Accent")))
	eval[any](t, p, at("Accent")+`.querySelector("button").click(); 0`)
	require.NoError(t, p.Wait(at("Accent")+`.querySelector("input")`))
	press(t, p, "Save brand")
	require.NoError(t, p.Wait(`document.body.innerText.includes("New pockets use this brand")`))
	// No pocket refers to it, so the page explains how to make one refer to it.
	const how = `document.querySelector("main").innerText.includes("To use a brand value in an existing pocket")`
	require.NoError(t, p.Wait(how+` && document.querySelector("main").innerText.includes("Choose “brand: Accent” there")`))
	made, err := api.MakePocket(ctx, wire.NewPocket{Customer: "branding", Widget: "countdown", Starter: "harbour"})
	require.NoError(t, err)
	set(t, made.Key, map[string]any{"target": "2099-01-01T00:00[UTC]"})
	publish(t, made.Key)
	fillIn(t, p, at("Accent")+`.querySelector("input.font-mono")`, "#aa3300")
	press(t, p, "Save brand")
	require.NoError(t, p.Wait(`document.querySelector("[role=dialog]")?.innerText.includes("One pocket changes") && document.querySelectorAll("[role=dialog] iframe").length == 2`))
	pressInDialog(t, p, "Change pockets")
	require.NoError(t, p.Wait(`document.body.innerText.includes("Every visitor sees the change within a minute") && !`+how))
	_, text := send(t, "GET", demo.Public+"/s/"+made.Key+".json", "")
	assert.Contains(t, text, `"--accent":"#aa3300"`)
	// In the pocket's form it is the brand's, until somebody wants one of its own.
	require.NoError(t, p.Go(demo.Manage+"/pockets/"+made.Key))
	require.NoError(t, p.Wait(`document.querySelector("iframe")?.dataset.drawn > 0`))
	formPart(t, p, "Look")
	const reset = `document.querySelector("[data-path=accent] button[aria-label^=Reset]")`
	require.NoError(t, p.Wait(`document.querySelector("[data-path=accent] select")`))
	assert.Equal(t, []string{"own", "brand: Accent"}, eval[[]string](t, p, `[...document.querySelector("[data-path=accent] select").options].slice(0, 2).map(o => o.innerText)`), "the words of the explanation")
	assert.True(t, eval[bool](t, p, reset+` == null`), "it is reset")
	fill(t, p, "[data-path=accent] select", "")
	require.NoError(t, p.Wait(`document.querySelector("#setting-accent")?.value == "#aa3300"`))
	eval[any](t, p, reset+`.click(); 0`)
	require.NoError(t, p.Wait(reset+` == null && document.querySelector("[data-path=accent] select").value == "accent"`))
	require.NoError(t, p.Wait(saved))

	// Two people change the brand: each keeps what only they have changed.
	require.NoError(t, p.Go(demo.Manage+"/customers/branding"))
	require.NoError(t, p.Wait(at("Accent")+`?.querySelector("input")`))
	brand, err := api.Brand(ctx, "branding")
	require.NoError(t, err)
	_, err = api.ChangeBrand(ctx, "branding", brand.Revision, append(brand.Values, setting.BrandValue{Name: "ink", Type: "colour", Value: "#112233"}))
	require.NoError(t, err)
	fillIn(t, p, at("Accent")+`.querySelector("input.font-mono")`, "#0033aa")
	press(t, p, "Save brand")
	pressInDialog(t, p, "Change pockets")
	require.NoError(t, p.Wait(`document.querySelector("[role=alert]")?.innerText.includes("Added from them: Text.")`))
	press(t, p, "Save brand")
	pressInDialog(t, p, "Change pockets")
	require.NoError(t, p.Wait(`document.body.innerText.includes("Every visitor sees the change within a minute")`))
	brand, err = api.Brand(ctx, "branding")
	require.NoError(t, err)
	assert.Equal(t, []any{"#112233", "#0033aa"}, []any{brandValue(brand, "ink"), brandValue(brand, "accent")})
}

func brandValue(b wire.Brand, name string) any {
	for _, v := range b.Values {
		if v.Name == name {
			return v.Value
		}
	}
	return nil
}

// Where there are hundreds of customers, each is still found: in their list, for a new pocket,
// and to see theirs.
func TestHundredsOfCustomers(t *testing.T) {
	t.Parallel()
	d, err := service.StartDemo("")
	require.NoError(t, err)
	defer d.Kill()
	var all errgroup.Group
	all.SetLimit(16)
	for i := range 220 {
		all.Go(func() error {
			_, err := d.Client().MakeCustomer(t.Context(), wire.NewCustomer{ID: fmt.Sprintf("isle-%03d", i), Name: fmt.Sprintf("Isle Works %d", i)})
			return err
		})
	}
	require.NoError(t, all.Wait())
	p := signedInAt(t, d)
	require.NoError(t, p.Go(d.Manage+"/customers"))
	require.NoError(t, p.Wait(`document.querySelectorAll("main li").length == 200`))
	press(t, p, "Show more")
	require.NoError(t, p.Wait(`document.querySelectorAll("main li").length > 220`))
	fill(t, p, "main input[type=search]", "works 219")
	require.NoError(t, p.Wait(`document.querySelectorAll("main li").length == 1 && document.querySelector("main li a").innerText == "Isle Works 219"`))
	fill(t, p, "main input[type=search]", "nobody at all")
	require.NoError(t, p.Wait(`document.body.innerText.includes("No customers match this search")`))
	assert.Empty(t, axe(t, p))

	require.NoError(t, p.Go(d.Manage+"/gallery"))
	require.NoError(t, p.Wait(galleryDrawn))
	press(t, p, "Harbour")
	require.NoError(t, p.Wait(`document.querySelector("input#for-customer")?.value === ""`), "nobody is chosen before somebody chooses")
	fill(t, p, "#for-customer", "works 219")
	require.NoError(t, p.Wait(`document.querySelector("#for-customer").value == "Isle Works 219"`), "the only one that is left is meant")
	pressInDialog(t, p, "Use this starter")
	require.NoError(t, p.Wait(`location.pathname.startsWith("/pockets/")`))
	require.NoError(t, p.Go(d.Manage+"/"))
	require.NoError(t, p.Wait(`[...document.querySelectorAll("tbody td")].some(td => td.innerText == "Isle Works 219")`))
	fill(t, p, "input#of-customer", "Isle Works 219")
	require.NoError(t, p.Wait(`document.querySelectorAll("tbody tr").length == 1`))
	fill(t, p, "input#of-customer", "nobody at all")
	require.NoError(t, p.Wait(`document.querySelector("#of-customer").ariaInvalid == "true"`))
	assert.Empty(t, axe(t, p))
	fill(t, p, "input#of-customer", "")
	require.NoError(t, p.Wait(`document.querySelectorAll("tbody tr").length > 1`))
}

// Whoever has an account, and began before they signed in, has what they set: even when taking it
// over fails the first time.
func TestGuestPocketBeforeSigningIn(t *testing.T) {
	ctx := t.Context()
	_, err := api.MakeCustomer(ctx, wire.NewCustomer{ID: "came-later", Name: "Came Later"})
	require.NoError(t, err)
	link, err := api.Invite(ctx, "came-later", wire.NewInvitation{Role: "customer-editor"})
	require.NoError(t, err)
	const name, password = "sula@came-later.example", "lamps along the pier"
	_, err = visitor(t, http.DefaultTransport).Join(ctx, wire.Join{Secret: link.Secret, Name: name, Password: password})
	require.NoError(t, err)

	p := tab(t)
	require.NoError(t, p.Go(demo.Manage+"/gallery"))
	require.NoError(t, p.Wait(galleryDrawn))
	press(t, p, "Harbour")
	fill(t, p, "#setting-heading", "Set before signing in")
	require.NoError(t, p.Wait(saved))
	key := strings.TrimPrefix(eval[string](t, p, "location.pathname"), "/pockets/")
	press(t, p, "Sign up")
	press(t, p, "Sign in instead")
	eval[any](t, p, `{ const real = fetch; window.fetch = (at, ask) => String(at).endsWith("/guest-pockets/claims") && !window.reached ? Promise.reject(new TypeError("unreachable")) : real(at, ask) } 0`)
	fill(t, p, "#name", name)
	fill(t, p, "#password", password)
	press(t, p, "Sign in")
	require.NoError(t, p.Wait(`location.pathname == "/resume" && document.querySelector("[role=alert]")`))
	eval[any](t, p, `window.reached = true`)
	press(t, p, "Try again")
	require.NoError(t, p.Wait(fmt.Sprintf(`location.pathname == "/pockets/%s" && document.querySelector("#setting-heading")?.value == "Set before signing in"`, key)))
	mine, err := api.Pocket(ctx, key)
	require.NoError(t, err)
	assert.Equal(t, "came-later", mine.Customer)
}

// Many pockets are found, put in order, picked, and worked on with progress.
func TestManyPockets(t *testing.T) {
	t.Parallel()
	ctx := t.Context()
	_, err := api.MakeCustomer(ctx, wire.NewCustomer{ID: "many-of-them", Name: "Many of them"})
	require.NoError(t, err)
	for i := range 60 {
		_, err := api.MakePocket(ctx, wire.NewPocket{Key: fmt.Sprintf("many-%02d", i), Customer: "many-of-them", Widget: "ticker", Title: fmt.Sprintf("Notice %02d", 59-i)})
		require.NoError(t, err)
	}
	p := signedIn(t)
	require.NoError(t, p.Go(demo.Manage+"/"))
	fill(t, p, "input[type=search]", "notice")
	require.NoError(t, p.Wait(`document.querySelector("option[value=many-of-them]")`))
	fill(t, p, "select[aria-label=Customer]", "many-of-them")
	fill(t, p, "select[aria-label=Order]", "title")
	require.NoError(t, p.Wait(`document.querySelector("tbody a")?.innerText == "Notice 00" && document.querySelectorAll("tbody tr").length == 50`))
	press(t, p, "Show more")
	require.NoError(t, p.Wait(`document.querySelectorAll("tbody tr").length == 60 && [...document.querySelectorAll("tbody a")].at(-1).innerText == "Notice 59"`), "%v", eval[string](t, p, `document.querySelectorAll("tbody tr").length + " " + document.body.innerText.slice(-300) + performance.getEntriesByType("resource").filter(e => e.name.includes("/pockets?")).map(e => e.name).join(" ")`))
	require.NoError(t, p.Do(chromedp.Reload()))
	require.NoError(t, p.Wait(`document.querySelector("option[value=many-of-them]")`))
	fill(t, p, "select[aria-label=Customer]", "many-of-them")
	require.NoError(t, p.Wait(`document.querySelectorAll("tbody tr").length == 50 && [...document.querySelectorAll("tbody td:nth-child(3)")].every(td => td.innerText == "Many of them")`))
	eval[any](t, p, `document.querySelector("thead input").click(); 0`)
	press(t, p, "Select all in this list")
	press(t, p, "Publish…")
	pressInDialog(t, p, "Publish")
	require.NoError(t, p.Wait(`[...document.querySelectorAll("[role=status]")].some(e => e.innerText == "60 pockets published")`), "%v", eval[string](t, p, `document.querySelector("main").innerText.slice(0, 600)`))
	require.NoError(t, p.Wait(`[...document.querySelectorAll("tbody tr")].every(r => r.innerText.includes("Published"))`))
	list, err := api.ListPockets(ctx, client.PocketList{List: wire.List{Customer: "many-of-them", State: "published"}, Limit: 200})
	require.NoError(t, err)
	assert.Len(t, list.Pockets, 60)
	assert.Empty(t, axe(t, p))
	fill(t, p, "input[type=search]", "nothing is called so")
	require.NoError(t, p.Wait(`document.body.innerText.includes("No pockets match these filters")`))
	press(t, p, "Show all")
	require.NoError(t, p.Wait(`document.querySelectorAll("tbody tr").length == 50`))
}

// People search for widgets by what they call them, and for settings too.
func TestSearchInOtherWords(t *testing.T) {
	t.Parallel()
	p := signedIn(t)
	require.NoError(t, p.Go(demo.Manage+"/gallery"))
	require.NoError(t, p.Wait(galleryDrawn))
	found := `[...new Set([...document.querySelectorAll("main section h2")].map(e => e.innerText))].join()`
	for word, widget := range map[string]string{"timer": "Countdown", "sale": "Countdown", "testimonials": "Reviews", "slider": "Card carousel", "coupon": "Pop-up", "discount": "Pop-up", "team": "Person card", "marquee": "Ticker", "banner": "Content section", "Gutschein": "Pop-up"} {
		types(t, p, "main input[type=search]", word)
		require.NoError(t, p.Wait(fmt.Sprintf(`%s.includes(%q)`, found, widget)), "%s finds %s", word, eval[string](t, p, found))
		require.NoError(t, p.Wait(found+`.split(",").length < 5`), "and not everything")
	}
	types(t, p, "main input[type=search]", "zebra")
	require.NoError(t, p.Wait(`document.querySelector("main").innerText.includes("No widgets match “zebra”.")`))

	_, err := api.MakePocket(t.Context(), wire.NewPocket{Key: "searched", Customer: plain, Widget: "reviews", Starter: "shelf", Title: "Searched"})
	require.NoError(t, err)
	require.NoError(t, p.Go(demo.Manage+"/pockets/searched"))
	for word, path := range map[string]string{"font": "typeface", "size": "width", "sort": "reviews", "hide": "parts", "dark": "surface", "bold": "typeface", "language": "pocket/language", "home page": "pocket/cues"} {
		types(t, p, "#find-setting", word)
		require.NoError(t, p.Wait(`document.querySelector('form [data-path="`+path+`"]')`), word)
	}
}
