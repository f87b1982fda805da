package earned

import (
	"fmt"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
)

// Series is cumulative money by period, from its first period on. After its
// end the last value holds, before it zero does.
type Series struct {
	First calendar.Period
	Cum   []int64
}

// At gives the cumulative value at the end of a period.
func (s Series) At(p calendar.Period) int64 {
	if len(s.Cum) == 0 || p < s.First {
		return 0
	}
	return s.Cum[min(int(p-s.First), len(s.Cum)-1)]
}

// Total gives the last cumulative value.
func (s Series) Total() int64 {
	if len(s.Cum) == 0 {
		return 0
	}
	return s.Cum[len(s.Cum)-1]
}

// Money holds the cost figures of one project in one currency: each cell
// converted and rounded by itself, then summed. A Why that is not empty says
// why the figure beside it is not known.
type Money struct {
	*Progress
	Currency money.Currency

	Plan       Series // cumulative PV; its total is BAC
	PlanWhy    string
	FromPlan   bool // from plan cells; else spread from budgets
	actual     Series
	accrual    map[calendar.Period]int64
	ActualWhy  string
	ToGo       int64 // forecast cells after the period
	toGo       Series
	HasToGo    bool // there are such cells
	ToGoWhy    string
	OnOrder    int64
	OnOrderWhy string
	Forecast   *portfolio.Version // in force, or nil
	Commitment *portfolio.Version // in force, or nil
}

// NewMoney sums a project's cells in a currency.
func NewMoney(p *Progress, currency money.Currency) *Money {
	m := &Money{Progress: p, Currency: currency, accrual: make(map[calendar.Period]int64)}
	m.plan()
	m.booked()
	m.Forecast = portfolio.VersionAt(p.Project.Forecast, int(p.Period))
	m.Commitment = portfolio.VersionAt(p.Project.Commitment, int(p.Period))
	m.toGo, m.HasToGo, m.ToGoWhy = m.stated(m.Forecast, "forecast", p.Period)
	m.ToGo = m.toGo.Total()
	var ordered Series
	ordered, _, m.OnOrderWhy = m.stated(m.Commitment, "commitment", 0)
	m.OnOrder = ordered.Total()
	return m
}

// CountsInPlan tells whether a line belongs to BAC and PV: cost, without
// management reserve.
func (m *Money) CountsInPlan(l *portfolio.Line) bool {
	return l.Flow == portfolio.Cost && !m.Office.ManagementReserve(l.CodeID)
}

// Converter gives the conversion of a line's cells in a period: statements of
// what is to come take no rate of after the view's period.
func (m *Money) Converter(from money.Currency, set money.Set, p calendar.Period, stated bool) (money.Converter, error) {
	if stated {
		p = min(p, m.Period)
	}
	return m.Office.Rates.Between(from, m.Currency, set, int(p), int(m.Period))
}

// each converts the cells of lines one by one and hands them to add.
func (m *Money) each(
	lines []portfolio.Line,
	set money.Set,
	stated bool,
	keep func(*portfolio.Line) bool,
	add func(calendar.Period, int64) bool,
) string {
	var known conversions
	for i := range lines {
		l := &lines[i]
		if !keep(l) {
			continue
		}
		if l.Currency == m.Currency {
			for j := range l.Cells {
				if c := &l.Cells[j]; !add(c.Period, c.Amount) {
					return tooLarge
				}
			}
			continue
		}
		if why := m.convert(l, set, stated, &known, add); why != "" {
			return why
		}
	}
	return ""
}

// addUp does what each does, into sums: cells in the money's currency, most there are, are
// added in one loop.
func (m *Money) addUp(s *sums, lines []portfolio.Line, set money.Set, stated bool, keep func(*portfolio.Line) bool) string {
	var known conversions
	for i := range lines {
		l := &lines[i]
		switch {
		case !keep(l):
		case l.Currency == m.Currency:
			if !s.addAll(l.Cells) {
				return tooLarge
			}
		default:
			if why := m.convert(l, set, stated, &known, s.add); why != "" {
				return why
			}
		}
	}
	return ""
}

