package exception_test

import (
	"math/big"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/exact"
	"turret/internal/core/exception"
	"turret/internal/core/figure"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
)

// values are the figures of a point: money and counts as whole numbers, ratios
// as text.
type values map[figure.ID]any

func point(v values) exception.Point { return shown(v, v) }

// shown is a point whose amounts are shown in another currency.
func shown(own, as values) exception.Point {
	return exception.Point{State: portfolio.Active, Value: own.of, Shown: as.of}
}

func (v values) of(id figure.ID) figure.Value {
	switch x := v[id].(type) {
	case int:
		return figure.Whole(figure.Get(id).Unit, int64(x))
	case string:
		r, _ := new(big.Rat).SetString(x)
		return figure.Exact(figure.Get(id).Unit, exact.FromRat(r))
	}
	return figure.Unknown(figure.Get(id).Unit, "not said")
}

func limits(t *testing.T, asked ...string) exception.Limits {
	t.Helper()
	m := make(map[string]string)
	for i := 0; i < len(asked); i += 2 {
		m[asked[i]] = asked[i+1]
	}
	l, wrong := exception.NewLimits(m)
	require.Empty(t, wrong)
	return l
}

func TestFind(t *testing.T) {
	bac, eac, stated := figure.BAC, figure.EACComputed, figure.EACStated
	for _, c := range []struct {
		name   string
		now    values
		before []values
		limits []string
		kind   exception.Kind // that is found; "": none
		want   exception.Case
		weight string // of the case; "": as it may be
	}{
		{"6% over 1000.00", values{bac: 100000, eac: 106000}, nil, nil, exception.Over, exception.Case{Amounts: [3]int64{6000}}, ""},
		{"5% is the limit", values{bac: 100000, eac: 105000}, nil, nil, exception.Over, exception.Case{Amounts: [3]int64{5000}}, ""},
		{"4.99% is below it", values{bac: 100000, eac: 104990}, nil, nil, "", exception.Case{}, ""},
		{"60.00 is no thousand", values{bac: 100000, eac: 106000}, nil, []string{"least", "1"}, "", exception.Case{}, ""},
		{"1000.00 is one", values{bac: 1000000, eac: 1100000}, nil, []string{"least", "1"}, exception.Over, exception.Case{Amounts: [3]int64{100000}}, ""},
		{"8% under", values{bac: 100000, eac: 92000}, nil, nil, exception.Under, exception.Case{Amounts: [3]int64{8000}}, ""},
		{"no plan, no overrun", values{eac: 92000}, nil, nil, "", exception.Case{}, ""},
		{"0.89 now, 0.95 in all", values{figure.CPIPeriod: "0.89", figure.CPI: "0.95"}, nil, nil, exception.Masked, exception.Case{IDs: []figure.ID{figure.CPIPeriod, figure.CPI}}, "3/50"},
		{"0.90 is not below 0.90", values{figure.CPIPeriod: "0.90", figure.CPI: "0.95"}, nil, nil, "", exception.Case{}, ""},
		{"bad in all is not masked", values{figure.CPIPeriod: "0.5", figure.CPI: "0.94"}, nil, nil, "", exception.Case{}, ""},
		{"of both indices", values{figure.CPIPeriod: "0.5", figure.CPI: "1", figure.SPIPeriod: "0.2", figure.SPI: "1"}, nil, nil, exception.Masked, exception.Case{IDs: []figure.ID{figure.CPIPeriod, figure.CPI, figure.SPIPeriod, figure.SPI}}, "4/5"},
		{"three falls", values{figure.CPI: "0.90"}, []values{{figure.CPI: "0.91"}, {figure.CPI: "0.92"}, {figure.CPI: "0.93"}}, nil, exception.Worsening, exception.Case{IDs: []figure.ID{figure.CPI}, Periods: 3}, "3"},
		{"by 1.9 points", values{figure.CPI: "0.911"}, []values{{figure.CPI: "0.92"}, {figure.CPI: "0.925"}, {figure.CPI: "0.93"}}, nil, "", exception.Case{}, ""},
		{"a rest between", values{figure.CPI: "0.90"}, []values{{figure.CPI: "0.91"}, {figure.CPI: "0.91"}, {figure.CPI: "0.93"}}, nil, "", exception.Case{}, ""},
		{"two known periods are too few", values{figure.CPI: "0.90"}, []values{{figure.CPI: "0.91"}, {figure.CPI: "0.93"}}, nil, "", exception.Case{}, ""},
		{"and enough for two", values{figure.CPI: "0.90"}, []values{{figure.CPI: "0.91"}, {figure.CPI: "0.93"}}, []string{"running", "2"}, exception.Worsening, exception.Case{IDs: []figure.ID{figure.CPI}, Periods: 2}, ""},
		{"over plan rises", values{figure.ComputedOver: "0.06"}, []values{{figure.ComputedOver: "0.05"}, {figure.ComputedOver: "0.02"}, {figure.ComputedOver: "0.01"}}, nil, exception.Worsening, exception.Case{IDs: []figure.ID{figure.ComputedOver}, Periods: 3}, ""},
		{"20.00 of 1000.00 spent, 1.00 earned", values{figure.BACEarned: 100000, figure.ACEarned: 5000, figure.EV: 3100}, []values{{}, {figure.ACEarned: 3000, figure.EV: 3000}}, nil, exception.Idle, exception.Case{IDs: []figure.ID{figure.ACEarned, figure.EV}, Periods: 2, Amounts: [3]int64{2000, 100}}, ""},
		{"2.00 earned is a tenth", values{figure.BACEarned: 100000, figure.ACEarned: 5000, figure.EV: 3200}, []values{{}, {figure.ACEarned: 3000, figure.EV: 3000}}, nil, "", exception.Case{}, ""},
		{"9.00 of 1000.00 is too little", values{figure.BACEarned: 100000, figure.ACEarned: 3900, figure.EV: 3000}, []values{{}, {figure.ACEarned: 3000, figure.EV: 3000}}, nil, "", exception.Case{}, ""},
		{"never stated anew", values{figure.ForecastAge: 4}, nil, nil, exception.Unmoved, exception.Case{IDs: []figure.ID{figure.ForecastAge}, Periods: 4}, ""},
		{"three periods old", values{figure.ForecastAge: 3}, nil, nil, "", exception.Case{}, ""},
		{"stated the same while the computed rose by 2%", values{bac: 100000, stated: 100000, eac: 104000, figure.ForecastAge: 0}, []values{{stated: 100400}, {stated: 100500}, {stated: 100000}, {stated: 100100, eac: 102000}}, nil, exception.Unmoved, exception.Case{IDs: []figure.ID{stated, eac}, Periods: 4, Amounts: [3]int64{100000, 100500, 2000}}, ""},
		{"0.51% is a move", values{bac: 100000, stated: 100000, eac: 104000}, []values{{stated: 100400}, {stated: 100510}, {stated: 100000}, {stated: 100100, eac: 102000}}, nil, "", exception.Case{}, ""},
		{"the computed one rests too", values{bac: 100000, stated: 100000, eac: 104000}, []values{{stated: 100000}, {stated: 100000}, {stated: 100000}, {stated: 100000, eac: 103000}}, nil, "", exception.Case{}, ""},
		{"the computed one was not known", values{bac: 100000, stated: 100000, eac: 104000}, []values{{stated: 100000}, {stated: 100000}, {stated: 100000}, {stated: 100000}}, nil, "", exception.Case{}, ""},
		{"nor is it now", values{bac: 100000, stated: 100000}, []values{{stated: 100000}, {stated: 100000}, {stated: 100000}, {stated: 100000, eac: 104000}}, nil, "", exception.Case{}, ""},
		// Each period costs 10.00 more than it earns, and the stated outlook follows by 10.00.
		{"after the fact", values{stated: 103000, eac: 109000, bac: 200000, figure.ACEarned: 9000, figure.EV: 6000}, []values{
			{stated: 102000, figure.ACEarned: 7000, figure.EV: 5000}, {stated: 101000, figure.ACEarned: 5000, figure.EV: 4000}, {stated: 100000, figure.ACEarned: 3000, figure.EV: 3000},
		}, nil, exception.After, exception.Case{IDs: []figure.ID{stated, figure.ACEarned, figure.EV, eac}, Periods: 3, Amounts: [3]int64{3000, 3000, 6000}}, ""},
		{"by 1.25 of it", values{stated: 103750, eac: 109000, bac: 200000, figure.ACEarned: 9000, figure.EV: 6000}, []values{
			{stated: 102500, figure.ACEarned: 7000, figure.EV: 5000}, {stated: 101250, figure.ACEarned: 5000, figure.EV: 4000}, {stated: 100000, figure.ACEarned: 3000, figure.EV: 3000},
		}, nil, exception.After, exception.Case{IDs: []figure.ID{stated, figure.ACEarned, figure.EV, eac}, Periods: 3, Amounts: [3]int64{3750, 3000, 5250}}, ""},
		{"once by 1.26: it looks ahead", values{stated: 103760, eac: 109000, bac: 200000, figure.ACEarned: 9000, figure.EV: 6000}, []values{
			{stated: 102500, figure.ACEarned: 7000, figure.EV: 5000}, {stated: 101250, figure.ACEarned: 5000, figure.EV: 4000}, {stated: 100000, figure.ACEarned: 3000, figure.EV: 3000},
		}, nil, "", exception.Case{}, ""},
		{"it looks ahead once", values{stated: 105000, eac: 109000, bac: 200000, figure.ACEarned: 9000, figure.EV: 6000}, []values{
			{stated: 102000, figure.ACEarned: 7000, figure.EV: 5000}, {stated: 101000, figure.ACEarned: 5000, figure.EV: 4000}, {stated: 100000, figure.ACEarned: 3000, figure.EV: 3000},
		}, nil, "", exception.Case{}, ""},
		{"2 accepted, 3.5 added a period", values{figure.Pace: "2", figure.NetPace: "-1.5"}, nil, nil, exception.Growing, exception.Case{IDs: []figure.ID{figure.Pace, figure.NetPace}}, "3/2"},
		{"not credible, and lower", values{eac: 110000, stated: 100000, bac: 200000, figure.CredibilityGap: "0.11"}, nil, nil, exception.Hopeful, exception.Case{IDs: []figure.ID{stated, eac, figure.TCPIEAC, figure.CPI}, Amounts: [3]int64{10000}}, ""},
		{"0.10 is credible", values{eac: 110000, stated: 100000, bac: 200000, figure.CredibilityGap: "0.10"}, nil, nil, "", exception.Case{}, ""},
		// 0.95 − 0.90 is 0.05, and 1.00 − 0.85 is 0.15: the wider gap weighs, whichever comes first.
		{"the wider gap first", values{figure.CPIPeriod: "0.85", figure.CPI: "1", figure.SPIPeriod: "0.89", figure.SPI: "0.95"}, nil, nil, exception.Masked, exception.Case{IDs: []figure.ID{figure.CPIPeriod, figure.CPI, figure.SPIPeriod, figure.SPI}}, "3/20"},
		{"two get worse, the second by more", values{figure.CPI: "0.90", figure.SPIT: "0.80"}, []values{{figure.CPI: "0.91", figure.SPIT: "0.85"}, {figure.CPI: "0.92", figure.SPIT: "0.88"}, {figure.CPI: "0.93", figure.SPIT: "0.90"}}, nil, exception.Worsening, exception.Case{IDs: []figure.ID{figure.CPI, figure.SPIT}, Periods: 3}, "10"},
		{"two get worse, the first by more", values{figure.CPI: "0.80", figure.SPIT: "0.90"}, []values{{figure.CPI: "0.85", figure.SPIT: "0.91"}, {figure.CPI: "0.88", figure.SPIT: "0.92"}, {figure.CPI: "0.90", figure.SPIT: "0.93"}}, nil, exception.Worsening, exception.Case{IDs: []figure.ID{figure.CPI, figure.SPIT}, Periods: 3}, "10"},
		{"it follows nothing that was overspent", values{stated: 103000, eac: 109000, bac: 200000, figure.ACEarned: 6000, figure.EV: 6000}, []values{
			{stated: 102000, figure.ACEarned: 5000, figure.EV: 5000}, {stated: 101000, figure.ACEarned: 4000, figure.EV: 4000}, {stated: 100000, figure.ACEarned: 3000, figure.EV: 3000},
		}, nil, "", exception.Case{}, ""},
		{"nor does what rests follow", values{stated: 100000, eac: 109000, bac: 200000, figure.ACEarned: 9000, figure.EV: 6000, figure.ForecastAge: 0}, []values{
			{stated: 100000, figure.ACEarned: 7000, figure.EV: 5000}, {stated: 100000, figure.ACEarned: 5000, figure.EV: 4000}, {stated: 100000, figure.ACEarned: 3000, figure.EV: 3000},
		}, nil, "", exception.Case{}, ""},
	} {
		s := &exception.Subject{Now: point(c.now), Decimal: 2}
		for _, v := range c.before {
			s.Before = append(s.Before, point(v))
		}
		var found []exception.Case
		for _, x := range exception.Find(s, limits(t, c.limits...)) {
			if x.Kind == exception.Under && c.kind != exception.Under { // of cases whose money is far below their plan
				continue
			}
			if c.weight != "" {
				require.Equal(t, c.weight, x.Weight.RatString(), c.name)
			}
			x.Weight = nil
			found = append(found, x)
		}
		if c.kind == "" {
			require.Empty(t, found, c.name)
			continue
		}
		c.want.Kind = c.kind
		require.Equal(t, []exception.Case{c.want}, found, c.name)
	}
}

