package book

import (
	"context"

	"turret/internal/book/cache"
	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
)

// suppliersKey is of the main suppliers of projects at a period.
type suppliersKey struct {
	of     *lineage // figures
	period calendar.Period
}

// mainSuppliers are those of projects, and the revision up to which changes of names
// are seen: a name may change where no sum does.
type mainSuppliers struct {
	table[string]
	revision int64
}

// Suppliers gives the main supplier of each project, by code: the one that most
// was booked for through a period, at the rates of that period; "" where no
// posting names one.
func (s *Snapshot) Suppliers(ctx context.Context, codes []string, p calendar.Period) (map[string]string, error) {
	key := suppliersKey{s.memo.figures, p}
	known, err := cache.Get(ctx, s.memo.cache, key, func(context.Context) (*mainSuppliers, error) {
		return &mainSuppliers{table[string]{by: make(map[*portfolio.Project]string)}, s.Revision}, nil
	})
	if err != nil {
		return nil, err
	}
	if err := known.follow(ctx, s); err != nil {
		return nil, err
	}
	out := make(map[string]string, len(codes))
	var todo []*portfolio.Project
	for _, code := range codes {
		pr := s.Project(code)
		if pr == nil {
			continue
		}
		name, ok := known.get(pr)
		if !ok {
			todo = append(todo, pr)
		}
		out[code] = name
	}
	names, err := s.mainSuppliers(ctx, todo, p)
	if err != nil {
		return nil, err
	}
	for i, pr := range todo {
		out[pr.Code] = names[i]
	}
	known.put(s, todo, func(i int) string { return names[i] })
	return out, nil
}

// follow lets go of the projects whose postings name others than before.
func (k *mainSuppliers) follow(ctx context.Context, s *Snapshot) error {
	k.mu.Lock()
	since := k.revision
	k.mu.Unlock()
	if since >= s.Revision {
		return nil
	}
	changed, err := s.store.SuppliersChangedSince(ctx, since)
	if err != nil {
		return err
	}
	k.mu.Lock()
	defer k.mu.Unlock()
	for _, id := range changed {
		delete(k.by, s.byID()[id])
	}
	k.revision = max(k.revision, s.Revision)
	return nil
}

// mainSuppliers gives the main supplier of each of some projects, "" for none.
func (s *Snapshot) mainSuppliers(ctx context.Context, of []*portfolio.Project, p calendar.Period) ([]string, error) {
	ids := make([]int64, len(of))
	for i, pr := range of {
		ids[i] = pr.ID
	}
	sums, err := s.store.SupplierSums(ctx, ids, int64(p))
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
	out := make([]string, len(of))
	for i, id := range ids {
		most := int64(0)
		for supplier, n := range booked[id] {
			if n > most || n == most && supplier < out[i] {
				most, out[i] = n, supplier
			}
		}
	}
	return out, nil
}