// convert converts the cells of a line one by one and hands them to add.
func (m *Money) convert(
	l *portfolio.Line, set money.Set, stated bool, known *conversions, add func(calendar.Period, int64) bool,
) string {
	if known.from != l.Currency {
		*known = conversions{from: l.Currency}
	}
	for j := range l.Cells {
		c := &l.Cells[j]
		conv := known.has(c.Period)
		if conv == nil {
			made, err := m.Converter(l.Currency, set, c.Period, stated)
			if err != nil {
				return err.Error()
			}
			conv = known.put(c.Period, made)
		}
		n, err := conv.Convert(c.Amount)
		if err != nil || !add(c.Period, n) {
			return tooLarge
		}
	}
	return ""
}

// conversions keep those from one currency by period: lines have the same periods
// again and again.
type conversions struct {
	from  money.Currency
	first calendar.Period
	list  []money.Converter
	made  []bool
}

// has gives the conversion of a period, nil where it is not kept.
func (k *conversions) has(p calendar.Period) *money.Converter {
	if i := int(p - k.first); i >= 0 && i < len(k.list) && k.made[i] {
		return &k.list[i]
	}
	return nil
}

// put keeps a conversion where its period is near the first that was met.
func (k *conversions) put(p calendar.Period, c money.Converter) *money.Converter {
	const room = 120
	if k.list == nil {
		k.first, k.list, k.made = p-room/2, make([]money.Converter, room), make([]bool, room)
	}
	if i := int(p - k.first); i >= 0 && i < len(k.list) {
		k.list[i], k.made[i] = c, true
		return &k.list[i]
	}
	return &c
}

const tooLarge = "its sum is beyond 64 bits"

func isCost(l *portfolio.Line) bool { return l.Flow == portfolio.Cost }

// sums collects amounts by period, and makes a series of them: those after one period, and
// through another where there is one.
type sums struct {
	after, through calendar.Period
	first          calendar.Period
	by             []int64
	any            bool // one was in time
}

func (s *sums) add(p calendar.Period, n int64) bool {
	if p <= s.after || s.through != 0 && p > s.through {
		return true
	}
	s.any = true
	if i := int(p - s.first); i >= 0 && i < len(s.by) {
		t, ok := money.Add(s.by[i], n)
		s.by[i] = t
		return ok
	}
	return s.grow(p, n)
}

func (s *sums) addAll(cells []portfolio.Cell) bool {
	for i := range cells {
		if c := &cells[i]; !s.add(c.Period, c.Amount) {
			return false
		}
	}
	return true
}

// grow adds an amount of a period that there is no room for yet.
func (s *sums) grow(p calendar.Period, n int64) bool {
	switch {
	case s.by == nil:
		s.first, s.by = p, make([]int64, 1, 64)
	case p < s.first:
		s.by = append(make([]int64, s.first-p, len(s.by)+int(s.first-p)), s.by...)
		s.first = p
	}
	for int(p-s.first) >= len(s.by) {
		s.by = append(s.by, 0)
	}
	t, ok := money.Add(s.by[p-s.first], n)
	s.by[p-s.first] = t
	return ok
}

func (s *sums) series() (Series, bool) {
	var t int64
	for i, n := range s.by {
		var ok bool
		if t, ok = money.Add(t, n); !ok {
			return Series{}, false
		}
		s.by[i] = t
	}
	return Series{First: s.first, Cum: s.by}, true
}

func (m *Money) plan() {
	var s sums
	switch {
	case m.View.Plan != nil:
		m.FromPlan = true
		m.PlanWhy = m.addUp(&s, m.View.Plan.Lines, money.PlanRates, false, m.CountsInPlan)
	case m.ByBudget:
		m.PlanWhy = m.addUp(&s, m.SpreadBudgets(), money.PlanRates, false, isCost)
	default:
		m.PlanWhy = "it has neither plan amounts nor budgets"
		return
	}
	var ok bool
	if m.Plan, ok = s.series(); !ok {
		m.PlanWhy = tooLarge
	}
}

