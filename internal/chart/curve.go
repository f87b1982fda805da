package chart

import "math"

// Series is a line of a curve. Values run along the curve's periods from First
// on; NaN leaves a gap.
type Series struct {
	Class  string
	Name   string // written at its end with the last value
	End    string // the last value as written
	Link   string
	First  int
	Values []float64
	Before bool // the name stands above and before the end of the line, not behind it
}

// Curve is amounts over periods.
type Curve struct {
	Title, Desc string
	Periods     []string // of each period along the axis
	Now         int      // the selected period
	NowName     string
	Series      []Series
	Write       func(float64) string // a value of the axis
	Bounds      []Bound              // limits across it; with them the axis does not begin at zero
}

// Draw lays the curve out in a width.
func (c Curve) Draw(width float64) Drawing {
	const top, bottom, size = 20.0, 22.0, 11.0
	height := math.Max(200, width*0.52)
	d := Drawing{Class: "curve", Title: c.Title, Desc: c.Desc, Width: width, Height: height}
	low, high := 0.0, 0.0
	if len(c.Bounds) > 0 {
		low, high = c.Bounds[0].At, c.Bounds[0].At
	}
	for _, b := range c.Bounds {
		low, high = math.Min(low, b.At), math.Max(high, b.At)
	}
	right := 10.0
	for _, s := range c.Series {
		for _, v := range s.Values {
			if !math.IsNaN(v) {
				low, high = math.Min(low, v), math.Max(high, v)
			}
		}
		if !s.Before && s.First+len(s.Values) > c.Now+2 {
			right = math.Max(right, textWidth(s.End+" "+s.Name, size)+8)
		}
	}
	ticks := Ticks(low, high, 5)
	if n := len(ticks); n > 1 { // one more where little is missing
		if next := 2*ticks[n-1] - ticks[n-2]; next > high && next < high+(high-low)*0.12 {
			ticks, high = append(ticks, next), next
		}
	}
	left := 8.0
	for _, t := range ticks {
		left = math.Max(left, textWidth(c.Write(t), size)+8)
	}
	n := math.Max(1, float64(len(c.Periods)-1))
	at := func(i float64, v float64) Point {
		y := height - bottom
		if high > low {
			y -= (v - low) / (high - low) * (height - top - bottom)
		}
		return Point{left + i/n*(width-left-right), y}
	}
	for _, t := range ticks {
		y := at(0, t).Y
		d.line("rule", left, y, width-right, y)
		d.add(Shape{Form: TextEnd, Class: "tick", X: left - 5, Y: y + 4, Text: c.Write(t)})
	}
	for _, b := range c.Bounds {
		y := at(0, b.At).Y
		d.line("bound "+b.Class, left, y, width-right, y)
		d.add(Shape{Form: Text, Class: "bound " + b.Class, X: left + 2, Y: y - 2, Text: b.Name})
	}
	c.axis(&d, at, width-right, height)
	if c.Now >= 0 && c.Now < len(c.Periods) {
		x := at(float64(c.Now), 0).X
		d.line("now", x, top-6, x, height-bottom)
		d.add(Shape{Form: TextMiddle, Class: "nowname", X: x, Y: top - 9, Text: c.NowName})
	}
	var ends []Point
	var named []Series
	for _, s := range c.Series {
		var run []Point
		flush := func() {
			if len(run) > 0 {
				d.add(
					Shape{
						Form:   Line,
						Class:  "series " + s.Class,
						Points: run,
						Link:   s.Link,
						Title:  s.Name + " " + s.End,
					},
				)
			}
			run = nil
		}
		var last Point
		for i, v := range s.Values {
			if math.IsNaN(v) {
				flush()
				continue
			}
			last = at(float64(s.First+i), v)
			run = append(run, last)
		}
		flush()
		if last != (Point{}) {
			ends, named = append(ends, last), append(named, s)
		}
	}
	for _, side := range [...]bool{true, false} {
		var ys []float64
		var which []int
		for i := range named {
			if named[i].Before == side {
				y := ends[i].Y + 4
				switch {
				case side:
					y -= 8
				case named[i].First+len(named[i].Values) <= c.Now+1: // below its own end, where others go on
					y += 10
				}
				ys, which = append(ys, y), append(which, i)
			}
		}
		ys = spread(ys, 14, top+2, height-bottom-2)
		for k, i := range which {
			s := Shape{
				Form:  Text,
				Class: "label " + named[i].Class,
				X:     ends[i].X + 6,
				Y:     ys[k],
				Text:  named[i].End + " " + named[i].Name,
				Link:  named[i].Link,
				Title: named[i].Name + " " + named[i].End,
			}
			if side {
				s.Form, s.X, s.Text = TextEnd, ends[i].X-6, named[i].Name+" "+named[i].End
			}
			if s.Form == Text && s.X+textWidth(s.Text, size) > width {
				s.Form, s.X = TextEnd, width-2
			}
			d.add(s)
		}
	}
	return d
}

