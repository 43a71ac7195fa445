package item

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestParseTime(t *testing.T) {
	for _, c := range []struct{ text, zone, want string }{
		{"2026-12-01T18:00:00+01:00", "", "2026-12-01T17:00:00Z"},
		{"2026-12-01T18:00:00+01:00[Europe/Berlin]", "", "2026-12-01T18:00:00+01:00[Europe/Berlin]"},
		{"2026-12-01T18:00:00.123Z", "", "2026-12-01T18:00:00Z"},
		{"2026-12-01T18:00", "Europe/Berlin", "2026-12-01T18:00:00+01:00[Europe/Berlin]"},
		{"2026-12-01 18:00:00", "", "2026-12-01T18:00:00Z"},
		{"2026-12-01", "Europe/Berlin", "2026-12-01"},
		{"20261201T180000Z", "", "2026-12-01T18:00:00Z"},
		{"Tue, 01 Dec 2026 18:00:00 +0100", "", "2026-12-01T17:00:00Z"},
		{"Tues., 1 Dec 2026 18:00 GMT", "", "2026-12-01T18:00:00Z"},
		{"Tue, 01 Dec 2026 18:00:00 EST", "", "2026-12-01T23:00:00Z"},
		{"1 Dec 2026 18:00:00 CEST", "Europe/London", "2026-12-01T16:00:00Z"},
		{"Tue, 01 Dec 2026 18:00:00 +0000 (UTC)", "", "2026-12-01T18:00:00Z"},
		{"Tuesday, 01-Dec-26 18:00:00 GMT", "", "2026-12-01T18:00:00Z"},
		{"Tue Dec  1 18:00:00 2026", "", "2026-12-01T18:00:00Z"},
		{"December 1st, 2026", "", "2026-12-01"},
		{"1.12.2026 18:00", "Europe/Berlin", "2026-12-01T18:00:00+01:00[Europe/Berlin]"},
		{"1796148000", "", "2026-12-01T18:00:00Z"},
		{"1796148000000", "", "2026-12-01T18:00:00Z"},
		{" \ufeff\"2026-12-01\" ", "", "2026-12-01"},
	} {
		at, err := ParseTime(c.text, c.zone)
		require.NoError(t, err, c.text)
		text, err := at.MarshalText()
		require.NoError(t, err)
		assert.Equal(t, c.want, string(text), c.text)
		var again Time
		require.NoError(t, again.UnmarshalText(text))
		assert.True(t, again.Equal(at.Truncate(time.Second)) && again.Zone == at.Zone && again.Day == at.Day, c.text)
	}
	for _, text := range []string{"", "soon", "0001-01-01T00:00:00Z", "2026-13-01", "1 Dec 2026 18:00:00 NOWHERE"} {
		at, err := ParseTime(text, "")
		assert.Error(t, err, "%q is read as %v", text, at)
	}
	// The hour that the clocks repeat, and a day, which has no zone of its own.
	twice, err := ParseTime("2026-10-25T01:30:00Z", "")
	require.NoError(t, err)
	assert.Equal(t, "2026-10-25T02:30:00+01:00[Europe/Berlin]", twice.Moment("Europe/Berlin"))
	assert.Equal(t, "2026-12-01T00:00:00[Asia/Tokyo]", Time{Time: time.Date(2026, 12, 1, 0, 0, 0, 0, time.UTC), Day: true}.Moment("Asia/Tokyo"))
	assert.Empty(t, Time{}.Moment("UTC"))
	assert.Equal(t, "2026-10-25T01:30:00[UTC]", twice.Moment("Marrow/Nowhere"))
}
