package jobs

import (
	"context"
	"fmt"
	"os"
	"path/filepath"
	"strings"
)

// Job is something that people do every day.
type Job struct {
	Name   string
	About  string
	Budget int                      // largest number of actions
	Phone  bool                     // also on a phone, within one more action
	Pastes bool                     // it uses the clipboard, which all tabs share
	do     func(w *World, a *Actor) // ends with what the job is for
}

// All are the jobs, in order.
var All = []Job{
	{"A", "No account: a countdown with its end date, published with a sign-up, for a blog's home page", 8, true, false, guest},
	{"B", "A ticker: speed, direction, two colours, own text, font, size and an image, for a builder with free placement", 10, false, false, ticker},
	{"C", "A section: title, text, greeting, title size, letter spacing and space, for a shop of stacked sections", 8, false, false, section},
	{"D", "Cards: the text of one, and another layout, for a builder that holds scripts", 5, false, false, cards},
	{"E", "A developer: HTML, CSS and JavaScript become a widget, released, three times on one page, and duplicated", 11, false, true, card},
	{"F", "A developer: a pasted reading bar with a colour and a gradient as settings, released, in other colours, published", 12, false, true, bar},
	{"G", "A voucher pop-up: title, text, code, two colours, after five seconds", 8, true, false, voucher},
	{"H", "Reviews: three pasted, dark, in a grid, two at first", 6, false, true, reviews},
	{"K", "No account: the posts of a profile, found by its name, published with a sign-up", 8, true, false, posts},
	{"I", "The accent of a published pocket", 3, true, false, accent},
	{"J", "The steps for a colleague without an account", 2, false, false, steps},
}

// Run performs a job, and returns the actor with its count.
func (j Job) Run(w *World, width, height int, keys bool) (*Actor, error) {
	return w.Act(width, height, keys, func(a *Actor) { j.do(w, a) })
}

// starter presses a starter's card, and waits for the editor.
func (a *Actor) starter(widget, title string) {
	a.Wait(`document.querySelector("[data-window]")`)
	a.Click("starter "+title, fmt.Sprintf(`[...[...document.querySelectorAll("section[aria-labelledby^=group-]")].find(s => s.querySelector("h2, h3").innerText == %q).querySelectorAll("li button")].find(b => b.innerText == %q)`, widget, title))
	a.editor()
}

func (a *Actor) editor() {
	a.Wait(`location.pathname.startsWith("/pockets/") && document.querySelector("iframe[src$='/preview']")?.dataset.drawn > 0 && document.querySelector("[data-part=publish] li button")`)
}

func setting(key string) string { return fmt.Sprintf(`document.querySelector("#setting-%s")`, key) }

func segment(key, label string) string {
	return fmt.Sprintf(`[...document.querySelectorAll("[data-path='%s'] [role=radio]")].find(b => b.innerText == %q)`, key, label)
}

// publishFor presses a host, and returns the snippet that is on the clipboard.
func (a *Actor) publishFor(host string) string {
	a.host(host)
	return a.installed()
}

func (a *Actor) host(host string) {
	a.Click("publish for "+host, fmt.Sprintf(`[...document.querySelectorAll("[data-part=publish] li button")].find(b => b.innerText.startsWith(%q))`, host))
}

// installed waits until the steps show, and it is said that the snippet is copied.
func (a *Actor) installed() string {
	a.Wait(`location.pathname.endsWith("/install") && [...document.querySelectorAll("[role=status]")].some(e => /Published as number 1.*copied/.test(e.innerText.replace(/\n/g, " ")))`)
	a.Wait(`document.querySelector("#steps-heading")?.getClientRects().length`)
	return a.Copied()
}

func guest(w *World, a *Actor) {
	a.Go(w.Manage + "/")
	a.starter("Countdown", "Harbour")
	a.Fill("end date", setting("target"), "2097-03-01T18:00")
	a.Click("home page", `[...document.querySelectorAll("[data-part=publish] [role=radio]")].find(b => b.innerText == "Home page")`)
	a.host("Blog")
	a.Fill("sign-in name", `document.querySelector("#new-name")`, w.suffix+"@kelp.example")
	a.Fill("password", `document.querySelector("#new-password")`, password)
	a.Click("sign up and publish", `[...document.querySelectorAll("button")].find(b => b.innerText == "Sign up and publish")`)
	snippet := a.installed()
	w.visit(a, snippet, "/", `root()?.querySelector(".digits").getClientRects().length`)
	w.visit(a, snippet, "/elsewhere", `document.readyState == "complete" && performance.getEntriesByType("resource").some(e => e.name.includes("/s/") && e.responseEnd) && root() && !root().querySelector(".digits").getClientRects().length`)
}

