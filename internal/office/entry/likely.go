package entry

import (
	"fmt"
	"math/big"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/gather"
	"turret/internal/record"
)

// unlikelyRate tells why a rate is not believed beside the one in force: it is that one
// turned round, or off by a power of ten. "" where it may be, and where someone said so.
func (p *plan) unlikelyRate(t *record.Kind, r *portfolio.Row) (why string) {
	k := record.Rates
	if t != k.Kind || p.opts.Trust || !k.Rate.Said(r) {
		return ""
	}
	c := money.Currency(k.Currency.Of(r))
	set := money.PeriodRates
	if k.Set.Or(r) == "plan" {
		set = money.PlanRates
	}
	at := int(k.Period.Of(r))
	rates := p.snap.Office.Rates
	if rates == nil || !rates.Known(c) {
		return ""
	}
	was, err := rates.At(c, set, at, at)
	is, err2 := money.ParseRate(k.Rate.Of(r))
	if err != nil || err2 != nil {
		return ""
	}
	before, ok1 := new(big.Rat).SetString(was.String())
	now, ok2 := new(big.Rat).SetString(is.String())
	if !ok1 || !ok2 || before.Sign() <= 0 || now.Sign() <= 0 {
		return ""
	}
	likely := new(big.Rat).Quo(now, before)
	turned := new(big.Rat).Mul(now, before)
	if within(likely, 1, 2) && !(within(turned, 1, 1.03) && !within(likely, 1, 1.08)) {
		return "" // it moved, and not by much
	}
	of := fmt.Sprintf("the rate %s of %s in %s", is, c, p.snap.Office.Periods.Code(calendar.Period(at)))
	if within(turned, 1, 1.25) {
		return fmt.Sprintf(
			"%s looks turned round: the last one is %s. State what one %s is worth in %s, or say that its column is %s; where it is right, say that it is to be trusted",
			of, was, c, p.snap.Office.Reporting, gather.AsInverse,
		)
	}
	for _, n := range [...]float64{10, 100, 1000} {
		if within(likely, n, 1.15) || within(new(big.Rat).Inv(likely), n, 1.15) {
			return fmt.Sprintf("%s is %.0f times more or less than the last one, %s; where it is right, say that it is to be trusted", of, n, was)
		}
	}
	return ""
}

// within tells whether a quotient is about a number, by a factor.
func within(q *big.Rat, about, factor float64) bool {
	f, _ := q.Float64()
	return f > about/factor && f < about*factor
}
