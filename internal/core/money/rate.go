package money

import (
	"errors"
	"fmt"
	"math"
	"math/big"
	"math/bits"
	"sort"
	"strings"
)

// Rate says how many units of the reporting currency one unit of another is
// worth: Coef × 10^-Scale. Rates are above zero.
type Rate struct {
	Coef  int64
	Scale int
}

// ErrNoRate tells that a currency has no rate at all.
var ErrNoRate = errors.New("no rate")

// One is the rate of the reporting currency.
var One = Rate{Coef: 1}

// ParseRate reads a canonical decimal number above zero with at most 12
// decimals.
func ParseRate(s string) (Rate, error) {
	scale := 0
	if _, part, ok := strings.Cut(s, "."); ok {
		part = strings.TrimRight(part, "0")
		scale = len(part)
	}
	if scale > 12 {
		return Rate{}, fmt.Errorf("%q has more than 12 decimals", s)
	}
	n, err := ParseScaled(s, scale)
	if err != nil {
		return Rate{}, err
	}
	if n <= 0 {
		return Rate{}, fmt.Errorf("%q is not above zero", s)
	}
	return Rate{n, scale}, nil
}

func (r Rate) String() string { return FormatScaled(r.Coef, r.Scale) }

// Set names one of the two sets of rates.
type Set uint8

// The sets: plan rates are fixed by fiscal year, period rates follow the market.
const (
	PeriodRates Set = iota
	PlanRates
)

func (s Set) String() string {
	if s == PlanRates {
		return "plan"
	}
	return "period"
}

// Rates holds both rate sets of an office, by currency and period ordinal.
type Rates struct {
	reporting Currency
	rates     map[Currency]*[2][]dated
}

type dated struct {
	period int
	rate   Rate
}

// NewRates gives an empty table of rates into the reporting currency.
func NewRates(reporting Currency) *Rates {
	return &Rates{reporting: reporting, rates: make(map[Currency]*[2][]dated)}
}

// Reporting is the currency that the rates lead to.
func (t *Rates) Reporting() Currency { return t.reporting }

// Put states the rate of a currency from a period on, replacing one stated for
// the same period.
func (t *Rates) Put(c Currency, set Set, period int, r Rate) {
	e := t.rates[c]
	if e == nil {
		e = new([2][]dated)
		t.rates[c] = e
	}
	list := e[set]
	i := sort.Search(len(list), func(i int) bool { return list[i].period >= period })
	if i < len(list) && list[i].period == period {
		list[i].rate = r
		return
	}
	list = append(list, dated{})
	copy(list[i+1:], list[i:])
	list[i] = dated{period, r}
	e[set] = list
}

// Known tells whether a currency can be converted at all.
func (t *Rates) Known(c Currency) bool {
	e := t.rates[c]
	return c == t.reporting || e != nil && len(e[0])+len(e[1]) > 0
}

// HasPlan tells whether a currency has plan rates, or needs none.
func (t *Rates) HasPlan(c Currency) bool {
	e := t.rates[c]
	return c == t.reporting || e != nil && len(e[PlanRates]) > 0
}

// At gives the rate in force in a period: the latest at or before it; before
// the first, the first. A currency without plan rates uses its period rates,
// taken no later than asOf; one with plan rates only uses those for both sets.
func (t *Rates) At(c Currency, set Set, period, asOf int) (Rate, error) {
	if c == t.reporting {
		return One, nil
	}
	e := t.rates[c]
	if e == nil {
		return Rate{}, fmt.Errorf("%w for %s", ErrNoRate, c)
	}
	list := e[set]
	if len(list) == 0 {
		list = e[1-set]
		period = min(period, asOf)
	}
	if len(list) == 0 {
		return Rate{}, fmt.Errorf("%w for %s", ErrNoRate, c)
	}
	i := sort.Search(len(list), func(i int) bool { return list[i].period > period })
	return list[max(i-1, 0)].rate, nil
}

// Converter turns minor units of one currency into those of another at one
// pair of rates. The zero value changes nothing.
type Converter struct {
	num, den uint64
	exact    *big.Rat // where num or den leave 64 bits
}

// Between gives the converter from one currency to another in a period.
func (t *Rates) Between(from, to Currency, set Set, period, asOf int) (Converter, error) {
	if from == to {
		return Converter{}, nil
	}
	a, err := t.At(from, set, period, asOf)
	if err != nil {
		return Converter{}, err
	}
	b, err := t.At(to, set, period, asOf)
	if err != nil {
		return Converter{}, err
	}
	return NewConverter(a, b, to.Exponent()-from.Exponent()), nil
}

// tens are the powers of ten that fit.
var tens = func() (t [20]uint64) {
	t[0] = 1
	for i := 1; i < len(t); i++ {
		t[i] = t[i-1] * 10
	}
	return t
}()

// NewConverter converts at from ÷ to; shift is the exponent of the target
// currency less that of the source.
func NewConverter(from, to Rate, shift int) Converter {
	up, down := max(to.Scale-from.Scale+shift, 0), max(from.Scale-to.Scale-shift, 0)
	if up < len(tens) && down < len(tens) {
		hn, num := bits.Mul64(uint64(from.Coef), tens[up])
		hd, den := bits.Mul64(uint64(to.Coef), tens[down])
		if hn == 0 && hd == 0 && den <= math.MaxInt64 {
			return Converter{num: num, den: den}
		}
	}
	r := new(big.Rat).SetFrac64(from.Coef, to.Coef)
	p := new(big.Int).Exp(big.NewInt(10), big.NewInt(int64(abs(to.Scale-from.Scale+shift))), nil)
	if to.Scale-from.Scale+shift >= 0 {
		r.Mul(r, new(big.Rat).SetInt(p))
	} else {
		r.Quo(r, new(big.Rat).SetInt(p))
	}
	if !r.Num().IsUint64() || !r.Denom().IsInt64() {
		return Converter{exact: r}
	}
	return Converter{num: r.Num().Uint64(), den: r.Denom().Uint64()}
}

// Ratio is what one minor unit comes to, before it is rounded.
func (c Converter) Ratio() *big.Rat {
	switch {
	case c.exact != nil:
		return new(big.Rat).Set(c.exact)
	case c.den == 0:
		return big.NewRat(1, 1)
	}
	return new(big.Rat).SetFrac(new(big.Int).SetUint64(c.num), new(big.Int).SetUint64(c.den))
}

// Convert gives the converted amount, rounded half to even, or ErrRange.
func (c Converter) Convert(n int64) (int64, error) {
	if c.exact != nil {
		return Round(new(big.Rat).Mul(c.exact, new(big.Rat).SetInt64(n)))
	}
	if c.den == 0 || n == 0 {
		return n, nil
	}
	q, ok := mulDiv(magnitude(n), c.num, c.den)
	if !ok || q > math.MaxInt64 {
		return 0, ErrRange
	}
	if n < 0 {
		return -int64(q), nil
	}
	return int64(q), nil
}

// mulDiv gives a × b ÷ den, half to even; ok is false where it leaves 64 bits.
func mulDiv(a, b, den uint64) (q uint64, ok bool) {
	hi, lo := bits.Mul64(a, b)
	if hi >= den {
		return 0, false
	}
	var rem uint64
	if hi == 0 { // the usual case, and the quicker division
		q, rem = lo/den, lo%den
	} else {
		q, rem = bits.Div64(hi, lo, den)
	}
	if rem > den-rem || rem == den-rem && q&1 == 1 {
		q++
		ok = q != 0
		return q, ok
	}
	return q, true
}

func abs(n int) int {
	if n < 0 {
		return -n
	}
	return n
}
