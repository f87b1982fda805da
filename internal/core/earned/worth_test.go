package earned

import (
	"math"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
)

// TestPresent: −1000.00 in December 2025 and 1100.00 a year, 365 days, later at 10%: 1100 ÷ 1.1
// is 1000, so it is worth nothing more. Seen from December 2026 both are worth 1.1 times as much.
func TestPresent(t *testing.T) {
	ps := calendar.Months(1)
	at := func(y, m int) calendar.Period { return ps.Of(calendar.DateOf(y, m, 1)) }
	const ten = 10_000_000
	net := map[calendar.Period]int64{at(2025, 12): -100_000, at(2026, 12): 110_000}
	for _, c := range []struct {
		rate int64
		from calendar.Period
		want int64
	}{
		{ten, at(2025, 12), 0},
		{0, at(2025, 12), 10_000},
		{ten, at(2026, 12), 0},
		{20_000_000, at(2025, 12), -8_333}, // 1100 ÷ 1.2 = 916.666…
		{20_000_000, at(2026, 12), -10_000},
	} {
		got, ok := Present(net, c.rate, c.from, ps)
		require.True(t, ok)
		require.Equal(t, c.want, got, c)
	}
	// Half a year is no power of a whole one: as floating point has it, to the cent.
	net = map[calendar.Period]int64{at(2026, 6): 123_456_789}
	got, ok := Present(net, 3_500_000, at(2025, 12), ps)
	require.True(t, ok)
	require.InDelta(t, 123_456_789/math.Pow(1.035, 181.0/365), float64(got), 1)
}

// TestPaidBack: −5, 2, 3 is even in the third period.
func TestPaidBack(t *testing.T) {
	require.Equal(t, calendar.Period(7), PaidBack(map[calendar.Period]int64{5: -5, 6: 2, 7: 3}))
	require.Equal(t, calendar.Period(9), PaidBack(map[calendar.Period]int64{5: -5, 9: 6}))
	require.Equal(t, calendar.Period(5), PaidBack(map[calendar.Period]int64{5: 1, 6: -9}))
	require.Zero(t, PaidBack(map[calendar.Period]int64{5: -5, 6: 4}))
	require.Zero(t, PaidBack(nil))
}
