package spread

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
)

// TestBy: 100 by 1, 1, 1 is 33⅓ each: the first takes the cent. 100 by 1, 2, 4 is 14 2/7,
// 28 4/7, 57 1/7: the second has the largest remainder. −100 mirrors 100. By −1 and 3, which
// add up to 2, 10 is −5 and 15. By 2 and −1, which add up to 1, 3 is 6 and −3.
func TestBy(t *testing.T) {
	for _, c := range []struct {
		total         int64
		weights, want []int64
	}{
		{100, []int64{1, 1, 1}, []int64{34, 33, 33}},
		{100, []int64{1, 2, 4}, []int64{14, 29, 57}},
		{-100, []int64{1, 1, 1}, []int64{-34, -33, -33}},
		{10, []int64{-1, 3}, []int64{-5, 15}},
		{3, []int64{2, -1}, []int64{6, -3}},
		{10, []int64{-1, -3}, []int64{3, 7}}, // 2½ and 7½: a tie, to the first
		{5, []int64{0, 1, 0}, []int64{0, 5, 0}},
		{0, []int64{1, 2}, []int64{0, 0}},
		{math.MaxInt64, []int64{1}, []int64{math.MaxInt64}},
	} {
		got, err := By(c.total, c.weights)
		require.NoError(t, err)
		require.Equal(t, c.want, got, c)
	}
	for _, c := range [][]int64{nil, {}, {0, 0}, {1, -1}} {
		_, err := By(5, c)
		require.ErrorIs(t, err, ErrNothing, c)
	}
	_, err := By(math.MaxInt64, []int64{3, -2})
	require.ErrorIs(t, err, ErrRange)
}

// TestNoCentIsLeft: whatever the weights, the cells add up to the total, and none is further
// from its exact share than one minor unit.
func TestNoCentIsLeft(t *testing.T) {
	r := rand.New(rand.NewPCG(2, 2))
	for range 3000 {
		total, weights := r.Int64N(2e15)-1e15, make([]int64, 1+r.IntN(60))
		for i := range weights {
			weights[i] = r.Int64N(3) * r.Int64N(1e12)
		}
		got, err := By(total, weights)
		all, _ := Sum(weights)
		if all == 0 {
			require.ErrorIs(t, err, ErrNothing)
			continue
		}
		require.NoError(t, err)
		sum, ok := Sum(got)
		require.True(t, ok)
		require.Equal(t, total, sum)
		for i, n := range got {
			exact := float64(total) * float64(weights[i]) / float64(all)
			require.InDelta(t, exact, float64(n), 1+math.Abs(exact)*1e-12)
			if weights[i] == 0 {
				require.Zero(t, n)
			}
		}
	}
}

// TestCurve: of 4 cells at 2, ½(2x)² is ⅛, ½, ⅞, 1 after each: cells of ⅛, ⅜, ⅜, ⅛. At 1 all
// are alike. Of 3 cells at 2, after the first ½(⅔)² = 2/9, after the second 7/9: 2, 5, 2.
func TestCurve(t *testing.T) {
	for _, c := range []struct {
		n, steep int
		want     []int64 // in proportion
	}{
		{4, 2, []int64{1, 3, 3, 1}},
		{4, 1, []int64{1, 1, 1, 1}},
		{4, 0, []int64{1, 1, 1, 1}},
		{3, 2, []int64{2, 5, 2}},
		{1, 5, []int64{1}},
		{2, 5, []int64{1, 1}},
	} {
		got := Curve(c.n, c.steep)
		for i := range got {
			require.Equal(t, got[0]*c.want[i], got[i]*c.want[0], c)
		}
	}
	require.Equal(t, Curve(10, Steepest), Curve(10, 99))
	for n := 1; n <= 120; n++ {
		for steep := 1; steep <= Steepest; steep++ {
			w := Curve(n, steep)
			for i := range w {
				require.Positive(t, w[i])
				require.Equal(t, w[i], w[n-1-i], "the second half mirrors the first")
				if i > 0 && 2*i < n {
					require.GreaterOrEqual(t, w[i], w[i-1], "it grows up to the middle")
				}
			}
		}
	}
}

// TestWorkingDays: November 2026 has 21 working days from Monday to Friday, December 23, of
// which one is a holiday here.
func TestWorkingDays(t *testing.T) {
	c := calendar.New("", calendar.MondayToFriday, []calendar.Date{calendar.DateOf(2026, 12, 25)})
	ps := calendar.Months(1)
	require.Equal(t, []int64{21, 22}, WorkingDays(c, ps, ps.Of(calendar.DateOf(2026, 11, 1)), 2))
}

// TestScale: 110% of 1.00, 1.00, 1.00 is 3.30. 150% of 0.01 twice is 0.03, and one cell takes
// the half. 50% of 0.05 and −0.05, which add up to nothing: 2½ each, to even.
func TestScale(t *testing.T) {
	for _, c := range []struct {
		cells   []int64
		percent int64
		want    []int64
	}{
		{[]int64{100, 100, 100}, 11000, []int64{110, 110, 110}},
		{[]int64{1, 1}, 15000, []int64{2, 1}},
		{[]int64{5, -5}, 5000, []int64{2, -2}},
		{[]int64{100, 0, 300}, 0, []int64{0, 0, 0}},
		{[]int64{100, -300}, -10000, []int64{-100, 300}},
	} {
		got, err := Scale(c.cells, c.percent)
		require.NoError(t, err)
		require.Equal(t, c.want, got, c)
	}
	_, err := Scale([]int64{math.MaxInt64}, 20000)
	require.ErrorIs(t, err, ErrRange)
}

// TestPart: 30% of 0.05 is 1½, to even 0.02; 0.03 stays.
func TestPart(t *testing.T) {
	taken, stays, err := Part([]int64{5, 100, -5, 0}, 3000)
	require.NoError(t, err)
	require.Equal(t, []int64{2, 30, -2, 0}, taken)
	require.Equal(t, []int64{3, 70, -3, 0}, stays)
	r := rand.New(rand.NewPCG(3, 2))
	for range 500 {
		cell, percent := r.Int64N(2e15)-1e15, r.Int64N(10_001)
		taken, stays, err := Part([]int64{cell}, percent)
		require.NoError(t, err)
		require.Equal(t, cell, taken[0]+stays[0])
	}
}
