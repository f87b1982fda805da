package exact

import (
	"math"
	"math/big"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/require"
)

func TestRatio(t *testing.T) {
	half, third := Of(1, 2), Of(-2, -6)
	for _, c := range []struct {
		what string
		got  Ratio
		want string
	}{
		{"1/2 + 1/3", half.Add(third), "5/6"},
		{"1/2 − 1/3", half.Sub(third), "1/6"},
		{"1/3 − 1/2", third.Sub(half), "-1/6"},
		{"1/2 × 1/3", half.Mul(third), "1/6"},
		{"1/2 ÷ 1/3", half.Quo(third), "3/2"},
		{"1/2 ÷ −1/3", half.Quo(third.Neg()), "-3/2"},
		{"|1/3 − 1/2|", third.Sub(half).Abs(), "1/6"},
		{"3 − 3", Whole(3).Sub(Whole(3)), "0/1"},
		{"−4 ÷ 6", Of(-4, 6), "-2/3"},
		{"the greatest + 1", Whole(math.MaxInt64).Add(Whole(1)), "9223372036854775808/1"},
		{"1 + the greatest", Whole(1).Add(Whole(math.MaxInt64)), "9223372036854775808/1"},
		{"the greatest − 1 + 1", Whole(math.MaxInt64 - 1).Add(Whole(1)), "9223372036854775807/1"},
		{"the least − 1", Whole(math.MinInt64).Add(Whole(-1)), "-9223372036854775809/1"},
		{"the least + 1 − 1", Whole(math.MinInt64 + 1).Add(Whole(-1)), "-9223372036854775808/1"},
		{"the least ÷ −1", Of(math.MinInt64, -1), "9223372036854775808/1"},
	} {
		require.Equal(t, c.want, c.got.Rat().String(), c.what)
	}
	require.False(t, Ratio{}.Is())
	require.True(t, Whole(0).Is())
	require.Nil(t, Ratio{}.Rat())
	require.Equal(t, Ratio{}, FromRat(nil))
	require.True(t, Of(6, 3).IsInt())
	require.False(t, Of(7, 3).IsInt())
}

// TestRatioAgreesWithBig: every operation gives what the standard library's exact
// fractions give, at the edges of 64 bits too, and the one form that its value has.
func TestRatioAgreesWithBig(t *testing.T) {
	random := rand.New(rand.NewPCG(1, 2))
	edges := []int64{0, 1, -1, 2, -3, 100, 1e9, 1 << 31, 1<<62 - 1, math.MaxInt64, math.MinInt64, math.MinInt64 + 1}
	some := func() int64 {
		switch random.IntN(3) {
		case 0:
			return edges[random.IntN(len(edges))]
		case 1:
			return random.Int64N(2000) - 1000
		}
		return int64(random.Uint64()) >> random.IntN(63)
	}
	part := func() int64 {
		if n := some(); n != 0 {
			return n
		}
		return 7
	}
	tries := 50_000
	if testing.Short() {
		tries = 2000
	}
	for range tries {
		a, b, c, d := some(), part(), some(), part()
		r, s := Of(a, b), Of(c, d)
		x, y := new(big.Rat).SetFrac64(a, b), new(big.Rat).SetFrac64(c, d)
		same := func(what string, got Ratio, want *big.Rat) {
			require.Zero(t, got.Rat().Cmp(want), "%s of %v and %v gives %v", what, x, y, got.Rat())
			require.Equal(t, FromRat(want), got, "%s of %v and %v", what, x, y)
			require.Equal(t, want.Sign(), got.Sign())
			require.Equal(t, want.IsInt(), got.IsInt())
		}
		same("itself", r, x)
		same("sum", r.Add(s), new(big.Rat).Add(x, y))
		same("difference", r.Sub(s), new(big.Rat).Sub(x, y))
		same("product", r.Mul(s), new(big.Rat).Mul(x, y))
		want := new(big.Rat).Mul(x, big.NewRat(2, 1)) // ⌊2x⌋ tells where half lies
		double := new(big.Int).Div(want.Num(), want.Denom())
		down := new(big.Int).Rsh(double, 1)
		if exactly := want.IsInt() && double.Bit(0) == 1; double.Bit(0) == 1 && (!exactly || down.Bit(0) == 1) {
			down.Add(down, big.NewInt(1))
		}
		n, ok := r.Round()
		require.Equal(t, down.IsInt64(), ok, "%v", x)
		if ok {
			require.Equal(t, down.Int64(), n, "%v", x)
		}
		same("size", r.Abs(), new(big.Rat).Abs(x))
		require.Equal(t, x.Cmp(y), r.Cmp(s), "%v and %v", x, y)
		if c != 0 {
			same("quotient", r.Quo(s), new(big.Rat).Quo(x, y))
		}
	}
}

// TestTimes: what fits in 64 bits, to the last of them on each side.
func TestTimes(t *testing.T) {
	for _, c := range []struct {
		a, b int64
		want int64
		ok   bool
	}{
		{1 << 32, -1 << 31, math.MinInt64, true},
		{1 << 32, 1 << 31, 0, false},
		{math.MinInt64, 1, math.MinInt64, true},
		{math.MinInt64, -1, 0, false},
		{math.MaxInt64, -1, -math.MaxInt64, true},
		{math.MaxInt64, 1, math.MaxInt64, true},
		{math.MaxInt64, 2, 0, false},
		{1 << 32, -1<<31 - 1, 0, false},
	} {
		n, ok := times(c.a, c.b)
		require.Equal(t, c.ok, ok, "%d × %d", c.a, c.b)
		if ok {
			require.Equal(t, c.want, n, "%d × %d", c.a, c.b)
		}
	}
}
