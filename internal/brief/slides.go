package brief

import (
	"archive/zip"
	"bytes"
	"embed"
	"encoding/xml"
	"fmt"
	"math"
	"strings"
	"text/template"
	"time"

	"turret/internal/chart"
	"turret/internal/tell"
)

//go:embed slides
var slideFiles embed.FS

// slideParts are the parts of a presentation that say nothing of their own, as templates.
var slideParts = template.Must(template.New("").Funcs(template.FuncMap{
	"n": func(i int) int { return i + 1 }, "rel": func(i int) int { return i + 10 }, "id": func(i int) int { return 256 + i },
	"x": escaped,
}).ParseFS(slideFiles, "slides/*"))

// slideDeck is what they are told.
type slideDeck struct {
	Title, Office, Made string
	Slides              []string // titles
}

// Slides writes a pack as slides (ISO/IEC 29500): one for each leaf, 16:9, on which words are
// text, tables are tables and drawings are shapes. The same pack gives the same bytes.
func Slides(p *Pack) ([]byte, error) {
	on := *p
	on.Slides = true
	sheets := Lay(&on)
	deck := slideDeck{Title: p.Title, Office: p.Office, Made: p.Made.UTC().Format(time.RFC3339)}
	for i := range sheets {
		deck.Slides = append(deck.Slides, sheets[i].Title)
	}
	var out bytes.Buffer
	z := zip.NewWriter(&out)
	write := func(name string, body []byte) error {
		w, err := z.CreateHeader(&zip.FileHeader{Name: name, Method: zip.Deflate, Modified: p.Made.UTC().Truncate(2 * time.Second)})
		if err != nil {
			return err
		}
		_, err = w.Write(body)
		return err
	}
	for _, part := range [][2]string{
		{"[Content_Types].xml", "types.xml"},
		{"_rels/.rels", "rels.xml"},
		{"docProps/app.xml", "app.xml"},
		{"docProps/core.xml", "core.xml"},
		{"ppt/presentation.xml", "presentation.xml"},
		{"ppt/_rels/presentation.xml.rels", "presentation.rels.xml"},
		{"ppt/theme/theme1.xml", "theme.xml"},
		{"ppt/slideMasters/slideMaster1.xml", "master.xml"},
		{"ppt/slideMasters/_rels/slideMaster1.xml.rels", "master.rels.xml"},
		{"ppt/slideLayouts/slideLayout1.xml", "layout.xml"},
		{"ppt/slideLayouts/_rels/slideLayout1.xml.rels", "layout.rels.xml"},
	} {
		var b bytes.Buffer
		if err := slideParts.ExecuteTemplate(&b, part[1], deck); err != nil {
			return nil, fmt.Errorf("write the slides: %w", err)
		}
		if err := write(part[0], b.Bytes()); err != nil {
			return nil, err
		}
	}
	var rels bytes.Buffer
	if err := slideParts.ExecuteTemplate(&rels, "slide.rels.xml", deck); err != nil {
		return nil, fmt.Errorf("write the slides: %w", err)
	}
	for i := range sheets {
		w := &slideWriter{id: 1}
		if err := write(fmt.Sprintf("ppt/slides/slide%d.xml", i+1), w.slide(&sheets[i])); err != nil {
			return nil, err
		}
		if err := write(fmt.Sprintf("ppt/slides/_rels/slide%d.xml.rels", i+1), rels.Bytes()); err != nil {
			return nil, err
		}
	}
	if err := z.Close(); err != nil {
		return nil, err
	}
	return out.Bytes(), nil
}

// A slide is 12,192,000 English metric units wide, 914,400 an inch; sizes of letters are told in
// hundredths of a point, of which the slide has 960.
const (
	units  = 12192000 / slideWidth
	points = 960 / slideWidth
)

type slideWriter struct {
	b  strings.Builder
	id int // of the last shape
}

func emu(v float64) int { return int(math.Round(v * units)) }

func size(v float64) int { return max(int(math.Round(v*points*100/10))*10, 100) }

func (w *slideWriter) slide(s *Sheet) []byte {
	w.b.WriteString(xml.Header + `<p:sld xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main" xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships" xmlns:p="http://schemas.openxmlformats.org/presentationml/2006/main"><p:cSld><p:spTree><p:nvGrpSpPr><p:cNvPr id="1" name=""/><p:cNvGrpSpPr/><p:nvPr/></p:nvGrpSpPr><p:grpSpPr/>`)
	titled := false
	for i := range s.Texts {
		t := s.Texts[i]
		t.Title = t.Title && !titled
		titled = titled || t.Title
		w.passage(&t)
	}
	if !titled { // what goes on from the slide before
		w.passage(&Passage{
			X: marginX, Y: marginTop / 2, W: s.Width - 2*marginX, H: body * leading, Size: body, Title: true,
			Phrases: []tell.Phrase{{Text: s.Title}}, Fill: chart.Ink2,
		})
	}
	for i := range s.Tables {
		if len(s.Tables[i].Rows) > 0 {
			w.table(&s.Tables[i])
		}
	}
	for i := range s.Marks {
		w.mark(&s.Marks[i])
	}
	w.b.WriteString(`</p:spTree></p:cSld><p:clrMapOvr><a:masterClrMapping/></p:clrMapOvr></p:sld>`)
	return []byte(w.b.String())
}

