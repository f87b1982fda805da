package earned

import (
	"math/big"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/core/exact"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
)

func day(t testing.TB, s string) calendar.Date {
	t.Helper()
	if s == "" {
		return 0
	}
	d, err := calendar.ParseDate(s)
	require.NoError(t, err)
	return d
}

func newOffice() *portfolio.Office {
	o := &portfolio.Office{
		Reporting: "EUR",
		Periods:   calendar.Months(1),
		Rates:     money.NewRates("EUR"),
		Codes: map[int64]portfolio.CostCode{
			1: {Code: "10"}, 2: {Code: "90", Reserve: "management"}, 3: {Code: "91", Parent: 2},
		},
	}
	o.Settle()
	return o
}

func said(n int64) portfolio.Mark { return portfolio.Mark{Said: portfolio.Value, Int: n} }

const percent = portfolio.Quantity

// one gives the view of a project with a single task of the rule, baselined
// from Mon 2 to Fri 13 November 2026: ten working days.
func one(t testing.TB, rule string, at string, row portfolio.ProgressRow, change func(*portfolio.Project)) *Progress {
	o := newOffice()
	p := &portfolio.Project{
		Currency: "EUR",
		TooEarly: -1,
		Activities: []portfolio.Activity{
			{Code: "1", Kind: portfolio.Task, Rule: rule, Parent: -1, Leaf: true, Units: 40 * portfolio.Quantity},
		},
	}
	p.Baselines = []portfolio.Baseline{
		{Number: 1, Rows: []portfolio.BaselineRow{{Start: day(t, "2026-11-02"), Finish: day(t, "2026-11-13")}}},
	}
	period := o.Periods.Of(day(t, at))
	p.Progress = []portfolio.Progress{{Period: period, Rows: []portfolio.ProgressRow{row}}}
	if change != nil {
		change(p)
	}
	return NewProgress(portfolio.At(o, p, period, portfolio.Latest))
}

func TestEarnedByRule(t *testing.T) {
	before, after := said(int64(day(t, "2026-11-20"))), said(int64(day(t, "2026-12-10")))
	steps := func(p *portfolio.Project) {
		p.Steps = []portfolio.Step{
			{Weight: 3, Done: day(t, "2026-11-05")},
			{Weight: 1},
			{Weight: 2, Done: day(t, "2026-12-01")},
		}
	}
	items := func(p *portfolio.Project) {
		p.Items = []portfolio.Item{
			{Activity: -1, Size: 5, Created: day(t, "2026-11-01"), Accepted: day(t, "2026-11-09")},
			{Activity: 0, Size: 3, Created: day(t, "2026-11-01")},
			{Activity: 0, Size: 9, Created: day(t, "2026-11-01"), Dropped: day(t, "2026-11-30")},
			{Activity: 0, Size: 2, Created: day(t, "2026-11-01"), Dropped: day(t, "2026-12-01")}, // still there
			{Activity: 0, Size: 9, Created: day(t, "2026-12-01")},                                // not there yet
		}
	}
	for _, c := range []struct {
		name, rule string
		row        portfolio.ProgressRow
		change     func(*portfolio.Project)
		want       string
	}{
		{"stated 30%", "stated", portfolio.ProgressRow{Percent: said(30 * percent)}, nil, "3/10"},
		{"stated 30% and finished", "stated", portfolio.ProgressRow{Percent: said(30 * percent), Done: before}, nil, "1"},
		{"stated 30%, finish to come", "stated", portfolio.ProgressRow{Percent: said(30 * percent), Done: after}, nil, "3/10"},
		{"started, never said", "stated", portfolio.ProgressRow{Began: before}, nil, "0"},
		{"cleared", "stated", portfolio.ProgressRow{Percent: portfolio.Mark{Said: portfolio.None}}, nil, "0"},
		{"0-100 running", "0-100", portfolio.ProgressRow{Percent: said(99 * percent), Began: before}, nil, "0"},
		{"0-100 finished", "0-100", portfolio.ProgressRow{Done: before}, nil, "1"},
		{"50-50 waiting", "50-50", portfolio.ProgressRow{Began: after}, nil, "0"},
		{"50-50 started", "50-50", portfolio.ProgressRow{Began: before}, nil, "1/2"},
		{"50-50 finished", "50-50", portfolio.ProgressRow{Began: before, Done: before}, nil, "1"},
		{"units 15 of 40", "units", portfolio.ProgressRow{Units: said(15 * portfolio.Quantity)}, nil, "3/8"},
		{"units 50 of 40", "units", portfolio.ProgressRow{Units: said(50 * portfolio.Quantity)}, nil, "1"},
		{"units finished counts nothing", "units", portfolio.ProgressRow{Units: said(10 * portfolio.Quantity), Done: before}, nil, "1/4"},
		{"steps 3 of 6", "steps", portfolio.ProgressRow{}, steps, "1/2"},
		{"steps without any", "steps", portfolio.ProgressRow{}, nil, "0"},
		{"items 5 of 10", "items", portfolio.ProgressRow{}, items, "1/2"},
		{"items without any", "items", portfolio.ProgressRow{}, nil, "0"},
		{"elapsed over", "elapsed", portfolio.ProgressRow{}, nil, "1"},
	} {
		p := one(t, c.rule, "2026-11-30", c.row, c.change)
		f, why := p.Share(p.Period)
		require.Empty(t, why, c.name)
		require.Equal(t, c.want, f.Rat().RatString(), c.name)
	}
}

