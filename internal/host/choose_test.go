package host_test

import (
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/hosts"
	"glasspocket/internal/host"
	"glasspocket/internal/widget"
)

var tide = host.Subject{Base: "https://pockets.example", Key: "tide", Title: "High {tide} & low", Heights: []widget.Height{{From: 0, Height: 92}}}

func profile(t testing.TB, name string) *host.Profile {
	set, err := hosts.Shipped()
	require.NoError(t, err)
	p := set.Get(name)
	require.NotNil(t, p, name)
	return p
}

// What is chosen for each wish, where it goes, and what visitors get of it.
func TestChoose(t *testing.T) {
	for _, c := range []struct {
		host, where, delivery, places, shows string
	}{
		{"plain-page", "new", "script", "body", "widget"},
		{"plain-page", "site", "script", "end", "widget"},
		{"rich-text", "new", "split", "source+site-code", "widget"},
		{"free-placement", "new", "frame", "address-box", "frame"},
		{"shop-code-section", "existing", "split", "description+layout", "widget"},
		{"shop-stacked", "home", "script", "layout only home", "widget"},
		{"scripts-on-hold", "new", "script", "embed", "widget held"},
		{"blog", "new", "split", "post+template", "widget"},
		{"blog", "column", "script", "side", "widget"},
		{"course", "new", "frame", "text", "frame"},
		{"program", "new", "component", "source", "widget"},
		{"program", "existing", "split", "content+start", "widget"},
		{"strict-policy", "new", "sealed", "page+policy", "widget"},
		{"hugo", "new", "script", "shortcode", "widget"},
		{"hugo", "existing", "link", "content", "link"},
		{"links-page", "new", "link", "entry", "link"},
		{"mail", "new", "email", "body", "mail"},
		{"screen-source", "new", "screen", "source", "screen"},
	} {
		t.Run(c.host+" "+c.where, func(t *testing.T) {
			choice := host.Choose(profile(t, c.host), tide, host.Needs{Script: true}, c.where, host.Placing{})
			require.NotNil(t, choice.Best)
			o := *choice.Best
			places := o.Content
			for _, more := range []string{o.Script, o.Policy} {
				if more != "" {
					places += "+" + more
				}
			}
			if o.Only != "" {
				places += " only " + o.Only
			}
			shows := o.Outcome.Shows
			if o.Outcome.Held {
				shows += " held"
			}
			assert.Equal(t, []string{c.delivery, c.places, c.shows}, []string{string(o.Delivery), places, shows})
			assert.True(t, strings.HasSuffix(o.Why, ".") && strings.Count(o.Why, ". ") <= 1, "two sentences at most: %s", o.Why)
			for _, other := range choice.Others {
				assert.NotEmpty(t, other.Why, other.Delivery)
				assert.NotEqual(t, o.Delivery, other.Delivery)
			}
		})
	}
}

