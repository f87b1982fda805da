package brief

import (
	"fmt"
	"math"
	"strings"

	"turret/internal/chart"
	"turret/internal/tell"
)

// The measures of paper, in points.
const (
	marginX    = 42.0
	marginTop  = 40.0
	marginFoot = 44.0
	body       = 8.5
	leading    = 1.36
	gap        = 10.0
	rowPad     = 2.6
	gutter     = 16.0
	screen     = 0.72 // points for a pixel of a drawing
)

// Sheet is a leaf of a brief with its place in it.
type Sheet struct {
	chart.Leaf
	Wide    bool
	Entries []Entry   // of the outline: the pages that begin on it
	Texts   []Passage // of a slide: what is no mark, since it can be read and changed as a whole
	Tables  []Placed
}

// Passage is words on a slide, which flow within their width.
type Passage struct {
	X, Y, W, H, Size float64
	Title            bool // of the slide
	Phrases          []tell.Phrase
	Fill             string
	Bold             bool
}

// Placed is a table on a slide: the edges of its columns, and of its rows, the heads first.
type Placed struct {
	Columns []Col
	Xs, Ys  []float64
	Rows    []Line
	Scale   float64
}

// Entry is a page in the outline.
type Entry struct {
	Title string
	Depth int
	Y     float64 // where it begins
}

// Lay puts a pack on leaves: the same for the preview and for PDF. Short pages that follow
// each other share a leaf, and a page that is a little too long is set a little smaller
// rather than broken.
func Lay(p *Pack) []Sheet {
	l := &layer{pack: p}
	for i := 0; i < len(p.Pages); {
		n, scale := l.together(p.Pages[i:])
		l.pages(p.Pages[i:i+n], scale)
		i += n
	}
	for i := range l.sheets {
		l.foot(&l.sheets[i], i+1)
	}
	return l.sheets
}

// The smallest that pages are set: one of its own, and those that share a leaf.
const (
	smallestAlone  = 0.84
	smallestShared = 0.92
	step           = 0.02
	between        = 26.0 // points, of pages that share a leaf
)

// together tells how many of the pages go on one leaf, and how small they are set; one
// that fits on none is set in full.
func (l *layer) together(pages []Page) (n int, scale float64) {
	n, scale = 1, l.fits(pages[:1], smallestAlone)
	switch {
	case scale == 0:
		return 1, 1
	case l.pack.Slides:
		return 1, scale
	}
	for n < len(pages) && !pages[0].Alone && !pages[n].Alone && pages[n].Wide == pages[0].Wide {
		s := l.fits(pages[:n+1], smallestShared)
		if s == 0 {
			break
		}
		n, scale = n+1, s
	}
	return n, scale
}

// fits gives the scale at which pages fit on one leaf, the largest; zero where none down to
// the smallest does.
func (l *layer) fits(pages []Page, smallest float64) float64 {
	_, h := l.pack.size(pages[0].Wide)
	for scale := 1.0; scale >= smallest-step/2; scale -= step {
		try := &layer{pack: l.pack, endless: true}
		try.pages(pages, scale)
		if try.y <= marginTop+(h-marginTop-marginFoot)/scale {
			return scale
		}
	}
	return 0
}

type layer struct {
	pack    *Pack
	sheets  []Sheet
	now     *Page
	scale   float64
	x, w    float64 // of the column being filled
	y       float64
	bottom  float64
	head0   float64 // where the heads of the table that is laid begin
	beside  bool    // columns do not break across leaves
	endless bool    // nothing breaks: it is only measured
}

func (p *Pack) size(wide bool) (w, h float64) {
	if p.Slides {
		return slideWidth, slideHeight
	}
	w, h = 595.28, 841.89
	if p.Letter {
		w, h = 612, 792
	}
	if wide {
		w, h = h, w
	}
	return w, h
}

// pages sets pages from the head of a leaf on, at a scale.
func (l *layer) pages(list []Page, scale float64) {
	from := len(l.sheets)
	l.scale = scale
	for i := range list {
		p := &list[i]
		if l.now = p; i == 0 {
			l.leaf()
		} else {
			l.y += between
		}
		s := &l.sheets[len(l.sheets)-1]
		s.Entries = append(s.Entries, Entry{p.Title, p.Depth, marginTop + (l.y-marginTop)*scale})
		if i > 0 {
			s.Title += " · " + p.Title
		}
		l.blocks(p.Blocks)
	}
	if scale == 1 {
		return
	}
	for i := from; i < len(l.sheets); i++ {
		for j := range l.sheets[i].Marks {
			l.sheets[i].Marks[j].Scale(marginX, marginTop, scale)
		}
		for j := range l.sheets[i].Texts {
			l.sheets[i].Texts[j].scale(scale)
		}
		for j := range l.sheets[i].Tables {
			l.sheets[i].Tables[j].scale(scale)
		}
	}
}