func TestElapsedInTheMiddle(t *testing.T) {
	p := one(
		t,
		"elapsed",
		"2026-11-30",
		portfolio.ProgressRow{},
		func(p *portfolio.Project) { // 2 Nov to 11 Dec: 30 working days, 21 through November
			p.Baselines[0].Rows[0].Finish = day(t, "2026-12-11")
		},
	)
	f, _ := p.Share(p.Period)
	require.Equal(t, "7/10", f.Rat().RatString())
	num, den := p.ElapsedShare()
	require.Equal(t, [2]int64{21, 30}, [2]int64{num, den})
	f, _ = p.Share(p.Period - 1)
	require.Equal(t, "0", f.Rat().RatString(), "before it begins")
}

func TestShareUnknown(t *testing.T) {
	off := one(t, "stated", "2026-11-30", portfolio.ProgressRow{}, func(p *portfolio.Project) { p.EarnedOff = true })
	_, why := off.Share(off.Period)
	require.Equal(t, "earned value is turned off for this project", why)
	bare := one(t, "stated", "2026-11-30", portfolio.ProgressRow{}, func(p *portfolio.Project) { p.Baselines = nil })
	_, why = bare.Share(bare.Period)
	require.Contains(t, why, "weigh")
}

// TestWeights: budgets rule where any is above zero, else baseline days, else
// current ones; what the baseline in force does not name weighs nothing.
func TestWeights(t *testing.T) {
	o := newOffice()
	task := func(code string) portfolio.Activity {
		return portfolio.Activity{
			Code:   code,
			Kind:   portfolio.Task,
			Rule:   "stated",
			Parent: -1,
			Leaf:   true,
			Start:  day(t, "2026-11-02"),
			Finish: day(t, "2026-11-03"),
		}
	}
	p := &portfolio.Project{Currency: "EUR", Activities: []portfolio.Activity{task("a"), task("b"), task("c")}}
	first := portfolio.Baseline{
		Number: 1,
		Rows: []portfolio.BaselineRow{
			{Activity: 0, Start: day(t, "2026-11-02"), Finish: day(t, "2026-11-06")},
			{Activity: 1},
		},
	}
	second := portfolio.Baseline{
		Number:   2,
		Approved: day(t, "2026-11-15"),
		Rows: []portfolio.BaselineRow{
			{Activity: 0, HasBudget: true, Budget: 500},
			{Activity: 2, Start: day(t, "2026-11-02"), Finish: day(t, "2026-11-06")},
		},
	}
	p.Baselines = []portfolio.Baseline{first, second}
	weights := func(at string, against portfolio.Against) []int64 {
		pr := NewProgress(portfolio.At(o, p, o.Periods.Of(day(t, at)), against))
		var out []int64
		for _, l := range pr.Leaves {
			out = append(out, l.Weight)
		}
		return out
	}
	require.Equal(
		t,
		[]int64{5, 2, 0},
		weights("2026-10-31", portfolio.Latest),
		"five baseline days, two current ones, not in the baseline",
	)
	require.Equal(t, []int64{500, 0, 0}, weights("2026-11-30", portfolio.Latest), "baseline 2 is approved by then")
	require.Equal(t, []int64{5, 2, 0}, weights("2026-11-30", portfolio.Original))
	p.Baselines = nil
	require.Equal(t, []int64{2, 2, 2}, weights("2026-11-30", portfolio.Latest), "no baseline at all: Mon 2 and Tue 3 November")
	p.Baselines = []portfolio.Baseline{{Number: 1, Rows: []portfolio.BaselineRow{{Activity: 0}}}}
	require.Equal(t, []int64{2, 2, 2}, weights("2026-11-30", portfolio.Latest), "one that says nothing of dates and budgets")
}

