package history

import (
	"cmp"
	"context"
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"
	"time"

	"turret/internal/book"
	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/record"
	"turret/internal/right"
	"turret/internal/store"
	"turret/internal/tell"
)

// Ask is what someone looks for in the history; what is empty asks for
// nothing. Days are YYYY-MM-DD, both included, in UTC.
type Ask struct {
	Who, Project, Table, Row, File, From, To string
	Before                                   int64 // batches before this one
}

// Differs is one value before and after.
type Differs = book.Differs

// Batch is everything that one person or one file changed at once.
type Batch struct {
	ID       int64
	At       time.Time
	Actor    string
	Origin   string
	Note     string
	Tables   []string // that it changed something of, as people send them
	Projects int      // whose statements it changed
	Files    []string
	Took     string // the batch that it took back, in words; "": it took none back
	Undone   int64  // the batch that took it back, or zero
	Kept     int    // projects that it was not taken back of
	Run      bool   // it has a page under Gather
	Rows     []book.Differs
	More     int // rows that are not listed
}

// origins says how a batch came, by its origin.
var origins = map[string]string{
	"gather": "gathered", office.Corrected: "corrected at a finding", office.Answered: "findings answered", office.Overrode: "standing set", office.Ruled: "rules or checks changed",
	office.Drawn: "periods or calendars changed", office.Priced: "rates stated", office.Structured: "structure changed", office.NamedVersion: "version named", office.Proposed: "baseline proposed", office.Decided: "baseline approved or rejected", office.Checking: "period in checking, or open again",
	"drop": "refused rows dropped", "close": "period closed", "reopen": "period reopened", "cut": "cut made by hand", "undo": "taken back", office.Registered: "record entered", office.Talked: "asked and answered", office.Planned: "planned by hand",
	office.Stated: "stated", office.Confirmed: "confirmed as it was",
}

// How says how the batch came.
func (b *Batch) How() string {
	if s, ok := origins[b.Origin]; ok {
		return s
	}
	return b.Origin
}

// History is a list of batches, last first.
type History struct {
	Batches []Batch
	Next    int64 // where the list goes on: HistoryAsk.Before; zero at its end
	Tables  []string
}

// bounds of what a screen lists.
const (
	mostHistory = 50
	mostRows    = 400 // of one batch
	rowsInList  = 12  // of each batch, where a list shows the rows that were looked for
)

// Tables are the tables that a history can be asked for.
func Tables() (out []string) {
	for _, k := range record.OfRecords() {
		out = append(out, k.Name)
	}
	for k := portfolio.ActivityPart; k <= portfolio.NarrativePart; k++ {
		out = append(out, k.Sent())
	}
	slices.Sort(out)
	return slices.Compact(out)
}

// kindsOf gives the kinds of parts that hold rows of a table.
func kindsOf(table string) (out []portfolio.PartKind) {
	for k := portfolio.ActivityPart; k <= portfolio.NarrativePart; k++ {
		if k.Sent() == table {
			out = append(out, k)
		}
	}
	return out
}

// History looks through all batches. Where a project and a table are asked for,
// or a row, each batch carries the rows in question with before and after. A
// project, table or day that is not known is refused.
func (o Room) History(ctx context.Context, a right.Actor, m *office.Moment, ask Ask) (*History, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	h := &History{Tables: Tables()}
	f := store.HistoryFilter{Actor: ask.Who, File: ask.File, Before: ask.Before, Most: mostHistory + 1}
	if ask.Project != "" {
		p := m.Snapshot().Project(ask.Project)
		if p == nil {
			return h, office.Refusef("There is no project %q; give its code, as on the board.", ask.Project)
		}
		f.Project = p.ID
	}
	if ask.Table != "" {
		if !slices.Contains(h.Tables, ask.Table) {
			return h, office.Refusef("There is no table %q; choose one of the list.", ask.Table)
		}
		f.Tables, f.Kinds = []string{ask.Table}, kindsOf(ask.Table)
	}
	for _, day := range [...]struct {
		text string
		to   *int64
		add  int
	}{{ask.From, &f.From, 0}, {ask.To, &f.To, 1}} {
		if day.text == "" {
			continue
		}
		d, err := calendar.ParseDate(day.text)
		if err != nil {
			return h, office.Refusef("%q is no day; write it as 2026-11-30.", day.text)
		}
		*day.to = (d + calendar.Date(day.add)).Time().UnixMilli()
	}
	var rows map[int64][]book.Differs
	if ask.Table != "" && (ask.Project != "" || ask.Row != "" && len(f.Kinds) == 0) {
		var err error
		if rows, err = o.rowsThrough(ctx, m.Snapshot(), f, ask); err != nil {
			return h, err
		}
		f.Only = slices.AppendSeq([]int64{}, maps.Keys(rows))
	} else if ask.Row != "" {
		return h, office.Refusef("To look for a row, choose its project and table too.")
	}
	list, err := o.Store().Batches(ctx, f)
	if err != nil {
		return h, err
	}
	if len(list) > mostHistory {
		list = list[:mostHistory]
		h.Next = list[mostHistory-1].ID
	}
	for _, x := range list {
		b := batchOf(x)
		if err := o.inWords(ctx, m.Snapshot(), &b); err != nil {
			return h, err
		}
		if rows != nil {
			b.keep(rows[b.ID], rowsInList)
		}
		h.Batches = append(h.Batches, b)
	}
	return h, nil
}

