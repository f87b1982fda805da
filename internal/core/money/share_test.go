package money

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/require"
)

func TestShare(t *testing.T) {
	for _, c := range []struct {
		amount        int64
		weights, want []int64
	}{
		{100, []int64{1, 1, 1}, []int64{34, 33, 33}}, // 33⅓ each: the tie goes to the first
		{101, []int64{50, 30, 20}, []int64{51, 30, 20}},
		{-100, []int64{1, 2}, []int64{-33, -67}},
		{10, []int64{0, 5, 0}, []int64{0, 10, 0}},
		{7, []int64{0, 0}, []int64{7, 0}},
		{0, []int64{3, 4}, []int64{0, 0}},
		{5, nil, []int64{}},
		{math.MaxInt64, []int64{math.MaxInt64, math.MaxInt64, math.MaxInt64}, []int64{math.MaxInt64/3 + 1, math.MaxInt64 / 3, math.MaxInt64 / 3}},
	} {
		require.Equal(t, c.want, Share(c.amount, c.weights), c)
	}
}

// TestSharesLeaveNothingBehind: the parts add up, and none is a unit away from
// its exact share.
func TestSharesLeaveNothingBehind(t *testing.T) {
	r := rand.New(rand.NewPCG(4, 2))
	for range 5000 {
		weights := make([]int64, 1+r.IntN(9))
		var all int64
		for i := range weights {
			weights[i] = r.Int64N(1_000_000)
			all += weights[i]
		}
		amount := r.Int64N(2_000_000) - 1_000_000
		var sum int64
		for i, n := range Share(amount, weights) {
			sum += n
			if all > 0 {
				require.Less(t, math.Abs(float64(n)-float64(amount)*float64(weights[i])/float64(all)), 1.0)
			}
		}
		require.Equal(t, amount, sum)
	}
}
