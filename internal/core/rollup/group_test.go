package rollup

import (
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/core/earned"
	"turret/internal/core/figure"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
)

var (
	end = calendar.DateOf(2026, 4, 30)
	apr = calendar.Months(1).Of(end)
)

func newOffice() *portfolio.Office {
	o := &portfolio.Office{
		Reporting: "EUR",
		Periods:   calendar.Months(1),
		Rates:     money.NewRates("EUR"),
		Codes:     map[int64]portfolio.CostCode{1: {Code: "10"}},
	}
	o.Settle()
	return o
}

// project has a plan of bac in eight equal months from January 2026, percent
// earned and spent booked by April, all in minor units of EUR.
func project(code string, bac, percent, spent int64) *portfolio.Project {
	p := &portfolio.Project{Code: code, Currency: "EUR", State: portfolio.Active, TooEarly: -1}
	p.Activities = []portfolio.Activity{{Code: "1", Kind: portfolio.Task, Rule: "stated", Parent: -1, Leaf: true}}
	p.Baselines = []portfolio.Baseline{
		{
			Number: 1,
			Rows:   []portfolio.BaselineRow{{Start: calendar.DateOf(2026, 1, 1), Finish: calendar.DateOf(2026, 8, 31)}},
		},
	}
	l := portfolio.Line{CodeID: 1, Flow: portfolio.Cost, Currency: "EUR"}
	for i := range calendar.Period(8) {
		l.Cells = append(l.Cells, portfolio.Cell{Period: apr - 3 + i, Amount: bac / 8})
	}
	p.Plan = []portfolio.Version{{Number: 1, Lines: []portfolio.Line{l}}}
	p.Progress = []portfolio.Progress{
		{
			Period: apr,
			Rows: []portfolio.ProgressRow{
				{
					Percent: portfolio.Mark{Said: portfolio.Value, Int: percent * portfolio.Quantity},
					Finish:  portfolio.Mark{Said: portfolio.Value, Int: int64(end) + 100},
				},
			},
		},
	}
	p.Actual = []portfolio.Line{
		{CodeID: 1, Flow: portfolio.Cost, Currency: "EUR", Cells: []portfolio.Cell{{Period: apr, Amount: spent}}},
	}
	return p
}

func part(o *portfolio.Office, p *portfolio.Project) Part {
	e := figure.OfProject(earned.NewProgress(portfolio.At(o, p, apr, portfolio.Latest))).In("EUR")
	e.All()
	return Part{Project: p, Eval: e, Result: &standing.Result{}}
}

func group(o *portfolio.Office, list ...*portfolio.Project) (*Group, *figure.Eval) {
	var parts []Part
	for _, p := range list {
		parts = append(parts, part(o, p))
	}
	g := New(o, standing.UsualGroups, end, parts)
	e := g.Eval(apr)
	e.All()
	return g, e
}

// TestFromTheSums: A has plan 800.00, 50% earned for 400.00; B plan 1600.00,
// 25% earned for 600.00.
func TestFromTheSums(t *testing.T) {
	_, e := group(newOffice(), project("A", 80000, 50, 40000), project("B", 160000, 25, 60000))
	for _, c := range []struct {
		id   figure.ID
		want string
	}{
		{figure.BAC, "2400.00"},
		{figure.PV, "1200.00"},
		{figure.EV, "800.00"},
		{figure.AC, "1000.00"},
		{figure.CPI, "0.800000"},         // 800 ÷ 1000, not the mean of 1 and 0.67
		{figure.SPI, "0.666667"},         // 800 ÷ 1200
		{figure.EACCPI, "3000.00"},       // 1000 + 1600 ÷ 0.8
		{figure.EACComputed, "3200.00"},  // the parts' own: 800 + 600 + 1200 ÷ (400 ÷ 600) = 800 + 2400
		{figure.VAC, "-800.00"},          // from the sums
		{figure.AtStake, "800.00"},       // 0 + 800
		{figure.EACStated, "3200.00"},    // nobody states one: their computed ones
		{figure.StatedShare, "0.000000"}, // and it says so
		{figure.EarnedShare, "0.333333"}, // 800 ÷ 2400
		{figure.EarnedBase, "1.000000"},
		{figure.ES, "2.666667"}, // PV is 300 a month
		{figure.AT, "4.000000"},
		{figure.ElapsedShare, ""},
		{figure.LateShare, ""},
	} {
		require.Equal(t, c.want, e.Get(c.id).Text("EUR"), figure.Get(c.id).Name)
	}
}

