package costs_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/core/costs"
	"turret/internal/core/earned"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
)

// The office has codes 1 > 11, 12 > 121, and 9, a management reserve; kroner
// are worth 0.10 euro by plan, and 0.11 from February by the market.
var codes = map[int64]portfolio.CostCode{
	1:   {Code: "1", Name: "Works"},
	11:  {Code: "11", Name: "Piles", Parent: 1},
	12:  {Code: "12", Name: "Deck", Parent: 1},
	121: {Code: "121", Name: "Timber", Parent: 12},
	9:   {Code: "9", Name: "Reserve", Reserve: "management"},
}

func office() *portfolio.Office {
	ps := calendar.Months(1)
	o := &portfolio.Office{
		Reporting: "EUR", Periods: ps, Rates: money.NewRates("EUR"),
		Codes:  codes,
		Groups: []portfolio.Programme{{Code: "N", Name: "North", Parent: "Q"}, {Code: "Q", Name: "Quays"}},
	}
	rate := func(s string) money.Rate {
		r, err := money.ParseRate(s)
		if err != nil {
			panic(err)
		}
		return r
	}
	o.Rates.Put("NOK", money.PlanRates, at(1), rate("0.10"))
	o.Rates.Put("NOK", money.PeriodRates, at(1), rate("0.10"))
	o.Rates.Put("NOK", money.PeriodRates, at(2), rate("0.11"))
	o.Settle()
	return o
}

// at is a month of 2026.
func at(m int) int { return 2026*12 + m - 1 }

func line(code int64, class string, currency money.Currency, cells ...int64) portfolio.Line {
	l := portfolio.Line{CodeID: code, Code: codes[code].Code, Flow: portfolio.Cost, Class: class, Currency: currency}
	for i, n := range cells {
		if n != 0 {
			l.Cells = append(l.Cells, portfolio.Cell{Period: calendar.Period(at(i + 1)), Amount: n})
		}
	}
	return l
}

// pier is a project at the end of February, in kroner: planned 100 a month on
// piles and 50 on timber through April, with 1,000 in reserve; 90 and 120 were
// booked on piles, 30 accrued in January and 20 in February on timber; from
// March 110 and 130 are to come on piles, and what was forecast before is over.
func pier() *portfolio.Project {
	return &portfolio.Project{
		ID: 7, Code: "PIER", Name: "Pier", Programme: "N", Currency: "NOK", State: portfolio.Active,
		Plan: []portfolio.Version{
			{
				Number: 1,
				Lines: []portfolio.Line{
					line(11, "capex", "NOK", 100_00, 100_00, 100_00, 100_00),
					line(121, "opex", "NOK", 50_00, 50_00, 50_00, 50_00),
					line(9, "opex", "NOK", 0, 0, 0, 1000_00),
				},
			},
		},
		Actual:  []portfolio.Line{line(11, "capex", "NOK", 90_00), line(11, "capex", "NOK", 0, 0, 77_00)},
		Ledger:  []portfolio.Line{line(11, "capex", "NOK", 0, 120_00)},
		Accrual: []portfolio.Line{line(121, "opex", "NOK", 30_00, 20_00)},
		Forecast: []portfolio.Version{
			{Number: at(2), Lines: []portfolio.Line{line(11, "capex", "NOK", 0, 99_00, 110_00, 130_00)}},
		},
	}
}

func table(q costs.Query, currency money.Currency, rates costs.Rates) *costs.Table {
	o := office()
	p := costs.Of(
		earned.NewProgress(portfolio.At(o, pier(), calendar.Period(at(2)), portfolio.Latest)),
		currency,
		rates,
	)
	if q.Columns == nil {
		q.Columns = costs.Columns(
			o.Periods,
			costs.PerPeriod,
			calendar.Period(at(1)),
			calendar.Period(at(4)),
			calendar.Period(at(2)),
			calendar.Period(at(1)),
			calendar.Period(at(4)),
			false,
		)
	}
	return costs.New(q, o, []*costs.Project{p})
}

