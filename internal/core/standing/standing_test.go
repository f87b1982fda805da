package standing

import (
	"math/big"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/core/earned"
	"turret/internal/core/figure"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
)

// rate rates a project of ten months from January 2026, plan 100.00 a month,
// one milestone of portfolio level, at the end of a month.
func rate(month int, rules []Rule, change func(*portfolio.Project, calendar.Period)) *Result {
	o := &portfolio.Office{
		Reporting: "EUR",
		Periods:   calendar.Months(1),
		Rates:     money.NewRates("EUR"),
		Codes:     map[int64]portfolio.CostCode{1: {Code: "10"}},
	}
	o.Settle()
	jan := o.Periods.Of(calendar.DateOf(2026, 1, 1))
	at := jan + calendar.Period(month)
	p := &portfolio.Project{Code: "X", Currency: "EUR", State: portfolio.Active, TooEarly: -1}
	p.Activities = []portfolio.Activity{
		{Code: "1", Kind: portfolio.Task, Rule: "stated", Parent: -1, Leaf: true},
		{Code: "M", Kind: portfolio.Milestone, Level: "portfolio", Parent: -1},
	}
	end := calendar.DateOf(2026, 10, 30)
	p.Baselines = []portfolio.Baseline{
		{
			Number: 1,
			Rows: []portfolio.BaselineRow{
				{Start: calendar.DateOf(2026, 1, 1), Finish: end},
				{Activity: 1, Start: end, Finish: end},
			},
		},
	}
	l := portfolio.Line{CodeID: 1, Flow: portfolio.Cost, Currency: "EUR"}
	for i := range 10 {
		l.Cells = append(l.Cells, portfolio.Cell{Period: jan + calendar.Period(i), Amount: 10000})
	}
	p.Plan = []portfolio.Version{{Number: 1, Lines: []portfolio.Line{l}}}
	p.Forecast = []portfolio.Version{
		{Number: int(at), Lines: []portfolio.Line{{CodeID: 1, Flow: portfolio.Cost, Currency: "EUR"}}},
	}
	change(p, at)
	return (&Book{Rules: rules}).At(at).
		Rate(figure.OfProject(earned.NewProgress(portfolio.At(o, p, at, portfolio.Latest))).In("EUR").Judge(figure.Found{}, nil))
}

// say states progress, cost and finish in a period.
func say(p *portfolio.Project, at calendar.Period, percent, spent int64, finish calendar.Date) {
	f := portfolio.Mark{Said: portfolio.Value, Int: int64(finish)}
	p.Progress = []portfolio.Progress{
		{
			Period: at,
			Rows: []portfolio.ProgressRow{
				{Percent: portfolio.Mark{Said: portfolio.Value, Int: percent * portfolio.Quantity}, Finish: f},
			},
		},
	}
	p.Actual = []portfolio.Line{
		{CodeID: 1, Flow: portfolio.Cost, Currency: "EUR", Cells: []portfolio.Cell{{Period: at, Amount: spent}}},
	}
}

var onTime = calendar.DateOf(2026, 10, 30)

func TestRate(t *testing.T) {
	for _, c := range []struct {
		name                 string
		month                int
		change               func(*portfolio.Project, calendar.Period)
		overall, cost, dates Standing
		why                  string
	}{
		{"as planned", 4, func(p *portfolio.Project, at calendar.Period) { say(p, at, 50, 50000, onTime) }, Steady, Steady, Steady, ""},
		{"CPI 0.9434", 4, func(p *portfolio.Project, at calendar.Period) { say(p, at, 50, 53000, onTime) }, Watch, Watch, Steady, ""},        // 500 ÷ 530; outlook 6% over
		{"CPI 0.8929", 4, func(p *portfolio.Project, at calendar.Period) { say(p, at, 50, 56000, onTime) }, Act, Act, Steady, ""},            // 500 ÷ 560
		{"SPI(t) 0.8", 4, func(p *portfolio.Project, at calendar.Period) { say(p, at, 40, 40000, onTime) }, Act, Steady, Act, ""},            // 4 ÷ 5
		{"slip 10 days", 4, func(p *portfolio.Project, at calendar.Period) { say(p, at, 50, 50000, onTime+14) }, Steady, Steady, Steady, ""}, // not above 10
		{"slip 11 days", 4, func(p *portfolio.Project, at calendar.Period) { say(p, at, 50, 50000, onTime+17) }, Watch, Steady, Watch, ""},
		{"too early", 0, func(p *portfolio.Project, at calendar.Period) { say(p, at, 5, 50000, onTime) }, Unrated, Steady, Steady, "too early"},
		{"its own start of judgement", 0, func(p *portfolio.Project, at calendar.Period) {
			say(p, at, 5, 50000, onTime)
			p.TooEarly = 5 * portfolio.Quantity
		}, Act, Act, Act, ""},
		{"on hold", 4, func(p *portfolio.Project, at calendar.Period) {
			say(p, at, 1, 90000, onTime)
			p.State = portfolio.OnHold
		}, Unrated, Unrated, Unrated, "it is on hold"},
		{"on hold from later on", 4, func(p *portfolio.Project, at calendar.Period) {
			say(p, at, 50, 50000, onTime)
			p.State, p.Since = portfolio.OnHold, calendar.DateOf(2026, 6, 1)
		}, Steady, Steady, Steady, ""},
	} {
		r := rate(c.month, nil, c.change)
		require.Equal(t, c.overall, r.Computed[Overall], c.name)
		require.Equal(t, c.cost, r.Computed[Cost], c.name)
		require.Equal(t, c.dates, r.Computed[Dates], c.name)
		require.Equal(t, c.why, r.Why, c.name)
	}
}

