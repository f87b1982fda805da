package planning_test

import (
	"context"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/figure"
	"turret/internal/office"
	"turret/internal/office/closing"
	"turret/internal/office/entry"
	"turret/internal/office/export"
	"turret/internal/office/history"
	"turret/internal/office/officetest"
	"turret/internal/office/planning"
	"turret/internal/right"
)

// withTemplate is an office with a template, and a project that runs and is stated.
func withTemplate(t *testing.T) *office.Office {
	t.Helper()
	o := officetest.NewOffice(t)
	officetest.GatherMap(t, o, map[string]string{
		"projects.csv":   "project,name,currency,state\nT,Small works,EUR,template\nR,Running,EUR,active\n",
		"cost_codes.csv": "cost_code,name\n10,Works\n20,Fees\n",
		"activities.csv": "project,activity,parent,name,kind,baseline_start,baseline_finish,budget,rule\nT,A,,Works,summary,,,,\nT,A1,A,Dig,task,2026-01-05,2026-01-15,300.00,steps\nT,A9,A,Done,milestone,2026-01-30,2026-01-30,,\nR,1,,Dig,task,2026-01-05,2026-06-26,100.00,\n",
		"steps.csv":      "project,activity,step,weight\nT,A1,1,40\nT,A1,2,60\n",
		"links.csv":      "project,from,to\nT,A1,A9\n",
		"costs.csv":      "project,cost_code,kind,period,version,amount\nT,10,plan,2026-01,1,200.00\nT,10,plan,2026-02,1,100.00\nR,10,actual,2026-02,,5.00\n",
	})
	return o
}

func begin(o *office.Office, b planning.Beginning) error {
	return planning.In(o).Begin(context.Background(), officetest.Operator, b)
}

// TestBeginFromATemplate: everything comes along, moved to the start: the 5th of January
// to Monday the 2nd of March, the periods of its plan by two.
func TestBeginFromATemplate(t *testing.T) {
	ctx := context.Background()
	o := withTemplate(t)
	before := officetest.LastBatch(t, o)
	require.NoError(t, begin(o, planning.Beginning{Code: "N", Name: "New quay", Template: "T", Start: "2026-03-01", Lead: "Ada", State: "active"}))
	require.Equal(t, before+1, officetest.LastBatch(t, o), "one change")
	s, err := planning.In(o).Sheet(ctx, officetest.Operator, "N", planning.Activities, "")
	require.NoError(t, err)
	require.Equal(t, []string{"A1", "A", "Dig", "task", "activity", "steps", "2026-03-02", "2026-03-12", "300", "", "", "", "", "", ""}, s.Rows[1].Cells)
	require.Equal(t, 1, s.Rows[1].Indent)
	require.Equal(t, "2026-03-27", s.Rows[2].Cells[6], "the milestone")
	money, err := planning.In(o).Sheet(ctx, officetest.Operator, "N", planning.Money, "")
	require.NoError(t, err)
	require.Equal(t, "2026-03", money.Columns[1].Name)
	require.Equal(t, "2027-02", money.Columns[len(money.Columns)-1].Name, "twelve periods at least")
	require.Equal(t, []string{"10", "200", "100", ""}, money.Rows[0].Cells[:4])
	m := officetest.Moment(t, o, office.Ask{})
	require.Equal(t, int64(30000), officetest.ReadingOf(m, "N").Value(figure.BAC).N)
	files := exported(t, o)
	require.Contains(t, files["steps.csv"], "N,A1,2,60")
	require.Contains(t, files["links.csv"], "N,A1,A9")

	_, err = history.In(o).Undo(ctx, officetest.Operator, before+1, false)
	require.NoError(t, err)
	s, err = planning.In(o).Sheet(ctx, officetest.Operator, "N", planning.Activities, "")
	require.NoError(t, err)
	require.Nil(t, s, "taken back whole")
}

// exported are the files of an export.
func exported(t *testing.T, o *office.Office) map[string]string {
	t.Helper()
	dir := filepath.Join(t.TempDir(), "export")
	require.NoError(t, export.In(o).Export(context.Background(), officetest.Operator, dir))
	list, err := filepath.Glob(filepath.Join(dir, "*.csv"))
	require.NoError(t, err)
	out := make(map[string]string)
	for _, path := range list {
		body, err := os.ReadFile(path)
		require.NoError(t, err)
		out[filepath.Base(path)] = string(body)
	}
	return out
}

