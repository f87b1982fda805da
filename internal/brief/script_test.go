package brief

import (
	"bytes"
	"slices"
	"strings"
	"testing"
	"time"
	"unicode/utf8"

	"github.com/stretchr/testify/require"

	"turret/internal/chart"
	"turret/internal/tell"
)

// TestVisual: what is read from the right is set in its order, whatever stands around it;
// numbers in it keep theirs (UAX 9). Letters of Arabic have the forms they join in.
func TestVisual(t *testing.T) {
	for text, want := range map[string]string{
		"":                                      "",
		"Plain (1) text":                        "Plain (1) text",
		"abc \u05d0\u05d1\u05d2":                "abc \u05d2\u05d1\u05d0",
		"\u05d0\u05d1 \u05d2\u05d3":             "\u05d3\u05d2 \u05d1\u05d0",
		"ab \u05d0\u05d1 12.5 \u05d2\u05d3, cd": "ab \u05d3\u05d2 12.5 \u05d1\u05d0, cd",
		"\u05d0\u05d1 123 cd":                   "cd 123 \u05d1\u05d0",
		"\u05d0 (\u05d1)":                       "(\u05d1) \u05d0",
		"SPI 0.9: \u05d0\u05d1 EUR":             "SPI 0.9: \u05d1\u05d0 EUR",
		rightToLeft + "ab.":                     ".ab",
		rightToLeft + "ab \u05d0":               "\u05d0 ab",
		"\u05e9\u05b8\u05d1":                    "\u05d1\u05e9\u05b8",
		"\u0628\u0628\u0628":                    "\ufe90\ufe92\ufe91",
		"\u0644\u0627":                          "\ufefb",
		"\u0633\u0644\u0627\u0645 2026":         "2026 \u0645\ufefc\ufeb3",
	} {
		require.Equal(t, want, strings.ReplaceAll(visual(text), rightToLeft, ""), "%q", text)
	}
}

// TestNothingEndsALine: a character that ends a paragraph is a space where a line is set, and what
// follows it is set too.
func TestNothingEndsALine(t *testing.T) {
	for _, end := range []string{"\n", "\r", "\x1c", "\u0085", "\u2029"} {
		text := "\u05d0" + end + "b c"
		require.Equal(t, "b c \u05d0", visual(text), "%q", end)
		list := lay(Page{Title: "P", Blocks: []Block{Sentence{Phrases: []tell.Phrase{{Text: text + " d"}}}, Words{Text: text}}})
		require.NotEmpty(t, list[0].Marks)
	}
}

// TestVisualOrder turns what lies at a level or above, from the highest down: 0 1 1 2 2 1 0
// becomes 0 (5 (3 4) 2 1) 6.
func TestVisualOrder(t *testing.T) {
	levels := []int{0, 1, 1, 2, 2, 1, 0}
	require.Equal(t, []int{0, 5, 3, 4, 2, 1, 6}, visualOrder(levels))
	require.Empty(t, visualOrder(nil))
}

// TestVisualLosesNothing: in whatever order letters and marks of several scripts stand, each
// is set, and what is measured is what is drawn.
func TestVisualLosesNothing(t *testing.T) {
	letters := []rune("ab1 .(-\u05d0\u05d1\u05b8\u05ea\u07ca\u07cb\u0712")
	for seed := range 3000 {
		var text []rune
		for n, x := 0, seed; n < 9; n++ {
			text = append(text, letters[(x*7+n*n*3)%len(letters)])
			x = x/3 + n*seed
		}
		set := []rune(visual(string(text)))
		for _, mirrored := range []string{"()"} {
			for i, r := range set {
				if r == rune(mirrored[1]) {
					set[i] = rune(mirrored[0])
				}
			}
		}
		slices.Sort(set)
		slices.Sort(text)
		require.Equal(t, string(text), string(set))
	}
}

