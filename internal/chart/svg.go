// Package chart turns readings to shapes and writes them as SVG. Its writer
// escapes all text, and is the only maker of trusted HTML.
package chart

import (
	"fmt"
	"html/template"
	"strings"
)

// svg writes elements; every text goes through escape.
type svg struct{ b strings.Builder }

func escape(s string) string { return template.HTMLEscapeString(s) }

func (w *svg) open(class, label string, width, height int, viewBox string) {
	fmt.Fprintf(&w.b, `<svg class="%s" width="%d" height="%d" viewBox="%s" role="img" aria-label="%s"><title>%s</title>`, escape(class), width, height, viewBox, escape(label), escape(label))
}

func (w *svg) rect(class string, x, y, width, height float64) {
	fmt.Fprintf(&w.b, `<rect class="%s" x="%g" y="%g" width="%g" height="%g"/>`, escape(class), x, y, width, height)
}

func (w *svg) close() template.HTML {
	w.b.WriteString("</svg>")
	return template.HTML(w.b.String())
}
