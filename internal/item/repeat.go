package item

import (
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
// keep, then the first.
func repeated(items []Item, pinned map[string]int, kept func(int) bool) []int {
	of := make([]int, len(items))
	links, texts := map[string]int{}, map[string][]int{}
	folded := make([]string, len(items))
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
		folded[i] = Fold(it.Title + " " + it.Text)
		list := words(folded[i])
		keys := heads(list, it.Author.Name)
		for _, key := range keys {
			for _, first := range texts[key] {
				if sameOccasion(it, &items[first]) && alike(list, words(folded[first])) {
					of[i] = first
					break
				}
			}
			if of[i] >= 0 {
				break
			}
		}
		if of[i] >= 0 {
			continue
		}
		if link != "" {
			links[link] = i
		}
		for _, key := range keys {
			if len(texts[key]) < 8 { // enough to find a repeat, and it bounds the time
				texts[key] = append(texts[key], i)
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

// heads are the keys under which texts that may be alike meet.
func heads(list []string, author string) []string {
	switch n := len(list); {
	case n == 0:
		return nil
	case n < repeatLeast:
		return []string{strings.Join(list, " ") + "\n" + Fold(author)}
	default:
		return []string{"<" + strings.Join(list[:repeatHead], " "), ">" + strings.Join(list[n-repeatHead:], " ")}
	}
}

// alike reports whether two texts have nearly the same words, or one is the start of the other, as
// in a feed that shortens texts.
func alike(a, b []string) bool {
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
	if same >= repeatStart && same == len(a)-1 && strings.HasPrefix(b[same], a[same]) {
		return true
	}
	count := make(map[string]int, len(a))
	for _, w := range a {
		count[w]++
	}
	shared := 0
	for _, w := range b {
		if count[w] > 0 {
			count[w]--
			shared++
		}
	}
	return float64(shared) >= repeatPart*float64(len(b)) && shared >= repeatLeast
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
