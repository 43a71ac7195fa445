package merge

import (
	"math/rand/v2"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestThree(t *testing.T) {
	const base = "a\nb\nc\nd\ne\n"
	for name, c := range map[string]struct {
		mine, theirs, want string
		collides           int
	}{
		"only mine":             {"a\nB\nc\nd\ne\n", base, "a\nB\nc\nd\ne\n", 0},
		"only theirs":           {base, "a\nb\nc\nd\nE\n", "a\nb\nc\nd\nE\n", 0},
		"both, apart":           {"A\nb\nc\nd\ne\n", "a\nb\nc\nd\ne\nf\n", "A\nb\nc\nd\ne\nf\n", 0},
		"both the same":         {"a\nX\nc\nd\ne\n", "a\nX\nc\nd\ne\n", "a\nX\nc\nd\ne\n", 0},
		"same and apart":        {"a\nX\nc\nd\nE\n", "a\nX\nc\nd\ne\n", "a\nX\nc\nd\nE\n", 0},
		"one removes, apart":    {"a\nc\nd\ne\n", "a\nb\nc\nd\nE\n", "a\nc\nd\nE\n", 0},
		"collision":             {"a\nX\nc\nd\ne\n", "a\nY\nc\nd\ne\n", "a\nX\nc\nd\ne\n", 1},
		"removed and changed":   {"a\nc\nd\ne\n", "a\nB\nc\nd\ne\n", "a\nc\nd\ne\n", 1},
		"both add at one place": {"a\nb\n1\nc\nd\ne\n", "a\nb\n2\nc\nd\ne\n", "a\nb\n1\nc\nd\ne\n", 1},
		"no line break at end":  {"a\nb\nc\nd\nE", "A\nb\nc\nd\ne\n", "A\nb\nc\nd\nE", 0},
	} {
		got, collisions := Three(base, c.mine, c.theirs)
		assert.Equal(t, c.want, got, name)
		require.Len(t, collisions, c.collides, name)
		if c.collides > 0 {
			assert.Greater(t, collisions[0].Line, 1, name)
		}
	}
}

// Whatever is changed: who changed nothing gets the other's; both the same is no collision;
// and without a collision, nothing that either wrote is lost.
func TestInvariants(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	change := func(text, mark string) string {
		list := lines(text)
		for range r.IntN(4) {
			i := r.IntN(len(list) + 1)
			if r.IntN(3) == 0 && i < len(list) {
				list = append(list[:i:i], list[i+1:]...)
			} else {
				list = append(list[:i:i], append([]string{mark + string(rune('a'+r.IntN(26))) + "\n"}, list[i:]...)...)
			}
		}
		return strings.Join(list, "")
	}
	for range 3000 {
		base := change(strings.Repeat("x\ny\nz\n", r.IntN(5)), "base ")
		mine, theirs := change(base, "mine "), change(base, "theirs ")
		got, collisions := Three(base, mine, theirs)
		same, none := Three(base, mine, mine)
		require.Equal(t, mine, same)
		require.Empty(t, none)
		got2, _ := Three(base, base, theirs)
		require.Equal(t, theirs, got2)
		if len(collisions) > 0 {
			continue
		}
		for _, side := range []string{mine, theirs} {
			for _, l := range lines(side) {
				if strings.HasPrefix(l, "mine") || strings.HasPrefix(l, "theirs") {
					require.Contains(t, got, l, "base %q, mine %q, theirs %q", base, mine, theirs)
				}
			}
		}
	}
}

func TestFolders(t *testing.T) {
	of := func(pairs ...string) map[string][]byte {
		m := map[string][]byte{}
		for i := 0; i < len(pairs); i += 2 {
			m[pairs[i]] = []byte(pairs[i+1])
		}
		return m
	}
	base := of("same", "s", "mine", "m", "theirs", "t", "both", "1\n2\n3\n", "gone", "g", "quarrel", "q", "picture", "\xff\x00")
	out, collisions := Folders(base,
		of("same", "s", "mine", "M", "theirs", "t", "both", "A\n2\n3\n", "quarrel", "mine", "picture", "\xff\x01", "new", "n"),
		of("same", "s", "mine", "m", "theirs", "T", "both", "1\n2\nC\n", "gone", "g", "picture", "\xff\x02", "theirs-new", "x"))
	assert.Equal(t, of("same", "s", "mine", "M", "theirs", "T", "both", "A\n2\nC\n", "quarrel", "mine", "picture", "\xff\x01", "new", "n", "theirs-new", "x"), out)
	var paths []string
	for _, c := range collisions {
		paths = append(paths, c.Path)
	}
	assert.Equal(t, []string{"picture", "quarrel"}, paths)
}