func TestHopefulByStanding(t *testing.T) {
	for _, c := range []struct {
		stated, computed standing.Standing
		said, found      bool
	}{
		{standing.Steady, standing.Watch, true, true},
		{standing.Watch, standing.Act, true, true},
		{standing.Act, standing.Watch, true, false},
		{standing.Steady, standing.Unrated, true, false},
		{standing.Steady, standing.Act, false, false},
	} {
		p := point(nil)
		p.Stated, p.Overall, p.HasStated = c.stated, c.computed, c.said
		found := exception.Find(&exception.Subject{Now: p, Decimal: 2}, limits(t))
		require.Equal(t, c.found, len(found) == 1, "%s stated, %s computed", c.stated, c.computed)
	}
}

// TestStates: what is cancelled or proposed is no exception; what is finished may
// have overrun, and moves no more.
func TestStates(t *testing.T) {
	for state, want := range map[portfolio.State]int{portfolio.Active: 2, portfolio.OnHold: 1, portfolio.Finished: 1, portfolio.Cancelled: 0, portfolio.Proposed: 0} {
		p := point(values{figure.BAC: 1000, figure.EACComputed: 2000, figure.ForecastAge: 9})
		p.State = state
		require.Len(t, exception.Find(&exception.Subject{Now: p, Decimal: 2}, limits(t)), want, state)
	}
}

