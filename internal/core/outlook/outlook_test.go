package outlook

import (
	"math/big"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/require"
)

// TestBetween writes out what each cause adds.
func TestBetween(t *testing.T) {
	half, quarter := big.NewRat(1, 2), big.NewRat(1, 4)
	at := func(bac, ev, ac, eac int64, f *big.Rat, method string) *Side {
		return &Side{
			BAC:    bac,
			EV:     ev,
			AC:     ac,
			EAC:    eac,
			Share:  f,
			Method: method,
			Others: map[string]int64{method: eac},
		}
	}
	for _, c := range []struct {
		name string
		a, b *Side
		want map[Cause]int64
	}{
		{"nothing", nil, nil, nil},
		{"only now", nil, at(0, 0, 0, 70, nil, ""), map[Cause]int64{OnlyInOne: 70}},
		{"only before", at(0, 0, 0, 70, nil, ""), nil, map[Cause]int64{OnlyInOne: -70}},
		// 1000 × ¼ = 250 earned for 250: price 1, outlook 1000. Then half earned for
		// 550: outlook 550 + 500 × 1.1 = 1100. Spent 300, earned 250 at 1, and the 500
		// that are left cost 0.1 more each.
		{"performance", at(1000, 250, 250, 1000, quarter, "cpi"), at(1000, 500, 550, 1100, half, "cpi"), map[Cause]int64{Actuals: 300, Earned: -250, Performance: 50}},
		// The plan grows by 400: of its 1400 a quarter was earned, so that 300 more were
		// left at a price of 1; half of 1400 is 700, which is 350 more than a quarter.
		{"plan change", at(1000, 250, 250, 1000, quarter, "cpi"), at(1400, 700, 600, 1200, half, "cpi"), map[Cause]int64{PlanChange: 300, Actuals: 350, Earned: -350, Performance: -100}},
		// Before, the rest was priced at plan: 200 + 750 × 1. The estimate of before
		// would say 600 + 500 now, that by CPI says 600 + 500 × 1.2.
		{"another estimate", at(1000, 250, 200, 950, quarter, "plan"), &Side{BAC: 1000, EV: 500, AC: 600, EAC: 1200, Share: half, Method: "cpi", Others: map[string]int64{"plan": 1100, "cpi": 1200}}, map[Cause]int64{Actuals: 400, Earned: -250, Method: 100}},
		{"another estimate, and that of before is not known", at(1000, 250, 200, 950, quarter, "cpi3"), at(1000, 500, 600, 1200, half, "cpi"), map[Cause]int64{Actuals: 400, Earned: -250, Method: 100}},
		{"done", at(1000, 500, 600, 1200, half, "cpi"), &Side{BAC: 1000, EV: 1000, AC: 1300, EAC: 1300, Share: big.NewRat(1, 1), Others: map[string]int64{"cpi": 1300}}, map[Cause]int64{Actuals: 700, Earned: -600}},
		{"after it was done", at(1000, 1000, 1300, 1300, big.NewRat(1, 1), ""), at(1000, 1000, 1340, 1340, big.NewRat(1, 1), ""), map[Cause]int64{Actuals: 40}},
		{"without earned value", at(0, 0, 100, 900, nil, ""), at(0, 0, 300, 1000, nil, ""), map[Cause]int64{Actuals: 200, Restated: -100}},
		{"earned value turned off", at(1000, 500, 600, 1200, half, "cpi"), at(0, 0, 700, 900, nil, ""), map[Cause]int64{Actuals: 100, Restated: -400}},
	} {
		var want [Causes]int64
		for k, v := range c.want {
			want[k] = v
		}
		got, err := Between(c.a, c.b)
		require.NoError(t, err)
		require.Equal(t, want, got, c.name)
	}
}

// TestNothingIsLeft: whatever the sides are, the steps add up to the change, and
// leading back takes back as much.
func TestNothingIsLeft(t *testing.T) {
	r := rand.New(rand.NewPCG(11, 12))
	methods := []string{"", "cpi", "plan", "cpi3"}
	side := func() *Side {
		if r.IntN(12) == 0 {
			return nil
		}
		s := &Side{
			BAC:    r.Int64N(5_000_000_00),
			AC:     r.Int64N(5_000_000_00) - 1000,
			EAC:    r.Int64N(9_000_000_00),
			Method: methods[r.IntN(4)],
			Others: map[string]int64{},
		}
		if r.IntN(6) > 0 {
			s.Share = big.NewRat(r.Int64N(1001), 1000)
			s.EV = s.BAC * s.Share.Num().Int64() / s.Share.Denom().Int64()
		}
		for _, m := range methods[1:] {
			if r.IntN(2) == 0 {
				s.Others[m] = r.Int64N(9_000_000_00)
			}
		}
		return s
	}
	eac := func(s *Side) int64 {
		if s == nil {
			return 0
		}
		return s.EAC
	}
	for range 5000 {
		a, b := side(), side()
		there, err := Between(a, b)
		require.NoError(t, err)
		sum := int64(0)
		for _, n := range there {
			sum += n
		}
		require.Equal(t, eac(b)-eac(a), sum)
		same, err := Between(a, a)
		require.NoError(t, err)
		require.Zero(t, same, "nothing changed, so nothing is told")
	}
}