// leaf begins a new leaf.
func (l *layer) leaf() {
	w, h := l.pack.size(l.now.Wide)
	l.sheets = append(l.sheets, Sheet{Leaf: chart.Leaf{Width: w, Height: h, Title: l.now.Title}, Wide: l.now.Wide})
	l.x, l.w = marginX, (w-2*marginX)/l.scale
	l.y, l.bottom = marginTop, marginTop+(h-marginTop-marginFoot)/l.scale
	if l.endless {
		l.bottom = math.Inf(1)
	}
}

func (l *layer) put(m ...chart.Mark) {
	s := &l.sheets[len(l.sheets)-1]
	s.Marks = append(s.Marks, m...)
}

// room makes sure that some height is left, on a new leaf where it is not.
func (l *layer) room(h float64) {
	if l.y+h > l.bottom && !l.beside && l.y > marginTop {
		x, w := l.x, l.w
		l.leaf()
		l.x, l.w = x, w
	}
}

func (l *layer) blocks(list []Block) {
	for _, b := range list {
		switch b := b.(type) {
		case Head:
			l.head(b)
		case Sentence:
			l.sentence(b)
		case Words:
			l.words(b)
		case Picture:
			l.picture(b)
		case Beside:
			l.sideBySide(b)
		case Grid:
			l.grid(b)
		}
	}
}

func (l *layer) text(x, y float64, text string, size float64, b bool, fill string, form chart.Form) {
	if text != "" {
		l.put(chart.Mark{Form: form, X: x, Y: y, Text: text, Size: size, Bold: b, Fill: fill})
	}
}

func (l *layer) head(h Head) {
	if l.pack.Slides {
		l.slideHead(h)
		return
	}
	size, before, after := 15.0, 0.0, 6.0
	if h.Level > 1 {
		size, before, after = 10, 10, 4
	}
	if l.y > marginTop {
		l.y += before
	}
	l.room(size + 60) // a heading does not stand alone at the foot
	x := l.x
	if h.Glyph != nil {
		l.put(h.Glyph.Inked(x, l.y+size*0.12, size/15)...)
		x += 22 * size / 15
	}
	lines := wrap(h.Text, size, l.w-(x-l.x), true)
	for _, line := range lines {
		l.y += size
		l.text(x, l.y-size*0.12, line, size, true, chart.Ink, chart.Text)
		x2 := x + width(line, size, true)
		if line == lines[len(lines)-1] && h.Small != "" {
			small := fitted(h.Small, body, l.w-(x2-l.x)-8, false)
			if l.w-(x2-l.x) > 60 {
				l.text(x2+8, l.y-size*0.12, small, body, false, chart.Ink2, chart.Text)
			}
		}
		l.y += size * 0.15
	}
	if h.Level > 1 {
		l.put(
			chart.Mark{
				Form:   chart.Line,
				Points: []chart.Point{{X: l.x, Y: l.y + 1}, {X: l.x + l.w, Y: l.y + 1}},
				Stroke: chart.Rule,
				Line:   0.6,
			},
		)
	}
	l.y += after
}

var tones = map[string]string{
	"act":    chart.ActInk,
	"watch":  chart.WatchInk,
	"steady": chart.SteadyInk,
	"quiet":  chart.Ink2,
}

func toneOf(t string) string {
	if c := tones[t]; c != "" {
		return c
	}
	return chart.Ink
}

// sentence flows phrases of several tones.
func (l *layer) sentence(s Sentence) {
	const size = 12.5
	if l.pack.Slides {
		l.flow(Passage{Size: size, Phrases: s.Phrases, Fill: chart.Ink}, gap)
		return
	}
	l.room(size * 3)
	space := width(" ", size, false)
	var line [][]tell.Phrase
	used := 0.0
	set := func() {
		l.y += size
		x := l.x
		for _, i := range spoken(line) {
			for _, p := range line[i] {
				l.text(x, l.y, p.Text, size, strong(p), toneOf(p.Tone), chart.Text)
				x += width(p.Text, size, strong(p))
			}
			x += space // it moves the pen: a screen would drop it
		}
	}
	for _, word := range wordsOf(s.Phrases) {
		w := 0.0
		for _, p := range word {
			w += width(p.Text, size, strong(p))
		}
		if len(line) > 0 && used+w > l.w {
			set()
			l.y += size * (leading - 1)
			line, used = nil, 0
		}
		line = append(line, word)
		used += w + space
	}
	set()
	l.y += gap
}