func TestLimits(t *testing.T) {
	l, wrong := exception.NewLimits(
		map[string]string{
			"over":    "12.5",
			"running": "2.5",
			"idle":    "0",
			"moved":   "-3",
			"after":   "x",
			"unmoved": "13",
			"least":   " 40 ",
			"nothing": "7",
			"under":   "1e2",
		},
	)
	require.Len(t, wrong, 6, "written as people write numbers")
	require.Contains(t, wrong, `The limit "worse for" is a whole number from 1 to 12, not "2.5"; 3 counts.`)
	require.Contains(
		t,
		wrong,
		`The limit "while the computed moved by" is a number from 0 to 1000, not "-3"; 2 counts.`,
	)
	require.Equal(t, big.NewRat(25, 2), l["over"])
	require.Equal(t, big.NewRat(40, 1), l["least"])
	require.Equal(t, 3, l.Periods("running"))
	require.Equal(t, 4, l.Back(), "a forecast is looked at for four periods")
	for _, r := range exception.Rules {
		for _, name := range r.Limits {
			require.Contains(t, r.About, "{"+name+"}", r.Kind)
			require.NotNil(t, l[name], name)
		}
	}
}

// TestStricterFindsLess: raising a limit on how bad something must be finds no
// more than before, on random figures.
func TestStricterFindsLess(t *testing.T) {
	r := rand.New(rand.NewPCG(8, 8))
	for range 2000 {
		random := func() values {
			v := values{figure.BAC: 1000 + r.IntN(1000)}
			v[figure.BACEarned] = v[figure.BAC]
			for _, id := range []figure.ID{figure.EACComputed, figure.EACStated, figure.ACEarned, figure.EV} {
				v[id] = r.IntN(3000)
			}
			return v
		}
		s := &exception.Subject{Now: point(random()), Decimal: 0}
		for range 4 {
			s.Before = append(s.Before, point(random()))
		}
		kinds := func(l exception.Limits) map[exception.Kind]bool {
			out := make(map[exception.Kind]bool)
			for _, c := range exception.Find(s, l) {
				out[c.Kind] = true
			}
			return out
		}
		loose, strict := kinds(
			limits(t),
		), kinds(
			limits(t, "over", "20", "under", "20", "idle_spent", "30", "idle_earned", "2", "moved", "40"),
		)
		for k := range strict {
			require.True(t, loose[k], k)
		}
	}
}

