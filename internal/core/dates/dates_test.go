package dates

import (
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
)

// TestMilestones looks at 30 November 2026, a Monday.
func TestMilestones(t *testing.T) {
	day := func(m, d int) calendar.Date { return calendar.DateOf(2026, m, d) }
	o := &portfolio.Office{Reporting: "EUR", Periods: calendar.Months(1), Rates: money.NewRates("EUR")}
	o.Settle()
	nov := o.Periods.Of(day(11, 1))
	for _, c := range []struct {
		name                    string
		baseline, current, done calendar.Date
		state                   State
		slip                    int
	}{
		{"met late", day(11, 2), day(11, 4), day(11, 6), Met, 4},
		{"met early", day(11, 6), 0, day(11, 2), Met, -4},
		{"missed, new date ahead", day(11, 2), day(12, 4), 0, Missed, 24},
		{"missed, date left behind", day(11, 23), day(11, 24), 0, Missed, 5}, // to 30 November
		{"slipping", day(12, 7), day(12, 9), 0, Slipping, 2},
		{"ahead", day(12, 9), day(12, 7), 0, Ahead, -2},
		{"as planned", day(12, 9), day(12, 9), 0, AsPlanned, 0},
		{"no baseline", 0, day(12, 9), 0, Unknown, 0},
		{"actual date to come", day(12, 9), day(12, 9), day(12, 10), Slipping, 1},
	} {
		p := &portfolio.Project{
			Activities: []portfolio.Activity{
				{Kind: portfolio.Milestone, Level: "programme", Parent: -1, Finish: c.current},
			},
		}
		p.Baselines = []portfolio.Baseline{{Number: 1, Rows: []portfolio.BaselineRow{{Finish: c.baseline}}}}
		if c.done != 0 {
			p.Progress = []portfolio.Progress{
				{
					Period: nov,
					Rows:   []portfolio.ProgressRow{{Done: portfolio.Mark{Said: portfolio.Value, Int: int64(c.done)}}},
				},
			}
		}
		v := portfolio.At(o, p, nov, portfolio.Latest)
		m := Milestones(v)[0]
		require.Equal(t, c.state, m.State, c.name)
		require.Equal(t, c.slip, m.Slip, c.name)
		worst, ok := MissedSlip(v)
		require.Equal(t, c.baseline != 0, ok, c.name)
		if c.state == Missed {
			require.Equal(t, c.slip, worst.Slip, c.name)
		} else {
			require.Zero(t, worst.Slip, c.name)
		}
	}
}

// TestNextRaised: of the raised milestones that are not met the one that comes
// first, wherever it stands in the list.
func TestNextRaised(t *testing.T) {
	day := func(m, d int) calendar.Date { return calendar.DateOf(2026, m, d) }
	o := &portfolio.Office{Reporting: "EUR", Periods: calendar.Months(1), Rates: money.NewRates("EUR")}
	o.Settle()
	nov := o.Periods.Of(day(11, 1))
	type stone struct {
		finish, done calendar.Date
		level        string
	}
	for _, c := range []struct {
		name   string
		stones []stone
		next   calendar.Date // zero: there is none
	}{
		{"nothing", nil, 0},
		{"one", []stone{{day(12, 4), 0, "programme"}}, day(12, 4)},
		{"the first of three, in the midst", []stone{{day(12, 9), 0, "programme"}, {day(12, 4), 0, "programme"}, {day(12, 20), 0, "programme"}}, day(12, 4)},
		{"the first of three, at the end", []stone{{day(12, 9), 0, "programme"}, {day(12, 20), 0, "programme"}, {day(12, 4), 0, "programme"}}, day(12, 4)},
		{"one that was missed comes first", []stone{{day(12, 9), 0, "programme"}, {day(11, 4), 0, "programme"}}, day(11, 4)},
		{"one that is met is not to come", []stone{{day(12, 9), 0, "programme"}, {day(11, 4), day(11, 5), "programme"}}, day(12, 9)},
		{"one that is not raised", []stone{{day(12, 9), 0, "programme"}, {day(12, 4), 0, ""}}, day(12, 9)},
		{"one without a date", []stone{{0, 0, "programme"}, {day(12, 9), 0, "programme"}}, day(12, 9)},
		{"all are met", []stone{{day(11, 4), day(11, 5), "programme"}}, 0},
	} {
		p := &portfolio.Project{
			Baselines: []portfolio.Baseline{{Number: 1}},
			Progress:  []portfolio.Progress{{Period: nov}},
		}
		for i, m := range c.stones {
			p.Activities = append(
				p.Activities,
				portfolio.Activity{Kind: portfolio.Milestone, Level: m.level, Parent: -1, Finish: m.finish},
			)
			p.Baselines[0].Rows = append(p.Baselines[0].Rows, portfolio.BaselineRow{Activity: i, Finish: m.finish})
			if m.done != 0 {
				p.Progress[0].Rows = append(
					p.Progress[0].Rows,
					portfolio.ProgressRow{Activity: int32(i), Done: portfolio.Mark{Said: portfolio.Value, Int: int64(m.done)}},
				)
			}
		}
		next, ok := NextRaised(portfolio.At(o, p, nov, portfolio.Latest))
		require.Equal(t, c.next != 0, ok, c.name)
		require.Equal(t, c.next, next.Current, c.name)
	}
}
