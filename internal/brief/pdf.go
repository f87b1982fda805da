package brief

import (
	"bytes"
	"fmt"
	"strconv"

	"codeberg.org/go-pdf/fpdf"

	"turret/internal/chart"
)

var families = [faces]string{"archivo", "archivobold", "dejavu", "han", "hangul"}

// PDF writes leaves as a document with selectable text, an outline, a title and
// a language. The same leaves give the same bytes.
func PDF(p *Pack, sheets []Sheet) ([]byte, error) {
	size := "A4"
	if p.Letter {
		size = "Letter"
	}
	doc := fpdf.NewCustom(&fpdf.InitType{OrientationStr: "P", UnitStr: "pt", SizeStr: size})
	doc.SetCatalogSort(true)
	doc.SetCreationDate(p.Made.UTC())
	doc.SetModificationDate(p.Made.UTC())
	doc.SetTitle(plainText(p.Title), true)
	doc.SetAuthor(plainText(p.Office), true)
	doc.SetCreator("Turret", true)
	doc.SetProducer("Turret", true)
	doc.SetLang("en")
	doc.SetAutoPageBreak(false, 0)
	doc.SetMargins(0, 0, 0)
	doc.SetDisplayMode("fullpage", "continuous")
	w := &pdfWriter{doc: doc}
	for f := range han {
		w.load(f)
	}
	for i := range sheets {
		s := &sheets[i]
		doc.AddPageFormat("P", fpdf.SizeType{Wd: s.Width, Ht: s.Height})
		for _, e := range s.Entries {
			doc.Bookmark(plainText(e.Title), e.Depth, e.Y-marginTop)
		}
		for j := range s.Marks {
			w.mark(&s.Marks[j])
		}
	}
	var b bytes.Buffer
	if err := doc.Output(&b); err != nil {
		return nil, fmt.Errorf("write the PDF: %w", err)
	}
	return b.Bytes(), nil
}

type pdfWriter struct {
	doc  *fpdf.Fpdf
	held [faces]bool // the document knows the face
}

// load makes a face known to the document; the large ones only where they are used.
func (w *pdfWriter) load(f face) {
	if !w.held[f] {
		w.doc.AddUTF8FontFromBytes(families[f], "", fontBytes[f])
		w.held[f] = true
	}
}

// plainText keeps what the fonts can show.
func plainText(s string) string {
	out := ""
	for _, r := range fonts().runs(s, false) {
		out += r.text
	}
	return out
}

func rgb(hex string) (r, g, b int) {
	n, err := strconv.ParseUint(hex[1:], 16, 32)
	if err != nil {
		return 0, 0, 0
	}
	return int(n >> 16 & 255), int(n >> 8 & 255), int(n & 255)
}

func (w *pdfWriter) mark(m *chart.Mark) {
	d := w.doc
	if m.Opacity > 0 {
		d.SetAlpha(m.Opacity, "Normal")
		defer d.SetAlpha(1, "Normal")
	}
	style := ""
	if m.Fill != "" && m.Form < chart.Text {
		d.SetFillColor(rgb(m.Fill))
		style = "F"
	}
	if m.Stroke != "" {
		d.SetDrawColor(rgb(m.Stroke))
		d.SetLineWidth(m.Line)
		if len(m.Dash) > 0 {
			d.SetDashPattern(m.Dash, 0)
			defer d.SetDashPattern([]float64{}, 0)
		}
		style += "D"
	}
	switch m.Form {
	case chart.Rect:
		d.Rect(m.X, m.Y, m.W, m.H, style)
	case chart.Circle:
		d.Circle(m.X, m.Y, m.W, style)
	case chart.Line:
		w.line(m)
	default:
		w.text(m)
	}
}

func (w *pdfWriter) line(m *chart.Mark) {
	if len(m.Points) < 2 {
		return
	}
	d := w.doc
	d.MoveTo(m.Points[0].X, m.Points[0].Y)
	for _, p := range m.Points[1:] {
		d.LineTo(p.X, p.Y)
	}
	style := "D"
	if m.Fill != "" {
		style = "DF"
		d.ClosePath()
	}
	d.DrawPath(style)
}

// text writes a text, each stretch of it in the face that has it.
func (w *pdfWriter) text(m *chart.Mark) {
	runs := fonts().runs(visual(m.Text), m.Bold)
	x := m.X
	if m.Form != chart.Text {
		all := 0.0
		for _, r := range runs {
			all += r.width * m.Size
		}
		if m.Form == chart.TextMiddle {
			all /= 2
		}
		x -= all
	}
	fill := m.Fill
	if fill == "" {
		fill = chart.Ink
	}
	w.doc.SetTextColor(rgb(fill))
	for _, r := range runs {
		w.load(r.face)
		w.doc.SetFont(families[r.face], "", m.Size)
		w.doc.Text(x, m.Y, r.text)
		x += r.width * m.Size
	}
}
