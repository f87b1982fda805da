package chart

import (
	"fmt"
	"html/template"
	"strconv"
	"strings"
)

// svg writes elements; every text goes through escape.
type svg struct{ b strings.Builder }

func escape(s string) string { return template.HTMLEscapeString(s) }

func num(f float64) string { return strconv.FormatFloat(f, 'f', -1, 64) }

// round keeps a coordinate short: a tenth of a pixel is enough.
func round(f float64) string {
	s := strconv.FormatFloat(f, 'f', 1, 64)
	return strings.TrimSuffix(s, ".0")
}

func (w *svg) open(class, label string, width, height int, viewBox string) {
	fmt.Fprintf(
		&w.b,
		`<svg class="%s" width="%d" height="%d" viewBox="%s" role="img" aria-label="%s"><title>%s</title>`,
		escape(class),
		width,
		height,
		viewBox,
		escape(label),
		escape(label),
	)
}

func (w *svg) rect(class string, x, y, width, height float64) {
	fmt.Fprintf(
		&w.b,
		`<rect class="%s" x="%s" y="%s" width="%s" height="%s"/>`,
		escape(class),
		num(x),
		num(y),
		num(width),
		num(height),
	)
}

func (w *svg) close() template.HTML {
	w.b.WriteString("</svg>")
	return template.HTML(w.b.String())
}

// SVG writes a drawing. A drawing whose marks are links is a group of them to
// those who hear the page; one without is a picture.
func (d Drawing) SVG() template.HTML {
	var w svg
	role := "img"
	for _, s := range d.Shapes {
		if s.Link != "" {
			role = "group"
		}
	}
	label := d.Title
	if d.Desc != "" {
		label += ": " + d.Desc
	}
	fmt.Fprintf(
		&w.b,
		`<svg class="%s" viewBox="0 0 %s %s" width="%s" height="%s" role="%s" aria-label="%s">`,
		escape(d.Class),
		num(d.Width),
		num(d.Height),
		num(d.Width),
		num(d.Height),
		role,
		escape(label),
	)
	for i := range d.Shapes {
		w.shape(&d.Shapes[i])
	}
	return w.close()
}

func (w *svg) shape(s *Shape) {
	if s.Link != "" {
		fmt.Fprintf(&w.b, `<a href="%s"`, escape(s.Link))
		switch {
		case s.Passed:
			w.b.WriteString(` tabindex="-1" aria-hidden="true"`)
		case s.Title != "":
			fmt.Fprintf(&w.b, ` aria-label="%s"`, escape(s.Title))
		}
		w.b.WriteString(">")
	}
	class := ""
	if s.Class != "" {
		class = ` class="` + escape(s.Class) + `"`
	}
	end := "/>"
	if s.Title != "" {
		end = "><title>" + escape(s.Title) + "</title>"
	}
	shut := func(tag string) {
		w.b.WriteString(end)
		if s.Title != "" {
			w.b.WriteString("</" + tag + ">")
		}
	}
	switch s.Form {
	case Rect:
		fmt.Fprintf(
			&w.b,
			`<rect%s x="%s" y="%s" width="%s" height="%s"`,
			class,
			round(s.X),
			round(s.Y),
			round(s.W),
			round(s.H),
		)
		shut("rect")
	case Line:
		fmt.Fprintf(&w.b, `<polyline%s points="`, class)
		for i, p := range s.Points {
			if i > 0 {
				w.b.WriteByte(' ')
			}
			w.b.WriteString(round(p.X) + "," + round(p.Y))
		}
		w.b.WriteByte('"')
		shut("polyline")
	case Circle:
		fmt.Fprintf(&w.b, `<circle%s cx="%s" cy="%s" r="%s"`, class, round(s.X), round(s.Y), round(s.W))
		shut("circle")
	default:
		anchor := [...]string{"", ` text-anchor="middle"`, ` text-anchor="end"`}[s.Form-Text]
		fmt.Fprintf(&w.b, `<text%s x="%s" y="%s"%s>`, class, round(s.X), round(s.Y), anchor)
		if s.Title != "" {
			w.b.WriteString("<title>" + escape(s.Title) + "</title>")
		}
		w.b.WriteString(escape(s.Text) + "</text>")
	}
	if s.Link != "" {
		w.b.WriteString("</a>")
	}
}

// Narrow is the width of the drawing made for small screens.
const Narrow = 340

// Fit writes a drawing at two widths, of which a page shows the one that fits.
func Fit(wide float64, draw func(width float64) Drawing) template.HTML {
	return `<div class="wide">` + draw(wide).SVG() + `</div><div class="narrow">` + draw(Narrow).SVG() + `</div>`
}
