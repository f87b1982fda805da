package money

import (
	"cmp"
	"math/bits"
	"slices"
)

// Share parts an amount of minor units by weights, none below zero, by largest
// remainder, ties to the first: the parts add up to it. Without any weight all
// of it goes to the first part; weights beyond 64 bits together are halved.
func Share(amount int64, weights []int64) []int64 {
	out := make([]int64, len(weights))
	if len(weights) == 0 {
		return out
	}
	var sum uint64
	for _, w := range weights {
		sum += uint64(max(w, 0)) // two of them always fit
		if sum > 1<<63 {
			half := make([]int64, len(weights))
			for i, w := range weights {
				half[i] = w / 2
			}
			return Share(amount, half)
		}
	}
	if sum == 0 {
		out[0] = amount
		return out
	}
	sign, left := int64(1), magnitude(amount)
	if amount < 0 {
		sign = -1
	}
	whole := left
	rests := make([]uint64, len(weights))
	order := make([]int, len(weights))
	for i, w := range weights {
		hi, lo := bits.Mul64(whole, uint64(max(w, 0)))
		q, r := bits.Div64(hi, lo, sum)
		out[i], rests[i], order[i] = int64(q), r, i
		left -= q
	}
	slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(rests[b], rests[a]) })
	for _, i := range order[:left] {
		out[i]++
	}
	for i := range out {
		out[i] *= sign
	}
	return out
}
