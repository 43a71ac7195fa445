package app_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/app/access"
	"glasspocket/internal/app/pocket"
)

// What the gallery shows of a widget is made once a minute in each of the widget's languages,
// whatever anybody asks for, and anew for another release and for whoever has a brand.
func TestGalleryPreviewsAreMadeOnce(t *testing.T) {
	w := newWorld(t)
	guest := access.Scope{Role: access.Guest}
	pictures := func(s access.Scope, customer, language string) []pocket.StarterPreview {
		t.Helper()
		list, err := w.Pockets.GalleryPreviews(ctx, s, "countdown", customer, language)
		require.NoError(t, err)
		require.NotEmpty(t, list)
		return list
	}
	same := func(a, b []pocket.StarterPreview) bool { return &a[0] == &b[0] }
	first := pictures(guest, "", "en")
	assert.True(t, same(first, pictures(guest, "", "tlh")), "a language that the widget does not speak")
	assert.True(t, same(first, pictures(operator, "kelp", "en-GB")), "a customer without a brand")
	german := pictures(guest, "", "de-AT")
	assert.False(t, same(first, german))
	assert.Equal(t, "de", german[0].Payload.Language)

	_, err := w.Customers.ChangeBrand(ctx, operator, "kelp", 1, []byte(`[{"name": "accent", "type": "colour", "value": "#123456"}]`))
	require.NoError(t, err)
	assert.Equal(t, "#123456", pictures(operator, "kelp", "en")[0].Payload.Look.Properties["--accent"])
	assert.True(t, same(first, pictures(guest, "", "en")), "nobody else has that brand")
	_, err = w.Pockets.GalleryPreviews(ctx, guest, "countdown", "kelp", "en")
	assert.Equal(t, "account-needed", refusal(t, err).Code)

	w.release(t, "view.html", "<div", "<div ")
	second := pictures(guest, "", "en")
	assert.False(t, same(first, second), "another release")
	w.clock = w.clock.Add(2 * time.Minute)
	assert.False(t, same(second, pictures(guest, "", "en")), "a countdown runs on")
}
