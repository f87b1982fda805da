package entry_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/office/entry"
	"turret/internal/office/officetest"
)

// TestUnlikelyRates: a rate that is the last one turned round, or off by a power of ten,
// is refused until someone says that it is right.
func TestUnlikelyRates(t *testing.T) {
	ctx := context.Background()
	for _, c := range []struct{ was, is, why string }{
		{"0.0855", "0.0861", ""},
		{"0.0855", "11.7", "looks turned round"},
		{"11.5", "0.0861", "looks turned round"},
		{"0.0855", "8.6", "100 times more or less"},
		{"0.0855", "0.00086", "100 times more or less"},
		{"1.1", "0.92", "looks turned round"}, // 1 ÷ 0.92 = 1.087
		{"1.15", "0.8681", "looks turned round"},
		{"1.15", "0.8", ""},  // 1 ÷ 0.8 = 1.25: neither the same nor turned
		{"1.03", "0.98", ""}, // near one either way may be
		{"1.1", "1.05", ""},
		{"0.0855", "0.0855", ""},
		{"0.0855", "0.15", ""}, // it moved much, and not by a power of ten
	} {
		o := officetest.NewOffice(t)
		gather := func(period, rate string, trust bool) *entry.Report {
			body := "currency,period,set,rate\nNOK," + period + ",period," + rate + "\n"
			r, err := entry.In(o).Gather(ctx, officetest.Operator, []entry.File{{Name: "rates.csv", Body: []byte(body)}}, nil, entry.Options{Trust: trust})
			require.NoError(t, err)
			return r
		}
		require.Empty(t, gather("2026-10", c.was, false).Refusals, "the first is nothing to compare with")
		r := gather("2026-11", c.is, false)
		if c.why == "" {
			require.Empty(t, r.Refusals, "%s after %s", c.is, c.was)
			continue
		}
		require.Len(t, r.Refusals, 1, "%s after %s", c.is, c.was)
		require.Contains(t, r.Refusals[0].Reason, c.why)
		require.Empty(t, gather("2026-11", c.is, true).Refusals)
	}
}
