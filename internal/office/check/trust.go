package check

import (
	"context"
	"maps"
	"slices"

	"turret/internal/book"
	"turret/internal/book/cache"
	"turret/internal/core/calendar"
	"turret/internal/core/figure"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/right"
	"turret/internal/tell"
)

// Trust tells how far the figures of a moment can be trusted.
type Trust struct {
	Owing, Stated    int // projects that owe a statement, and those that gave all
	Refused          int // rows that wait for someone, of the whole office
	Errors, Warnings int
	Ledger           []LedgerSum
	Postings         int
	Changed          int      // of the postings, those that were corrected since they first came
	Outside          []string // projects with postings that stand outside the portfolio's sums
	Limited          bool     // the reader reads less than everything: nothing of the office's ledger and refused rows is told
}

// LedgerSum compares the postings of one currency with what the figures count.
type LedgerSum struct {
	Currency        money.Currency
	Posted, Counted int64
}

// Agrees tells whether all sums agree with their postings.
func (t *Trust) Agrees() bool {
	for _, l := range t.Ledger {
		if l.Posted != l.Counted {
			return false
		}
	}
	return true
}

// Trust looks at what the figures of a moment's projects rest on. The ledger is
// that of the whole office, through the moment's period.
func (o Room) Trust(ctx context.Context, a right.Actor, m *office.Moment) (*Trust, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	t := &Trust{}
	for _, r := range m.Readings().Rows {
		if r.Group || !m.InScope(r) || !m.Filter.Wants(r) {
			continue
		}
		switch owes, stated := office.Owing(r); {
		case owes && stated:
			t.Owing, t.Stated = t.Owing+1, t.Stated+1
		case owes:
			t.Owing++
		}
		t.Errors += int(r.Value(figure.Errors).N)
		t.Warnings += int(r.Value(figure.Warnings).N)
	}
	if m.Snapshot().Sight() != nil {
		t.Limited = true
		return t, nil
	}
	var err error
	if t.Refused, err = o.Store().AllRefusalsWaiting(ctx); err != nil {
		return nil, err
	}
	l, err := o.ledger(ctx, m)
	if err != nil {
		return nil, err
	}
	t.Ledger, t.Postings, t.Changed = l.sums, l.postings, l.corrected
	if all := m.Readings().Group("*"); all != nil {
		left := make(map[string]bool)
		for _, x := range all.LeftOut {
			left[x.Code] = true
		}
		for _, code := range l.posted {
			r := m.Readings().Project(code)
			if r == nil || r.State == portfolio.Proposed || r.State == portfolio.Cancelled || left[code] {
				t.Outside = append(t.Outside, code)
			}
		}
	}
	return t, nil
}

// Said says in words what the cost that is counted was compared with.
func (t *Trust) Said() string {
	if t.Limited {
		return "The ledger and the rows that were refused are the whole office's, and not compared here."
	}
	return tell.Ledger(t.Agrees(), t.Postings, t.Changed, t.Outside)
}

// agreement is the comparison of postings and sums through a period, as they were since a
// revision: it takes long.
type agreement struct {
	posted  int64
	sight   string
	through calendar.Period
}

type agreed struct {
	sums      []LedgerSum
	postings  int
	corrected int
	posted    []string // projects with postings
}

func (o Room) ledger(ctx context.Context, m *office.Moment) (agreed, error) {
	return cache.Get(
		ctx,
		o.Kept(),
		agreement{m.Snapshot().Posted, m.Snapshot().Sight().Key(), m.Period.Number},
		func(ctx context.Context) (agreed, error) {
			return o.compareLedger(ctx, m.Snapshot(), m.Period.Number)
		},
	)
}

func (o Room) compareLedger(ctx context.Context, s *book.Snapshot, through calendar.Period) (agreed, error) {
	posted, n, err := o.Store().PostedThrough(ctx, int64(through))
	if err != nil {
		return agreed{}, err
	}
	projects, err := s.Filled(ctx)
	if err != nil {
		return agreed{}, err
	}
	counted := make(map[string]int64)
	out := agreed{sums: []LedgerSum{}, postings: n}
	if out.corrected, err = o.Store().CorrectedThrough(ctx, int64(through)); err != nil {
		return agreed{}, err
	}
	for _, p := range projects {
		any := false
		for _, line := range p.Ledger {
			for _, c := range line.Cells {
				if c.Period <= through {
					counted[string(line.Currency)] += c.Amount
					any = true
				}
			}
		}
		if any {
			out.posted = append(out.posted, p.Code)
		}
	}
	for c := range counted {
		if _, ok := posted[c]; !ok {
			posted[c] = 0
		}
	}
	for _, c := range slices.Sorted(maps.Keys(posted)) {
		out.sums = append(out.sums, LedgerSum{money.Currency(c), posted[c], counted[c]})
	}
	return out, nil
}
