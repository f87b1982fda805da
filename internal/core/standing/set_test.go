package standing

import (
	"math/big"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/exact"
	"turret/internal/core/expression"
	"turret/internal/core/figure"
	"turret/internal/core/portfolio"
)

// TestCombine: what stands where, by weight of 100 in all.
func TestCombine(t *testing.T) {
	type part struct {
		at     Standing
		weight int64
	}
	share := Policy{How: Share, Act: 30, Watch: 30}
	for _, c := range []struct {
		name   string
		policy Policy
		parts  []part
		want   Standing
	}{
		{"share: 30 at Act", share, []part{{Act, 30}, {Steady, 70}}, Act},
		{"share: 29 at Act", share, []part{{Act, 29}, {Steady, 71}}, Watch},
		{"share: 29 at Watch", share, []part{{Watch, 29}, {Steady, 71}}, Steady},
		{"share: Act and Watch together", Policy{How: Share, Act: 50, Watch: 40}, []part{{Watch, 40}, {Steady, 60}}, Watch},
		{"share: unrated weigh", share, []part{{Act, 10}, {Unrated, 90}}, Watch},
		{"share: nothing weighs", share, []part{{Act, 0}, {Steady, 0}}, Watch},
		{"share: none", share, nil, Unrated},
		{"worst", Policy{How: Worst}, []part{{Act, 1}, {Steady, 99}}, Act},
		{"worst, all unrated", Policy{How: Worst}, []part{{Unrated, 1}}, Unrated},
		{"larger part", Policy{How: Larger}, []part{{Act, 40}, {Steady, 60}}, Steady},
		{"larger part, a tie is the worse", Policy{How: Larger}, []part{{Watch, 50}, {Steady, 50}}, Watch},
		{"larger part of what is rated", Policy{How: Larger}, []part{{Watch, 10}, {Unrated, 90}}, Watch},
	} {
		var w Weights
		for _, p := range c.parts {
			w.Add(p.at, p.weight)
		}
		require.Equal(t, c.want, c.policy.Combine(&w), c.name)
	}
}

// judged rates readings that are given outright.
func judged(b *Book, values map[figure.ID]string, chain ...string) *Result {
	s := b.At(10)
	get := func(id figure.ID) figure.Value {
		text, ok := values[id]
		if !ok {
			return figure.Unknown(figure.Get(id).Unit, "not given")
		}
		r, _ := new(big.Rat).SetString(text)
		if u := figure.Get(id).Unit; u == figure.Ratio || u == figure.Periods {
			return figure.Exact(u, exact.FromRat(r))
		}
		return figure.Whole(figure.Get(id).Unit, r.Num().Int64())
	}
	return s.Judge(
		get,
		Facts{Period: 10, Rules: s.Rules("K1", chain), State: portfolio.Active, TooEarly: -1, Exponent: 2},
	)
}

// TestNearestScope: the project's own rule, then the nearest programme's, then
// the latest for all.
func TestNearestScope(t *testing.T) {
	rule := func(from int, scope, watch string) Rule {
		r := rule(Cost, figure.CPI, Below, watch, "0.1")
		r.From, r.Scope = 0, scope
		r.From += 1
		if from > 0 {
			r.From = 9
		}
		return r
	}
	b := &Book{
		Rules: []Rule{
			rule(1, "", "0.80"),
			rule(0, "A", "0.70"),
			rule(0, "A-B", "0.60"),
			rule(0, "K1", "0.50"),
			rule(0, "Z", "0.99"),
		},
	}
	at := func(project string, chain ...string) string {
		for _, r := range b.At(10).Rules(project, chain) {
			if r.Reading == figure.CPI {
				return LimitText(r.Watch)
			}
		}
		return ""
	}
	require.Equal(t, "0.5", at("K1", "A-B", "A"))
	require.Equal(t, "0.6", at("K2", "A-B", "A"))
	require.Equal(t, "0.7", at("K2", "A"))
	require.Equal(t, "0.8", at("K2"))
}

