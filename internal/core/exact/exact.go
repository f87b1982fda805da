// Package exact sums fractions without loss: by denominator first, as one
// fraction at the end.
package exact

import (
	"math"
	"math/big"
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
	g := gcd(num, den)
	num, den = num/g, den/g
	i := 0
	for i < len(s.dens) && s.dens[i] != den {
		i++
	}
	if i == len(s.dens) {
		s.dens = append(s.dens, den)
		s.nums = append(s.nums, big.Int{})
		s.fast = append(s.fast, 0)
	}
	const safe = 1 << 31
	if weight < safe && weight > -safe && num < safe && num > -safe {
		if t := s.fast[i] + weight*num; t < 1<<62 && t > -1<<62 {
			s.fast[i] = t
			return
		}
	}
	s.nums[i].Add(&s.nums[i], new(big.Int).Mul(big.NewInt(weight), big.NewInt(num)))
}

// Over gives the sum divided by a whole number, which is not zero.
func (s *Sum) Over(total *big.Int) *big.Rat {
	if num, den, ok := s.small(); ok && total.IsInt64() && total.Sign() > 0 {
		g := gcd(num, total.Int64())
		if over := total.Int64() / g; den <= math.MaxInt64/over {
			return big.NewRat(num/g, den*over)
		}
	}
	r := new(big.Rat)
	for i, den := range s.dens {
		n := new(big.Int).Add(&s.nums[i], big.NewInt(s.fast[i]))
		r.Add(r, new(big.Rat).SetFrac(n, big.NewInt(den)))
	}
	return r.Quo(r, new(big.Rat).SetInt(total))
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
	n = a * b
	return n, a == 0 || n/a == b && (a != -1 || b != math.MinInt64)
}

func gcd(a, b int64) int64 {
	if a < 0 {
		a = -a
	}
	for b != 0 {
		a, b = b, a%b
	}
	return max(a, 1)
}
