package earned

import (
	"cmp"
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
)

// CodeSum is the cost of one project on one cost code, or below it, in minor
// units of the money's currency.
type CodeSum struct {
	Code    string // "": on no cost code
	Name    string
	Depth   int
	Parent  string
	Reserve bool  // management reserve: its plan is not in BAC
	Plan    int64 // of the baseline in force
	Spent   int64 // as AC
	OnOrder int64
	ToGo    int64 // forecast cells after the period
}

// ByCode sums the project's cost by cost code, following the office's tree:
// each node holds its own cells and those of the nodes below it, nodes without
// any are left out. The sums of the roots that are not management reserve are
// BAC, AC, what is on order and what is still to come. The text says why they
// are not known, or is "".
func (m *Money) ByCode() ([]CodeSum, string) {
	sums := make(map[int64]*CodeSum)
	at := func(l *portfolio.Line) *CodeSum {
		s := sums[l.CodeID]
		if s == nil {
			s = &CodeSum{Code: l.Code, Reserve: m.Office.ManagementReserve(l.CodeID)}
			sums[l.CodeID] = s
		}
		return s
	}
	add := func(lines []portfolio.Line, set money.Set, stated bool, keep func(calendar.Period) bool, to func(*CodeSum) *int64) string {
		for i := range lines {
			n := to(at(&lines[i]))
			why := m.each(lines[i:i+1], set, stated, isCost, func(p calendar.Period, v int64) bool {
				ok := true
				if keep(p) {
					*n, ok = money.Add(*n, v)
				}
				return ok
			})
			if why != "" {
				return why
			}
		}
		return ""
	}
	always := func(calendar.Period) bool { return true }
	spent := func(s *CodeSum) *int64 { return &s.Spent }
	booked := func(p calendar.Period) bool { return p <= m.Period }
	steps := []func() string{
		func() string {
			return add(
				PlanLines(m.Progress),
				money.PlanRates,
				false,
				always,
				func(s *CodeSum) *int64 { return &s.Plan },
			)
		},
		func() string { return add(m.Actual, money.PeriodRates, false, booked, spent) },
		func() string { return add(m.Ledger, money.PeriodRates, false, booked, spent) },
		func() string { return add(m.Elapsed, money.PeriodRates, false, booked, spent) },
		func() string {
			return add(
				m.Accrual,
				money.PeriodRates,
				false,
				func(p calendar.Period) bool { return p == m.Period },
				spent,
			)
		},
	}
	if m.Forecast != nil {
		steps = append(steps, func() string {
			return add(
				m.Forecast.Lines,
				money.PeriodRates,
				true,
				func(p calendar.Period) bool { return p > m.Period },
				func(s *CodeSum) *int64 { return &s.ToGo },
			)
		})
	}
	if m.Commitment != nil {
		steps = append(steps, func() string {
			return add(
				m.Commitment.Lines,
				money.PeriodRates,
				true,
				always,
				func(s *CodeSum) *int64 { return &s.OnOrder },
			)
		})
	}
	for _, step := range steps {
		if why := step(); why != "" {
			return nil, why
		}
	}
	return m.codeTree(sums)
}

// PlanLines gives the lines of the plan: its cells, else the budgets of the
// activities spread over their baseline; nil where there is neither.
func PlanLines(p *Progress) []portfolio.Line {
	switch {
	case p.View.Plan != nil:
		return p.View.Plan.Lines
	case p.ByBudget:
		return p.SpreadBudgets()
	}
	return nil
}

// codeTree adds sums up the tree and lists it from the roots.
func (m *Money) codeTree(sums map[int64]*CodeSum) ([]CodeSum, string) {
	total := make(map[int64]*CodeSum)
	below := make(map[int64][]int64)
	var ensure func(id int64, depth int) *CodeSum
	ensure = func(id int64, depth int) *CodeSum {
		if s := total[id]; s != nil {
			return s
		}
		c := m.Office.Codes[id]
		s := &CodeSum{Code: c.Code, Name: c.Name, Reserve: m.Office.ManagementReserve(id)}
		total[id] = s
		if _, ok := m.Office.Codes[c.Parent]; ok && c.Parent != id && depth < len(m.Office.Codes) {
			s.Parent = ensure(c.Parent, depth+1).Code
			below[c.Parent] = append(below[c.Parent], id)
		} else {
			below[0] = append(below[0], id)
		}
		return s
	}
	for id, own := range sums {
		s := ensure(id, 0)
		if _, ok := m.Office.Codes[id]; !ok {
			s.Code = own.Code
		}
		for n := 0; ; n++ { // the node and all above it
			for _, x := range [...]struct {
				to *int64
				n  int64
			}{{&s.Plan, own.Plan}, {&s.Spent, own.Spent}, {&s.OnOrder, own.OnOrder}, {&s.ToGo, own.ToGo}} {
				v, ok := money.Add(*x.to, x.n)
				if !ok {
					return nil, tooLarge
				}
				*x.to = v
			}
			c, ok := m.Office.Codes[id]
			if _, up := m.Office.Codes[c.Parent]; !ok || !up || c.Parent == id || n > len(m.Office.Codes) {
				break
			}
			id = c.Parent
			s = total[id]
		}
	}
	var out []CodeSum
	var walk func(id int64, depth int)
	walk = func(id int64, depth int) {
		list := below[id]
		slices.SortFunc(list, func(a, b int64) int { return cmp.Compare(total[a].Code, total[b].Code) })
		for _, k := range list {
			s := total[k]
			s.Depth = depth
			out = append(out, *s)
			if k != 0 {
				walk(k, depth+1)
			}
		}
	}
	walk(0, 0)
	return out, ""
}

// ToGoBy gives what is still to come, as stated, cumulative from the period
// after this one; the text says why it is not known, or is "".
func (m *Money) ToGoBy() (Series, string) {
	if m.ToGoWhy != "" {
		return Series{}, m.ToGoWhy
	}
	var s sums
	s.add(m.Period+1, 0)
	why := m.each(m.Forecast.Lines, money.PeriodRates, true, isCost, func(p calendar.Period, n int64) bool {
		return p <= m.Period || s.add(p, n)
	})
	out, ok := s.series()
	if !ok {
		why = tooLarge
	}
	return out, why
}

// Span gives the first and last period of the plan, the cost booked and the
// forecast in force; zero where there is none of them.
func (m *Money) Span() (first, last calendar.Period) {
	see := func(p calendar.Period) {
		if first == 0 || p < first {
			first = p
		}
		last = max(last, p)
	}
	for _, s := range [...]Series{m.Plan, m.actual} {
		if len(s.Cum) > 0 {
			see(s.First)
			see(s.First + calendar.Period(len(s.Cum)) - 1)
		}
	}
	if m.Forecast != nil {
		for i := range m.Forecast.Lines {
			for _, c := range m.Forecast.Lines[i].Cells {
				if c.Amount != 0 {
					see(c.Period)
				}
			}
		}
	}
	return first, last
}