// TestTemplatesNeverRun: they count nowhere, nothing is stated of them, and they leave and
// come with everything else.
func TestTemplatesNeverRun(t *testing.T) {
	o := withTemplate(t)
	m := officetest.Moment(t, o, office.Ask{})
	require.Nil(t, m.Readings().Project("T"))
	require.Equal(t, int64(10000), m.Readings().Group("*").Value(figure.BAC).N, "the running one's alone")
	for name, file := range map[string]string{
		"progress.csv": "project,activity,period,percent\nT,A1,2026-02,10\n",
		"costs.csv":    "project,cost_code,kind,period,amount\nT,10,actual,2026-02,5.00\n",
		"postings.csv": "posting,date,period,project,cost_code,amount\nL1,2026-02-02,2026-02,T,10,5.00\n",
		"risks.csv":    "project,risk,period,title\nT,R1,2026-02,Wind\n",
	} {
		r := officetest.Take(t, o, entry.Options{}, officetest.File(name, file))
		require.Len(t, r.Refusals, 1, name)
		require.Contains(t, r.Refusals[0].Reason, "it is a template, which never runs", name)
	}
	for _, row := range []string{"T,active", "R,template"} {
		r := officetest.Take(t, o, entry.Options{}, officetest.File("projects.csv", "project,state\n"+row+"\n"))
		require.Len(t, r.Refusals, 1, row)
		require.Equal(t, "state", r.Refusals[0].Column)
	}
	files := exported(t, o)
	again := officetest.NewOffice(t)
	var list []entry.File
	for name, body := range files {
		list = append(list, officetest.File(name, body))
	}
	require.Empty(t, officetest.Take(t, again, entry.Options{}, list...).Refusals)
	c, err := planning.In(again).Choices(context.Background(), officetest.Operator)
	require.NoError(t, err)
	require.Equal(t, []planning.Choice{{Code: "T", Name: "Small works, 3 activities"}}, c.Templates)
}

// TestWhatCannotBegin: nothing is begun, and the field is named.
func TestWhatCannotBegin(t *testing.T) {
	o := withTemplate(t)
	before := officetest.LastBatch(t, o)
	for name, c := range map[string]struct {
		b      planning.Beginning
		column string
	}{
		"no code":             {planning.Beginning{Name: "N"}, "project"},
		"no name":             {planning.Beginning{Code: "N"}, "name"},
		"taken":               {planning.Beginning{Code: "r", Name: "N"}, "project"},
		"taken by a template": {planning.Beginning{Code: "T", Name: "N"}, "project"},
		"no such day":         {planning.Beginning{Code: "N", Name: "N", Start: "2026-02-30"}, "start"},
		"no such template":    {planning.Beginning{Code: "N", Name: "N", Template: "R"}, "template"},
		"another currency":    {planning.Beginning{Code: "N", Name: "N", Template: "T", Currency: "NOK"}, "currency"},
		"no such currency":    {planning.Beginning{Code: "N", Name: "N", Currency: "XXZ"}, "currency"},
		"no such programme":   {planning.Beginning{Code: "N", Name: "N", Programme: "G9"}, "programme"},
	} {
		t.Run(name, func(t *testing.T) {
			err := begin(o, c.b)
			var m *office.Misfit
			require.ErrorAs(t, err, &m)
			require.Equal(t, c.column, m.Column)
		})
	}
	require.Error(t, planning.In(o).Begin(context.Background(), right.Actor{Name: "Ada", Role: right.Lead}, planning.Beginning{Code: "N", Name: "N"}))
	require.Equal(t, before, officetest.LastBatch(t, o))
}

// typed is a row of which some cells were typed.
func typed(key string, cells ...string) planning.Typed {
	out := planning.Typed{Key: key, Cells: make(map[string]planning.Cell)}
	for i := 0; i < len(cells); i += 3 {
		out.Cells[cells[i]] = planning.Cell{Was: cells[i+1], Text: cells[i+2]}
	}
	return out
}

