package likely

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"
)

func pairs(list ...float64) (out []Pair) {
	for i := 0; i < len(list); i += 2 {
		out = append(out, Pair{list[i], list[i+1]})
	}
	return out
}

func TestPower(t *testing.T) {
	for _, c := range []struct {
		pairs []Pair
		want  int
	}{
		{nil, 0},
		{pairs(5, 5000), 0},                                // one says too little
		{pairs(5, 5000, 24.5, 24000), -3},                  // two that agree: 5,000 ÷ 5 and 24,000 ÷ 24.5
		{pairs(5, 5000, 24.5, 2400), 0},                    // two that do not
		{pairs(5000, 5, 24500, 24), 3},                     // turned
		{pairs(5, 5000, 0, 7, 24.5, 24000), -3},            // zero says nothing
		{pairs(5000, 5000, 24000, 24500, 9000, 9100), 0},   // as it was
		{pairs(10000, 5000, 48000, 24000, 18000, 9000), 0}, // twice as much may be
		{pairs(50000, 5000, 240000, 24000, 90000, 9000), 1},
		{pairs(50000, 5000, 240000, 24000), 0},                        // two may be ten times what they were
		{pairs(50000, 5000, 80000, 24000, 90000, 9000), 0},            // not all alike
		{pairs(5, 5000, 24, 24000, 9, 9000, 7, 7000, 3000, 3000), -3}, // 4 of 5 are 0.8
		{pairs(5, 5000, 24, 24000, 9, 9000, 3000, 3000), 0},           // 3 of 4 are not
		{pairs(0.005, 5000, 0.024, 24000), -6},
		{pairs(10, 1, 20, 2, 30, 3), 1}, // one cent is an amount
		{pairs(1, 10, 2, 20, 3, 30), -1},
		{pairs(1, 10, 2, 20, 0, 30), 0}, // and nothing is none: two say too little
	} {
		require.Equal(t, c.want, Power(c.pairs), fmt.Sprint(c.pairs))
	}
}

func TestTurned(t *testing.T) {
	require.True(t, Turned(pairs(-5, 5, -7, 6)))
	require.True(t, Turned(pairs(5, -5, 7, -6)))
	require.False(t, Turned(pairs(-5, 5)))
	require.False(t, Turned(pairs(-5, 5, 7, 6)))
	require.False(t, Turned(pairs(-5, -5, -7, -6)))
}

func TestConverted(t *testing.T) {
	// 40,000 NOK at 0.088 are 3,520 EUR; 90,000 are 7,920.
	require.True(t, Converted(pairs(3600, 40000, 8000, 90000), 0.088))
	require.False(t, Converted(pairs(36000, 40000, 80000, 90000), 0.088))
	require.False(t, Converted(pairs(1.1, 1, 2.2, 2), 1.15), "near one tells nothing")
	require.False(t, Converted(pairs(3600, 40000), 0.088))
	require.False(t, Converted(pairs(3600, 40000, 8000, 90000), 0))
}

func TestRunning(t *testing.T) {
	// 100, 200, 300 where 100 each month is known: 100, 100 + 100, 200 + 100.
	require.True(t, Running([][]Step{pairs(100, 100, 200, 100, 300, 100)}, []float64{0}))
	require.False(t, Running([][]Step{pairs(100, 100, 110, 100, 95, 100)}, []float64{0}))
	// 800 where 700 are known before, and 100 now.
	require.True(t, Running([][]Step{pairs(800, 100), pairs(80, 10)}, []float64{700, 70}))
	require.False(t, Running([][]Step{pairs(800, 100)}, []float64{700}), "one says too little")
	require.False(t, Running([][]Step{pairs(800, 100), pairs(12, 10)}, []float64{700, 70}))
	require.False(t, Running([][]Step{pairs(100, 100, 200, 200, 300, 300)}, []float64{0}), "it grows as is known")
}

func TestSame(t *testing.T) {
	require.True(t, Same([]int64{1, 2, 3, 4}, []int64{1, 2, 3, 4}))
	require.False(t, Same([]int64{1, 2, 3, 0}, []int64{1, 2, 3, 0}))
	require.False(t, Same([]int64{1, 2, 3, 4}, []int64{1, 2, 3, 5}))
}

// TestMoved: 1000 was to come in ten codes; the limit is five times, so 200 and 5000 move it,
// and two codes of ten (2 × 5 = 10).
func TestMoved(t *testing.T) {
	for _, c := range []struct {
		is, was       int64
		codes, before int
		want          Move
	}{
		{1000, 1000, 10, 10, Still},
		{201, 1000, 3, 10, Still},
		{200, 1000, 3, 10, ByAmount},
		{4999, 1000, 3, 10, Still},
		{5000, 1000, 3, 10, ByAmount},
		{-1000, 1000, 3, 10, ByAmount},
		{1000, 1000, 2, 10, ByCodes},
		{1000, 1000, 1, 5, ByCodes},
		{1000, 1000, 1, 4, Still}, // too few to tell
		{0, 1000, 0, 10, Still},   // nothing is stated
		{1000, 0, 1, 0, Still},    // nothing was to come
		{1000, -100, 3, 10, Still},
		{5, 1, 3, 10, ByAmount}, // one minor unit was to come, and is an amount
	} {
		require.Equal(t, c.want, Moved(c.is, c.was, c.codes, c.before, 5), fmt.Sprint(c))
	}
}
