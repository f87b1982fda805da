package office_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/office/closing"
	"turret/internal/office/entry"
	"turret/internal/office/sheet"
)

// said is all that a closed period answers: its readings against both baselines
// in both currencies, its findings, and its sheets.
func said(t *testing.T, o *office.Office, period string) map[string]any {
	t.Helper()
	out := make(map[string]any)
	for _, against := range []portfolio.Against{portfolio.Latest, portfolio.Original} {
		for _, reporting := range []bool{false, true} {
			out[against.String()+map[bool]string{true: " reporting"}[reporting]] = readings(t, o, period, against, reporting)
		}
	}
	out["findings"] = told(t, o, period)
	m := moment(t, o, office.Ask{At: period})
	for _, p := range m.ProjectNames() {
		code := p[0]
		s, err := sheet.In(o).Sheet(context.Background(), operator, m, code)
		require.NoError(t, err)
		out[code+" activities"], out[code+" risks"], out[code+" money"] = s.Activities, s.Risks, s.Now.Name
	}
	return out
}

// TestAClosedPeriodAnswersToTheLetter: whatever is renamed, moved or given other
// days, rules, rates, codes or words later, a closed period says what it said.
func TestAClosedPeriodAnswersToTheLetter(t *testing.T) {
	ctx := context.Background()
	o := checkedOffice(t)
	take(t, o, entry.Options{}, file("calendars.csv", "calendar,kind,day\noffice,week,mon\noffice,week,tue\noffice,week,wed\noffice,week,thu\noffice,week,fri\n"),
		file("rates.csv", "currency,period,set,rate\nNOK,2026-01,period,0.09\n"),
		file("projects.csv", "project,name,programme,currency\nK3,Abroad,Q,NOK\n"),
		file("costs.csv", "project,cost_code,kind,period,version,amount\nK3,10,plan,2026-02,1,900.00\nK3,10,actual,2026-02,,100.00\n"))
	p, err := o.ParsePeriod(ctx, operator, "2026-02")
	require.NoError(t, err)
	_, err = closing.In(o).ClosePeriod(ctx, operator, p)
	require.NoError(t, err)
	before := said(t, o, "2026-02")
	for _, c := range []struct {
		what  string
		files []entry.File
	}{
		{"renamed, and led by another", []entry.File{file("projects.csv", "project,name,lead\nK1,Another name,Zoe\n")}},
		{"moved to a new programme", []entry.File{file("programmes.csv", "programme,name\nR,Roads\n"), file("projects.csv", "project,programme\nK1,R\n")}},
		{"a programme renamed", []entry.File{file("programmes.csv", "programme,name\nQ,Quays and roads\n")}},
		{"another work week and holidays", []entry.File{file("calendars.csv", "calendar,kind,day\noffice,week,sat\noffice,holiday,2026-02-10\noffice,holiday,2026-02-11\n")}},
		{"a calendar of its own", []entry.File{file("calendars.csv", "calendar,kind,day\nyard,week,sun\n"), file("projects.csv", "project,calendar\nK2,yard\n")}},
		{"a day of the work week that counts no longer", []entry.File{file("calendars.csv", "calendar,kind,day,state\noffice,week,mon,off\n")}},
		{"days by which statements are due", []entry.File{file("due_days.csv", "statement,days\nprogress,3\n")}},
		{"another rate of the month", []entry.File{file("rates.csv", "currency,period,set,rate\nNOK,2026-01,period,0.11\nNOK,2026-01,plan,0.10\n")}},
		{"cost codes renamed and put under another", []entry.File{file("cost_codes.csv", "cost_code,name,parent,reserve\n10,Other works,20,management\n")}},
		{"activities renamed, and dated anew", []entry.File{file("activities.csv", "project,activity,name,baseline_start,baseline_finish\nK1,A,Other piles,2026-03-02,2026-09-25\n")}},
		{"finished, without earned value", []entry.File{file("projects.csv", "project,state,state_since,earned_value\nK1,finished,2026-01-01,off\n")}},
		{"another plan", []entry.File{file("costs.csv", "project,cost_code,kind,period,version,amount\nK1,10,plan,2026-01,1,999.00\n")}},
		{"rules from the next period", []entry.File{file("rules.csv", "dimension,reading,from,direction,watch,act\ncost,cpi,2026-03,below,2,1.5\n")}},
		{"a standing set from the next period", []entry.File{file("overrides.csv", "project,dimension,from,until,standing,reason\nK1,overall,2026-03,2026-04,act,seen\n")}},
		{"statements of the next period", []entry.File{file("progress.csv", "project,activity,period,percent\nK1,A,2026-03,90\n"), file("risks.csv", "project,risk,kind,title,likelihood,impact,state,period\nK1,R1,risk,Storm,5,5,open,2026-03\n")}},
		{"the office renamed", []entry.File{file("settings.csv", "setting,value\nname,Another office\n")}},
	} {
		r, err := entry.In(o).Gather(ctx, operator, c.files, nil, entry.Options{})
		require.NoError(t, err, c.what)
		require.Empty(t, r.Refusals, c.what)
		require.Positive(t, r.Changes(), c.what)
		require.Equal(t, before, said(t, o, "2026-02"), c.what)
	}
	require.NotEqual(t, before, said(t, o, "2026-03"))

	// Opened again it says otherwise: all of that was there.
	require.NoError(t, closing.In(o).ReopenPeriod(ctx, operator, p, "to see that it would differ"))
	require.NotEqual(t, before, said(t, o, "2026-02"))
}
