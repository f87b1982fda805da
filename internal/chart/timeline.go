package chart

import "math"

// TimeBar is a stretch of time on a row, filled as far as it is done. Days are day numbers.
type TimeBar struct {
	From, To float64 // the first day, and the last
	Done     float64 // share of it
	Class    string
	Title    string
	Link     string
}

// TimeMark is a day on a row.
type TimeMark struct {
	Day   float64
	Class string
	Title string
	Link  string
}

// TimeRow is a row of a timeline: bars, thin ones of the baseline or of another period above
// them, marks, and the days to spare after it.
type TimeRow struct {
	Label, Title, Link string
	Depth              int
	Head               bool // it stands for those below
	Bars, Ghosts       []TimeBar
	Marks              []TimeMark
	Spare              [2]float64 // from, to; none where to is not after from
}

// TimeTie is a line from a day on one row to a day on another.
type TimeTie struct {
	From, To       int // rows
	FromDay, ToDay float64
	Class, Title   string
}

// TimeTick is a day that the axis names.
type TimeTick struct {
	Day    float64
	Text   string
	Strong bool
}

// Timeline lays rows out over time.
type Timeline struct {
	Title, Desc string
	From, To    float64 // the first day that is shown, and the last
	Now         float64 // zero: none
	Ticks       []TimeTick
	Off         [][2]float64 // stretches in which nobody works
	Rows        []TimeRow
	Ties        []TimeTie
}

// Sizes of a timeline, in pixels.
const (
	timeRow  = 22.0
	timeTop  = 24.0
	timeEdge = 10.0
)

// Draw lays the timeline out in a width.
func (t Timeline) Draw(width float64) Drawing {
	left := math.Min(math.Max(96, width*0.24), 270)
	d := Drawing{Class: "timeline", Title: t.Title, Desc: t.Desc, Width: width, Height: timeTop + timeRow*float64(len(t.Rows)) + 8}
	p := timePlane{left: left, right: width - timeEdge, from: t.From, days: math.Max(1, t.To-t.From+1)}
	for _, off := range t.Off {
		if x, w := p.stretch(off[0], off[1]); w > 0 {
			d.add(Shape{Class: "off", X: x, Y: timeTop, W: w, H: d.Height - timeTop})
		}
	}
	t.axis(&d, p)
	for i := range t.Rows {
		t.Rows[i].draw(&d, p, timeTop+timeRow*float64(i), left)
	}
	for _, tie := range t.Ties {
		t.tie(&d, p, tie)
	}
	if t.Now >= t.From && t.Now <= t.To {
		x := p.x(t.Now + 1)
		d.line("now", x, timeTop-6, x, d.Height)
	}
	return d
}

// timePlane places days.
type timePlane struct{ left, right, from, days float64 }

// x is where a day begins.
func (p timePlane) x(day float64) float64 {
	return p.left + (day-p.from)/p.days*(p.right-p.left)
}

// stretch is where the days from one through another lie, as far as they are shown; a width
// of zero where none is.
func (p timePlane) stretch(from, to float64) (x, w float64) {
	a, b := math.Max(p.left, p.x(from)), math.Min(p.right, p.x(to+1))
	if to < from || b < p.left || a > p.right || b <= a {
		return 0, 0
	}
	return a, math.Max(1.5, b-a)
}

func (t Timeline) axis(d *Drawing, p timePlane) {
	end := p.left - 4
	for _, k := range t.Ticks {
		x := p.x(k.Day)
		if x < p.left || x > p.right {
			continue
		}
		class := "grid"
		if k.Strong {
			class = "rule"
		}
		d.line(class, x, timeTop-4, x, d.Height)
		if w := textWidth(k.Text, curveText); k.Text != "" && x >= end && x+w <= p.right {
			d.add(Shape{Form: Text, Class: "tick", X: x + 2, Y: timeTop - 9, Text: k.Text})
			end = x + w + 10
		}
	}
	d.line("axis", 0, timeTop, p.right, timeTop)
}

func (r *TimeRow) draw(d *Drawing, p timePlane, y, left float64) {
	in := 4 + 12*float64(r.Depth)
	class := "label"
	if r.Head {
		class = "label head"
	}
	d.add(Shape{Form: Text, Class: class, X: in, Y: y + 15, Text: shorten(r.Label, left-in-8, curveText), Link: r.Link, Title: r.Title})
	for _, g := range r.Ghosts {
		if x, w := p.stretch(g.From, g.To); w > 0 {
			d.add(Shape{Class: "planned " + g.Class, X: x, Y: y + 3, W: w, H: 2.5, Title: g.Title})
		}
	}
	if x, w := p.stretch(r.Spare[0], r.Spare[1]); w > 0 && r.Spare[1] > r.Spare[0] {
		d.line("spare", x, y+12, x+w, y+12)
	}
	for _, b := range r.Bars {
		x, w := p.stretch(b.From, b.To)
		if w == 0 {
			continue
		}
		d.add(Shape{Class: "work " + b.Class, X: x, Y: y + 7.5, W: w, H: 9, Title: b.Title, Link: b.Link, Passed: true})
		if x, w := p.stretch(b.From, b.From-1+(b.To-b.From+1)*math.Min(1, b.Done)); b.Done > 0 && w > 0 {
			d.add(Shape{Class: "done", X: x, Y: y + 10.5, W: w, H: 3})
		}
	}
	for _, m := range r.Marks {
		if x := p.x(m.Day + 0.5); x >= p.left && x <= p.right {
			d.add(Shape{
				Form: Line, Class: "point " + m.Class, Title: m.Title, Link: m.Link, Passed: true,
				Points: []Point{{x, y + 6.5}, {x + 5.5, y + 12}, {x, y + 17.5}, {x - 5.5, y + 12}, {x, y + 6.5}},
			})
		}
	}
}

// tie draws a line from the end of one row to the begin of another, by the nearer way.
func (t Timeline) tie(d *Drawing, p timePlane, tie TimeTie) {
	clamp := func(x float64) float64 { return math.Min(math.Max(x, p.left), p.right) }
	x1, x2 := p.x(tie.FromDay), p.x(tie.ToDay)
	if x1 < p.left && x2 < p.left || x1 > p.right && x2 > p.right {
		return
	}
	x1, x2 = clamp(x1), clamp(x2)
	y1, y2 := timeTop+timeRow*float64(tie.From)+12, timeTop+timeRow*float64(tie.To)+12
	mid := x1 + 4
	points := []Point{{x1, y1}, {mid, y1}, {mid, y2}, {x2, y2}}
	if x2 < mid { // back in time: down between the rows first
		between := y1 + math.Copysign(timeRow/2, y2-y1)
		points = []Point{{x1, y1}, {mid, y1}, {mid, between}, {x2 - 4, between}, {x2 - 4, y2}, {x2, y2}}
	}
	d.add(Shape{Form: Line, Class: "tie " + tie.Class, Points: points, Title: tie.Title})
}
