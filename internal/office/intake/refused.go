package intake

import (
	"bytes"
	"context"
	"encoding/csv"
	"fmt"
	"maps"
	"slices"
	"strings"
	"time"

	"turret/internal/book"
	"turret/internal/brief"
	"turret/internal/gather"
	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/right"
	"turret/internal/store"
)

// RefusedFile is a file, or a sheet of one, with its rows that were refused.
type RefusedFile struct {
	ID    int32
	Label string
	At    time.Time
	Table string
	Heads []string
	Rows  []RefusedRow

	layout *gather.Layout
}

// RefusedRow is a row that waits for someone, with why: a row may be refused
// for more than one cell.
type RefusedRow struct {
	IDs     []int64
	Run     int64
	Line    int
	Reasons []string
	Wrong   map[string]bool // heads of the cells that are meant
	Cells   map[string]string
	Whole   bool // it stands for the whole file: there are no cells to mend
}

// Refused lists the rows that wait for someone: those of one run, or with zero
// of all; at most so many.
func (o Room) Refused(ctx context.Context, a right.Actor, batch int64, most int) ([]RefusedFile, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	list, err := o.Store().Refusals(ctx, batch, store.Waiting, most)
	if err != nil {
		return nil, err
	}
	return o.refusedFiles(ctx, list)
}

func (o Room) refusedFiles(ctx context.Context, list []store.Refusal) ([]RefusedFile, error) {
	files, err := o.Store().Files(ctx)
	if err != nil {
		return nil, err
	}
	var out []RefusedFile
	for _, r := range list {
		if len(out) == 0 || out[len(out)-1].ID != r.File {
			f := files[r.File]
			l, err := entry.LayoutOf(f.Layout)
			if err != nil {
				return nil, err
			}
			out = append(
				out,
				RefusedFile{
					ID:     r.File,
					Label:  entry.PlaceName(f),
					At:     time.UnixMilli(r.At).UTC(),
					Table:  l.Table,
					Heads:  l.Heads,
					layout: l,
				},
			)
		}
		f := &out[len(out)-1]
		if n := len(f.Rows); n == 0 || f.Rows[n-1].Line != int(r.Line) || r.Line == 0 {
			f.Rows = append(
				f.Rows,
				RefusedRow{
					Run:   r.Batch,
					Line:  int(r.Line),
					Cells: r.Cells,
					Wrong: make(map[string]bool),
					Whole: len(r.Cells) == 0,
				},
			)
		}
		row := &f.Rows[len(f.Rows)-1]
		row.IDs = append(row.IDs, r.ID)
		reason := r.Reason
		if r.Field != "" {
			reason = r.Field + ": " + reason
		}
		row.Reasons = append(row.Reasons, reason)
		row.Wrong[headOf(f, r.Field)] = true
	}
	for i := range out {
		out[i].completeHeads()
	}
	return out, nil
}

// headOf finds the head under which a column of the table stands in a file.
func headOf(f *RefusedFile, column string) string {
	for i, use := range f.layout.Uses {
		if use.As == column && i < len(f.Heads) && !slices.Contains(f.Heads, column) {
			return f.Heads[i]
		}
	}
	return column
}

// completeHeads adds the heads of cells that the layout does not know.
func (f *RefusedFile) completeHeads() {
	more := make(map[string]bool)
	for _, r := range f.Rows {
		for h := range r.Cells {
			if !slices.Contains(f.Heads, h) {
				more[h] = true
			}
		}
	}
	f.Heads = append(slices.Clone(f.Heads), slices.Sorted(maps.Keys(more))...)
}

// Mend sends refused rows again with other cells: cells by refused row and
// head; what is not named stays. They are read as their file was. The rows that
// are refused again wait anew.
func (o Room) Mend(ctx context.Context, a right.Actor, cells map[int64]map[string]string) (*entry.Report, error) {
	if err := right.Check(a, right.Gather); err != nil {
		return nil, err
	}
	list, err := o.Store().RefusalsByID(ctx, slices.Sorted(maps.Keys(cells)))
	if err != nil {
		return nil, err
	}
	files, err := o.refusedFiles(
		ctx,
		slices.DeleteFunc(list, func(r store.Refusal) bool { return r.State != store.Waiting }),
	)
	if err != nil {
		return nil, err
	}
	if len(files) == 0 {
		return nil, office.Refusef("None of these rows waits any more; someone has dealt with them.")
	}
	kept, err := o.Store().Files(ctx)
	if err != nil {
		return nil, err
	}
	opts := entry.Options{Layouts: make(map[string]gather.Layout), Settle: []int64{}, Limits: gather.DefaultLimits}
	var sent []gather.File
	rows := 0
	for _, f := range files {
		l, err := entry.LayoutOf(kept[f.ID].Layout)
		if err != nil {
			return nil, err
		}
		var b bytes.Buffer
		w := csv.NewWriter(&b)
		if err := w.Write(l.Heads); err != nil {
			return nil, err
		}
		for _, r := range f.Rows {
			if r.Whole || len(l.Heads) == 0 {
				continue
			}
			line := make([]string, len(l.Heads))
			for i, h := range l.Heads {
				line[i] = r.Cells[h]
				for _, id := range r.IDs {
					if text, changed := cells[id][h]; changed {
						line[i] = strings.TrimSpace(text)
					}
				}
			}
			if err := w.Write(line); err != nil {
				return nil, err
			}
			rows++
			waiting, err := o.Store().RefusalsOf(ctx, f.ID)
			if err != nil {
				return nil, err
			}
			for _, x := range waiting { // all that is wrong with the row is sent again with it
				if int(x.Line) == r.Line && x.State == store.Waiting {
					opts.Settle = append(opts.Settle, x.ID)
				}
			}
		}
		w.Flush()
		name := fmt.Sprintf("%s, mended %s.csv", f.Label, o.Clock().UTC().Format("2006-01-02 15.04.05"))
		again := *l
		again.Head, again.Leave, again.From1904 = 1, nil, false
		opts.Layouts[name] = again
		sent = append(sent, gather.File{Name: name, Body: b.Bytes()})
	}
	if rows == 0 {
		return nil, office.Refusef("These refusals are of whole files: mend the file and send it again.")
	}
	opts.Note = fmt.Sprintf("%d refused rows, mended", rows)
	return entry.In(o.Office).Gather(ctx, a, sent, nil, opts)
}

