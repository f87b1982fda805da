package funding

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/core/earned"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
)

func office() *portfolio.Office {
	o := &portfolio.Office{Reporting: "EUR", Periods: calendar.Months(1), Rates: money.NewRates("EUR")}
	r, err := money.ParseRate("0.5")
	if err != nil {
		panic(err)
	}
	o.Rates.Put("NOK", money.PlanRates, 1, r)
	return o
}

func given(from string, p calendar.Period, n int64) portfolio.Funding {
	return portfolio.Funding{From: from, Period: p, Amount: n, Currency: "EUR"}
}

// TestAuthorised: 100 from 3 on and 50 NOK at 0.5 from 5 on, less a transfer of 20 from 4 on:
// 100, 80, 105.
func TestAuthorised(t *testing.T) {
	list := []portfolio.Funding{given("A", 3, 100), {From: "B", Period: 5, Amount: 50, Currency: "NOK"}, {Transfer: "T", Period: 4, Amount: -20, Currency: "EUR"}}
	got, why := Authorised(office(), list, "EUR", 9)
	require.Empty(t, why)
	require.Equal(t, earned.Series{First: 3, Cum: []int64{100, 80, 105}}, got)
	_, why = Authorised(office(), []portfolio.Funding{{Period: 3, Amount: 1, Currency: "USD"}}, "EUR", 9)
	require.Contains(t, why, "USD")
	_, why = Authorised(office(), []portfolio.Funding{given("A", 3, math.MaxInt64), given("A", 3, 1)}, "EUR", 9)
	require.Equal(t, tooLarge, why)
	_, why = Authorised(office(), []portfolio.Funding{given("A", 3, math.MaxInt64), given("A", 4, 1)}, "EUR", 9)
	require.Equal(t, tooLarge, why)
	got, why = Authorised(office(), nil, "EUR", 9)
	require.Empty(t, why)
	require.Zero(t, got.Total())
}

// TestRunsOut: spent is 10, 30, 60, 60 from 1 on.
func TestRunsOut(t *testing.T) {
	spent := earned.Series{First: 1, Cum: []int64{10, 30, 60, 60}}
	for _, c := range []struct {
		name       string
		authorised earned.Series
		from, want calendar.Period
		short      int64
		most       int64
		mostAt     calendar.Period
	}{
		{"to the cent", earned.Series{First: 1, Cum: []int64{60}}, 1, 0, 0, 0, 0},
		{"a cent short", earned.Series{First: 1, Cum: []int64{59}}, 1, 3, 1, 1, 3},
		{"short in between, then more comes", earned.Series{First: 1, Cum: []int64{20, 20, 70}}, 1, 2, 10, 10, 2},
		{"what was short is made good", earned.Series{First: 1, Cum: []int64{20, 20, 70}}, 3, 0, 0, 0, 0},
		{"it has run out before", earned.Series{First: 1, Cum: []int64{5}}, 4, 4, 55, 55, 4},
		{"asked long after", earned.Series{First: 1, Cum: []int64{5}}, 9, 9, 55, 55, 9},
		{"none", earned.Series{}, 1, 1, 10, 60, 3},
	} {
		p, short := RunsOut(spent, c.authorised, c.from)
		require.Equal(t, c.want, p, c.name)
		require.Equal(t, c.short, short, c.name)
		p, short = Short(spent, c.authorised, c.from)
		require.Equal(t, c.mostAt, p, c.name)
		require.Equal(t, c.most, short, c.name)
	}
}

// TestBySource: A gives 100 from 1 on, B 50 from 2 on. Spent is 80 in 1, 40 in 2, of which 20
// are left of A and 20 come from B, and 50 in 3, for which B has 30: 20 are not met.
func TestBySource(t *testing.T) {
	list := []portfolio.Funding{given("B", 2, 50), given("A", 1, 100)}
	spent := earned.Series{First: 1, Cum: []int64{80, 120, 170}}
	got, unmet, why := BySource(office(), list, spent, "EUR", 2)
	require.Empty(t, why)
	require.Equal(t, int64(20), unmet)
	require.Len(t, got, 2)
	a, b := got[0], got[1]
	require.Equal(t, []any{"A", int64(100), int64(100), int64(100), calendar.Period(2)}, []any{a.From, a.Money, a.Spent, a.Used, a.RunsOut})
	require.Equal(t, []any{"B", int64(50), int64(20), int64(50), calendar.Period(3)}, []any{b.From, b.Money, b.Spent, b.Used, b.RunsOut})
	// 30 are given back in 4: what was not met is met by it, and 10 go back to B.
	spent.Cum = append(spent.Cum, 140)
	got, unmet, _ = BySource(office(), list, spent, "EUR", 2)
	require.Zero(t, unmet)
	require.Equal(t, int64(40), got[1].Used)
	require.Zero(t, got[1].RunsOut, "some is left again")
	// Money that comes later pays what was not met before.
	got, unmet, _ = BySource(office(), []portfolio.Funding{given("A", 3, 100)}, earned.Series{First: 1, Cum: []int64{60}}, "EUR", 1)
	require.Zero(t, unmet)
	require.Equal(t, int64(60), got[0].Used)
	require.Zero(t, got[0].Spent, "in 1 there was none yet")
	// What is given back to one source alone is there again.
	got, unmet, _ = BySource(office(), []portfolio.Funding{given("A", 1, 50)}, earned.Series{First: 1, Cum: []int64{50, 20, 40}}, "EUR", 1)
	require.Zero(t, unmet)
	require.Equal(t, int64(40), got[0].Used)
	require.Zero(t, got[0].RunsOut)
	// Without cost nothing is used; without money nothing is met.
	got, unmet, _ = BySource(office(), list, earned.Series{}, "EUR", 5)
	require.Zero(t, unmet+got[0].Used+got[1].Used)
	_, unmet, _ = BySource(office(), nil, spent, "EUR", 2)
	require.Equal(t, int64(140), unmet)
}

// TestSourcesPayAll: what sources pay and what none pays is what is spent, and no source pays
// more than it has.
func TestSourcesPayAll(t *testing.T) {
	r := rand.New(rand.NewPCG(22, 2))
	for range 2000 {
		var list []portfolio.Funding
		for range r.IntN(6) {
			list = append(list, given(string(rune('A'+r.IntN(3))), calendar.Period(1+r.IntN(8)), r.Int64N(1000)))
		}
		spent := earned.Series{First: calendar.Period(1 + r.IntN(4))}
		var cum int64
		for range r.IntN(9) {
			cum += r.Int64N(400) - 50
			spent.Cum = append(spent.Cum, cum)
		}
		got, unmet, why := BySource(office(), list, spent, "EUR", 4)
		require.Empty(t, why)
		sum := unmet
		for _, x := range got {
			require.LessOrEqual(t, x.Used, x.Money)
			require.GreaterOrEqual(t, x.Used, int64(0))
			sum += x.Used
		}
		require.Equal(t, spent.Total(), sum)
	}
}