// What is said of a delivery on a host goes with what visitors get of it there.
func TestReasons(t *testing.T) {
	only := map[string][]string{
		"runs scripts, so":                        {"widget", "boxed", "astray"},
		"so you paste only once":                  {"widget", "boxed", "astray"},
		"A version that was checked":              {"widget", "boxed", "astray"},
		"where scripts run":                       {"boxed"},
		"Each widget is a mount point":            {"widget"},
		"shows the page at an address in a frame": {"frame", "still"},
		"keeps frames":                            {"frame", "still"},
		"embeds the page of a link":               {"frame"},
		"in a fixed size":                         {"screen"},
		"All email programs show":                 {"mail"},
		"even where everything else":              {"link"},
		"turns an address into a link":            {"link"},
		"shows an address as plain text":          {"address"},
		"This place removes scripts":              {"nothing", "link"},
		"blocks it":                               {"nothing", "link"},
		"which the site's script cannot reach":    {"link", "nothing"},
	}
	set, err := hosts.Shipped()
	require.NoError(t, err)
	said := map[string]int{}
	for _, floats := range []bool{false, true} {
		s := tide
		s.Floats = floats
		for _, p := range set.List() {
			for _, where := range p.Wheres() {
				c := host.Choose(p, s, host.Needs{Floats: floats}, where, host.Placing{})
				offers := c.Others
				if c.Best != nil {
					offers = append([]host.Offer{*c.Best}, offers...)
				}
				for _, o := range offers {
					about := p.Name + ", " + where + ", " + string(o.Delivery) + ": " + o.Why
					assert.Regexp(t, `^[A-Z][^.]*\.( [A-Z][^.]*\.)?$`, o.Why, about)
					for words, shows := range only {
						if strings.Contains(o.Why, words) {
							said[words]++
							assert.Contains(t, shows, o.Outcome.Shows, about)
						}
					}
					if whole := o.Outcome.Shows == "widget" || o.Outcome.Rank() <= 0; !whole {
						assert.NotEmpty(t, o.Loses, about)
					}
				}
			}
		}
	}
	for words := range only {
		assert.Positive(t, said[words], "%q is said somewhere", words)
	}
}

// A lesser delivery says what this very widget loses by it.
func TestWhatIsLost(t *testing.T) {
	boxes := 0
	loses := func(needs host.Needs, delivery host.Delivery) string {
		c := host.Choose(profile(t, "plain-page"), tide, needs, "new", host.Placing{})
		for _, o := range c.Others {
			if o.Delivery == delivery {
				return strings.Join(o.Loses, " ")
			}
		}
		return ""
	}
	assert.Contains(t, loses(host.Needs{Storage: true}, host.Frame), "cannot remember visitors")
	assert.NotContains(t, loses(host.Needs{}, host.Frame), "cannot remember visitors")
	assert.Contains(t, loses(host.Needs{Page: true}, host.Frame), "has no information about the page")
	assert.Contains(t, loses(host.Needs{}, host.Link), "only if they follow")
	assert.Contains(t, loses(host.Needs{}, host.Sealed), "until you replace the snippet")
	over := tide
	over.Floats = true
	c := host.Choose(profile(t, "free-placement"), over, host.Needs{Floats: true}, "new", host.Placing{})
	assert.Equal(t, host.Link, c.Best.Delivery, "what lies over the page is of little use in a frame")
	assert.Equal(t, host.Script, c.Others[0].Delivery)
	assert.Contains(t, strings.Join(c.Others[0].Loses, " "), "over its frame only")

	text, err := os.ReadFile("../../hosts/free-placement.json")
	require.NoError(t, err)
	for origin, lost := range map[string]bool{"false": true, "true": false} {
		_, p, faults := (&host.Set{}).With([]byte(strings.Replace(string(text), `"origin": false`, `"origin": `+origin, 1)))
		require.Empty(t, faults.Hard())
		c := host.Choose(p, tide, host.Needs{Storage: true}, "new", host.Placing{})
		for _, o := range append(c.Others, *c.Best) {
			if o.Outcome.Shows == "boxed" {
				assert.Equal(t, lost, strings.Contains(strings.Join(o.Loses, " "), "cannot remember visitors"), "a box of its own origin: %s", origin)
				boxes++
			}
		}
	}
	assert.Equal(t, 4, boxes, "two forms are boxed there, either way")
}