// Drop gives refused rows up, with a reason.
func (o Room) Drop(ctx context.Context, a right.Actor, ids []int64, why string) error {
	if err := right.Check(a, right.Gather); err != nil {
		return err
	}
	why = strings.TrimSpace(why)
	if why == "" {
		return office.Refusef("A row is only dropped with a reason; say why it is not needed.")
	}
	if len(ids) == 0 {
		return office.Refusef("Choose the rows to drop.")
	}
	_, err := o.Write(ctx, a, func(context.Context, *book.Snapshot) (*store.Batch, error) {
		return &store.Batch{
			Origin:  "drop",
			Note:    why,
			Settled: []store.Settled{{IDs: ids, State: store.Dropped, Why: why}},
		}, nil
	})
	return err
}

// MapCode makes a code that nothing matches stand for one of the office, for
// every source, and reads again what waited for it. With an empty code of the
// office it only reads again.
func (o Room) MapCode(ctx context.Context, a right.Actor, column, code, to string) (*entry.Report, error) {
	if err := right.Check(a, right.Gather); err != nil {
		return nil, err
	}
	if to != "" {
		list, err := entry.In(o.Office).KnownMappings(ctx)
		if err != nil {
			return nil, err
		}
		m := entry.NamedMapping{Name: entry.EverySource}
		for _, x := range list {
			if x.Look == "" && x.Name == entry.EverySource {
				m = x
			}
		}
		m.Codes = slices.DeleteFunc(
			m.Codes,
			func(r gather.CodeRule) bool { return r.Column == column && r.From == code && r.Match == gather.Exact },
		)
		m.Codes = append(m.Codes, gather.CodeRule{Column: column, Match: gather.Exact, From: code, To: to})
		if err := entry.In(o.Office).SaveMapping(ctx, a, m); err != nil {
			return nil, err
		}
	}
	waiting, err := o.Store().RefusalsFor(ctx, column, code)
	if err != nil {
		return nil, err
	}
	if len(waiting) == 0 {
		return nil, office.Refusef("No row waits for %s %q any more.", strings.ReplaceAll(column, "_", " "), code)
	}
	return o.readAgain(ctx, a, waiting, fmt.Sprintf("%s %s", strings.ReplaceAll(column, "_", " "), code))
}

// readAgain reads refused rows as they are, from the files they came in.
func (o Room) readAgain(ctx context.Context, a right.Actor, list []store.Refusal, note string) (*entry.Report, error) {
	files, err := o.refusedFiles(ctx, list)
	if err != nil {
		return nil, err
	}
	kept, err := o.Store().Files(ctx)
	if err != nil {
		return nil, err
	}
	opts := entry.Options{Settle: []int64{}, Limits: gather.DefaultLimits, Note: note + ", read again"}
	for _, f := range files {
		l, err := entry.LayoutOf(kept[f.ID].Layout)
		if err != nil {
			return nil, err
		}
		again := *l
		again.Head, again.From1904 = 0, false
		var numbers []int
		var rows [][]string
		for _, r := range f.Rows {
			line := make([]string, len(l.Heads))
			for i, h := range l.Heads {
				line[i] = r.Cells[h]
			}
			numbers, rows = append(numbers, r.Line), append(rows, line)
			opts.Settle = append(opts.Settle, r.IDs...)
		}
		u := gather.By(gather.Grid(kept[f.ID].Name, kept[f.ID].Sheet, numbers, rows), again)
		opts.Sheets = append(opts.Sheets, entry.Sheet{Label: u.Label(), Read: u, File: f.ID})
	}
	return entry.In(o.Office).Gather(ctx, a, nil, nil, opts)
}

// RefusedWorkbook writes the rows that wait as a spreadsheet, with the reason in
// a column; mended there, it can be gathered as any file.
func (o Room) RefusedWorkbook(ctx context.Context, a right.Actor, batch int64) ([]byte, error) {
	const most = 100_000
	files, err := o.Refused(ctx, a, batch, most)
	if err != nil {
		return nil, err
	}
	var tables []brief.Table
	for _, f := range files {
		t := brief.Table{Name: f.Label, Columns: []brief.Column{{Head: "Row"}, {Head: "Why it was refused", Width: 60}}}
		for _, h := range f.Heads {
			t.Columns = append(t.Columns, brief.Column{Head: h})
		}
		for _, r := range f.Rows {
			row := []brief.Cell{{Type: brief.Count, Number: fmt.Sprint(r.Line)}, {Text: strings.Join(r.Reasons, "; ")}}
			for _, h := range f.Heads {
				row = append(row, brief.Cell{Text: r.Cells[h]})
			}
			t.Rows = append(t.Rows, row)
		}
		tables = append(tables, t)
	}
	if len(tables) == 0 {
		tables = append(
			tables,
			brief.Table{
				Name:    "Refused rows",
				Columns: []brief.Column{{Head: "No refused row waits for anyone", Width: 40}},
			},
		)
	}
	return brief.Workbook("Refused rows", o.Clock(), tables)
}