func TestTwoActsMakeOne(t *testing.T) {
	late := func(p *portfolio.Project, at calendar.Period) {
		say(p, at, 100, 100000, onTime)
		p.Activities[0].Rule = "0-100"
	}
	r := rate(
		9,
		nil,
		func(p *portfolio.Project, at calendar.Period) { // all of the weight is late, on time and in budget otherwise
			late(p, at)
			p.EarnedOff = true
			p.Risks = []portfolio.RiskStatement{
				{
					Period:     at,
					Risk:       "R",
					Likelihood: portfolio.Field{Said: portfolio.Value, Int: 5},
					Impact:     portfolio.Field{Said: portfolio.Value, Int: 4},
				},
			}
		},
	)
	require.Equal(t, Act, r.Computed[Progress])
	require.Equal(t, Act, r.Computed[Risk])
	require.NotEqual(t, Act, r.Computed[Cost])
	require.Equal(t, Act, r.Computed[Overall])
}

// TestNothingToRate: without plan, cost, dates or risks nothing can be rated, and nothing is
// steady.
func TestNothingToRate(t *testing.T) {
	r := rate(3, nil, func(p *portfolio.Project, _ calendar.Period) {
		p.Plan, p.Forecast, p.Baselines, p.Activities = nil, nil, nil, nil
	})
	r2 := &Result{Computed: r.Computed}
	for _, d := range []Dimension{Dates, Cost, Progress, Risk} {
		require.Equal(t, Unrated, r2.Computed[d], d)
	}
	require.Equal(t, Unrated, r.Computed[Overall])
	require.Equal(t, "no rule could be evaluated", r.Why)
}

func TestReasonsCarrySilence(t *testing.T) {
	r := rate(0, nil, func(p *portfolio.Project, at calendar.Period) { say(p, at, 5, 50000, onTime) })
	silent := map[figure.ID]string{}
	for _, x := range r.Reasons {
		if x.Silent != "" {
			silent[x.Reading] = x.Silent
		}
	}
	require.Equal(t, "too early", silent[figure.CPI])
	require.Equal(t, "no risk was ever stated", silent[figure.RiskExposure])
	require.Len(t, r.Reasons, len(Defaults))
}

func TestRulesInForce(t *testing.T) {
	own := &Book{Rules: []Rule{
		{
			Dimension: Cost,
			Reading:   figure.CPI,
			Direction: Below,
			Watch:     big.NewRat(1, 2),
			Act:       big.NewRat(1, 4),
			From:      24312,
		},
		{Dimension: Cost, Reading: figure.CPI, Direction: Below, From: 24320},
		{Dimension: Dates, Reading: figure.LateShare, Direction: Above, Watch: big.NewRat(1, 2), From: 24312},
	}}
	limits := func(p calendar.Period) string {
		for _, r := range own.At(p).Rules("X", nil) {
			if r.Reading == figure.CPI {
				return LimitText(r.Watch)
			}
		}
		return "none"
	}
	require.Equal(t, "0.95", limits(24311))
	require.Equal(t, "0.5", limits(24312))
	require.Equal(t, "", limits(24320), "a rule without limits is off")
	require.Len(t, own.At(24312).Rules("X", nil), len(Defaults)+1)
	require.Len(t, own.At(24311).Rules("X", nil), len(Defaults))
}

func TestOverrideAndDisagreement(t *testing.T) {
	r := rate(4, nil, func(p *portfolio.Project, at calendar.Period) {
		say(p, at, 50, 56000, onTime)
		p.Narratives = []portfolio.Narrative{
			{Period: at, Section: "summary", Stated: "steady"},
			{Period: at + 1, Section: "summary", Stated: "act"},
		}
		p.Overrides = []portfolio.Override{
			{Dimension: "overall", From: at, Until: at, Standing: "watch"},
			{Dimension: "cost", From: at + 1, Until: at + 2, Standing: "steady"},
		}
	})
	require.Equal(t, Act, r.Computed[Overall])
	require.Equal(t, Watch, r.Standing[Overall], "the override counts")
	require.Equal(t, Act, r.Standing[Cost], "one that begins later does not")
	require.Equal(t, Steady, r.Stated, "what is stated later does not count")
	require.True(t, r.Disagrees())
	require.False(t, (&Result{HasStated: true, Stated: Unrated}).Disagrees())
	require.False(
		t,
		(&Result{HasStated: true, Stated: Act, Computed: Table{Steady}}).Disagrees(),
		"worse is no disagreement",
	)
}

func TestParse(t *testing.T) {
	for _, s := range []Standing{Unrated, Steady, Watch, Act} {
		got, ok := Parse(s.Code())
		require.True(t, ok)
		require.Equal(t, s, got)
	}
	_, ok := Parse("red")
	require.False(t, ok)
	for _, s := range []string{"1/2", "x", "1e3"} {
		_, err := ParseLimit(s)
		require.Error(t, err, s)
	}
}