// TestLate: of four tasks that were to be done by Fri 6 November, or have no such day, on
// Mon 30: one is done, one was done on the last day, one is not, and one has no day.
func TestLate(t *testing.T) {
	o := newOffice()
	p := &portfolio.Project{Currency: "EUR"}
	var rows []portfolio.BaselineRow
	var said4 []portfolio.ProgressRow
	for i, done := range []string{"2026-11-05", "2026-11-30", "", ""} {
		p.Activities = append(p.Activities, portfolio.Activity{
			Code: string(rune('a' + i)), Kind: portfolio.Task, Rule: "stated", Parent: -1, Leaf: true,
		})
		row := portfolio.BaselineRow{Activity: i, HasBudget: true, Budget: int64(100 * (i + 1))}
		if i < 3 {
			row.Start, row.Finish = day(t, "2026-11-02"), day(t, "2026-11-06")
		}
		rows = append(rows, row)
		progress := portfolio.ProgressRow{Activity: int32(i)}
		if done != "" {
			progress.Done = said(int64(day(t, done)))
		}
		said4 = append(said4, progress)
	}
	p.Baselines = []portfolio.Baseline{{Number: 1, Rows: rows}}
	at := o.Periods.Of(day(t, "2026-11-30"))
	p.Progress = []portfolio.Progress{{Period: at, Rows: said4}}
	n, late := NewProgress(portfolio.At(o, p, at, portfolio.Latest)).LateWeight()
	require.Equal(t, int64(300), n)
	require.Equal(t, []int{2}, late)
	n, late = NewProgress(portfolio.At(o, p, at-1, portfolio.Latest)).LateWeight()
	require.Zero(t, n, "in October nothing was due")
	require.Empty(t, late)
}

func lines(cur money.Currency, code int64, cells ...portfolio.Cell) []portfolio.Line {
	return []portfolio.Line{{CodeID: code, Flow: portfolio.Cost, Currency: cur, Cells: cells}}
}

// TestMoney: plan 100 + 200 in months 11 and 12, 50 of reserve beside it;
// booked 80, accrued 15 in month 11 and taken back in 12; forecast from 11.
func TestMoney(t *testing.T) {
	o := newOffice()
	nov := o.Periods.Of(day(t, "2026-11-01"))
	p := &portfolio.Project{Currency: "EUR"}
	p.Plan = []portfolio.Version{
		{
			Number: 1,
			Lines: append(
				append(
					lines(
						"EUR",
						1,
						portfolio.Cell{Period: nov, Amount: 100},
						portfolio.Cell{Period: nov + 1, Amount: 200},
					),
					lines("EUR", 2, portfolio.Cell{Period: nov, Amount: 50})...),
				lines("EUR", 3, portfolio.Cell{Period: nov, Amount: 70})...),
		},
	}
	p.Actual = lines("EUR", 1, portfolio.Cell{Period: nov, Amount: 60}, portfolio.Cell{Period: nov + 1, Amount: 90})
	p.Ledger = lines("EUR", 2, portfolio.Cell{Period: nov, Amount: 20})
	p.Accrual = lines("EUR", 1, portfolio.Cell{Period: nov, Amount: 15})
	p.Forecast = []portfolio.Version{
		{
			Number: int(nov),
			Lines: lines(
				"EUR",
				1,
				portfolio.Cell{Period: nov, Amount: 999},
				portfolio.Cell{Period: nov + 1, Amount: 150},
			),
		},
	}
	p.Commitment = []portfolio.Version{
		{
			Number: int(nov),
			Lines: lines(
				"EUR",
				1,
				portfolio.Cell{Period: nov - 2, Amount: 30},
				portfolio.Cell{Period: nov + 3, Amount: 12},
			),
		},
	}
	m := NewMoney(NewProgress(portfolio.At(o, p, nov, portfolio.Latest)), "EUR")
	require.Equal(t, int64(300), m.Plan.Total(), "management reserve, and what lies below it, stays out")
	require.Equal(t, int64(100), m.Plan.At(nov))
	require.Equal(t, int64(0), m.Plan.At(nov-1))
	require.Equal(t, int64(300), m.Plan.At(nov+9))
	require.Equal(t, int64(60+20+15), m.AC(nov), "every code counts as spent, with the month's accruals")
	require.Equal(t, int64(150), m.ToGo, "forecast cells of periods gone do not count")
	require.Equal(t, int64(42), m.OnOrder, "overdue orders are still open")
	dec := NewMoney(NewProgress(portfolio.At(o, p, nov+1, portfolio.Latest)), "EUR")
	require.Equal(t, int64(60+20+90), dec.AC(nov+1), "the accrual is taken back")
	oct := NewMoney(NewProgress(portfolio.At(o, p, nov-1, portfolio.Latest)), "EUR")
	require.NotEmpty(t, oct.ToGoWhy)
	require.NotEmpty(t, oct.OnOrderWhy)
}

