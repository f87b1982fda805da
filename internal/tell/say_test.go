package tell

import (
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/exact"
	"turret/internal/core/figure"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
)

// values answers with what is given, and "not known" for all else.
func values(given map[figure.ID]figure.Value) func(figure.ID) figure.Value {
	return func(id figure.ID) figure.Value {
		if v, ok := given[id]; ok {
			return v
		}
		return figure.Unknown(figure.Get(id).Unit, "nobody said")
	}
}

// euros is money of whole euros.
func euros(n int64) figure.Value { return figure.Whole(figure.Money, n*100) }

func ratio(a, b int64) figure.Value { return figure.Exact(figure.Ratio, exact.Of(a, b)) }

// The plan is 20 M; 21 M computed is 1/20 over; leads state 20.4 M for 3/4.
var costly = map[figure.ID]figure.Value{
	figure.BAC: euros(20_000_000), figure.EACComputed: euros(21_000_000), figure.ComputedOver: ratio(1, 20),
	figure.EACStated: euros(20_400_000), figure.StatedShare: ratio(3, 4),
}

func TestGroupSays(t *testing.T) {
	for _, c := range []struct {
		group Group
		says  string
	}{
		{Group{All: 0, Period: "Oct 2026"}, "No project belongs here in Oct 2026."},
		{Group{All: 4, Filtered: true, Period: "Oct 2026"}, "None of the 4 projects is like this in Oct 2026."},
		{Group{All: 4, Shown: 4, Period: "Oct 2026"}, "None of the 4 projects here counts toward the sums in Oct 2026."},
		{
			Group{Value: values(costly), Counts: [4]int{standing.Act: 2, standing.Watch: 3, standing.Steady: 4}, All: 9, Shown: 9, Since: "Sep 2026", Fresh: 2, Recovered: 1},
			"9 projects stand against a plan of €20.0 M. Computed outlook is €21.0 M, 5.0% over; leads state €20.4 M, for 75.0% of the plan. Two need action, all of them new since Sep 2026; one recovered.",
		},
		{
			Group{Value: values(costly), Counts: [4]int{standing.Act: 12, standing.Steady: 4}, All: 40, Shown: 16, Filtered: true, Since: "Sep 2026", Recovered: 2},
			"16 of 40 projects stand against a plan of €20.0 M. Computed outlook is €21.0 M, 5.0% over; leads state €20.4 M, for 75.0% of the plan. 12 need action; two recovered since Sep 2026.",
		},
		{
			Group{Value: values(map[figure.ID]figure.Value{figure.BAC: euros(50_000)}), Counts: [4]int{standing.Watch: 1, standing.Unrated: 2}, All: 3, Shown: 3},
			"3 projects stand against a plan of €50,000; no lead states one yet. None needs action, one is at Watch.",
		},
		{
			Group{Value: values(costly), Counts: [4]int{standing.Act: 1, standing.Steady: 1}, All: 2, Shown: 2, Since: "Sep 2026"},
			"2 projects stand against a plan of €20.0 M. Computed outlook is €21.0 M, 5.0% over; leads state €20.4 M, for 75.0% of the plan. One needs action, none of them new since Sep 2026.",
		},
		{
			Group{Value: values(map[figure.ID]figure.Value{figure.BAC: euros(1_000_000), figure.EACComputed: euros(1_000_100), figure.ComputedOver: ratio(1, 10_000)}), Counts: [4]int{standing.Steady: 2}, All: 2, Shown: 2},
			"2 projects stand against a plan of €1,000,000. Computed outlook is €1,000,100, less than 0.1% over; no lead states one yet. All are steady.",
		},
	} {
		c.group.Currency = "EUR"
		require.Equal(t, c.says, Plain(c.group.Say()))
	}
}

