package standing_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/backlog"
	"turret/internal/core/figure"
	"turret/internal/core/standing"
)

// TestAtPace: the limits of the slip of the finish rate the finish at pace by itself.
func TestAtPace(t *testing.T) {
	limits := []standing.Reason{
		{Dimension: standing.Dates, Reading: figure.SPIT, Direction: standing.Below, Watch: "0.95", Act: "0.85"},
		{Dimension: standing.Dates, Reading: figure.FinishSlip, Direction: standing.Above, Watch: "10", Act: "40", Standing: standing.Act, Silent: "x"},
	}
	days := func(n int64) figure.Value { return figure.Whole(figure.Workdays, n) }
	for _, c := range []struct {
		slip   figure.Value
		want   standing.Standing
		silent string
	}{
		{days(-5), standing.Steady, ""},
		{days(10), standing.Steady, ""}, // above 10, not at it
		{days(11), standing.Watch, ""},
		{days(40), standing.Watch, ""},
		{days(41), standing.Act, ""},
		{figure.Unknown(figure.Workdays, backlog.Never), standing.Act, ""},
		{figure.Unknown(figure.Workdays, "too early"), standing.Unrated, "too early"},
	} {
		got, ok := standing.AtPace(limits, func(id figure.ID) figure.Value {
			require.Equal(t, figure.SlipPace, id)
			return c.slip
		})
		require.True(t, ok)
		require.Equal(t, c.want, got.Standing, c.slip)
		require.Equal(t, c.silent, got.Silent)
		require.Equal(t, figure.SlipPace, got.Reading)
	}
	require.Equal(t, standing.Act, limits[1].Standing, "the project's own reasons stay as they are")
	_, ok := standing.AtPace(limits[:1], nil)
	require.False(t, ok)
	own := []standing.Reason{{Reading: figure.FinishSlip, Own: "the office's own"}}
	_, ok = standing.AtPace(own, nil)
	require.False(t, ok)
}
