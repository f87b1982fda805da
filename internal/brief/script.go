package brief

import (
	"bytes"
	"maps"
	"slices"
	"strings"
	"sync"
	"unicode"

	"github.com/go-text/typesetting/bidi"
	"github.com/go-text/typesetting/font"
	"github.com/go-text/typesetting/harfbuzz"
	"github.com/go-text/typesetting/segmenter"

	"turret/internal/chart"
	"turret/internal/tell"
)

// rightToLeft begins each line of a paragraph that is read from the right: it cannot be
// seen, and says so to whoever sets the line.
const rightToLeft = "\u200f"

// fromRight tells whether a text is read from the right, as its first letter says.
func fromRight(s string) bool {
	if strings.HasPrefix(s, rightToLeft) {
		return true
	}
	for _, r := range s {
		if unicode.IsLetter(r) {
			return unicode.In(r, chart.RightToLeft...)
		}
	}
	return false
}

// visual gives the characters of one line as they are set from left to right, by the
// bidirectional algorithm of Unicode (UAX 9); letters that join have the forms they join in,
// as far as characters stand for them. A text of other scripts is given as it is.
func visual(line string) string {
	if !chart.FromRight(line) && !strings.HasPrefix(line, rightToLeft) {
		return line
	}
	text := oneLine(line)
	runs := levels(text)
	at := make([]int, len(runs))
	for i, r := range runs {
		at[i] = int(r.Level)
	}
	var b strings.Builder
	for _, i := range visualOrder(at) {
		part := text[runs[i].Start:runs[i].End]
		if runs[i].Level%2 == 1 {
			part = joined(part)
		}
		b.WriteString(string(part))
	}
	return b.String()
}

// oneLine gives the characters of a line. What would end a paragraph is a space in it: the
// algorithm stops there, and what follows would not be set.
func oneLine(text string) []rune {
	out := []rune(text)
	for i, r := range out {
		switch r {
		case '\n', '\r', '\x1c', '\x1d', '\x1e', '\u0085', '\u2029':
			out[i] = ' '
		}
	}
	return out
}

// levels parts a line where its direction changes.
func levels(text []rune) []bidi.Run {
	base := bidi.LeftToRight
	if fromRight(string(text)) {
		base = bidi.RightToLeft
	}
	var p bidi.Paragraph
	found := p.Segment(text, base)
	out := make([]bidi.Run, found.NumRuns())
	for i := range out {
		out[i] = found.Run(i)
	}
	return out
}

// visualOrder orders things of one line from left to right by their levels (UAX 9, rule L2): from
// the highest level to the lowest odd one, what lies together at it or above is turned.
func visualOrder(levels []int) []int {
	out := make([]int, len(levels))
	for i := range out {
		out[i] = i
	}
	for at := slices.Max(append(levels, 0)); at > 0; at-- {
		for i := 0; i < len(out); {
			j := i
			for j < len(out) && levels[out[j]] >= at {
				j++
			}
			slices.Reverse(out[i:j])
			i = max(j, i+1)
		}
	}
	return out
}

// spoken orders the words of a line from left to right.
func spoken(line [][]tell.Phrase) []int {
	at := make([]int, len(line)) // where each begins
	var text []rune
	for i, word := range line {
		at[i] = len(text)
		for _, p := range word {
			text = append(text, oneLine(p.Text)...)
		}
		text = append(text, ' ')
	}
	level := make([]int, len(line)) // of its first letter
	if chart.FromRight(string(text)) {
		runs, r := levels(text), 0
		for i := range line {
			for runs[r].End <= at[i] {
				r++
			}
			level[i] = int(runs[r].Level)
		}
	}
	return visualOrder(level)
}

// shaper sets letters of the wide face side by side.
type shaper struct {
	mu    sync.Mutex
	font  *harfbuzz.Font
	runes map[font.GID]rune // the character that stands for a shape
}

var shapes = sync.OnceValue(func() *shaper {
	face, err := font.ParseTTF(bytes.NewReader(dejavu))
	if err != nil {
		panic(err) // it is embedded
	}
	s := &shaper{font: harfbuzz.NewFont(face), runes: make(map[font.GID]rune)}
	for it := face.Cmap.Iter(); it.Next(); {
		r, g := it.Char()
		if least, known := s.runes[g]; !known || r < least {
			s.runes[g] = r
		}
	}
	return s
})

// joined gives a stretch that is read from the right in the order and in the forms in which
// it is set from the left. A mark follows what it is set on; a shape that no character stands
// for keeps the letters it was made from.
func joined(text []rune) []rune {
	s := shapes()
	s.mu.Lock()
	defer s.mu.Unlock()
	b := harfbuzz.NewBuffer()
	b.AddRunes(text, 0, len(text))
	b.Props.Direction = harfbuzz.RightToLeft
	b.Flags = harfbuzz.RemoveDefaultIgnorables
	b.GuessSegmentProperties()
	b.Shape(s.font, nil)
	var out []rune
	for i := 0; i < len(b.Info); {
		from := b.Info[i].Cluster
		j := i
		for j < len(b.Info) && b.Info[j].Cluster == from {
			j++
		}
		to := len(text)
		if i > 0 {
			to = b.Info[i-1].Cluster
		}
		out = append(out, s.cluster(b.Info[i:j], text[from:to])...)
		i = j
	}
	return out
}

func (s *shaper) cluster(shapes []harfbuzz.GlyphInfo, letters []rune) []rune {
	out := make([]rune, 0, len(shapes))
	for i := range slices.Backward(shapes) {
		r, known := s.runes[shapes[i].Glyph]
		if !known || shapes[i].Glyph == 0 {
			return letters
		}
		out = append(out, r)
	}
	return out
}

// breaks parts a word where a line may end within it (UAX 14): Chinese and Japanese set no spaces
// between words, and break between most of their letters.
func breaks(word string) []string {
	if strings.IndexFunc(word, func(r rune) bool { return r >= 0x2e80 }) < 0 {
		return []string{word}
	}
	var seg segmenter.Segmenter
	seg.Init([]rune(word))
	var out []string
	for it := seg.LineIterator(); it.Next(); {
		out = append(out, string(it.Line().Text))
	}
	return out
}

// Boxes names the scripts of what leaves hold and no font of a PDF has, in order of their
// names; signs of no script last. They are boxes on paper, and whole in the other forms.
func Boxes(sheets []Sheet) []string {
	found := map[string]bool{}
	for i := range sheets {
		for j := range sheets[i].Marks {
			for _, r := range fonts().lacking(sheets[i].Marks[j].Text) {
				found[scriptOf(r)] = true
			}
		}
	}
	out := slices.Sorted(maps.Keys(found))
	if i := slices.Index(out, signs); i >= 0 {
		out = append(slices.Delete(out, i, i+1), signs)
	}
	return out
}

const signs = "signs"

func scriptOf(r rune) string {
	for name, table := range unicode.Scripts {
		if unicode.Is(table, r) && name != "Common" && name != "Inherited" {
			return strings.ReplaceAll(name, "_", " ")
		}
	}
	return signs
}