// TestGroupsOfNoneOneSomeAndAll: what is told of groups in which none, one, some and all
// have stated the period, and of which none, one, some and all are steady, is true of it.
func TestGroupsOfNoneOneSomeAndAll(t *testing.T) {
	whole := map[figure.ID]figure.Value{
		figure.BAC: euros(20_000_000), figure.EACComputed: euros(20_000_000), figure.ComputedOver: ratio(0, 1),
		figure.EACStated: euros(19_000_000), figure.StatedShare: ratio(1, 1),
	}
	part := map[figure.ID]figure.Value{
		figure.BAC: euros(20_000_000), figure.EACComputed: euros(20_000_000), figure.ComputedOver: ratio(0, 1),
		figure.EACStated: euros(19_000_000), figure.StatedShare: ratio(1, 2),
	}
	never := map[figure.ID]figure.Value{
		figure.BAC: euros(20_000_000), figure.EACComputed: euros(20_000_000), figure.ComputedOver: ratio(0, 1),
		figure.EACStated: euros(20_000_000), figure.StatedShare: ratio(0, 1),
	}
	const stand = "3 projects stand against a plan of €20.0 M. Computed outlook is €20.0 M, as planned"
	const one = "1 project stands against a plan of €20.0 M. Computed outlook is €20.0 M, as planned"
	three, single := [4]int{standing.Steady: 3}, [4]int{standing.Steady: 1}
	for _, c := range []struct {
		values       map[figure.ID]figure.Value
		counts       [4]int
		owing, said  int
		says         string
		asIfAllKnown bool
	}{
		{never, three, 3, 0, stand + "; no lead states one yet. None needs action.", false},
		{whole, three, 3, 0, stand + "; the stated one is €19.0 M, by none of 3 for Nov 2026. None needs action.", false},
		{whole, three, 3, 1, stand + "; the stated one is €19.0 M, by 1 of 3 for Nov 2026. None needs action.", false},
		{part, three, 3, 2, stand + "; the stated one is €19.0 M, for 50.0% of the plan, by 2 of 3 for Nov 2026. None needs action.", false},
		{whole, three, 3, 3, stand + "; leads state €19.0 M. All are steady.", true},
		{whole, three, 0, 0, stand + "; leads state €19.0 M. All are steady.", true}, // all are finished: none owes
		{whole, [4]int{standing.Steady: 2, standing.Unrated: 1}, 3, 3, stand + "; leads state €19.0 M. None needs action.", true},
		{whole, [4]int{standing.Unrated: 3}, 3, 3, stand + "; leads state €19.0 M. None is rated yet.", true},
		{whole, [4]int{standing.Act: 3}, 3, 0, stand + "; the stated one is €19.0 M, by none of 3 for Nov 2026. All need action.", false},
		{never, single, 1, 0, one + "; its lead states none yet. It needs no action.", false},
		{whole, single, 1, 0, one + "; the stated one is €19.0 M, not yet for Nov 2026. It needs no action.", false},
		{whole, single, 1, 1, one + "; its lead states €19.0 M. It is steady.", true},
		{whole, [4]int{standing.Unrated: 1}, 1, 1, one + "; its lead states €19.0 M. It is not rated yet.", true},
	} {
		n := 0
		for _, k := range c.counts {
			n += k
		}
		g := Group{Value: values(c.values), Currency: "EUR", Counts: c.counts, All: n, Shown: n, Period: "Nov 2026", Owing: c.owing, Stated: c.said}
		says := Plain(g.Say())
		require.Equal(t, c.says, says)
		if !c.asIfAllKnown {
			require.NotRegexp(t, "[Ll]eads? states? €|[Aa]ll are steady|is steady", says)
		}
	}
}

// TestWordsOfGroupsLeadSomewhere: what asks for action leads to the list, and
// what is a figure says which.
func TestWordsOfGroupsLeadSomewhere(t *testing.T) {
	g := Group{
		Value:     values(costly),
		Currency:  "EUR",
		Counts:    [4]int{standing.Act: 2, standing.Steady: 1},
		All:       3,
		Shown:     3,
		Since:     "Sep 2026",
		Recovered: 1,
	}
	found := make(map[string]string)
	for _, p := range g.Say() {
		if p.To != "" {
			found[p.To] = p.Text
		}
		if p.States {
			found[figure.Get(p.Figure).Name] = p.Text + "/" + p.Tone
		}
	}
	require.Equal(t, map[string]string{
		"act": "Two need action", ToMoved: "one recovered since Sep 2026",
		"bac": "€20.0 M/", "eac_computed": "€21.0 M/act", "eac_stated": "€20.4 M/", "stated_share": "75.0%/",
	}, found)
}

