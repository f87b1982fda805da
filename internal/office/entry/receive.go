package entry

import (
	"context"
	"crypto/sha256"
	"maps"
	"slices"

	"turret/internal/core/portfolio"
	"turret/internal/gather"
	"turret/internal/record"
	"turret/internal/right"
	"turret/internal/store"
)

// received is a file, or a sheet of one, with its place in the database.
type received struct {
	store.File
	body  []byte
	fresh bool
}

// receive gives each sheet its id: the one it has where the same content came
// under the same name before.
func (o Room) receive(
	ctx context.Context,
	a right.Actor,
	files []gather.File,
	sheets []Sheet,
	report *Report,
) (map[string]*received, error) {
	next, err := o.Store().LastFile(ctx)
	if err != nil {
		return nil, err
	}
	size := 0
	for i := range files {
		size += len(files[i].Body)
	}
	if size > beside { // the next numbers are left to those who write meanwhile
		next += besideFiles
	}
	type identity struct {
		hash        [32]byte
		name, sheet string
	}
	have := make(map[identity]int32)
	hashes := make(map[string][32]byte, len(files))
	bodies := make(map[string][]byte, len(files))
	for i := range files {
		hash := sha256.Sum256(files[i].Body)
		hashes[files[i].Name], bodies[files[i].Name] = hash, files[i].Body
		known, err := o.Store().FilesOf(ctx, hash)
		if err != nil {
			return nil, err
		}
		for id, f := range known {
			have[identity{f.Hash, f.Name, f.Sheet}] = id
		}
	}
	out := make(map[string]*received, len(sheets))
	put := func(label, name, sheet, layout string) {
		r := &received{body: bodies[name]}
		r.File = store.File{
			Hash:   hashes[name],
			Name:   name,
			Sheet:  sheet,
			Sender: a.Name,
			At:     o.Now(),
			Size:   int64(len(r.body)),
			Layout: layout,
		}
		if id, ok := have[identity{r.Hash, name, sheet}]; ok {
			r.ID = id
		} else {
			next++
			r.ID, r.fresh = next, true
		}
		out[label] = r
		report.names[r.ID] = label
	}
	for i := range sheets {
		s := &sheets[i]
		if s.File != 0 { // rows of a file that is kept already
			out[s.Label] = &received{File: store.File{ID: s.File, Name: s.Read.File, Sheet: s.Read.Sheet}}
			report.names[s.File] = s.Label
			continue
		}
		put(s.Label, s.Read.File, s.Read.Sheet, layoutText(s.Read))
	}
	for i := range files { // of what could not be opened only the name is a place
		if name := files[i].Name; out[name] == nil &&
			slices.ContainsFunc(report.Refusals, func(r gather.Refusal) bool { return r.File == name }) {
			put(name, name, "", "")
		}
	}
	return out, nil
}

// read takes every sheet's rows, table by table.
func (p *plan) read(ctx context.Context, in *intake, kept map[string]*received) error {
	order := make([]*Sheet, 0, len(in.sheets))
	for i := range in.sheets {
		s := &in.sheets[i]
		if !s.Read.Ready() {
			if !s.passed {
				s.Read.Read(in.reading, nil, p.refuse)
			}
			continue
		}
		order = append(order, s)
		if s.table().Keep == record.Ledger {
			p.expect += s.Read.Size()
		}
	}
	slices.SortStableFunc(order, func(a, b *Sheet) int {
		return record.Place(a.table()) - record.Place(b.table())
	})
	n := 0
	for n < len(order) && slices.Contains(CalendarTables, order[n].table().Name) {
		n++
	}
	p.readSheets(ctx, in, order[:n], kept)
	if n > 0 {
		if err := p.settlePeriods(ctx); err != nil {
			return err
		}
	}
	p.readSheets(ctx, in, order[n:], kept)
	return nil
}

// readSheets takes the rows of sheets that are in the order of their tables.
func (p *plan) readSheets(ctx context.Context, in *intake, order []*Sheet, kept map[string]*received) {
	for i, s := range order {
		p.file, p.table, p.adding = s.Label, s.table(), s.Read.Lines == gather.LinesAdd
		if k := kept[s.Label]; k != nil {
			p.fileID = k.ID
		}
		if p.opts.Tick != nil {
			in.reading.Tick = func(rows int) { p.opts.Tick(s.Label, rows) }
		}
		in.reading.Stop = func() bool { return p.stopped(ctx) }
		take := p.taker(p.table)
		s.Read.Read(
			in.reading,
			func(r *portfolio.Row, cells func() map[string]string) { take(ctx, p.table, r, cells) },
			p.refuse,
		)
		in.sums(s)
		if i+1 < len(order) && order[i+1].table() == p.table {
			continue
		}
		if p.table.Name == "activities" {
			p.finishActivities()
		} else {
			p.finish(p.table)
		}
	}
}

func (p *plan) taker(t *record.Kind) func(context.Context, *record.Kind, *portfolio.Row, func() map[string]string) {
	switch t.Keep {
	case record.Parts:
		return p.statement
	case record.Cells:
		return p.cost
	case record.Ledger:
		return p.posting
	}
	return p.record
}

// keepRefusals adds the refused rows to the batch, those that are kept already
// excepted; and settles rows that waited and were taken now.
func (o Room) keepRefusals(
	ctx context.Context,
	b *store.Batch,
	kept map[string]*received,
	report *Report,
	settle []int64,
) error {
	type place struct {
		file, line    int32
		field, reason string
	}
	have := make(map[place]bool)
	again := make(map[[2]int32]bool) // rows that are refused now
	asked := make(map[int32][]store.Refusal)
	for _, label := range slices.Sorted(maps.Keys(kept)) {
		k := kept[label]
		if k.fresh {
			continue
		}
		list, err := o.Store().RefusalsOf(ctx, k.ID)
		if err != nil {
			return err
		}
		asked[k.ID] = list
		for _, r := range list {
			have[place{r.File, r.Line, r.Field, r.Reason}] = true
		}
	}
	for _, r := range report.Refusals {
		k := kept[r.File]
		if k == nil { // a zip that could not be opened: there is no content to refer to
			continue
		}
		again[[2]int32{k.ID, int32(r.Row)}] = true
		if have[place{k.ID, int32(r.Row), r.Column, r.Reason}] {
			continue
		}
		b.Refusals = append(
			b.Refusals,
			store.Refusal{
				File:     k.ID,
				Line:     int32(r.Row),
				Field:    r.Column,
				Value:    r.Value,
				Reason:   r.Reason,
				Cells:    r.Cells,
				Waits:    r.Waits,
				Amount:   r.Amount,
				Currency: r.Unit,
			},
		)
	}
	var mended []int64
	if settle != nil { // rows sent again by hand
		mended = settle
	} else {
		for id, list := range asked {
			for _, r := range list {
				if r.State == store.Waiting && !again[[2]int32{id, r.Line}] {
					mended = append(mended, r.ID)
				}
			}
		}
	}
	if len(mended) > 0 {
		slices.Sort(mended)
		b.Settled = append(b.Settled, store.Settled{IDs: mended, State: store.Mended})
	}
	return nil
}
