package chart

import "math"

// Trend is one figure over periods, the earliest first; NaN is not known.
type Trend struct {
	Title, Desc string
	Periods     []string
	Values      []float64
	Write       func(float64) string
}

// Draw lays the line out in a width, on a scale of its own: it shows how the figure moved, not
// how large it is.
func (t Trend) Draw(width float64) Drawing {
	const top, right, bottom, size = 12.0, 32.0, 22.0, 11.0
	height := math.Max(120, width*0.3)
	d := Drawing{Class: "curve", Title: t.Title, Desc: t.Desc, Width: width, Height: height}
	low, high := math.Inf(1), math.Inf(-1)
	for _, v := range t.Values {
		if !math.IsNaN(v) {
			low, high = math.Min(low, v), math.Max(high, v)
		}
	}
	if low > high {
		return d // nothing is known
	}
	if low == high {
		gap := math.Max(math.Abs(low)*0.05, 0.01)
		low, high = low-gap, high+gap
	}
	ticks := Ticks(low, high, 5)
	left := 8.0
	for _, v := range ticks {
		left = math.Max(left, textWidth(t.Write(v), size)+10)
	}
	x := func(i int) float64 {
		return left + (width-right-left)*float64(i)/math.Max(float64(len(t.Values)-1), 1)
	}
	y := func(v float64) float64 { return height - bottom - (v-low)/(high-low)*(height-top-bottom) }
	for _, v := range ticks {
		d.line("rule", left, y(v), width-right, y(v))
		d.add(Shape{Form: TextEnd, Class: "tick", X: left - 5, Y: y(v) + 4, Text: t.Write(v)})
	}
	var line []Point
	flush := func() {
		if len(line) > 1 {
			d.add(Shape{Form: Line, Class: "series actual", Points: line})
		}
		line = nil
	}
	every := int(math.Ceil(60 * float64(max(len(t.Values), 1)) / math.Max(width-right-left, 1)))
	for i, v := range t.Values {
		if (len(t.Values)-1-i)%every == 0 {
			d.add(Shape{Form: TextMiddle, Class: "tick", X: x(i), Y: height - 6, Text: t.Periods[i]})
		}
		if math.IsNaN(v) {
			flush()
			continue
		}
		line = append(line, Point{x(i), y(v)})
		d.add(Shape{Form: Circle, Class: "point", X: x(i), Y: y(v), W: 2.5, Title: t.Periods[i] + ": " + t.Write(v)})
	}
	flush()
	return d
}
