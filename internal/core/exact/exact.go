// Package exact sums fractions without loss: by denominator first, as one
// fraction at the end.
package exact

import (
	"math"
	"math/big"
	"math/bits"
)

// Sum adds weighted fractions. The zero value is an empty sum.
type Sum struct{ terms []term }

// term is what was added over one denominator: fast and, where that does not hold it,
// more.
type term struct {
	den, fast int64
	more      *big.Int
}

// Add adds weight × num ÷ den; den is above zero.
func (s *Sum) Add(weight, num, den int64) {
	if weight == 0 || num == 0 {
		return
	}
	t := s.over(den)
	if n, ok := times(weight, num); ok {
		if sum := t.fast + n; (sum > t.fast) == (n > 0) {
			t.fast = sum
			return
		}
	}
	if t.more == nil {
		t.more = new(big.Int)
	}
	t.more.Add(t.more, new(big.Int).Mul(big.NewInt(weight), big.NewInt(num)))
}

// over is the term of a denominator.
func (s *Sum) over(den int64) *term {
	for i := range s.terms {
		if s.terms[i].den == den {
			return &s.terms[i]
		}
	}
	if s.terms == nil {
		const usual = 8 // denominators of a project: percents, units, steps
		s.terms = make([]term, 0, usual)
	}
	s.terms = append(s.terms, term{den: den})
	return &s.terms[len(s.terms)-1]
}

// Over gives the sum divided by a whole number, which is not zero.
func (s *Sum) Over(total int64) Ratio {
	if num, den, ok := s.small(); ok {
		return Of(num, den).Quo(Whole(total))
	}
	r := new(big.Rat)
	for _, t := range s.terms {
		n := big.NewInt(t.fast)
		if t.more != nil {
			n.Add(n, t.more)
		}
		r.Add(r, new(big.Rat).SetFrac(n, big.NewInt(t.den)))
	}
	return FromRat(r.Quo(r, new(big.Rat).SetInt64(total)))
}

// small gives the sum as one fraction of whole numbers; ok is false where one does
// not fit.
func (s *Sum) small() (num, den int64, ok bool) {
	den = 1
	for _, t := range s.terms {
		if t.more != nil && t.more.Sign() != 0 {
			return 0, 0, false
		}
		g := gcd(den, t.den)
		a, ok1 := times(num, t.den/g)
		b, ok2 := times(t.fast, den/g)
		l, ok3 := times(den, t.den/g)
		if !ok1 || !ok2 || !ok3 || a > 0 && b > math.MaxInt64-a || a < 0 && b < math.MinInt64-a {
			return 0, 0, false
		}
		num, den = a+b, l
		if g := gcd(num, den); g > 1 {
			num, den = num/g, den/g
		}
	}
	return num, den, true
}

// times multiplies; ok is false where the product does not fit.
func times(a, b int64) (n int64, ok bool) {
	high, low := bits.Mul64(size(a), size(b))
	if (a < 0) != (b < 0) {
		return -int64(low), high == 0 && low <= 1<<63
	}
	return int64(low), high == 0 && low <= math.MaxInt64
}

// gcd gives the greatest common divisor, at least 1; where it is beyond 64 bits, of
// the least number and itself or zero, 1.
func gcd(a, b int64) int64 {
	x, y := size(a), size(b)
	for y != 0 {
		x, y = y, x%y
	}
	if x == 0 || x > math.MaxInt64 {
		return 1
	}
	return int64(x)
}