func TestBreaks(t *testing.T) {
	require.Equal(t, []string{"re-baseline/2"}, breaks("re-baseline/2"))
	require.Equal(t, []string{"\u6e2f", "\u6e7e\uff0c", "\u5de5", "\u7a0b\u3002"}, breaks("\u6e2f\u6e7e\uff0c\u5de5\u7a0b\u3002"))
	text := "Quay \u6e2f\u6e7e\u5de5\u7a0b\u6cca\u4f4d\u5df2\u5b8c\u6210\u3002 and on"
	lines := wrap(text, 10, 60, false)
	require.Greater(t, len(lines), 2)
	require.Equal(t, strings.ReplaceAll(text, " ", ""), strings.ReplaceAll(strings.Join(lines, ""), " ", ""))
	for _, l := range lines {
		require.False(t, strings.HasPrefix(l, "\u3002"), "no line begins with a stop")
		require.LessOrEqual(t, width(l, 10, false), 60.01)
	}
}

// TestFromRightIsSetFromRight: a paragraph ends at the right edge, each line of it, and the
// words of a sentence follow each other from the right.
func TestFromRightIsSetFromRight(t *testing.T) {
	hebrew := strings.Repeat("\u05e9\u05dc\u05d5\u05dd SPI 0.95 ", 40)
	list := lay(Page{Title: "P", Blocks: []Block{Words{Text: hebrew}, Words{Text: "Plain."}}})
	n := 0
	for _, m := range list[0].Marks {
		if strings.Contains(m.Text, "\u05dc") {
			n++
			require.Equal(t, chart.TextEnd, m.Form)
			require.InDelta(t, marginX+min(595.28-2*marginX, 520), m.X, 1e-6)
		}
	}
	require.Greater(t, n, 2)

	list = lay(Page{Title: "P", Blocks: []Block{Sentence{Phrases: []tell.Phrase{
		{Text: "Of "}, {Text: "\u05d0\u05d0 \u05d1\u05d1", Tone: "act"}, {Text: " and \u05d2\u05d2 more."},
	}}}})
	var said []string
	x := 0.0
	for _, m := range list[0].Marks {
		if m.Size == 12.5 {
			said = append(said, m.Text)
			require.Greater(t, m.X, x)
			x = m.X
		}
	}
	require.Equal(t, []string{"Of", "\u05d1\u05d1", "\u05d0\u05d0", "and", "\u05d2\u05d2", "more."}, said)
}

// TestScriptsInPDF: a document of any scripts is written, the large fonts only with what needs
// them.
func TestScriptsInPDF(t *testing.T) {
	write := func(text string) int {
		p := &Pack{Title: text, Office: "O", Made: time.Unix(0, 0), Pages: []Page{{Title: text, Blocks: []Block{Words{Text: text}}}}}
		out, err := PDF(p, Lay(p))
		require.NoError(t, err)
		require.True(t, bytes.HasPrefix(out, []byte("%PDF")))
		return len(out)
	}
	latin := write("Harbour works")
	require.Less(t, write("\u6e2f\u6e7e \ud56d\ub9cc \u3053\u3046"), latin+80_000)
	require.Less(t, write("\u0645\u064a\u0646\u0627\u0621"), latin+20_000)
	require.Empty(t, Boxes(lay(Page{Title: "\u6e2f \ud56d \u3053 \u05d0 \u0645 \u03a9 \u042f"})))
	require.Equal(t, []string{"Devanagari", "Thai"}, Boxes(lay(Page{Title: "P", Blocks: []Block{Words{Text: "a \u0915\u0e01\u0915 \u6e2f"}}})))
	require.Equal(t, []string{"signs"}, Boxes(lay(Page{Title: "P", Blocks: []Block{Words{Text: "a \U0001f600"}}})))
}

// FuzzLines: any text is set, on one line and as words of a sentence, and loses none of its digits.
func FuzzLines(f *testing.F) {
	f.Add("\u05d0\u2029b 12 \u0644\u0627 (3)")
	f.Add("\u202e\u05d01\u2066 2 \u0600\u0661")
	f.Add("\u6e2f9\u3002 \u1100\u05d0")
	f.Fuzz(func(t *testing.T, text string) {
		if !utf8.ValidString(text) {
			return
		}
		count := func(s string) (n int) {
			for _, r := range s {
				if r >= '0' && r <= '9' {
					n++
				}
			}
			return n
		}
		require.Equal(t, count(text), count(visual(text)))
		require.Len(t, spoken(wordsOf([]tell.Phrase{{Text: text}})), len(wordsOf([]tell.Phrase{{Text: text}})))
		require.Equal(t, count(text), count(strings.Join(wrap(text, 10, 60, false), "")))
	})
}
