package book

import (
	"context"

	"turret/internal/book/cache"
	"turret/internal/core/calendar"
	"turret/internal/core/finding"
	"turret/internal/core/portfolio"
)

// twicesKey is of the postings of a period that say the same as others: those of all
// projects are looked for together, and again only of projects that changed.
type twicesKey struct {
	of     *lineage // figures
	period calendar.Period
}

// twice finds the postings of a project that say the same as others in a period.
func (s *Snapshot) twice(ctx context.Context, p *portfolio.Project, at calendar.Period) ([]finding.Twice, error) {
	key := twicesKey{s.memo.figures, at}
	known, err := cache.Get(ctx, s.memo.cache, key, func(ctx context.Context) (*table[[]finding.Twice], error) {
		found, err := s.store.PostedTwice(ctx, 0, int64(at))
		if err != nil {
			return nil, err
		}
		t := &table[[]finding.Twice]{by: make(map[*portfolio.Project][]finding.Twice)}
		all := s.Projects()
		t.put(s, all, func(i int) []finding.Twice { return found[all[i].ID] })
		return t, nil
	})
	if err != nil {
		return nil, err
	}
	if list, ok := known.get(p); ok {
		return list, nil
	}
	found, err := s.store.PostedTwice(ctx, p.ID, int64(at))
	if err != nil {
		return nil, err
	}
	known.put(s, []*portfolio.Project{p}, func(int) []finding.Twice { return found[p.ID] })
	return found[p.ID], nil
}
