package brief

import (
	"turret/internal/chart"
)

const cellPad = 8.0

// grid lays a table out, with its heads on every leaf.
func (l *layer) grid(g Grid) {
	if len(g.Rows) == 0 {
		l.words(Words{Text: g.Empty, Quiet: true})
		return
	}
	xs := l.columns(g)
	l.room(46)
	l.heads(g, xs)
	l.place(g, xs)
	for i := range g.Rows {
		r := &g.Rows[i]
		h := l.height(g, r, xs)
		if l.y+h > l.bottom && !l.beside && l.y > marginTop {
			x, w := l.x, l.w
			l.leaf()
			l.x, l.w = x, w
			l.heads(g, xs)
			l.place(g, xs)
		}
		l.line(g, r, xs, h)
	}
	l.y += gap
}

// columns gives the left edge of each column, and the right one of the last.
func (l *layer) columns(g Grid) []float64 {
	all := 0.0
	for _, c := range g.Columns {
		all += c.Share
	}
	xs := []float64{l.x}
	x := l.x
	for _, c := range g.Columns {
		x += l.w * c.Share / all
		xs = append(xs, x)
	}
	return xs
}

func (l *layer) heads(g Grid, xs []float64) {
	const size = 7
	lines := 1
	heads := make([][]string, len(g.Columns))
	for i, c := range g.Columns {
		room := xs[i+1] - xs[i] - cellPad
		if c.Middle { // a heading may reach into the air beside a glyph
			room += cellPad
		}
		heads[i] = wrap(c.Head, size, room, true)
		lines = max(lines, len(heads[i]))
	}
	h := float64(lines)*size*1.2 + 5
	for i, c := range g.Columns {
		for k, line := range heads[i] {
			y := l.y + h - 4 - float64(len(heads[i])-1-k)*size*1.2
			x, form := xs[i]+cellPad/2, chart.Text
			switch {
			case c.Number:
				x, form = xs[i+1]-cellPad/2, chart.TextEnd
			case c.Middle:
				x, form = (xs[i]+xs[i+1])/2, chart.TextMiddle
			}
			if !l.pack.Slides {
				l.text(x, y, line, size, true, chart.Ink2, form)
			}
		}
	}
	l.head0, l.y = l.y, l.y+h
	if l.pack.Slides {
		return
	}
	l.put(
		chart.Mark{
			Form:   chart.Line,
			Points: []chart.Point{{X: xs[0], Y: l.y}, {X: xs[len(xs)-1], Y: l.y}},
			Stroke: chart.Ink,
			Line:   0.9,
		},
	)
}

// height is that of a row: of its longest cell.
func (l *layer) height(g Grid, r *Line, xs []float64) float64 {
	lines := 1
	for i, c := range r.Cells {
		if i < len(g.Columns) && g.Columns[i].Wrap && !r.Group {
			room := xs[i+1] - xs[i] - cellPad - l.indent(r, i)
			if l.pack.Slides {
				room /= flowing
			}
			lines = max(lines, len(wrap(c.Text, body, room, c.Bold)))
		}
	}
	return float64(lines)*body*1.25 + 2*rowPad
}

func (l *layer) indent(r *Line, column int) float64 {
	if column == 0 {
		return float64(r.Indent) * 9
	}
	return 0
}

func (l *layer) line(g Grid, r *Line, xs []float64, h float64) {
	if l.pack.Slides {
		l.placeRow(r, h)
	} else if r.Group {
		l.put(chart.Mark{Form: chart.Rect, X: xs[0], Y: l.y, W: xs[len(xs)-1] - xs[0], H: h, Fill: "#F2ECE0"})
	}
	for i, c := range r.Cells {
		if i >= len(g.Columns) {
			break
		}
		l.cell(&g.Columns[i], &c, r, xs[i], xs[i+1], l.indent(r, i), h)
	}
	l.y += h
	if l.pack.Slides {
		return
	}
	stroke, thick := chart.Rule2, 0.5
	if r.Total {
		stroke, thick = chart.Ink, 0.9
		l.put(
			chart.Mark{
				Form:   chart.Line,
				Points: []chart.Point{{X: xs[0], Y: l.y - h}, {X: xs[len(xs)-1], Y: l.y - h}},
				Stroke: stroke,
				Line:   thick,
			},
		)
	}
	l.put(
		chart.Mark{
			Form:   chart.Line,
			Points: []chart.Point{{X: xs[0], Y: l.y}, {X: xs[len(xs)-1], Y: l.y}},
			Stroke: stroke,
			Line:   thick,
		},
	)
}

func (l *layer) cell(col *Col, c *Piece, r *Line, left, right, indent, h float64) {
	b := c.Bold || r.Group || r.Total
	x := left + cellPad/2 + indent
	middle := l.y + h/2
	if len(c.Glyph) > 0 {
		const scale = 0.62
		at := x
		if col.Middle {
			at = (left+right)/2 - 17*scale/2
		}
		for i, g := range c.Glyph {
			l.put(g.Inked(at+float64(i)*17*scale, middle-8*scale, scale)...)
		}
		x += float64(len(c.Glyph))*17*scale + 3
	}
	if c.Draw != nil {
		scale := min(screen, (right-left-cellPad)/c.Draw.Width)
		l.put(c.Draw.Inked(left+cellPad/2, middle-c.Draw.Height*scale/2, scale)...)
		return
	}
	if c.Text == "" || l.pack.Slides {
		return
	}
	if col.Wrap && !r.Group {
		for k, line := range wrap(c.Text, body, right-x-cellPad/2, b) {
			l.text(x, l.y+rowPad+body*0.95+float64(k)*body*1.25, line, body, b, toneOf(c.Tone), chart.Text)
		}
		return
	}
	most := right - x - cellPad/2
	if r.Group && col == firstOf(col, r, c) {
		most = right - x + 120 // a group's name may reach over the next columns
	}
	text := fitted(c.Text, body, most, b)
	switch {
	case col.Number:
		l.text(
			right-cellPad/2,
			middle+body*0.34,
			fitted(c.Text, body, right-left-cellPad/2, b),
			body,
			b,
			toneOf(c.Tone),
			chart.TextEnd,
		)
	case col.Middle:
		l.text((left+right)/2, middle+body*0.34, text, body, b, toneOf(c.Tone), chart.TextMiddle)
	default:
		l.text(x, middle+body*0.34, text, body, b, toneOf(c.Tone), chart.Text)
	}
}

// firstOf gives the column where a group's name stands, or nil.
func firstOf(col *Col, r *Line, c *Piece) *Col {
	if &r.Cells[0] == c || len(r.Cells) > 0 && r.Cells[0].Text == c.Text {
		return col
	}
	return nil
}
