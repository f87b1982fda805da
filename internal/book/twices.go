package book

import (
	"context"
	"sync"

	"turret/internal/core/calendar"
	"turret/internal/core/finding"
	"turret/internal/core/portfolio"
)

// twices keep the postings of periods that say the same as others, by project:
// those of a period are looked for together, and again only of projects that
// changed.
type twices struct {
	mu sync.Mutex
	by map[calendar.Period]map[*portfolio.Project][]finding.Twice
}

// carry keeps what is known of the projects that are still the same.
func (t *twices) carry(same map[*portfolio.Project]bool) *twices {
	t.mu.Lock()
	defer t.mu.Unlock()
	out := &twices{by: make(map[calendar.Period]map[*portfolio.Project][]finding.Twice, len(t.by))}
	for period, known := range t.by {
		kept := make(map[*portfolio.Project][]finding.Twice, len(known))
		for p, list := range known {
			if same[p] {
				kept[p] = list
			}
		}
		out.by[period] = kept
	}
	return out
}

// of finds the postings of a project that say the same as others in a period.
func (t *twices) of(
	ctx context.Context,
	s *Snapshot,
	p *portfolio.Project,
	at calendar.Period,
) ([]finding.Twice, error) {
	t.mu.Lock()
	known := t.by[at]
	list, ok := known[p]
	t.mu.Unlock()
	if ok {
		return list, nil
	}
	var asked []*portfolio.Project
	id := int64(0)
	if known == nil {
		asked = s.Projects()
	} else {
		asked, id = []*portfolio.Project{p}, p.ID
	}
	found, err := s.store.PostedTwice(ctx, id, int64(at))
	if err != nil {
		return nil, err
	}
	t.mu.Lock()
	defer t.mu.Unlock()
	if t.by == nil {
		t.by = make(map[calendar.Period]map[*portfolio.Project][]finding.Twice)
	}
	if t.by[at] == nil {
		t.by[at] = make(map[*portfolio.Project][]finding.Twice, len(asked))
	}
	for _, x := range append(asked, p) {
		t.by[at][x] = found[x.ID]
	}
	return found[p.ID], nil
}
