package weigh_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/figure"
	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/office/officetest"
	"turret/internal/office/weigh"
)

// TestFinishes: what was told of finishes one and three periods before, less the day that
// came, in working days; of all that are finished, and of who leads them.
func TestFinishes(t *testing.T) {
	o := officetest.NewOffice(t)
	officetest.Take(t, o, entry.Options{},
		officetest.File("projects.csv", "project,name,lead,state\nA,Quay A,Ann,finished\nB,Quay B,Ben,finished\nC,Quay C,Ben,active\n"),
		officetest.File("activities.csv", "project,activity,baseline_start,baseline_finish\nA,1,2026-01-05,2026-05-22\nB,1,2026-01-05,2026-05-22\nC,1,2026-01-05,2026-05-22\n"),
		officetest.File("progress.csv", "project,activity,period,percent,finish,actual_start,actual_finish\n"+
			"A,1,2026-02,20,2026-06-05,2026-01-05,\nA,1,2026-04,80,2026-05-15,,\nA,1,2026-05,100,,,2026-05-29\n"+
			"B,1,2026-04,80,2026-06-05,2026-01-05,\nB,1,2026-05,100,,,2026-05-29\nC,1,2026-04,80,2026-07-31,2026-01-05,\n"),
	)
	m, err := o.Moment(t.Context(), officetest.Operator, office.Ask{At: "2026-05"})
	require.NoError(t, err)
	list, n, err := weigh.In(o).Finishes(t.Context(), officetest.Operator, m)
	require.NoError(t, err)
	require.Equal(t, 2, n, "one is still going on")
	write := func(errors []weigh.DayError) (out []string) {
		for k, e := range errors {
			if e.Count > 0 {
				out = append(out, fmt.Sprintf("%d before: %d, %+g, %g", weigh.Leads[k], e.Count, e.Mean, e.Absolute))
			}
		}
		return out
	}
	require.Equal(t, figure.FinishStated, list[0].ID)
	// A said Fri 15 May of Fri 29: ten days too early; B Fri 5 June: five too late. In
	// February A said 5 June, and of B nothing was said.
	require.Equal(t, []string{"1 before: 2, -2.5, 7.5", "3 before: 1, +5, 5"}, write(list[0].Errors))
	require.Len(t, list[0].By, 2)
	require.Equal(t, "Ann", list[0].By[0].Name)
	require.Equal(t, []string{"1 before: 1, -10, 10", "3 before: 1, +5, 5"}, write(list[0].By[0].Errors))
	require.Equal(t, "Ben", list[0].By[1].Name)
	require.Equal(t, []string{"1 before: 1, +5, 5"}, write(list[0].By[1].Errors))

	one, err := o.Moment(t.Context(), officetest.Operator, office.Ask{At: "2026-05", Filter: office.Filter{Lead: "Ben"}})
	require.NoError(t, err)
	list, n, err = weigh.In(o).Finishes(t.Context(), officetest.Operator, one)
	require.NoError(t, err)
	require.Equal(t, 1, n)
	require.Equal(t, []string{"1 before: 1, +5, 5"}, write(list[0].Errors))
}