func (w *slideWriter) next() int {
	w.id++
	return w.id
}

// box is where a shape stands.
func box(tag string, x, y, width, height float64) string {
	return fmt.Sprintf(`<%s><a:off x="%d" y="%d"/><a:ext cx="%d" cy="%d"/></%s>`, tag, emu(x), emu(y), max(emu(width), 0), max(emu(height), 0), tag)
}

func colour(hex string, opacity float64) string {
	alpha := ""
	if opacity > 0 && opacity < 1 {
		alpha = fmt.Sprintf(`<a:alpha val="%d"/>`, int(opacity*100000))
	}
	return `<a:solidFill><a:srgbClr val="` + strings.ToUpper(strings.TrimPrefix(hex, "#")) + `">` + alpha + `</a:srgbClr></a:solidFill>`
}

func escaped(s string) string {
	var b strings.Builder
	if err := xml.EscapeText(&b, []byte(s)); err != nil {
		return "" // a builder takes everything
	}
	return b.String()
}

// letters writes a run of one kind.
func letters(text string, tall float64, bold bool, fill string) string {
	b := ""
	if bold {
		b = ` b="1"`
	}
	return fmt.Sprintf(`<a:r><a:rPr lang="en-GB" sz="%d"%s dirty="0">%s</a:rPr><a:t>%s</a:t></a:r>`, size(tall), b, colour(fill, 0), escaped(text))
}

// paragraph begins one; words that are read from the right stand so.
func paragraph(align, text string) string {
	rtl := ""
	if fromRight(text) {
		rtl = ` rtl="1"`
		if align == "l" {
			align = "r"
		}
	}
	return fmt.Sprintf(`<a:pPr algn="%s"%s><a:lnSpc><a:spcPct val="100000"/></a:lnSpc><a:spcBef><a:spcPts val="0"/></a:spcBef><a:buNone/></a:pPr>`, align, rtl)
}

func (w *slideWriter) passage(t *Passage) {
	id, all := w.next(), ""
	for _, p := range t.Phrases {
		all += p.Text
	}
	kind, place := `<p:cNvSpPr txBox="1"/><p:nvPr/>`, "Text"
	if t.Title {
		kind, place = `<p:cNvSpPr><a:spLocks noGrp="1"/></p:cNvSpPr><p:nvPr><p:ph type="title"/></p:nvPr>`, "Title"
	}
	fmt.Fprintf(&w.b, `<p:sp><p:nvSpPr><p:cNvPr id="%d" name="%s %d"/>%s</p:nvSpPr><p:spPr>%s<a:prstGeom prst="rect"><a:avLst/></a:prstGeom><a:noFill/></p:spPr><p:txBody><a:bodyPr wrap="square" lIns="0" tIns="0" rIns="0" bIns="0" anchor="t"><a:noAutofit/></a:bodyPr><a:p>%s`,
		id, place, id, kind, box("a:xfrm", t.X, t.Y, t.W, t.H), paragraph("l", all))
	for _, p := range t.Phrases {
		tall, bold, fill := t.Size, t.Bold || strong(p), toneOf(p.Tone)
		switch {
		case p.Tone == "small":
			tall, bold, fill = body, false, chart.Ink2
		case p.Tone == "":
			fill = t.Fill
		}
		w.b.WriteString(letters(p.Text, tall, bold, fill))
	}
	w.b.WriteString(`</a:p></p:txBody></p:sp>`)
}

