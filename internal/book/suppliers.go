package book

import (
	"context"
	"maps"
	"sync"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
)

// suppliersMemo keeps the main suppliers of projects at the period that was asked
// for last.
type suppliersMemo struct {
	mu  sync.Mutex
	at  calendar.Period
	rev int64 // up to which changes of suppliers are seen
	by  map[*portfolio.Project]string
}

// carry keeps those of the projects that are still the same.
func (m *suppliersMemo) carry(same map[*portfolio.Project]bool) *suppliersMemo {
	m.mu.Lock()
	defer m.mu.Unlock()
	out := &suppliersMemo{at: m.at, rev: m.rev, by: maps.Clone(m.by)}
	maps.DeleteFunc(out.by, func(p *portfolio.Project, _ string) bool { return !same[p] })
	return out
}

// Suppliers gives the main supplier of each project, by code: the one that most
// was booked for through a period, at the rates of that period; "" where no
// posting names one.
func (s *Snapshot) Suppliers(ctx context.Context, codes []string, p calendar.Period) (map[string]string, error) {
	memo := s.memo.suppliers
	memo.mu.Lock()
	defer memo.mu.Unlock()
	if memo.at != p || memo.by == nil {
		memo.at, memo.rev, memo.by = p, s.Revision, make(map[*portfolio.Project]string)
	}
	if memo.rev < s.Revision { // a name may change where no sum does
		changed, err := s.store.SuppliersChangedSince(ctx, memo.rev)
		if err != nil {
			return nil, err
		}
		for _, id := range changed {
			delete(memo.by, s.byID()[id])
		}
		memo.rev = s.Revision
	}
	var todo []int64
	for _, code := range codes {
		if pr := s.Project(code); pr != nil {
			if _, ok := memo.by[pr]; !ok {
				todo = append(todo, pr.ID)
			}
		}
	}
	sums, err := s.store.SupplierSums(ctx, todo, int64(p))
	if err != nil {
		return nil, err
	}
	booked := make(map[int64]map[string]int64)
	for _, x := range sums {
		conv, err := s.Office.Rates.Between(
			money.Currency(x.Currency),
			s.Office.Reporting,
			money.PeriodRates,
			int(p),
			int(p),
		)
		if err != nil {
			continue // without a rate it cannot be compared
		}
		n, err := conv.Convert(x.Sum)
		if err != nil {
			continue
		}
		if booked[x.Project] == nil {
			booked[x.Project] = make(map[string]int64)
		}
		booked[x.Project][x.Supplier] += n
	}
	for _, id := range todo {
		most, name := int64(0), ""
		for supplier, n := range booked[id] {
			if n > most || n == most && supplier < name {
				most, name = n, supplier
			}
		}
		memo.by[s.byID()[id]] = name
	}
	out := make(map[string]string, len(codes))
	for _, code := range codes {
		if pr := s.Project(code); pr != nil {
			out[code] = memo.by[pr]
		}
	}
	return out, nil
}
