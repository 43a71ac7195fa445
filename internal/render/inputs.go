package render

// Input is something that a rendering is made from, at a revision or with a digest.
type Input struct {
	Kind     string `json:"kind"`
	ID       string `json:"id,omitempty"`
	Revision int64  `json:"revision,omitempty"`
	Digest   string `json:"digest,omitempty"`
}

// The kinds of inputs.
const (
	FromRelease = "release" // ID: the widget; Revision: the release's ID
	FromProgram = "program" // Digest: Site.Identity
	FromBrand   = "brand"   // ID: the customer; Revision: of brand and sites
	FromItems   = "items"   // Digest: of the items of its sources. New items cause a rendering in the background
)

// Inputs are everything that a rendering is made from besides its publication. The release is the
// first.
type Inputs []Input

// Of returns the input of a kind.
func (list Inputs) Of(kind string) (i Input, ok bool) {
	for _, i := range list {
		if i.Kind == kind {
			return i, true
		}
	}
	return i, false
}

// Stale returns the kinds of the inputs that are no longer what now says they are.
func (list Inputs) Stale(now func(Input) Input) (kinds []string) {
	for _, i := range list {
		if now(i) != i {
			kinds = append(kinds, i.Kind)
		}
	}
	return kinds
}
