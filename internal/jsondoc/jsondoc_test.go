package jsondoc

import (
	"encoding/json"
	"fmt"
	"reflect"
	"strings"
	"testing"
	"unicode/utf8"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/fault"
)

// A Placer says what Place says, in whatever order it is asked.
func TestPlacing(t *testing.T) {
	text := []byte("äb\n\nc→d\n")
	p := Placing(text)
	for _, offset := range []int{0, 2, 3, 4, 5, 9, 10, 3, 99, -1, 8} {
		if offset == 8 || offset == 1 {
			continue // within a character
		}
		line, column := Place(text, offset)
		gotLine, gotColumn := p.Place(offset)
		assert.Equal(t, [2]int{line, column}, [2]int{gotLine, gotColumn}, "%d", offset)
	}
}

func TestPositions(t *testing.T) {
	v, faults := Read([]byte("{\n  \"ü\": [1, {\"b\": true}],\n  \"b\": null\n}"))
	require.Empty(t, faults)
	assert.Equal(t, [2]int{2, 8}, [2]int{v.Get("ü").Line, v.Get("ü").Column}, "columns count characters, not bytes")
	b := v.Get("ü").Items[1].Get("b")
	assert.Equal(t, [2]int{2, 18}, [2]int{b.Line, b.Column})
	assert.Equal(t, Null, v.Get("b").Kind)
}

func TestSyntaxFaults(t *testing.T) {
	for _, c := range []struct {
		name, in     string
		code         fault.Code
		line, column int
	}{
		{"empty", "", fault.JSONSyntax, 1, 1},
		{"comma before the end", "{\n \"a\": 1,\n}", fault.JSONSyntax, 3, 1},
		{"single quotes", "{\n 'a': 1}", fault.JSONSyntax, 2, 2},
		{"comment", "{\n // no\n}", fault.JSONSyntax, 2, 2},
		{"cut off", `{"a": [1`, fault.JSONSyntax, 1, 9},
		{"two documents", "{}\n {}", fault.JSONSyntax, 2, 2},
		{"twice", "{\"a\":1,\n\"a\":2}", fault.KeyTwice, 2, 1},
		{"too deep", strings.Repeat("[", 200), fault.JSONSyntax, 1, MaxDepth + 1},
		{"Latin-1", "{\"a\": \"\xfc\"}", fault.FileNotText, 1, 8},
	} {
		t.Run(c.name, func(t *testing.T) {
			_, faults := Read([]byte(c.in))
			require.Len(t, faults, 1)
			f := faults[0]
			assert.Equal(t, c.code, f.Code)
			assert.Equal(t, [2]int{c.line, c.column}, [2]int{f.Line, f.Column}, f.String())
		})
	}
}

// FuzzRead holds that the reader accepts what encoding/json accepts, with equal content
// (duplicate keys and nesting limits aside), and never places a fault outside the text.
func FuzzRead(f *testing.F) {
	for _, s := range []string{`{"a":[1,2.5e3,"x\u00e9",true,null]}`, `[{}]`, `{"a":1,"a":2}`, "{\n,}", `"x`, "[1,]", "\xff"} {
		f.Add([]byte(s))
	}
	f.Fuzz(func(t *testing.T, text []byte) {
		v, faults := Read(text)
		lines := strings.Count(string(text), "\n") + 1
		for _, x := range faults {
			if x.Line < 1 || x.Line > lines || x.Column < 1 {
				t.Fatalf("fault outside the text: %v", x)
			}
		}
		if v == nil || len(faults) > 0 {
			return
		}
		var want any
		dec := json.NewDecoder(strings.NewReader(string(text)))
		dec.UseNumber()
		require.NoError(t, dec.Decode(&want))
		a, _ := json.Marshal(want)
		b, _ := json.Marshal(v.Plain())
		assert.Equal(t, string(a), string(b))
	})
}

// An object with very many members is read in linear time: quadratic, this would take minutes.
func TestManyMembers(t *testing.T) {
	const many = 300_000
	var text strings.Builder
	for i := range many {
		fmt.Fprintf(&text, `,"%d":0`, i)
	}
	v, faults := Read([]byte("{" + text.String()[1:] + text.String() + "}"))
	require.NotNil(t, v)
	assert.Len(t, v.Members, many)
	require.Len(t, faults, fault.Most)
	assert.Equal(t, "0", faults[0].Field)
}

// wide are more members than are compared with one another.
var wide = func() (text string) {
	for i := range 2 * few {
		text += fmt.Sprintf(`"%d": 1,`, i)
	}
	return text
}()

// FuzzFast holds that both readers see the same in whatever is valid.
func FuzzFast(f *testing.F) {
	for _, s := range []string{`{"a": [1, -2.5e3, true, false, null, "x\\u00e9\\ud800\\n"], "b": {"a": {}}, "a": 2}`, "[\n\t\"ä\",\n  []]", ` "x" `, `{"":{"":[]}}`, `[1,,2]`, `{"a" 1}`, "{" + strings.Repeat(`"a": 1,`, 3) + wide + `"7": 1}`} {
		f.Add([]byte(s))
	}
	f.Fuzz(func(t *testing.T, text []byte) {
		if !utf8.Valid(text) {
			return
		}
		v, twice := readFast(text)
		if v == nil {
			return
		}
		want, wantTwice := readSlowly(text)
		if !reflect.DeepEqual(v, want) || !reflect.DeepEqual(twice, wantTwice) {
			t.Errorf("%q: %+v, not %+v", text, v, want)
		}
	})
}

// FuzzDecode holds that Decode and encoding/json see the same, and that Of and Decoded lose nothing.
func FuzzDecode(f *testing.F) {
	for _, s := range []string{`{"a": [1, -2.5e3, -0, 1e15, 123456789012345678, true, false, null, "x\u00e9\ud800\n"], "b": {"a": {}}, "a": 2}`, `null`, `[1]`, `{"a": 1e999}`, `{"a" 1}`, "{\"a\": \"\xff\"}", `{"a": ` + strings.Repeat("[", 100) + strings.Repeat("]", 100) + `}`} {
		f.Add([]byte(s))
	}
	f.Fuzz(func(t *testing.T, text []byte) {
		if !json.Valid(text) {
			return
		}
		var want map[string]any
		wrong := json.Unmarshal(text, &want)
		got, err := Decode(text)
		require.Equal(t, wrong, err)
		require.Equal(t, want, got)
		if err != nil || got == nil {
			return
		}
		a, _ := json.Marshal(want)
		b, _ := json.Marshal(Of(got).Plain())
		require.Equal(t, string(a), string(b))
		require.Equal(t, want, Of(got).Decoded())
		if _, twice := Read(text); len(twice) > 0 {
			return
		}
		for key := range want {
			value, rest, ok := CutMember(text, key)
			require.Equal(t, text[0] == '{', ok, key)
			if ok {
				var cut any
				require.NoError(t, json.Unmarshal(value, &cut))
				require.Equal(t, want[key], cut)
				require.NoError(t, json.Unmarshal(rest, &want))
				require.Nil(t, want[key])
				want[key] = cut
			}
		}
		_, _, ok := CutMember(text, "no such key")
		require.Equal(t, got["no such key"] != nil, ok)
	})
}