func ticker(w *World, a *Actor) {
	w.customer(a)
	a.Go(w.Manage + "/")
	a.starter("Ticker", "Quay")
	a.Fill("text", setting("entries"), "The kiln opens on Friday")
	a.image("image", `document.querySelector("[data-path=entries] [role=group]")`, `document.querySelector("#setting-entries")`)
	a.Fill("speed", setting("speed"), "25")
	a.Click("direction", segment("way", "Towards the end"))
	a.Fill("background", setting("surface"), "#102030")
	a.Fill("text colour", setting("ink"), "#fefefe")
	a.Fill("size", setting("size"), "21")
	a.Choose("font", setting("typeface"), "Book")
	w.visit(a, a.publishFor("Free placement"), "/", `root().textContent.includes("The kiln opens on Friday") && root().querySelector("img") && (s => s.getPropertyValue("--surface") == "#102030" && s.getPropertyValue("--ink") == "#fefefe" && s.getPropertyValue("--size") == "21px")(root().querySelector(".pocket").style)`)
}

// image drops an image file, or with the keyboard, pastes one.
func (a *Actor) image(what, onto, into string) {
	if a.Keys {
		Eval[any](a, `new Promise(done => { const c = document.createElement("canvas"); c.width = c.height = 8; c.toBlob(b => navigator.clipboard.write([new ClipboardItem({"image/png": b, "text/plain": new Blob([""], {type: "text/plain"})})]).then(() => { window.copiedText = ""; done(0) })) })`)
		a.find(into)
		a.reach()
		a.command("v", "paste")
		a.did(what)
	} else {
		dir, err := os.MkdirTemp("", "jobs")
		must(err, "making the image", a)
		file := filepath.Join(dir, "bowl.svg")
		must(os.WriteFile(file, []byte(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 8 8"><path d="M1 3h6l-1 4H2z" fill="#0b6b63"/></svg>`), 0o644), "making the image", a)
		defer os.RemoveAll(dir)
		a.Drop(what, onto, file)
	}
	a.Wait(`document.querySelectorAll("[data-path=entries] [data-item]").length == 2`)
}

func section(w *World, a *Actor) {
	w.customer(a)
	a.Go(w.Manage + "/")
	a.starter("Content section", "Orchard")
	a.Fill("title", setting("title"), "Evenings at the kiln")
	a.Fill("greeting", setting("greeting"), "Good evening")
	a.Fill("text", setting("text"), "Bring an apron.")
	a.Fill("title size", setting("titleSize"), "44")
	a.Fill("letter spacing", setting("titleSpacing"), "0.05")
	a.Fill("space above and below", `document.querySelector("[data-path=margin] input")`, "24")
	w.visit(a, a.publishFor("Shop with sections, but none"), "/", `["Evenings at the kiln", "Good evening", "Bring an apron."].every(words => root().textContent.includes(words)) && (s => s.getPropertyValue("--title-size") == "44px" && s.getPropertyValue("--title-spacing") == "0.05em" && s.getPropertyValue("--margin").startsWith("24px"))(root().querySelector(".pocket").style)`)
}

func cards(w *World, a *Actor) {
	w.customer(a)
	a.Go(w.Manage + "/")
	a.starter("Card carousel", "Shore walk")
	a.Click("first card", `document.querySelector("[data-path=cards] [data-item]")`)
	a.Fill("its text", `document.querySelector("[data-path='cards/0/text'] input, [data-path='cards/0/text'] textarea")`, "Low tide at nine")
	a.Choose("layout", setting("layout"), "Deck")
	snippet := a.publishFor("Builder that blocks scripts")
	w.visit(a, snippet, "/", `root().textContent.includes("Low tide at nine") && root().querySelector(".pocket").dataset.layout == "deck"`)
}

const cardHTML = `<article class="card"><img class="face" src="data:image/svg+xml,%3Csvg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 8 8'%3E%3Ccircle cx='4' cy='4' r='4' fill='%230b6b63'/%3E%3C/svg%3E" alt="Eske"><h2>Eske Lindqvist-Moor</h2><p>Fires the kiln.</p></article>`
const cardCSS = `.card { display: grid; gap: 8px; padding: 20px; }
.card .face { width: 64px; height: 64px; }`
const cardJS = `const card = document.querySelector(".card");
card.addEventListener("click", () => card.classList.toggle("open"));`

func card(w *World, a *Actor) {
	w.developer(a)
	a.Go(w.Manage + "/")
	a.Click("new widget", `[...document.querySelectorAll("aside a")].find(e => e.innerText == "New widget")`)
	a.Wait(`document.activeElement.localName == "textarea"`)
	a.Paste("HTML", "", strings.Replace(cardHTML, "Eske Lindqvist-Moor", "Eske of "+w.suffix, 1))
	a.Wait(`document.querySelector("#proposals-heading")`)
	a.Paste("CSS", "", cardCSS)
	a.Paste("JavaScript", "", cardJS)
	a.Wait(`document.querySelectorAll("[aria-label='Pasted pieces'] li").length == 3 && document.querySelector("section[aria-busy=false]")`)
	for _, label := range []string{"Image", "Title", "Description"} {
		a.Wait(fmt.Sprintf(`document.querySelector("input[aria-label^='Make “%s']").checked`, label))
	}
	name := Eval[string](a, `document.querySelector("input.font-mono").value`)
	a.Click("make widget", `[...document.querySelectorAll("button")].find(b => b.innerText == "Make widget")`)
	a.release()
	a.Click("duplicate the widget", `[...document.querySelectorAll("header button")].find(b => b.innerText == "Duplicate")`)
	a.Wait(`[...document.querySelectorAll("[role=status]")].some(e => e.innerText.includes("Duplicated as"))`)
	a.Fill("how many", `document.querySelector("[aria-label='How many pockets']")`, "3")
	a.Click("make pockets", `[...document.querySelectorAll("button")].find(b => b.innerText == "Make 3 pockets")`)
	a.Wait(`location.pathname == "/" && document.querySelectorAll("tbody input:checked").length == 3`)
	a.Click("publish for", `[...document.querySelectorAll("button")].find(b => b.innerText == "Publish for…")`)
	a.Click("plain HTML", `[...document.querySelectorAll("[role=dialog] li button")].find(b => b.innerText.startsWith("Plain HTML"))`)
	a.Wait(`[...document.querySelectorAll("[role=status]")].some(e => e.innerText.includes("3 pockets are published"))`)
	w.visit(a, a.Copied(), "/", fmt.Sprintf(`[0, 1, 2].every(i => root(i).textContent.includes("Eske of %s"))`, w.suffix))
	_, err := w.API.WidgetDraft(context.Background(), name+"-copy")
	must(err, "reading the duplicate", a)
}

// release presses Release on the worktop, and waits for the release.
func (a *Actor) release() {
	a.Wait(`location.pathname.startsWith("/worktop/") && document.querySelector("section[aria-label=Messages]")?.innerText.includes("You can release this draft") || document.querySelector("section[aria-label=Messages] .text-warn")`)
	a.Click("release", `[...document.querySelectorAll("header button")].find(b => b.innerText == "Release")`)
	a.Wait(`[...document.querySelectorAll("[role=status]")].some(e => e.innerText.includes("Made release 1"))`)
}

const barPage = `<!doctype html><html lang="en"><head><title>Reading bar %s</title><style>
.track { height: 24px; background: #d7ebe6; }
.track .bar { height: 24px; width: 40%%; background: linear-gradient(90deg, #0b6b63 0%%, #17233a 100%%); }
</style></head><body><div class="track"><div class="bar"></div></div></body></html>`

func bar(w *World, a *Actor) {
	w.developer(a)
	a.Go(w.Manage + "/")
	a.Click("new widget", `[...document.querySelectorAll("aside a")].find(e => e.innerText == "New widget")`)
	a.Wait(`document.activeElement.localName == "textarea"`)
	a.Paste("page", "", fmt.Sprintf(barPage, w.suffix))
	a.Wait(`document.querySelectorAll("[aria-labelledby=proposals-heading] li").length >= 2`)
	a.Press("accept the proposals", "Enter")
	a.release()
	a.Click("make a pocket", `[...document.querySelectorAll("button")].find(b => b.innerText == "Make a pocket")`)
	a.editor()
	a.Fill("colour", setting("backgroundOfTrack"), "#fdf1d4")
	stops := `[...document.querySelectorAll("[data-path=backgroundOfBar] input[aria-label*=': colour ']:not([type=number], [type=color])")]`
	a.Fill("first colour", stops+`[0]`, "#b4532a")
	a.Fill("second colour", stops+`[1]`, "#f0c93a")
	a.Fill("angle", `[...document.querySelectorAll("[data-path=backgroundOfBar] label")].find(l => l.innerText.startsWith("Angle")).querySelector("input")`, "45")
	w.visit(a, a.publishFor("Plain HTML"), "/", `(s => s.getPropertyValue("--background-of-track") == "#fdf1d4" && /45deg.*#b4532a.*#f0c93a/.test(s.getPropertyValue("--background-of-bar")))(root().querySelector(".pocket").style)`)
}

func voucher(w *World, a *Actor) {
	w.customer(a)
	a.Go(w.Manage + "/")
	a.starter("Pop-up", "Boat ticket")
	a.Fill("title", setting("title"), "Ten percent off")
	a.Fill("text", setting("text"), "Until Sunday.")
	a.Fill("code", setting("code"), "KILN10")
	a.Fill("delay", setting("after"), "5")
	a.Fill("background", setting("surface"), "#102030")
	a.Fill("text colour", setting("ink"), "#fefefe")
	w.visit(a, a.publishFor("Blog"), "/", `root()?.textContent.includes("Ten percent off") && root().textContent.includes("KILN10") && root().querySelector(".pocket").style.getPropertyValue("--surface") == "#102030"`)
	settings, err := w.API.Draft(context.Background(), strings.TrimSuffix(strings.TrimPrefix(Eval[string](a, `location.pathname`), "/pockets/"), "/install"))
	must(err, "reading the draft", a)
	if !strings.Contains(string(settings.Settings), `"after":"PT5S"`) {
		must(fmt.Errorf("the settings are %s", settings.Settings), "checking the delay", a)
	}
}

func reviews(w *World, a *Actor) {
	w.customer(a)
	a.Go(w.Manage + "/")
	a.starter("Reviews", "Spotlight")
	a.Wait(`document.activeElement.id == "connect-reviews"`)
	a.Paste("three reviews", "", "Name\tStars\tText\nEske\t5\t\"She said \"\"warm\"\", and left\nwith a bowl\"\nMirre\t4\tWorth the crossing\nTjark\t5\tFirst boat, last mug\n")
	a.Wait(`document.querySelectorAll("[data-path=reviews] [data-item]").length == 3`)
	a.Choose("layout", setting("layout"), "Grid")
	a.Fill("shown at first", setting("shown"), "2")
	w.visit(a, a.publishFor("Plain HTML"), "/", `root().querySelectorAll(".review").length == 2 && root().querySelector(".next").textContent == "Show 1 more" && root().textContent.includes('She said "warm", and left') && root().querySelector(".pocket").style.getPropertyValue("--surface") == "#16203a"`)
}

// posts takes five actions, and three for the sign-up.
func posts(w *World, a *Actor) {
	a.Go(w.Manage + "/")
	a.starter("Feed", "Jetty")
	a.Wait(`document.activeElement.id == "connect-posts"`)
	a.Fill("the profile", `document.querySelector("#connect-posts")`, "@kiln@"+strings.TrimPrefix(w.Skerry, "http://"))
	a.Press("find it", "Enter")
	a.Wait(`document.activeElement.name == "candidate-posts" && document.querySelectorAll("li .line-clamp-1").length > 2`)
	a.Press("take it", "Enter")
	a.Wait(`document.body.innerText.includes("Connected when you sign up")`)
	a.host("Plain HTML")
	a.Fill("sign-in name", `document.querySelector("#new-name")`, w.suffix+"@kelp.example")
	a.Fill("password", `document.querySelector("#new-password")`, password)
	a.Click("sign up and publish", `[...document.querySelectorAll("button")].find(b => b.innerText == "Sign up and publish")`)
	w.visit(a, a.installed(), "/", `root()?.querySelectorAll(".post").length > 2 && root().textContent.includes("sea-green batch")`)
}

func accent(w *World, a *Actor) {
	key := w.published(a, w.customer(a))
	a.Go(w.Manage + "/")
	a.Click("the pocket", `[...document.querySelectorAll("tbody a")].find(e => e.innerText == "Evenings")`)
	a.editor()
	a.Fill("accent", setting("accent"), "#b4532a")
	a.Click("publish", `[...document.querySelectorAll("header button")].find(b => b.innerText == "Publish")`)
	a.Wait(`[...document.querySelectorAll("[role=status]")].some(e => e.innerText.includes("Published as number 2"))`)
	snippets, err := w.API.Snippets(context.Background(), key, "script")
	must(err, "reading the snippet", a)
	w.visit(a, snippets.Snippets[0].Parts[0].Text, "/", `root()?.querySelector(".pocket").style.getPropertyValue("--accent") == "#b4532a"`)
}

func steps(w *World, a *Actor) {
	w.published(a, w.customer(a))
	a.Go(w.Manage + "/")
	a.Click("copy link to steps", `[...document.querySelectorAll("tbody button")].find(b => b.ariaLabel == "Copy link to steps: Evenings" && b.getClientRects().length)`)
	a.Click("rich text", `[...document.querySelectorAll("[role=dialog] li button")].find(b => b.innerText.startsWith("Rich text"))`)
	a.Wait(`[...document.querySelectorAll("[role=status]")].some(e => e.innerText.includes("is copied"))`)
	link := a.Copied()
	colleague, err := w.Browser.Open(1280, 800)
	must(err, "opening the link", a)
	defer colleague.Close()
	must(colleague.Go(link), "opening the link", a)
	must(colleague.Wait(`document.querySelector("h1")?.innerText == "“Evenings” on your site" && document.querySelector("pre")`), "reading the steps", a)
}
