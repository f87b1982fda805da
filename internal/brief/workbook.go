// Package brief makes the packs that executives get, and the spreadsheets that
// go with them.
package brief

import (
	"bytes"
	"fmt"
	"strconv"
	"strings"
	"time"

	"github.com/xuri/excelize/v2"
)

// CellType says how a cell is kept in a spreadsheet, and how it is shown.
type CellType uint8

// The types of cells: text, money with its currency's decimals, money in whole
// units, ratio with two decimals, share as a percentage, day, and whole number.
const (
	Text CellType = iota
	Money
	Units
	Ratio
	Share
	Day
	Count
)

// Cell is a cell of a table. Number is a plain decimal; "" is empty, and a Day
// is an ISO date. A text that begins like a formula stays a text.
type Cell struct {
	Type   CellType
	Text   string
	Number string
}

// Column is a column of a table; Sum adds a total at its foot.
type Column struct {
	Head  string
	Width float64 // in characters; zero: by its head
	Sum   bool
}

// Table is a sheet of a workbook.
type Table struct {
	Name    string
	Notes   []string // above the table
	Columns []Column
	Rows    [][]Cell
	Below   []int  // of each row, how many of the next ones it sums; nil: none does
	Total   string // label of the foot; "" for none
}

// Workbook writes tables as a spreadsheet: typed cells, frozen heads, totals as
// formulas with their values. The same tables give the same bytes.
func Workbook(title string, made time.Time, tables []Table) ([]byte, error) {
	x := excelize.NewFile()
	defer x.Close()
	stamp := made.UTC().Format("2006-01-02T15:04:05Z")
	if err := x.SetDocProps(&excelize.DocProperties{Title: title, Creator: "Turret", LastModifiedBy: "Turret", Created: stamp, Modified: stamp, Language: "en"}); err != nil {
		return nil, err
	}
	styles, err := newStyles(x)
	if err != nil {
		return nil, err
	}
	used := make(map[string]bool)
	for i := range tables {
		name := sheetName(tables[i].Name, used)
		if i == 0 {
			err = x.SetSheetName("Sheet1", name)
		} else {
			_, err = x.NewSheet(name)
		}
		if err != nil {
			return nil, err
		}
		if err := writeTable(x, name, &tables[i], styles); err != nil {
			return nil, fmt.Errorf("sheet %s: %w", name, err)
		}
	}
	var b bytes.Buffer
	if err := x.Write(&b); err != nil {
		return nil, err
	}
	return settled(b.Bytes(), made)
}

// sheetName makes a name that spreadsheets take: at most 31 characters, none of
// their signs, each its own.
func sheetName(name string, used map[string]bool) string {
	name = strings.Map(func(r rune) rune {
		if strings.ContainsRune(`:\/?*[]'`, r) || r < ' ' {
			return ' '
		}
		return r
	}, name)
	if r := []rune(strings.TrimSpace(name)); len(r) > 27 {
		name = string(r[:27])
	}
	name = strings.TrimSpace(name)
	if name == "" {
		name = "Table"
	}
	out := name
	for n := 2; used[strings.ToLower(out)]; n++ {
		out = fmt.Sprintf("%s %d", name, n)
	}
	used[strings.ToLower(out)] = true
	return out
}

type styles struct {
	by         map[CellType]int
	head, note int
	foot       map[CellType]int
	group      map[CellType]int // of rows that are sums
}

var formats = map[CellType]string{
	Money: "#,##0.00",
	Units: "#,##0",
	Ratio: "0.00",
	Share: "0.0%",
	Day:   "yyyy-mm-dd",
	Count: "0",
}

func newStyles(x *excelize.File) (*styles, error) {
	s := &styles{by: make(map[CellType]int), foot: make(map[CellType]int), group: make(map[CellType]int)}
	var err error
	if s.head, err = x.NewStyle(&excelize.Style{Font: &excelize.Font{Bold: true}, Border: []excelize.Border{{Type: "bottom", Style: 1, Color: "15222C"}}, Alignment: &excelize.Alignment{WrapText: true, Vertical: "top"}}); err != nil {
		return nil, err
	}
	if s.note, err = x.NewStyle(&excelize.Style{Font: &excelize.Font{Color: "52616B"}}); err != nil {
		return nil, err
	}
	for t := Text; t <= Count; t++ {
		st := &excelize.Style{}
		if f := formats[t]; f != "" {
			st.CustomNumFmt = &f
		}
		if s.by[t], err = x.NewStyle(st); err != nil {
			return nil, err
		}
		st.Font = &excelize.Font{Bold: true}
		if s.group[t], err = x.NewStyle(st); err != nil {
			return nil, err
		}
		st.Border = []excelize.Border{{Type: "top", Style: 1, Color: "15222C"}}
		if s.foot[t], err = x.NewStyle(st); err != nil {
			return nil, err
		}
	}
	return s, nil
}

