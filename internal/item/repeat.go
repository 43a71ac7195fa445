package item

import (
	"hash/maphash"
	"net/url"
	"strings"
)

// How alike two texts must be to count as the same: the part of their words that they share. Texts
// with fewer words than repeatLeast repeat only those of the same author.
const (
	repeatPart  = 0.85
	repeatLeast = 5
	repeatStart = 8 // words of a text that is the start of another
	repeatHead  = 4 // words at the start, or the end, that both have
)

// repeated returns, for each item, the index of the item that it repeats, or -1: one with the same
// link, or with nearly the same text. Of several, the pinned one stays, then the one that the rules
// keep, then the first. folded has the title and text of each item as Fold returns them.
func repeated(items []Item, folded []string, pinned map[string]int, kept func(int) bool) []int {
	of := make([]int, len(items))
	links := make(map[string]int, len(items))
	texts := meeting{make(map[uint64]int32, 2*len(items)), make([]entry, 0, 2*len(items))}
	known := vocabulary{numbers: map[string]int32{}}
	numbered := make([][]int32, len(items))
	number := func(i int) []int32 {
		if numbered[i] == nil {
			numbered[i] = known.number(folded[i])
		}
		return numbered[i]
	}
	order := make([]int, 0, len(items))
	for _, pass := range []func(i int) bool{
		func(i int) bool { return pinned[items[i].ID] > 0 },
		func(i int) bool { return pinned[items[i].ID] == 0 && kept(i) },
		func(i int) bool { return pinned[items[i].ID] == 0 && !kept(i) },
	} {
		for i := range items {
			if pass(i) {
				order = append(order, i)
			}
		}
	}
	for _, i := range order {
		of[i] = -1
		it := &items[i]
		link := canonical(it.Link)
		if first, ok := links[link]; ok && link != "" && sameOccasion(it, &items[first]) {
			of[i] = first
			continue
		}
		heads, n := headsOf(folded[i], it.Author.Name)
		var have [2]int
		for k := range n {
			at, others := texts.find(heads[k], func(first int) bool {
				return sameOccasion(it, &items[first]) && known.alike(number(i), number(first))
			})
			if have[k] = others; at >= 0 {
				of[i] = at
				break
			}
		}
		if of[i] >= 0 {
			continue
		}
		if link != "" {
			links[link] = i
		}
		for k := range n {
			if have[k] < 8 { // enough to find a repeat, and it bounds the time
				texts.add(heads[k], i)
			}
		}
	}
	return of
}

// sameOccasion tells dates of a series apart: they share text and link, but not the start. Ratings
// on a page share its link.
func sameOccasion(a, b *Item) bool {
	if !a.Start.Equal(b.Start.Time) {
		return false
	}
	return a.Kind != Review || b.Kind != Review || Fold(a.Author.Name) == Fold(b.Author.Name)
}

// headsOf returns the heads of a folded text, as hashes: what texts that may be alike have in common.
// They are the words at the start and those at the end, or all words and the author of a short text.
// An empty text has none.
func headsOf(folded, author string) (heads [2]uint64, n int) {
	count := strings.Count(folded, " ") - 1 // Fold puts one before and one after each word
	switch {
	case count < 1:
		return heads, 0
	case count < repeatLeast:
		heads[0] = maphash.String(seed, folded+"\n"+Fold(author))
		return heads, 1
	}
	from, to := 0, len(folded)-1
	for range repeatHead {
		from += 1 + strings.IndexByte(folded[from+1:], ' ')
		to = strings.LastIndexByte(folded[:to], ' ')
	}
	return [2]uint64{maphash.String(seed, folded[:from]), ^maphash.String(seed, folded[to:])}, 2
}

var seed = maphash.MakeSeed()

// meeting finds the texts that have a head in common.
type meeting struct {
	last map[uint64]int32 // by head, the entry that was added last
	all  []entry
}

type entry struct{ text, before int32 } // before is the entry with the same head, or -1

// find returns the first text with a head for which same reports true, or -1, and how many texts
// have the head.
func (m *meeting) find(head uint64, same func(text int) bool) (text, have int) {
	at, known := m.last[head]
	for ; known && at >= 0; at = m.all[at].before {
		if have++; same(int(m.all[at].text)) {
			return int(m.all[at].text), have
		}
	}
	return -1, have
}

func (m *meeting) add(head uint64, text int) {
	before, known := m.last[head]
	if !known {
		before = -1
	}
	m.last[head] = int32(len(m.all))
	m.all = append(m.all, entry{int32(text), before})
}

// A vocabulary numbers words, because numbers are compared faster than words.
type vocabulary struct {
	numbers map[string]int32
	words   []string // by their numbers
	count   []int32  // by their numbers; used by alike, and zero otherwise
}

// number returns the words of a folded text by their numbers.
func (v *vocabulary) number(folded string) []int32 {
	text := make([]int32, 0, strings.Count(folded, " "))
	for w := range strings.FieldsSeq(folded) {
		n, known := v.numbers[w]
		if !known {
			n = int32(len(v.words))
			v.numbers[w] = n
			v.words, v.count = append(v.words, w), append(v.count, 0)
		}
		text = append(text, n)
	}
	return text
}

// alike reports whether two texts have nearly the same words, or one is the start of the other, as
// in a feed that shortens texts.
func (v *vocabulary) alike(a, b []int32) bool {
	if len(a) > len(b) {
		a, b = b, a
	}
	same := 0
	for same < len(a) && a[same] == b[same] {
		same++
	}
	if same == len(a) && (len(a) == len(b) || len(a) >= repeatStart) {
		return true
	}
	// A shortened text can end within a word.
	if same >= repeatStart && same == len(a)-1 && strings.HasPrefix(v.words[b[same]], v.words[a[same]]) {
		return true
	}
	need := max(repeatPart*float64(len(b)), repeatLeast)
	if float64(len(a)) < need {
		return false
	}
	for _, w := range a {
		v.count[w]++
	}
	shared := len(b)
	for _, w := range b {
		if v.count[w] > 0 {
			v.count[w]--
		} else if shared--; float64(shared) < need {
			break
		}
	}
	for _, w := range a {
		v.count[w] = 0
	}
	return float64(shared) >= need
}

// canonical brings a link into a form in which the same page has the same text: without scheme,
// "www.", tracking parameters, and slash at the end.
func canonical(link string) string {
	if link == "" {
		return ""
	}
	u, err := url.Parse(link)
	if err != nil || u.Host == "" {
		return link
	}
	query := ""
	if u.RawQuery != "" {
		q := u.Query()
		for name := range q {
			if strings.HasPrefix(name, "utm_") || name == "ref" || strings.HasSuffix(name, "clid") {
				q.Del(name)
			}
		}
		query = q.Encode()
	}
	if u.Fragment != "" { // "#review-7" is a place of its own
		query += "#" + u.Fragment
	}
	return strings.TrimPrefix(strings.ToLower(u.Host), "www.") + strings.TrimSuffix(u.EscapedPath(), "/") + "?" + query
}