// TestJudgedInTheOwnCurrency: what is found goes by the project's own currency, where
// rates move what is shown; what it is ordered by and told with is what is shown.
func TestJudgedInTheOwnCurrency(t *testing.T) {
	bac, eac, stated, ac, ev := figure.BAC, figure.EACComputed, figure.EACStated, figure.ACEarned, figure.EV
	type steps []exception.Point // the latest first
	same := func(n int, p exception.Point) (out steps) {
		for range n {
			out = append(out, p)
		}
		return out
	}
	for _, c := range []struct {
		name   string
		points steps
		limits []string
		kind   exception.Kind
		found  bool
		want   [3]int64
	}{
		{"10% over, and below the plan as shown", steps{shown(values{bac: 1000, eac: 1100}, values{bac: 5000, eac: 4900})}, nil, exception.Over, true, [3]int64{-100}},
		{"the same is no thousand", steps{shown(values{bac: 1000, eac: 1100}, values{bac: 5000, eac: 4900})}, []string{"least", "1"}, exception.Over, false, [3]int64{}},
		{"10% over only as shown", steps{shown(values{bac: 1000, eac: 1000}, values{bac: 5000, eac: 5500})}, nil, exception.Over, false, [3]int64{}},
		{"10% under only as shown", steps{shown(values{bac: 1000, eac: 1000}, values{bac: 5000, eac: 4500})}, nil, exception.Under, false, [3]int64{}},
		{
			"100 of 1000 spent, 5 earned; as shown 60 and 50",
			append(same(2, shown(values{figure.BACEarned: 1000, ac: 200, ev: 195}, values{ac: 110, ev: 150})), shown(values{ac: 100, ev: 190}, values{ac: 50, ev: 100})),
			[]string{"idle", "2"},
			exception.Idle, true,
			[3]int64{60, 50},
		},
		{
			"stated as the plan all the time, as shown 900 to 1100; the computed one moved by 5%, as shown by 70",
			append(same(4, shown(values{bac: 1000, stated: 1000, eac: 1050}, values{stated: 1100, eac: 1170})), shown(values{stated: 1000, eac: 1000}, values{stated: 900, eac: 1100})),
			nil, exception.Unmoved, true,
			[3]int64{900, 1100, 70},
		},
		{
			"stated 20% apart, as shown the same",
			append(same(4, shown(values{bac: 1000, stated: 1100, eac: 1050}, values{stated: 1000, eac: 1170})), shown(values{stated: 900, eac: 1000}, values{stated: 1000, eac: 1100})),
			nil, exception.Unmoved, false,
			[3]int64{},
		},
		{
			"lower and not credible, as shown higher",
			steps{shown(values{bac: 1000, stated: 1000, eac: 1100, figure.CredibilityGap: "0.2"}, values{stated: 1300, eac: 1200})},
			nil, exception.Hopeful, true,
			[3]int64{0},
		},
		{
			"lower only as shown",
			steps{shown(values{bac: 1000, stated: 1100, eac: 1100, figure.CredibilityGap: "0.2"}, values{stated: 1100, eac: 1200})},
			nil, exception.Hopeful, false,
			[3]int64{},
		},
	} {
		s := &exception.Subject{Now: c.points[0], Before: c.points[1:], Decimal: 2}
		var got []exception.Case
		for _, x := range exception.Find(s, limits(t, c.limits...)) {
			if x.Kind == c.kind {
				got = append(got, x)
			}
		}
		require.Equal(t, c.found, len(got) == 1, c.name)
		if c.found {
			require.Equal(t, c.want, got[0].Amounts, c.name)
		}
	}
}
