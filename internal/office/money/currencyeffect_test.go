package money_test

import (
	"context"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/costs"
	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/office/money"
	"turret/internal/office/officetest"
)

// TestCurrencyEffect: of 1,000 kroner booked in February 100.00 count at the plan
// rate of 0.10 and 110.00 at the period's 0.11, of 500 forecast for March 50.00
// and 55.00, so rates add 15.00. Euros and plans are the same at both.
func TestCurrencyEffect(t *testing.T) {
	o := officetest.NewOffice(t)
	require.Empty(
		t,
		officetest.Take(
			t,
			o,
			entry.Options{},
			officetest.File("cost_codes.csv", "cost_code,name,parent\n1,One,\n11,Sub,1\n2,Two,\n"),
			officetest.File("projects.csv", "project,name,currency\nN,Nordic,NOK\nP,Pier,EUR\n"),
			officetest.File(
				"rates.csv",
				"currency,period,set,rate\nNOK,2026-01,plan,0.10\nNOK,2026-01,period,0.10\nNOK,2026-02,period,0.11\n",
			),
			officetest.File("costs.csv", `project,cost_code,kind,period,version,amount
N,11,plan,2026-01,1,2000
N,11,actual,2026-02,,1000
N,11,forecast,2026-03,2026-02,500
P,2,plan,2026-01,1,70
P,2,actual,2026-02,,60
`),
		).Refusals,
	)
	m := officetest.Moment(t, o, office.Ask{At: "2026-02"})
	ask := money.Ask{Rows: "project,code", Span: "all", Rates: "plan", Show: "running,plan,percent", Unfolded: "9"}
	table := officetest.MoneyTable(t, o, m, ask)
	last := len(table.Columns) - 1
	for key, want := range map[string][2]int64{"": {150_00 + 60_00, 15_00}, "N": {150_00, 15_00}, "N~1": {150_00, 15_00}, "N~1~11": {150_00, 15_00}, "P": {60_00, 0}, "P~2": {60_00, 0}} {
		row := table.Find(key)
		require.NotNil(t, row, key)
		n, _ := table.Value(row, 0, costs.Running, last)
		require.Equal(t, want, [2]int64{n, table.CurrencyEffect(row, costs.Running)}, key)
		require.Zero(t, table.CurrencyEffect(row, costs.Planned), key)
	}
	require.True(t, table.HasEffect(costs.Running))
	require.False(t, table.HasEffect(costs.InPercent), "a percent has none")
	body, err := money.In(o).File(context.Background(), officetest.Operator, m, ask, "csv")
	require.NoError(t, err)
	lines := strings.Split(strings.TrimSpace(string(body)), "\n")
	require.True(
		t,
		strings.HasSuffix(lines[0], `,"Currency effect, spent, then forecast","Currency effect, plan"`),
		lines[0],
	)
	require.True(t, strings.HasSuffix(lines[1], ",15.00,0.00"), lines[1])

	// At period rates there is none.
	ask.Rates = ""
	table = officetest.MoneyTable(t, o, m, ask)
	n, _ := table.Value(table.Root, 0, costs.Running, last)
	require.Equal(t, int64(165_00+60_00), n)
	require.False(t, table.HasEffect(costs.Running))
	require.Zero(t, table.CurrencyEffect(table.Root, costs.Running))
}