func TestProjectSays(t *testing.T) {
	all := map[figure.ID]figure.Value{
		figure.BAC: euros(
			9_000_000,
		), figure.AC: euros(9_100_000), figure.CPI: ratio(82, 100), figure.EACComputed: euros(11_000_000),
		figure.ComputedOver: ratio(
			2,
			9,
		), figure.EACStated: euros(9_500_000), figure.ForecastAge: figure.Whole(figure.Count, 3),
	}
	less := func(without ...figure.ID) func(figure.ID) figure.Value {
		some := make(map[figure.ID]figure.Value)
		for id, v := range all {
			some[id] = v
		}
		for _, id := range without {
			delete(some, id)
		}
		return values(some)
	}
	costs := standing.Table{standing.Cost: standing.Act}
	for _, c := range []struct {
		project Project
		says    string
	}{
		{
			Project{Value: less(), Currency: "EUR", State: portfolio.Active, Standing: costs, HasSaid: true, Stated: standing.Steady},
			"Earning 82 cents per euro spent; computed to finish at €11.0 M, 22.2% over. Its lead states €9.5 M and Steady. That forecast is 3 periods old.",
		},
		{
			Project{Value: less(figure.ForecastAge), Currency: "EUR", OwnMoney: "NOK", State: portfolio.Active, Standing: costs},
			"Earning 82 øre per krone spent; computed to finish at €11.0 M, 22.2% over. Its lead states €9.5 M.",
		},
		{
			Project{Value: less(figure.ForecastAge), Currency: "JPY", State: portfolio.Active, Standing: costs},
			"Earning 0.82 for each JPY spent; computed to finish at ¥1,100.0 M, 22.2% over. Its lead states ¥950.0 M.",
		},
		{
			Project{Value: less(figure.CPI, figure.EACComputed, figure.EACStated, figure.ForecastAge), Currency: "GBP", State: portfolio.OnHold, HasSaid: true, Stated: standing.Watch},
			"On hold. Computed to finish at a cost that is not known yet. Its lead states Watch, and no forecast.",
		},
		{Project{Value: less(), Currency: "EUR", State: portfolio.Finished}, "Finished at €9.1 M, against a plan of €9.0 M."},
		{Project{Value: less(), Currency: "EUR", State: portfolio.Cancelled}, "It is cancelled, against a plan of €9.0 M."},
		{Project{Value: less(figure.BAC), Currency: "EUR", State: portfolio.Proposed}, "It is proposed."},
	} {
		require.Equal(t, c.says, Plain(c.project.Say()))
	}
}

func TestWhatDecides(t *testing.T) {
	at := func(overall standing.Standing, m map[standing.Dimension]standing.Standing) *Project {
		p := &Project{}
		p.Standing[standing.Overall] = overall
		for _, d := range [...]standing.Dimension{standing.Dates, standing.Cost, standing.Progress, standing.Risk, standing.Crew} {
			p.Standing[d] = standing.Steady
		}
		for d, s := range m {
			p.Standing[d] = s
		}
		return p
	}
	require.Equal(t, "no dimension asks for attention", at(standing.Steady, nil).Decides())
	require.Equal(
		t,
		"cost at Act decides",
		at(
			standing.Act,
			map[standing.Dimension]standing.Standing{standing.Cost: standing.Act, standing.Dates: standing.Watch},
		).Decides(),
	)
	require.Equal(
		t,
		"dates and cost decide",
		at(
			standing.Act,
			map[standing.Dimension]standing.Standing{standing.Cost: standing.Act, standing.Dates: standing.Act},
		).Decides(),
	)
	require.Equal(t, "set by an override", at(standing.Act, nil).Decides())
	p := at(standing.Unrated, nil)
	p.Why = "its plan is not known"
	require.Equal(t, "its plan is not known", p.Decides())
}

func TestLimits(t *testing.T) {
	for _, c := range []struct {
		reason standing.Reason
		says   string
	}{
		{standing.Reason{Reading: figure.CPI, Direction: standing.Below, Watch: "0.95", Act: "0.9"}, "watch below 0.95, act 0.90"},
		{standing.Reason{Reading: figure.ComputedOver, Direction: standing.Above, Watch: "0.05", Act: "0.125"}, "watch above 5%, act 12.5%"},
		{standing.Reason{Reading: figure.FinishSlip, Direction: standing.Above, Act: "20"}, "act above 20 d"},
		{standing.Reason{Reading: figure.ForecastAge, Direction: standing.AtLeast, Watch: "2"}, "watch at least 2"},
	} {
		require.Equal(t, c.says, Limits(c.reason))
	}
}

