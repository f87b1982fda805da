// Package exact sums fractions without loss: by denominator first, as one
// fraction at the end.
package exact

import (
	"math"
	"math/big"
	"math/bits"
)

// Sum adds weighted fractions. The zero value is an empty sum.
type Sum struct {
	dens []int64
	nums []big.Int
	fast []int64 // what is not yet in nums
}

// Add adds weight × num ÷ den; den is above zero.
func (s *Sum) Add(weight, num, den int64) {
	if weight == 0 || num == 0 {
		return
	}
	i := 0
	for i < len(s.dens) && s.dens[i] != den {
		i++
	}
	if i == len(s.dens) {
		s.dens = append(s.dens, den)
		s.nums = append(s.nums, big.Int{})
		s.fast = append(s.fast, 0)
	}
	if n, ok := times(weight, num); ok {
		if t := s.fast[i] + n; (t > s.fast[i]) == (n > 0) {
			s.fast[i] = t
			return
		}
	}
	s.nums[i].Add(&s.nums[i], new(big.Int).Mul(big.NewInt(weight), big.NewInt(num)))
}

// Over gives the sum divided by a whole number, which is not zero.
func (s *Sum) Over(total int64) Ratio {
	if num, den, ok := s.small(); ok {
		return Of(num, den).Quo(Whole(total))
	}
	r := new(big.Rat)
	for i, den := range s.dens {
		n := new(big.Int).Add(&s.nums[i], big.NewInt(s.fast[i]))
		r.Add(r, new(big.Rat).SetFrac(n, big.NewInt(den)))
	}
	return FromRat(r.Quo(r, new(big.Rat).SetInt64(total)))
}

// small gives the sum as one fraction of whole numbers; ok is false where one does
// not fit.
func (s *Sum) small() (num, den int64, ok bool) {
	den = 1
	for i, d := range s.dens {
		if s.nums[i].Sign() != 0 {
			return 0, 0, false
		}
		g := gcd(den, d)
		a, ok1 := times(num, d/g)
		b, ok2 := times(s.fast[i], den/g)
		l, ok3 := times(den, d/g)
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