func (b *Batch) keep(rows []book.Differs, most int) {
	b.Rows = rows[:min(len(rows), most)]
	b.More = len(rows) - len(b.Rows)
}

func batchOf(x store.BatchLine) Batch {
	b := Batch{
		ID:       x.ID,
		At:       time.UnixMilli(x.At).UTC(),
		Actor:    x.Actor,
		Origin:   x.Origin,
		Note:     x.Note,
		Projects: x.Projects,
		Undone:   x.Undone,
		Kept:     x.Kept,
		Run:      x.Run,
	}
	if x.Files != "" {
		b.Files = strings.Split(x.Files, "\n")
	}
	names := make(map[string]bool)
	for t := range strings.SplitSeq(x.Touched, ",") {
		if n, err := strconv.Atoi(t); err == nil {
			names[portfolio.PartKind(n).Sent()] = true
		} else if t == "posting" {
			names["postings"] = true
		} else if t != "" {
			names[store.TableOf(t)] = true
		}
	}
	b.Tables = slices.Sorted(maps.Keys(names))
	return b
}

// rowsThrough gives the rows of a table that batches changed, by batch.
func (o Room) rowsThrough(
	ctx context.Context,
	snap *book.Snapshot,
	f store.HistoryFilter,
	ask Ask,
) (map[int64][]book.Differs, error) {
	out := make(map[int64][]book.Differs)
	want := func(d book.Differs) bool {
		return ask.Row == "" || strings.EqualFold(d.Key, ask.Row) ||
			slices.ContainsFunc(
				strings.Split(d.Key, ", "),
				func(k string) bool { return strings.EqualFold(k, ask.Row) },
			)
	}
	add := func(batch int64, list []book.Differs) {
		for _, d := range list {
			if want(d) {
				out[batch] = append(out[batch], d)
			}
		}
	}
	if f.Project != 0 {
		parts, err := o.Store().PartsThrough(ctx, f.Project, f.Kinds)
		if err != nil {
			return nil, err
		}
		if err := snap.PartDiffers(ctx, parts, func(p store.PartHistory, list []book.Differs) bool { add(p.Batch, list); return true }); err != nil {
			return nil, err
		}
	}
	changes, err := o.Store().ChangesThrough(ctx, ask.Table, f.Project, 10*mostRows)
	if err != nil {
		return nil, err
	}
	for _, c := range changes {
		list, err := o.changed(ctx, snap, c)
		if err != nil {
			return nil, err
		}
		add(c.Batch, list)
	}
	return out, nil
}

func (o Room) changed(ctx context.Context, snap *book.Snapshot, c store.Change) ([]book.Differs, error) {
	return snap.ChangeDiffers(
		c,
		func() ([]store.Change, error) { return o.Store().ChangesAfter(ctx, c.Table, c.Record, c.Batch-1) },
	)
}

// batch gives a batch by id; nil where there is none.
func (o Room) batch(ctx context.Context, id int64) (*Batch, error) {
	list, err := o.Store().Batches(ctx, store.HistoryFilter{Before: id + 1, Most: 1})
	if err != nil || len(list) == 0 || list[0].ID != id {
		return nil, err
	}
	b := batchOf(list[0])
	return &b, nil
}

