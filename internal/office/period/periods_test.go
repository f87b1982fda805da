package period_test

import (
	"bytes"
	"context"
	"encoding/csv"
	"encoding/json"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/change"
	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/office/board"
	"turret/internal/office/closing"
	"turret/internal/office/entry"
	"turret/internal/office/export"
	"turret/internal/office/history"
	"turret/internal/office/intake"
	"turret/internal/office/officetest"
	"turret/internal/office/period"
	"turret/internal/record"
)

// asList draws calendar months as an office's own list, from January 2024, with
// fiscal years from April: the first year begins with its tenth period.
func asList(years int) []calendar.Bound {
	months := calendar.Months(4)
	var out []calendar.Bound
	for p := months.InMonth(2024, 1); p < months.InMonth(2024+years, 1); p++ {
		out = append(
			out,
			calendar.Bound{
				Code:  fmt.Sprintf("FY%02d-P%02d", months.FiscalYear(p)%100, months.Number(p)),
				Name:  months.Name(p),
				First: months.First(p),
				Last:  months.Last(p),
			},
		)
	}
	return out
}

func boundaries(list []calendar.Bound) entry.File {
	var b strings.Builder
	b.WriteString("period,first,last,name\n")
	for _, x := range list {
		fmt.Fprintf(&b, "%s,%s,%s,%s\n", x.Code, x.First, x.Last, x.Name)
	}
	return officetest.File("boundaries.csv", b.String())
}

// recoded writes tables of months with the codes of a list that has the same
// days.
func recoded(t *testing.T, dir string, list []calendar.Bound) (out []entry.File) {
	t.Helper()
	to := make(map[string]string)
	for _, b := range list {
		y, m, _ := b.First.Split()
		to[fmt.Sprintf("%04d-%02d", y, m)] = b.Code
	}
	paths, err := filepath.Glob(filepath.Join(dir, "*.csv"))
	require.NoError(t, err)
	for _, path := range paths {
		body, err := os.ReadFile(path)
		require.NoError(t, err)
		rows, err := csv.NewReader(bytes.NewReader(body)).ReadAll()
		require.NoError(t, err)
		table := record.Named(strings.TrimSuffix(filepath.Base(path), ".csv"))
		for _, r := range rows[1:] {
			for i, name := range rows[0] {
				c := table.Index(name)
				if c < 0 || table.Columns[c].Type != record.Period && table.Columns[c].Type != record.VersionRef {
					continue
				}
				if code, ok := to[r[i]]; ok {
					r[i] = code
				}
			}
		}
		var b bytes.Buffer
		require.NoError(t, csv.NewWriter(&b).WriteAll(rows))
		out = append(out, entry.File{Name: filepath.Base(path), Body: b.Bytes()})
	}
	return out
}

// answers are all readings of a period, without its code.
func answers(t *testing.T, o *office.Office, period string) string {
	t.Helper()
	list := append(
		officetest.Readings(t, o, period, portfolio.Latest, false),
		officetest.Readings(t, o, period, portfolio.Original, true)...)
	for _, r := range list {
		require.Equal(t, period, r["period"])
		delete(r, "period")
	}
	b, err := json.MarshalIndent(list, "", " ")
	require.NoError(t, err)
	return string(b)
}

