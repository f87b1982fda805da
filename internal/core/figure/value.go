// Package figure is the catalogue: every figure defined once, by a name, a
// unit, its formula in words, its inputs, its source and its function. Readings,
// trails and the documentation are all made from the entries.
package figure

import (
	"math/big"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/exact"
	"turret/internal/core/money"
)

// Unit is what a value is counted in.
type Unit uint8

// The units: minor units of the evaluation's currency, shares and quotients,
// numbers of periods, days, working days, plain counts, and sizes of backlog items.
const (
	Money Unit = iota
	Ratio
	Periods
	Day
	Workdays
	Count
	Size
)

func (u Unit) String() string {
	return [...]string{"money", "ratio", "periods", "date", "working days", "count", "size"}[u]
}

// Value is a figure, or the reason why it is not known.
type Value struct {
	Unit  Unit
	Known bool
	N     int64       // minor units, day number, working days or count
	R     exact.Ratio // ratio, periods or size
	Why   string      // where it is not known
}

// Unknown is a figure that cannot be known, with the reason.
func Unknown(u Unit, why string) Value { return Value{Unit: u, Why: why} }

// Whole is a figure in whole units.
func Whole(u Unit, n int64) Value { return Value{Unit: u, Known: true, N: n} }

// Exact is a ratio or a number of periods.
func Exact(u Unit, r exact.Ratio) Value { return Value{Unit: u, Known: true, R: r} }

// Ratio gives any known value as an exact fraction.
func (v Value) Ratio() exact.Ratio {
	if v.R.Is() {
		return v.R
	}
	return exact.Whole(v.N)
}

// Rat gives the same for who computes with fractions of the standard library.
func (v Value) Rat() *big.Rat { return v.Ratio().Rat() }

// Equal tells whether two values are the same figure.
func (v Value) Equal(w Value) bool {
	if v.Known != w.Known || v.Unit != w.Unit {
		return false
	}
	return !v.Known || v.Ratio().Cmp(w.Ratio()) == 0
}

// Text writes a known value without any locale: money in major units, ratios
// and periods with six decimals rounded half to even, dates in ISO form. An
// unknown value is "".
func (v Value) Text(c money.Currency) string {
	if !v.Known {
		return ""
	}
	switch v.Unit {
	case Money:
		return money.Format(v.N, c)
	case Ratio, Periods:
		return Decimals(v.R, 6)
	case Size:
		return TrimDecimals(Decimals(v.R, 6))
	case Day:
		return calendar.Date(v.N).String()
	default:
		return money.FormatScaled(v.N, 0)
	}
}

// Decimals writes an exact fraction with a number of decimals, half to even.
func Decimals(r exact.Ratio, digits int) string {
	n, ok := r.Mul(exact.Whole(powers[digits])).Round()
	if !ok {
		return r.Rat().FloatString(digits)
	}
	return money.FormatScaled(n, digits)
}

// powers are those of ten that decimals are written with.
var powers = [...]int64{1, 10, 100, 1e3, 1e4, 1e5, 1e6, 1e7, 1e8, 1e9}

// TrimDecimals drops trailing zeros and a trailing point.
func TrimDecimals(s string) string {
	if !strings.Contains(s, ".") {
		return s
	}
	return strings.TrimRight(strings.TrimRight(s, "0"), ".")
}
