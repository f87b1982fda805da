package earned

import (
	"turret/internal/core/calendar"
	"turret/internal/core/money"
)

// Course is the cumulative cost as it was booked through the view's period, with that period's
// accruals, and as it is to go on: by the forecast in force, or, where none is stated, by the
// plan's cells of later periods. What is done goes on with nothing. Why tells why it is not
// known, or is "".
func (m *Money) Course(done bool) (course Series, why string) {
	var s sums
	if m.ActualWhy != "" {
		return Series{}, m.ActualWhy
	}
	for i, cum := range m.actual.Cum {
		n := cum
		if i > 0 {
			n -= m.actual.Cum[i-1]
		}
		s.add(m.actual.First+calendar.Period(i), n)
	}
	if !s.add(m.Period, m.accrual[m.Period]) {
		return Series{}, tooLarge
	}
	s.after = m.Period
	switch {
	case m.Forecast != nil:
		why = m.addUp(&s, m.Forecast.Lines, money.PeriodRates, true, isCost)
	case done:
	case m.View.Plan != nil:
		why = m.addUp(&s, m.View.Plan.Lines, money.PlanRates, false, m.CountsInPlan)
	case m.ByBudget:
		why = m.addUp(&s, m.SpreadBudgets(), money.PlanRates, false, isCost)
	default:
		why = "neither a forecast nor a plan tells how it goes on"
	}
	if why != "" {
		return Series{}, why
	}
	course, ok := s.series()
	if !ok {
		return Series{}, tooLarge
	}
	return course, ""
}

// Plus adds another course to this one.
func (s Series) Plus(t Series) (out Series, ok bool) {
	switch {
	case len(s.Cum) == 0:
		return t, true
	case len(t.Cum) == 0:
		return s, true
	}
	out.First = min(s.First, t.First)
	last := max(s.First+calendar.Period(len(s.Cum)), t.First+calendar.Period(len(t.Cum)))
	out.Cum = make([]int64, last-out.First)
	for i := range out.Cum {
		p := out.First + calendar.Period(i)
		if out.Cum[i], ok = money.Add(s.At(p), t.At(p)); !ok {
			return Series{}, false
		}
	}
	return out, true
}
