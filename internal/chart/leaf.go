package chart

import (
	"fmt"
	"html/template"
	"strings"
	"unicode"
)

// The inks of paper: those of the light screen, on white.
const (
	Ink       = "#15222C"
	Ink2      = "#52616B"
	Rule      = "#D8D2C2"
	Rule2     = "#EAE5D8"
	Ground    = "#F6F3EA"
	Brass     = "#9C6A0F"
	Deep      = "#0F4354"
	SteadyInk = "#1F6657"
	WatchInk  = "#7D5404"
	ActInk    = "#A83226"
)

// Mark is a shape with its ink, as a page of paper has it. Sizes are in points.
type Mark struct {
	Form       Form
	X, Y, W, H float64
	Points     []Point
	Text       string
	Size       float64 // of a text
	Bold       bool
	Fill       string // #rrggbb; "": none
	Stroke     string
	Line       float64 // width of the stroke
	Dash       []float64
	Opacity    float64 // zero: opaque
}

// Scale makes a mark smaller or larger about a point.
func (m *Mark) Scale(x, y, by float64) {
	m.X, m.Y = x+(m.X-x)*by, y+(m.Y-y)*by
	m.W, m.H, m.Size, m.Line = m.W*by, m.H*by, m.Size*by, m.Line*by
	points, dash := make([]Point, len(m.Points)), make([]float64, len(m.Dash))
	for i, p := range m.Points {
		points[i] = Point{x + (p.X-x)*by, y + (p.Y-y)*by}
	}
	for i, n := range m.Dash {
		dash[i] = n * by
	}
	m.Points, m.Dash = points, dash
}

// Leaf is a page of paper.
type Leaf struct {
	Width, Height float64
	Title         string
	Marks         []Mark
}

// SVG writes a page of paper for a screen, in the width of type that it was laid out with.
func (l Leaf) SVG() template.HTML {
	var w svg
	fmt.Fprintf(
		&w.b,
		`<svg class="leaf" viewBox="0 0 %s %s" width="%s" height="%s" font-stretch="92%%" font-variant="tabular-nums" role="img" aria-label="%s"><title>%s</title>`,
		num(l.Width),
		num(l.Height),
		num(l.Width),
		num(l.Height),
		escape(l.Title),
		escape(l.Title),
	)
	fmt.Fprintf(&w.b, `<rect width="%s" height="%s" fill="#FFFFFF"/>`, num(l.Width), num(l.Height))
	for i := range l.Marks {
		w.mark(&l.Marks[i])
	}
	return w.close()
}

// Clear writes a small leaf without its ground, within a text.
func (l Leaf) Clear() template.HTML {
	var w svg
	fmt.Fprintf(
		&w.b,
		`<svg viewBox="0 0 %s %s" width="%s" height="%s" role="img" aria-label="%s">`,
		num(l.Width),
		num(l.Height),
		num(l.Width),
		num(l.Height),
		escape(l.Title),
	)
	for i := range l.Marks {
		w.mark(&l.Marks[i])
	}
	return w.close()
}

// Standalone writes a drawing as a file of its own, with its inks and on white.
func (d Drawing) Standalone() template.HTML {
	var w svg
	fmt.Fprintf(
		&w.b,
		`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 %s %s" width="%s" height="%s" font-family="Archivo, Arial, sans-serif"><title>%s</title>`,
		num(d.Width),
		num(d.Height),
		num(d.Width),
		num(d.Height),
		escape(d.Title),
	)
	fmt.Fprintf(&w.b, `<rect width="%s" height="%s" fill="#FFFFFF"/>`, num(d.Width), num(d.Height))
	marks := d.Inked(0, 0, 1)
	for i := range marks {
		w.mark(&marks[i])
	}
	return w.close()
}

func (w *svg) mark(m *Mark) {
	var a strings.Builder
	ink := func(name, v string) {
		if v == "" {
			v = "none"
		}
		fmt.Fprintf(&a, ` %s="%s"`, name, escape(v))
	}
	ink("fill", m.Fill)
	if m.Form < Text {
		ink("stroke", m.Stroke)
		if m.Stroke != "" {
			ink("stroke-width", round(m.Line))
		}
		if len(m.Dash) > 0 {
			var parts []string
			for _, d := range m.Dash {
				parts = append(parts, round(d))
			}
			ink("stroke-dasharray", strings.Join(parts, " "))
		}
	}
	if m.Opacity > 0 {
		ink("opacity", num(m.Opacity))
	}
	switch m.Form {
	case Rect:
		fmt.Fprintf(
			&w.b,
			`<rect x="%s" y="%s" width="%s" height="%s"%s/>`,
			round(m.X),
			round(m.Y),
			round(m.W),
			round(m.H),
			a.String(),
		)
	case Circle:
		fmt.Fprintf(&w.b, `<circle cx="%s" cy="%s" r="%s"%s/>`, round(m.X), round(m.Y), round(m.W), a.String())
	case Line:
		w.b.WriteString(`<polyline points="`)
		for i, p := range m.Points {
			if i > 0 {
				w.b.WriteByte(' ')
			}
			w.b.WriteString(round(p.X) + "," + round(p.Y))
		}
		fmt.Fprintf(&w.b, `"%s/>`, a.String())
	default:
		anchor := [...]string{"", ` text-anchor="middle"`, ` text-anchor="end"`}[m.Form-Text]
		weight := "420"
		if m.Bold {
			weight = "650"
		}
		if FromRight(m.Text) {
			anchor += ` unicode-bidi="plaintext"` // its own letters say from where it is read
		}
		fmt.Fprintf(
			&w.b,
			`<text x="%s" y="%s" font-size="%s" font-weight="%s"%s%s>%s</text>`,
			round(m.X),
			round(m.Y),
			round(m.Size),
			weight,
			anchor,
			a.String(),
			escape(m.Text),
		)
	}
}