// TestSpreadBudgets: 1001 over ten working days of which five lie in each
// month: 500.5 rounds to the even 500, and the rest follows.
func TestSpreadBudgets(t *testing.T) {
	p := one(t, "stated", "2026-11-30", portfolio.ProgressRow{}, func(p *portfolio.Project) {
		p.Baselines[0].Rows[0] = portfolio.BaselineRow{
			HasBudget: true,
			Budget:    1001,
			Start:     day(t, "2026-11-24"),
			Finish:    day(t, "2026-12-07"),
		}
	})
	m := NewMoney(p, "EUR")
	require.False(t, m.FromPlan)
	require.Equal(t, []int64{500, 1001}, m.Plan.Cum)
}

func TestUnconvertible(t *testing.T) {
	p := one(t, "stated", "2026-11-30", portfolio.ProgressRow{}, func(p *portfolio.Project) {
		p.Currency = "NOK"
		p.Plan = []portfolio.Version{{Number: 1, Lines: lines("NOK", 1, portfolio.Cell{Period: 24000, Amount: 5})}}
	})
	require.Equal(t, money.Currency("NOK"), NewMoney(p, "EUR").Unconvertible())
	require.Empty(t, NewMoney(p, "NOK").Unconvertible())
	require.Contains(t, NewMoney(p, "EUR").PlanWhy, "no rate for NOK")
}

// TestSchedule follows the definition: cumulative plan 100, 250, 450, 600.
func TestSchedule(t *testing.T) {
	pv := Series{First: 100, Cum: []int64{100, 250, 450, 600}}
	at := func(p calendar.Period, ev int64) (Schedule, string) {
		return NewSchedule(pv, p, func(calendar.Period) (int64, bool) { return ev, true })
	}
	for _, c := range []struct {
		p    calendar.Period
		ev   int64
		want string
		at   int
	}{
		{102, 300, "9/4", 3}, // 2 + 50 ÷ 200
		{102, 250, "2", 3},   // exactly what was planned through the second
		{100, 40, "2/5", 1},  // 0 + 40 ÷ 100
		{101, 0, "0", 2},
		{105, 599, "599/600", 6},
	} {
		s, why := at(c.p, c.ev)
		require.Empty(t, why)
		if c.ev == 599 { // 3 + 149 ÷ 150
			c.want = "599/150"
		}
		require.Equal(t, c.want, s.ES.Rat().RatString(), c)
		require.Equal(t, c.at, s.AT)
		require.Equal(t, 4, s.PD)
	}
	_, why := at(99, 10)
	require.Equal(t, "it is before the first plan period", why)
	_, why = NewSchedule(Series{}, 100, nil)
	require.Equal(t, "nothing is planned", why)
}

