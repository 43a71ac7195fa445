package item

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var noon = time.Date(2026, 12, 1, 12, 0, 0, 0, time.UTC)

func on(day int) Time { return Time{Time: time.Date(2026, 12, day, 12, 0, 0, 0, time.UTC)} }

// the voices are the items of most cases below, by their IDs.
func voices() []Item {
	return []Item{
		{ID: "a", Source: "one", Kind: Review, Text: "Die Töpferei ist großartig, wir kommen wieder.", At: on(-3), Rating: Rating{Value: 5, Best: 5}, Language: "de", Author: Person{Name: "Isa"}, Tags: []string{"#Clay"}},
		{ID: "b", Source: "one", Kind: Review, Text: "Cold room. Refund, please!", At: on(-1), Rating: Rating{Value: 2, Best: 5}, Language: "en-GB", Author: Person{Name: "Ola"}},
		{ID: "c", Source: "two", Kind: Review, Title: "Zażółć", At: on(-9), Rating: Rating{Value: 9, Best: 10}, Author: Person{Name: "Eske"}, Media: []Media{{Kind: Image, Address: "x"}}},
		{ID: "d", Source: "two", Kind: Post, Text: "陶芸は楽しいです", At: on(-2), InReplyTo: "https://skerry.example/1", Language: "ja"},
		{ID: "e", Source: "two", Kind: Notice, Text: "Pier closed until noon", Expires: on(1), At: on(0), Language: "en"},
	}
}

func ids(list []Item) string {
	var all []string
	for _, it := range list {
		all = append(all, it.ID)
	}
	return strings.Join(all, "")
}

func TestSelect(t *testing.T) {
	for _, c := range []struct {
		name  string
		list  Listing
		shown string
		why   string // of one of the dropped: "ID RULE: SENTENCE"
	}{
		{"newest first", Listing{}, "bdac", "e expires: It expired on 1 December 2026."},
		{"oldest first", Listing{Order: Oldest}, "cadb", ""},
		{"best first", Listing{Order: Best}, "acbd", ""},
		{"as listed", Listing{Order: Listed}, "abcd", ""},
		{"whole words, without case and accents", Listing{Rules: Rules{Words: Terms{Some: []string{"GROSSARTIG", "zazolc"}}}}, "ac", "b words: It has none of the 2 required words."},
		{"no part of a word", Listing{Rules: Rules{Words: Terms{Some: []string{"fun"}}}}, "", "b words: It does not have the word “fun”."},
		{"a phrase, and a word in a script without spaces", Listing{Rules: Rules{Words: Terms{Some: []string{"refund please", "楽しい"}}}}, "bd", ""},
		{"excluded words", Listing{Rules: Rules{Words: Terms{None: []string{"refund", "Töpferei"}}}}, "dc", "b words: It has the word “refund”."},
		{"a tag", Listing{Rules: Rules{Tags: Terms{Some: []string{"clay"}}}}, "a", "d tags: It does not have the tag “clay”."},
		{"four stars of any scale", Listing{Rules: Rules{Rating: 4}}, "ac", "b rating: Its rating is 2 of 5, below 4 of 5."},
		{"with text", Listing{Rules: Rules{WithText: true}}, "bda", "c withText: It has no text."},
		{"with an image", Listing{Rules: Rules{WithImage: true}}, "c", "a withImage: It has no image."},
		{"no replies", Listing{Rules: Rules{NoReplies: true}}, "bac", "d noReplies: It is a reply to another post."},
		{"a language with its varieties", Listing{Rules: Rules{Languages: []string{"en"}}}, "b", "c languages: Its language is unknown."},
		{"not older than", Listing{Rules: Rules{Days: 4}}, "bd", "c days: It is from 21 November 2026, more than 4 days ago."},
		{"hidden", Listing{Hidden: []string{"d"}}, "bac", "d hidden: It is hidden."},
		{"pinned, whatever the rules", Listing{Pinned: []string{"e", "c"}, Rules: Rules{Rating: 5}}, "eca", ""},
		{"at most of one source", Listing{From: []From{{Source: "one"}, {Source: "two", Most: 1}}}, "bda", "c from: The list takes 1 items of its source, and these are newer."},
		{"a limit", Listing{Most: 2}, "bd", "c most: The list is limited to 2 items."},
		{"a corrected text", Listing{Corrections: map[string]map[string]any{"b": {"text": "Warm room."}}, Rules: Rules{Words: Terms{None: []string{"refund"}}}}, "bdac", ""},
	} {
		s := c.list.Select(voices(), Conditions{Now: noon, Room: 50})
		assert.Equal(t, c.shown, ids(s.Shown), c.name)
		assert.Equal(t, 5, len(s.Shown)+len(s.Out), c.name)
		all := []string{}
		for _, d := range s.Out {
			require.NotEmpty(t, d.Reasons)
			for _, r := range d.Reasons {
				all = append(all, d.Item.ID+" "+r.Rule+": "+r.Why)
			}
		}
		if c.why != "" {
			assert.Contains(t, all, c.why, c.name)
		}
		for _, count := range s.Rules {
			assert.Equal(t, 5, count.Keeps+count.Drops, "%s: %s", c.name, count.Rule)
			assert.Contains(t, RuleNames(), count.Rule)
		}
	}
	s := (&Listing{Rules: Rules{Rating: 4}}).Select(voices(), Conditions{Now: noon, Room: 1})
	assert.Equal(t, Total{3, 5 + 2 + 4.5, [5]int{2, 0, 0, 1, 0}}, s.All)
	assert.Equal(t, 2, s.Kept.Count, "beyond the limit, too")
}

