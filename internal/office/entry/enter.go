package entry

import (
	"bytes"
	"cmp"
	"context"
	"encoding/csv"
	"fmt"
	"strings"
	"time"

	"turret/internal/book"
	"turret/internal/gather"
	"turret/internal/office"
	"turret/internal/record"
	"turret/internal/right"
	"turret/internal/tell"
)

// takes are the rights that entries need where it is not that to gather.
var takes = map[string]right.Action{
	office.Drawn:    right.Draw,
	office.Proposed: right.Propose,
	office.Decided:  right.Approve,
}

const (
	enteredBy = ", entered by " // stands in the names of what was entered, after the table's
	firstRow  = 2               // the head is row 1
)

// Row is a row of a table as someone enters it: cells in canonical form by
// column.
type Row map[string]string

// Rows are rows of a table that were entered on a screen.
type Rows struct {
	table string
	rows  []Row
}

// Of are rows of a table.
func Of(table string, rows ...Row) Rows { return Rows{table, rows} }

// file writes the rows as the table's file.
func (e *Rows) file(a right.Actor, at time.Time) (gather.File, error) {
	t := record.Named(e.table)
	var columns []string
	for i := range t.Columns {
		for _, r := range e.rows {
			if _, said := r[t.Columns[i].Name]; said {
				columns = append(columns, t.Columns[i].Name)
				break
			}
		}
	}
	var b bytes.Buffer
	w := csv.NewWriter(&b)
	if err := w.Write(columns); err != nil {
		return gather.File{}, err
	}
	for _, r := range e.rows {
		line := make([]string, len(columns))
		for i, c := range columns {
			line[i] = strings.TrimSpace(r[c])
		}
		if err := w.Write(line); err != nil {
			return gather.File{}, err
		}
	}
	w.Flush()
	name := fmt.Sprintf(
		"%s%s%s %s.csv",
		tell.Capital(strings.ReplaceAll(e.table, "_", " ")), enteredBy,
		a.Name,
		at.UTC().Format("2006-01-02 15.04.05"),
	)
	return gather.File{Name: name, Body: b.Bytes()}, w.Error()
}

// RowsOn makes the rows that are entered, on the snapshot that they are planned
// on: what it looks at there still holds when they are kept.
type RowsOn func(ctx context.Context, s *book.Snapshot) ([]Rows, error)

// These are rows that do not depend on what there is.
func These(list ...Rows) RowsOn {
	return func(context.Context, *book.Snapshot) ([]Rows, error) { return list, nil }
}

// Form is what someone enters on a screen.
type Form struct {
	Origin, Note string // rows may say the note anew
	Seen         int64  // the revision that the page showed, or change.Unseen
	Dry          bool   // nothing is written, and the effects are told
	Rows         RowsOn
	Takes        right.Action // what it needs, where the origin does not tell
	Checked      bool         // Rows refuse whoever may not enter them: nothing else is asked of the actor

	// Wrong is told of every row that is refused: the table, the row's place among
	// those that were entered of it, the column, and why. Nil asks for none.
	Wrong func(table string, row int, column, why string)
}

// Enter takes rows that were entered on a screen, all or none, in one batch:
// they go the way of gathered files, which are kept as their source. A row that is
// refused is a *Misfit; a record that someone else changed since the page was
// shown, to something else than is entered, a *Conflict.
func (o Room) Enter(ctx context.Context, a right.Actor, f *Form) (*Report, error) {
	opts := Options{
		AllOrNothing: true, DryRun: f.Dry, Effect: f.Dry, Limits: gather.DefaultLimits,
		origin: f.Origin, takes: cmp.Or(f.Takes, takes[f.Origin]), form: f,
	}
	report, err := o.Gather(ctx, a, nil, nil, opts)
	if err != nil {
		return nil, err
	}
	if len(report.Refusals) > 0 {
		for i := 0; f.Wrong != nil && i < len(report.Refusals); i++ {
			x := &report.Refusals[i]
			table, _, _ := strings.Cut(x.File, enteredBy)
			f.Wrong(strings.ReplaceAll(strings.ToLower(table), " ", "_"), x.Row-firstRow, x.Column, x.Reason)
		}
		x := report.Refusals[0]
		return nil, &office.Misfit{Column: x.Column, Why: x.Reason}
	}
	return report, nil
}
