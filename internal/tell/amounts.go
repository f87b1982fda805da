package tell

import (
	"turret/internal/core/exact"
	"turret/internal/core/figure"
	"turret/internal/core/money"
)

// Amounts writes the amounts of one sentence: all in one unit, millions where one of
// them reaches a tenth of a million, with as many digits as it takes to tell apart those
// that differ, and nothing from what is nearly nothing. Where none reaches a million and
// one digit is not enough, they are in whole units.
type Amounts struct {
	currency money.Currency
	unit     int64 // what one is: a million, or a whole unit
	digits   int
}

// mostDigits of millions: amounts that differ by less are written in whole units.
const mostDigits = 3

// AmountsOf chooses how the amounts of a sentence are written; those that are not known
// take no part.
func AmountsOf(c money.Currency, list ...figure.Value) Amounts {
	out, most := Amounts{currency: c, unit: 1}, 0
	for _, v := range list {
		if !v.Known {
			continue
		}
		switch thousands := perThousand(v.N, c).Abs(); {
		case thousands.Cmp(exact.Whole(1000)) >= 0:
			out.unit, out.digits, most = 1_000_000, 1, mostDigits
		case thousands.Cmp(exact.Whole(100)) >= 0:
			out.unit, out.digits, most = 1_000_000, 1, max(most, 1)
		}
	}
	for !out.apart(list) {
		switch {
		case out.unit == 1:
			out.digits = c.Exponent()
			return out
		case out.digits < most:
			out.digits++
		default:
			out.unit, out.digits = 1, 0
		}
	}
	return out
}

// apart tells whether amounts that differ are written differently.
func (a Amounts) apart(list []figure.Value) bool {
	seen := map[string]int64{a.number(0): 0}
	for _, v := range list {
		if !v.Known {
			continue
		}
		text := a.number(v.N)
		if n, ok := seen[text]; ok && n != v.N {
			return false
		}
		seen[text] = v.N
	}
	return true
}

func (a Amounts) number(n int64) string {
	return minus(figure.Decimals(perThousand(n, a.currency).Mul(exact.Whole(1000)).Quo(exact.Whole(a.unit)), a.digits))
}

// Write writes one of the amounts, such as €184.2 M.
func (a Amounts) Write(v figure.Value) string {
	if !v.Known {
		return Dash
	}
	symbol, text, tail := symbolOf(a.currency), a.number(v.N), ""
	if symbol == string(a.currency) {
		symbol += " "
	}
	if a.unit > 1 {
		tail = " M"
	}
	sign := ""
	if text[0] != '0' && v.N < 0 {
		sign, text = "−", text[len("−"):]
	}
	return sign + symbol + Amount(text, a.digits) + tail
}

// Of writes an amount of minor units.
func (a Amounts) Of(n int64) string { return a.Write(figure.Whole(figure.Money, n)) }

// Millions writes an amount that stands alone, as Amounts does: €184.2 M, €40,000.
func Millions(v figure.Value, c money.Currency) string {
	return AmountsOf(c, v).Write(v)
}