// TestAListOfMonthsReadsAsMonths: the same days under other codes give the same
// readings and findings; and so does what is exported, gathered elsewhere.
func TestAListOfMonthsReadsAsMonths(t *testing.T) {
	months, own := officetest.NewOffice(t), officetest.NewOffice(t)
	list := asList(12)
	require.Empty(
		t,
		officetest.GatherPaths(t, months, entry.Options{}, filepath.Join(officetest.ExampleDir(t), "tables")).Refusals,
	)
	files := append(
		recoded(t, filepath.Join(officetest.ExampleDir(t), "tables"), list),
		boundaries(list),
	) // all in one gather, in any order
	require.Empty(t, officetest.Take(t, own, entry.Options{}, files...).Refusals)
	again := officetest.NewOffice(t)
	dir := filepath.Join(t.TempDir(), "out")
	require.NoError(t, export.In(own).Export(context.Background(), officetest.Operator, dir))
	require.Empty(t, officetest.GatherPaths(t, again, entry.Options{}, dir).Refusals)
	tried := [][2]string{{"2026-11", "FY27-P08"}, {"2026-05", "FY27-P02"}, {"2026-08", "FY27-P05"}}
	if testing.Short() {
		tried = tried[:1]
	}
	for _, p := range tried {
		want := answers(t, months, p[0])
		require.Equal(t, want, answers(t, own, p[1]), p[1])
		require.Equal(t, want, answers(t, again, p[1]), p[1])
		says := strings.Join(officetest.Told(t, own, p[1]), "\n")
		for _, b := range list { // findings name records, and those their periods
			says = strings.ReplaceAll(says, ", "+b.Code+" |", ", "+b.First.String()[:7]+" |")
		}
		require.Equal(t, strings.Join(officetest.Told(t, months, p[0]), "\n"), says, p[1])
	}
}

// TestPlansBeyondTheList: where the list ends before a plan does, its budget
// stays whole, and a finding says so.
func TestPlansBeyondTheList(t *testing.T) {
	o := officetest.NewOffice(t)
	r := officetest.Take(
		t,
		o,
		entry.Options{},
		officetest.File(
			"boundaries.csv",
			"period,first,last\nFY27-P01,2026-03-30,2026-04-26\nFY27-P02,2026-04-27,2026-05-24\n",
		),
		officetest.File(
			"projects.csv",
			"project,name\nP,Pier\n",
		),
		officetest.File("baselines.csv", "project,baseline,approved\nP,1,2026-03-01\n"),
		// Ten working weeks from 16 March to 22 May, and four from 25 May on: two and four of
		// the first ten lie in no period.
		officetest.File(
			"activities.csv",
			"project,activity,name,budget,baseline_start,baseline_finish\nP,A,Piles,1000,2026-03-16,2026-05-22\nP,B,Deck,400,2026-05-11,2026-06-19\n",
		),
		officetest.File("progress.csv", "project,activity,period,percent\nP,A,FY27-P01,50\n"),
	)
	require.Empty(t, r.Refusals)
	first := officetest.Readings(t, o, "FY27-P01", portfolio.Latest, false)[0]
	// A: 30 of 50 working days by 26 April; B has not begun.
	require.Equal(t, []any{1400.0, 600.0, 500.0}, []any{first["bac"], first["pv"], first["ev"]})
	last := officetest.Readings(t, o, "FY27-P02", portfolio.Latest, false)[0]
	require.Equal(
		t,
		[]any{1400.0, 1400.0, nil},
		[]any{last["bac"], last["pv"], last["finish_computed"]},
		"what is planned later counts in the last period",
	)
	m := officetest.Moment(t, o, office.Ask{At: "FY27-P01"})
	var says []string
	for _, f := range officetest.Found(m) {
		if f.Check == "date-impossible" {
			says = append(says, f.Text)
		}
	}
	require.Len(t, says, 2)
	require.Contains(t, strings.Join(says, "\n"), "Activity B")
	require.Contains(t, says[0], "in no period of the office's calendar")
}

