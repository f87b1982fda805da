package costs_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/core/costs"
	"turret/internal/core/earned"
	"turret/internal/core/exact"
	"turret/internal/core/portfolio"
)

// TestEnds: the pier at the end of February. Spent are 90 + 120 on piles and, accrued, 20 on
// timber: 230. Stated are 110 + 130 on piles, so the year ends at 470 of a plan of 600, the
// reserve aside: 130 are carried over, −50 on piles and 180 on timber. Left are 600 − 230 = 370,
// spent a period in the last three 230 ÷ 3 = 76.67: 370 ÷ 76.67 periods. Without a forecast the
// plan of March and April is to come, 200 on piles and 100 on timber: 530, and 70 are carried over.
func TestEnds(t *testing.T) {
	o, done := office(), false
	ends := func(change func(*portfolio.Project), q costs.Query) (map[string]costs.End, *costs.Ends) {
		p := pier()
		change(p)
		of := costs.Of(earned.NewProgress(portfolio.At(o, p, calendar.Period(at(2)), portfolio.Latest)), "NOK", costs.Usual)
		list := []*costs.Project{of}
		lines := len(of.Lines)
		q.Rows = []costs.Dimension{costs.ByCode}
		if q.Columns == nil {
			q.Columns = []costs.Column{{Name: "All", From: of.Span[0], To: of.Span[1]}}
		}
		x := costs.New(q, o, list)
		e := costs.EndsOf(q, o, list, calendar.Period(at(2)), of.Span[0], of.Span[1], func(*costs.Project) bool { return done })
		require.Len(t, of.Lines, lines, "what the table is made of stays as it is")
		out := map[string]costs.End{"": e.Of(x.Root)}
		var walk func(r *costs.Row)
		walk = func(r *costs.Row) {
			for _, c := range r.Below {
				out[c.Key] = e.Of(c)
				walk(c)
			}
		}
		walk(x.Root)
		return out, e
	}
	cost := costs.Query{Flow: portfolio.Cost}
	stated, _ := ends(func(*portfolio.Project) {}, cost)
	require.Equal(t, []int64{470_00, 130_00}, []int64{stated[""].Outlook, stated[""].Carried})
	require.Zero(t, exact.Of(370_00, 76_67).Cmp(stated[""].Left))
	require.Equal(t, []int64{450_00, -50_00}, []int64{stated["11"].Outlook, stated["11"].Carried})
	require.Equal(t, []int64{20_00, 180_00}, []int64{stated["121"].Outlook, stated["121"].Carried})
	require.Equal(t, exact.Of(180_00, 6_67), stated["121"].Left) // 200 − 20, of 20 ÷ 3

	plain, _ := ends(func(p *portfolio.Project) { p.Forecast = nil }, cost)
	require.Equal(t, []int64{530_00, 70_00}, []int64{plain[""].Outlook, plain[""].Carried})
	require.Equal(t, []int64{410_00, -10_00}, []int64{plain["11"].Outlook, plain["11"].Carried})
	require.Equal(t, []int64{120_00, 80_00}, []int64{plain["121"].Outlook, plain["121"].Carried})
	require.Equal(t, stated[""].Left, plain[""].Left)

	done = true
	over, _ := ends(func(p *portfolio.Project) { p.Forecast = nil }, cost)
	require.Equal(t, []int64{230_00, 370_00}, []int64{over[""].Outlook, over[""].Carried})
	done = false

	spent, _ := ends(func(p *portfolio.Project) { p.Actual = []portfolio.Line{line(11, "capex", "NOK", 600_00)} }, cost)
	require.Equal(t, "all of the plan is spent", spent[""].Why)
	idle, _ := ends(func(p *portfolio.Project) { p.Actual, p.Ledger, p.Accrual = nil, nil, nil }, cost)
	require.Equal(t, "nothing was spent in three periods", idle[""].Why)
	all, _ := ends(func(*portfolio.Project) {}, costs.Query{})
	require.Equal(t, "it is told of cost", all[""].Why)
	require.Equal(t, int64(470_00), all[""].Outlook)

	// A row that the ends do not have, and a fiscal year that begins in April: all that is planned
	// through March is of the year before.
	_, e := ends(func(*portfolio.Project) {}, cost)
	require.Equal(t, "nothing is planned", e.Of(&costs.Row{Key: "x", Parent: &costs.Row{}}).Why)
	o.Periods = calendar.Months(4)
	april, _ := ends(func(*portfolio.Project) {}, cost)
	require.Equal(t, []int64{340_00, 110_00}, []int64{april[""].Outlook, april[""].Carried}) // 230 + 110 of 450
}
