package structure_test

import (
	"context"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/costs"
	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/office/export"
	"turret/internal/office/money"
	"turret/internal/office/officetest"
)

const sharesHead = "project,cost_code,from,cost_centre,percent\n"

// TestShares: a third of 100.00 each is 33.34, 33.33 and 33.33, so that no cent is
// left; from the next period on others hold; a line that names a centre stays.
func TestShares(t *testing.T) {
	ctx := context.Background()
	o := officetest.NewOffice(t)
	require.Empty(
		t,
		officetest.Take(
			t,
			o,
			entry.Options{},
			officetest.File("cost_codes.csv", "cost_code,name,parent\n1,One,\n11,Piles,1\n"),
			officetest.File("cost_centres.csv", "cost_centre,name,parent\nN,North,\nA,Ayr,N\n"),
			officetest.File("projects.csv", "project,name\nP,Pier\n"),
			officetest.File(
				"costs.csv",
				"project,cost_code,kind,period,cost_centre,amount\nP,11,actual,2026-04,,50\nP,11,actual,2026-04,Z,7\nP,11,actual,2026-05,,100\nP,1,accrual,2026-04,,10\n",
			),
			officetest.File(
				"postings.csv",
				"posting,date,project,cost_code,amount,currency\nL1,2026-04-07,P,11,30,EUR\nL2,2026-04-08,P,11,20,EUR\n",
			),
			officetest.File(
				"shares.csv",
				sharesHead+"P,1,2026-04,A,33.3333\nP,1,2026-04,B,33.3333\nP,1,2026-04,C,33.3334\nP,1,2026-05,B,100\n",
			),
		).Refusals,
	)
	m := officetest.Moment(t, o, office.Ask{At: "2026-05"})
	table := officetest.MoneyTable(t, o, m, money.Ask{Project: "P", Rows: "centre", Show: "actual", Unfolded: "3"})
	sums := make(map[string][2]int64)
	for _, r := range table.Rows {
		var both [2]int64
		for i := range 2 {
			both[i], _ = table.Value(r.Row, 0, costs.Booked, i)
		}
		sums[money.RowKey(r.Row)] = both
	}
	// 50.00 and the posted 50.00 are shared apart: 16.67 and two of 16.66 or 16.67.
	require.Equal(
		t,
		map[string][2]int64{"N": {33_34, 0}, "N~A": {33_34, 0}, "B": {33_32, 100_00}, "C": {33_34, 0}, "Z": {7_00, 0}},
		sums,
	)
	cell, err := money.In(o).
		Cell(ctx, officetest.Operator, m, money.Ask{Project: "P", Rows: "centre", Show: "actual"}, "B", 0, costs.Booked, 0)
	require.NoError(t, err)
	require.Zero(t, cell.Left)
	require.Len(t, cell.Trail.Facts, 2)
	for _, f := range cell.Trail.Facts {
		require.Contains(t, f.What, "a share of 33.3333%")
	}
	// By cost code nothing is parted: the booked, the posted, and the accrual with
	// what is taken back of it, each whole.
	cell, err = money.In(o).
		Cell(ctx, officetest.Operator, m, money.Ask{Project: "P", Rows: "class", Show: "spent", Per: "completion"}, "", 0, costs.Spent, 0)
	require.NoError(t, err)
	require.Equal(t, []int64{207_00, 0}, []int64{cell.Amount, cell.Left})
	var amounts []int64
	for _, f := range cell.Trail.Facts {
		require.NotContains(t, f.What, "share")
		amounts = append(amounts, f.Value.N)
	}
	require.ElementsMatch(t, []int64{50_00, 7_00, 100_00, 50_00, 10_00, -10_00}, amounts)

	for _, c := range []struct{ name, rows, says string }{
		{"too little", "P,,2026-04,A,60\nP,,2026-04,B,30\n", "add up to 90%"},
		{"too much with what was there", "P,1,2026-05,A,10\n", "add up to 110%"},
		{"another period", "P,,2026-06,A,60\n", "the shares from 2026-06"},
		{"below nothing", "P,,2026-04,A,-1\nP,,2026-04,B,101\n", ""},
		{"no project", "X,,2026-04,A,100\n", "project \"X\" is not known"},
		{"no code", "P,77,2026-04,A,100\n", "cost code \"77\" is not known"},
	} {
		r := officetest.Take(t, o, entry.Options{}, officetest.File("shares.csv", sharesHead+c.rows))
		require.NotEmpty(t, r.Refusals, c.name)
		require.Contains(t, r.Refusals[0].Reason, c.says, c.name)
		require.Zero(t, r.Changes(), c.name)
	}
	require.Empty(
		t,
		officetest.Take(
			t,
			o,
			entry.Options{},
			officetest.File("shares.csv", sharesHead+"P,1,2026-05,A,40\nP,1,2026-05,B,60\nP,1,2026-06,A,0\n"),
		).Refusals,
		"all of a set at once, and the end of it",
	)
	dir := filepath.Join(t.TempDir(), "out")
	require.NoError(t, export.In(o).Export(ctx, officetest.Operator, dir))
	other := officetest.NewOffice(t)
	require.Empty(t, officetest.GatherPaths(t, other, entry.Options{}, dir).Refusals)
	require.Zero(t, officetest.GatherPaths(t, o, entry.Options{}, dir).Changes())
}
