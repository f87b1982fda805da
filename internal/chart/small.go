package chart

import (
	"fmt"
	"math"
	"strings"

	"turret/internal/core/standing"
)

// StripMark is a standing of a strip.
type StripMark struct {
	Standing standing.Standing
	Known    bool
	Period   string
}

// Strip draws standings over periods as bars that rise with the attention
// needed; where nothing is known there is none.
func Strip(marks []StripMark) Drawing {
	const step, width = 6.0, 5.0
	d := Drawing{Class: "strip", Width: step * float64(len(marks)), Height: 14}
	var said []string
	for i, m := range marks {
		if !m.Known {
			continue
		}
		h := [...]float64{2, 4, 8, 13}[m.Standing]
		d.add(Shape{Class: m.Standing.Code(), X: step * float64(i), Y: 14 - h, W: width, H: h})
		said = append(said, m.Period+" "+m.Standing.String())
	}
	d.Title = "Overall by period"
	d.Desc = strings.Join(said[max(0, len(said)-3):], ", ")
	return d
}

// Outlook draws the outlooks of a project against its plan: a bar to the
// computed one, an upright at the plan, and a diamond at the stated one. Values
// are shares of the plan; NaN is not known.
func Outlook(computed, stated float64, st standing.Standing) Drawing {
	const plan, width, height = 38.0, 74.0, 14.0
	at := func(share float64) float64 { // 70% to 150% of plan
		return math.Max(1, math.Min(width-3, plan+(share-1)*90))
	}
	d := Drawing{Class: "outlook " + st.Code(), Title: "Outlook against plan", Width: width, Height: height}
	if !math.IsNaN(computed) {
		d.add(Shape{Class: "amount", X: 0, Y: 5.5, W: at(computed), H: 3})
		d.Desc = fmt.Sprintf("computed %.0f%%", computed*100)
	}
	d.line("plan", plan, 1, plan, 13)
	if !math.IsNaN(stated) {
		x := at(stated)
		d.add(
			Shape{
				Form:   Line,
				Class:  "stated",
				Points: []Point{{x, 3.5}, {x + 3.5, 7}, {x, 10.5}, {x - 3.5, 7}, {x, 3.5}},
			},
		)
		if d.Desc != "" {
			d.Desc += ", "
		}
		d.Desc += fmt.Sprintf("stated %.0f%%", stated*100)
	}
	return d
}

// Stack draws how many projects stood at Act, Watch and Steady in one period,
// Act at the foot. Without counts it is an outline.
func Stack(counts [4]int, rated bool) Drawing {
	const width, height = 14.0, 24.0
	d := Drawing{Class: "stack", Width: width, Height: height, Title: "Standings"}
	all := counts[standing.Act] + counts[standing.Watch] + counts[standing.Steady]
	if !rated {
		d.add(Shape{Class: "none", X: 0.5, Y: 0.5, W: width - 1, H: height - 1})
		return d
	}
	if all == 0 {
		d.add(Shape{Class: "unrated", X: 0, Y: height - 2, W: width, H: 2})
		return d
	}
	y := height
	for _, st := range [...]standing.Standing{standing.Act, standing.Watch, standing.Steady} {
		h := height * float64(counts[st]) / float64(all)
		y -= h
		if h > 0 {
			d.add(Shape{Class: st.Code(), X: 0, Y: y, W: width, H: h})
		}
	}
	return d
}

// Scale draws a value between the limits of its rule: the fields of Steady,
// Watch and Act, and an upright at the value. A limit that is NaN is none. Low
// is bad where falling.
func Scale(value, watch, act float64, falling bool) Drawing {
	const width, height = 122.0, 14.0
	d := Drawing{Class: "scale", Width: width, Height: height, Title: "Value between the limits"}
	near, far := watch, act
	if math.IsNaN(near) {
		near = far
	}
	if math.IsNaN(far) {
		far = near
	}
	gap := math.Abs(far - near)
	if gap == 0 {
		gap = math.Max(math.Abs(near), 1) * 0.5
	}
	low, high := math.Min(near, far)-1.5*gap, math.Max(near, far)+1.5*gap
	at := func(v float64) float64 { return math.Max(0, math.Min(1, (v-low)/(high-low))) * width }
	field := func(st standing.Standing, from, to float64) {
		if from > to {
			from, to = to, from
		}
		if to > from {
			d.add(Shape{Class: st.Code(), X: from, Y: 5.5, W: to - from, H: 3})
		}
	}
	good, bad := 0.0, width
	if falling {
		good, bad = width, 0
	}
	first, last := at(near), at(far)
	if math.IsNaN(watch) {
		first = last
	}
	if math.IsNaN(act) {
		last = bad
	}
	field(standing.Steady, good, first)
	field(standing.Watch, first, last)
	field(standing.Act, last, bad)
	x := math.Max(1, math.Min(width-1, at(value)))
	d.line("at", x, 1, x, 13)
	return d
}

// Span draws an activity between two days: the baseline thin above, the current
// dates below, filled as far as it is done, and an upright at the day. Dates
// are positions from 0 to 1; a pair with the end before the start is not known.
func Span(baseline, current [2]float64, done, now float64, class string) Drawing {
	const width, height = 150.0, 16.0
	d := Drawing{Class: "span " + class, Title: "Dates", Width: width, Height: height}
	bar := func(class string, p [2]float64, y, h float64) {
		if p[1] >= p[0] {
			d.add(Shape{Class: class, X: p[0] * width, Y: y, W: math.Max(1.5, (p[1]-p[0])*width), H: h})
		}
	}
	bar("planned", baseline, 2.5, 2)
	bar("current", current, 7, 5)
	if current[1] >= current[0] && done > 0 {
		bar("done", [2]float64{current[0], current[0] + (current[1]-current[0])*math.Min(1, done)}, 7, 5)
	}
	if now >= 0 && now <= 1 {
		d.line("now", now*width, 0, now*width, height)
	}
	return d
}
