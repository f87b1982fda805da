package tell

import (
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/figure"
)

// TestAmountsInTwoCurrencies: a sheet says which currency its amounts are in, with those
// of the other that are known.
func TestAmountsInTwoCurrencies(t *testing.T) {
	const own = "Amounts are in GBP, the project's own currency."
	unknown := func(figure.ID) figure.Value { return figure.Unknown(figure.Money, "there is no rate for GBP") }
	for _, c := range []struct {
		name  string
		value func(figure.ID) figure.Value
		says  string
	}{
		{"none", unknown, own + " None is known in EUR: there is no rate for GBP."},
		{"one", values(map[figure.ID]figure.Value{figure.BAC: euros(1_200_000)}), own + " In EUR: plan €1.2 M."},
		{
			"all, nothing at stake",
			values(map[figure.ID]figure.Value{
				figure.BAC: euros(1_200_000), figure.AC: euros(50_000), figure.EACComputed: euros(1_100_000),
				figure.EACStated: euros(1_000_000), figure.AtStake: euros(0),
			}),
			own + " In EUR: plan €1.20 M, spent €0.05 M, computed outlook €1.10 M, stated outlook €1.00 M.",
		},
		{
			"all",
			values(map[figure.ID]figure.Value{figure.EACComputed: euros(1_300_000), figure.AtStake: euros(100_000)}),
			own + " In EUR: computed outlook €1.3 M, at stake €0.1 M.",
		},
	} {
		require.Equal(t, c.says, InOwn("GBP", "EUR", c.value), c.name)
	}
	require.Equal(
		t,
		"Amounts are shown in EUR; shares, indices and dates are those of the project's own currency, GBP.",
		InReporting("GBP", "EUR"),
	)
}

// TestCurrencyPart: what amounts as shown would give in place of a ratio is told where it
// is another one.
func TestCurrencyPart(t *testing.T) {
	part := func(id figure.ID, own, divided figure.Value) string { return CurrencyPart(id, own, divided, "EUR") }
	unknown := figure.Unknown(figure.Ratio, "nothing is earned")
	require.Equal(t, "The amounts as shown in EUR would give 0.6000; 0.1500 of that is currency.", part(figure.CPI, ratio(75, 100), ratio(60, 100)))
	require.Equal(t, "The amounts as shown in EUR would give +5.00%; 2.00% of that is currency.", part(figure.ComputedOver, ratio(3, 100), ratio(5, 100)))
	require.Empty(t, part(figure.CPI, ratio(75, 100), ratio(3, 4)))
	require.Empty(t, part(figure.CPI, ratio(75, 100), ratio(7_500_001, 10_000_000)), "by less than is told")
	require.Empty(t, part(figure.CPI, unknown, ratio(3, 4)))
	require.Empty(t, part(figure.CPI, ratio(3, 4), unknown))
}