// TestScheduleStops: after the period in which all was earned, time stands
// still.
func TestScheduleStops(t *testing.T) {
	pv := Series{First: 100, Cum: []int64{50, 100}}
	s, _ := NewSchedule(pv, 106, func(q calendar.Period) (int64, bool) {
		if q >= 103 {
			return 100, true
		}
		return 60, true
	})
	require.Equal(t, "2", s.ES.Rat().RatString())
	require.Equal(t, 4, s.AT, "100, 101, 102 and 103, in which it was reached")
}

func TestComputedFinish(t *testing.T) {
	ps := calendar.Months(1)
	first := ps.Of(day(t, "2025-09-01"))
	for _, c := range []struct {
		es     *big.Rat
		at, pd int
		want   string
	}{
		{big.NewRat(14791861, 1000000), 15, 16, "2027-01-07"}, // 16.2251…: 0.2251 × 31 = 6.98, so the 7th of the 17th month
		{big.NewRat(4, 1), 4, 6, "2026-02-28"},                // exactly six months: the last day of the sixth
		{big.NewRat(3, 1), 4, 6, "2026-04-30"},                // eight months
		{big.NewRat(0, 1), 4, 6, ""},
		{big.NewRat(1, 1000000), 4, 6, ""}, // beyond the calendar
	} {
		s := Schedule{ES: exact.FromRat(c.es), AT: c.at, PD: c.pd}
		require.Equal(t, c.want, s.Finish(ps, first).String(), c)
	}
	require.Zero(t, Schedule{}.Finish(ps, first))
}

// TestIncome: 500 planned; 120 booked and 30 accrued through November, of which
// the accrual is the month's own; 300 to come. Cost beside it is no income.
func TestIncome(t *testing.T) {
	o := newOffice()
	nov := o.Periods.Of(day(t, "2026-11-01"))
	income := func(cells ...portfolio.Cell) portfolio.Line {
		l := lines("EUR", 1, cells...)[0]
		l.Flow = portfolio.Income
		return l
	}
	p := &portfolio.Project{Currency: "EUR"}
	p.Plan = []portfolio.Version{
		{
			Number: 1,
			Lines: append(
				lines("EUR", 1, portfolio.Cell{Period: nov, Amount: 100}),
				income(portfolio.Cell{Period: nov, Amount: 200}, portfolio.Cell{Period: nov + 5, Amount: 300}),
			),
		},
	}
	p.Actual = append(
		lines("EUR", 1, portfolio.Cell{Period: nov, Amount: 60}),
		income(portfolio.Cell{Period: nov - 1, Amount: 50}, portfolio.Cell{Period: nov + 1, Amount: 999}),
	)
	p.Ledger = []portfolio.Line{income(portfolio.Cell{Period: nov, Amount: 70})}
	p.Accrual = []portfolio.Line{
		income(portfolio.Cell{Period: nov - 1, Amount: 11}, portfolio.Cell{Period: nov, Amount: 30}),
	}
	p.Forecast = []portfolio.Version{
		{
			Number: int(nov),
			Lines: []portfolio.Line{
				income(portfolio.Cell{Period: nov, Amount: 888}, portfolio.Cell{Period: nov + 2, Amount: 300}),
			},
		},
	}
	of := func(currency money.Currency) Income {
		return NewMoney(NewProgress(portfolio.At(o, p, nov, portfolio.Latest)), currency).Income()
	}
	require.Equal(t, Income{Plan: 500, Booked: 50 + 70 + 30, ToGo: 300}, of("EUR"))
	p.Plan[0].Lines = p.Plan[0].Lines[:1]
	require.Equal(t, "no income is planned", of("EUR").PlanWhy)
	p.Ledger[0].Currency = "NOK"
	require.Contains(t, of("EUR").Why, "no rate for NOK")
	p.Actual, p.Ledger, p.Accrual, p.Forecast = p.Actual[:1], nil, nil, nil
	require.Equal(t, "it has no income", of("EUR").Why)
}

// What is far from the first period that was met is converted and not kept.
func TestConversionsFarAway(t *testing.T) {
	var k conversions
	c := money.Converter{}
	require.NotNil(t, k.put(1000, c))
	for p, kept := range map[calendar.Period]bool{1000: true, 940: true, 1059: true, 939: false, 1060: false, 1: false} {
		require.NotNil(t, k.put(p, c), "%d", p)
		require.Equal(t, kept, k.has(p) != nil, "%d", p)
	}
	require.Nil(t, k.has(999), "it was not put")
}
