package record

import (
	"fmt"

	"turret/internal/core/money"
)

// Rates: what one unit of a currency is worth in the reporting currency.
var Rates = func() *ratesKind {
	k := &ratesKind{
		Kind: records("rates", "rate", "rate", "what one unit of a currency is worth in the reporting currency"),
	}
	k.Currency = k.currency("currency", "ISO 4217 code", Key)
	k.Period = k.period("period", "in force from this period", Key)
	k.Set = k.choice(
		"set",
		[]string{"plan", "period"},
		"plan rates are fixed by fiscal year",
		Key,
		Default("period"),
		As("rate_set"),
	)
	k.Rate = k.rate("rate", "above zero, at most 12 decimals")
	k.Refuse = k.refuse
	return k
}()

type ratesKind struct {
	*Kind
	Currency, Set, Rate TextCol
	Period              PeriodCol
}

func (k *ratesKind) refuse(r Run, x *Change) (column, why string) {
	switch {
	case !k.Rate.Said(x.After):
		return "rate", "a rate needs a value above zero"
	case money.Currency(k.Currency.Of(x.After)) == r.Reporting():
		return "currency", fmt.Sprintf("%s is the reporting currency, whose rate is always 1", r.Reporting())
	}
	return "", ""
}
