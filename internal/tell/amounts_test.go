package tell

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/figure"
	"turret/internal/core/money"
)

// TestAmountsOfASentence: in one unit, with the digits that tell them apart. In EUR and
// NOK a unit has a hundred parts, in JPY none.
func TestAmountsOfASentence(t *testing.T) {
	for _, c := range []struct {
		name     string
		currency money.Currency
		minor    []int64
		says     []string
	}{
		{"none", "EUR", nil, nil},
		{"one", "EUR", []int64{184_240_000_00}, []string{"€184.2 M"}},
		{"a small one", "EUR", []int64{40_000_00}, []string{"€40,000"}},
		{"part of a million", "EUR", []int64{340_000_00}, []string{"€0.3 M"}},
		{"parts of a million", "EUR", []int64{340_000_00, 194_000_00, 24_000_00}, []string{"€340,000", "€194,000", "€24,000"}},
		{"nothing", "EUR", []int64{0}, []string{"€0"}},
		{"less than nothing", "EUR", []int64{-40_000_00, -1_250_000_00}, []string{"−€0.04 M", "−€1.25 M"}},
		{"far apart", "EUR", []int64{179_900_000_00, 189_900_000_00}, []string{"€179.9 M", "€189.9 M"}},
		{"near", "EUR", []int64{179_910_000_00, 179_940_000_00}, []string{"€179.91 M", "€179.94 M"}},
		{"the same", "EUR", []int64{179_910_000_00, 179_910_000_00}, []string{"€179.9 M", "€179.9 M"}},
		{"nearer", "EUR", []int64{179_911_000_00, 179_912_000_00}, []string{"€179.911 M", "€179.912 M"}},
		{"by a euro", "EUR", []int64{179_911_000_00, 179_911_001_00}, []string{"€179,911,000", "€179,911,001"}},
		{"by a cent", "EUR", []int64{179_911_000_00, 179_911_000_01}, []string{"€179,911,000.00", "€179,911,000.01"}},
		{"small beside large", "EUR", []int64{1_200_000_00, 40_000_00, 0}, []string{"€1.20 M", "€0.04 M", "€0.00 M"}},
		{"hardly anything beside large", "EUR", []int64{1_200_000_00, 12_00}, []string{"€1,200,000", "€12"}},
		{"a half is even", "EUR", []int64{1_250_000_00, 50_000_000_00}, []string{"€1.2 M", "€50.0 M"}},
		{"without parts", "JPY", []int64{1_100_000_000, 950_000_000}, []string{"¥1,100.0 M", "¥950.0 M"}},
		{"without parts, by one", "JPY", []int64{1_100_000_000, 1_100_000_001}, []string{"¥1,100,000,000", "¥1,100,000,001"}},
		{"without a sign", "NOK", []int64{-317_540_000_00, 312_000_000_00}, []string{"−NOK 317.5 M", "NOK 312.0 M"}},
	} {
		t.Run(c.name, func(t *testing.T) {
			var list []figure.Value
			for _, n := range c.minor {
				list = append(list, figure.Whole(figure.Money, n))
			}
			a := AmountsOf(c.currency, append(list, figure.Unknown(figure.Money, "nobody said it"))...)
			var says []string
			for _, v := range list {
				says = append(says, a.Write(v))
			}
			require.Equal(t, c.says, says)
			require.Equal(t, Dash, a.Write(figure.Unknown(figure.Money, "nobody said it")))
		})
	}
}

// TestAmountsThatDifferReadDifferently, whatever they are.
func TestAmountsThatDifferReadDifferently(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 5))
	for range 2000 {
		a := r.Int64N(1 << (1 + r.IntN(45)))
		b := a + r.Int64N(1<<(1+r.IntN(20))) - r.Int64N(1<<(1+r.IntN(20)))
		w := AmountsOf("EUR", figure.Whole(figure.Money, a), figure.Whole(figure.Money, b))
		require.Equal(t, a == b, w.Of(a) == w.Of(b), "%d and %d: %s and %s", a, b, w.Of(a), w.Of(b))
	}
}
