package tell_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/core/exact"
	"turret/internal/core/figure"
	"turret/internal/tell"
)

func TestAxis(t *testing.T) {
	day := calendar.DateOf(2026, 11, 30)
	for _, c := range []struct {
		id                figure.ID
		value             figure.Value
		at                float64
		write, say, typed string
	}{
		{figure.ComputedOver, figure.Exact(figure.Ratio, exact.Of(1234, 10000)), 12.34, "12.34%", "12.3%", "12.34"},
		{figure.CPI, figure.Exact(figure.Ratio, exact.Of(9, 10)), 0.9, "0.9", "0.90", "0.9"},
		{figure.BAC, figure.Whole(figure.Money, 1_500_000_00), 1500, "€1.5 M", "€1.5 M", "1500"},
		{figure.BAC, figure.Whole(figure.Money, -40_000_00), -40, "€−40 k", "€−40 k", "-40"},
		{figure.FinishSlip, figure.Whole(figure.Workdays, -3), -3, "−3 d", "−3 d", "-3"},
		{figure.FinishStated, figure.Whole(figure.Day, int64(day)), float64(day), "Nov 2026", "Nov 2026", "2026-11-30"},
		{figure.RiskExposure, figure.Whole(figure.Count, 12), 12, "12", "12", "12"},
	} {
		a := tell.Axis{ID: c.id, Currency: "EUR"}
		at := a.Value(c.value)
		require.InDelta(t, c.at, at, 1e-9, c.write)
		require.Equal(t, []string{c.write, c.say, c.typed}, []string{a.Write(at), a.Say(at), a.Text(at)})
		back, ok := a.Parse(c.typed)
		require.True(t, ok)
		require.InDelta(t, c.at, back, 1e-9, "what is typed comes back")
	}
	require.True(t, math.IsNaN(tell.Axis{ID: figure.CPI}.Value(figure.Unknown(figure.Ratio, "why"))))
	for _, bad := range []string{"", "x", "NaN", "Inf", "1,2"} {
		_, ok := tell.Axis{ID: figure.CPI}.Parse(bad)
		require.False(t, ok, bad)
	}
}

func TestRatio(t *testing.T) {
	require.Equal(t, "+12.3%", tell.Ratio(0.1234, true))
	require.Equal(t, "−12.3%", tell.Ratio(-0.1234, true))
	require.Equal(t, "0.0%", tell.Ratio(0.0001, true), "what rounds to nothing has no sign")
	require.Equal(t, "0.0%", tell.Ratio(-0.0001, true))
}
