package widget

import (
	"slices"

	"glasspocket/internal/setting"
)

// onSmall is what a pocket's settings are on small screens, complete, when that takes a
// rendering of its own; nil when the stylesheet alone makes the difference.
func (r *Release) onSmall(values setting.Values) setting.Values {
	small, _ := values[setting.SmallKey].(map[string]any)
	for key := range small {
		if s := r.Schema.Get(key); s != nil && !r.inStyle(s) {
			on, _ := r.Schema.Complete(values.OnSmall())
			return on
		}
	}
	return nil
}

// inStyle tells whether a setting is nothing but a custom property.
func (r *Release) inStyle(s *setting.Setting) bool {
	return s.IsProperty() && !r.view.Uses(s.Key) && !slices.Contains(r.Manifest.Mount.Settings, s.Key)
}

// MayDiffer tells whether a pocket of the release can have a rendering of its own for small
// screens.
func (r *Release) MayDiffer() bool {
	return slices.ContainsFunc(r.Schema.Settings, func(s *setting.Setting) bool { return s.Small && !r.inStyle(s) })
}
