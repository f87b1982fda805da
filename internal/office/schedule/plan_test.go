package schedule_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/office"
	"turret/internal/office/officetest"
	"turret/internal/office/schedule"
)

// TestPlan: phases as bars with their baseline above, raised milestones below them with their day
// and slip; tasks below a phase and milestones of the project's own are left out.
func TestPlan(t *testing.T) {
	o := officetest.NewOffice(t)
	officetest.GatherMap(t, o, map[string]string{
		"projects.csv": "project,name,lead\nA,Apron,Ada\nB,Bare,Bo\n",
		"activities.csv": "project,activity,name,kind,parent,level,baseline_start,baseline_finish\n" +
			"A,1,Design,summary,,,,\nA,11,Draw,task,1,,2026-01-05,2026-02-27\nA,19,Drawn,milestone,1,project,,2026-02-27\n" +
			"A,2,Build,summary,,,,\nA,21,Lay,task,2,,2026-03-02,2026-06-30\nA,29,Open,milestone,2,portfolio,,2026-06-30\n",
		"progress.csv": "project,activity,period,percent,finish\nA,11,2026-01,50,2026-02-27\nA,21,2026-01,0,2026-07-07\nA,29,2026-01,,2026-07-07\n",
	})
	m := officetest.Moment(t, o, office.Ask{At: "2026-01"})
	plan := func(code string, most int) (labels []string, bars, ghosts, marks, left int) {
		line, err := schedule.In(o).Own(t.Context(), officetest.Operator, m, code)
		require.NoError(t, err)
		x, left := line.Plan(code, "", most)
		for _, r := range x.Rows {
			labels = append(labels, r.Label)
			bars, ghosts, marks = bars+len(r.Bars), ghosts+len(r.Ghosts), marks+len(r.Marks)
		}
		return labels, bars, ghosts, marks, left
	}
	labels, bars, ghosts, marks, left := plan("A", 9)
	require.Equal(t, []string{"Design", "Build", "Open, 7 Jul 2026, +5 d"}, labels)
	require.Equal(t, []int{2, 2, 1, 0}, []int{bars, ghosts, marks, left})
	labels, _, _, _, left = plan("A", 1)
	require.Equal(t, []string{"Design"}, labels)
	require.Equal(t, 2, left)
	labels, _, _, _, _ = plan("B", 9)
	require.Empty(t, labels)
}