func (w *slideWriter) table(t *Placed) {
	id := w.next()
	x, y := t.Xs[0], t.Ys[0]
	fmt.Fprintf(&w.b, `<p:graphicFrame><p:nvGraphicFramePr><p:cNvPr id="%d" name="Table %d"/><p:cNvGraphicFramePr><a:graphicFrameLocks noGrp="1"/></p:cNvGraphicFramePr><p:nvPr/></p:nvGraphicFramePr>%s<a:graphic><a:graphicData uri="http://schemas.openxmlformats.org/drawingml/2006/table"><a:tbl><a:tblPr firstRow="1"/><a:tblGrid>`,
		id, id, box("p:xfrm", x, y, t.Xs[len(t.Xs)-1]-x, t.Ys[len(t.Ys)-1]-y))
	for i := range t.Columns {
		fmt.Fprintf(&w.b, `<a:gridCol w="%d"/>`, emu(t.Xs[i+1]-t.Xs[i]))
	}
	w.b.WriteString(`</a:tblGrid>`)
	heads := make([]Piece, len(t.Columns))
	for i, c := range t.Columns {
		heads[i] = Piece{Text: c.Head, Tone: "quiet", Bold: true}
	}
	smaller := t.smaller(nil)
	w.row(t, heads, t.smaller(heads), 0, 7*t.Scale, edge("lnB", chart.Ink, 0.9), "", 0)
	for k := range t.Rows {
		r := &t.Rows[k]
		fill := ""
		if r.Group {
			fill = "#F2ECE0"
		}
		lines := edge("lnB", chart.Rule2, 0.5)
		if r.Total {
			lines = edge("lnT", chart.Ink, 0.9) + edge("lnB", chart.Ink, 0.9)
		}
		cells := make([]Piece, len(t.Columns))
		copy(cells, r.Cells)
		for i := range cells {
			cells[i].Bold = cells[i].Bold || r.Group || r.Total
		}
		w.row(t, cells, smaller, k+1, body*t.Scale, lines, fill, float64(r.Indent)*9*t.Scale)
	}
	w.b.WriteString(`</a:tbl></a:graphicData></a:graphic></p:graphicFrame>`)
}

// smaller tells by how much the letters of each head are to be smaller, so that what stands on
// one line does so in other fonts too; without heads that of all rows, which are alike.
func (t *Placed) smaller(heads []Piece) []float64 {
	out := make([]float64, len(t.Columns))
	least := 1.0
	for i := range out {
		out[i] = 1
		room := t.Xs[i+1] - t.Xs[i] - cellPad*t.Scale
		fit := func(c *Piece, tall, indent float64) {
			taken := indent
			if n := len(c.Glyph); n > 0 {
				taken += float64(n)*17*0.62*t.Scale + 3
			}
			if wide := width(c.Text, tall, c.Bold) * flowing; c.Text != "" && c.Draw == nil && wide > room-taken {
				out[i] = min(out[i], max((room-taken)/wide, 0.6))
			}
		}
		if heads != nil {
			if !t.Columns[i].Wrap {
				fit(&heads[i], 7*t.Scale, 0)
			}
			continue
		}
		for k := range t.Rows {
			if r := &t.Rows[k]; i < len(r.Cells) && !t.Columns[i].Wrap && (!r.Group || i > 0) {
				c := r.Cells[i]
				c.Bold = c.Bold || r.Group || r.Total
				indent := 0.0
				if i == 0 {
					indent = float64(r.Indent) * 9 * t.Scale
				}
				fit(&c, body*t.Scale, indent)
			}
		}
		least = min(least, out[i])
	}
	for i := range out {
		if heads == nil {
			out[i] = least
		}
	}
	return out
}

// edge is a line on a side of a cell.
func edge(side, ink string, wide float64) string {
	return fmt.Sprintf(`<a:%s w="%d">%s</a:%s>`, side, emu(wide), colour(ink, 0), side)
}

// row writes a row of cells; what is drawn in a cell lies over it.
func (w *slideWriter) row(t *Placed, cells []Piece, smaller []float64, n int, tall float64, lines string, fill string, indent float64) {
	fmt.Fprintf(&w.b, `<a:tr h="%d">`, emu(t.Ys[n+1]-t.Ys[n]))
	for i, c := range cells {
		col := t.Columns[i]
		align := "l"
		switch {
		case col.Number:
			align = "r"
		case col.Middle:
			align = "ctr"
		}
		left := cellPad / 2 * t.Scale
		if len(c.Glyph) > 0 {
			left += float64(len(c.Glyph))*17*0.62*t.Scale + 3
		}
		if i == 0 {
			left += indent
		}
		fmt.Fprintf(&w.b, `<a:tc><a:txBody><a:bodyPr/><a:p>%s`, paragraph(align, c.Text))
		if c.Text != "" && c.Draw == nil {
			text := c.Text
			if !col.Wrap {
				text = strings.ReplaceAll(text, " ", "\u00a0")
			}
			w.b.WriteString(letters(text, tall*smaller[i], c.Bold, toneOf(c.Tone)))
		} else {
			fmt.Fprintf(&w.b, `<a:endParaRPr lang="en-GB" sz="%d"/>`, size(tall))
		}
		background := `<a:noFill/>`
		if fill != "" {
			background = colour(fill, 0)
		}
		fmt.Fprintf(&w.b, `</a:p></a:txBody><a:tcPr marL="%d" marR="%d" marT="0" marB="0" anchor="%s">%s%s</a:tcPr></a:tc>`,
			emu(left), emu(cellPad/2*t.Scale), map[bool]string{true: "b", false: "ctr"}[n == 0], lines, background)
	}
	w.b.WriteString(`</a:tr>`)
}

