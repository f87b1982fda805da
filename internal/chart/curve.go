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

// plane is where a curve is drawn: the values from low to high over periods.
type plane struct {
	width, height            float64
	left, right, top, bottom float64 // what is kept free on each side
	low, high                float64
	steps                    float64 // between the first period and the last
}

// at gives the place of a value in a period.
func (p plane) at(period, value float64) Point {
	y := p.height - p.bottom
	if p.high > p.low {
		y -= (value - p.low) / (p.high - p.low) * (p.height - p.top - p.bottom)
	}
	return Point{p.left + period/p.steps*(p.width-p.left-p.right), y}
}

// curveText is the size of the text in curves.
const curveText = 11.0

// Draw lays the curve out in a width.
func (c Curve) Draw(width float64) Drawing {
	p, ticks := c.plane(width)
	d := Drawing{Class: "curve", Title: c.Title, Desc: c.Desc, Width: p.width, Height: p.height}
	for _, t := range ticks {
		y := p.at(0, t).Y
		d.line("rule", p.left, y, p.width-p.right, y)
		d.add(Shape{Form: TextEnd, Class: "tick", X: p.left - 5, Y: y + 4, Text: c.Write(t)})
	}
	for _, b := range c.Bounds {
		y := p.at(0, b.At).Y
		d.line("bound "+b.Class, p.left, y, p.width-p.right, y)
		d.add(Shape{Form: Text, Class: "bound " + b.Class, X: p.left + 2, Y: y - 2, Text: b.Name})
	}
	c.axis(&d, p.at, p.width-p.right, p.height)
	if c.Now >= 0 && c.Now < len(c.Periods) {
		x := p.at(float64(c.Now), 0).X
		d.line("now", x, p.top-6, x, p.height-p.bottom)
		d.add(Shape{Form: TextMiddle, Class: "nowname", X: x, Y: p.top - 9, Text: c.NowName})
	}
	var ends []Point
	var named []Series
	for _, s := range c.Series {
		if end := s.draw(&d, p); end != (Point{}) {
			ends, named = append(ends, end), append(named, s)
		}
	}
	c.label(&d, p, named, ends)
	return d
}

// plane finds the values and the space that the curve needs, and the values that
// its axis names.
func (c Curve) plane(width float64) (p plane, ticks []float64) {
	p = plane{width: width, height: math.Max(200, width*0.52), left: 8, right: 10, top: 20, bottom: 22}
	if len(c.Bounds) > 0 {
		p.low, p.high = c.Bounds[0].At, c.Bounds[0].At
	}
	for _, b := range c.Bounds {
		p.low, p.high = math.Min(p.low, b.At), math.Max(p.high, b.At)
	}
	for _, s := range c.Series {
		for _, v := range s.Values {
			if !math.IsNaN(v) {
				p.low, p.high = math.Min(p.low, v), math.Max(p.high, v)
			}
		}
		if !s.Before && s.First+len(s.Values) > c.Now+2 {
			p.right = math.Max(p.right, textWidth(s.End+" "+s.Name, curveText)+8)
		}
	}
	ticks = Ticks(p.low, p.high, 5)
	if n := len(ticks); n > 1 { // one more where little is missing
		if next := 2*ticks[n-1] - ticks[n-2]; next > p.high && next < p.high+(p.high-p.low)*0.12 {
			ticks, p.high = append(ticks, next), next
		}
	}
	for _, t := range ticks {
		p.left = math.Max(p.left, textWidth(c.Write(t), curveText)+8)
	}
	p.steps = math.Max(1, float64(len(c.Periods)-1))
	return p, ticks
}

// draw draws the line in as many pieces as it has, and gives its end.
func (s *Series) draw(d *Drawing, p plane) (end Point) {
	var run []Point
	flush := func() {
		if len(run) > 0 {
			d.add(Shape{
				Form:   Line,
				Class:  "series " + s.Class,
				Points: run,
				Link:   s.Link,
				Title:  s.Name + " " + s.End,
			})
		}
		run = nil
	}
	for i, v := range s.Values {
		if math.IsNaN(v) {
			flush()
			continue
		}
		end = p.at(float64(s.First+i), v)
		run = append(run, end)
	}
	flush()
	return end
}

