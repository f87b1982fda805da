// Package taking writes a table of a page as a spreadsheet: as it is shown, with its numbers as
// numbers.
package taking

import (
	"encoding/csv"
	"regexp"
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"

	"turret/internal/brief"
	"turret/internal/core/money"
	"turret/internal/office"
	"turret/internal/web/shell"
)

// Screen is the place of this in the application.
func Screen(site *shell.Site) shell.Screen {
	return shell.Screen{Routes: []shell.Route{{Of: shell.Anyone, Path: "/take", Post: Post(site)}}}
}

const (
	longest = 4 << 20 // bytes of a table
	mostRow = 20_000
)

// Post answers with the table that it is sent, as comma-separated text, as a spreadsheet.
func Post(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		name, text := c.FormValue("name"), strings.TrimPrefix(c.FormValue("table"), "\ufeff")
		if text == "" || len(text) > longest {
			return fiber.NewError(fiber.StatusUnprocessableEntity, "There is no table to take, or it is too large; take it as CSV")
		}
		t, err := table(name, text)
		if err != nil {
			return fiber.NewError(fiber.StatusUnprocessableEntity, err.Error())
		}
		body, err := brief.Workbook(name, site.Office.Clock().UTC().Truncate(time.Second), []brief.Table{*t})
		if err != nil {
			return err
		}
		return shell.Send(c, name+".xlsx", "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet", body)
	}
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