func TestBoundariesStayWhereSomethingIsNamed(t *testing.T) {
	ctx := context.Background()
	o := officetest.NewOffice(t)
	list := asList(4)[3:15] // FY25-P01 to FY25-P12
	list[2].Name = "Midsummer"
	require.Empty(t, officetest.Take(t, o, entry.Options{}, boundaries(list)).Refusals)
	first := officetest.LastBatch(t, o)
	base := []entry.File{
		officetest.File(
			"projects.csv",
			"project,name\nP,Pier\n",
		), officetest.File("cost_codes.csv", "cost_code,name\n1,One\n"),
		officetest.File(
			"costs.csv",
			"project,cost_code,kind,period,amount\nP,1,plan,FY25-P05,10\nP,1,actual,FY25-P01,4\n",
		),
	}
	require.Empty(t, officetest.Take(t, o, entry.Options{}, base...).Refusals)
	_, err := closing.In(o).ClosePeriod(ctx, officetest.Operator, 1)
	require.NoError(t, err)
	before := answers(t, o, "FY25-P01")
	for _, c := range []struct {
		row, says string
	}{
		{"FY25-P05,2024-08-01,2024-08-30,", "it begins on 2024-09-01, and FY25-P05 ends on 2024-08-30"},
		{"FY25-P05,-,-,-", "the days between are in no period"},
		{"FY25-P05,2024-08-01,2024-08-30,\nFY25-P06,2024-08-31,2024-09-30,", "it keeps its days, 2024-08-01 to 2024-08-31: costs name periods up to FY25-P05"},
		{"FY25-P01,2024-04-01,2024-04-30,Spring", `it is closed as "Apr 2024" and keeps that name`},
		{"FY24-P12,2024-03-01,2024-03-31,", "it keeps its days"},
		{"FY26-P02,2025-04-01,2025-04-30,", "it comes after FY25-P12; that is FY25-P13, or FY26-P01"},
		{"FY26-P01,2025-04-01,,", "a period needs both a first and a last day"},
		{"FY26-P01,2025-04-01,2024-04-30,", "before it begins"},
		{"FY26-P01,2025-04-01,2025-04-30,midSUMMER", `FY25-P03 is called "MIDSUMMER" already`},
		{"2025-04,2025-04-01,2025-04-30,", "is not a period like FY27-P01"},
	} {
		r := officetest.Take(
			t,
			o,
			entry.Options{},
			officetest.File("boundaries.csv", "period,first,last,name\n"+c.row+"\n"),
		)
		var says []string
		for _, x := range r.Refusals {
			says = append(says, x.Reason)
		}
		require.Contains(t, strings.Join(says, "\n"), c.says, c.row)
	}
	refused := func(err error, says string) {
		t.Helper()
		require.ErrorIs(t, err, office.ErrRefused)
		require.ErrorContains(t, err, says)
	}
	refused(period.In(o).KeepMonths(ctx, officetest.Operator, 1<<40, "4"), "so the kind of periods stays")
	_, err = history.In(o).Undo(ctx, officetest.Operator, first, false)
	refused(err, "so the kind of periods stays")

	// Later periods are added, called otherwise, taken away, and taken back.
	require.Empty(
		t,
		officetest.Take(
			t,
			o,
			entry.Options{},
			officetest.File(
				"boundaries.csv",
				"period,first,last,name\nFY25-P06,,,Autumn\nFY26-P01,2025-04-01,2025-05-15,\nFY26-P02,2025-05-16,2025-05-31,\n",
			),
		).Refusals,
	)
	added := officetest.LastBatch(t, o)
	c, err := period.In(o).ReportingCalendar(ctx, officetest.Operator)
	require.NoError(t, err)
	require.Len(t, c.Periods, 14)
	require.Equal(t, []any{"Autumn", 5, "2025-05-15"}, []any{c.Periods[5].Name, c.Keeps, c.Periods[12].Last.String()})
	require.Equal(t, office.PeriodClosed, c.Periods[0].State)
	_, err = history.In(o).Undo(ctx, officetest.Operator, added, false)
	require.NoError(t, err)
	c, err = period.In(o).ReportingCalendar(ctx, officetest.Operator)
	require.NoError(t, err)
	require.Len(t, c.Periods, 12)
	require.NoError(
		t,
		period.In(o).KeepPeriods(ctx, officetest.Operator, 1<<40, strings.Join(strings.Split(c.List, "\n")[:6], "\n")),
	)
	shorter := officetest.LastBatch(t, o)
	require.NoError(
		t,
		period.In(o).
			KeepPeriods(ctx, officetest.Operator, 1<<40, strings.Join(strings.Split(c.List, "\n")[:6], "\n")+"\nFY25-P07\t2024-10-31\tLast one"),
	)
	_, err = history.In(o).Undo(ctx, officetest.Operator, shorter, false)
	require.ErrorIs(t, err, office.ErrRefused, "what was drawn since stands on it")

	// The list ends, and a close has to have somewhere to go on.
	require.Empty(
		t,
		officetest.Take(
			t,
			o,
			entry.Options{},
			officetest.File(
				"costs.csv",
				"project,cost_code,kind,period,version,amount\nP,1,forecast,FY25-P07,FY25-P07,4\n",
			),
		).Refusals,
	)
	p, err := o.ParsePeriod(ctx, officetest.Operator, "last ONE")
	require.NoError(t, err)
	_, err = closing.In(o).ClosePeriod(ctx, officetest.Operator, p)
	refused(err, "is the last period of the office's calendar")
	_, err = board.In(o).Rail(ctx, officetest.Operator, officetest.Moment(t, o, office.Ask{}), "*")
	require.NoError(t, err)
	require.Equal(t, before, answers(t, o, "FY25-P01"), "the closed period answers as it did")
}

