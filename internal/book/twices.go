package book

import (
	"context"
	"sync"

	"turret/internal/book/cache"
	"turret/internal/core/calendar"
	"turret/internal/core/finding"
	"turret/internal/core/portfolio"
)

// twicesKey is of the postings of a period that say the same as others: those of all
// projects are looked for together, and again only of projects whose postings changed.
type twicesKey struct{ period calendar.Period }

// twices are what was found of each project, by its id.
type twices struct {
	mu sync.Mutex
	by map[int64]twiceFound
}

// twiceFound is what was found of a project, with the postings as a batch left them.
type twiceFound struct {
	batch int64
	list  []finding.Twice
}

// twice finds the postings of a project that say the same as others in a period.
func (s *Snapshot) twice(ctx context.Context, p *portfolio.Project, at calendar.Period) ([]finding.Twice, error) {
	known, err := cache.Get(ctx, s.memo.cache, twicesKey{at}, func(ctx context.Context) (*twices, error) {
		found, err := s.store.PostedTwice(ctx, 0, int64(at))
		if err != nil {
			return nil, err
		}
		t := &twices{by: make(map[int64]twiceFound)}
		for _, p := range s.Projects() {
			t.by[p.ID] = twiceFound{s.postedBy(p.ID, at), found[p.ID]}
		}
		return t, nil
	})
	if err != nil {
		return nil, err
	}
	batch := s.postedBy(p.ID, at)
	known.mu.Lock()
	was, ok := known.by[p.ID]
	known.mu.Unlock()
	if ok && was.batch == batch {
		return was.list, nil
	}
	found, err := s.store.PostedTwice(ctx, p.ID, int64(at))
	if err != nil {
		return nil, err
	}
	known.mu.Lock()
	known.by[p.ID] = twiceFound{batch, found[p.ID]}
	known.mu.Unlock()
	return found[p.ID], nil
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