// row writes a row's amounts of a measure, one for each column.
func row(t *costs.Table, r *costs.Row, m costs.Measure) (out []int64) {
	for i := range t.Columns {
		n, _ := t.Value(r, 0, m, i)
		out = append(out, n)
	}
	return out
}

func TestMeasures(t *testing.T) {
	x := table(costs.Query{Rows: []costs.Dimension{costs.ByCode}}, "NOK", costs.Usual)
	for m, want := range map[costs.Measure][]int64{ // January to April, and together
		costs.Planned: {150_00, 150_00, 150_00, 150_00, 600_00}, // without the reserve
		costs.Booked:  {90_00, 120_00, 0, 0, 210_00},            // March was booked after the period
		costs.Accrued: {30_00, -10_00, 0, 0, 20_00},             // 20 − 30 taken back
		costs.Spent:   {120_00, 110_00, 0, 0, 230_00},
		costs.ToGo:    {0, 0, 110_00, 130_00, 240_00}, // not the 99 of February
		costs.Running: {120_00, 110_00, 110_00, 130_00, 470_00},
		costs.OnOrder: {0, 0, 0, 0, 0},
		// 150 − 120, 150 − 110, 150 − 110, 150 − 130
		costs.Variance: {30_00, 40_00, 40_00, 20_00, 130_00},
	} {
		require.Equal(t, want, row(x, x.Root, m), m)
	}
	require.EqualValues(t, 1000_00, x.Reserve)
	num, den, ok := x.Percent(x.Root, 0, 4)
	require.Equal(t, []any{int64(130_00), int64(600_00), true}, []any{num, den, ok})
	_, _, ok = x.Percent(x.Root, 1, 4)
	require.False(t, ok, "there is no second version")
	for _, m := range costs.Measures {
		require.NotEmpty(t, m.Title())
	}
}

// TestRates: every cell by itself, at its own rate; what is to come takes no rate
// of after the period.
func TestRates(t *testing.T) {
	usual := table(costs.Query{Rows: []costs.Dimension{costs.ByCode}}, "EUR", costs.Usual)
	// Plan at 0.10; January 90 × 0.10 + 30 × 0.10, then 120 × 0.11 + 20 × 0.11 − 3.00;
	// from March at 0.11: 12.10 and 14.30.
	require.Equal(t, []int64{15_00, 15_00, 15_00, 15_00, 60_00}, row(usual, usual.Root, costs.Planned))
	require.Equal(t, []int64{12_00, 12_40, 12_10, 14_30, 50_80}, row(usual, usual.Root, costs.Running))
	constant := table(costs.Query{Rows: []costs.Dimension{costs.ByCode}}, "EUR", costs.Constant)
	require.Equal(t, []int64{12_00, 11_00, 11_00, 13_00, 47_00}, row(constant, constant.Root, costs.Running))
}

func TestRows(t *testing.T) {
	name := func(r *costs.Row) string { return r.Name }
	x := table(
		costs.Query{Rows: []costs.Dimension{costs.ByProgramme, costs.ByProject, costs.ByCode, costs.ByClass}},
		"NOK",
		costs.Usual,
	)
	quays := x.Root.Below[0]
	require.Equal(
		t,
		[]string{"Quays", "North", "Pier"},
		[]string{name(quays), name(quays.Below[0]), name(quays.Below[0].Below[0])},
	)
	pier := quays.Below[0].Below[0]
	require.Len(t, pier.Below, 2, "the reserve and the works")
	works := pier.Below[0]
	require.Equal(t, []string{"Q", "N", "PIER", "1"}, works.Path())
	require.Equal(t, []string{"Piles", "Deck"}, []string{name(works.Below[0]), name(works.Below[1])})
	require.Equal(t, []int64{90_00, 120_00, 110_00, 130_00, 450_00}, row(x, works.Below[0], costs.Running))
	require.Equal(t, "opex", name(works.Below[1].Below[0].Below[0]))
	for _, r := range []*costs.Row{quays, quays.Below[0], pier, works} {
		require.Equal(t, row(x, x.Root, costs.Planned), row(x, r, costs.Planned), r.Name)
	}
	shallow := table(costs.Query{Rows: []costs.Dimension{costs.ByCode}, Level: 1}, "NOK", costs.Usual)
	require.Empty(t, shallow.Root.Below[0].Below)
	require.Equal(t, row(x, works, costs.Running), row(shallow, shallow.Root.Below[0], costs.Running))
	only := table(costs.Query{Rows: []costs.Dimension{costs.ByClass}, Code: "12"}, "NOK", costs.Usual)
	require.Equal(
		t,
		[]int64{50_00, 50_00, 50_00, 50_00, 200_00},
		row(only, only.Root, costs.Planned),
		"timber lies below the deck",
	)
	capex := table(costs.Query{Rows: []costs.Dimension{costs.ByProject}, Class: "capex"}, "NOK", costs.Usual)
	require.Equal(t, []int64{100_00, 100_00, 100_00, 100_00, 400_00}, row(capex, capex.Root, costs.Planned))
	income := table(costs.Query{Flow: portfolio.Income}, "NOK", costs.Usual)
	require.Equal(t, []int64{0, 0, 0, 0, 0}, row(income, income.Root, costs.Planned))
}

