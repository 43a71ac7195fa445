// Package render makes what visitors load from a release and a pocket's settings: the payload, the
// one-request script, and the pocket as a separate page.
package render

import (
	"bytes"
	"encoding/json"
	"maps"
	"slices"
	"strings"
	"time"

	"glasspocket/internal/asset"
	"glasspocket/internal/cue"
	"glasspocket/internal/fault"
	"glasspocket/internal/message"
	"glasspocket/internal/setting"
	"glasspocket/internal/widget"
)

// PayloadNumber is the version of the payload's form. A loader reads every version up to its own,
// so a released version never changes; changes need a new one.
const PayloadNumber = 2

// Payload is a pocket as it is sent to a page: complete in /s/KEY.json, and without Module in
// /s/KEY.js.
type Payload struct {
	Number      int                      `json:"n"`
	Key         string                   `json:"key"`
	Publication int                      `json:"publication"` // 1, 2, …; 0 in a preview
	Language    string                   `json:"language"`
	Direction   string                   `json:"direction"`
	Built       int64                    `json:"built"`     // milliseconds since 1970
	Published   int64                    `json:"published"` // milliseconds since 1970; 0 in a preview; since version 2
	Release     string                   `json:"release"`   // start of the digest of the widget's release; since version 2
	Markup      string                   `json:"markup"`
	Style       string                   `json:"style"`
	Look        setting.Look             `json:"look"`
	Settings    map[string]any           `json:"settings"`
	Messages    map[string]message.Forms `json:"messages"`
	Small       *Small                   `json:"small,omitempty"`  // for small screens, if they differ by more than the stylesheet; read by the kit
	Module      string                   `json:"module,omitempty"` // address of an ES module whose default export is the mount function
}

// Small replaces the parts of a payload with the same names if Screen, a media query, matches.
type Small struct {
	Screen     string            `json:"screen"`
	Markup     string            `json:"markup"`
	Attributes map[string]string `json:"attributes"`
	Settings   map[string]any    `json:"settings"`
}

// Subject is what to render: one pocket's settings under one release.
type Subject struct {
	Key         string
	Title       string // title of the frame and the page
	Publication int
	Release     *widget.Release
	Settings    setting.Values // complete
	Language    string
	Now         time.Time
	Published   time.Time             // zero in a preview
	Assets      map[string]asset.Info // the uploaded assets in Settings, by digest
	Brand       setting.Brand         // the customer's, to which Settings can refer
	Cues        cue.Cues              // where it shows
	Sites       []string              // the customer's, for cues that depend on them
	// Totals are the ratings of lists with sources, by the key of the setting.
	Totals map[string]setting.Total
	Pages  map[string]setting.Page // of the lists with sources and pages, whose items in Settings are one page
	From   map[string]int          // for the other lists with pages: how many items come before the page
	Sight  *widget.Sight           // of Settings and Assets, once it was made; see See
}

// See returns a subject with its sight, which can be used for any release with the same schema and
// the same assets.
func (site *Site) See(s Subject) Subject {
	calendar := ""
	if s.Publication > 0 {
		calendar = site.Base + "/p/" + s.Key + ".ics"
	}
	s.Sight = s.Release.See(s.Settings, setting.World{Base: site.Base, Calendar: calendar, Brand: s.Brand, Totals: s.Totals, Pages: s.Pages, From: s.From, Link: site.pages(s), Asset: func(digest string) (asset.Info, bool) {
		info, ok := s.Assets[digest]
		return info, ok
	}})
	return s
}

// Show renders the payload, for previews and publications alike.
func (site *Site) Show(s Subject) (Payload, fault.List) {
	p, faults := site.show(s)
	if len(faults) > 0 {
		return Payload{}, faults
	}
	p.Style = s.Release.Built.Style + p.Style
	if m := site.ModuleName(s.Release); m != "" {
		p.Module = site.Base + "/a/" + m
	}
	return p, nil
}

// show renders the payload without the release's own style and script.
func (site *Site) show(s Subject) (Payload, fault.List) {
	if s.Sight == nil {
		s = site.See(s)
	}
	shown, faults := s.Release.ShowSight(s.Sight, s.Language, s.Now)
	if len(faults) > 0 {
		return Payload{}, faults
	}
	p := Payload{
		Number: PayloadNumber, Key: s.Key, Publication: s.Publication, Release: s.Release.Digest[:releaseLength],
		Language: shown.Language, Direction: shown.Direction, Built: s.Now.UnixMilli(),
		Markup: shown.Markup, Style: shown.Style + small(shown.Look), Look: shown.Look,
		Settings: shown.Settings, Messages: shown.Messages,
	}
	if on := shown.Small; on != nil {
		p.Style += on.Style
		p.Small = &Small{Screen: setting.SmallScreen, Markup: on.Markup, Attributes: on.Look.Attributes, Settings: on.Settings}
	}
	if !s.Published.IsZero() {
		p.Published = s.Published.UnixMilli()
	}
	return p, nil
}

// small returns the rule for small screens. It must override the properties that the loader sets on
// the element itself.
func small(look setting.Look) string {
	if len(look.Small) == 0 {
		return ""
	}
	var b strings.Builder
	for i, name := range slices.Sorted(maps.Keys(look.Small)) {
		if i > 0 {
			b.WriteByte(';')
		}
		b.WriteString(name + ":" + look.Small[name] + "!important")
	}
	return "@media " + setting.SmallScreen + "{.pocket{" + b.String() + "}}"
}

// encode writes v as JSON that is also JavaScript (ECMA-262 includes all of JSON since 2019).
func encode(v any) []byte {
	var b bytes.Buffer
	e := json.NewEncoder(&b)
	e.SetEscapeHTML(false) // it is in separate files, never inside an HTML document
	if err := e.Encode(v); err != nil {
		panic(err) // cannot happen: v contains only maps, texts and numbers
	}
	return bytes.TrimSpace(b.Bytes())
}