// ink says how shapes of a class are drawn on paper. The first that fits a
// shape counts; In is the class of its drawing, or "".
type ink struct {
	in, class    string
	fill, stroke string
	line         float64
	dash         []float64
	opacity      float64
	size         float64
	bold         bool
}

// inks mirror the screen's style sheet.
var inks = []ink{
	{in: "scale", class: "at", stroke: Ink, line: 2},
	{in: "scale", class: "steady", fill: "#2B7A69", opacity: 0.6},
	{in: "scale", class: "watch", fill: "#C5850A", opacity: 0.6},
	{in: "scale", class: "act", fill: "#B0382C", opacity: 0.6},
	{in: "outlook", class: "plan", stroke: Ink, line: 1.4},
	{in: "outlook", class: "stated", fill: "#FFFFFF", stroke: "#B57C14", line: 1.2},
	{in: "outlook act", class: "amount", fill: "#B0382C"},
	{in: "outlook watch", class: "amount", fill: "#C5850A"},
	{in: "outlook", class: "amount", fill: Deep},
	{in: "span", class: "planned", fill: "#93A5B1"},
	{in: "span", class: "current", fill: "#DCD3BD"},
	{in: "span", class: "done", fill: Ink2},
	{in: "span", class: "now", stroke: Brass, line: 1},
	{in: "timeline", class: "off", fill: "#F0ECDF"},
	{in: "timeline", class: "planned", fill: "#93A5B1"},
	{in: "timeline", class: "phase odd", fill: "#3D6EA6", opacity: 0.35},
	{in: "timeline", class: "phase", fill: "#3D6EA6", opacity: 0.55},
	{in: "timeline", class: "summary", fill: Ink2, opacity: 0.6},
	{in: "timeline", class: "finished", fill: "#98A1A6"},
	{in: "timeline", class: "critical", fill: "#B0382C"},
	{in: "timeline", class: "near", fill: "#C5850A"},
	{in: "timeline", class: "work", fill: "#DCD3BD"},
	{in: "timeline", class: "done", fill: Deep},
	{in: "timeline", class: "spare", stroke: Ink2, line: 1, dash: []float64{1, 3}},
	{in: "timeline", class: "tie broken", stroke: "#B0382C", line: 1.5},
	{in: "timeline", class: "tie holds", stroke: Ink2, line: 1},
	{in: "timeline", class: "tie", stroke: Rule2, line: 1},
	{in: "timeline", class: "point met", fill: Deep, stroke: "#FFFFFF", line: 0.8},
	{in: "timeline", class: "point steady", fill: "#2B7A69", stroke: "#FFFFFF", line: 0.8},
	{in: "timeline", class: "point watch", fill: "#C5850A", stroke: "#FFFFFF", line: 0.8},
	{in: "timeline", class: "point act", fill: "#B0382C", stroke: "#FFFFFF", line: 0.8},
	{in: "timeline", class: "label head", bold: true},
	{in: "timeline", class: "grid", stroke: Rule2, line: 0.6},
	{in: "timeline", class: "axis", stroke: Ink2, line: 1},
	{in: "band", class: "spent-label", fill: "#FFFFFF"},
	{in: "band", class: "order-label", fill: "#FFFFFF"},
	{in: "band", class: "unit", fill: Ink2},
	{in: "band", class: "beyond", fill: "#C5850A", opacity: 0.75},
	{in: "band", class: "mark earned", stroke: "#3D6EA6", line: 2},
	{in: "band", class: "mark computed", stroke: "#7B4B8C", line: 2, dash: []float64{3, 2}},
	{in: "band", class: "mark", stroke: Ink, line: 2},
	{in: "band", class: "spent", fill: Ink},
	{in: "band", class: "order", fill: "#5F6E79"},
	{in: "band", class: "togo", fill: "#DCD3BD"},
	{in: "bridge", class: "change act", fill: "#B0382C"},
	{in: "bridge", class: "change", fill: "#2B7A69"},
	{in: "bridge", class: "tie", stroke: Ink2, line: 1},
	{class: "label earned", fill: "#3D6EA6"},
	{class: "label computed", fill: "#7B4B8C"},
	{class: "label stated", fill: "#8A5D0C"},
	{class: "nowname", fill: Brass, bold: true},
	{class: "now", stroke: Brass, line: 1},
	{class: "tick", fill: Ink2},
	{class: "sub", fill: Ink2, size: 10},
	{class: "rule", stroke: Rule2, line: 1},
	{class: "series plan original", stroke: "#93A5B1", line: 2.2, dash: []float64{1, 3}},
	{class: "series plan", stroke: "#93A5B1", line: 2.2},
	{class: "series earned", stroke: "#3D6EA6", line: 1.8},
	{class: "series actual", stroke: Ink, line: 1.8},
	{class: "series stated", stroke: "#B57C14", line: 1.8, dash: []float64{6, 3}},
	{class: "series computed", stroke: "#7B4B8C", line: 1.8, dash: []float64{2, 2.5}},
	{class: "begin", fill: "#FFFFFF", stroke: Ink, line: 1},
	{class: "steady", fill: "#2B7A69"},
	{class: "watch", fill: "#C5850A"},
	{class: "act", fill: "#B0382C"},
	{class: "unrated", fill: "#98A1A6"},
}