// BatchOf gives a batch with the rows that it changed, before and after: of a
// project, where one is asked for; nil where there is none.
func (o Room) BatchOf(ctx context.Context, a right.Actor, m *office.Moment, id int64, project string) (*Batch, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	b, err := o.batch(ctx, id)
	if err != nil || b == nil {
		return nil, err
	}
	if err := o.inWords(ctx, m.Snapshot(), b); err != nil {
		return nil, err
	}
	var of int64
	if project != "" {
		p := m.Snapshot().Project(project)
		if p == nil {
			return nil, office.Refusef("There is no project %q; give its code, as on the board.", project)
		}
		of = p.ID
	}
	var rows []book.Differs
	changes, err := o.Store().ChangesIn(ctx, id, "", mostRows)
	if err != nil {
		return nil, err
	}
	for _, c := range changes {
		list, err := o.changed(ctx, m.Snapshot(), c)
		if err != nil {
			return nil, err
		}
		for _, d := range list {
			if project == "" || d.Project == project || d.Table == "projects" && d.Key == project {
				rows = append(rows, d)
			}
		}
	}
	parts, err := o.Store().PartsIn(ctx, id, of)
	if err != nil {
		return nil, err
	}
	err = m.Snapshot().PartDiffers(ctx, parts, func(_ store.PartHistory, list []book.Differs) bool {
		rows = append(rows, list...)
		return len(rows) <= mostRows
	})
	b.keep(rows, mostRows)
	return b, err
}

// Said gives the words that came with the batch, but for those that only count
// its files.
func (b *Batch) Said() string {
	if b.Took != "" {
		return b.Took
	}
	if b.Origin == "gather" && (strings.HasSuffix(b.Note, " file") || strings.HasSuffix(b.Note, " files")) {
		return ""
	}
	return b.Note
}

// inWords says what the note of a batch stands for: the batch that it took back, or the
// period that it was of.
func (o Room) inWords(ctx context.Context, snap *book.Snapshot, b *Batch) error {
	if b.Origin == "undo" {
		id, err := strconv.ParseInt(strings.TrimPrefix(b.Note, tookBack), 10, 64)
		if err != nil {
			return nil //nolint:nilerr // words of another make stay as they are
		}
		was, err := o.batch(ctx, id)
		if was != nil {
			b.Took = was.Short()
		}
		return err
	}
	if b.Origin != "close" && b.Origin != office.Checking {
		return nil
	}
	code, state, _ := strings.Cut(b.Note, " ")
	if p, err := snap.Office.Periods.Parse(code); err == nil {
		b.Note = strings.TrimSpace(snap.Office.Periods.Name(p) + " " + state)
	}
	return nil
}

// Short names a batch in a sentence about another: batch 43 of Ines Marlow, gathered
// 26 Nov 2026, rates.csv.
func (b *Batch) Short() string {
	s := fmt.Sprintf("%s%d of %s, %s %s", tookBack, b.ID, b.Actor, b.How(), b.At.Format("2 Jan 2006"))
	switch n := len(b.Files); {
	case n == 1:
		s += ", " + b.Files[0]
	case n > 1:
		s += ", " + b.Files[0] + " and " + tell.Plural(n-1, "other file", "other files")
	case b.Said() != "":
		s += ", " + b.Said()
	default:
		s += ", " + b.Line()
	}
	return s
}

// tookBack is how the note of a batch that takes another back begins.
const tookBack = "batch "

// Line says what a batch touched, in few words.
func (b *Batch) Line() string {
	var out []string
	for _, t := range b.Tables {
		out = append(out, strings.ReplaceAll(t, "_", " "))
	}
	s := strings.Join(out, ", ")
	if b.Projects > 0 {
		s += " of " + tell.Plural(b.Projects, "project", "projects")
	}
	return s
}

// Touched is a batch that changed something of a project.
type Touched struct {
	Batch
	Project string
}

// mostTouched is how many batches Since tells of.
const mostTouched = 12

// Since lists what others than an actor changed of some projects since a moment, the last
// first.
func (o Room) Since(ctx context.Context, a right.Actor, m *office.Moment, projects []string, since time.Time) ([]Touched, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	var out []Touched
	for _, code := range projects {
		p := m.Snapshot().Project(code)
		if p == nil {
			continue
		}
		list, err := o.Store().Batches(ctx, store.HistoryFilter{Project: p.ID, From: since.UnixMilli(), Most: mostTouched})
		if err != nil {
			return nil, err
		}
		for _, x := range list {
			b := batchOf(x)
			if b.Actor == a.Name {
				continue
			}
			if err := o.inWords(ctx, m.Snapshot(), &b); err != nil {
				return nil, err
			}
			out = append(out, Touched{b, code})
		}
	}
	slices.SortStableFunc(out, func(a, b Touched) int { return cmp.Compare(b.ID, a.ID) })
	return out[:min(len(out), mostTouched)], nil
}
