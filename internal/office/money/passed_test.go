package money_test

import (
	"encoding/json"
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/costs"
	"turret/internal/core/figure"
	"turret/internal/office"
	"turret/internal/office/money"
	"turret/internal/office/officetest"
)

// TestActualsFromTime: T takes its plan of 100.00 a month as its actual cost, B is booked. In
// February T has spent 200.00 though nothing came, in its figures, its group's and the money
// table; once 90.00 of January are booked they take the place of January's plan.
func TestActualsFromTime(t *testing.T) {
	o := officetest.NewOffice(t)
	plan := "project,cost_code,kind,period,version,amount\n"
	for m := 1; m <= 6; m++ {
		plan += fmt.Sprintf("T,10,plan,2026-0%d,1,100.00\nB,10,plan,2026-0%d,1,100.00\n", m, m)
	}
	officetest.GatherMap(t, o, map[string]string{
		"programmes.csv": "programme,name\nG,Group\n",
		"projects.csv":   "project,name,programme,actuals\nT,Tugs,G,time\nB,Buoys,G,\n",
		"cost_codes.csv": "cost_code,name\n10,Works\n",
		"activities.csv": "project,activity,name,kind,baseline_start,baseline_finish\nT,1,Tow,task,2026-01-01,2026-06-30\nB,1,Lay,task,2026-01-01,2026-06-30\n",
		"costs.csv":      plan + "B,10,actual,2026-02,,70.00\n",
		"progress.csv":   "project,activity,period,percent\nT,1,2026-02,30\n",
	})
	moment := func() *office.Moment { return officetest.Moment(t, o, office.Ask{At: "2026-02"}) }
	check := func(tugs, passed int64, codes ...string) {
		t.Helper()
		m := moment()
		r := officetest.ReadingOf(m, "T")
		require.Equal(t, []int64{tugs, passed}, []int64{r.Value(figure.AC).N, r.Value(figure.ACFromPlan).N})
		require.False(t, officetest.ReadingOf(m, "B").Value(figure.ACFromPlan).Known)
		g := officetest.ReadingOf(m, "G")
		require.Equal(t, []int64{tugs + 7000, passed}, []int64{g.Value(figure.AC).N, g.Value(figure.ACFromPlan).N})
		x, err := money.In(o).Table(t.Context(), officetest.Operator, m, money.Ask{Rows: "project", Span: "all"})
		require.NoError(t, err)
		n, ok := x.Value(x.Root, 0, costs.Spent, len(x.Columns)-1)
		require.True(t, ok)
		require.Equal(t, tugs+7000, n)
		require.Contains(t, fmt.Sprint(x.Notes), "as time passed: T.")
		var found []string
		for _, f := range r.Findings {
			if f.Check == "cost-from-time" || f.Check == "booked-beside-time" {
				found = append(found, f.Check)
			}
		}
		require.Equal(t, codes, found)
	}
	check(20000, 20000, "cost-from-time")
	before := officetest.Exported(t, o)
	require.NotContains(t, before["costs.csv"], "T,10,actual", "what nobody booked is no row")
	officetest.GatherMap(t, o, map[string]string{"costs.csv": "project,cost_code,kind,period,amount\nT,10,actual,2026-01,90.00\n"})
	check(19000, 10000, "cost-from-time", "booked-beside-time")

	// An office that is made of the export reads the same.
	again := officetest.NewOffice(t)
	officetest.GatherMap(t, again, officetest.Exported(t, o))
	want, err := json.Marshal(officetest.Said(t, o, "2026-02"))
	require.NoError(t, err)
	got, err := json.Marshal(officetest.Said(t, again, "2026-02"))
	require.NoError(t, err)
	require.JSONEq(t, string(want), string(got))
}
