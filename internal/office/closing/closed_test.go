package closing_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/office/closing"
	"turret/internal/office/entry"
	"turret/internal/office/officetest"
)

// TestAClosedPeriodAnswersToTheLetter: whatever is renamed, moved or given other
// days, rules, rates, codes or words later, a closed period says what it said.
func TestAClosedPeriodAnswersToTheLetter(t *testing.T) {
	ctx := context.Background()
	o := officetest.CheckedOffice(t)
	officetest.Take(
		t,
		o,
		entry.Options{},
		officetest.File(
			"calendars.csv",
			"calendar,kind,day\noffice,week,mon\noffice,week,tue\noffice,week,wed\noffice,week,thu\noffice,week,fri\n",
		),
		officetest.File("rates.csv", "currency,period,set,rate\nNOK,2026-01,period,0.09\n"),
		officetest.File("projects.csv", "project,name,programme,currency\nK3,Abroad,Q,NOK\n"),
		officetest.File(
			"costs.csv",
			"project,cost_code,kind,period,version,amount\nK3,10,plan,2026-02,1,900.00\nK3,10,actual,2026-02,,100.00\n",
		),
	)
	p, err := o.ParsePeriod(ctx, officetest.Operator, "2026-02")
	require.NoError(t, err)
	_, err = closing.In(o).ClosePeriod(ctx, officetest.Operator, p)
	require.NoError(t, err)
	before := officetest.Said(t, o, "2026-02")
	for _, c := range []struct {
		what  string
		files []entry.File
	}{
		{"renamed, and led by another", []entry.File{officetest.File("projects.csv", "project,name,lead\nK1,Another name,Zoe\n")}},
		{"moved to a new programme", []entry.File{officetest.File("programmes.csv", "programme,name\nR,Roads\n"), officetest.File("projects.csv", "project,programme\nK1,R\n")}},
		{"a programme renamed", []entry.File{officetest.File("programmes.csv", "programme,name\nQ,Quays and roads\n")}},
		{"another work week and holidays", []entry.File{officetest.File("calendars.csv", "calendar,kind,day\noffice,week,sat\noffice,holiday,2026-02-10\noffice,holiday,2026-02-11\n")}},
		{"a calendar of its own", []entry.File{officetest.File("calendars.csv", "calendar,kind,day\nyard,week,sun\n"), officetest.File("projects.csv", "project,calendar\nK2,yard\n")}},
		{"a day of the work week that counts no longer", []entry.File{officetest.File("calendars.csv", "calendar,kind,day,state\noffice,week,mon,off\n")}},
		{"days by which statements are due", []entry.File{officetest.File("due_days.csv", "statement,days\nprogress,3\n")}},
		{"another rate of the month", []entry.File{officetest.File("rates.csv", "currency,period,set,rate\nNOK,2026-01,period,0.11\nNOK,2026-01,plan,0.10\n")}},
		{"cost codes renamed and put under another", []entry.File{officetest.File("cost_codes.csv", "cost_code,name,parent,reserve\n10,Other works,20,management\n")}},
		{"activities renamed, and dated anew", []entry.File{officetest.File("activities.csv", "project,activity,name,baseline_start,baseline_finish\nK1,A,Other piles,2026-03-02,2026-09-25\n")}},
		{"finished, without earned value", []entry.File{officetest.File("projects.csv", "project,state,state_since,earned_value\nK1,finished,2026-01-01,off\n")}},
		{"another plan", []entry.File{officetest.File("costs.csv", "project,cost_code,kind,period,version,amount\nK1,10,plan,2026-01,1,999.00\n")}},
		{"rules from the next period", []entry.File{officetest.File("rules.csv", "dimension,reading,from,direction,watch,act\ncost,cpi,2026-03,below,2,1.5\n")}},
		{"a standing set from the next period", []entry.File{officetest.File("overrides.csv", "project,dimension,from,until,standing,reason\nK1,overall,2026-03,2026-04,act,seen\n")}},
		{"statements of the next period", []entry.File{officetest.File("progress.csv", "project,activity,period,percent\nK1,A,2026-03,90\n"), officetest.File("risks.csv", "project,risk,kind,title,likelihood,impact,state,period\nK1,R1,risk,Storm,5,5,open,2026-03\n")}},
		{"the office renamed", []entry.File{officetest.File("settings.csv", "setting,value\nname,Another office\n")}},
	} {
		r, err := entry.In(o).Gather(ctx, officetest.Operator, c.files, nil, entry.Options{})
		require.NoError(t, err, c.what)
		require.Empty(t, r.Refusals, c.what)
		require.Positive(t, r.Changes(), c.what)
		require.Equal(t, before, officetest.Said(t, o, "2026-02"), c.what)
	}
	require.NotEqual(t, before, officetest.Said(t, o, "2026-03"))

	// Opened again it says otherwise: all of that was there.
	require.NoError(t, closing.In(o).ReopenPeriod(ctx, officetest.Operator, p, "to see that it would differ"))
	require.NotEqual(t, before, officetest.Said(t, o, "2026-02"))
}