// SpreadBudgets spreads the budget of each leaf evenly over its baseline
// working days: its cumulative share at a period's end is budget × working days
// so far ÷ all, rounded half to even, and a cell is the difference of two. Days
// outside the office's own list of periods count in its first or last one.
func (m *Progress) SpreadBudgets() []portfolio.Line {
	var out []portfolio.Line
	periods := m.Office.Periods
	for _, leaf := range m.Leaves {
		r := m.Row(leaf.Activity)
		if leaf.Weight == 0 || r == nil || r.Start == 0 || r.Finish == 0 {
			continue
		}
		l := portfolio.Line{
			Flow:     portfolio.Cost,
			Activity: m.Activities[leaf.Activity].Code,
			Currency: m.Project.Currency,
		}
		days := m.Cal.Duration(r.Start, r.Finish)
		var before int64
		for p, last := periods.Near(r.Start), periods.Near(r.Finish); p != 0 && p <= last; p++ {
			cum := leaf.Weight
			if p < last && days > 0 {
				sofar := m.Cal.Duration(r.Start, periods.Last(p))
				cum, _ = money.MulDiv(leaf.Weight, int64(sofar), int64(days)) // no larger than the budget
			} else if p < last {
				cum = 0
			}
			l.Cells = append(l.Cells, portfolio.Cell{Period: p, Amount: cum - before, Source: r.Source})
			before = cum
		}
		out = append(out, l)
	}
	return out
}

func (m *Money) booked() {
	s := sums{through: m.Period}
	for _, lines := range [][]portfolio.Line{m.Actual, m.Ledger, m.Elapsed} {
		if m.ActualWhy = m.addUp(&s, lines, money.PeriodRates, false, isCost); m.ActualWhy != "" {
			return
		}
	}
	m.ActualWhy = m.each(m.Accrual, money.PeriodRates, false, isCost, func(p calendar.Period, n int64) bool {
		t, ok := money.Add(m.accrual[p], n)
		m.accrual[p] = t
		return ok
	})
	var ok bool
	if m.actual, ok = s.series(); !ok {
		m.ActualWhy = tooLarge
	}
}

// stated sums the cells of a version that come after a period.
func (m *Money) stated(v *portfolio.Version, kind string, after calendar.Period) (sum Series, any bool, why string) {
	if v == nil {
		return Series{}, false, fmt.Sprintf("no %s was stated up to this period", kind)
	}
	s := sums{after: after}
	if why := m.addUp(&s, v.Lines, money.PeriodRates, true, isCost); why != "" {
		return Series{}, s.any, why
	}
	sum, ok := s.series()
	if !ok {
		return Series{}, s.any, tooLarge
	}
	return sum, s.any, ""
}

// AC gives the actual cost through a period no later than the view's: actual
// cells and postings through it, and the accruals of that period alone.
func (m *Money) AC(q calendar.Period) int64 { return m.actual.At(q) + m.accrual[q] }

// Passed gives what of AC is the plan of periods through q of which nothing is booked. Why says
// why it is not known, or "".
func (m *Money) Passed(q calendar.Period) (n int64, why string) {
	s := sums{through: q}
	why = m.addUp(&s, m.Elapsed, money.PeriodRates, false, isCost)
	out, ok := s.series()
	if !ok {
		why = tooLarge
	}
	return out.Total(), why
}

// ACParts splits AC into booked cost and accruals.
func (m *Money) ACParts(q calendar.Period) (booked, accrued int64) {
	return m.actual.At(q), m.accrual[q]
}

// Unconvertible names the currency without a rate that keeps the project out
// of totals in the money's currency, or "".
func (m *Money) Unconvertible() money.Currency {
	if m.Currency == m.Project.Currency || m.Office.Rates.Known(m.Project.Currency) {
		return ""
	}
	return m.Project.Currency
}
