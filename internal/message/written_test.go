package message

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestWritten(t *testing.T) {
	at := time.Date(2027, 3, 9, 7, 5, 0, 0, time.UTC)
	for _, c := range []struct{ lang, long, short, clock, price, whole, number string }{
		{"en", "9 March 2027", "09/03/2027", "07:05", "€1,234.50", "€12", "1,234.5"},
		{"en-US", "March 9, 2027", "3/9/27", "7:05 am", "€1,234.50", "€12", "1,234.5"},
		{"de", "9. März 2027", "09.03.27", "07:05", "1.234,50\u00a0€", "12\u00a0€", "1.234,5"},
		{"pl", "9 marca 2027", "09.03.2027", "07:05", "1234,50\u00a0€", "12\u00a0€", "1\u00a0234,5"},
		{"ar", "9 مارس 2027", "9\u200f/3\u200f/2027", "7:05 ص", "", "", "1,234.5"},
		{"tlh", "2027-03-09", "2027-03-09", "07:05", "", "", ""}, // a language whose calendar is not known
	} {
		long, err := Date(c.lang, at, "long")
		require.NoError(t, err)
		short, err := Date(c.lang, at, "short")
		require.NoError(t, err)
		assert.Equal(t, []string{c.long, c.short, c.clock}, []string{long, short, Time(c.lang, at)}, c.lang)
		if c.price != "" {
			price, err := Money(c.lang, 123450, "EUR")
			require.NoError(t, err)
			whole, _ := Money(c.lang, 1200, "EUR")
			assert.Equal(t, []string{c.price, c.whole}, []string{price, whole}, c.lang)
		}
		if c.number != "" {
			assert.Equal(t, c.number, Number(c.lang, 1234.5, 1), c.lang)
		}
	}
	yen, err := Money("de", 1500, "JPY")
	require.NoError(t, err)
	assert.Equal(t, "1.500\u00a0¥", yen, "a currency without minor units")
	arabic, err := Money("ar", 123450, "EUR")
	require.NoError(t, err)
	assert.NotRegexp(t, "[٠-٩]", arabic)
	_, err = Date("en", at, "huge")
	assert.ErrorContains(t, err, "full, long, medium, short")
}