// What a place needs written otherwise is written so.
func TestWrittenForAPlace(t *testing.T) {
	parts := func(name, where string, s host.Subject, p host.Placing) []string {
		at := profile(t, name)
		c := host.Choose(at, s, host.Needs{}, where, p)
		require.NotNil(t, c.Best)
		var texts []string
		for _, part := range host.Lead(at, s, where, p, *c.Best).Parts {
			texts = append(texts, part.Text)
		}
		return texts
	}
	assert.Contains(t, parts("shop-code-section", "new", tide, host.Placing{})[0], "High &#123;tide} &amp; low", "what begins a template's own is written as a reference")
	assert.Equal(t, `<script async="async" src="https://pockets.example/loader.js"></script>`, parts("blog", "new", tide, host.Placing{})[1], "XML has no attribute without a value")
	assert.Equal(t, []string{`<a href="https://pockets.example/p/tide">High {tide} &amp; low</a>`, `<script async src="https://pockets.example/links.js"></script>`}, parts("rich-text", "new", tide, host.Placing{}))
	assert.Equal(t, []string{`[High \{tide\} \& low](https://pockets.example/p/tide)`}, parts("hugo", "existing", tide, host.Placing{}))
	assert.Equal(t, []string{"https://pockets.example/p/tide?w=800&h=92"}, parts("screen-source", "new", tide, host.Placing{Width: "800px"}))
	boxed := parts("plain-page", "new", tide, host.Placing{Width: "480px", Align: "center", Background: "#fff7e6", Shadow: "soft", Loading: "near", Fallback: "words", Words: "Soon"})[0]
	assert.Equal(t, `<div style="max-width:480px;margin:0 auto;background:#fff7e6;box-shadow:0 2px 12px #0000001f"><div data-glass-pocket="tide" style="min-height:92px">Soon</div></div>`+"\n"+`<script async src="https://pockets.example/near.js"></script>`, boxed)
	home := profile(t, "shop-stacked")
	g := host.Lead(home, tide, "home", host.Placing{}, *host.Choose(home, tide, host.Needs{}, "home", host.Placing{}).Best)
	assert.Contains(t, g.Steps[0].Say, "choose the home page")
	assert.Equal(t, `<div data-glass-pocket="tide"></div>`+"\n"+`<script async src="https://pockets.example/s/tide.js"></script>`, g.Parts[0].Text, "as it will be when the pocket chooses")
	chooses := tide
	chooses.Chooses = true
	assert.Equal(t, `<div data-glass-pocket="tide"></div>`+"\n"+`<script async src="https://pockets.example/s/tide.js"></script>`, parts("plain-page", "site", chooses, host.Placing{})[0], "most pages show nothing, and must not move")
	assert.NotContains(t, host.Lead(home, chooses, "home", host.Placing{}, *host.Choose(home, chooses, host.Needs{}, "home", host.Placing{}).Best).Steps[0].Say, "Where and when it shows", "it does already")
	react := parts("program", "new", tide, host.Placing{})[0]
	assert.Contains(t, react, `<div data-glass-pocket="tide" style={{ minHeight: "92px" }}><a href="https://pockets.example/p/tide">High &#123;tide&#125; &amp; low</a></div>`)
}

func TestPlacing(t *testing.T) {
	assert.Empty(t, host.Placing{Width: "640px", Height: 300, Align: "center", Background: "#ffffff", Shadow: "deep", Loading: "near", Fallback: "words", Words: "Soon", Framework: "vue"}.Check())
	bad := host.Placing{Width: "wide", Height: 9000, Align: "middle", Background: "red", Shadow: "hard", Loading: "lazy", Fallback: "none", Framework: "angle"}.Check()
	fields := []string{}
	for _, f := range bad {
		fields = append(fields, f.Field)
		assert.NotEmpty(t, f.Fix)
	}
	assert.ElementsMatch(t, []string{"width", "height", "align", "background", "shadow", "loading", "fallback", "framework"}, fields)
	assert.Len(t, host.Placing{Width: "120%"}.Check(), 1)
}