func TestBoundariesAreTakenAllOrNone(t *testing.T) {
	o := officetest.NewOffice(t)
	r := officetest.Take(
		t,
		o,
		entry.Options{},
		officetest.File(
			"boundaries.csv",
			"period,first,last\nFY27-P01,2026-03-30,2026-04-26\nFY27-P02,2026-04-28,2026-05-24\n",
		),
		officetest.File("rates.csv", "currency,period,set,rate\nNOK,2026-04,period,0.09\n"),
	)
	require.Len(t, r.Refusals, 2)
	require.Contains(t, r.Refusals[0].Reason, "periods are taken all or none, and FY27-P02: it begins on 2026-04-28")
	require.Contains(t, r.Refusals[1].Reason, "the days between are in no period")
	c, err := period.In(o).ReportingCalendar(context.Background(), officetest.Operator)
	require.NoError(t, err)
	require.True(t, c.Months)
	require.Equal(t, "Apr 2026", c.Named, "the rate was taken by month")
	r = officetest.Take(
		t,
		o,
		entry.Options{},
		officetest.File("boundaries.csv", "period,first,last\nFY27-P01,2026-03-30,2026-04-26\n"),
	)
	require.Len(t, r.Refusals, 1)
	require.Contains(t, r.Refusals[0].Reason, "rates name Apr 2026 already")
}

