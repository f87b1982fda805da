package history_test

import (
	"context"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/office/closing"
	"turret/internal/office/entry"
	"turret/internal/office/history"
	"turret/internal/office/officetest"
)

// Nothing is offered to be undone that a closed period rests on: whatever its figures go
// by, and not what came later, counts later or is in no figure.
func TestUndoNothingThatAClosedPeriodRestsOn(t *testing.T) {
	const costs = "project,cost_code,kind,period,version,amount\n"
	for _, c := range []struct {
		name, file, body string
		way              string // "": it can be undone all the same
	}{
		{"a forecast of the closed period", "costs.csv", costs + "K1,20,forecast,2026-03,2026-01,7.00\n", "costs of K1: Jan 2026 is closed and rests on it"},
		{"a forecast of a later one", "costs.csv", costs + "K1,20,forecast,2026-04,2026-02,7.00\n", ""},
		{"a booking", "postings.csv", "posting,date,period,project,cost_code,amount\nU1,2026-01-20,2026-01,K1,10,1.00\n", "postings of K1: Jan 2026 is closed"},
		{"a booking of a later period", "postings.csv", "posting,date,period,project,cost_code,amount\nU1,2026-02-20,2026-02,K1,10,1.00\n", ""},
		{"the plan in force", "costs.csv", costs + "K1,20,plan,2026-03,1,7.00\n", "costs of K1: Jan 2026 is closed and rests on it"},
		{"a plan that is proposed", "costs.csv", costs + "K1,20,plan,2026-03,3,7.00\n", ""},
		{"a baseline approved later", "baselines.csv", "project,baseline,approved,reason,approver\nK1,2,2026-02-10,more,Ada\n", ""},
		{"a baseline approved in time", "baselines.csv", "project,baseline,approved,reason,approver\nK1,2,2026-01-10,more,Ada\n", "baseline of K1: Jan 2026 is closed"},
		{"an activity", "activities.csv", "project,activity,name\nK1,Z9,Late\n", "activities of K1: Jan 2026 is closed"},
		{"a project's name", "projects.csv", "project,name\nK1,Other\n", "project K1: Jan 2026 is closed"},
		{"a cost code", "cost_codes.csv", "cost_code,name\n77,Other\n", "cost code 77: Jan 2026 is closed"},
		{"a rate", "rates.csv", "currency,period,set,rate\nNOK,2026-01,period,0.1\n", "rate NOK"},
		{"a rate from later on", "rates.csv", "currency,period,set,rate\nNOK,2026-02,period,0.1\n", ""},
		{"a rule", "rules.csv", "dimension,reading,from,watch\ncost,cpi,2026-01,0.5\n", "rule"},
		{"a rule from later on", "rules.csv", "dimension,reading,from,watch\ncost,cpi,2026-02,0.5\n", ""},
		{"a due day", "due_days.csv", "statement,days\nprogress,3\n", ""},
	} {
		t.Run(c.name, func(t *testing.T) {
			o := officetest.NewOffice(t)
			officetest.GatherMap(t, o, officetest.Checked)
			officetest.Take(t, o, entry.Options{}, officetest.File("baselines.csv", "project,baseline,state,reason,proposer\nK1,3,proposed,more,Ada\n"))
			ctx := context.Background()
			r := officetest.Take(t, o, entry.Options{}, officetest.File(c.file, c.body))
			require.Empty(t, r.Refusals)
			u, err := history.In(o).Undoing(ctx, officetest.Operator, r.Revision)
			require.NoError(t, err)
			require.True(t, u.Can(), "%v", u.Way)

			jan, err := o.ParsePeriod(ctx, officetest.Operator, "2026-01")
			require.NoError(t, err)
			_, err = closing.In(o).ClosePeriod(ctx, officetest.Operator, jan)
			require.NoError(t, err)
			u, err = history.In(o).Undoing(ctx, officetest.Operator, r.Revision)
			require.NoError(t, err)
			require.Equal(t, c.way == "", u.Can(), "%v", u.Way)
			if c.way == "" {
				return
			}
			require.Contains(t, strings.Join(u.Way, "\n"), c.way)
			_, err = history.In(o).Undo(ctx, officetest.Operator, r.Revision, false)
			require.ErrorContains(t, err, "is closed and rests on it")

			// The same that is said once it is closed stands alone, where it can be said.
			after := officetest.Take(t, o, entry.Options{}, officetest.File("projects.csv", "project,name\nK2,Other\n"))
			u, err = history.In(o).Undoing(ctx, officetest.Operator, after.Revision)
			require.NoError(t, err)
			require.True(t, u.Can(), "%v", u.Way)
		})
	}
}