// TestTyping: activities and amounts are added, changed and cleared; cells that cannot be
// taken are named, and then nothing is.
func TestTyping(t *testing.T) {
	ctx := context.Background()
	o := withTemplate(t)
	room := planning.In(o)
	require.NoError(t, begin(o, planning.Beginning{Code: "N", Name: "New quay"}))
	save := func(part string, rows ...planning.Typed) ([]planning.Fault, error) {
		s, err := room.Sheet(ctx, officetest.Operator, "N", part, "")
		require.NoError(t, err)
		return room.Save(ctx, officetest.Operator, s.Revision, "N", part, rows)
	}
	faults, err := save(planning.Activities,
		typed("", "activity", "", "A", "name", "", "Works", "kind", "", "summary"),
		typed("", "activity", "", "", "kind", "", ""), // left blank
		typed("", "activity", "", "A1", "parent", "", "A", "name", "", "Dig", "baseline_start", "", "2026-03-02", "baseline_finish", "", "2026-03-13", "budget", "", "90"),
	)
	require.NoError(t, err)
	require.Empty(t, faults)
	s, err := room.Sheet(ctx, officetest.Operator, "N", planning.Activities, "")
	require.NoError(t, err)
	require.Equal(t, "A1", s.Rows[1].Key)
	require.Equal(t, "90", s.Rows[1].Cells[8])

	faults, err = save(planning.Activities, typed("A", "name", "Works", "Works on site"), typed("A1", "baseline_finish", "2026-03-13", "2026-02-01"), typed("A1", "budget", "90", "much"))
	require.ErrorIs(t, err, office.ErrRefused)
	require.NotEmpty(t, faults)
	for _, f := range faults {
		require.NotZero(t, f.Row, "the first row is right")
	}
	for why, row := range map[string]planning.Typed{
		"a1 has a row already":      typed("", "activity", "", "a1", "name", "", "Another"),
		"a new activity has a code": typed("", "activity", "", "", "name", "", "Nameless"),
		"the code of A1 stays":      typed("A1", "activity", "A1", "A2"),
	} {
		faults, err = save(planning.Activities, row)
		require.ErrorIs(t, err, office.ErrRefused)
		require.Len(t, faults, 1)
		require.Contains(t, faults[0].Why, why)
	}
	_, err = save(planning.Activities, typed("A", "name", "Works", "Works"))
	require.ErrorContains(t, err, "Nothing was typed that differs")

	faults, err = save(planning.Money, typed("", "cost_code", "", "10", "2026-03", "", "60", "2026-04", "", "30.50"))
	require.NoError(t, err, faults)
	money, err := room.Sheet(ctx, officetest.Operator, "N", planning.Money, "")
	require.NoError(t, err)
	line := money.Rows[0]
	require.Equal(t, []string{"10", "60", "30.50"}, line.Cells[:3])
	faults, err = save(planning.Money, typed("", "cost_code", "", "10", "2026-03", "", "500"))
	require.ErrorIs(t, err, office.ErrRefused, "it would change the line above unseen")
	require.Equal(t, []planning.Fault{{Row: 0, Column: "cost_code", Why: "10 has a line already; type into that one"}}, faults)
	faults, err = save(planning.Money, typed(line.Key, "2026-03", "60", "70"), typed(line.Key, "2026-04", "30.50", ""))
	require.NoError(t, err, faults)
	m := officetest.Moment(t, o, office.Ask{})
	require.Equal(t, int64(7000), officetest.ReadingOf(m, "N").Value(figure.BAC).N)
	faults, err = save(planning.Money, typed("", "cost_code", "", "", "2026-05", "", "5"))
	require.Error(t, err)
	require.Equal(t, "cost_code", faults[0].Column)
	faults, err = save(planning.Money, typed("", "cost_code", "", "77", "2026-05", "", "5"))
	require.Error(t, err)
	require.Equal(t, "cost_code", faults[0].Column)
}

// TestTwoPlanAtOnce: a cell that someone else changed since is not overwritten; what only
// the other changed stays.
func TestTwoPlanAtOnce(t *testing.T) {
	ctx := context.Background()
	o := withTemplate(t)
	room := planning.In(o)
	require.NoError(t, begin(o, planning.Beginning{Code: "N", Name: "New quay", Template: "T"}))
	s, err := room.Sheet(ctx, officetest.Operator, "N", planning.Activities, "")
	require.NoError(t, err)
	_, err = room.Save(ctx, officetest.Operator, s.Revision, "N", planning.Activities, []planning.Typed{typed("A1", "name", "Dig", "Dig deep")})
	require.NoError(t, err)
	_, err = room.Save(ctx, officetest.Operator, s.Revision, "N", planning.Activities, []planning.Typed{typed("A9", "owner", "", "Ada")})
	require.NoError(t, err, "another row")
	_, err = room.Save(ctx, officetest.Operator, s.Revision, "N", planning.Activities, []planning.Typed{typed("A1", "name", "Dig", "Excavate")})
	require.True(t, office.IsConflict(err))
	require.EqualError(t, err, `A1, Name: it was "Dig" when you typed "Excavate", and someone else has made it "Dig deep" since. Nothing was kept. Yours is still in the cell: send it again to put it in the place of theirs.`)
	s, err = room.Sheet(ctx, officetest.Operator, "N", planning.Activities, "")
	require.NoError(t, err)
	require.Equal(t, "Dig deep", s.Rows[1].Cells[2])
}