// TestHolder: the cells behind a row are those that its amounts are made of.
func TestHolder(t *testing.T) {
	o := office()
	p := earned.NewProgress(portfolio.At(o, pier(), calendar.Period(at(2)), portfolio.Latest))
	x := table(costs.Query{Rows: []costs.Dimension{costs.ByProject, costs.ByCode}}, "EUR", costs.Usual)
	var walk func(*costs.Row)
	walk = func(r *costs.Row) {
		holds := x.Holder(o, r.Path())
		for i, c := range x.Columns {
			for _, m := range []costs.Measure{costs.Planned, costs.Running, costs.Accrued, costs.Variance} {
				var sum int64
				why := costs.Each(p, "EUR", costs.Usual, func(cell *costs.Cell) {
					if sign, adds := m.Makes(cell.Kind); adds && cell.Period >= c.From && cell.Period <= c.To &&
						cell.Key.CodeID != 9 &&
						holds(p.Project, &cell.Key) {
						sum += sign * cell.Amount
					}
				})
				require.Empty(t, why)
				n, _ := x.Value(r, 0, m, i)
				require.Equal(t, n, sum, "%s of %v in %s", m, r.Path(), c.Name)
			}
		}
		for _, b := range r.Below {
			walk(b)
		}
	}
	walk(x.Root)
	require.False(t, x.Holder(o, []string{"QUAY"})(p.Project, &costs.Key{}))
}

func TestColumns(t *testing.T) {
	ps := calendar.Months(4)
	month := func(y, m int) calendar.Period { return ps.InMonth(y, m) }
	write := func(list []costs.Column) (out []string) {
		for _, c := range list {
			out = append(out, c.Name+" "+ps.Code(c.From)+" "+ps.Code(c.To))
		}
		return out
	}
	from, to := costs.Year(ps, 2027)
	require.Equal(t, []calendar.Period{month(2026, 4), month(2027, 3)}, []calendar.Period{from, to})
	p := month(2026, 5)
	require.Equal(
		t,
		[]string{
			"Q1 FY27 2026-04 2026-06",
			"Q2 FY27 2026-07 2026-09",
			"Q3 FY27 2026-10 2026-12",
			"Q4 FY27 2027-01 2027-03",
			"FY27 2026-04 2027-03",
		},
		write(costs.Columns(ps, costs.PerQuarter, from, to, p, from, to, false)),
	)
	require.Equal(t, []string{"FY26 2026-02 2026-03", "FY27 2026-04 2026-06", "Feb 2026 to Jun 2026 2026-02 2026-06"},
		write(costs.Columns(ps, costs.PerYear, month(2026, 2), month(2026, 6), p, from, to, false)))
	require.Equal(t, []string{"Apr 2026-01 2026-04", "May 2026-01 2026-05", "Through May 2026 2026-01 2026-05"},
		write(costs.Columns(ps, costs.PerPeriod, from, p, p, month(2026, 1), to, true)))
	require.Equal(
		t,
		[]string{"Mar 2026 2026-03 2026-03", "Apr 2026 2026-04 2026-04", "Mar 2026 to Apr 2026 2026-03 2026-04"},
		write(costs.Columns(ps, costs.PerPeriod, month(2026, 3), month(2026, 4), p, from, to, false)),
	)
	require.Equal(t, []string{"To date 2026-04 2026-05", "To go 2026-06 2027-03", "At completion 2026-04 2027-03"},
		write(costs.Columns(ps, costs.ToDate, from, from, p, from, to, false)))
	fours, err := calendar.Listed(
		calendar.Weeks(calendar.ThirteenFour, calendar.DateOf(2026, 3, 30), 2027, 1, calendar.Nearest, false),
	)
	require.NoError(t, err)
	require.Equal(
		t,
		"Q4 FY27",
		costs.Columns(fours, costs.PerQuarter, 1, 13, 1, 1, 13, false)[3].Name,
		"the thirteenth is in the fourth",
	)
}

