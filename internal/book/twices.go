package book

import (
	"context"

	"turret/internal/book/cache"
	"turret/internal/core/calendar"
	"turret/internal/core/finding"
	"turret/internal/core/portfolio"
)

// twicesKey is of the postings of a period that say the same as others: those of all
// projects are looked for together, and again only of projects whose postings changed.
type twicesKey struct{ period calendar.Period }

// twiceKey is of those of one project, as a batch left its postings.
type twiceKey struct {
	project int64
	period  calendar.Period
	batch   int64
}

// twiceFound is what was found of a project, with the postings as a batch left them.
type twiceFound struct {
	batch int64
	list  []finding.Twice
}

// twice finds the postings of a project that say the same as others in a period.
func (s *Snapshot) twice(ctx context.Context, p *portfolio.Project, at calendar.Period) ([]finding.Twice, error) {
	known, err := cache.Get(ctx, s.memo.cache, twicesKey{at}, func(ctx context.Context) (map[int64]twiceFound, error) {
		found, err := s.store.PostedTwice(ctx, 0, int64(at))
		if err != nil {
			return nil, err
		}
		all := make(map[int64]twiceFound)
		for _, p := range s.Projects() {
			all[p.ID] = twiceFound{s.postedBy(p.ID, at), found[p.ID]}
		}
		return all, nil
	})
	if err != nil {
		return nil, err
	}
	batch := s.postedBy(p.ID, at)
	if was, ok := known[p.ID]; ok && was.batch == batch {
		return was.list, nil
	}
	return cache.Get(ctx, s.memo.cache, twiceKey{p.ID, at, batch}, func(ctx context.Context) ([]finding.Twice, error) {
		found, err := s.store.PostedTwice(ctx, p.ID, int64(at))
		return found[p.ID], err
	})
}

// postedBy gives the batch that last changed the postings of a project in a period; zero
// where there are none.
func (s *Snapshot) postedBy(project int64, at calendar.Period) int64 {
	key := portfolio.Part{Project: project, Kind: portfolio.LedgerPart, Version: int32(at)}
	for _, c := range s.Stated[project] {
		if c.Part == key {
			return c.Batch
		}
	}
	return 0
}
