package delivery

import (
	"context"
	"encoding/json"

	"glasspocket/internal/host"
	"glasspocket/internal/widget"
)

// About describes a pocket's page for hosts that show previews of links.
type About struct {
	Title   string
	Frames  bool // it works in a frame
	Heights []widget.Height
}

// Height returns the page's height at a width, both in CSS pixels; 0 if unknown.
func (a *About) Height(width int) int { return host.HeightAt(a.Heights, width) }

// AboutPage describes the live version under key. It returns nil if there is none, or the pocket is
// withheld.
func (a *Delivery) AboutPage(ctx context.Context, key string) (*About, error) {
	pub, withheld, err := a.Visited(ctx, key)
	if pub == nil || withheld || err != nil {
		return nil, err
	}
	r, err := a.releases.Open(ctx, pub.ReleaseID)
	if err != nil {
		return nil, err
	}
	about := &About{Title: pub.Title, Frames: host.Subject{Floats: r.Manifest.Floats, Wraps: r.Manifest.Wraps()}.Fits(host.Frame)}
	return about, json.Unmarshal(pub.Heights, &about.Heights)
}