// TestChecking: in checking leads state no more, and the office still gathers.
func TestChecking(t *testing.T) {
	ctx := context.Background()
	o := officetest.NewOffice(t)
	officetest.Take(
		t,
		o,
		entry.Options{},
		officetest.File("projects.csv", "project,name\nP,Pier\n"),
		officetest.File("narratives.csv", "project,period,section,text\nP,2026-10,summary,Well\n"),
	)
	ada := officetest.Admitted(t, o, "ada", office.Lead, "P")
	m := officetest.Moment(t, o, office.Ask{})
	require.Equal(t, office.PeriodOpen, m.Period.State)
	state := func(a office.Actor, period, text string) error {
		_, err := entry.In(o).
			Gather(ctx, a, []entry.File{officetest.File("narratives.csv", "project,period,section,text\nP,"+period+",summary,"+text+"\n")}, nil, entry.Options{})
		return err
	}
	require.NoError(t, state(ada, "2026-10", "Better"))
	require.NoError(t, period.In(o).SetChecking(ctx, officetest.Operator, m, true))
	require.ErrorIs(t, period.In(o).SetChecking(ctx, officetest.Operator, m, true), office.ErrRefused)
	m = officetest.Moment(t, o, office.Ask{})
	require.Equal(t, office.PeriodChecking, m.Period.State)
	require.ErrorContains(t, state(ada, "2026-10", "Best"), "Oct 2026 is in checking, so leads state no more for it")
	require.NoError(t, state(ada, "2026-11", "Later"))
	require.NoError(t, state(officetest.Operator, "2026-10", "Fair"))

	dir := filepath.Join(t.TempDir(), "out")
	require.NoError(t, export.In(o).Export(ctx, officetest.Operator, dir))
	again := officetest.NewOffice(t)
	require.Empty(t, officetest.GatherPaths(t, again, entry.Options{}, dir).Refusals)
	require.Equal(
		t,
		office.PeriodChecking,
		officetest.Moment(t, again, office.Ask{At: "2026-10"}).Period.State,
		"it travels",
	)

	require.NoError(
		t,
		period.In(o).SetChecking(ctx, officetest.Operator, officetest.Moment(t, o, office.Ask{At: "2026-10"}), false),
	)
	require.NoError(t, state(ada, "2026-10", "Best"))
	october, err := o.ParsePeriod(ctx, officetest.Operator, "2026-10")
	require.NoError(t, err)
	_, err = closing.In(o).ClosePeriod(ctx, officetest.Operator, october)
	require.NoError(t, err)
	require.ErrorContains(t, period.In(o).SetChecking(ctx, officetest.Operator, m, true), "is closed")
	r := officetest.Take(t, o, entry.Options{}, officetest.File("periods.csv", "period,state\n2026-10,in checking\n"))
	require.Contains(t, r.Refusals[0].Reason, "Oct 2026 is closed; reopen it with a reason")
	ahead := officetest.Moment(t, o, office.Ask{At: "2026-12", Own: true})
	require.True(t, ahead.Period.Ahead())
	require.ErrorContains(t, period.In(o).SetChecking(ctx, officetest.Operator, ahead, true), "is ahead")
}

// TestDueDays: October 2026 ends on a Saturday, so its last working day is the
// 30th; with 2 and 3 November off, the second one after it is the 5th.
func TestDueDays(t *testing.T) {
	ctx := context.Background()
	o, _ := officetest.BareOffice(t) // on 2 November 2026
	require.NoError(
		t,
		period.In(o).
			SaveCalendar(ctx, officetest.Operator, 0, "office", []string{"mon", "tue", "wed", "thu", "fri"}, "2026-11-02 Regatta\n2026-11-03\n"),
	)
	require.NoError(
		t,
		period.In(o).
			SetDue(ctx, officetest.Operator, 1<<40, map[string]string{"progress": "2", "forecast": "−1", "risks": " "}),
	)
	officetest.Take(
		t,
		o,
		entry.Options{},
		officetest.File("projects.csv", "project,name,start\nP,Pier,2026-01-01\nQ,Quay,2026-01-01\n"),
		officetest.File("activities.csv", "project,activity,name\nP,A,Work\n"),
		officetest.File("progress.csv", "project,activity,period,percent\nP,A,2026-10,5\n"),
	)
	m := officetest.Moment(t, o, office.Ask{At: "2026-10"})
	due := m.Due()
	require.Len(t, due, 2)
	require.Equal(
		t,
		[]string{"Forecast 2026-10-29", "Dates 2026-11-05"},
		[]string{due[0].Title + " " + due[0].Day.String(), due[1].Title + " " + due[1].Day.String()},
	)
	in, err := intake.In(o).Matrix(ctx, officetest.Operator, m)
	require.NoError(t, err)
	cells := make(map[string][]intake.Cell)
	for _, g := range in.Groups {
		for _, r := range g.Rows {
			cells[r.Code] = r.Cells
		}
	}
	for _, c := range []struct {
		project string
		kind    int
		state   string
		late    bool
	}{{"P", 0, intake.Came, false}, {"Q", 0, intake.Missing, false}, {"P", 1, intake.Missing, true}, {"Q", 1, intake.Missing, true}} {
		got := cells[c.project][c.kind]
		require.Equal(t, []any{c.state, c.late}, []any{got.State, got.Late}, "%s %d", c.project, c.kind)
	}
	require.ErrorContains(
		t,
		period.In(o).SetDue(ctx, officetest.Operator, 1<<40, map[string]string{"ledger": "soon"}),
		`Ledger: "soon" is not a whole number`,
	)
	require.ErrorContains(
		t,
		period.In(o).SetDue(ctx, officetest.Operator, 1<<40, map[string]string{"ledger": "99"}),
		"60",
	)
}