// TestBand lays spent, ordered and what is to go end to end: 4 + 1.5 + (6 − 1.5)
// M of a plan of 9 M, stated to end at 10.
func TestBand(t *testing.T) {
	given := map[figure.ID]figure.Value{
		figure.BAC: euros(
			9_000_000,
		), figure.AC: euros(4_000_000), figure.ETCStated: euros(6_000_000), figure.OnOrder: euros(1_500_000),
		figure.BeyondOrders: euros(4_500_000), figure.EV: euros(3_000_000), figure.EACStated: euros(10_000_000),
	}
	link := func(id figure.ID) string { return "/" + figure.Get(id).Name }
	b, ok := Band("All", values(given), "EUR", link)
	require.True(t, ok)
	require.Equal(t, "€ M", b.Unit)
	sum := 0.0
	var names []string
	for _, s := range b.Segments {
		sum += s.Value
		names = append(names, s.Name+" "+s.Text+" "+s.Link)
	}
	require.InDelta(t, 10, sum, 1e-9)
	require.Equal(
		t,
		[]string{
			"spent 4.0 /ac",
			"on order 1.5 /on_order",
			"to go beyond orders, as stated 4.5 /" + figure.Get(figure.BeyondOrders).Name,
		},
		names,
	)
	var marks []string
	for _, m := range b.Marks {
		marks = append(marks, m.Name+" "+m.Text)
	}
	require.Equal(t, []string{"earned 3.0", "plan 9.0", "beyond plan, as stated 1.0"}, marks)
	delete(given, figure.AC)
	_, ok = Band("All", values(given), "EUR", link)
	require.False(t, ok, "a band without cost would mislead")

	small := map[figure.ID]figure.Value{
		figure.BAC:         euros(10_000),
		figure.AC:          euros(6_150),
		figure.EACComputed: euros(10_265),
	}
	b, ok = Band("All", values(small), "EUR", link)
	require.True(t, ok)
	require.Equal(
		t,
		[]string{"€ k", "6.2", "10.0", "10.3"},
		[]string{b.Unit, b.Segments[0].Text, b.Marks[0].Text, b.Marks[1].Text},
		"in thousands, where nothing reaches a million",
	)
}

// TestCurveByPeriod: each period's own is the difference of the cumulative.
func TestCurveByPeriod(t *testing.T) {
	m := func(list ...int64) (out []int64) {
		for _, v := range list {
			out = append(out, v*1_000_000_00)
		}
		return out
	}
	c := Curve{
		Periods: []string{
			"Jan",
			"Feb",
			"Mar",
			"Apr",
		}, Now: 1, Plan: m(1, 3, 6, 10), Earned: m(1, 2), Known: []bool{true, true},
		Actual: m(2, 5), Stated: m(5, 9, 14), Finish: 3, Computed: m(13)[0],
	}
	link := func(figure.ID) string { return "" }
	by := func(period bool) map[string][]float64 {
		out := make(map[string][]float64)
		for _, s := range c.Draw("EUR", "Feb", period, link).Series {
			out[s.Name] = s.Values
		}
		return out
	}
	whole := by(false)
	require.Equal(t, []float64{1, 3, 6, 10}, whole["plan"])
	require.Equal(t, []float64{5, 9, 13}, whole["computed"], "from 5 spent to 13 in two steps of 4")
	each := by(true)
	require.Equal(t, []float64{1, 2, 3, 4}, each["plan"])
	require.Equal(t, []float64{2, 3}, each["spent"])
	require.Equal(t, []float64{4, 5}, each["stated"][1:], "9 − 5 and 14 − 9")
	require.NotContains(t, each, "computed")
}

func TestWrittenMillions(t *testing.T) {
	for v, want := range map[float64]string{0: "0", 0.25: "0.25", 1.5: "1.5", 2: "2", 99.5: "99.5", 1234: "1,234", -0.5: "−0.50"} {
		require.Equal(t, want, Written(v))
	}
	for unit, want := range map[money.Currency]string{"EUR": "€ k", "NOK": "NOK k"} {
		require.Equal(t, want, Unit(figure.Money, unit))
	}
	require.Empty(t, Unit(figure.Ratio, "EUR"))
}
