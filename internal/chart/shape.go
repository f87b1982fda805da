// Package chart turns readings to shapes, and shapes to SVG. Shapes know
// nothing of SVG; its writer escapes all text, and is the only maker of trusted
// HTML.
package chart

import (
	"math"
	"slices"
)

// Drawing is a picture made of shapes, in units of CSS pixels.
type Drawing struct {
	Class         string
	Title         string // what it is, for those who hear the page
	Desc          string // what it shows; may be empty
	Width, Height float64
	Shapes        []Shape
}

// Form of a shape.
type Form uint8

// The forms: a rectangle, a line through points, a circle around X and Y with
// the radius W, and a text that begins, is centred or ends at X on the baseline
// Y.
const (
	Rect Form = iota
	Line
	Circle
	Text
	TextMiddle
	TextEnd
)

// Shape is one mark. One with a link leads there; its title is told on
// hovering.
type Shape struct {
	Form       Form
	Class      string
	X, Y, W, H float64
	Points     []Point
	Text       string
	Link       string
	Title      string
	Passed     bool // its link is for the pointer alone: a table says the same
}

// Point is a place in a drawing, or a value before it is placed.
type Point struct{ X, Y float64 }

func (d *Drawing) add(s ...Shape) { d.Shapes = append(d.Shapes, s...) }

func (d *Drawing) line(class string, x1, y1, x2, y2 float64) {
	d.add(Shape{Form: Line, Class: class, Points: []Point{{x1, y1}, {x2, y2}}})
}

// textWidth estimates the width of a text in the type that pages use.
func textWidth(s string, size float64) float64 {
	w := 0.0
	for _, r := range s {
		switch {
		case r == ' ' || r == '.' || r == ',' || r == 'i' || r == 'l' || r == 't' || r == 'f' || r == 'j' || r == '·':
			w += 0.3
		case r == 'm' || r == 'w' || r == 'M' || r == 'W' || r == '%':
			w += 0.86
		case r >= 'A' && r <= 'Z' || r == '€' || r == '+' || r == '−':
			w += 0.66
		default:
			w += 0.55
		}
	}
	return w * size
}

// Ticks gives about n round values from low to high: steps are 1, 2 or 5 times
// a power of ten. It gives one value where the two are the same.
func Ticks(low, high float64, n int) []float64 {
	if !(high > low) || n < 1 {
		return []float64{low}
	}
	raw := (high - low) / float64(n)
	step := math.Pow(10, math.Floor(math.Log10(raw)))
	for _, k := range [...]float64{1, 2, 5, 10} {
		if step*k >= raw*0.999 {
			step *= k
			break
		}
	}
	var out []float64
	first := math.Ceil(low/step - 1e-9)
	for k := first; k*step <= high+step*1e-9; k++ {
		out = append(out, k*step)
	}
	return out
}

// spread moves places apart until each is at least gap from the next, between
// low and high as far as they fit, moving none more than it must.
func spread(places []float64, gap, low, high float64) []float64 {
	order := make([]int, len(places))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int {
		switch {
		case places[a] < places[b]:
			return -1
		case places[a] > places[b]:
			return 1
		}
		return 0
	})
	out := slices.Clone(places)
	at := low
	for _, i := range order { // down, no nearer than gap
		out[i] = math.Max(out[i], at)
		at = out[i] + gap
	}
	at = high
	for k := len(order) - 1; k >= 0; k-- { // and up again from the end
		i := order[k]
		out[i] = math.Min(out[i], at)
		at = out[i] - gap
	}
	return out
}
