package portfolio

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
)

func newOffice() *Office {
	o := &Office{
		Reporting: "EUR",
		Periods:   calendar.Months(1),
		Rates:     money.NewRates("EUR"),
		Calendars: map[string]*calendar.Calendar{},
	}
	o.Settle()
	return o
}

func says(n int64) Mark { return Mark{Said: Value, Int: n} }

// TestStatusInForce: field by field the value last said at or before a period;
// "-" clears it.
func TestStatusInForce(t *testing.T) {
	o := newOffice()
	jan := o.Periods.Of(calendar.DateOf(2026, 1, 1))
	p := &Project{Activities: []Activity{{Code: "1", Start: 500, Finish: 600}}}
	p.Progress = []Progress{
		{Period: jan, Rows: []ProgressRow{{Percent: says(10), Finish: says(610), Source: Source{1, 2}}}},
		{Period: jan + 1, Rows: []ProgressRow{{Percent: says(20), Began: says(505), Source: Source{2, 2}}}},
		{
			Period: jan + 2,
			Rows:   []ProgressRow{{Percent: Mark{Said: None}, Finish: Mark{Said: None}, Source: Source{3, 2}}},
		},
	}
	settled := *p
	settled.Progress = slices.Clone(p.Progress)
	settled.Settle()
	require.Nil(t, settled.Progress[0].Rows)
	for q, want := range map[calendar.Period]Status{
		jan - 1: {Percent: -1, Units: -1, Start: 500, Finish: 600},
		jan:     {Percent: 10, Units: -1, Start: 500, Finish: 610, Source: Source{1, 2}, SaidIn: jan},
		jan + 1: {Percent: 20, Units: -1, Start: 500, Finish: 610, Began: 505, Source: Source{2, 2}, SaidIn: jan + 1},
		jan + 2: {Percent: -1, Units: -1, Start: 500, Began: 505, Source: Source{3, 2}, SaidIn: jan + 2},
		jan + 9: {Percent: -1, Units: -1, Start: 500, Began: 505, Source: Source{3, 2}, SaidIn: jan + 2},
	} {
		require.Equal(t, want, *p.Status(0, q), q)
		require.Equal(t, want, *settled.Status(0, q), q)
	}
}

// TestBaselineInForce: plan cells, and apart from them dates with budgets, each
// whole from the highest number approved that states any.
func TestBaselineInForce(t *testing.T) {
	o := newOffice()
	line := []Line{{Flow: Cost}}
	p := &Project{
		Activities: []Activity{{Code: "1", Kind: Task}},
		Plan:       []Version{{Number: 1, Lines: line}, {Number: 3, Lines: line}, {Number: 4}},
		Baselines: []Baseline{
			{Number: 1, Rows: []BaselineRow{{Start: 10, Finish: 20}}},
			{Number: 2, Approved: calendar.DateOf(2026, 2, 10), Rows: []BaselineRow{{Start: 30, Finish: 40}}},
			{Number: 3, Approved: calendar.DateOf(2026, 4, 10)},
			{Number: 4, Approved: calendar.DateOf(2026, 6, 10), Rows: []BaselineRow{{}}},
		},
	}
	for _, c := range []struct {
		month, number, plan, dates int
	}{{1, 1, 1, 1}, {2, 2, 1, 2}, {4, 3, 3, 2}, {6, 4, 3, 2}} {
		v := At(o, p, o.Periods.Of(calendar.DateOf(2026, c.month, 1)), Latest)
		require.Equal(
			t,
			[3]int{c.number, c.plan, c.dates},
			[3]int{v.Number, v.Plan.Number, v.BaselineNumber()},
			"month %d",
			c.month,
		)
		original := At(o, p, v.Period, Original)
		require.Equal(t, [3]int{1, 1, 1}, [3]int{original.Number, original.Plan.Number, original.BaselineNumber()})
	}
	bare := *p // one row, without dates or a budget: it still names what the plan is of
	bare.Baselines = []Baseline{{Number: 1, Rows: []BaselineRow{{}}}}
	require.NotNil(t, At(o, &bare, o.Periods.Of(calendar.DateOf(2026, 1, 1)), Latest).Row(0))
	p.Baselines = p.Baselines[:1]
	require.Equal(t, 4, At(o, p, 24312, Latest).Number, "a number without a record has no date either, and is in force")
}

func TestBaselineSpan(t *testing.T) {
	o := newOffice()
	p := &Project{Start: 5, Finish: 99, Activities: []Activity{{Kind: Summary}, {Kind: Task}, {Kind: Milestone}}}
	start, finish := At(o, p, 24312, Latest).BaselineSpan()
	require.Equal(t, [2]calendar.Date{5, 99}, [2]calendar.Date{start, finish}, "its own, without any")
	p.Baselines = []Baseline{
		{
			Number: 1,
			Rows: []BaselineRow{
				{Activity: 0, Start: 1, Finish: 200},
				{Activity: 1, Start: 20, Finish: 40},
				{Activity: 2, Finish: 60},
			},
		},
	}
	start, finish = At(o, p, 24312, Latest).BaselineSpan()
	require.Equal(t, [2]calendar.Date{20, 60}, [2]calendar.Date{start, finish}, "summaries do not count")
}

func TestStateAt(t *testing.T) {
	p := &Project{State: Finished, Since: 100}
	require.Equal(t, Active, p.StateAt(99))
	require.Equal(t, Finished, p.StateAt(100))
	p.Since = 0
	require.Equal(t, Finished, p.StateAt(1))
}

func TestOfficeCalendar(t *testing.T) {
	a, b := calendar.New("a", calendar.MondayToFriday, nil), calendar.New("office", calendar.Week{}, nil)
	o := &Office{Calendars: map[string]*calendar.Calendar{"a": a}}
	o.Settle()
	require.Same(t, a, o.CalendarOf(""), "the only one")
	o.Calendars["office"] = b
	o.Settle()
	require.Same(t, b, o.CalendarOf("unknown"), "the one coded office")
	require.Same(t, a, o.CalendarOf("a"))
	o.Calendar = "a"
	o.Settle()
	require.Same(t, a, o.CalendarOf(""), "the one set")
	o = &Office{}
	o.Settle()
	require.Equal(t, 5, o.CalendarOf("").Duration(calendar.DateOf(2026, 11, 2), calendar.DateOf(2026, 11, 8)))
}

func TestTrees(t *testing.T) {
	o := &Office{
		Codes: map[int64]CostCode{
			1: {},
			2: {Parent: 1, Reserve: "management"},
			3: {Parent: 2},
			4: {Parent: 5},
			5: {Parent: 4},
		},
		Groups: []Programme{
			{Code: "C", Parent: "B"},
			{Code: "A"},
			{Code: "B", Parent: "A"},
			{Code: "X", Parent: "Y"},
			{Code: "Y", Parent: "X"},
		},
	}
	o.Settle()
	for id, want := range map[int64]bool{1: false, 2: true, 3: true, 4: false, 9: false} {
		require.Equal(t, want, o.ManagementReserve(id), id)
	}
	require.True(t, o.Under("C", "A"))
	require.True(t, o.Under("A", "A"))
	require.False(t, o.Under("A", "C"))
	require.False(t, o.Under("X", "A"), "a loop ends")
	require.False(t, o.Under("", "A"))
}
