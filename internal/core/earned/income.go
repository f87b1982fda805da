package earned

import (
	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
)

// Income is what a project takes in, in the money's currency: each cell
// converted and rounded by itself.
type Income struct {
	Plan    int64  // all plan cells of income
	PlanWhy string // why it is not known, or ""
	Booked  int64  // through the period, with the period's accruals
	ToGo    int64  // forecast cells after the period; zero without a forecast
	Why     string // why none of it is known, or ""
}

// IsIncome tells whether a line is income.
func IsIncome(l *portfolio.Line) bool { return l.Flow == portfolio.Income }

// Income sums the cells of income. A project that never says any has none that
// could be known.
func (m *Money) Income() (out Income) {
	any := false
	sum := func(to *int64, lines []portfolio.Line, set money.Set, stated bool, keep func(calendar.Period) bool) {
		if out.Why != "" {
			return
		}
		out.Why = m.each(lines, set, stated, IsIncome, func(p calendar.Period, n int64) bool {
			any = true
			if !keep(p) {
				return true
			}
			var ok bool
			*to, ok = money.Add(*to, n)
			return ok
		})
	}
	upTo := func(p calendar.Period) bool { return p <= m.Period }
	out.PlanWhy = "no income is planned"
	if m.View.Plan != nil {
		sum(&out.Plan, m.View.Plan.Lines, money.PlanRates, false, func(calendar.Period) bool { return true })
		if any {
			out.PlanWhy = ""
		}
	}
	sum(&out.Booked, m.Actual, money.PeriodRates, false, upTo)
	sum(&out.Booked, m.Ledger, money.PeriodRates, false, upTo)
	sum(&out.Booked, m.Accrual, money.PeriodRates, false, func(p calendar.Period) bool { return p == m.Period })
	if m.Forecast != nil {
		sum(
			&out.ToGo,
			m.Forecast.Lines,
			money.PeriodRates,
			true,
			func(p calendar.Period) bool { return p > m.Period },
		)
	}
	if !any && out.Why == "" {
		out.Why = "it has no income"
	}
	return out
}
