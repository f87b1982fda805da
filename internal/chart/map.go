package chart

import (
	"cmp"
	"math"
	"slices"
)

// MapMark is a project on a map. Shade is 0 to 4, the higher the darker; −1 is not
// known.
type MapMark struct {
	Label, Title, Link string
	X, Y, Size         float64
	Shade              int
	Chosen             bool
}

// Bound is a value of an axis where what lies beyond it needs attention.
type Bound struct {
	At          float64
	Class, Name string
}

// MapAxis is one of the two axes of a map.
type MapAxis struct {
	Title  string
	Bounds []Bound
	Write  func(float64) string
}

// Map sets projects out by two figures.
type Map struct {
	Title, Desc string
	X, Y        MapAxis
	Marks       []MapMark
	Box         *[4]float64 // low and high of X, then of Y: what is chosen
}

// Plot is where the values of a map lie in its drawing.
type Plot struct {
	Left, Top, Right, Bottom float64 // in the drawing's units
	LowX, HighX, LowY, HighY float64
}

// X gives the place of a value.
func (p Plot) X(v float64) float64 {
	return p.Left + (v-p.LowX)/(p.HighX-p.LowX)*(p.Right-p.Left)
}

// Y gives the place of a value; upwards it grows.
func (p Plot) Y(v float64) float64 {
	return p.Bottom - (v-p.LowY)/(p.HighY-p.LowY)*(p.Bottom-p.Top)
}

// The sizes of marks, and how many are named and led to by the keyboard.
const (
	leastMark, largestMark = 3.5, 20.0
	mostNamed              = 60
)

// Draw lays the map out in a size.
func (m Map) Draw(width, height float64) (Drawing, Plot) {
	d := Drawing{Class: "map", Title: m.Title, Desc: m.Desc, Width: width, Height: height}
	p := Plot{Top: 14, Right: width - 16, Bottom: height - 40}
	p.LowX, p.HighX = m.span(m.X, func(k MapMark) float64 { return k.X })
	p.LowY, p.HighY = m.span(m.Y, func(k MapMark) float64 { return k.Y })
	ys := Ticks(p.LowY, p.HighY, 6)
	for _, t := range ys {
		p.Left = math.Max(p.Left, textWidth(m.Y.Write(t), 11)+10)
	}
	p.Left += 18
	for _, t := range Ticks(p.LowX, p.HighX, 8) {
		d.line("grid", p.X(t), p.Top, p.X(t), p.Bottom)
		d.add(Shape{Form: TextMiddle, Class: "tick", X: p.X(t), Y: p.Bottom + 14, Text: m.X.Write(t)})
	}
	for _, t := range ys {
		d.line("grid", p.Left, p.Y(t), p.Right, p.Y(t))
		d.add(Shape{Form: TextEnd, Class: "tick", X: p.Left - 5, Y: p.Y(t) + 4, Text: m.Y.Write(t)})
	}
	d.add(
		Shape{Form: TextEnd, Class: "axis", X: p.Right, Y: height - 6, Text: m.X.Title + " →"},
		Shape{Form: Text, Class: "axis", X: 2, Y: 10, Text: "↑ " + m.Y.Title},
	)
	for _, b := range m.X.Bounds {
		if b.At > p.LowX && b.At < p.HighX {
			d.line("bound "+b.Class, p.X(b.At), p.Top, p.X(b.At), p.Bottom)
			d.add(Shape{Form: Text, Class: "bound " + b.Class, X: p.X(b.At) + 3, Y: p.Bottom - 4, Text: b.Name})
		}
	}
	for _, b := range m.Y.Bounds {
		if b.At > p.LowY && b.At < p.HighY {
			d.line("bound "+b.Class, p.Left, p.Y(b.At), p.Right, p.Y(b.At))
			d.add(Shape{Form: TextEnd, Class: "bound " + b.Class, X: p.Right - 2, Y: p.Y(b.At) - 3, Text: b.Name})
		}
	}
	if b := m.Box; b != nil {
		d.add(p.box(*b))
	}
	m.marks(&d, p)
	return d, p
}

// box draws what is chosen, as far as it lies in the plot.
func (p Plot) box(b [4]float64) Shape {
	x1, x2 := math.Max(p.X(b[0]), p.Left), math.Min(p.X(b[1]), p.Right)
	y1, y2 := math.Max(p.Y(b[3]), p.Top), math.Min(p.Y(b[2]), p.Bottom)
	return Shape{Class: "box", X: x1, Y: y1, W: math.Max(x2-x1, 1), H: math.Max(y2-y1, 1)}
}

