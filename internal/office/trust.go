package office

import (
	"context"
	"sync"

	"turret/internal/core/calendar"
	"turret/internal/core/figure"
	"turret/internal/core/money"
	"turret/internal/right"
)

// Trust tells how far the figures of a moment can be trusted.
type Trust struct {
	Owing, Stated    int // projects that owe a statement, and those that gave all
	Refused          int // rows that wait for someone, of the whole office
	Errors, Warnings int
	Ledger           []LedgerSum
	Postings         int
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
func (o *Office) Trust(ctx context.Context, a right.Actor, m *Moment) (*Trust, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	t := &Trust{}
	for _, r := range m.now.Rows {
		if r.Group || !m.inScope(r) || !m.Filter.wants(r) {
			continue
		}
		switch owes, stated := owing(r); {
		case owes && stated:
			t.Owing, t.Stated = t.Owing+1, t.Stated+1
		case owes:
			t.Owing++
		}
		t.Errors += int(r.Value(figure.Errors).N)
		t.Warnings += int(r.Value(figure.Warnings).N)
	}
	var err error
	if t.Refused, err = o.store.AllRefusalsWaiting(ctx); err != nil {
		return nil, err
	}
	t.Ledger, t.Postings, err = o.ledger(ctx, m)
	return t, err
}

// owing tells whether a project owes statements, and has given all of them.
func owing(r *Reading) (owes, stated bool) {
	if age := r.Value(figure.StatementAge); age.Known {
		return true, age.N == 0
	}
	return active(r), false
}

// Owing counts the projects of a moment's scope that owe statements, and those
// that have given all of them.
func (m *Moment) Owing() (stated, owes int) {
	if m.now == nil {
		return 0, 0
	}
	for _, r := range m.now.Rows {
		if r.Group || !m.inScope(r) {
			continue
		}
		if o, s := owing(r); o {
			owes++
			if s {
				stated++
			}
		}
	}
	return stated, owes
}

// ledgers keeps the last comparison of postings and sums: it takes long, and
// changes with a revision only.
type ledgers struct {
	mu       sync.Mutex
	revision int64
	by       map[calendar.Period][]LedgerSum
	postings map[calendar.Period]int
}

func (o *Office) ledger(ctx context.Context, m *Moment) ([]LedgerSum, int, error) {
	o.ledgers.mu.Lock()
	defer o.ledgers.mu.Unlock()
	l, p := &o.ledgers, m.Period.period
	if l.revision != m.snap.Revision || l.by == nil {
		l.revision, l.by, l.postings = m.snap.Revision, make(map[calendar.Period][]LedgerSum), make(map[calendar.Period]int)
	}
	if list, ok := l.by[p]; ok {
		return list, l.postings[p], nil
	}
	posted, n, err := o.store.PostedThrough(ctx, int64(p))
	if err != nil {
		return nil, 0, err
	}
	projects, err := m.snap.Filled(ctx)
	if err != nil {
		return nil, 0, err
	}
	counted := make(map[string]int64)
	for _, pr := range projects {
		for _, line := range pr.Ledger {
			for _, c := range line.Cells {
				if c.Period <= p {
					counted[string(line.Currency)] += c.Amount
				}
			}
		}
	}
	for c := range counted {
		if _, ok := posted[c]; !ok {
			posted[c] = 0
		}
	}
	list := []LedgerSum{}
	for _, c := range sortedKeys(posted) {
		list = append(list, LedgerSum{money.Currency(c), posted[c], counted[c]})
	}
	l.by[p], l.postings[p] = list, n
	return list, n, nil
}
