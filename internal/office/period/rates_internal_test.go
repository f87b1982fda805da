package period

import (
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
)

// TestInForce: of rates stated in some periods the last up to the end holds, else the first
// that comes; it is stated where its period is one of those asked for.
func TestInForce(t *testing.T) {
	for _, c := range []struct {
		stated   []calendar.Period
		from, to calendar.Period
		want     calendar.Period // 0: none
		is       bool
	}{
		{nil, 10, 10, 0, false},
		{[]calendar.Period{8}, 10, 10, 8, false},
		{[]calendar.Period{8, 10}, 10, 10, 10, true},
		{[]calendar.Period{8, 9, 11}, 10, 10, 9, false},
		{[]calendar.Period{12, 11}, 10, 10, 11, false},
		{[]calendar.Period{8, 12}, 8, 10, 8, true},
	} {
		l := make(rateList)
		for _, p := range c.stated {
			x := l[p]
			x.rate = string(rune('A' + p))
			l[p] = x
		}
		got := l.inForce(c.from, c.to)
		want := ""
		if c.want != 0 {
			want = string(rune('A' + c.want))
		}
		require.Equal(t, want, got.Rate, c)
		require.Equal(t, c.is, got.Stated, c)
	}
}
