package office

import (
	"bytes"
	"context"
	"encoding/csv"
	"fmt"
	"strings"

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
)

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

// enter takes rows of one table that were entered on a screen, all or none, in
// one batch: they go the way of a gathered file, which is kept as their source.
// With dry nothing is written and the effects are told. A row that is refused
// is a *Misfit.
func (o *Office) enter(ctx context.Context, a right.Actor, origin, note, table string, rows []entered, dry bool) (*Report, error) {
	t := portfolio.TableNamed(table)
	var columns []string
	for i := range t.Columns {
		for _, r := range rows {
			if _, said := r[t.Columns[i].Name]; said {
				columns = append(columns, t.Columns[i].Name)
				break
			}
		}
	}
	var b bytes.Buffer
	w := csv.NewWriter(&b)
	if err := w.Write(columns); err != nil {
		return nil, err
	}
	for _, r := range rows {
		line := make([]string, len(columns))
		for i, c := range columns {
			line[i] = strings.TrimSpace(r[c])
		}
		if err := w.Write(line); err != nil {
			return nil, err
		}
	}
	w.Flush()
	name := fmt.Sprintf("%s, entered by %s %s.csv", capitalised(strings.ReplaceAll(table, "_", " ")), a.Name, o.clock().UTC().Format("2006-01-02 15.04.05"))
	opts := GatherOptions{AllOrNothing: true, DryRun: dry, Effect: dry, Limits: gather.DefaultLimits, Table: t, origin: origin, note: note}
	report, err := o.Gather(ctx, a, []gather.File{{Name: name, Body: b.Bytes()}}, nil, opts)
	if err != nil {
		return nil, err
	}
	if len(report.Refusals) > 0 {
		x := report.Refusals[0]
		return nil, &Misfit{x.Column, x.Reason}
	}
	return report, nil
}