// TestEarnedOnPart: a part without earned value counts in plan and cost, and
// in nothing that is built on earned value.
func TestEarnedOnPart(t *testing.T) {
	off := project("B", 160000, 0, 60000)
	off.EarnedOff = true
	_, e := group(newOffice(), project("A", 80000, 50, 40000), off)
	require.Equal(t, "2400.00", e.Get(figure.BAC).Text("EUR"))
	require.Equal(t, "1000.00", e.Get(figure.AC).Text("EUR"))
	require.Equal(t, "400.00", e.Get(figure.EV).Text("EUR"))
	require.Equal(t, "1.000000", e.Get(figure.CPI).Text("EUR"), "400 ÷ 400")
	require.Equal(t, "0.333333", e.Get(figure.EarnedBase).Text("EUR"), "of 800 in 2400")
	require.Equal(t, "0.416667", e.Get(figure.SpentShare).Text("EUR"), "1000 ÷ 2400, on all parts")
}

func TestLeftOut(t *testing.T) {
	bare, foreign, gone, idea := project(
		"B",
		8,
		0,
		0,
	), project(
		"C",
		8,
		0,
		0,
	), project(
		"D",
		80000,
		0,
		0,
	), project(
		"E",
		80000,
		0,
		0,
	)
	bare.Plan = nil
	foreign.Currency, foreign.Plan[0].Lines[0].Currency = "NOK", "NOK"
	gone.State, idea.State = portfolio.Cancelled, portfolio.Proposed
	g, e := group(newOffice(), project("A", 80000, 50, 40000), bare, foreign, gone, idea)
	require.Equal(t, "800.00", e.Get(figure.BAC).Text("EUR"))
	require.Len(t, g.Parts, 1)
	require.Equal(
		t,
		[]LeftOut{{"B", "it has neither plan amounts nor budgets"}, {"C", "there is no rate for NOK"}},
		g.LeftOut,
	)
	gone.Since = end + 1
	g, _ = group(newOffice(), gone)
	require.Len(t, g.Parts, 1, "cancelled from tomorrow on")
	_, e = group(newOffice())
	require.False(t, e.Get(figure.BAC).Known)
	require.False(t, e.Get(figure.SPIT).Known)
}

// TestFinish: the latest of the parts; a finished part counts with its stated
// finish where others have a computed one.
func TestFinish(t *testing.T) {
	done := project("B", 80000, 100, 80000)
	done.State = portfolio.Finished
	done.Progress[0].Rows[0].Finish.Int = int64(calendar.DateOf(2030, 1, 1))
	_, e := group(newOffice(), project("A", 80000, 50, 40000), done)
	require.Equal(t, "2026-08-31", e.Get(figure.FinishPlanned).Text("EUR"))
	require.Equal(t, "2030-01-01", e.Get(figure.FinishStated).Text("EUR"))
	require.Equal(t, "2030-01-01", e.Get(figure.FinishComputed).Text("EUR"))
	require.Positive(t, e.Get(figure.FinishSlip).N)
}