func TestTooLarge(t *testing.T) {
	o := office()
	p := pier()
	p.Currency = "EUR"
	huge := line(11, "capex", "EUR", 1<<62)
	p.Actual, p.Ledger, p.Accrual, p.Forecast, p.Plan = []portfolio.Line{huge, huge}, nil, nil, nil, nil
	x := costs.New(
		costs.Query{
			Rows:    []costs.Dimension{costs.ByCode},
			Columns: []costs.Column{{"All", calendar.Period(at(1)), calendar.Period(at(2))}},
		},
		o,
		[]*costs.Project{
			costs.Of(
				earned.NewProgress(portfolio.At(o, p, calendar.Period(at(2)), portfolio.Latest)),
				"EUR",
				costs.Usual,
			),
		},
	)
	require.True(t, x.TooLarge)
	p.Actual[0].Currency = "SEK"
	left := costs.Of(
		earned.NewProgress(portfolio.At(o, p, calendar.Period(at(2)), portfolio.Latest)),
		"EUR",
		costs.Usual,
	)
	require.Contains(t, left.Why, "no rate for SEK")
	require.Len(t, costs.New(x.Query, o, []*costs.Project{left}).LeftOut, 1)
}

// TestDiffersAlikeBeforeAndAfter: whether a row differs is the same before its
// sums are asked for and after.
func TestDiffersAlikeBeforeAndAfter(t *testing.T) {
	o := office()
	months := costs.Columns(
		o.Periods,
		costs.PerPeriod,
		calendar.Period(at(1)),
		calendar.Period(at(4)),
		calendar.Period(at(2)),
		calendar.Period(at(1)),
		calendar.Period(at(4)),
		false,
	)
	made := func(change func(*portfolio.Project)) *costs.Table {
		lines := func(change func(*portfolio.Project)) []*costs.Project {
			p := pier()
			change(p)
			return []*costs.Project{
				costs.Of(
					earned.NewProgress(portfolio.At(o, p, calendar.Period(at(2)), portfolio.Latest)),
					"NOK",
					costs.Usual,
				),
			}
		}
		return costs.Compare(
			costs.Query{Rows: []costs.Dimension{costs.ByCode}, Columns: months},
			o,
			lines(func(*portfolio.Project) {}),
			o,
			lines(change),
		)
	}
	for _, c := range []struct {
		name    string
		change  func(*portfolio.Project)
		differs map[costs.Measure]bool
	}{
		{"the same", func(*portfolio.Project) {}, nil},
		{"booked otherwise", func(p *portfolio.Project) { p.Actual[0].Cells[0].Amount++ }, map[costs.Measure]bool{costs.Booked: true, costs.Spent: true, costs.Running: true, costs.Variance: true}},
		{"booked as a posting in place of a total", func(p *portfolio.Project) { // of the next month, in one and the same row
			p.Ledger[0].Cells = append([]portfolio.Cell{p.Actual[0].Cells[0]}, p.Ledger[0].Cells...)
			p.Actual = p.Actual[1:]
		}, nil},
		{"another plan of the same sum", func(p *portfolio.Project) {
			p.Plan[0].Lines[0].Cells[0].Amount++
			p.Plan[0].Lines[0].Cells[1].Amount--
		}, map[costs.Measure]bool{costs.Planned: true, costs.Variance: true}},
	} {
		for _, m := range costs.Measures {
			if m == costs.InPercent {
				continue
			}
			x := made(c.change)
			before := x.Differs(x.Root, []costs.Measure{m})
			row(x, x.Root, m) // the sums are asked for
			require.Equal(
				t,
				[]bool{c.differs[m], c.differs[m]},
				[]bool{before, x.Differs(x.Root, []costs.Measure{m})},
				"%s: %s",
				c.name,
				m,
			)
		}
	}
}