// Inked draws shapes with the inks of paper, moved and scaled.
func (d Drawing) Inked(x, y, scale float64) []Mark {
	out := make([]Mark, 0, len(d.Shapes))
	for i := range d.Shapes {
		s := &d.Shapes[i]
		m := Mark{Form: s.Form, X: x + s.X*scale, Y: y + s.Y*scale, W: s.W * scale, H: s.H * scale, Text: s.Text}
		for _, p := range s.Points {
			m.Points = append(m.Points, Point{x + p.X*scale, y + p.Y*scale})
		}
		k := inkOf(d.Class, s)
		m.Fill, m.Stroke, m.Line, m.Opacity = k.fill, k.stroke, k.line*scale, k.opacity
		for _, n := range k.dash {
			m.Dash = append(m.Dash, n*scale)
		}
		if s.Form >= Text {
			m.Size, m.Bold = 11*scale, k.bold
			if k.size > 0 {
				m.Size = k.size * scale
			}
			if m.Fill == "" {
				m.Fill = Ink
			}
		} else if m.Fill == "" && m.Stroke == "" {
			if s.Form == Line {
				m.Stroke, m.Line = Ink, scale
			} else {
				m.Fill = Ink
			}
		}
		out = append(out, m)
	}
	return out
}

func inkOf(drawing string, s *Shape) ink {
	for _, k := range inks {
		if k.in != "" && !wears(drawing, k.in) || !wears(s.Class, k.class) {
			continue
		}
		return k
	}
	return ink{}
}

// wears tells whether a class has all words of another.
func wears(class, words string) bool {
	have := " " + class + " "
	for w := range strings.FieldsSeq(words) {
		if !strings.Contains(have, " "+w+" ") {
			return false
		}
	}
	return true
}

// Inked draws the standing glyph with the inks of paper, 16 points high at
// scale one.
func (g Glyph) Inked(x, y, scale float64) []Mark {
	colour := map[string]string{"steady": "#2B7A69", "watch": "#C5850A", "act": "#B0382C"}[g.Standing.Code()]
	if g.Small {
		scale *= 0.58
	}
	var out []Mark
	for i := range 3 {
		h := float64(5 + 3*i)
		m := Mark{Form: Rect, X: x + float64(1+5*i)*scale, Y: y + (12-h)*scale, W: 4 * scale, H: h * scale}
		switch {
		case i < int(g.Standing):
			m.Fill = colour
		case colour == "":
			m.Stroke, m.Line, m.Dash = "#98A1A6", 0.7*scale, []float64{1.5 * scale, 1 * scale}
		default:
			m.Stroke, m.Line = "#98A1A6", 0.6*scale
		}
		out = append(out, m)
	}
	if g.Overall {
		out = append(out, Mark{Form: Rect, X: x, Y: y + 14*scale, W: 16 * scale, H: 1.4 * scale, Fill: Ink})
	}
	return out
}

// FromRight tells whether any of a text is of a script that is read from the right.
func FromRight(text string) bool {
	return strings.IndexFunc(text, func(r rune) bool { return r >= 0x590 && unicode.In(r, RightToLeft...) }) >= 0
}

// RightToLeft are the scripts that are read from the right.
var RightToLeft = []*unicode.RangeTable{unicode.Hebrew, unicode.Arabic, unicode.Syriac, unicode.Thaana, unicode.Nko}