// TestExpressions rate with money in major units; a comparison gives 1.
func TestExpressions(t *testing.T) {
	own := func(d Dimension, source, watch, act string) Rule {
		x, err := expression.Parse(source, Names())
		require.NoError(t, err)
		r := rule(d, 0, AtLeast, watch, act)
		r.Expr, r.Title, r.From = x, "Ours", 1
		return r
	}
	values := map[figure.ID]string{
		figure.AC:           "34000",
		figure.BAC:          "60000",
		figure.CPI:          "0.93",
		figure.ElapsedShare: "0.5",
	} // 340.00 of 600.00
	b := &Book{Own: []Own{{Code: "supply", Title: "Supply", Weight: 2}}}
	d := Data + 1
	b.Rules = []Rule{own(d, "(ac - 100) / bac", "0.3", "0.5")}
	r := judged(b, values)
	require.Equal(t, Watch, r.Computed[d], "(340 − 100) ÷ 600 = 0.4")
	require.Equal(
		t,
		[3]string{"Ours", "Ours", "Supply"},
		[3]string{
			r.Reasons[len(r.Reasons)-1].Title(),
			r.Reasons[len(r.Reasons)-1].Name(),
			r.Reasons[len(r.Reasons)-1].Rates,
		},
	)
	b.Rules = []Rule{own(d, "cpi < 0.95 and ac > 300", "", "1")}
	require.Equal(t, Act, judged(b, values).Computed[d], "it holds")
	values[figure.ElapsedShare] = "0.1"
	r = judged(b, values)
	require.Equal(t, Unrated, r.Computed[d])
	require.Equal(t, "too early", r.Reasons[len(r.Reasons)-1].Silent, "it asks for an index")
	values[figure.ElapsedShare] = "0.5"
	b.Rules = []Rule{own(d, "cpi * 1.03", "0.9", "0.5")} // 0.93 × 1.03 = 0.9579, exactly
	r = judged(b, values)
	require.Equal(t, "9579/10000", r.Reasons[len(r.Reasons)-1].Value.Rat().RatString())
	values[figure.FinishSlip] = "6"
	b.Rules = []Rule{own(d, "finish_slip * 2", "-5", "-9")}
	r = judged(b, values)
	require.Equal(t, figure.Whole(figure.Workdays, 12), r.Reasons[len(r.Reasons)-1].Value, "a whole number of days is one")
	values[figure.ElapsedShare] = "0.1"
	b.Rules = []Rule{own(d, "on_order / bac", "1", "2")}
	r = judged(b, values)
	require.Equal(t, "not given", r.Reasons[len(r.Reasons)-1].Silent)
}

// TestOverallByPolicy: one at Act among five rated, by each policy.
func TestOverallByPolicy(t *testing.T) {
	values := map[figure.ID]string{
		figure.CPI:          "1",
		figure.FinishSlip:   "0",
		figure.LateShare:    "0",
		figure.RiskExposure: "25",
		figure.ElapsedShare: "0.5",
	}
	for how, want := range map[How]Standing{Usual: Watch, Worst: Act, Larger: Steady, Share: Watch} {
		b := &Book{Overall: []Policy{{How: how, Act: 30, Watch: 30, From: 1}}}
		require.Equal(t, want, judged(b, values).Computed[Overall], string(how)) // risk is 1 of 4
	}
	b := &Book{Overall: []Policy{{How: Share, Act: 30, Watch: 30, From: 1}}, Weights: map[Dimension]int64{Risk: 2}}
	require.Equal(t, Act, judged(b, values).Computed[Overall], "2 of 5 is 40%")
	b = &Book{Overall: []Policy{{How: Worst, From: 11}}}
	require.Equal(t, Watch, judged(b, values).Computed[Overall], "a later policy does not hold yet")
}

// TestVersion: the same rules have the same code, whatever their order; others
// another.
func TestVersion(t *testing.T) {
	a, b := rule(Cost, figure.CPI, Below, "0.8", "0.7"), rule(Dates, figure.SPIT, Below, "0.8", "0.7")
	a.From, b.From = 1, 2
	one := (&Book{Rules: []Rule{a, b}}).At(10).Version
	require.Equal(t, one, (&Book{Rules: []Rule{b, a}}).At(10).Version)
	require.NotEqual(t, one, (&Book{Rules: []Rule{a}}).At(10).Version)
	require.Equal(t, (&Book{}).At(0).Version, (&Book{Rules: []Rule{b}}).At(1).Version, "what begins later is not in it")
	require.Len(t, one, 8)
}

func TestNamesOfDimensions(t *testing.T) {
	b := &Book{Own: []Own{{Code: "supply"}}}
	d, ok := b.Dimension("supply")
	require.True(t, ok)
	require.True(t, d.Own())
	require.Equal(t, "supply", b.Title(d), "without a title its code")
	got, ok := ParseColumn("own_1")
	require.True(t, ok)
	require.Equal(t, d, got)
	_, ok = ParseDimension("own_1")
	require.False(t, ok)
	_, ok = b.Dimension("own_2")
	require.False(t, ok)
}