// mark writes a shape.
func (w *slideWriter) mark(m *chart.Mark) {
	switch m.Form {
	case chart.Rect:
		w.shape(m, m.X, m.Y, m.W, m.H, `<a:prstGeom prst="rect"><a:avLst/></a:prstGeom>`)
	case chart.Circle:
		w.shape(m, m.X-m.W, m.Y-m.W, 2*m.W, 2*m.W, `<a:prstGeom prst="ellipse"><a:avLst/></a:prstGeom>`)
	case chart.Line:
		w.path(m)
	default:
		w.words(m)
	}
}

func (w *slideWriter) shape(m *chart.Mark, x, y, width, height float64, geometry string) {
	id := w.next()
	fmt.Fprintf(&w.b, `<p:sp><p:nvSpPr><p:cNvPr id="%d" name="Shape %d"/><p:cNvSpPr/><p:nvPr/></p:nvSpPr><p:spPr>%s%s%s</p:spPr></p:sp>`,
		id, id, box("a:xfrm", x, y, width, height), geometry, inks(m))
}

// inks are the fill and the line of a shape.
func inks(m *chart.Mark) string {
	out := `<a:noFill/>`
	if m.Fill != "" {
		out = colour(m.Fill, m.Opacity)
	}
	if m.Stroke == "" {
		return out + `<a:ln><a:noFill/></a:ln>`
	}
	dash := ""
	if len(m.Dash) > 0 {
		dash = `<a:prstDash val="sysDash"/>`
	}
	return out + fmt.Sprintf(`<a:ln w="%d">%s%s</a:ln>`, max(emu(m.Line), 1), colour(m.Stroke, m.Opacity), dash)
}

// path writes a line through points, closed where it is filled.
func (w *slideWriter) path(m *chart.Mark) {
	if len(m.Points) < 2 {
		return
	}
	x1, y1, x2, y2 := math.Inf(1), math.Inf(1), math.Inf(-1), math.Inf(-1)
	for _, p := range m.Points {
		x1, y1, x2, y2 = min(x1, p.X), min(y1, p.Y), max(x2, p.X), max(y2, p.Y)
	}
	var g strings.Builder
	fmt.Fprintf(&g, `<a:custGeom><a:avLst/><a:gdLst/><a:ahLst/><a:cxnLst/><a:rect l="0" t="0" r="r" b="b"/><a:pathLst><a:path w="%d" h="%d"%s>`,
		emu(x2-x1), emu(y2-y1), map[bool]string{true: ` fill="none"`}[m.Fill == ""])
	for i, p := range m.Points {
		tag := "a:lnTo"
		if i == 0 {
			tag = "a:moveTo"
		}
		fmt.Fprintf(&g, `<%s><a:pt x="%d" y="%d"/></%s>`, tag, emu(p.X-x1), emu(p.Y-y1), tag)
	}
	if m.Fill != "" {
		g.WriteString(`<a:close/>`)
	}
	g.WriteString(`</a:path></a:pathLst></a:custGeom>`)
	w.shape(m, x1, y1, x2-x1, y2-y1, g.String())
}

// words writes a text of a drawing on its own line.
func (w *slideWriter) words(m *chart.Mark) {
	if strings.TrimSpace(m.Text) == "" {
		return
	}
	wide, align := width(m.Text, m.Size, m.Bold)*1.1+2, "l"
	x := m.X
	switch m.Form {
	case chart.TextEnd:
		x, align = m.X-wide, "r"
	case chart.TextMiddle:
		x, align = m.X-wide/2, "ctr"
	}
	fill := m.Fill
	if fill == "" {
		fill = chart.Ink
	}
	id := w.next()
	fmt.Fprintf(&w.b, `<p:sp><p:nvSpPr><p:cNvPr id="%d" name="Label %d"/><p:cNvSpPr txBox="1"/><p:nvPr/></p:nvSpPr><p:spPr>%s<a:prstGeom prst="rect"><a:avLst/></a:prstGeom><a:noFill/></p:spPr><p:txBody><a:bodyPr wrap="none" lIns="0" tIns="0" rIns="0" bIns="0" anchor="b"><a:noAutofit/></a:bodyPr><a:p>%s%s</a:p></p:txBody></p:sp>`,
		id, id, box("a:xfrm", x, m.Y-m.Size, wide, m.Size*1.22), paragraph(align, m.Text), letters(m.Text, m.Size, m.Bold, fill))
}
