package history

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"turret/internal/book"
	"turret/internal/core/calendar"
	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/record"
	"turret/internal/right"
	"turret/internal/store"
	"turret/internal/tell"
)

// Undoing is what taking a batch back would do, or what stands in its way.
type Undoing struct {
	Batch int64
	Way   []string // what stands in the way; empty where it can be undone whole
	Rest  []string // codes of the projects that it can be undone of all the same
	Stay  []string // and of those that it cannot

	keep []int64 // projects that later work stands on
}

// Can tells whether the batch can be undone whole.
func (u *Undoing) Can() bool { return len(u.Way) == 0 }

// undoable are the origins of batches that can be taken back.
var undoable = []string{
	"gather",
	office.Corrected,
	office.Answered,
	office.Overrode,
	office.Ruled,
	office.Drawn,
	office.Priced,
	office.Structured,
	office.NamedVersion,
	office.Proposed,
	"drop",
	office.Registered,
	office.Talked,
	office.Planned,
	office.Stated,
	office.Confirmed,
}

// Undoing tells what taking a batch back would do; nil where there is no such
// batch, or it is none that can be taken back, or it is undone already.
func (o Room) Undoing(ctx context.Context, a right.Actor, batch int64) (*Undoing, error) {
	if err := right.Check(a, right.Gather); err != nil {
		return nil, err
	}
	snap, err := o.Book().Snapshot(ctx)
	if err != nil {
		return nil, err
	}
	b, err := o.batch(ctx, batch)
	if err != nil || b == nil || b.Undone != 0 && b.Kept == 0 || !slices.Contains(undoable, b.Origin) {
		return nil, err
	}
	return o.undoing(ctx, snap, batch)
}

// mayTakeBack refuses who may not write by form what a batch changed: rights are taken back
// by who gives them.
func (o Room) mayTakeBack(ctx context.Context, a right.Actor, batch int64) error {
	list, err := o.Store().Batches(ctx, store.HistoryFilter{Before: batch + 1, Most: 1})
	if err != nil || len(list) == 0 || list[0].ID != batch {
		return err
	}
	for name := range strings.SplitSeq(list[0].Touched, ",") {
		if k := record.BySQL(name); k != nil && k.Form != nil && k.Form.Needs != "" {
			if err := right.Check(a, right.Action(k.Form.Needs)); err != nil {
				return err
			}
		}
	}
	return nil
}

// Undo takes a batch back as one batch: what it changed is as it was before.
// Where later batches built on it, or a period that it stated for is closed
// meanwhile, nothing is done, and the error says what stands in the way. With
// rest it is then taken back of the projects that nothing of the kind is true
// of; the office's own records stay.
func (o Room) Undo(ctx context.Context, a right.Actor, batch int64, rest bool) (undone int64, err error) {
	if err := right.Check(a, right.Gather); err != nil {
		return 0, err
	}
	return o.Write(ctx, a, func(ctx context.Context, snap *book.Snapshot) (*store.Batch, error) {
		if err := o.mayTakeBack(ctx, a, batch); err != nil {
			return nil, err
		}
		was, err := o.batch(ctx, batch)
		if err != nil {
			return nil, err
		}
		switch {
		case was == nil:
			return nil, office.Refusef("There is no batch %d.", batch)
		case !slices.Contains(undoable, was.Origin):
			return nil, office.Refusef("Batch %d is nothing that can be undone: %s.", batch, was.How())
		case was.Undone != 0 && was.Kept == 0:
			return nil, office.Refusef("That is undone already, by batch %d.", was.Undone)
		}
		u, err := o.undoing(ctx, snap, batch)
		if err != nil {
			return nil, err
		}
		if !u.Can() && (!rest || len(u.Rest) == 0) {
			return nil, office.Refusef(
				"It cannot be undone, since later work stands on it: %s.",
				strings.Join(tell.Few(u.Way), "; "),
			)
		}
		return &store.Batch{Origin: "undo", Note: fmt.Sprintf("%s%d", tookBack, batch), Undoes: batch, Keep: u.keep}, nil
	})
}

