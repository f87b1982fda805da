package costs_test

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/core/costs"
	"turret/internal/core/earned"
	"turret/internal/core/portfolio"
)

// TestLineSums: of random lines a sum is that of the stated cells, from any period
// to any other, within the line or beyond it.
func TestLineSums(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 11))
	o := office()
	for range 200 {
		cells := make([]int64, 1+r.IntN(9))
		for i := range cells {
			cells[i] = r.Int64N(2001) - 1000
		}
		cells[0], cells[len(cells)-1] = 1+r.Int64N(500), 1+r.Int64N(500) // a line has its ends
		p := &portfolio.Project{
			Code:     "X",
			Currency: "EUR",
			State:    portfolio.Active,
			Plan:     []portfolio.Version{{Number: 1, Lines: []portfolio.Line{line(11, "capex", "EUR", cells...)}}},
		}
		of := costs.Of(
			earned.NewProgress(portfolio.At(o, p, calendar.Period(at(2)), portfolio.Latest)),
			"EUR",
			costs.Usual,
		)
		require.Empty(t, of.Why)
		l := &of.Lines[0]
		require.Equal(t, calendar.Period(at(1)), l.First)
		require.Equal(t, calendar.Period(at(1+len(cells))), l.After())
		for range 30 {
			from, to := r.IntN(14)-2, r.IntN(14)-2
			var want int64
			for m := from; m <= to; m++ {
				if m >= 1 && m <= len(cells) {
					want += cells[m-1]
				}
			}
			require.Equal(
				t,
				want,
				l.Sum(calendar.Period(at(from)), calendar.Period(at(to))),
				"%v from %d to %d",
				cells,
				from,
				to,
			)
		}
		for i, n := range cells {
			require.Equal(t, n, l.Amount(calendar.Period(at(i+1))))
		}
	}
}

// TestLineBeyondReach: a line whose sum no 64 bits hold keeps its project out, with
// the reason.
func TestLineBeyondReach(t *testing.T) {
	const most = int64(1<<63 - 1)
	p := &portfolio.Project{
		Code:     "X",
		Currency: "EUR",
		State:    portfolio.Active,
		Plan:     []portfolio.Version{{Number: 1, Lines: []portfolio.Line{line(11, "capex", "EUR", most, most)}}},
	}
	of := costs.Of(
		earned.NewProgress(portfolio.At(office(), p, calendar.Period(at(2)), portfolio.Latest)),
		"EUR",
		costs.Usual,
	)
	require.Equal(t, "its sum is beyond 64 bits", of.Why)
	require.Empty(t, of.Lines)
}

// TestJoinOfTwoVersions: rows that only one version has stand in their order, each
// with the amounts of its own version.
func TestJoinOfTwoVersions(t *testing.T) {
	o := office()
	of := func(lines ...portfolio.Line) []*costs.Project {
		p := &portfolio.Project{
			ID:       1,
			Code:     "X",
			Currency: "EUR",
			State:    portfolio.Active,
			Plan:     []portfolio.Version{{Number: 1, Lines: lines}},
		}
		return []*costs.Project{
			costs.Of(
				earned.NewProgress(portfolio.At(o, p, calendar.Period(at(2)), portfolio.Latest)),
				"EUR",
				costs.Usual,
			),
		}
	}
	q := costs.Query{
		Rows:    []costs.Dimension{costs.ByClass},
		Columns: []costs.Column{{Name: "All", From: calendar.Period(at(1)), To: calendar.Period(at(9))}},
	}
	x := costs.Compare(
		q,
		o,
		of(line(11, "b", "EUR", 1), line(11, "d", "EUR", 2)),
		o,
		of(line(11, "a", "EUR", 3), line(11, "b", "EUR", 4), line(11, "e", "EUR", 5)),
	)
	got := make(map[string][2]int64)
	var order []string
	for _, r := range x.Root.Below {
		order = append(order, r.Key)
		first, _ := x.Value(r, 0, costs.Planned, 0)
		second, known := x.Value(r, 1, costs.Planned, 0)
		require.True(t, known)
		got[r.Key] = [2]int64{first, second}
	}
	require.Equal(t, []string{"a", "b", "d", "e"}, order)
	require.Equal(t, map[string][2]int64{"a": {0, 3}, "b": {1, 4}, "d": {2, 0}, "e": {0, 5}}, got)
}

// TestActivityAlone: only the lines of an activity count where one is asked for.
func TestActivityAlone(t *testing.T) {
	o := office()
	one, other := line(11, "capex", "EUR", 7), line(11, "capex", "EUR", 5)
	one.Activity = "A1"
	p := &portfolio.Project{
		Code:     "X",
		Currency: "EUR",
		State:    portfolio.Active,
		Plan:     []portfolio.Version{{Number: 1, Lines: []portfolio.Line{one, other}}},
	}
	of := costs.Of(earned.NewProgress(portfolio.At(o, p, calendar.Period(at(2)), portfolio.Latest)), "EUR", costs.Usual)
	for activity, want := range map[string]int64{"": 12, "A1": 7, "A2": 0} {
		q := costs.Query{
			Activity: activity,
			Columns:  []costs.Column{{Name: "All", From: calendar.Period(at(1)), To: calendar.Period(at(9))}},
		}
		n, _ := costs.New(q, o, []*costs.Project{of}).
			Value(costs.New(q, o, []*costs.Project{of}).Root, 0, costs.Planned, 0)
		require.Equal(t, want, n, activity)
	}
}
