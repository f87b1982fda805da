package gather

import (
	"cmp"
	"fmt"
	"path"
	"strings"

	"turret/internal/core/money"
)

// CellKind tells what a file says a cell is.
type CellKind uint8

// All cells of text files are Words; a spreadsheet knows numbers, and formulas
// whose values it did not save.
const (
	Words CellKind = iota
	Number
	Uncalculated
)

// Cell is a cell as a file holds it; a number is in plain decimals.
type Cell struct {
	Text string
	Kind CellKind
}

// Line is a row of a sheet. It and its cells are only good until the next.
type Line struct {
	N      int // as the file counts, from 1; of text, where it begins
	Cells  []Cell
	Hidden bool
	Wrong  string // why it cannot be read; then there are no cells
}

// Blank tells whether no cell says anything.
func (l *Line) Blank() bool {
	for i := range l.Cells {
		if l.Cells[i].Kind == Uncalculated || strings.TrimFunc(l.Cells[i].Text, isSpace) != "" {
			return false
		}
	}
	return l.Wrong == ""
}

// At gives a cell; beyond the end of the row it is empty.
func (l *Line) At(i int) Cell {
	if i < len(l.Cells) {
		return l.Cells[i]
	}
	return Cell{}
}

// Sheet is a grid of cells: a text file, or a sheet of a spreadsheet.
type Sheet struct {
	File   string
	Name   string // "" of a text file
	Format string // how it was read, in words
	Hidden bool   // the spreadsheet does not show it
	Notes  []string

	own        string   // the sheet's own name, where this is a part of it
	cover      []string // what the cover of its workbook says of all its sheets, in lines
	isCover    bool     // it is that cover
	Lines      int      // about how many rows it has
	plain      bool     // UTF-8 with commas
	from1904   bool
	dates      map[int]bool           // columns that show days, of a spreadsheet
	shares     map[int]bool           // columns that show percentages
	currencies map[int]money.Currency // that are shown beside the numbers of a column
	scaled     map[int]int            // columns whose numbers are shown in thousands (3) or millions (6)
	shown      map[int][]string       // the first rows as the spreadsheet shows them, where that differs
	each       func(func(*Line) bool)
}

// Label is how messages call the sheet.
func (s *Sheet) Label() string {
	if s.Name == "" || strings.HasPrefix(s.Name, "rows ") || strings.HasPrefix(s.Name, "columns ") {
		return strings.TrimSuffix(s.File+", "+s.Name, ", ")
	}
	return s.File + ", sheet " + s.Name
}

// title is the sheet's own name, also of a part of it.
func (s *Sheet) title() string { return cmp.Or(s.own, s.Name) }

// Each hands over the rows in order, until told to stop.
func (s *Sheet) Each(f func(*Line) bool) { s.each(f) }

// handed is the format of rows in hand.
const handed = "rows"

// Grid makes a sheet of rows in hand, such as refused ones that were mended;
// numbers gives the row of the original file that each stands for.
func Grid(file, name string, numbers []int, rows [][]string) *Sheet {
	s := &Sheet{File: file, Name: name, Format: handed}
	s.each = func(f func(*Line) bool) {
		for i, cells := range rows {
			l := Line{N: numbers[i]}
			for _, c := range cells {
				l.Cells = append(l.Cells, Cell{Text: c})
			}
			if !f(&l) {
				return
			}
		}
	}
	return s
}

// Sheets opens a received file, and parts its sheets into tables. What cannot be opened is
// refused whole.
func Sheets(f *File, lim Limits) ([]*Sheet, []Refusal) {
	whole, refused := open(f, lim)
	covered(whole)
	var out []*Sheet
	for _, s := range whole {
		out = append(out, s.parts()...)
	}
	return out, refused
}

// open gives the sheets of a file as they are.
func open(f *File, lim Limits) ([]*Sheet, []Refusal) {
	refuse := func(format string, args ...any) []Refusal {
		return []Refusal{{File: f.Name, Reason: fmt.Sprintf(format, args...)}}
	}
	switch ext := strings.ToLower(path.Ext(f.Name)); {
	case isZip(f.Body):
		return openSpreadsheet(f, lim, refuse)
	case isMarkup(f.Body):
		return openMarkup(f, lim)
	case isJSON(f.Body):
		return openJSON(f, lim, refuse)
	case ext == ".xls" || strings.HasPrefix(string(f.Body[:min(8, len(f.Body))]), "\xd0\xcf\x11\xe0"):
		return nil, refuse("it is a spreadsheet of the old kind, or has a password; save it as XLSX without one")
	case ext == ".xlsx" || ext == ".xlsm":
		return nil, refuse("it is not a spreadsheet that can be read; save it as XLSX again")
	}
	return openText(f, lim, refuse)
}

func isZip(b []byte) bool { return len(b) > 3 && string(b[:4]) == "PK\x03\x04" }
