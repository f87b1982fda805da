// Package spread lays amounts over periods, exactly: what it gives back adds up to what it
// was given, to the minor unit. What rounding leaves goes by largest remainder, ties to the
// first. Cells stand in the order of their periods.
package spread

import (
	"errors"
	"math"
	"math/big"
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
)

// Errors of what cannot be laid out.
var (
	ErrNothing = errors.New("there is no amount here that it could follow")
	ErrRange   = errors.New("it is more than 64 bits of minor units hold")
)

// Steepest is how steep an S-curve can be; at 1 it is a straight line.
const Steepest = 5

// Even weighs n cells alike.
func Even(n int) []int64 {
	out := make([]int64, n)
	for i := range out {
		out[i] = 1
	}
	return out
}

// WorkingDays weighs each period by its working days on a calendar.
func WorkingDays(c *calendar.Calendar, periods *calendar.Periods, first calendar.Period, n int) []int64 {
	out := make([]int64, n)
	for i := range out {
		p := first + calendar.Period(i)
		out[i] = int64(c.Duration(periods.First(p), periods.Last(p)))
	}
	return out
}

// Curve weighs n cells along an S between two ends: slow, then fast about the middle, then
// slow again. Through the first half the share that is reached is ½(2x)^k, where x is the
// share of the cells and k how steep it is, and the second half mirrors the first; k is held
// within 1 and Steepest.
func Curve(n, steep int) []int64 {
	k := min(max(steep, 1), Steepest)
	reached := func(j int) int64 { // 2 n^k times the share that is reached after j cells
		if 2*j <= n {
			return power(2*j, k)
		}
		return 2*power(n, k) - power(2*(n-j), k)
	}
	out := make([]int64, n)
	for j := range out {
		out[j] = reached(j+1) - reached(j)
	}
	return out
}

func power(base, k int) int64 {
	out := int64(1)
	for range k {
		out *= int64(base)
	}
	return out
}

// By parts a total by weights of either sign, as long as they do not add up to zero. Cells
// without weight get nothing. The error is ErrNothing or ErrRange.
func By(total int64, weights []int64) ([]int64, error) {
	all := new(big.Int)
	for _, w := range weights {
		all.Add(all, big.NewInt(w))
	}
	if all.Sign() == 0 {
		return nil, ErrNothing
	}
	sign := int64(1)
	if total < 0 { // the same as of the amount without its sign
		sign = -1
	}
	whole := new(big.Int).Abs(big.NewInt(total))
	left := new(big.Int).Set(whole)
	floors, rests := make([]*big.Int, len(weights)), make([]*big.Int, len(weights))
	order := make([]int, len(weights))
	for i, w := range weights {
		n, d := new(big.Int).Mul(whole, big.NewInt(w)), new(big.Int).Set(all)
		if d.Sign() < 0 {
			n.Neg(n)
			d.Neg(d)
		}
		floors[i], rests[i] = new(big.Int).DivMod(n, d, new(big.Int))
		order[i] = i
		left.Sub(left, floors[i])
	}
	slices.SortStableFunc(order, func(a, b int) int { return rests[b].Cmp(rests[a]) })
	for _, i := range order[:left.Int64()] { // fewer than there are cells
		floors[i].Add(floors[i], big.NewInt(1))
	}
	out := make([]int64, len(weights))
	for i, f := range floors {
		if !f.IsInt64() || f.Int64() == math.MinInt64 {
			return nil, ErrRange
		}
		out[i] = sign * f.Int64()
	}
	return out, nil
}

// Scale makes cells a percentage of what they are, in hundredths of a percent: their sum
// becomes that share of it, rounded once, and each cell keeps its share of the sum. Cells
// that add up to zero are each rounded by themselves. The error is ErrRange.
func Scale(cells []int64, percent int64) ([]int64, error) {
	const hundred = 10_000
	sum, ok := Sum(cells)
	if !ok {
		return nil, ErrRange
	}
	if sum == 0 {
		out := make([]int64, len(cells))
		for i, n := range cells {
			var err error
			if out[i], err = money.MulDiv(n, percent, hundred); err != nil {
				return nil, ErrRange
			}
		}
		return out, nil
	}
	total, err := money.MulDiv(sum, percent, hundred)
	if err != nil {
		return nil, ErrRange
	}
	return By(total, cells)
}

// Part takes a percentage, in hundredths of a percent, out of each cell: what is taken,
// rounded half to even, and what stays add up to the cell. The error is ErrRange.
func Part(cells []int64, percent int64) (taken, stays []int64, err error) {
	for _, n := range cells {
		t, err := money.MulDiv(n, percent, 10_000)
		if err != nil {
			return nil, nil, ErrRange
		}
		s, ok := money.Add(n, -t)
		if !ok {
			return nil, nil, ErrRange
		}
		taken, stays = append(taken, t), append(stays, s)
	}
	return taken, stays, nil
}

// Sum adds cells up; false where that leaves 64 bits.
func Sum(cells []int64) (sum int64, ok bool) {
	ok = true
	for _, n := range cells {
		var fits bool
		sum, fits = money.Add(sum, n)
		ok = ok && fits
	}
	return sum, ok
}