// undoing finds what stands on a batch, and what it touched beside.
func (o Room) undoing(ctx context.Context, snap *book.Snapshot, batch int64) (*Undoing, error) {
	u := &Undoing{Batch: batch}
	add := func(format string, args ...any) {
		if s := fmt.Sprintf(format, args...); !slices.Contains(u.Way, s) {
			u.Way = append(u.Way, s)
		}
	}
	code := func(id int64) string {
		if p := snap.ByID(id); p != nil {
			return p.Code
		}
		return fmt.Sprintf("project %d", id)
	}
	keep := make(map[int64]bool)
	parts, err := o.Store().PartsIn(ctx, batch, 0)
	if err != nil {
		return nil, err
	}
	closed, err := o.restsOn(ctx, snap, batch, parts, code)
	if err != nil {
		return nil, err
	}
	for _, r := range closed {
		if r.project != 0 {
			keep[r.project] = true
		}
		add("%s: %s is closed and rests on it", r.what, snap.Office.Periods.Name(r.period))
	}
	if why, err := o.calendarBack(ctx, snap, batch); err != nil {
		return nil, err
	} else if why != "" {
		add("%s", why)
	}
	list, err := o.Store().Obstacles(ctx, batch)
	if err != nil {
		return nil, err
	}
	var ids []int64
	for _, x := range list {
		ids = append(ids, x.Later)
	}
	named, err := o.Store().BatchesNamed(ctx, ids)
	if err != nil {
		return nil, err
	}
	for _, x := range list {
		what, project := fmt.Sprintf("%s of %s", words(x.Part.Kind.Sent()), code(x.Part.Project)), x.Part.Project
		if x.Table != "" {
			if what, project, err = o.named(ctx, x.Table, x.Record, code); err != nil {
				return nil, err
			}
		}
		if project != 0 {
			keep[project] = true
		}
		add("%s: batch %d of %s changed it or builds on it", what, x.Later, named[x.Later].Actor)
	}
	if u.Can() {
		return u, nil
	}
	return u, o.rest(ctx, u, keep, code)
}

// named says which record it is, and whose: zero where it is the office's own.
func (o Room) named(
	ctx context.Context,
	table string,
	id int64,
	code func(int64) string,
) (what string, project int64, err error) {
	if project, err = o.Store().ProjectOf(ctx, table, id); err != nil {
		return "", 0, err
	}
	if project != 0 && table != record.Projects.SQL {
		return words(table) + " of " + code(project), project, nil
	}
	name, err := o.Store().RecordName(ctx, table, id)
	return words(table) + " " + name, project, err
}

// words writes the name of a table as sentences do.
func words(table string) string { return strings.ReplaceAll(table, "_", " ") }

// rest sorts the projects that a batch touched into those to be kept and those
// that it can be undone of: postings that it moved between two bind them.
func (o Room) rest(ctx context.Context, u *Undoing, keep map[int64]bool, code func(int64) string) error {
	touched, err := o.Store().Touched(ctx, u.Batch)
	if err != nil {
		return err
	}
	moved, err := o.Store().Moved(ctx, u.Batch)
	if err != nil {
		return err
	}
	for more := true; more; {
		more = false
		for _, m := range moved {
			if keep[m[0]] != keep[m[1]] {
				keep[m[0]], keep[m[1]], more = true, true, true
			}
		}
	}
	for _, id := range touched {
		if keep[id] {
			u.keep = append(u.keep, id)
			u.Stay = append(u.Stay, code(id))
		} else {
			u.Rest = append(u.Rest, code(id))
		}
	}
	if len(u.keep) == 0 && len(touched) > 0 { // only the office's own stands in the way
		u.keep = []int64{0}
	}
	slices.Sort(u.Rest)
	slices.Sort(u.Stay)
	return nil
}

// calendarBack says why a batch's change of the reporting calendar cannot be
// taken back, or "".
func (o Room) calendarBack(ctx context.Context, s *book.Snapshot, batch int64) (string, error) {
	rec := make(book.Records)
	changed := false
	for _, table := range entry.CalendarTables {
		before, err := o.Store().RecordsBefore(ctx, batch, record.Named(table))
		if err != nil {
			return "", err
		}
		for _, r := range s.Records[table] {
			was, ok := before[r.ID]
			switch {
			case !ok:
				rec[table] = append(rec[table], r)
			case was != nil:
				rec[table] = append(rec[table], *was)
			}
			changed = changed || ok
		}
	}
	if !changed {
		return "", nil
	}
	ps, err := rec.Periods()
	var bad *calendar.BoundError
	if errors.As(err, &bad) {
		return bad.Error(), nil
	}
	if err != nil {
		return "", err
	}
	if bad, err = entry.Moved(ctx, s, ps); err != nil || bad == nil {
		return "", err
	}
	return strings.TrimPrefix(bad.Error(), ": "), nil
}
