package exact

import (
	"cmp"
	"math"
	"math/big"
	"math/bits"
)

// Ratio is an exact fraction in lowest terms: two whole numbers of 64 bits where
// they fit, which takes no memory of its own, else a big one. The zero value is no
// fraction at all. A Ratio never changes.
type Ratio struct {
	num, den int64    // den is above zero; zero where big holds it, or nothing does
	big      *big.Rat // never changed
}

// Of gives num ÷ den; den is not zero.
func Of(num, den int64) Ratio {
	if num == math.MinInt64 || den == math.MinInt64 {
		return FromRat(new(big.Rat).SetFrac64(num, den))
	}
	if den < 0 {
		num, den = -num, -den
	}
	g := gcd(num, den)
	return Ratio{num: num / g, den: den / g}
}

// Whole gives n ÷ 1.
func Whole(n int64) Ratio { return Ratio{num: n, den: 1} }

// FromRat gives a fraction of the standard library; none where it is nil.
func FromRat(r *big.Rat) Ratio {
	switch {
	case r == nil:
		return Ratio{}
	case r.Num().IsInt64() && r.Denom().IsInt64():
		return Ratio{num: r.Num().Int64(), den: r.Denom().Int64()}
	}
	return Ratio{big: new(big.Rat).Set(r)}
}

// Is tells whether there is a fraction.
func (r Ratio) Is() bool { return r.den != 0 || r.big != nil }

// Rat gives the fraction as one of the standard library, which is the caller's
// own; nil where there is none.
func (r Ratio) Rat() *big.Rat {
	switch {
	case r.big != nil:
		return new(big.Rat).Set(r.big)
	case r.den == 0:
		return nil
	}
	return big.NewRat(r.num, r.den)
}

// Sign gives −1, 0 or 1.
func (r Ratio) Sign() int {
	switch {
	case r.big != nil:
		return r.big.Sign()
	case r.num < 0:
		return -1
	case r.num > 0:
		return 1
	}
	return 0
}

// Cmp compares r and s: −1, 0 or 1.
func (r Ratio) Cmp(s Ratio) int {
	if r.big != nil || s.big != nil {
		return r.Rat().Cmp(s.Rat())
	}
	a, b := r.Sign(), s.Sign()
	if a != b {
		return cmp.Compare(a, b)
	}
	high, low := bits.Mul64(size(r.num), uint64(s.den))
	otherHigh, otherLow := bits.Mul64(size(s.num), uint64(r.den))
	return a * cmp.Or(cmp.Compare(high, otherHigh), cmp.Compare(low, otherLow))
}

// Add gives r + s.
func (r Ratio) Add(s Ratio) Ratio {
	if r.den != 0 && s.den != 0 {
		g := gcd(r.den, s.den)
		a, ok1 := times(r.num, s.den/g)
		b, ok2 := times(s.num, r.den/g)
		den, ok3 := times(r.den, s.den/g)
		if ok1 && ok2 && ok3 && (b <= 0 || a <= math.MaxInt64-b) && (b >= 0 || a >= math.MinInt64-b) {
			return Of(a+b, den)
		}
	}
	return FromRat(new(big.Rat).Add(r.Rat(), s.Rat()))
}

// Sub gives r − s.
func (r Ratio) Sub(s Ratio) Ratio { return r.Add(s.Neg()) }

// Neg gives −r.
func (r Ratio) Neg() Ratio {
	if r.den != 0 && r.num != math.MinInt64 {
		return Ratio{num: -r.num, den: r.den}
	}
	return FromRat(new(big.Rat).Neg(r.Rat()))
}

// Abs gives r without its sign.
func (r Ratio) Abs() Ratio {
	if r.Sign() < 0 {
		return r.Neg()
	}
	return r
}

// Mul gives r × s.
func (r Ratio) Mul(s Ratio) Ratio {
	if r.den != 0 && s.den != 0 {
		g, h := gcd(r.num, s.den), gcd(s.num, r.den)
		num, ok1 := times(r.num/g, s.num/h)
		den, ok2 := times(r.den/h, s.den/g)
		if ok1 && ok2 {
			return Ratio{num: num, den: den}
		}
	}
	return FromRat(new(big.Rat).Mul(r.Rat(), s.Rat()))
}

// Quo gives r ÷ s; s is not zero.
func (r Ratio) Quo(s Ratio) Ratio {
	switch {
	case s.den == 0 || s.num == math.MinInt64:
		return FromRat(new(big.Rat).Quo(r.Rat(), s.Rat()))
	case s.num < 0:
		return r.Mul(Ratio{num: -s.den, den: -s.num})
	}
	return r.Mul(Ratio{num: s.den, den: s.num})
}

// Round gives the nearest whole number, half to even; ok is false where it leaves
// 64 bits.
func (r Ratio) Round() (n int64, ok bool) {
	if r.big != nil {
		q, m := new(big.Int).DivMod(r.big.Num(), r.big.Denom(), new(big.Int))
		if c := m.Lsh(m, 1).Cmp(r.big.Denom()); c > 0 || c == 0 && q.Bit(0) == 1 {
			q.Add(q, big.NewInt(1))
		}
		return q.Int64(), q.IsInt64()
	}
	q, m := r.num/r.den, size(r.num%r.den)
	if rest := uint64(r.den) - m; m > rest || m == rest && q&1 == 1 {
		q += int64(r.Sign())
	}
	return q, true
}

// IsInt tells whether r is a whole number.
func (r Ratio) IsInt() bool { return r.den == 1 || r.big != nil && r.big.IsInt() }

func size(n int64) uint64 {
	if n < 0 {
		return -uint64(n)
	}
	return uint64(n)
}