func TestRepeats(t *testing.T) {
	long := "We came over with the whole alto section, nobody sang in tune, and everybody went home with a mug"
	items := []Item{
		{ID: "a", Kind: Post, Text: long + ".", Link: "https://www.kelp.example/1/?utm_source=x"},
		{ID: "b", Kind: Post, Text: "Another text altogether, with six words.", Link: "http://kelp.example/1"},
		{ID: "c", Kind: Post, Text: long[:60] + "…"},
		{ID: "d", Kind: Post, Text: "Today " + strings.Replace(long, "tune", "time", 1)},
		{ID: "e", Kind: Review, Text: "Lovely!", Author: Person{Name: "Isa"}},
		{ID: "f", Kind: Review, Text: "Lovely!", Author: Person{Name: "Ola"}},
		{ID: "g", Kind: Review, Text: "lovely", Author: Person{Name: "Isa"}},
		{ID: "h", Kind: Date, Title: "Choir practice in the hall tonight", Start: on(2)},
		{ID: "i", Kind: Date, Title: "Choir practice in the hall tonight", Start: on(9)},
	}
	s := (&Listing{Order: Listed}).Select(items, Conditions{Now: noon, Room: 50})
	assert.Equal(t, "aefhi", ids(s.Shown))
	assert.Equal(t, "It repeats “We came over with the whole alto sectio…”.", s.Out[0].Reasons[0].Why)
	s = (&Listing{Order: Listed, Pinned: []string{"d"}}).Select(items, Conditions{Now: noon, Room: 50})
	assert.Equal(t, "dbcefhi", ids(s.Shown), "the pinned one stays")
	s = (&Listing{Order: Listed, Hidden: []string{"a"}}).Select(items, Conditions{Now: noon, Room: 50})
	assert.Equal(t, "bcdefhi", ids(s.Shown), "a dropped one does not take its repeats along")
	s = (&Listing{Order: Listed, Rules: Rules{Repeats: true}}).Select(items, Conditions{Now: noon, Room: 50})
	assert.Len(t, s.Shown, len(items))
}

// A selection says when the same items would give another one.
func TestUntil(t *testing.T) {
	tokyo, err := time.LoadLocation("Asia/Tokyo")
	require.NoError(t, err)
	items := []Item{
		{ID: "a", Kind: Date, Start: on(2), End: Time{Time: on(2).Add(time.Hour)}, Text: "one"},
		{ID: "b", Kind: Date, Start: Time{Time: time.Date(2026, 12, 1, 0, 0, 0, 0, time.UTC), Day: true}, Text: "two"},
		{ID: "c", Kind: Date, Start: on(0), End: Time{Time: noon}, Text: "three"},
		{ID: "d", Kind: Notice, At: on(-4), Expires: on(7), Text: "four"},
	}
	at := func(l Listing, now time.Time) (string, time.Time) {
		s := l.Select(items, Conditions{Now: now, Zone: tokyo, Room: 50})
		return ids(s.Shown), s.Until
	}
	shown, until := at(Listing{Order: Next}, noon)
	assert.Equal(t, "ba", shown)
	assert.Equal(t, time.Date(2026, 12, 2, 0, 0, 0, 0, tokyo), until, "the end of the day there")
	shown, until = at(Listing{Order: Next}, until)
	assert.Equal(t, "a", shown)
	assert.Equal(t, on(2).Add(time.Hour), until)
	_, until = at(Listing{Rules: Rules{Days: 6}}, noon)
	assert.Equal(t, on(2).Time, until, "the fourth gets too old")
	_, until = at(Listing{Order: Shuffled}, noon)
	assert.Equal(t, time.Date(2026, 12, 2, 0, 0, 0, 0, tokyo), until)
	one, _ := at(Listing{Order: Shuffled}, noon)
	again, _ := at(Listing{Order: Shuffled}, noon.Add(2*time.Hour))
	assert.Equal(t, one, again, "for a day")
	different := false
	for day := range 9 {
		other, _ := at(Listing{Order: Shuffled}, noon.AddDate(0, 0, -day))
		different = different || other != one
	}
	assert.True(t, different)
	_, until = at(Listing{}, on(8).Time)
	assert.True(t, until.IsZero(), "nothing is left that could change")
}

func TestCleanList(t *testing.T) {
	l, faults := Listing{From: []From{{Source: "one"}}, Rules: Rules{Words: Terms{Some: []string{" two  words ", "two words", ""}}, Languages: []string{"PT_br"}}, Hidden: []string{"a", "a"}, Pinned: []string{"b", "a"}}.Clean()
	require.Empty(t, faults)
	assert.Equal(t, Listing{From: []From{{Source: "one"}}, Rules: Rules{Words: Terms{Some: []string{"two words"}}, Languages: []string{"pt-BR"}}, Hidden: []string{"a"}, Pinned: []string{"b"}}, l)
	_, faults = Listing{From: []From{{Source: "one"}, {Source: "one", Most: -1}}, Rules: Rules{Rating: 6, Languages: []string{"?"}, Days: -1, Words: Terms{None: []string{"…"}}}, Order: "random", Average: "x", Most: -1}.Clean()
	var fields []string
	for _, f := range faults {
		fields = append(fields, f.Field)
	}
	assert.Equal(t, "from words rating languages days order average most", strings.Join(fields, " "), fmt.Sprint(faults))
}
