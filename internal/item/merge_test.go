package item

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
)

func post(origin, text string, day int) Item {
	return Item{Origin: origin, Kind: Post, Text: text, At: on(day), Link: "https://kelp.example/" + text}
}

func TestMerge(t *testing.T) {
	first, c := Stock{}.Merge("s", []Item{post("1", "one", 1), post("2", "two", 2), post("2", "two again", 3), post("1", "one", 1)}, true, noon)
	assert.Equal(t, Changes{Added: 4}, c, "of the same ID twice, both are kept")
	assert.Len(t, first.Items, 4)
	same, c := first.Merge("s", []Item{post("1", "one", 1), post("2", "two", 2), post("2", "two again", 3), post("1", "one", 1)}, true, noon)
	assert.True(t, c.None(), "%+v", c)
	assert.Equal(t, first, same)

	base, _ := Stock{}.Merge("s", []Item{post("3", "three", 3), post("2", "two", 2), post("1", "one", 1)}, true, noon)
	id := func(text string) string {
		i := slices.IndexFunc(base.Items, func(it Item) bool { return it.Text == text })
		return base.Items[i].ID
	}
	// The window has moved on: the first is kept, because it is older, the third was deleted.
	after, c := base.Merge("s", []Item{post("4", "four", 4), post("2", "two", 2)}, true, noon.Add(1e9))
	assert.Equal(t, Changes{Added: 1, Removed: 1}, c)
	assert.Equal(t, []string{IDOf("s", "4"), id("two"), id("one")}, []string{after.Items[0].ID, after.Items[1].ID, after.Items[2].ID})
	// It comes back as the one that it was.
	back, c := after.Merge("s", []Item{post("4", "four", 4), post("3", "three", 3), post("2", "two", 2)}, true, noon.Add(2e9))
	assert.Equal(t, Changes{Added: 1}, c)
	assert.Equal(t, [2]any{id("three"), noon}, [2]any{back.Items[1].ID, back.Items[1].Seen})
	assert.Empty(t, back.Gone)
	// What returns everything has no window.
	_, c = base.Merge("s", []Item{post("2", "two", 2)}, false, noon)
	assert.Equal(t, Changes{Removed: 2}, c)

	// IDs that change on every fetch, a text that changes, and items without an ID.
	moved, c := base.Merge("s", []Item{post("x3", "three", 3), post("x2", "two", 2), post("x1", "one", 1)}, true, noon)
	assert.Equal(t, Changes{Renamed: 3}, c)
	assert.Equal(t, base, moved)
	edited := post("x2", "two", 2)
	edited.Text = "two, edited"
	moved, c = base.Merge("s", []Item{post("x3", "three", 3), edited, post("x1", "one", 1)}, true, noon)
	assert.Equal(t, Changes{Changed: 1, Renamed: 3}, c)
	assert.Equal(t, id("two"), moved.Items[1].ID)
	bare, _ := Stock{}.Merge("s", []Item{{Text: "one"}, {Text: "two"}, {Text: "one"}}, false, noon)
	assert.Len(t, bare.Items, 2)
	again, c := bare.Merge("s", []Item{{Text: "zero"}, {Text: "one"}, {Text: "two"}}, false, noon)
	assert.Equal(t, Changes{Added: 1}, c)
	assert.Equal(t, bare.Items[0].ID, again.Items[1].ID)
}

// Whatever sources return, IDs are unique, and an item that stays keeps its ID.
func TestMergeInvariants(t *testing.T) {
	random := rand.New(rand.NewPCG(1, 2))
	for range 300 {
		stock := Stock{}
		for range 6 {
			var fetched []Item
			for range random.IntN(8) {
				n := random.IntN(6)
				it := post(fmt.Sprint(random.IntN(4)), fmt.Sprint("text ", n), n)
				switch random.IntN(4) {
				case 0:
					it.Origin = ""
				case 1:
					it.Link = ""
				case 2:
					it.At = Time{}
				}
				fetched = append(fetched, it)
			}
			stock, _ = stock.Merge("s", fetched, random.IntN(2) == 0, noon)
			seen := map[string]bool{}
			for _, it := range stock.Items {
				assert.False(t, seen[it.ID], "two items with one ID")
				seen[it.ID] = true
			}
			again, c := stock.Merge("s", slices.Clone(stock.Items), false, noon)
			assert.True(t, c.None(), "%+v", c)
			assert.Equal(t, len(stock.Items), len(again.Items))
		}
	}
}