// A profile whose statements cannot all be so is refused where they stand.
func TestContradictions(t *testing.T) {
	whole, err := os.ReadFile("../../hosts/page-of-parts.json")
	require.NoError(t, err)
	for _, c := range []struct{ name, old, new, what string }{
		{"scripts in a text", `"as": "text"`, `"as": "text", "scripts": "run"`, "cannot allow scripts"},
		{"a policy against them", `"are": "web"`, `"are": "web", "policy": "script-src 'none'"`, "blocks all scripts"},
		{"scripts in a mail", `"are": "web"`, `"are": "mail"`, "do not work in email"},
		{"no room", `"most": 20000`, `"most": 40`, "not enough for any snippet"},
		{"a frame in the foot", `"stands": "end",` + "\n" + `      "takes": {`, `"stands": "end",` + "\n" + `      "takes": {"boxed": {"height": 9, "scripts": true, "origin": true},`, "cannot contain a frame"},
		{"a frame in which nothing runs", `"most": 20000`, `"boxed": {"height": 9, "scripts": false, "origin": false}`, "cannot run in the frame"},
		{"nothing is pasted", "Paste this: {snippet}", "Paste it.", "0 times"},
		{"a mark that is none", "Publish the page.", "Publish {page}.", "{page}, which is not a placeholder"},
		{"the same place twice", `"name": "words"`, `"name": "code"`, `two places named "code"`},
		{"a pitfall of nowhere", "\"places\": [\n        \"code\"", "\"places\": [\n        \"attic\"", `no place "attic"`},
		{"the column's steps elsewhere", `"existing": [`, `"column": [`, "elsewhere on the page"},
		{"an unknown word", `"shows": "result"`, `"shows": "resulted"`, `"shows" cannot be "resulted"`},
		{"a number that is none", `"most": 20000`, `"most": -1`, "whole number"},
		{"an unknown key", `"summary":`, `"sumary":`, `no key "sumary"`},
		{"another format", `"format": 1`, `"format": 2`, "reads format 1"},
		{"a name that is none", `"name": "page-of-parts"`, `"name": "Page!"`, "is not a valid profile name"},
		{"nothing can show", "", "", ""},
	} {
		t.Run(c.name, func(t *testing.T) {
			text := strings.Replace(string(whole), c.old, c.new, 1)
			if c.old == "" {
				text = `{"format":1,"name":"wall","language":"en","title":"Wall","summary":"A wall.","signs":["Bricks."],"pages":{"are":"web"},"places":[{"name":"brick","title":"A brick","stands":"content","takes":{"as":"markup","scripts":"drop","frames":"drop","forms":"drop","images":"drop","links":"drop"},"editor":{"shows":"code","says":"Code."},"steps":{"new":["Paste {snippet}"]}}],"pitfalls":[]}`
				c.what = "would show anything"
			} else {
				require.NotEqual(t, string(whole), text)
			}
			_, p, faults := (*host.Set)(nil).With([]byte(text))
			assert.Nil(t, p)
			require.NotEmpty(t, faults)
			assert.Contains(t, faults.Error(), c.what)
			for _, f := range faults {
				assert.Positive(t, f.Line, "%s", f)
				assert.NotEmpty(t, f.Fix, "%s", f)
			}
		})
	}
}

// An operator's own version says its own words and keeps the rest.
func TestOwnVersion(t *testing.T) {
	set, err := hosts.Shipped()
	require.NoError(t, err)
	own, p, faults := set.With([]byte(`{"format":1,"name":"page-of-parts","extends":"page-of-parts","language":"de","title":"Hafenseiten",
		"places":[{"name":"code","title":"Ein Baustein für Code","steps":{"new":["Baustein wählen.",{"say":"Einfügen: {snippet}","image":"hier.png","alt":"Der Kasten"}]}}]}`))
	require.Empty(t, faults)
	assert.Equal(t, "Hafenseiten", p.Title)
	code := p.Place("code")
	assert.Equal(t, "hier.png", code.Steps["new"][1].Image)
	assert.NotEmpty(t, code.Steps["existing"], "what it does not say is as it was")
	assert.Equal(t, 20000, code.Takes.Most)
	assert.Same(t, p, own.Get("page-of-parts"))
	assert.NotSame(t, p, set.Get("page-of-parts"), "the set that it was added to is as it was")
	assert.Len(t, own.List(), len(set.List()))
	_, _, faults = set.With([]byte(`{"format":1,"name":"own","extends":"page-of-part"}`))
	assert.Contains(t, faults[0].Fix, "page-of-parts")
}