// strong tells whether a phrase is set in strong letters.
func strong(p tell.Phrase) bool { return p.Tone != "" || p.States }

// wordsOf parts phrases at their spaces. A word may have stretches of several
// phrases: a stop stays with the figure before it.
func wordsOf(phrases []tell.Phrase) (out [][]tell.Phrase) {
	open := false // the last word goes on
	for _, p := range phrases {
		for i, text := range strings.Split(p.Text, " ") {
			if open = open && i == 0; text == "" {
				continue
			}
			part := p
			part.Text = text
			if open {
				out[len(out)-1] = append(out[len(out)-1], part)
			} else {
				out = append(out, []tell.Phrase{part})
			}
			open = true
		}
		open = open && !strings.HasSuffix(p.Text, " ")
	}
	return out
}

func (l *layer) words(p Words) {
	fill := chart.Ink
	if p.Quiet {
		fill = chart.Ink2
	}
	if l.pack.Slides {
		l.flow(Passage{Size: body, Phrases: []tell.Phrase{{Text: p.Text}}, Fill: fill, Bold: p.Bold}, 4)
		return
	}
	for _, line := range wrap(p.Text, body, min(l.w, 520), p.Bold) {
		l.room(body * leading)
		l.y += body * leading
		if fromRight(line) {
			l.text(l.x+min(l.w, 520), l.y-2, line, body, p.Bold, fill, chart.TextEnd)
		} else {
			l.text(l.x, l.y-2, line, body, p.Bold, fill, chart.Text)
		}
	}
	l.y += 4
}

func (l *layer) picture(p Picture) {
	w := p.Width
	if w == 0 {
		w = l.w / screen
	}
	scale := min(l.w/w, 1)
	d := p.Draw(w)
	if _, h := l.pack.size(l.now.Wide); d.Height*scale > h-marginFoot-marginTop-30 {
		scale = (h - marginFoot - marginTop - 30) / d.Height
	}
	l.room(d.Height*scale + 16)
	if p.Title != "" {
		l.y += body * leading
		l.text(l.x, l.y-2, p.Title, body, true, chart.Ink, chart.Text)
		l.text(l.x+width(p.Title, body, true)+6, l.y-2, p.Unit, body, false, chart.Ink2, chart.Text)
	}
	l.put(d.Inked(l.x, l.y, scale)...)
	l.y += d.Height*scale + gap
}

// sideBySide fills two columns; they stay on one leaf.
func (l *layer) sideBySide(b Beside) {
	x, w, y := l.x, l.w, l.y
	half := (w - gutter) / 2
	l.room(150)
	if l.y < y {
		y = l.y
	} else {
		y = l.y
	}
	was := l.beside
	l.beside = true
	l.x, l.w = x, half
	l.blocks(b.Left)
	left := l.y
	l.x, l.y = x+half+gutter, y
	l.blocks(b.Right)
	l.beside = was
	l.x, l.w, l.y = x, w, max(left, l.y)
}

// foot writes what every leaf says at its foot.
func (l *layer) foot(s *Sheet, n int) {
	y := s.Height - 24
	right := fmt.Sprintf("%d of %d", n, len(l.sheets))
	s.Marks = append(
		s.Marks,
		chart.Mark{
			Form:   chart.Line,
			Points: []chart.Point{{X: marginX, Y: y - 11}, {X: s.Width - marginX, Y: y - 11}},
			Stroke: chart.Rule,
			Line:   0.6,
		},
		chart.Mark{
			Form: chart.Text,
			X:    marginX,
			Y:    y,
			Text: fitted(l.pack.Office+" · "+l.pack.Foot, 7, s.Width-2*marginX-60, false),
			Size: 7,
			Fill: chart.Ink2,
		},
		chart.Mark{Form: chart.TextEnd, X: s.Width - marginX, Y: y, Text: right, Size: 7, Fill: chart.Ink2},
	)
}
