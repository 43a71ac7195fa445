package widget

import (
	"slices"

	"glasspocket/internal/setting"
)

// onSmall returns a pocket's complete settings for small screens if they need a separate rendering,
// and nil if the stylesheet is enough.
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

// inStyle reports whether a setting is only used as a custom property.
func (r *Release) inStyle(s *setting.Setting) bool {
	return s.IsProperty() && !r.view.Uses(s.Key) && !slices.Contains(r.Manifest.Mount.Settings, s.Key)
}

// MayDiffer reports whether a pocket of the release can have a separate rendering for small
// screens.
func (r *Release) MayDiffer() bool {
	return slices.ContainsFunc(r.Schema.Settings, func(s *setting.Setting) bool { return s.Small && !r.inStyle(s) })
}
