package export

import (
	"encoding/csv"
	"regexp"
	"strings"
	"time"

	"turret/internal/brief"
	"turret/internal/core/money"
	"turret/internal/office"
)

// mostRow is how many rows a table has at most that is written as it is shown.
const mostRow = 20_000

// Taken writes a table of a page, which came as comma-separated text with its heads first, as a
// spreadsheet: numbers and percentages as numbers, all else as text.
func Taken(name, text string, made time.Time) ([]byte, error) {
	t, err := table(name, strings.TrimPrefix(text, "\ufeff"))
	if err != nil {
		return nil, err
	}
	return brief.Workbook(name, made, []brief.Table{*t})
}

// table reads a table: heads first, and rows of as many cells as they have, or fewer.
func table(name, text string) (*brief.Table, error) {
	r := csv.NewReader(strings.NewReader(text))
	r.FieldsPerRecord = -1
	rows, err := r.ReadAll()
	if err != nil {
		return nil, office.Refusef("The table cannot be read: %v.", err)
	}
	if len(rows) == 0 || len(rows) > mostRow {
		return nil, office.Refusef("The table has no rows, or more than %d; take it as CSV.", mostRow)
	}
	t := &brief.Table{Name: name}
	for _, row := range rows {
		for len(t.Columns) < len(row) {
			t.Columns = append(t.Columns, brief.Column{})
		}
	}
	for i, head := range rows[0] {
		t.Columns[i].Head = head
	}
	for _, row := range rows[1:] {
		cells := make([]brief.Cell, len(t.Columns))
		for i, text := range row {
			cells[i] = cell(text)
		}
		t.Rows = append(t.Rows, cells)
	}
	return t, nil
}

var (
	plain   = regexp.MustCompile(`^-?\d{1,15}(\.\d{1,6})?$`)
	percent = regexp.MustCompile(`^([+−-]?)(\d{1,9}(?:\.\d{1,4})?)%$`)
)

// cell reads a number, a percentage, or a text; a text that was kept from running as a formula
// loses the mark.
func cell(text string) brief.Cell {
	if plain.MatchString(text) {
		if strings.Contains(text, ".") {
			return brief.Cell{Type: brief.Ratio, Number: text}
		}
		return brief.Cell{Type: brief.Units, Number: text}
	}
	if m := percent.FindStringSubmatch(text); m != nil {
		const digits = 6
		n, err := money.ParseScaled(m[2], digits-2)
		if err == nil {
			sign := ""
			if m[1] == "−" || m[1] == "-" {
				sign = "-"
			}
			return brief.Cell{Type: brief.Share, Number: sign + money.FormatScaled(n, digits)}
		}
	}
	return brief.Cell{Type: brief.Text, Text: strings.TrimPrefix(text, "'")}
}
