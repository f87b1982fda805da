package entry

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"turret/internal/book"
	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
	"turret/internal/gather"
	"turret/internal/record"
)

// CalendarTables draw the reporting calendar. They are read before all others,
// which name periods by it.
var CalendarTables = []string{"settings", "boundaries"}

// settlePeriods takes the reporting calendar as this run leaves it, once its
// tables are read: boundaries are taken all or none, as they fit each other or
// do not.
func (p *plan) settlePeriods(ctx context.Context) error {
	rec := make(book.Records)
	changed := false
	for _, table := range CalendarTables {
		for _, e := range p.records[table].list {
			if e.before != nil || e.touched() {
				rec[table] = append(rec[table], e.after)
			}
			changed = changed || e.touched() && e.changed()
		}
	}
	if !changed {
		return nil
	}
	ps, err := rec.Periods()
	var bad *calendar.BoundError
	switch {
	case errors.As(err, &bad):
		p.refuseBoundaries(bad)
		return nil
	case err != nil:
		return err
	}
	if bad, err = Moved(ctx, p.snap, ps); err != nil {
		return err
	}
	if bad != nil {
		p.refuseBoundaries(bad)
		return nil
	}
	p.snap = p.snap.WithPeriods(ps)
	return nil
}

// refuseBoundaries refuses the boundaries of this run, the one at fault with its
// reason.
func (p *plan) refuseBoundaries(bad *calendar.BoundError) {
	t := record.Boundaries.Kind
	list := p.records[t.Name].list
	named := slices.ContainsFunc(list, func(e *entry) bool { return e.touched() && e.after.Fields[0].Text == bad.Code })
	for _, e := range list {
		if !e.touched() {
			continue
		}
		x := gather.Refusal{
			File:   e.byFile,
			Row:    int(e.by.Row),
			Column: "period",
			Value:  e.after.Fields[0].Text,
			Cells:  record.FormatRow(t, &portfolio.Row{Fields: e.said}, p.snap.Office.Periods),
		}
		switch {
		case e.after.Fields[0].Text == bad.Code:
			x.Reason = bad.Why
		case named:
			x.Reason = fmt.Sprintf("periods are taken all or none, and %s; mend that row", bad)
		default:
			x.Reason = strings.TrimPrefix(bad.Error(), ": ")
		}
		p.refuse(x)
		e.restore()
		e.void = e.before == nil
	}
}

// Moved tells which period that something names would have other days in a new
// calendar, or a closed one another name; nil where none would.
func Moved(ctx context.Context, s *book.Snapshot, to *calendar.Periods) (*calendar.BoundError, error) {
	was, is := s.Office.Periods.List(), to.List()
	if slices.Equal(was, is) {
		return nil, nil
	}
	last, table, err := s.LastNamed(ctx)
	if err != nil || last == 0 {
		return nil, err
	}
	said := strings.ReplaceAll(table, "_", " ")
	if was == nil || is == nil {
		return &calendar.BoundError{
			Why: fmt.Sprintf(
				"%s name %s already, so the kind of periods stays; make a new database to begin with others",
				said,
				s.Office.Periods.Name(last),
			),
		}, nil
	}
	for i, b := range was {
		switch p := calendar.Period(i + 1); {
		case p > last:
			return nil, nil
		case i >= len(is) || is[i].Code != b.Code || is[i].First != b.First || is[i].Last != b.Last:
			return &calendar.BoundError{
				Code: b.Code,
				Why: fmt.Sprintf(
					"it keeps its days, %s to %s: %s name periods up to %s; only later ones can change",
					b.First,
					b.Last,
					said,
					s.Office.Periods.Code(last),
				),
			}, nil
		case s.Closed[p] && is[i].Name != b.Name:
			return &calendar.BoundError{
				Code: b.Code,
				Why:  fmt.Sprintf("it is closed as %q and keeps that name", s.Office.Periods.Name(p)),
			}, nil
		}
	}
	return nil, nil
}
