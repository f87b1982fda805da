package office

import (
	"bytes"
	"context"
	"encoding/csv"
	"fmt"
	"strings"
	"time"

	"turret/internal/core/portfolio"
	"turret/internal/gather"
	"turret/internal/right"
)

// Origins of batches that are entered on a screen.
const (
	corrected = "correct"  // a finding was mended at its cell
	answered  = "answer"   // something was said about findings
	overrode  = "override" // a standing was set
	ruled     = "rules"    // rules or checks were changed
	drawn     = "calendar" // periods, calendars or due days were changed
	proposed  = "propose"  // a baseline was proposed
	decided   = "approve"  // a baseline was approved or rejected
)

// takes are the rights that entries need where it is not that to gather.
var takes = map[string]right.Action{drawn: right.Draw, proposed: right.Propose, decided: right.Approve}

// Misfit is an entry that is refused, at its column. It is ErrRefused.
type Misfit struct {
	Column, Why string
}

func (m *Misfit) Error() string {
	why := capitalised(m.Why)
	if m.Column == "" {
		return why + "."
	}
	return capitalised(strings.ReplaceAll(m.Column, "_", " ")) + ": " + m.Why + "."
}

// Is tells that a misfit is a refusal.
func (m *Misfit) Is(target error) bool { return target == ErrRefused }

func capitalised(s string) string {
	if s == "" {
		return s
	}
	return strings.ToUpper(s[:1]) + s[1:]
}

// entered is a row of a table as someone enters it: cells in canonical form by
// column.
type entered map[string]string

// rowsOf are rows of a table that were entered on a screen.
type rowsOf struct {
	table string
	rows  []entered
}

// file writes the rows as the table's file.
func (e *rowsOf) file(a right.Actor, at time.Time) (gather.File, error) {
	t := portfolio.TableNamed(e.table)
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
	name := fmt.Sprintf("%s, entered by %s %s.csv", capitalised(strings.ReplaceAll(e.table, "_", " ")), a.Name, at.UTC().Format("2006-01-02 15.04.05"))
	return gather.File{Name: name, Body: b.Bytes()}, w.Error()
}

// enter takes rows that were entered on a screen, all or none, in one batch:
// they go the way of gathered files, which are kept as their source. With dry
// nothing is written and the effects are told. A row that is refused is a
// *Misfit.
func (o *Office) enter(ctx context.Context, a right.Actor, origin, note string, dry bool, list ...rowsOf) (*Report, error) {
	opts := GatherOptions{AllOrNothing: true, DryRun: dry, Effect: dry, Limits: gather.DefaultLimits, origin: origin, note: note}
	var files []gather.File
	for i := range list {
		f, err := list[i].file(a, o.clock())
		if err != nil {
			return nil, err
		}
		files = append(files, f)
	}
	if len(list) == 1 {
		opts.Table = portfolio.TableNamed(list[0].table)
	}
	opts.takes = takes[origin]
	report, err := o.Gather(ctx, a, files, nil, opts)
	if err != nil {
		return nil, err
	}
	if len(report.Refusals) > 0 {
		x := report.Refusals[0]
		return nil, &Misfit{x.Column, x.Reason}
	}
	return report, nil
}