func TestWorkCalendars(t *testing.T) {
	ctx := context.Background()
	o := officetest.NewOffice(t)
	officetest.Take(t, o, entry.Options{}, officetest.File("projects.csv", "project,name\nP,Pier\n"))
	week := []string{"mon", "tue", "wed", "thu", "fri"}
	require.NoError(
		t,
		period.In(o).
			SaveCalendar(ctx, officetest.Operator, 0, "office", week, "2026-12-25 Christmas Day\n2026-12-24,\n"),
	)
	require.NoError(t, period.In(o).SaveCalendar(ctx, officetest.Operator, 1<<40, "yard", append(week, "sat"), ""))
	require.NoError(t, period.In(o).FollowCalendar(ctx, officetest.Operator, change.Unseen, "P", "yard"))
	list, err := period.In(o).WorkCalendars(ctx, officetest.Operator)
	require.NoError(t, err)
	require.Len(t, list, 2)
	require.Equal(t, "2026-12-24\n2026-12-25 Christmas Day\n", list[0].Holidays)
	require.True(t, list[0].Office, "it is the one called office")
	require.Equal(t, []string{"P"}, list[1].Projects)
	require.True(t, list[1].Week[5].Works)
	require.False(t, list[1].Week[6].Works)

	require.NoError(
		t,
		period.In(o).SaveCalendar(ctx, officetest.Operator, 1<<40, "office", week[:4], "2026-12-24 Eve\n"),
	)
	require.NoError(t, period.In(o).FollowCalendar(ctx, officetest.Operator, change.Unseen, "*", "yard"))
	require.NoError(t, period.In(o).FollowCalendar(ctx, officetest.Operator, change.Unseen, "P", ""))
	list, err = period.In(o).WorkCalendars(ctx, officetest.Operator)
	require.NoError(t, err)
	require.Equal(t, "2026-12-24 Eve\n", list[0].Holidays, "what is left out counts no longer")
	require.False(t, list[0].Week[4].Works)
	require.True(t, list[1].Office)
	require.Empty(t, list[1].Projects)
	for _, c := range []struct {
		err  error
		says string
	}{
		{period.In(o).SaveCalendar(ctx, officetest.Operator, 1<<40, " ", week, ""), "give it a code"},
		{period.In(o).SaveCalendar(ctx, officetest.Operator, 1<<40, "x", nil, ""), "choose at least one day"},
		{period.In(o).SaveCalendar(ctx, officetest.Operator, 1<<40, "x", week, "2026-12-25 A\n25 Dec B"), "Holidays, line 2"},
		{period.In(o).SaveCalendar(ctx, officetest.Operator, 1<<40, "x", []string{"monday"}, ""), "choose"},
		{period.In(o).SaveCalendar(ctx, officetest.Operator, 0, "office", week, ""), "test changed the day of the calendar office"},
		{period.In(o).FollowCalendar(ctx, officetest.Operator, change.Unseen, "P", "none"), `there is none called "none"`},
		{period.In(o).FollowCalendar(ctx, officetest.Operator, change.Unseen, "NO", "yard"), `there is none called "NO"`},
	} {
		require.ErrorIs(t, c.err, office.ErrRefused, c.says)
		require.ErrorContains(t, c.err, c.says)
	}
}
