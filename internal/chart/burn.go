package chart

import "math"

// Burn is what was spent by period beside what was planned, with the mean of the
// last three.
type Burn struct {
	Title, Desc string
	Periods     []string
	Spent, Plan []float64 // by period; Plan may be nil
	Mean        float64   // NaN: not known
	Write       func(float64) string
}

// Draw lays the bars out in a width.
func (b Burn) Draw(width float64) Drawing {
	const top, right, bottom, size = 12.0, 26.0, 22.0, 11.0
	height := math.Max(180, width*0.4)
	d := Drawing{Class: "burn", Title: b.Title, Desc: b.Desc, Width: width, Height: height}
	low, high := 0.0, 0.0
	for _, list := range [][]float64{b.Spent, b.Plan} {
		for _, v := range list {
			low, high = math.Min(low, v), math.Max(high, v)
		}
	}
	ticks := Ticks(low, high, 4)
	left := 8.0
	for _, t := range ticks {
		left = math.Max(left, textWidth(b.Write(t), size)+8)
	}
	y := func(v float64) float64 {
		if high <= low {
			return height - bottom
		}
		return height - bottom - (v-low)/(high-low)*(height-top-bottom)
	}
	for _, t := range ticks {
		d.line("rule", left, y(t), width-right, y(t))
		d.add(Shape{Form: TextEnd, Class: "tick", X: left - 5, Y: y(t) + 4, Text: b.Write(t)})
	}
	n := len(b.Spent)
	if n == 0 {
		return d
	}
	step := (width - right - left) / float64(n)
	every := int(math.Ceil(64 / step))
	for i, v := range b.Spent {
		x := left + step*float64(i)
		class := "spent"
		if i >= n-3 {
			class = "spent last"
		}
		d.add(
			Shape{
				Class: class,
				X:     x + step*0.15,
				Y:     math.Min(y(v), y(0)),
				W:     step * 0.7,
				H:     math.Max(math.Abs(y(v)-y(0)), 0.5),
				Title: b.Periods[i] + ": " + b.Write(v),
			},
		)
		if i < len(b.Plan) {
			d.line("planned", x+step*0.05, y(b.Plan[i]), x+step*0.95, y(b.Plan[i]))
		}
		if (n-1-i)%every == 0 {
			d.add(Shape{Form: TextMiddle, Class: "tick", X: x + step/2, Y: height - 6, Text: b.Periods[i]})
		}
	}
	if !math.IsNaN(b.Mean) {
		from := left + step*math.Max(float64(n-3), 0)
		d.line("mean", from, y(b.Mean), width-right, y(b.Mean))
	}
	return d
}

// Small is a curve without axes, to be set beside others: what is planned, what
// is spent, and what is stated to come, cumulative.
func Small(title string, plan, spent, running []float64) Drawing {
	const width, height = 200.0, 76.0
	d := Drawing{Class: "curve small", Title: title, Width: width, Height: height}
	high := 0.0
	for _, list := range [][]float64{plan, running} {
		for _, v := range list {
			high = math.Max(high, v)
		}
	}
	line := func(class string, list []float64) {
		if len(list) == 0 || high == 0 {
			return
		}
		n := math.Max(float64(max(len(plan), len(running))-1), 1)
		var at []Point
		for i, v := range list {
			at = append(at, Point{3 + float64(i)/n*(width-6), height - 3 - math.Max(v, 0)/high*(height-8)})
		}
		d.add(Shape{Form: Line, Class: "series " + class, Points: at})
	}
	d.line("rule", 0, height-3, width, height-3)
	line("plan", plan)
	line("stated", running)
	line("actual", spent)
	return d
}
