package office

import (
	"bytes"
	"cmp"
	"context"
	"crypto/sha256"
	"errors"
	"fmt"
	"slices"
	"time"

	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
	"turret/internal/gather"
	"turret/internal/right"
	"turret/internal/store"
)

// GatherOptions say how files are taken.
type GatherOptions struct {
	Period       calendar.Period  // of rows that state none; zero: none
	Table        *portfolio.Table // what every file is; nil: told by name or header
	AllOrNothing bool             // one refused row refuses everything
	Whole        bool             // each file is the whole of the statements it names
	DryRun       bool
	Limits       gather.Limits
	Tick         func(file string, rows int) // told now and then, or nil
}

// Tally counts what became of the rows of a table.
type Tally struct {
	Table     string `json:"table"`
	New       int    `json:"new"`
	Changed   int    `json:"changed"`
	Unchanged int    `json:"unchanged"`
}

// Report tells what a gather took, what it refused and why.
type Report struct {
	Files    int              `json:"files"`
	Tallies  []Tally          `json:"tables"`
	Dropped  int              `json:"dropped"` // cells that a whole statement no longer names
	Refusals []gather.Refusal `json:"refusals"`
	Notes    []string         `json:"notes"`
	Written  bool             `json:"written"`
	Revision int64            `json:"revision"`
	Held     time.Duration    `json:"-"` // how long the write lock was held

	names  map[int32]string
	counts map[string]*Tally
}

// count adds to a table's tally and tells whether there is something to write.
func (r *Report) count(table string, isNew, changed bool) bool {
	t := r.counts[table]
	if t == nil {
		t = &Tally{Table: table}
		r.counts[table] = t
	}
	switch {
	case isNew:
		t.New++
	case changed:
		t.Changed++
	default:
		t.Unchanged++
	}
	return isNew || changed
}

func (r *Report) note(format string, args ...any) {
	r.Notes = append(r.Notes, fmt.Sprintf(format, args...))
}

// Changes is the number of keys that are new or changed, and cells dropped.
func (r *Report) Changes() (n int) {
	for _, t := range r.Tallies {
		n += t.New + t.Changed
	}
	return n + r.Dropped
}

const tries = 5 // of planning anew when another process wrote meanwhile

// Gather takes files: all of them in one batch and one transaction, tables in
// the order in which they refer to each other. What cannot be taken is kept
// with its reason. Where nothing changes, nothing is written.
func (o *Office) Gather(ctx context.Context, a right.Actor, files []gather.File, refused []gather.Refusal, opts GatherOptions) (*Report, error) {
	if a.Role != right.Lead { // whose batch is looked at once it is planned
		if err := right.Check(a, right.Gather); err != nil {
			return nil, err
		}
	}
	var report *Report
	var closing []calendar.Period
	var err error
	for range tries {
		report, closing, err = o.gatherOnce(ctx, a, files, refused, opts)
		if !errors.Is(err, store.ErrOutpaced) {
			break
		}
	}
	if err != nil || !report.Written {
		return report, err
	}
	slices.Sort(closing)
	for _, p := range slices.Compact(closing) {
		if _, err := o.closePeriod(ctx, a, p); err != nil {
			return report, err
		}
	}
	return report, nil
}

func (o *Office) gatherOnce(ctx context.Context, a right.Actor, files []gather.File, refused []gather.Refusal, opts GatherOptions) (*Report, []calendar.Period, error) {
	snap, err := o.book.Snapshot(ctx)
	if err != nil {
		return nil, nil, err
	}
	report := &Report{Files: len(files), Refusals: slices.Clone(refused), counts: make(map[string]*Tally), names: make(map[int32]string)}
	if opts.Limits == (gather.Limits{}) {
		opts.Limits = gather.DefaultLimits
	}
	p := newPlan(snap, o.store, opts, report)
	perFile := make(map[string]int)
	p.refuse = func(r gather.Refusal) {
		if perFile[r.File]++; perFile[r.File] <= opts.Limits.RefusalMax {
			report.Refusals = append(report.Refusals, r)
		}
	}
	kept, err := o.receive(ctx, a, files, report)
	if err != nil {
		return nil, nil, err
	}
	p.read(files, kept)
	for name, n := range perFile {
		if over := n - opts.Limits.RefusalMax; over > 0 {
			report.note("%s: %d more rows were refused than are kept; mend the file and gather it again", name, over)
		}
	}
	b, err := p.batch()
	if err != nil && !errors.Is(err, ErrRefused) {
		return nil, nil, err
	}
	if err := mayState(a, b, p.toClose); err != nil {
		return nil, nil, err
	}
	closing := p.toClose
	p = nil // what the plan knew is not needed while it is written
	report.tally()
	if errors.Is(err, ErrRefused) || opts.AllOrNothing && len(report.Refusals) > 0 {
		report.note("Nothing was taken: %d refusals.", len(report.Refusals))
		return report, nil, nil
	}
	if opts.DryRun {
		return report, nil, nil
	}
	if err := o.keepRefusals(ctx, b, kept, report); err != nil {
		return nil, nil, err
	}
	if b.Empty() {
		report.Written, report.Revision = len(closing) > 0, snap.Revision
		return report, closing, nil
	}
	b.At, b.Actor = o.now(), a.Name
	b.Note = fmt.Sprintf("%d files", len(files))
	for _, k := range kept {
		if k.fresh {
			k.Body = store.Compress(k.body)
			b.Files = append(b.Files, k.File)
		}
	}
	if report.Revision, err = o.store.Commit(ctx, b); err != nil {
		return nil, nil, fmt.Errorf("write the batch: %w", err)
	}
	report.Written, report.Held = true, b.Held
	return report, closing, nil
}

