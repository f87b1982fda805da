package brief

import (
	"strings"

	"turret/internal/chart"
	"turret/internal/tell"
)

// The size of a slide, 16:9, in the points that leaves are laid in.
const (
	slideWidth  = 760.0
	slideHeight = slideWidth * 9 / 16
)

// slideHead lays a heading: that of the page is the slide's title.
func (l *layer) slideHead(h Head) {
	size, before, after := 15.0, 0.0, 4.0
	if h.Level > 1 {
		size, before = 10, 8
	}
	if l.y > marginTop {
		l.y += before
	}
	l.room(size + 60)
	x := l.x
	if h.Glyph != nil {
		l.put(h.Glyph.Inked(x, l.y+size*0.12, size/15)...)
		x += 22 * size / 15
	}
	t := Passage{X: x, Y: l.y, W: l.w - (x - l.x), Size: size, Title: h.Level < 2, Fill: chart.Ink, Bold: true}
	t.Phrases = []tell.Phrase{{Text: h.Text}}
	if h.Small != "" {
		t.Phrases = append(t.Phrases, tell.Phrase{Text: "  " + h.Small, Tone: "small"})
	}
	t.H = float64(len(wrap(h.Text, size, t.W, true))) * size * leading
	l.putText(t)
	l.y += t.H + after
}

// flow lays words that take as many lines as they need.
func (l *layer) flow(t Passage, after float64) {
	var all strings.Builder
	for _, p := range t.Phrases {
		all.WriteString(p.Text)
	}
	lines := wrap(all.String(), t.Size*flowing, l.w, t.Bold)
	t.H = float64(len(lines)) * t.Size * leading
	l.room(t.H)
	t.X, t.Y, t.W = l.x, l.y, l.w
	l.putText(t)
	l.y += t.H + after
}

// flowing is how much wider words may be in the fonts of whoever shows the slides.
const flowing = 1.12

func (l *layer) putText(t Passage) {
	s := &l.sheets[len(l.sheets)-1]
	s.Texts = append(s.Texts, t)
}

// place begins a table on a slide, its heads being laid.
func (l *layer) place(g Grid, xs []float64) {
	if !l.pack.Slides {
		return
	}
	s := &l.sheets[len(l.sheets)-1]
	s.Tables = append(s.Tables, Placed{Columns: g.Columns, Xs: xs, Ys: []float64{l.head0, l.y}, Scale: 1})
}

// placeRow adds a row to the table that is laid.
func (l *layer) placeRow(r *Line, h float64) {
	s := &l.sheets[len(l.sheets)-1]
	t := &s.Tables[len(s.Tables)-1]
	t.Rows, t.Ys = append(t.Rows, *r), append(t.Ys, l.y+h)
}

func (t *Passage) scale(by float64) {
	t.X, t.Y = marginX+(t.X-marginX)*by, marginTop+(t.Y-marginTop)*by
	t.W, t.H, t.Size = t.W*by, t.H*by, t.Size*by
}

func (t *Placed) scale(by float64) {
	xs, ys := make([]float64, len(t.Xs)), make([]float64, len(t.Ys))
	for i, x := range t.Xs {
		xs[i] = marginX + (x-marginX)*by
	}
	for i, y := range t.Ys {
		ys[i] = marginTop + (y-marginTop)*by
	}
	t.Xs, t.Ys, t.Scale = xs, ys, by
}
