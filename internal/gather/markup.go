package gather

import (
	"bytes"
	"strconv"
	"strings"

	"golang.org/x/net/html"
	"golang.org/x/net/html/atom"
	"golang.org/x/net/html/charset"
)

// Systems export tables as pages of markup, often under the name of a spreadsheet.

// isMarkup tells a page by how it begins.
func isMarkup(body []byte) bool {
	const begins = 1024
	head := bytes.ToLower(bytes.TrimLeft(bytes.TrimPrefix(body[:min(begins, len(body))], bom), " \t\r\n"))
	for _, tag := range [...]string{"<!doctype html", "<html", "<table", "<head", "<body", "<meta"} {
		if bytes.HasPrefix(head, []byte(tag)) {
			return true
		}
	}
	return false
}

// openMarkup gives the tables of a page as one sheet, with what stands between them.
func openMarkup(f *File, lim Limits) ([]*Sheet, []Refusal) {
	r, err := charset.NewReader(bytes.NewReader(f.Body), "")
	if err != nil {
		return nil, []Refusal{{File: f.Name, Reason: "it is a page whose letters cannot be read; save it as XLSX or CSV"}}
	}
	p := &page{lim: lim, z: html.NewTokenizer(r)}
	p.z.SetMaxBuf(lim.CellBytes * 2)
	for p.next() {
	}
	p.endRow()
	if len(p.rows) == 0 {
		return nil, []Refusal{{File: f.Name, Reason: "it is a page without a table; save what it shows as XLSX or CSV"}}
	}
	s := &Sheet{File: f.Name, Format: "tables of a page", Lines: len(p.rows)}
	s.each = func(f func(*Line) bool) {
		for i, cells := range p.rows {
			l := Line{N: i + 1}
			for _, c := range cells {
				l.Cells = append(l.Cells, Cell{Text: c})
			}
			if i == len(p.rows)-1 && p.over != "" {
				l.Wrong = p.over
			}
			if !f(&l) {
				return
			}
		}
	}
	return []*Sheet{s}, nil
}

// page reads the rows of the tables of a page.
type page struct {
	lim  Limits
	z    *html.Tokenizer
	rows [][]string
	row  []string
	cell strings.Builder
	in   int  // cells that are open
	mute bool // what stands within is not shown
	wide int  // columns that the open cell takes
	over string
}

func (p *page) next() bool {
	kind := p.z.Next()
	if kind == html.ErrorToken || p.over != "" {
		return false
	}
	t := p.z.Token()
	begins := kind == html.StartTagToken
	switch t.DataAtom {
	case atom.Style, atom.Script, atom.Title:
		p.mute = begins
	case atom.Tr, atom.P, atom.Div, atom.H1, atom.H2, atom.H3, atom.H4, atom.Caption, atom.Table, atom.Li:
		if p.in == 0 || t.DataAtom == atom.Tr || t.DataAtom == atom.Table {
			p.endRow()
		}
		if t.DataAtom == atom.Table && kind == html.EndTagToken && p.in == 0 {
			p.rows = append(p.rows, nil) // what comes is another one's
		}
	case atom.Td, atom.Th:
		p.endCell()
		if begins {
			p.in, p.wide = 1, 1
			for _, a := range t.Attr {
				if n, err := strconv.Atoi(a.Val); a.Key == "colspan" && err == nil && n > 0 && n <= p.lim.Columns {
					p.wide = n
				}
			}
		}
	case atom.Br:
		p.cell.WriteByte(' ')
	}
	if kind == html.TextToken && !p.mute && p.cell.Len() < p.lim.CellBytes {
		p.cell.WriteString(strings.Join(strings.Fields(t.Data), " "))
		if strings.HasSuffix(t.Data, " ") {
			p.cell.WriteByte(' ')
		}
	}
	return true
}

// endCell takes what was written of a cell.
func (p *page) endCell() {
	text := strings.TrimSpace(p.cell.String())
	p.cell.Reset()
	if p.in == 0 && text == "" {
		return
	}
	p.row = append(p.row, text)
	for range p.wide - 1 {
		p.row = append(p.row, "")
	}
	p.in, p.wide = 0, 0
}

// endRow takes what was read of a row.
func (p *page) endRow() {
	p.endCell()
	if len(p.row) == 0 {
		return
	}
	switch {
	case len(p.row) > p.lim.Columns:
		p.over = "it has more columns than the limit of " + strconv.Itoa(p.lim.Columns)
	case len(p.rows) >= p.lim.Rows:
		p.over = "the file has more than " + strconv.Itoa(p.lim.Rows) + " rows; split it"
	}
	p.rows, p.row = append(p.rows, p.row), nil
}
