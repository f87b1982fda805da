package brief

import (
	"bytes"
	"embed"
	"encoding/base64"
	"html/template"

	"turret/internal/chart"
)

//go:embed brief.html
var page embed.FS

var document = template.Must(template.New("brief.html").Funcs(template.FuncMap{
	"kind":    kindOf,
	"draw":    func(p Picture) template.HTML { return drawn(p).Standalone() },
	"mark":    func(d *chart.Drawing) template.HTML { return d.Standalone() },
	"glyph":   func(g chart.Glyph) template.HTML { return inlineGlyph(g) },
	"align":   func(g Grid, i int) string { return alignOf(g, i) },
	"regular": func() template.URL { return fontURL(archivoRegular) },
	"bold":    func() template.URL { return fontURL(archivoBold) },
}).ParseFS(page, "brief.html"))

// HTML writes a brief as one file that needs no other.
func HTML(p *Pack) ([]byte, error) {
	var b bytes.Buffer
	err := document.Execute(&b, p)
	return b.Bytes(), err
}

func kindOf(b Block) string {
	switch b.(type) {
	case Head:
		return "head"
	case Sentence:
		return "sentence"
	case Words:
		return "words"
	case Picture:
		return "picture"
	case Beside:
		return "beside"
	}
	return "grid"
}

func drawn(p Picture) chart.Drawing {
	w := p.Width
	if w == 0 {
		w = 980
	}
	return p.Draw(w)
}

func inlineGlyph(g chart.Glyph) template.HTML {
	return chart.Leaf{Width: 17, Height: 16, Title: g.Label(), Marks: g.Inked(0, 0, 1)}.Clear()
}

func alignOf(g Grid, i int) string {
	if i >= len(g.Columns) {
		return ""
	}
	switch c := g.Columns[i]; {
	case c.Number:
		return "n"
	case c.Middle:
		return "c"
	}
	return ""
}

// fontURL carries a font within the file. It is our own, not anyone's input.
func fontURL(body []byte) template.URL {
	return template.URL("data:font/ttf;base64," + base64.StdEncoding.EncodeToString(body))
}
