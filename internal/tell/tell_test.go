package tell

import (
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/exact"
	"turret/internal/core/figure"
)

func TestFormat(t *testing.T) {
	for _, c := range []struct {
		v           figure.Value
		exact       bool
		text, title string
	}{
		{figure.Whole(figure.Money, 123456789), false, "1,235", "1,234,567.89 EUR"},
		{figure.Whole(figure.Money, -123456789), true, "−1,234,567.89", "−1,234,567.89 EUR"},
		{figure.Whole(figure.Money, -400), false, "0", "−4.00 EUR"},
		{figure.Exact(figure.Ratio, exact.Of(-1, 3)), false, "−0.33", "-0.333333"},
		{figure.Exact(figure.Ratio, exact.Of(2, 3)), true, "0.6667", "0.666667"},
		{figure.Whole(figure.Workdays, -3), false, "−3 d", "-3 working days"},
		{figure.Whole(figure.Count, 16), false, "16", "16"},
		{figure.Unknown(figure.Money, "no plan"), false, Dash, "Not known: no plan"},
	} {
		got := Format(c.v, "EUR", c.exact)
		require.Equal(t, c.text, got.Text)
		require.Equal(t, c.title, got.Title)
	}
	require.Equal(t, "1,235", Format(figure.Whole(figure.Money, 1234567), "JPY", false).Text)
	require.Equal(t, "€184.2 M", Millions(figure.Whole(figure.Money, 18420000000), "EUR"))
	require.Equal(t, "−£0.5 M", Millions(figure.Whole(figure.Money, -50000000), "GBP"))
	require.Equal(t, "5.2%", Percent(figure.Exact(figure.Ratio, exact.Of(52, 1000))).Text)
	require.Equal(t, "less than 0.1% over", OverUnder(figure.Exact(figure.Ratio, exact.Of(1, 10000))))
	require.Equal(t, "less than 0.1% under", OverUnder(figure.Exact(figure.Ratio, exact.Of(-1, 10000))))
	require.Equal(t, "as planned", OverUnder(figure.Exact(figure.Ratio, exact.Of(0, 1))))
	require.Equal(t, "2.0% under", OverUnder(figure.Exact(figure.Ratio, exact.Of(-2, 100))))
	require.Equal(t, "three", Number(3))
	require.Equal(t, "12", Number(12))
}

func TestValue(t *testing.T) {
	for in, want := range map[string]string{
		"1234567.50 EUR": "1,234,567.50 EUR", "-48250.00 EUR": "−48,250.00 EUR", "1200 JPY": "1,200 JPY",
		"": "", "55": "55", "2026-11-30": "2026-11-30", "Phase 2": "Phase 2", "12 EGGS": "12 EGGS", "1.2.3 EUR": "1.2.3 EUR", "Ada Brannock": "Ada Brannock",
	} {
		require.Equal(t, want, Value(in), in)
	}
}
