package book

import (
	"context"
	"fmt"
	"sync"

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
	mu      sync.Mutex
	ends    map[*portfolio.Project][]portfolio.Status // of projects that others link to
}

// judge gives what holds for a period. The caller holds the memo's lock.
func (s *Snapshot) judge(ctx context.Context, p calendar.Period) (*judge, error) {
	if j := s.memo.judges[p]; j != nil && j.changed != nil {
		return j, nil
	}
	j := &judge{
		set:     s.set(p),
		checks:  s.Rules.Checks,
		own:     s.Rules.OwnAt(p),
		changed: make(map[int64][]store.PlanChange),
	}
	if cut, ok := s.Cuts[p-1]; ok {
		var err error
		if j.before, err = s.thawed.since(ctx, s.store, cut); err != nil {
			return nil, err
		}
		list, err := s.store.PlansChanged(ctx, cut.Batch, s.Revision)
		if err != nil {
			return nil, err
		}
		for _, c := range append(list, s.pending...) {
			j.changed[c.Project] = append(j.changed[c.Project], c)
		}
	}
	s.memo.judges[p] = j
	return j, nil
}

// set gives the rule set of a period.
func (s *Snapshot) set(p calendar.Period) *standing.Set {
	if j := s.memo.judges[p]; j != nil {
		return j.set
	}
	j := &judge{set: s.Rules.At(p)}
	s.memo.judges[p] = j
	return j.set
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
		list, err := s.memo.twices.of(ctx, s, pr, p)
		if err != nil {
			return out, err
		}
		for _, t := range list {
			t.Code = s.Office.Codes[t.CodeID].Code
			out.Twice = append(out.Twice, t)
		}
	}
	for _, l := range pr.Across {
		out.Ends = append(out.Ends, j.end(s, l, p))
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

// end tells what another project says of the other end of a link.
func (j *judge) end(s *Snapshot, l portfolio.Across, p calendar.Period) finding.End {
	other := s.Project(l.Other)
	if other == nil {
		return finding.End{}
	}
	j.mu.Lock()
	defer j.mu.Unlock()
	status, ok := j.ends[other]
	if !ok {
		if j.ends == nil {
			j.ends = make(map[*portfolio.Project][]portfolio.Status)
		}
		status = portfolio.At(s.Office, other, p, portfolio.Latest).StatusAt(p)
		j.ends[other] = status
	}
	for i := range other.Activities {
		if other.Activities[i].ID == l.Activity {
			return finding.End{Known: true, Status: status[i]}
		}
	}
	return finding.End{}
}

// linked gives projects that link to others a value of their own where one of
// those was touched, so that they are checked again.
func linked(byID map[int64]*portfolio.Project, touched func(code string) bool) {
	for id, p := range byID {
		for _, l := range p.Across {
			if touched(l.Other) {
				c := *p
				byID[id] = &c
				break
			}
		}
	}
}

// since gives, of a cut, since when each finding of each project was there.
func (t *thawed) since(
	ctx context.Context,
	st *store.Store,
	cut store.Cut,
) (map[string]map[string]calendar.Period, error) {
	t.mu.Lock()
	defer t.mu.Unlock()
	if m, ok := t.sinces[cut.ID]; ok {
		return m, nil
	}
	rs := t.readings[thawedKey{cut.ID, true}]
	if rs == nil {
		body, err := st.CutReadings(ctx, cut.ID)
		if err != nil {
			return nil, err
		}
		if rs, err = DecodeReadings(body, true); err != nil {
			return nil, fmt.Errorf("cut %d: %w", cut.ID, err)
		}
		t.marks[cut.ID] = MarksOf(rs)
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
	if len(t.sinces) > 1 { // that of the open period and one more
		clear(t.sinces)
	}
	t.sinces[cut.ID] = m
	return m, nil
}
