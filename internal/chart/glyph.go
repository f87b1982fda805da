package chart

import (
	"html/template"

	"turret/internal/core/standing"
)

// Glyph is the mark of a standing: three upright bars of rising height on a
// common foot, as many filled as attention is needed.
type Glyph struct {
	Standing standing.Standing
	Overall  bool   // has a foot line
	Small    bool   // the stated one, beside the computed
	What     string // dimension, for those who hear the screen
	Why      string
}

// Label says the glyph in words.
func (g Glyph) Label() string {
	s := g.What + ": " + g.Standing.String()
	if g.Why != "" {
		s += ", " + g.Why
	}
	return s
}

// SVG draws the glyph.
func (g Glyph) SVG() template.HTML {
	class, width, height := "glyph "+g.Standing.Code(), 17, 16
	if g.Small {
		class, width, height = class+" small", 10, 9
	}
	var w svg
	w.open(class, g.Label(), width, height, "0 0 17 16")
	for i := range 3 {
		h := float64(5 + 3*i)
		fill := "off"
		if i < int(g.Standing) {
			fill = "on"
		}
		w.rect(fill, float64(1+5*i), 12-h, 4, h)
	}
	if g.Overall {
		w.rect("foot", 0, 14, 16, 1.4)
	}
	return w.close()
}