func writeTable(x *excelize.File, name string, t *Table, s *styles) error {
	w, err := x.NewStreamWriter(name)
	if err != nil {
		return err
	}
	for i, c := range t.Columns {
		width := c.Width
		if width == 0 {
			width = float64(max(10, min(len([]rune(c.Head))+2, 40)))
		}
		if err := w.SetColWidth(i+1, i+1, width); err != nil {
			return err
		}
	}
	top := len(t.Notes) + 1
	if len(t.Notes) > 0 {
		top++
	}
	corner, err := excelize.CoordinatesToCellName(1, top+1)
	if err != nil {
		return err
	}
	if err := w.SetPanes(&excelize.Panes{Freeze: true, YSplit: top, TopLeftCell: corner, ActivePane: "bottomLeft"}); err != nil {
		return err
	}
	for i, n := range t.Notes {
		if err := setRow(w, i+1, []any{excelize.Cell{StyleID: s.note, Value: n}}); err != nil {
			return err
		}
	}
	row := make([]any, len(t.Columns))
	for i, c := range t.Columns {
		row[i] = excelize.Cell{StyleID: s.head, Value: c.Head}
	}
	if err := setRow(w, top, row); err != nil {
		return err
	}
	for n, cells := range t.Rows {
		row := make([]any, len(cells))
		for i, c := range cells {
			if row[i], err = value(c, s.by[c.Type]); err != nil {
				return err
			}
			if x, ok := row[i].(excelize.Cell); ok && t.sums(n, c) {
				x.StyleID, x.Formula = s.group[c.Type], below(i, top+2+n, t.Below[n])
				row[i] = x
			}
		}
		if err := setRow(w, top+1+n, row); err != nil {
			return err
		}
	}
	if t.Total != "" && len(t.Rows) > 0 {
		if err := setRow(w, top+1+len(t.Rows), t.foot(top, s)); err != nil {
			return err
		}
	}
	return w.Flush()
}

func setRow(w *excelize.StreamWriter, n int, row []any) error {
	cell, err := excelize.CoordinatesToCellName(1, n)
	if err != nil {
		return err
	}
	return w.SetRow(cell, row)
}

// value types a cell. Numbers keep all their digits: a spreadsheet's own
// precision is fifteen of them.
func value(c Cell, style int) (any, error) {
	if c.Type == Text {
		return excelize.Cell{StyleID: style, Value: c.Text}, nil
	}
	if c.Number == "" {
		return excelize.Cell{StyleID: style, Value: c.Text}, nil // why it is not known, or nothing
	}
	if c.Type == Day {
		d, err := time.Parse("2006-01-02", c.Number)
		if err != nil {
			return nil, err
		}
		return excelize.Cell{StyleID: style, Value: d}, nil
	}
	f, err := strconv.ParseFloat(c.Number, 64)
	return excelize.Cell{StyleID: style, Value: f}, err
}

// foot sums the columns that ask for it by formulas over the rows.
func (t *Table) foot(top int, s *styles) []any {
	row := make([]any, len(t.Columns))
	for i, c := range t.Columns {
		kind := Text
		if len(t.Rows[0]) > i {
			kind = t.Rows[0][i].Type
		}
		switch {
		case i == 0:
			row[i] = excelize.Cell{StyleID: s.foot[Text], Value: t.Total}
		case c.Sum:
			col, err := excelize.ColumnNumberToName(i + 1)
			if err != nil {
				continue
			}
			row[i] = excelize.Cell{
				StyleID: s.foot[kind],
				Formula: fmt.Sprintf("SUM(%s%d:%s%d)", col, top+1, col, top+len(t.Rows)),
				Value:   t.sum(i),
			}
			if t.Below != nil { // rows that are sums themselves do not count twice
				row[i] = excelize.Cell{StyleID: s.foot[kind], Formula: below(i, top+1, len(t.Rows)), Value: t.sum(i)}
			}
		default:
			row[i] = excelize.Cell{StyleID: s.foot[Text]}
		}
	}
	return row
}

// sums tells whether a cell of a row is the sum of those below it.
func (t *Table) sums(row int, c Cell) bool {
	return t.Below != nil && t.Below[row] > 0 && c.Number != "" &&
		(c.Type == Money || c.Type == Units || c.Type == Count)
}

// below is the formula of a sum of rows from one on; sums among them are left
// out, as SUBTOTAL does.
func below(column, from, rows int) string {
	col, err := excelize.ColumnNumberToName(column + 1)
	if err != nil {
		return "" // columns are few
	}
	return fmt.Sprintf("SUBTOTAL(9,%s%d:%s%d)", col, from, col, from+rows-1)
}

// sum is the value of a foot's formula, added exactly.
func (t *Table) sum(column int) float64 {
	sum := new(rat)
	for n, r := range t.Rows {
		if column < len(r) && (t.Below == nil || t.Below[n] == 0) {
			sum.add(r[column].Number)
		}
	}
	return sum.float()
}