// TestExpect: what is still to come by the computed outlook lies evenly between
// the period and the last, whole cents by largest remainder, on no cost code.
func TestExpect(t *testing.T) {
	o := office()
	for _, c := range []struct {
		name string
		toGo int64
		last int
		want []int64 // January to June, and together
	}{
		{"over four months", 100_02, 6, []int64{90_00 + 30_00, 120_00 - 10_00, 25_01, 25_01, 25_00, 25_00, 330_02}},
		{"a finish that is past", 50_00, 1, []int64{120_00, 110_00, 50_00, 0, 0, 0, 280_00}},
		{"less than what is spent", -8_00, 4, []int64{120_00, 110_00, -4_00, -4_00, 0, 0, 222_00}},
		{"nothing", 0, 6, []int64{120_00, 110_00, 0, 0, 0, 0, 230_00}},
	} {
		p := costs.Of(
			earned.NewProgress(portfolio.At(o, pier(), calendar.Period(at(2)), portfolio.Latest)),
			"NOK",
			costs.Usual,
		)
		p.Expect(calendar.Period(at(2)), c.toGo, calendar.Period(at(c.last)))
		columns := costs.Columns(
			o.Periods,
			costs.PerPeriod,
			calendar.Period(at(1)),
			calendar.Period(at(6)),
			calendar.Period(at(2)),
			calendar.Period(at(1)),
			calendar.Period(at(6)),
			false,
		)
		x := costs.New(
			costs.Query{Rows: []costs.Dimension{costs.ByCode}, Columns: columns, Outlook: true},
			o,
			[]*costs.Project{p},
		)
		require.Equal(t, c.want, row(x, x.Root, costs.Expected), c.name)
		require.Equal(t, c.toGo != 0, len(x.Root.Below) == 3, "%s: a row of its own", c.name)
		without := costs.New(
			costs.Query{Rows: []costs.Dimension{costs.ByCode}, Columns: columns},
			o,
			[]*costs.Project{p},
		)
		_, known := without.Value(without.Root, 0, costs.Expected, 0)
		require.False(t, known, "it is there only where it is asked for")
		require.Len(t, without.Root.Below, 2)
	}
}

// TestReserveOfOneVersion: beside another version, the management reserve is still
// that of the first alone, and in no sum of either.
func TestReserveOfOneVersion(t *testing.T) {
	o := office()
	p := costs.Of(
		earned.NewProgress(portfolio.At(o, pier(), calendar.Period(at(2)), portfolio.Latest)),
		"NOK",
		costs.Usual,
	)
	q := costs.Query{
		Rows: []costs.Dimension{costs.ByCode},
		Columns: costs.Columns(
			o.Periods,
			costs.PerPeriod,
			calendar.Period(at(1)),
			calendar.Period(at(4)),
			calendar.Period(at(2)),
			calendar.Period(at(1)),
			calendar.Period(at(4)),
			false,
		),
	}
	x := costs.Compare(q, o, []*costs.Project{p}, o, []*costs.Project{p})
	require.EqualValues(t, 1000_00, x.Reserve)
	for version := range 2 {
		n, _ := x.Value(x.Root, version, costs.Planned, 4)
		require.EqualValues(t, 600_00, n, version)
	}
}