// span gives the ends of an axis: those of the marks, with zero where it is near
// and bounds that lie just beyond, and some room.
func (m Map) span(a MapAxis, of func(MapMark) float64) (low, high float64) {
	low, high = math.Inf(1), math.Inf(-1)
	for _, k := range m.Marks {
		low, high = math.Min(low, of(k)), math.Max(high, of(k))
	}
	if len(m.Marks) == 0 {
		low, high = 0, 1
	}
	room := func() float64 {
		if high > low {
			return (high - low) * 0.07
		}
		return math.Max(math.Abs(high)*0.1, 1e-9)
	}
	for _, b := range a.Bounds {
		if b.At >= low-8*room() && b.At <= high+8*room() {
			low, high = math.Min(low, b.At), math.Max(high, b.At)
		}
	}
	r := room()
	return low - r, high + r
}

// marks draws the marks, the largest first so that small ones stay on top, and
// names those that have room for it.
func (m Map) marks(d *Drawing, p Plot) {
	most := 0.0
	for _, k := range m.Marks {
		most = math.Max(most, k.Size)
	}
	largest := largestMark
	if len(m.Marks) > 200 {
		largest /= 2
	}
	order := make([]int, len(m.Marks))
	radius := make([]float64, len(m.Marks))
	for i, k := range m.Marks {
		order[i], radius[i] = i, leastMark
		if most > 0 && k.Size > 0 {
			radius[i] = math.Max(leastMark, largest*math.Sqrt(k.Size/most))
		}
	}
	slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(radius[b], radius[a]) })
	shades := [...]string{"unknown", "s0", "s1", "s2", "s3", "s4"}
	for _, i := range order {
		k := m.Marks[i]
		class := shades[k.Shade+1]
		if k.Chosen {
			class += " chosen"
		}
		d.add(
			Shape{
				Form:   Circle,
				Class:  class,
				X:      p.X(k.X),
				Y:      p.Y(k.Y),
				W:      radius[i],
				Title:  k.Title,
				Link:   k.Link,
				Passed: len(m.Marks) > mostNamed,
			},
		)
	}
	m.names(d, p, order, radius)
}

// frame is a rectangle that a name or a mark takes.
type frame struct{ x1, y1, x2, y2 float64 }

func (f frame) meets(g frame) bool {
	return f.x1 < g.x2 && g.x1 < f.x2 && f.y1 < g.y2 && g.y1 < f.y2
}

// names writes the names of marks beside them, where none meets another name or
// a mark: those that lie farthest from the middle first, as they are looked for.
func (m Map) names(d *Drawing, p Plot, order []int, radius []float64) {
	const size, high = 11.0, 12.0
	middleX, middleY := (p.Left+p.Right)/2, (p.Top+p.Bottom)/2
	far := func(i int) float64 {
		k := m.Marks[i]
		f := math.Hypot((p.X(k.X)-middleX)/(p.Right-p.Left), (p.Y(k.Y)-middleY)/(p.Bottom-p.Top)) + radius[i]/largestMark
		if k.Chosen {
			f += 10
		}
		return f
	}
	wanted := slices.Clone(order)
	slices.SortStableFunc(wanted, func(a, b int) int { return cmp.Compare(far(b), far(a)) })
	var taken []frame
	for i, k := range m.Marks {
		x, y, r := p.X(k.X), p.Y(k.Y), radius[i]*0.8
		taken = append(taken, frame{x - r, y - r, x + r, y + r})
	}
	for n, i := range wanted {
		if n == mostNamed {
			break
		}
		k := m.Marks[i]
		x, y, r, w := p.X(k.X), p.Y(k.Y), radius[i]+2, textWidth(k.Label, size)
		for _, at := range [...]struct {
			form Form
			x, y float64
			left float64
		}{{Text, x + r, y + 4, x + r}, {TextEnd, x - r, y + 4, x - r - w}, {TextMiddle, x, y - r - 2, x - w/2}, {TextMiddle, x, y + r + high - 2, x - w/2}} {
			f := frame{at.left, at.y - high + 2, at.left + w, at.y + 2}
			if f.x1 < p.Left || f.x2 > p.Right || f.y1 < p.Top || f.y2 > p.Bottom ||
				slices.ContainsFunc(taken, f.meets) {
				continue
			}
			taken = append(taken, f)
			d.add(Shape{Form: at.form, Class: "name", X: at.x, Y: at.y, Text: k.Label})
			break
		}
	}
}