// axis writes as many periods as fit.
func (c Curve) axis(d *Drawing, at func(float64, float64) Point, right, height float64) {
	if len(c.Periods) == 0 {
		return
	}
	wide := 0.0
	for _, p := range c.Periods {
		wide = math.Max(wide, textWidth(p, 11))
	}
	step := 1
	for _, k := range [...]int{1, 2, 3, 6, 12, 24, 48, 96} {
		step = k
		if float64(len(c.Periods))/float64(k)*(wide+16) <= right {
			break
		}
	}
	end := 0.0
	for i := 0; i < len(c.Periods); i += step {
		w := textWidth(c.Periods[i], 11)
		x := math.Min(math.Max(at(float64(i), 0).X, w/2), d.Width-w/2)
		if x-w/2 >= end {
			d.add(Shape{Form: TextMiddle, Class: "tick", X: x, Y: height - 6, Text: c.Periods[i]})
			end = x + w/2 + 4
		}
	}
}

// DateLine is what was stated of one milestone, period by period. Days are day
// numbers; zero leaves a gap.
type DateLine struct {
	Name, Slip string
	Link       string
	Class      string // of its end
	Days       []int
}

// DateLines shows where dates have gone.
type DateLines struct {
	Title, Desc string
	Periods     []string
	Lines       []DateLine
	Ticks       func(low, high int) []int // round days
	Write       func(day int) string
}

// Draw lays the lines out in a width.
func (c DateLines) Draw(width float64) Drawing {
	const top, bottom, size, gap = 14.0, 22.0, 11.0, 25.0
	height := math.Max(math.Max(200, width*0.52), float64(len(c.Lines))*gap+top+bottom)
	d := Drawing{Class: "curve dates", Title: c.Title, Desc: c.Desc, Width: width, Height: height}
	low, high := 0, 0
	for _, l := range c.Lines {
		for _, day := range l.Days {
			if day != 0 && (low == 0 || day < low) {
				low = day
			}
			high = max(high, day)
		}
	}
	if low == 0 {
		return d
	}
	ticks := c.Ticks(low, high)
	low, high = min(low, ticks[0]), max(high, ticks[len(ticks)-1])
	left := 8.0
	for _, t := range ticks {
		left = math.Max(left, textWidth(c.Write(t), size)+10)
	}
	const most = 110 // of a name, in pixels
	right := 20.0
	names := make([]string, len(c.Lines))
	for i, l := range c.Lines {
		names[i] = shorten(l.Name, most, size)
		right = math.Max(right, textWidth(names[i], size)+12)
	}
	n := math.Max(1, float64(len(c.Periods)-1))
	x := func(i int) float64 { return left + float64(i)/n*(width-left-right) }
	y := func(day int) float64 {
		return height - bottom - float64(day-low)/math.Max(1, float64(high-low))*(height-top-bottom)
	}
	for _, t := range ticks {
		d.line("rule", left, y(t), width-right, y(t))
		d.add(Shape{Form: TextEnd, Class: "tick", X: left - 6, Y: y(t) + 4, Text: c.Write(t)})
	}
	Curve{
		Periods: c.Periods,
	}.axis(
		&d,
		func(i, _ float64) Point { return Point{x(int(i)), 0} },
		width-right-left,
		height,
	)
	var ys []float64
	for _, l := range c.Lines {
		var run []Point
		var end Point
		for i, day := range l.Days {
			if day == 0 {
				continue
			}
			end = Point{x(i), y(day)}
			if len(run) == 0 {
				d.add(Shape{Form: Circle, Class: "begin", X: end.X, Y: end.Y, W: 2.5})
			}
			run = append(run, end)
		}
		d.add(Shape{Form: Line, Class: "series actual", Points: run})
		d.add(
			Shape{
				Form:  Circle,
				Class: "end " + l.Class,
				X:     end.X,
				Y:     end.Y,
				W:     3,
				Link:  l.Link,
				Title: l.Name + " " + l.Slip,
			},
		)
		ys = append(ys, end.Y+1)
	}
	ys = spread(ys, gap, top, height-bottom-8)
	for i, l := range c.Lines {
		d.add(
			Shape{
				Form:  Text,
				Class: "label",
				X:     width - right + 8,
				Y:     ys[i],
				Text:  names[i],
				Link:  l.Link,
				Title: l.Name + " " + l.Slip,
			},
		)
		d.add(Shape{Form: Text, Class: "sub", X: width - right + 8, Y: ys[i] + 11, Text: l.Slip})
	}
	return d
}

// shorten cuts a text to a width.
func shorten(s string, width, size float64) string {
	if textWidth(s, size) <= width {
		return s
	}
	r := []rune(s)
	for len(r) > 1 && textWidth(string(r)+"…", size) > width {
		r = r[:len(r)-1]
	}
	return string(r) + "…"
}