// TestApprovedPlansStay: what is approved, or closed with, is typed no more; a proposal is.
func TestApprovedPlansStay(t *testing.T) {
	ctx := context.Background()
	o := withTemplate(t)
	room := planning.In(o)
	officetest.GatherMap(t, o, map[string]string{"baselines.csv": "project,baseline,approved,state\nR,1,2026-01-02,approved\n"})
	s, err := room.Sheet(ctx, officetest.Operator, "R", planning.Activities, "")
	require.NoError(t, err)
	require.Contains(t, s.Shut, "is approved, so it stays")
	_, err = room.Save(ctx, officetest.Operator, s.Revision, "R", planning.Activities, []planning.Typed{typed("1", "budget", "100", "200")})
	require.ErrorIs(t, err, office.ErrRefused)
	officetest.GatherMap(t, o, map[string]string{"baselines.csv": "project,baseline,state,proposer\nR,2,proposed,Someone\n"})
	s, err = room.Sheet(ctx, officetest.Operator, "R", planning.Activities, "")
	require.NoError(t, err)
	require.Equal(t, "", s.Shut)
	require.Equal(t, 2, s.Baseline)
	_, err = room.Save(ctx, officetest.Operator, s.Revision, "R", planning.Activities, []planning.Typed{typed("1", "budget", "100", "200")})
	require.NoError(t, err)
	require.Equal(t, int64(10000), officetest.ReadingOf(officetest.Moment(t, o, office.Ask{}), "R").Value(figure.BAC).N, "a proposal counts nowhere")
}

// TestClosedPlansStay: once a period is closed over what is stated, the plan of what is
// stated stays; that of a template, and of what states nothing, does not.
func TestClosedPlansStay(t *testing.T) {
	ctx := context.Background()
	o := withTemplate(t)
	room := planning.In(o)
	shut := func(project string) string {
		s, err := room.Sheet(ctx, officetest.Operator, project, planning.Activities, "")
		require.NoError(t, err)
		require.Equal(t, 1, s.Baseline)
		return s.Shut
	}
	officetest.GatherMap(t, o, map[string]string{"projects.csv": "project,name,currency,state\nN,New,EUR,active\n"})
	require.Equal(t, "", shut("R"))
	p, err := o.ParsePeriod(ctx, officetest.Operator, "2026-02")
	require.NoError(t, err)
	_, err = closing.In(o).ClosePeriod(ctx, officetest.Operator, p)
	require.NoError(t, err)
	require.Contains(t, shut("R"), "A period is closed with its plan")
	require.Equal(t, []string{"", ""}, []string{shut("T"), shut("N")})
	officetest.GatherMap(t, o, map[string]string{"costs.csv": "project,cost_code,kind,period,version,amount\nN,10,forecast,2026-04,2026-03,5.00\n"})
	require.Equal(t, "", shut("N"), "what it states is of a period that is open")
}

// TestLaterPeriods: a year is shown, and the next leads on; a list of periods that ends sooner
// has no later ones.
func TestLaterPeriods(t *testing.T) {
	ctx := context.Background()
	o := withTemplate(t)
	s, err := planning.In(o).Sheet(ctx, officetest.Operator, "T", planning.Money, "")
	require.NoError(t, err)
	require.Len(t, s.Columns, 1+12)
	require.Equal(t, []string{"2026-01", "2026-12", "2027-12"}, []string{s.Columns[1].Name, s.Columns[12].Name, s.Later})
	s, err = planning.In(o).Sheet(ctx, officetest.Operator, "T", planning.Money, s.Later)
	require.NoError(t, err)
	require.Len(t, s.Columns, 1+24)
	require.Equal(t, "2028-12", s.Later)
	require.Equal(t, "10 Works", s.Rows[0].Title)
	officetest.GatherMap(t, o, map[string]string{"costs.csv": "project,cost_code,kind,class,period,version,amount,currency\nT,20,plan,capex,2026-01,1,5.00,NOK\n"})
	s, err = planning.In(o).Sheet(ctx, officetest.Operator, "T", planning.Money, "")
	require.NoError(t, err)
	require.Equal(t, "20 Fees, capex", s.Rows[1].Title)
	officetest.GatherMap(t, o, map[string]string{"costs.csv": "project,cost_code,kind,period,version,amount\nT,10,plan,2035-01,1,5.00\n"})
	s, err = planning.In(o).Sheet(ctx, officetest.Operator, "T", planning.Money, "")
	require.NoError(t, err)
	require.Len(t, s.Columns, 1+24, "of a long plan as many as a page shows")
}
