package book

import (
	"context"
	"sync"

	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
	"turret/internal/record"
	"turret/internal/store/format"
)

// WithPeriods gives the snapshot with another reporting calendar and everything
// else as it is, to plan by a calendar that is not written yet.
func (s *Snapshot) WithPeriods(ps *calendar.Periods) *Snapshot {
	out, office := *s, *s.Office
	office.Periods = ps
	out.Office = &office
	return &out
}

// LastNamed gives the last period that anything names: statements, the periods
// of their amounts, records and cuts, with the table that names it. Zero where
// nothing names one, so that a calendar can still be drawn.
func (s *Snapshot) LastNamed(ctx context.Context) (calendar.Period, string, error) {
	n := s.named
	n.mu.Lock()
	defer n.mu.Unlock()
	if !n.known {
		var err error
		if n.last, n.table, err = s.lastNamed(ctx); err != nil {
			return 0, "", err
		}
		n.known = true
	}
	return n.last, n.table, nil
}

// named keeps what LastNamed found on a snapshot: it reads every amount.
type named struct {
	mu    sync.Mutex
	known bool
	last  calendar.Period
	table string
}

func (s *Snapshot) lastNamed(ctx context.Context) (last calendar.Period, table string, err error) {
	see := func(p calendar.Period, by string) {
		if p > last {
			last, table = p, by
		}
	}
	for _, t := range record.Kinds() {
		if t.Keep != record.Records {
			continue
		}
		for i := range t.Columns {
			for j := range s.Records[t.Name] {
				if f := &s.Records[t.Name][j].Fields[i]; t.Columns[i].Type == record.Period &&
					f.Said == portfolio.Value {
					see(calendar.Period(f.Int), t.Name)
				}
			}
		}
	}
	for _, c := range s.History {
		see(calendar.Period(c.Period), "cuts")
	}
	var ids []int64
	for _, list := range s.Stated {
		for _, x := range list {
			if x.Kind.Dated() {
				see(calendar.Period(x.Version), x.Kind.Sent())
			}
			if x.Kind.Lines() {
				ids = append(ids, x.ID)
			}
		}
	}
	err = s.bodies(ctx, ids, func(_ int64, body []byte) error {
		lines, err := format.DecodeLines(body)
		for i := range lines {
			for _, c := range lines[i].Cells {
				see(c.Period, "costs")
			}
		}
		return err
	})
	return last, table, err
}
