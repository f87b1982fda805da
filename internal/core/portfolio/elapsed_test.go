package portfolio_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
)

// TestElapsed: what is spent only because time passed, by month of 2026. The plan is 10 a month
// on works, 3 on management reserve and 5 of income; from March on a second baseline of 20 a
// month holds. 7 are booked in February; from 15 April on the project is on hold.
func TestElapsed(t *testing.T) {
	o := &portfolio.Office{
		Periods: calendar.Months(1),
		Codes:   map[int64]portfolio.CostCode{1: {Code: "10"}, 9: {Code: "90", Reserve: "management"}},
	}
	at := func(m int) calendar.Period { return o.Periods.Near(calendar.DateOf(2026, m, 1)) }
	line := func(code int64, flow portfolio.Flow, amount int64) portfolio.Line {
		l := portfolio.Line{CodeID: code, Flow: flow, Currency: "EUR"}
		for m := 1; m <= 6; m++ {
			l.Cells = append(l.Cells, portfolio.Cell{Period: at(m), Amount: amount})
		}
		return l
	}
	p := &portfolio.Project{
		State: portfolio.OnHold, Since: calendar.DateOf(2026, 4, 15), FromTime: true,
		Baselines: []portfolio.Baseline{{Number: 1}, {Number: 2, State: portfolio.PlanApproved, Approved: calendar.DateOf(2026, 3, 10)}, {Number: 3, State: portfolio.PlanProposed}},
		Plan: []portfolio.Version{
			{Number: 1, Lines: []portfolio.Line{line(1, portfolio.Cost, 10), line(9, portfolio.Cost, 3), line(1, portfolio.Income, 5)}},
			{Number: 2, Lines: []portfolio.Line{line(1, portfolio.Cost, 20)}},
			{Number: 3, Lines: []portfolio.Line{line(1, portfolio.Cost, 99)}},
		},
		Ledger: []portfolio.Line{{CodeID: 1, Flow: portfolio.Cost, Cells: []portfolio.Cell{{Period: at(2), Amount: 7}}}},
	}
	told := func(through int) map[int]int64 {
		out := make(map[int]int64)
		for _, l := range portfolio.Elapsed(o, p, at(through)) {
			require.Equal(t, portfolio.Cost, l.Flow)
			for _, c := range l.Cells {
				out[int(c.Period-at(1))+1] += c.Amount
			}
		}
		return out
	}
	require.Equal(t, map[int]int64{1: 10}, told(1))
	require.Equal(t, map[int]int64{1: 10}, told(2), "February is booked")
	require.Equal(t, map[int]int64{1: 10, 3: 20}, told(3))
	require.Equal(t, map[int]int64{1: 10, 3: 20, 4: 20}, told(6), "April began while it ran")
	p.Ledger[0].Flow = portfolio.Income
	require.Equal(t, map[int]int64{1: 10, 2: 10, 3: 20, 4: 20}, told(6), "income that is booked is no cost")
	p.Ledger = nil
	p.Actual = []portfolio.Line{{Flow: portfolio.Cost, Cells: []portfolio.Cell{{Period: at(1), Amount: 0}}}}
	require.Equal(t, map[int]int64{2: 10, 3: 20, 4: 20}, told(6), "a total of nothing is booked too")
	p.FromTime = false
	require.Nil(t, portfolio.Elapsed(o, p, at(6)))
	require.Equal(t, int64(20), portfolio.At(o, p, at(5), portfolio.Latest).Plan.Lines[0].Cells[0].Amount)
	require.Nil(t, portfolio.At(o, p, at(5), portfolio.Latest).Elapsed)
}
