package earned

import (
	"math"
	"testing"

	"github.com/stretchr/testify/require"
)

// TestSeriesPlus: 1, 3 from 2 on and 10, 10, 15 from 3 on: 1, 13, 13, 18.
func TestSeriesPlus(t *testing.T) {
	a, b := Series{First: 2, Cum: []int64{1, 3}}, Series{First: 3, Cum: []int64{10, 10, 15}}
	got, ok := a.Plus(b)
	require.True(t, ok)
	require.Equal(t, Series{First: 2, Cum: []int64{1, 13, 13, 18}}, got)
	back, _ := b.Plus(a)
	require.Equal(t, got, back)
	for _, x := range []Series{a, b} {
		same, ok := x.Plus(Series{})
		require.True(t, ok)
		require.Equal(t, x, same)
		same, _ = Series{}.Plus(x)
		require.Equal(t, x, same)
	}
	_, ok = a.Plus(Series{First: 2, Cum: []int64{math.MaxInt64}})
	require.False(t, ok)
}

// TestSeriesAfter: of 5, 9, 9, 20 from 4 on there come 0 and 11 after 5.
func TestSeriesAfter(t *testing.T) {
	s := Series{First: 4, Cum: []int64{5, 9, 9, 20}}
	require.Equal(t, Series{First: 6, Cum: []int64{0, 11}}, s.after(5))
	require.Equal(t, s, s.after(3))
	require.Equal(t, s, s.after(1))
	require.Empty(t, s.after(7).Cum)
	require.Empty(t, s.after(99).Cum)
	require.Empty(t, Series{}.after(3).Cum)
}
