package costs_test

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/core/costs"
	"turret/internal/core/earned"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
)

func side(month int, projects ...*portfolio.Project) costs.Side {
	o := office()
	s := costs.Side{At: calendar.Period(at(month)), Office: o}
	for _, p := range projects {
		s.Projects = append(
			s.Projects,
			costs.Of(earned.NewProgress(portfolio.At(o, p, s.At, portfolio.Latest)), "EUR", costs.Usual),
		)
	}
	return s
}

func bridge(m costs.Measure, a, b costs.Side) *costs.Bridge {
	return costs.NewBridge(m, calendar.Period(at(1)), calendar.Period(at(12)), office().Periods, a, b)
}

// forecast is a project whose forecast stated in a month has some cells by
// month of 2026, beyond December in 2027.
func forecast(code string, month int, actual []int64, cells ...int64) *portfolio.Project {
	p := &portfolio.Project{
		ID:       1,
		Code:     code,
		Name:     code,
		Currency: "EUR",
		Forecast: []portfolio.Version{{Number: at(month), Lines: []portfolio.Line{line(11, "capex", "EUR", cells...)}}},
	}
	if actual != nil {
		p.Actual = []portfolio.Line{line(11, "capex", "EUR", actual...)}
	}
	return p
}

func TestBridge(t *testing.T) {
	january := forecast("P", 1, []int64{10_00}, 0, 20_00, 30_00, 40_00)
	for what, c := range map[string]struct {
		a, b costs.Side
		want map[costs.Cause]int64
	}{
		// February's 20 became 26; of March's 30, 5 moved to April, which has 50: 5 more of the same.
		"booked, and changed": {side(1, january), side(2, forecast("P", 2, []int64{10_00, 26_00}, 0, 0, 25_00, 50_00)), map[costs.Cause]int64{costs.TurnedActual: 6_00, costs.MoreOrLess: 5_00}},
		// 30 of this year are 10 in it and 20 in January 2027, beyond the span: moved out; 8 of the next year are new.
		"moved into the next year": {side(1, forecast("P", 1, nil, 0, 0, 30_00)), side(1, forecast("P", 1, nil, 0, 0, 10_00, 0, 0, 0, 0, 0, 0, 0, 0, 0, 28_00)), map[costs.Cause]int64{costs.MovedInTime: -20_00}},
		"a project is new":         {side(1, january), side(1, january, forecast("Q", 1, nil, 0, 7_00)), map[costs.Cause]int64{costs.ProjectOnlyInOne: 7_00}},
		"a project is gone":        {side(1, january, forecast("Q", 1, nil, 0, 7_00)), side(1, january), map[costs.Cause]int64{costs.ProjectOnlyInOne: -7_00}},
		"nothing changed":          {side(1, january), side(1, january), map[costs.Cause]int64{}},
	} {
		b := bridge(costs.Running, c.a, c.b)
		for cause := range costs.Causes {
			require.Equal(t, c.want[cause], b.Steps[cause], "%s: %s", what, cause.Title())
		}
	}

	// A line in kroner, the same amount at 0.10 and 0.11; and a line that is new.
	a, b := forecast("P", 1, nil), forecast("P", 2, nil)
	a.Forecast[0].Lines = []portfolio.Line{line(12, "opex", "NOK", 0, 0, 100_00)}
	b.Forecast[0].Lines = []portfolio.Line{line(12, "opex", "NOK", 0, 0, 100_00), line(121, "opex", "EUR", 0, 0, 3_00)}
	got := bridge(costs.Running, side(1, a), side(2, b))
	require.EqualValues(t, 1_00, got.Steps[costs.CurrencyRate])
	require.EqualValues(t, 3_00, got.Steps[costs.LineOnlyInOne])
	require.Equal(t, []int64{10_00, 14_00}, []int64{got.From, got.To})

	// Another baseline: piles are 120 for 100, timber stays at 50.
	plan := pier()
	plan.Baselines = []portfolio.Baseline{{Number: 2, Approved: calendar.DateOf(2026, 2, 10)}}
	plan.Plan = append(
		plan.Plan,
		portfolio.Version{
			Number: 2,
			Lines:  []portfolio.Line{line(11, "capex", "NOK", 100_00, 120_00), line(121, "opex", "NOK", 50_00, 50_00)},
		},
	)
	rebased := bridge(costs.Planned, side(1, plan), side(2, plan))
	// In kroner the piles go from 400 to 220 and the timber from 200 to 100; at 0.10 that is 28 less.
	require.EqualValues(t, -28_00, rebased.Steps[costs.BaselineChange])
	require.Equal(t, rebased.To-rebased.From, rebased.Steps[costs.BaselineChange])
}

// TestBridgesAddUp: with random statements of random lines, currencies and
// baselines the steps are the change, the parts are the steps, and both ends are
// what the tables of the two versions say.
func TestBridgesAddUp(t *testing.T) {
	r := rand.New(rand.NewPCG(9, 9))
	o := office()
	random := func(code string) *portfolio.Project {
		p := &portfolio.Project{
			ID:        1,
			Code:      code,
			Name:      code,
			Currency:  "EUR",
			Baselines: []portfolio.Baseline{{Number: 2, Approved: calendar.DateOf(2026, 3, 10)}},
		}
		lines := func() (out []portfolio.Line) {
			for _, code := range []int64{11, 12, 121, 9} {
				for _, currency := range []money.Currency{"EUR", "NOK"} {
					if r.IntN(3) == 0 {
						continue
					}
					cells := make([]int64, 16)
					for i := range cells {
						if r.IntN(3) > 0 {
							cells[i] = r.Int64N(100_00) - 10_00
						}
					}
					out = append(out, line(code, "opex", currency, cells...))
				}
			}
			return out
		}
		p.Plan = []portfolio.Version{{Number: 1, Lines: lines()}, {Number: 2, Lines: lines()}}
		p.Actual, p.Ledger, p.Accrual = lines(), lines(), lines()
		for m := 1; m <= 5; m++ {
			if r.IntN(2) == 0 {
				p.Forecast = append(p.Forecast, portfolio.Version{Number: at(m), Lines: lines()})
			}
		}
		return p
	}
	for range 200 {
		list := []*portfolio.Project{random("A"), random("B"), random("C")}
		x, y := 1+r.IntN(5), 1+r.IntN(5)
		a, b := side(x, list[:1+r.IntN(3)]...), side(y, list[r.IntN(2):]...)
		from := at(1 + r.IntN(12))
		to := from + r.IntN(8)
		for _, m := range []costs.Measure{costs.Planned, costs.Running} {
			got := costs.NewBridge(m, calendar.Period(from), calendar.Period(to), o.Periods, a, b)
			var steps int64
			parts := make(map[costs.Cause]int64)
			for _, n := range got.Steps {
				steps += n
			}
			for _, p := range got.Parts {
				parts[p.Cause] += p.Amount
			}
			require.Equal(t, got.To-got.From, steps)
			for cause := range costs.Causes {
				require.Equal(t, got.Steps[cause], parts[cause])
			}
			both := costs.Compare(
				costs.Query{Columns: []costs.Column{{"All", calendar.Period(from), calendar.Period(to)}}},
				o,
				a.Projects,
				o,
				b.Projects,
			)
			first, _ := both.Value(both.Root, 0, m, 0)
			second, _ := both.Value(both.Root, 1, m, 0)
			require.Equal(t, []int64{first, second}, []int64{got.From, got.To}, m)
		}
	}
}