// mayState lets a lead state for their own projects, and change nothing else:
// no master data, no postings and no other project.
func mayState(a right.Actor, b *store.Batch, closing []calendar.Period) error {
	if right.May(a, right.Gather) {
		return nil
	}
	if b != nil && len(b.Records)+len(b.Postings) > 0 || len(closing) > 0 {
		return &right.Denied{Actor: a, Action: right.Gather}
	}
	for i := 0; b != nil && i < len(b.Parts); i++ {
		if err := right.CheckState(a, b.Parts[i].Project); err != nil {
			return err
		}
	}
	return nil
}

func (r *Report) tally() {
	for _, t := range portfolio.Tables {
		if n := r.counts[t.Name]; n != nil {
			r.Tallies = append(r.Tallies, *n)
		}
	}
	slices.SortStableFunc(r.Refusals, func(a, b gather.Refusal) int {
		return cmp.Or(cmp.Compare(a.File, b.File), cmp.Compare(a.Row, b.Row))
	})
}

// received is a file with its place in the database.
type received struct {
	store.File
	body  []byte
	fresh bool
}

// receive gives each file its id: the one it has where the same content came
// under the same name before.
func (o *Office) receive(ctx context.Context, a right.Actor, files []gather.File, report *Report) (map[string]*received, error) {
	known, err := o.store.Files(ctx)
	if err != nil {
		return nil, err
	}
	type identity struct {
		hash [32]byte
		name string
	}
	have := make(map[identity]int32, len(known))
	var next int32
	for id, f := range known {
		have[identity{f.Hash, f.Name}] = id
		next = max(next, id)
	}
	out := make(map[string]*received, len(files))
	for i := range files {
		f := &files[i]
		r := &received{body: f.Body}
		r.File = store.File{Hash: sha256.Sum256(f.Body), Name: f.Name, Sender: a.Name, At: o.now(), Size: int64(len(f.Body))}
		if id, ok := have[identity{r.Hash, f.Name}]; ok {
			r.ID = id
		} else {
			next++
			r.ID, r.fresh = next, true
		}
		out[f.Name] = r
		report.names[r.ID] = f.Name
	}
	return out, nil
}

// read takes every file's rows, table by table.
func (p *plan) read(files []gather.File, kept map[string]*received) {
	opts := gather.Options{Limits: p.opts.Limits, Periods: p.snap.Office.Periods, Period: p.opts.Period, Table: p.opts.Table}
	order := make([]*gather.File, 0, len(files))
	for i := range files {
		if why := gather.Identify(&files[i], &opts); why != "" {
			p.refuse(gather.Refusal{File: files[i].Name, Reason: why})
			continue
		}
		order = append(order, &files[i])
		if files[i].Table.Keep == portfolio.Ledger {
			p.expect += bytes.Count(files[i].Body, []byte("\n"))
		}
	}
	slices.SortStableFunc(order, func(a, b *gather.File) int {
		return slices.Index(portfolio.Tables, a.Table) - slices.Index(portfolio.Tables, b.Table)
	})
	for i, f := range order {
		p.file, p.fileID = f.Name, kept[f.Name].ID
		if p.opts.Tick != nil {
			opts.Tick = func(rows int) { p.opts.Tick(f.Name, rows) }
		}
		take := p.taker(f.Table)
		extra := gather.Read(f, &opts, func(r *portfolio.Row, cells func() map[string]string) { take(f.Table, r, cells) }, p.refuse)
		if len(extra) > 0 {
			p.report.note("%s: columns that %s does not list were kept as extra: %v", f.Name, f.Table.Name, extra)
		}
		if i+1 < len(order) && order[i+1].Table == f.Table {
			continue
		}
		if f.Table.Name == "activities" {
			p.finishActivities()
		} else {
			p.finish(f.Table)
		}
	}
}

func (p *plan) taker(t *portfolio.Table) func(*portfolio.Table, *portfolio.Row, func() map[string]string) {
	switch t.Keep {
	case portfolio.Parts:
		return p.statement
	case portfolio.Cells:
		return p.cost
	case portfolio.Ledger:
		return p.posting
	}
	return p.record
}

// keepRefusals adds the refused rows to the batch, those of files whose refused
// rows wait already excepted.
func (o *Office) keepRefusals(ctx context.Context, b *store.Batch, kept map[string]*received, report *Report) error {
	waiting := make(map[int32]bool)
	for _, r := range report.Refusals {
		k := kept[r.File]
		if k == nil { // a zip that could not be opened: there is no content to refer to
			continue
		}
		if _, asked := waiting[k.ID]; !asked {
			n, err := o.store.RefusalsWaiting(ctx, k.ID)
			if err != nil {
				return err
			}
			waiting[k.ID] = n > 0
		}
		if waiting[k.ID] {
			continue
		}
		b.Refusals = append(b.Refusals, store.Refusal{File: k.ID, Line: int32(r.Row), Field: r.Column, Value: r.Value, Reason: r.Reason, Cells: r.Cells})
	}
	return nil
}