// TestStanding: by share of the plan, unrated parts counting in it.
func TestStanding(t *testing.T) {
	o := newOffice()
	type share struct {
		plan int64
		at   standing.Standing
	}
	for _, c := range []struct {
		name  string
		parts []share
		want  standing.Standing
	}{
		{"30% at Act", []share{{3000, standing.Act}, {7000, standing.Steady}}, standing.Act},
		{"29% at Act", []share{{2900, standing.Act}, {7100, standing.Steady}}, standing.Watch},
		{"Act among the unrated", []share{{2900, standing.Act}, {7100, standing.Unrated}}, standing.Watch},
		{"30% at Watch", []share{{3000, standing.Watch}, {7000, standing.Unrated}}, standing.Watch},
		{"29% at Watch", []share{{2900, standing.Watch}, {7100, standing.Unrated}}, standing.Steady},
		{"all steady", []share{{10, standing.Steady}}, standing.Steady},
		{"none rated", []share{{10, standing.Unrated}}, standing.Unrated},
		{"no plan at all", []share{{0, standing.Act}, {0, standing.Steady}}, standing.Watch},
		{"none", nil, standing.Unrated},
	} {
		g := &Group{office: o, policy: standing.UsualGroups}
		for _, s := range c.parts {
			p := part(o, project("X", s.plan*8, 0, 0))
			p.Result.Standing[standing.Cost] = s.at
			g.Parts = append(g.Parts, p)
		}
		require.Equal(t, c.want, g.Standing(standing.Cost), c.name)
		require.Equal(
			t,
			len(c.parts),
			g.Count(standing.Cost)[0]+g.Count(standing.Cost)[1]+g.Count(standing.Cost)[2]+g.Count(standing.Cost)[3],
		)
	}
}

// income adds what a project takes in: planned, booked by April, and, where it is
// said, still to come.
func income(p *portfolio.Project, planned, booked int64, toGo ...int64) *portfolio.Project {
	line := func(at calendar.Period, n int64) portfolio.Line {
		return portfolio.Line{
			CodeID:   1,
			Flow:     portfolio.Income,
			Currency: "EUR",
			Cells:    []portfolio.Cell{{Period: at, Amount: n}},
		}
	}
	p.Plan[0].Lines = append(p.Plan[0].Lines, line(apr, planned))
	p.Actual = append(p.Actual, line(apr, booked))
	for _, n := range toGo {
		p.Forecast = []portfolio.Version{{Number: int(apr), Lines: []portfolio.Line{line(apr+1, n)}}}
	}
	return p
}

// TestMargin: of a group the income of those that have any, less the cost of all.
// A takes 900.00 of 1,000.00 planned and 300.00 to come, B nothing; each has a
// plan of 800.00 and has spent 400.00.
func TestMargin(t *testing.T) {
	o := newOffice()
	a, b := income(project("A", 80000, 50, 40000), 100000, 90000, 30000), project("B", 80000, 50, 40000)
	_, e := group(o, a, b)
	for _, c := range []struct {
		id   figure.ID
		want string
	}{
		{figure.IncomePlan, "1000.00"},
		{figure.Income, "900.00"},
		{figure.IncomeStated, "1200.00"},
		{figure.MarginPlan, "-600.00"},  // 1,000 − 1,600
		{figure.MarginBooked, "100.00"}, // 900 − 800
		{figure.Margin, "0.00"},         // 1,200 − 400 stated of A − 800 computed of B
		{figure.MarginShare, "0.000000"},
	} {
		require.Equal(t, c.want, e.Get(c.id).Text("EUR"), figure.Get(c.id).Name)
	}
	_, e = group(o, a, income(project("C", 80000, 50, 40000), 100000, 90000))
	require.Equal(
		t,
		"C: no forecast was stated up to this period",
		e.Get(figure.IncomeStated).Why,
		"what one does not say the group does not know",
	)
	_, e = group(o, b)
	require.Equal(t, "none of its parts has income", e.Get(figure.Income).Why)
}

// A formula of a group is told as it is for a group.
func TestFormulaOfAGroup(t *testing.T) {
	o := newOffice()
	_, e := group(o, project("A", 1000, 50, 400))
	for id, want := range map[figure.ID]string{
		figure.EACComputed:   "the sum of its parts",
		figure.EarnedShare:   "EV ÷ BAC",
		figure.FinishPlanned: "the latest",
		figure.EACStated:     "AC + forecast cells after the period, of the latest statement; parts without one count with their computed outlook",
		figure.CPI:           "{ev} ÷ {ac_earned}",
	} {
		require.Equal(t, want, figure.Applied(e, id), figure.Get(id).Name)
	}
}
