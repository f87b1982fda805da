package chart

import "math"

// Step is a row of a bridge: the sum at an end, or what a cause adds.
type Step struct {
	Name, Text, Link string
	Value            float64
	End              bool   // a sum; else a change
	Class            string // act where it is worse
}

// Bridge leads from one sum to another by steps, each beginning where the one
// before it ended. The ends begin at the left edge, which is not zero.
type Bridge struct {
	Title, Desc string
	Steps       []Step
}

// Draw lays the bridge out in a width: a row a step, its name before and its
// amount behind.
func (b Bridge) Draw(width float64) Drawing {
	const row, thick, top, size = 26.0, 14.0, 6.0, 12.0
	left, right := 190.0, 104.0
	if width <= Narrow {
		left, right = 118, 76
	}
	d := Drawing{
		Class:  "bridge",
		Title:  b.Title,
		Desc:   b.Desc,
		Width:  width,
		Height: top + row*float64(len(b.Steps)) + 4,
	}
	low, high, at := math.Inf(1), math.Inf(-1), 0.0
	for _, s := range b.Steps {
		if s.End {
			at = s.Value
		} else {
			at += s.Value
		}
		low, high = math.Min(low, at), math.Max(high, at)
	}
	span := math.Max(high-low, math.Abs(high)/1e6)
	if span == 0 {
		span = 1
	}
	low -= span * 0.18 // so that an end has a body
	x := func(v float64) float64 { return left + (v-low)/(high-low)*(width-left-right) }
	at = 0
	for i, s := range b.Steps {
		y := top + row*float64(i)
		from, to := low, s.Value
		class := "end"
		if !s.End {
			from, to, class = at, at+s.Value, "change"
		}
		at = to
		if s.Class != "" {
			class += " " + s.Class
		}
		d.add(Shape{Form: Text, Class: "name", X: 4, Y: y + 12, Text: clip(s.Name, left-10, size), Title: s.Name})
		w := math.Abs(x(to) - x(from))
		d.add(
			Shape{
				Class: class,
				X:     math.Min(x(from), x(to)),
				Y:     y + 1,
				W:     math.Max(w, 1.5),
				H:     thick,
				Link:  s.Link,
				Title: s.Name + " " + s.Text,
			},
		)
		if i+1 < len(b.Steps) {
			d.line("tie", x(at), y+1+thick, x(at), y+1+row)
		}
		d.add(Shape{Form: TextEnd, Class: "amount", X: width - 4, Y: y + 12, Text: s.Text})
	}
	return d
}

// clip shortens a text to a width.
func clip(text string, width, size float64) string {
	if textWidth(text, size) <= width {
		return text
	}
	r := []rune(text)
	for len(r) > 1 && textWidth(string(r)+"…", size) > width {
		r = r[:len(r)-1]
	}
	return string(r) + "…"
}
