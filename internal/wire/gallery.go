package wire

import (
	"glasspocket/internal/message"
	"glasspocket/internal/render"
)

// Gallery lists the widgets and their starters.
type Gallery struct {
	Purposes []Purpose       `json:"purposes"` // those that a widget has, in order
	Widgets  []GalleryWidget `json:"widgets"`
}

// Purpose is what widgets are for.
type Purpose struct {
	Name  string        `json:"name"`
	Label message.Words `json:"label"`
	About message.Words `json:"about"`
}

// GalleryWidget is a widget with its starters.
type GalleryWidget struct {
	Name      string           `json:"name"`
	Title     message.Words    `json:"title"`
	Summary   message.Words    `json:"summary,omitempty"`
	Search    message.Words    `json:"search,omitempty"` // search synonyms
	Purpose   string           `json:"purpose"`
	Languages []string         `json:"languages"`
	Floats    bool             `json:"floats"`
	Starters  []GalleryStarter `json:"starters"`
}

// GalleryStarter is a starter, without its settings.
type GalleryStarter struct {
	Name    string        `json:"name"`
	Title   message.Words `json:"title"`
	Summary message.Words `json:"summary,omitempty"`
	Search  message.Words `json:"search,omitempty"` // search synonyms
	Floats  bool          `json:"floats,omitempty"` // it takes no space in the page
}

// GalleryPreviews show the starters of a widget with sample content.
type GalleryPreviews struct {
	Previews []GalleryPreview `json:"previews"`
}

// GalleryPreview is the preview of one starter.
type GalleryPreview struct {
	Starter string         `json:"starter"`
	Payload render.Payload `json:"payload"`
}
