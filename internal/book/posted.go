package book

import (
	"context"

	"turret/internal/book/cache"
	"turret/internal/core/calendar"
	"turret/internal/store"
)

// postedKey is of what postings add up to in a period, at a revision.
type postedKey struct {
	of       *lineage // all inputs
	revision int64
	period   calendar.Period
}

// PostedSums adds up the postings of all projects in a period, by file, project, cost code and
// currency.
func (s *Snapshot) PostedSums(ctx context.Context, p calendar.Period) ([]store.PostingSum, error) {
	return cache.Get(ctx, s.memo.cache, postedKey{s.memo.id, s.Revision, p}, func(ctx context.Context) ([]store.PostingSum, error) {
		var ids []int64
		for _, pr := range s.Projects() {
			ids = append(ids, pr.ID)
		}
		return s.store.PostingSums(ctx, ids, int(p))
	})
}