// label writes the names of lines at their ends, those before and those behind
// them each apart.
func (c Curve) label(d *Drawing, p plane, named []Series, ends []Point) {
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
		ys = spread(ys, 14, p.top+2, p.height-p.bottom-2)
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
			if s.Form == Text && s.X+textWidth(s.Text, curveText) > p.width {
				s.Form, s.X = TextEnd, p.width-2
			}
			d.add(s)
		}
	}
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
	Ends        []int                     // last days of the periods: what lies on their line has come; none: not drawn
	Ticks       func(low, high int) []int // round days
	Write       func(day int) string
}

// Draw lays the lines out in a width.
func (c DateLines) Draw(width float64) Drawing {
	const gap, most = 25.0, 110 // between names, and of a name, in pixels
	p := plane{width: width, left: 8, right: 20, top: 14, bottom: 22}
	p.height = math.Max(math.Max(200, width*0.52), float64(len(c.Lines))*gap+p.top+p.bottom)
	d := Drawing{Class: "curve dates", Title: c.Title, Desc: c.Desc, Width: p.width, Height: p.height}
	low, high := c.span()
	if low == 0 {
		return d
	}
	ticks := c.Ticks(low, high)
	if n := len(c.Ends); n > 0 && c.Ends[n-1] < low { // so that the last day that has come is seen
		low = c.Ends[n-1]
		ticks = c.Ticks(low, high)
	}
	p.low, p.high = float64(min(low, ticks[0])), float64(max(high, ticks[len(ticks)-1]))
	for _, t := range ticks {
		p.left = math.Max(p.left, textWidth(c.Write(t), curveText)+10)
	}
	names := make([]string, len(c.Lines))
	for i, l := range c.Lines {
		names[i] = shorten(l.Name, most, curveText)
		p.right = math.Max(p.right, textWidth(names[i], curveText)+12)
	}
	p.steps = math.Max(1, float64(len(c.Periods)-1))
	for _, t := range ticks {
		y := p.at(0, float64(t)).Y
		d.line("rule", p.left, y, p.width-p.right, y)
		d.add(Shape{Form: TextEnd, Class: "tick", X: p.left - 6, Y: y + 4, Text: c.Write(t)})
	}
	Curve{Periods: c.Periods}.axis(&d, p.at, p.width-p.right-p.left, p.height)
	var run []Point
	for i, day := range c.Ends {
		if v := float64(day); v >= p.low && v <= p.high {
			run = append(run, p.at(float64(i), v))
		}
	}
	if len(run) > 1 {
		d.add(Shape{Form: Line, Class: "now", Points: run, Title: "The day has come"})
	}
	var ys []float64
	for i := range c.Lines {
		ys = append(ys, c.Lines[i].draw(&d, p).Y+1)
	}
	ys = spread(ys, gap, p.top, p.height-p.bottom-8)
	for i, l := range c.Lines {
		x := p.width - p.right + 8
		d.add(Shape{Form: Text, Class: "label", X: x, Y: ys[i], Text: names[i], Link: l.Link, Title: l.Name + " " + l.Slip})
		d.add(Shape{Form: Text, Class: "sub", X: x, Y: ys[i] + 11, Text: l.Slip})
	}
	return d
}

// span gives the first and the last day of all lines; zero where there is none.
func (c DateLines) span() (low, high int) {
	for _, l := range c.Lines {
		for _, day := range l.Days {
			if day != 0 && (low == 0 || day < low) {
				low = day
			}
			high = max(high, day)
		}
	}
	return low, high
}

// draw draws a line from its first to its last day, and gives its end.
func (l *DateLine) draw(d *Drawing, p plane) (end Point) {
	var run []Point
	for i, day := range l.Days {
		if day == 0 {
			continue
		}
		end = p.at(float64(i), float64(day))
		if len(run) == 0 {
			d.add(Shape{Form: Circle, Class: "begin", X: end.X, Y: end.Y, W: 2.5})
		}
		run = append(run, end)
	}
	d.add(Shape{Form: Line, Class: "series actual", Points: run})
	d.add(Shape{
		Form:  Circle,
		Class: "end " + l.Class,
		X:     end.X,
		Y:     end.Y,
		W:     3,
		Link:  l.Link,
		Title: l.Name + " " + l.Slip,
	})
	return end
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
