// Package exact sums fractions without loss: by denominator first, as one
// fraction at the end.
package exact

import "math/big"

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
	r := new(big.Rat)
	for i, den := range s.dens {
		n := new(big.Int).Add(&s.nums[i], big.NewInt(s.fast[i]))
		r.Add(r, new(big.Rat).SetFrac(n, big.NewInt(den)))
	}
	return r.Quo(r, new(big.Rat).SetInt(total))
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
