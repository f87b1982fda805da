package amounts

import (
	"math/big"
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
)

// converter gives the conversion into the project's currency of an amount of some kind in a
// period, as its figures are made: plans at plan rates, all else at the rates of the period,
// and what is to come at none of after the period that is stated. An error is that there is no
// rate.
func (t *Table) converter(part portfolio.PartKind, from money.Currency, p calendar.Period) (money.Converter, error) {
	s, set := t.subject, money.PeriodRates
	switch part {
	case portfolio.PlanPart:
		set = money.PlanRates
	case portfolio.ForecastPart, portfolio.CommitmentPart:
		p = min(p, s.at)
	}
	return s.snap.Office.Rates.Between(from, t.Currency, set, int(p), int(s.at))
}

// own gives an amount in the project's currency; nothing where there is no rate.
func (t *Table) own(part portfolio.PartKind, from money.Currency, p calendar.Period, n int64) int64 {
	if from == t.Currency {
		return n
	}
	c, err := t.converter(part, from, p)
	if err != nil {
		return 0
	}
	out, err := c.Convert(n)
	if err != nil {
		return 0
	}
	return out
}

// Rates are what an amount of a line comes to in the project's currency, by column, minor units
// in minor units; nil where it is in that currency, and a nil rate where none is known.
func (t *Table) Rates(l *Line) (out []*big.Rat) {
	if l.currency == t.Currency {
		return nil
	}
	for i := range t.Columns {
		var rate *big.Rat
		if c, err := t.converter(t.subject.Part, l.currency, t.Columns[i].Period); err == nil {
			rate = c.Ratio()
		}
		out = append(out, rate)
	}
	return out
}

// Unrated are the currencies of lines for which no rate is known in some column: their amounts
// there are left out of the totals.
func (t *Table) Unrated() (out []money.Currency) {
	for i := range t.Lines {
		if l := &t.Lines[i]; slices.Contains(t.Rates(l), nil) && !slices.Contains(out, l.currency) {
			out = append(out, l.currency)
		}
	}
	return out
}
