package forecast_test

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/core/earned"
	"turret/internal/core/forecast"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
)

var (
	months = calendar.Months(1)
	jan    = months.Of(calendar.DateOf(2026, 1, 31))
)

func line(from int, amounts ...int64) portfolio.Line {
	l := portfolio.Line{Flow: portfolio.Cost, Currency: "EUR"}
	for i, n := range amounts {
		l.Cells = append(l.Cells, portfolio.Cell{Period: jan + calendar.Period(from+i), Amount: n})
	}
	return l
}

// record reads a project at a month, January being 0.
func record(p *portfolio.Project, at int) *forecast.Record {
	o := &portfolio.Office{Reporting: "EUR", Periods: months, Rates: money.NewRates("EUR")}
	o.Settle()
	p.Code, p.Currency = "X", "EUR"
	if p.State == "" {
		p.State = portfolio.Active
	}
	return forecast.Of(earned.NewProgress(portfolio.At(o, p, jan+calendar.Period(at), portfolio.Latest)), "EUR")
}

// project spends 100, 120, 90 and 150 from January on. In January 100 a month is
// said for February to May; in February 110 for March, 80 for April; in March
// 95 for April.
func project() *portfolio.Project {
	return &portfolio.Project{
		Actual: []portfolio.Line{line(0, 100, 120, 90, 150)},
		Forecast: []portfolio.Version{
			{Number: int(jan), Lines: []portfolio.Line{line(1, 60, 60, 60, 60), line(1, 40, 40, 40, 40)}},
			{
				Number: int(jan + 1),
				Lines:  []portfolio.Line{line(0, 999), line(2, 110, 80)},
			}, // what lies before it counts nothing
			{Number: int(jan + 2), Lines: []portfolio.Line{line(3, 95)}},
		},
	}
}

func TestSince(t *testing.T) {
	r := record(project(), 3)
	require.Empty(t, r.Why)
	for _, c := range []struct {
		ahead      int
		said, came []int64
	}{
		{1, []int64{100, 110, 95}, []int64{120, 90, 150}},
		{2, []int64{200, 190}, []int64{210, 240}}, // 120 + 90; 90 + 150
		{3, []int64{300}, []int64{360}},           // 120 + 90 + 150
		{4, nil, nil},
		{0, nil, nil},
	} {
		var said, came []int64
		for _, e := range r.Since(c.ahead) {
			require.Equal(t, c.ahead, e.Ahead())
			said, came = append(said, e.Said), append(came, e.Came)
		}
		require.Equal(t, c.said, said, c.ahead)
		require.Equal(t, c.came, came, c.ahead)
	}
	// (100 − 120) ÷ 120 = −1/6; (110 − 90) ÷ 90 = 2/9; (95 − 150) ÷ 150 = −11/30.
	s := forecast.Summarize(r.Since(1))
	require.Equal(t, 3, s.Count)
	require.InDelta(t, (-1.0/6+2.0/9-11.0/30)/3, s.Mean, 1e-12)
	require.InDelta(t, (1.0/6+2.0/9+11.0/30)/3, s.Absolute, 1e-12)
	require.InDelta(t, 0.299451, s.Spread, 1e-6)
	require.Empty(t, r.Final(), "it is not finished")
}

// TestFinal: finished in April at 460. In January 100 was spent and 400 said to
// come, so 500; in February 220 + 190; in March 310 + 95.
func TestFinal(t *testing.T) {
	p := project()
	p.State, p.Since = portfolio.Finished, calendar.DateOf(2026, 4, 20)
	r := record(p, 5)
	require.Equal(t, jan+3, r.Done)
	var said []int64
	for i, e := range r.Final() {
		require.Equal(t, int64(460), e.Came)
		require.Equal(t, 3-i, e.Ahead())
		said = append(said, e.Said)
	}
	require.Equal(t, []int64{500, 410, 405}, said)

	// What is stated once all is done, and what was said for no period, is not judged.
	late := project()
	late.State, late.Since = portfolio.Finished, calendar.DateOf(2026, 2, 20)
	late.Forecast = append(late.Forecast, portfolio.Version{Number: 0, Lines: []portfolio.Line{line(0, 7)}})
	r = record(late, 3)
	require.Len(t, r.Statements, 3, "a forecast without a period is none")
	require.Len(t, r.Final(), 1, "January's alone was before February")
	require.Zero(t, r.Statements[2].Said(jan+2), "a statement says nothing of its own period")
	require.Zero(t, r.Statements[2].Said(jan))
	open := record(project(), 3)
	require.Empty(t, open.Final())
}

// TestAccrualsCount: what is accrued in a period is spent in it and taken back in
// the next, so a forecast of one period is judged by both.
func TestAccrualsCount(t *testing.T) {
	p := project()
	p.Accrual = []portfolio.Line{line(1, 30)}
	r := record(p, 2)
	require.Equal(t, int64(150), r.Since(1)[0].Came, "120 + 30")
	require.Equal(t, int64(60), r.Since(1)[1].Came, "90 − 30")
	require.Equal(t, int64(210), r.Since(2)[0].Came)
}

// TestHalted: what is on hold since March spends no more, which no statement is
// blamed for.
func TestHalted(t *testing.T) {
	p := project()
	p.State, p.Since = portfolio.OnHold, calendar.DateOf(2026, 3, 9)
	r := record(p, 3)
	require.Equal(t, jan+2, r.Halted)
	require.Len(t, r.Since(1), 1, "January for February")
	require.Empty(t, r.Since(2))
}

func TestNothingToSay(t *testing.T) {
	require.Equal(t, "no forecast was stated up to this period", record(&portfolio.Project{}, 3).Why)
	require.Equal(t, forecast.Summary{}, forecast.Summarize(nil))
	require.Equal(t, forecast.Summary{}, forecast.Summarize([]forecast.Error{{Said: 5}}), "nothing came")
	require.Zero(t, forecast.Summarize([]forecast.Error{{Said: 5, Came: 5}}).Spread, "a single one has none")
	p := project()
	p.Forecast[0].Lines[0].Currency = "NOK"
	require.Equal(t, "no rate for NOK", record(p, 3).Why)
}

// TestPerfect: statements that say what comes have no error at any lead, whatever
// is spent.
func TestPerfect(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 5))
	for range 200 {
		spent := make([]int64, 12)
		for i := range spent {
			spent[i] = 1 + r.Int64N(1_000_000)
		}
		p := &portfolio.Project{Actual: []portfolio.Line{line(0, spent...)}}
		for m := range 11 {
			p.Forecast = append(
				p.Forecast,
				portfolio.Version{Number: int(jan) + m, Lines: []portfolio.Line{line(m+1, spent[m+1:]...)}},
			)
		}
		rec := record(p, 11)
		for ahead := 1; ahead < 12; ahead++ {
			list := rec.Since(ahead)
			require.Len(t, list, 12-ahead)
			require.Equal(t, forecast.Summary{Count: 12 - ahead}, forecast.Summarize(list))
		}
	}
}
