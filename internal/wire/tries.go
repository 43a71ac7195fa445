package wire

import (
	"glasspocket/internal/app"
	"glasspocket/internal/diagnose"
	"glasspocket/internal/host"
	"glasspocket/internal/onpage"
)

// TryOn asks how a pocket would stand on a page: the address of the page, or its HTML. Spot is
// an index of an earlier answer's spots; left out, the likely one.
type TryOn struct {
	Install app.Install `json:"install"`
	Address string      `json:"address,omitempty"`
	HTML    string      `json:"html,omitempty"`
	Spot    *int        `json:"spot,omitempty"`
}

// TriedOn is how it would. Live and Still are addresses of pages for frames, kept for half an
// hour: with all that runs, and as a picture.
type TriedOn struct {
	Install  app.Install        `json:"install"`
	Guide    host.Guide         `json:"guide"`
	Outcome  host.Outcome       `json:"outcome"`
	Title    string             `json:"title"`
	Address  string             `json:"address,omitempty"`
	Spots    []onpage.Spot      `json:"spots"`
	Spot     int                `json:"spot"`
	Findings []diagnose.Finding `json:"findings"`
	Policy   string             `json:"policy,omitempty"` // of the page
	Add      string             `json:"add,omitempty"`    // to that, so that it lets everything in
	Live     string             `json:"live"`
	Still    string             `json:"still"`
}
