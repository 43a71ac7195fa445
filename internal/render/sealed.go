package render

import (
	"crypto/sha512"
	"encoding/base64"
	"fmt"
	"regexp"
	"slices"
	"strings"

	"glasspocket/internal/digest"
	"glasspocket/internal/fault"
	"glasspocket/internal/widget"
)

// Sealed is a publication as a script that never changes.
type Sealed struct {
	Script    Encoded
	Digest    string // SHA-256 of the script, in hexadecimal
	Address   string
	Integrity string // sha384-…, for Subresource Integrity
	Policy    string // the strictest content policy under which it shows
}

var assetAddress = regexp.MustCompile(`/a/([0-9a-f]{64})/`)

// AssetsIn returns the digests of the assets in a script.
func AssetsIn(script []byte) (list []string) {
	for _, m := range assetAddress.FindAllSubmatch(script, -1) {
		if digest := string(m[1]); !slices.Contains(list, digest) {
			list = append(list, digest)
		}
	}
	return list
}

// Seal renders a publication as a sealed script: like the one-request script, but it never loads
// another script.
func (s *Site) Seal(subject Subject) (*Sealed, fault.List) {
	p, faults := s.show(subject)
	if len(faults) > 0 {
		return nil, faults
	}
	p = s.whole(p, subject.Release)
	fonts, exact := p.Look.Fonts, strings.Contains(subject.Release.Built.Mount, "exact")
	script := s.script(s.sealed, p, subject)
	sum := sha512.Sum384(script)
	out := &Sealed{Script: Encode(script), Digest: digest.Of(script), Integrity: "sha384-" + base64.StdEncoding.EncodeToString(sum[:])}
	out.Address = fmt.Sprintf("%s/a/%s/%s.js", s.Base, out.Digest, p.Key)
	sources := []string{"script-src " + out.Address}
	assets := s.Base + "/a/"
	markup := p.Markup + p.Style
	if p.Small != nil {
		markup += p.Small.Markup
	}
	if strings.Contains(markup, assets) {
		sources = append(sources, "img-src "+assets)
	}
	if strings.Contains(markup, s.Base+"/p/"+p.Key+"?") && subject.Release.Can(widget.More) {
		sources = append(sources, "connect-src "+s.Base+"/more/")
	}
	if strings.Contains(markup, "<audio") || strings.Contains(markup, "<video") {
		sources = append(sources, "media-src "+assets)
	}
	if len(fonts) > 0 {
		sources = append(sources, "font-src "+assets)
	}
	if exact {
		sources = append(sources, "connect-src "+s.Base+"/t")
	}
	out.Policy = strings.Join(sources, "; ")
	return out, nil
}
