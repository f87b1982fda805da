package board_test

import (
	"context"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/costs"
	"turret/internal/core/figure"
	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/office/money"
	"turret/internal/office/officetest"
	"turret/internal/office/trail"
)

// TestMargin: income less cost in every cell, in its trail and in the files; a
// benefit is neither.
func TestMargin(t *testing.T) {
	ctx := context.Background()
	o := officetest.NewOffice(t)
	require.Empty(
		t,
		officetest.Take(
			t,
			o,
			entry.Options{},
			officetest.File("cost_codes.csv", "cost_code,name\n1,One\n2,Two\n"),
			officetest.File("projects.csv", "project,name\nP,Pier\n"),
			officetest.File("costs.csv", `project,cost_code,kind,flow,period,version,amount
P,1,plan,cost,2026-04,1,100
P,1,plan,income,2026-04,1,130
P,1,actual,cost,2026-04,,110
P,1,actual,income,2026-04,,125
P,2,actual,cost,2026-05,,40
P,2,actual,benefit,2026-05,,999
P,1,forecast,income,2026-06,2026-05,60
`),
		).Refusals,
	)
	m := officetest.Moment(t, o, office.Ask{At: "2026-05"})
	ask := money.Ask{Project: "P", Rows: "code", Show: "running,plan", Flow: "margin"}
	table := officetest.MoneyTable(t, o, m, ask)
	row := func(key string, measure costs.Measure) (out []int64) {
		r := table.Find(key)
		require.NotNil(t, r, key)
		for i := range 3 {
			n, _ := table.Value(r, 0, measure, i)
			out = append(out, n)
		}
		return out
	}
	require.Equal(t, []int64{125_00 - 110_00, -40_00, 60_00}, row("", costs.Running))
	require.Equal(t, []int64{15_00, 0, 60_00}, row("1", costs.Running))
	require.Equal(t, []int64{30_00, 0, 0}, row("1", costs.Planned))
	require.Equal(t, []int64{0, -40_00, 0}, row("2", costs.Running))
	cell, err := money.In(o).Cell(ctx, officetest.Operator, m, ask, "1", 0, costs.Running, 0)
	require.NoError(t, err)
	require.Equal(t, []int64{15_00, 0}, []int64{cell.Amount, cell.Left})
	sum := int64(0)
	for _, f := range cell.Trail.Facts {
		sum += f.Value.N
	}
	require.Equal(t, cell.Amount, sum, "the cells behind it add up to it")
	body, err := money.In(o).File(ctx, officetest.Operator, m, ask, "tsv")
	require.NoError(t, err)
	require.Contains(t, strings.Split(string(body), "\n")[1], "1\t1\tOne\t15.00\t30.00")
	// Income 130 is planned, 125 booked by May, 60 still to come; cost 100 is
	// planned, 150 spent, and the forecast, which names no cost, leaves it there.
	// The group has no other project, so says the same.
	for _, scope := range []string{"P", "*"} {
		reading, _ := m.Find(scope)
		for _, c := range []struct {
			id   figure.ID
			want string
		}{
			{figure.IncomePlan, "130.00"},
			{figure.Income, "125.00"},
			{figure.IncomeStated, "185.00"},  // 125 + 60
			{figure.MarginPlan, "30.00"},     // 130 − 100
			{figure.MarginBooked, "-25.00"},  // 125 − 150
			{figure.Margin, "35.00"},         // 185 − 150
			{figure.MarginShare, "0.189189"}, // 35 ÷ 185
			{figure.EACStated, "150.00"},
		} {
			require.Equal(t, c.want, reading.Value(c.id).Text("EUR"), "%s of %s", figure.Get(c.id).Name, scope)
		}
	}
	whole := ask
	whole.Per = "completion"
	margin, _ := officetest.MoneyTable(t, o, m, whole).
		Value(officetest.MoneyTable(t, o, m, whole).Root, 0, costs.Running, 2)
	reading, _ := m.Find("P")
	require.Equal(t, reading.Value(figure.Margin).N, margin, "the money table says the same")
	for _, id := range []figure.ID{figure.IncomePlan, figure.Income, figure.IncomeStated} {
		trail, err := trail.In(o).Trail(ctx, officetest.Operator, m, false, "P", id)
		require.NoError(t, err)
		sum := int64(0)
		for _, f := range trail.Facts {
			sum += f.Value.N
		}
		require.Equal(t, reading.Value(id).N, sum, "the rows behind %s add up to it", figure.Get(id).Name)
	}
	_, err = money.In(o).
		Bridge(ctx, officetest.Operator, officetest.Moment(t, o, office.Ask{At: "2026-05", Vs: "2026-04"}), ask, "", costs.Running, "", "")
	require.ErrorContains(t, err, "not of the margin")
}
