package chart

import (
	"math"
	"slices"
)

// Segment is a stretch of the money band.
type Segment struct {
	Class, Name string
	Value       float64
	Text        string // the amount as written
	Link        string
}

// BandMark is an upright in the money band.
type BandMark struct {
	Class, Name string
	At          float64
	Text, Link  string
}

// Band is money laid end to end, with marks.
type Band struct {
	Title    string
	Unit     string
	Segments []Segment
	Plan     float64 // what lies beyond it is marked; NaN: none
	Marks    []BandMark
}

// Draw lays the band out in a width. A label that does not fit into its segment
// stands with those of the marks below, in as many rows as they need.
func (b Band) Draw(width float64) Drawing {
	const top, thick, size = 10.0, 14.0, 11.0
	left, right := 52.0, 92.0
	if width <= Narrow {
		left, right = 4, 4
	}
	d := Drawing{Class: "band", Title: b.Title, Width: width}
	most := 0.0
	for _, s := range b.Segments {
		most += math.Max(0, s.Value)
	}
	for _, m := range b.Marks {
		most = math.Max(most, m.At)
	}
	if most <= 0 {
		most = 1
	}
	at := func(v float64) float64 { return left + math.Max(0, v)/most*(width-left-right) }
	if width > Narrow {
		d.add(Shape{Form: Text, Class: "unit", X: 12, Y: top + 11, Text: b.Unit})
	}
	type label struct {
		x          float64
		text, link string
		class      string
	}
	var below []label
	from := 0.0
	for _, s := range b.Segments {
		if s.Value <= 0 {
			continue
		}
		x, w := at(from), at(from+s.Value)-at(from)
		text := s.Name + " " + s.Text
		d.add(Shape{Class: s.Class, X: x, Y: top, W: w, H: thick, Link: s.Link, Title: text})
		if room, clear := b.clear(x, x+w, at); textWidth(text, size)+10 <= clear {
			d.add(Shape{Form: TextMiddle, Class: s.Class + "-label", X: room + clear/2, Y: top + 11, Text: text})
		} else {
			below = append(below, label{x + w/2, text, s.Link, "outside"})
		}
		from += s.Value
	}
	if b.Plan > 0 && from > b.Plan {
		d.add(Shape{Class: "beyond", X: at(b.Plan), Y: top, W: at(from) - at(b.Plan), H: thick})
	}
	for _, m := range b.Marks {
		d.line("mark "+m.Class, at(m.At), top-4, at(m.At), top+thick+5)
		below = append(below, label{at(m.At), m.Name + " " + m.Text, m.Link, m.Class})
	}
	rows := [][][2]float64{} // the stretches taken in each row
	for _, l := range below {
		w := textWidth(l.text, size) + 6
		x, row := settle(l.x, w, width, &rows)
		d.add(
			Shape{
				Form:  Text,
				Class: "label " + l.class,
				X:     x + 3,
				Y:     top + thick + 18 + 15*float64(row),
				Text:  l.text,
				Link:  l.link,
				Title: l.text,
			},
		)
	}
	d.Height = top + thick + 10 + 15*float64(len(rows)) + 4
	return d
}

// clear finds the widest stretch of a segment that no mark crosses.
func (b Band) clear(from, to float64, at func(float64) float64) (x, w float64) {
	cuts := []float64{from, to}
	for _, m := range b.Marks {
		if c := at(m.At); c > from && c < to {
			cuts = append(cuts, c)
		}
	}
	slices.Sort(cuts)
	for i := range cuts[1:] {
		if d := cuts[i+1] - cuts[i]; d > w {
			x, w = cuts[i], d
		}
	}
	return x, w
}

// settle finds room for a label of width w near x: before, around or behind it,
// in the first row in which it touches no other.
func settle(x, w, width float64, rows *[][][2]float64) (left float64, row int) {
	tries := []float64{x - w/2, x - w, x}
	if x > width*0.6 {
		tries = []float64{x - w + 4, x - w/2, x - 4}
	}
	for row = 0; ; row++ {
		if row == len(*rows) {
			*rows = append(*rows, nil)
		}
		for i, left := range tries {
			if left < 2 || left+w > width-2 {
				if i < len(tries)-1 || row < len(*rows)-1 {
					continue
				}
				left = math.Min(math.Max(left, 2), width-w-2)
			}
			free := true
			for _, t := range (*rows)[row] {
				free = free && (left+w <= t[0] || left >= t[1])
			}
			if free {
				(*rows)[row] = append((*rows)[row], [2]float64{left, left + w})
				return left, row
			}
		}
	}
}
