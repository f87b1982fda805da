package book

import (
	"context"
	"fmt"

	"turret/internal/book/cache"
	"turret/internal/core/calendar"
	"turret/internal/core/figure"
	"turret/internal/core/finding"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
	"turret/internal/store"
	"turret/internal/store/format"
)

// judge is what the figures of one period are checked and rated by.
type judge struct {
	set     *standing.Set
	checks  []finding.Setting
	own     []finding.Own
	before  map[string]map[string]calendar.Period // since when, by project and finding, as the period before was closed
	changed map[int64][]store.PlanChange          // plans that are others than when it was closed, by project
}

// judge gives what holds for a period.
func (s *Snapshot) judge(ctx context.Context, p calendar.Period) (*judge, error) {
	return cache.Get(ctx, s.memo.cache, judgeKey{s.memo.id, p}, func(ctx context.Context) (*judge, error) {
		set, err := s.set(ctx, p)
		if err != nil {
			return nil, err
		}
		j := &judge{
			set:     set,
			checks:  s.Rules.Checks,
			own:     s.Rules.OwnAt(p),
			changed: make(map[int64][]store.PlanChange),
		}
		cut, ok := s.Cuts[p-1]
		if !ok {
			return j, nil
		}
		if j.before, err = s.since(ctx, cut); err != nil {
			return nil, err
		}
		list, err := s.store.PlansChanged(ctx, cut.Batch, s.Revision)
		if err != nil {
			return nil, err
		}
		for _, c := range append(list, s.pending...) {
			j.changed[c.Project] = append(j.changed[c.Project], c)
		}
		return j, nil
	})
}

// set gives the rule set of a period.
func (s *Snapshot) set(ctx context.Context, p calendar.Period) (*standing.Set, error) {
	return cache.Get(ctx, s.memo.cache, setKey{s.memo.judging, p}, func(context.Context) (*standing.Set, error) {
		return s.Rules.At(p), nil
	})
}

// check runs the checks, and tells since when each finding is there.
func (j *judge) check(project string, own *figure.Eval, outside finding.Outside) []finding.Finding {
	list := finding.Run(own, j.set, j.checks, j.own, outside)
	before := j.before[project]
	for i := range list {
		if since, ok := before[list[i].Key()]; ok {
			list[i].Since = since
		}
	}
	return list
}

// outside reads what checks need and the project does not hold.
func (j *judge) outside(
	ctx context.Context,
	s *Snapshot,
	pr *portfolio.Project,
	p calendar.Period,
) (out finding.Outside, err error) {
	if len(pr.Ledger) > 0 {
		list, err := s.twice(ctx, pr, p)
		if err != nil {
			return out, err
		}
		for _, t := range list {
			t.Code = s.Office.Codes[t.CodeID].Code
			out.Twice = append(out.Twice, t)
		}
	}
	seen := make(map[portfolio.Part]bool)
	for _, c := range j.changed[pr.ID] {
		if seen[c.Part] {
			continue // the earliest tells what the closed period had
		}
		if b := pr.Baseline(int(c.Version)); b != nil && b.Number > 1 && b.Approved > s.Office.Periods.Last(p-1) {
			continue // no closed period went by it
		}
		seen[c.Part] = true
		err := s.bodies(ctx, []int64{c.Before}, func(_ int64, body []byte) error {
			if c.Kind == portfolio.PlanPart {
				lines, err := format.DecodeLines(body)
				out.PlanWas = append(out.PlanWas, portfolio.Version{Number: int(c.Version), Lines: lines})
				return err
			}
			at := make(map[int64]int, len(pr.Activities))
			for i := range pr.Activities {
				at[pr.Activities[i].ID] = i
			}
			b, err := baselineRows(body, func(id int64) int {
				if i, ok := at[id]; ok {
					return i
				}
				return -1
			})
			out.BaselineWas = append(out.BaselineWas, portfolio.Baseline{Number: int(c.Version), Rows: b})
			return err
		})
		if err != nil {
			return out, fmt.Errorf("project %s: %w", pr.Code, err)
		}
	}
	return out, nil
}

// since gives, of a cut, since when each finding of each project was there.
func (s *Snapshot) since(ctx context.Context, cut store.Cut) (map[string]map[string]calendar.Period, error) {
	c := s.memo.cache
	return cache.Get(
		ctx,
		c,
		sinceKey{cut.ID},
		func(ctx context.Context) (map[string]map[string]calendar.Period, error) {
			rs, err := onlyRead(ctx, c, s.store, cut.ID)
			if err != nil {
				return nil, err
			}
			m := make(map[string]map[string]calendar.Period)
			for _, r := range rs.Rows {
				if len(r.Findings) == 0 {
					continue
				}
				of := make(map[string]calendar.Period, len(r.Findings))
				for i := range r.Findings {
					of[r.Findings[i].Key()] = r.Findings[i].Since
				}
				m[r.Code] = of
			}
			return m, nil
		},
	)
}
