package exact

import (
	"math/big"
	"testing"
	"testing/quick"

	"github.com/stretchr/testify/require"
)

func TestSum(t *testing.T) {
	var s Sum
	s.Add(3, 1, 2)                                       // 1½
	s.Add(5, 1, 3)                                       // 1⅔
	s.Add(4, 2, 4)                                       // 2
	require.Equal(t, "31/72", s.Over(12).Rat().String()) // (9 + 10 + 12)/6 ÷ 12
	require.Equal(t, "0", new(Sum).Over(7).Rat().RatString())
}

func TestSumAgreesWithBig(t *testing.T) {
	check := func(items []struct {
		W    int64
		N, D int32
	},
	) bool {
		var s Sum
		want := new(big.Rat)
		for _, x := range items {
			den := int64(x.D)
			if den <= 0 {
				den = 1 - den
			}
			s.Add(x.W, int64(x.N), den)
			term := new(big.Rat).SetFrac64(int64(x.N), den)
			want.Add(want, term.Mul(term, new(big.Rat).SetInt64(x.W)))
		}
		return s.Over(1).Rat().Cmp(want) == 0
	}
	require.NoError(t, quick.Check(check, nil))
}