// Sources are matched as Content Security Policy Level 3 says.
func TestPolicies(t *testing.T) {
	const self, script = "https://isles.example/news", "https://pockets.example/s/tide.js"
	for _, c := range []struct {
		policy  string
		allowed bool
		by      string
	}{
		{"", true, ""},
		{"img-src 'self'", true, ""},
		{"default-src 'self'", false, "default-src"},
		{"script-src 'self'", false, "script-src"},
		{"script-src 'self'; script-src https://pockets.example", false, "script-src"},
		{"script-src https://pockets.example", true, ""},
		{"script-src pockets.example", true, ""},
		{"script-src http://pockets.example", true, ""},
		{"script-src *.pockets.example", false, "script-src"},
		{"script-src *.example", true, ""},
		{"script-src https:", true, ""},
		{"script-src *", true, ""},
		{"script-src https://pockets.example/s/", true, ""},
		{"script-src https://pockets.example/s/tide.js", true, ""},
		{"script-src https://pockets.example/s/other.js", false, "script-src"},
		{"script-src https://pockets.example:8443", false, "script-src"},
		{"script-src https://pockets.example:*", true, ""},
		{"script-src 'nonce-abc' 'strict-dynamic' https:", false, "script-src"},
		{"script-src-elem 'none'; script-src *", false, "script-src-elem"},
		{"script-src *, default-src 'self'", false, "default-src"},
		{"script-src 'sha384-abc'", false, "script-src"},
	} {
		ok, by := host.ReadPolicy(c.policy).Allows("script-src-elem", self, script)
		assert.Equal(t, c.allowed, ok, c.policy)
		assert.Equal(t, c.by, by, c.policy)
	}
	ok, _ := host.ReadPolicy("script-src 'sha384-abc'").Allows("script-src-elem", self, script, "sha384-abc")
	assert.True(t, ok, "a digest that the element is held to")
	ok, _ = host.ReadPolicy("default-src 'self'").Plus("script-src https://pockets.example").Allows("script-src-elem", self, script)
	assert.True(t, ok)
	ok, _ = host.ReadPolicy("default-src 'self'").Plus("script-src https://pockets.example").Allows("script-src-elem", self, "https://isles.example/own.js")
	assert.True(t, ok, "what was allowed stays so")
	assert.False(t, host.ReadPolicy("default-src 'self'").AllowsInlineStyle())
	assert.True(t, host.ReadPolicy("style-src 'unsafe-inline'").AllowsInlineStyle())
}

func FuzzProfile(f *testing.F) {
	whole, err := os.ReadFile("../../hosts/page-of-parts.json")
	require.NoError(f, err)
	f.Add(string(whole))
	f.Add(`{"format":1,"name":"own","extends":"mail","places":[{"name":"body","steps":{"new":[{"say":"{snippet}"}]}}]}`)
	f.Add(`{"format":1,"extends":"mail","places":[7,{"name":"body","takes":[]}]}`)
	set, err := hosts.Shipped()
	require.NoError(f, err)
	f.Fuzz(func(t *testing.T, text string) {
		_, p, faults := set.With([]byte(text))
		if p == nil {
			assert.NotEmpty(t, faults)
			return
		}
		for _, where := range p.Wheres() {
			if c := host.Choose(p, tide, host.Needs{}, where, host.Placing{}); c.Best != nil {
				host.Lead(p, tide, where, host.Placing{}, *c.Best)
			}
		}
	})
}

func BenchmarkChoose(b *testing.B) {
	p := profile(b, "page-of-parts")
	for b.Loop() {
		if host.Choose(p, tide, host.Needs{Script: true, Storage: true}, "new", host.Placing{}).Best == nil {
			b.Fatal("nothing")
		}
	}
}
