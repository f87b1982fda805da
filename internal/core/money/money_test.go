package money

import (
	"errors"
	"math"
	"math/big"
	"testing"
	"testing/quick"

	"github.com/bojanz/currency"
	"github.com/stretchr/testify/require"
)

func TestParse(t *testing.T) {
	for _, c := range []struct {
		in   string
		cur  Currency
		want int64
		err  error
	}{
		{"1234.5", "EUR", 123450, nil},
		{"-0.01", "EUR", -1, nil},
		{"+7", "EUR", 700, nil},
		{".5", "EUR", 50, nil},
		{"1.100", "EUR", 110, nil}, // zeros beyond the exponent lose nothing
		{"12", "JPY", 12, nil},
		{"1.2345", "KWD", 0, ErrPrecision},
		{"1.234", "KWD", 1234, nil},
		{"1.001", "EUR", 0, ErrPrecision},
		{"92233720368547758.07", "EUR", math.MaxInt64, nil},
		{"92233720368547758.08", "EUR", 0, ErrRange},
		{"-92233720368547758.08", "EUR", math.MinInt64, nil},
		{"", "EUR", 0, ErrSyntax},
		{"-", "EUR", 0, ErrSyntax},
		{"1.", "EUR", 0, ErrSyntax},
		{"1e3", "EUR", 0, ErrSyntax},
		{"1,234.50", "EUR", 0, ErrSyntax},
		{"0x10", "EUR", 0, ErrSyntax},
		{"١٢", "EUR", 0, ErrSyntax},
	} {
		got, err := Parse(c.in, c.cur)
		require.ErrorIs(t, err, c.err, c.in)
		require.Equal(t, c.want, got, c.in)
	}
}

func FuzzParse(f *testing.F) {
	for _, s := range []string{"1234.5", "-0.01", "", "9999999999999999999", "1..2", "-.5"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, s string) {
		n, err := Parse(s, "EUR")
		if err != nil {
			return
		}
		again, err := Parse(Format(n, "EUR"), "EUR")
		if err != nil || again != n {
			t.Fatalf("%q reads as %d, which writes as %q and reads as %d, %v", s, n, Format(n, "EUR"), again, err)
		}
	})
}

func TestRoundHalfToEven(t *testing.T) {
	for _, c := range []struct {
		num, den, want int64
	}{
		{5, 2, 2}, {7, 2, 4}, {-5, 2, -2}, {-7, 2, -4}, // halves go to the even neighbour
		{26, 10, 3}, {24, 10, 2}, {-26, 10, -3}, {1, 3, 0}, {2, 3, 1}, {0, 9, 0},
	} {
		got, err := Round(big.NewRat(c.num, c.den))
		require.NoError(t, err)
		require.Equal(t, c.want, got, "%d/%d", c.num, c.den)
		got, err = MulDiv(c.num, 1, c.den)
		require.NoError(t, err)
		require.Equal(t, c.want, got, "%d×1÷%d", c.num, c.den)
	}
}

func TestMulDivAgreesWithBig(t *testing.T) {
	check := func(a, num, den int64) bool {
		if den == math.MinInt64 || den == 0 {
			den = 3
		}
		if den < 0 {
			den = -den
		}
		got, err := MulDiv(a, num, den)
		want, werr := Round(new(big.Rat).SetFrac(new(big.Int).Mul(big.NewInt(a), big.NewInt(num)), big.NewInt(den)))
		return (err == nil) == (werr == nil) && (err != nil || got == want)
	}
	require.NoError(t, quick.Check(check, &quick.Config{MaxCount: 20000}))
}

func TestConvert(t *testing.T) {
	rate := func(s string) Rate {
		r, err := ParseRate(s)
		require.NoError(t, err)
		return r
	}
	for _, c := range []struct {
		from, to string
		shift    int
		in, want int64
	}{
		{"1.17", "1", 0, 10000, 11700},   // 100.00 GBP × 1.17 = 117.00 EUR
		{"0.087", "1", 0, 12345, 1074},   // 123.45 × 0.087 = 10.74015
		{"1", "0.087", 0, 1074, 12345},   // 10.74 ÷ 0.087 = 123.448…
		{"0.0062", "1", 2, 1000, 620},    // 1000 JPY × 0.0062 = 6.20 EUR
		{"1", "0.0062", -2, 620, 1000},   // and back
		{"1.17", "1", 0, -10000, -11700}, // signs stay
		{"0.5", "1", 0, 5, 2},            // 2.5 cents, half to even
		{"0.5", "1", 0, 7, 4},            // 3.5 cents
		{"1", "1", 0, math.MaxInt64, math.MaxInt64},
	} {
		got, err := NewConverter(rate(c.from), rate(c.to), c.shift).Convert(c.in)
		require.NoError(t, err)
		require.Equal(t, c.want, got, "%+v", c)
	}
	_, err := NewConverter(rate("2"), One, 0).Convert(math.MaxInt64)
	require.ErrorIs(t, err, ErrRange)
	got, err := NewConverter(rate("123456.789012345678"[:18]), rate("0.000000000001"), 0).Convert(1)
	require.NoError(t, err)
	require.Equal(t, int64(123456789012345670), got) // leaves 64 bits on the way, not in the result
}

func TestRatesInForce(t *testing.T) {
	r := NewRates("EUR")
	put := func(set Set, p int, s string) {
		x, err := ParseRate(s)
		require.NoError(t, err)
		r.Put("NOK", set, p, x)
	}
	put(PeriodRates, 10, "0.09")
	put(PeriodRates, 5, "0.08")
	put(PlanRates, 4, "0.1")
	at := func(set Set, p, asOf int) string {
		x, err := r.At("NOK", set, p, asOf)
		require.NoError(t, err)
		return x.String()
	}
	require.Equal(t, "0.08", at(PeriodRates, 3, 99), "before the first, the first")
	require.Equal(t, "0.08", at(PeriodRates, 9, 99))
	require.Equal(t, "0.09", at(PeriodRates, 10, 99))
	require.Equal(t, "0.1", at(PlanRates, 50, 99))
	require.True(t, r.HasPlan("NOK"))
	require.False(t, r.Known("GBP"))
	_, err := r.At("GBP", PlanRates, 1, 1)
	require.ErrorIs(t, err, ErrNoRate)

	gbp, err := ParseRate("1.2")
	require.NoError(t, err)
	later, err := ParseRate("1.3")
	require.NoError(t, err)
	r.Put("GBP", PeriodRates, 1, gbp)
	r.Put("GBP", PeriodRates, 8, later)
	got, err := r.At("GBP", PlanRates, 12, 5)
	require.NoError(t, err)
	require.Equal(t, "1.2", got.String(), "a plan at period rates takes none of after the period it is seen from")
}

func TestParseRateRefuses(t *testing.T) {
	for _, s := range []string{"0", "-1", "", "1.1234567890123", "a"} {
		_, err := ParseRate(s)
		require.Error(t, err, s)
	}
}

// TestExponents compares the table with that of a library of its own.
func TestExponents(t *testing.T) {
	n := 0
	for _, code := range currency.GetCurrencyCodes() {
		c, ok := ParseCurrency(code)
		if !ok {
			continue
		}
		digits, _ := currency.GetDigits(code)
		require.Equal(t, int(digits), c.Exponent(), code)
		n++
	}
	require.Greater(t, n, 140)
	_, ok := ParseCurrency("XYZ")
	require.False(t, ok)
	require.False(t, errors.Is(ErrRange, ErrSyntax))
}
