package history

import (
	"context"
	"fmt"

	"turret/internal/book"
	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
	"turret/internal/record"
	"turret/internal/store"
)

// rest is something that a closed period's figures rest on.
type rest struct {
	what    string // the plan of NQ
	period  calendar.Period
	project int64 // zero: the office's own
}

// restsOn finds what of a batch the figures of a closed period rest on: what it stated
// for one, and what beside was so when the last of those that are closed since was closed.
func (o Room) restsOn(
	ctx context.Context,
	snap *book.Snapshot,
	batch int64,
	parts []store.PartHistory,
	code func(int64) string,
) (out []rest, err error) {
	var last calendar.Period
	for p, cut := range snap.Cuts {
		if int64(cut.Batch) > batch {
			last = max(last, p)
		}
	}
	for _, p := range parts {
		r := rest{fmt.Sprintf("%s of %s", words(p.Kind.Sent()), code(p.Project)), last, p.Project}
		switch {
		case p.Kind.Dated():
			if r.period = calendar.Period(p.Version); !snap.Closed[r.period] {
				continue
			}
		case last == 0:
			continue
		case p.Kind == portfolio.PlanPart || p.Kind == portfolio.BaselinePart:
			v, err := snap.View(ctx, code(p.Project), last, portfolio.Latest)
			if err != nil {
				return nil, err
			}
			if v == nil || int(p.Version) > v.Number {
				continue // it came in force later, or not yet
			}
		}
		out = append(out, r)
	}
	if last == 0 {
		return out, nil
	}
	for _, k := range record.OfRecords() {
		if k.Touches >= record.Workings || k == record.Boundaries.Kind {
			continue // no figure rests on it, or calendarBack tells
		}
		changes, err := o.Store().ChangesIn(ctx, batch, k.Name, -1)
		if err != nil {
			return nil, err
		}
		seen := make(map[int64]bool)
		for _, c := range changes {
			if seen[c.Record] || later(snap, k, c.Record, last) {
				continue
			}
			seen[c.Record] = true
			r := rest{period: last}
			if r.what, r.project, err = o.named(ctx, k.SQL, c.Record, code); err != nil {
				return nil, err
			}
			out = append(out, r)
		}
	}
	return out, nil
}

// later tells whether a record counts only after a period: it is in force from a later
// one, or is a baseline that was not approved by its end.
func later(snap *book.Snapshot, k *record.Kind, id int64, than calendar.Period) bool {
	for i := range snap.Records[k.Name] {
		r := &snap.Records[k.Name][i]
		if r.ID != id {
			continue
		}
		if k == record.Baselines.Kind {
			return record.Baselines.State.Or(r) != string(portfolio.PlanApproved) ||
				record.Baselines.Approved.Of(r) > snap.Office.Periods.Last(than)
		}
		for j := range k.Columns {
			if c := &k.Columns[j]; c.Key && c.Type == record.Period {
				return calendar.Period(r.Fields[j].Int) > than
			}
		}
	}
	return false
}
