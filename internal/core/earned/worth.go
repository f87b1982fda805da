package earned

import (
	"math/big"
	"slices"

	"github.com/shopspring/decimal"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
)

// Net is what the plan brings in each period: income and benefit less cost, management reserve
// left out. Why tells why it is not known: without any income or benefit nothing is brought.
func (m *Money) Net() (net map[calendar.Period]int64, why string) {
	if m.View.Plan == nil {
		return nil, "it has no plan amounts"
	}
	brings := func(l *portfolio.Line) bool { return l.Flow != portfolio.Cost }
	if !slices.ContainsFunc(m.View.Plan.Lines, func(l portfolio.Line) bool { return brings(&l) && len(l.Cells) > 0 }) {
		return nil, "no income or benefit is planned"
	}
	net = make(map[calendar.Period]int64)
	add := func(sign int64, keep func(*portfolio.Line) bool) string {
		return m.each(m.View.Plan.Lines, money.PlanRates, false, keep, func(p calendar.Period, n int64) bool {
			t, ok := money.Add(net[p], sign*n)
			net[p] = t
			return ok
		})
	}
	if why = add(-1, m.CountsInPlan); why != "" {
		return nil, why
	}
	if why = add(1, brings); why != "" {
		return nil, why
	}
	return net, ""
}

// digits are those of a discounted amount before it is rounded to minor units.
const digits = 30

// Present is what a plan's net is worth on the last day of a period, at a yearly rate in
// millionths of a percent: each amount over (1 + rate)^(days from that day to its period's
// last ÷ 365), rounded once.
func Present(net map[calendar.Period]int64, rate int64, at calendar.Period, ps *calendar.Periods) (int64, bool) {
	year := decimal.NewFromInt(365)
	base := decimal.NewFromInt(1).Add(decimal.New(rate, -portfolio.QuantityScale-2))
	sum := decimal.Zero
	for p, n := range net {
		days := decimal.NewFromInt(int64(ps.Last(p) - ps.Last(at)))
		factor, err := base.PowWithPrecision(days.DivRound(year, digits), digits)
		if err != nil || factor.IsZero() {
			return 0, false
		}
		sum = sum.Add(decimal.NewFromInt(n).DivRound(factor, digits))
	}
	exact, ok := new(big.Rat).SetString(sum.String())
	if !ok {
		return 0, false
	}
	out, err := money.Round(exact)
	return out, err == nil
}

// PaidBack is the first period through which a plan has brought in what it has cost by then;
// zero where it never does. Before its first amount it has cost nothing.
func PaidBack(net map[calendar.Period]int64) calendar.Period {
	var first, last calendar.Period
	for p := range net {
		if first == 0 || p < first {
			first = p
		}
		last = max(last, p)
	}
	var cum int64
	for p := first; p != 0 && p <= last; p++ {
		if cum += net[p]; cum >= 0 {
			return p
		}
	}
	return 0
}
