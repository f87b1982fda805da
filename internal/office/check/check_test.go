package check_test

import (
	"context"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/change"
	"turret/internal/core/figure"
	"turret/internal/core/finding"
	"turret/internal/core/standing"
	"turret/internal/office"
	"turret/internal/office/check"
	"turret/internal/office/closing"
	"turret/internal/office/entry"
	"turret/internal/office/export"
	"turret/internal/office/history"
	"turret/internal/office/officetest"
	"turret/internal/office/trail"
)

const (
	twice  = "K1 booked-twice cost code 10, opex, 2026-02"
	back   = "K1 progress-back activity A"
	posted = "K2 posted-twice posting L4"
)

// TestCorrect mends findings at their cells: told first, then done.
func TestCorrect(t *testing.T) {
	ctx := context.Background()
	o := officetest.CheckedOffice(t)
	m := officetest.February(t, o)
	all := officetest.Found(m)
	for _, k := range []string{twice, back, posted} {
		require.Contains(t, all, k)
	}
	require.Equal(t, standing.Act, officetest.ReadingOf(m, "K1").Standing[standing.Data], "an error is open")
	for k, want := range map[string]map[string]string{twice: {"amount": "100.00"}, back: {"percent": "35"}, posted: {"amount": "70.00"}} {
		f := all[k]
		cells, err := check.In(o).Mendable(ctx, officetest.Operator, m, &f)
		require.NoError(t, err)
		got := make(map[string]string)
		for _, c := range cells {
			got[c.Column] = c.Value
		}
		for column, v := range want {
			require.Equal(t, v, got[column], k)
		}
	}
	r, err := check.In(o).
		Correct(ctx, officetest.Operator, m, officetest.Key(all[twice]), map[string]string{"amount": ""}, nil, true)
	require.NoError(t, err)
	require.False(t, r.Written)
	require.Len(t, r.Effects, 1)
	settled, brought := r.Effects[0].Settles()
	require.ElementsMatch(t, []string{"booked-twice", "totals-differ"}, []string{settled[0].Check, settled[1].Check})
	require.Empty(t, brought)
	require.Contains(t, officetest.Found(officetest.February(t, o)), twice, "nothing is done yet")

	for k, cells := range map[string]map[string]string{twice: {"amount": ""}, back: {"percent": "45"}, posted: {"amount": "0"}} {
		m = officetest.February(t, o)
		r, err = check.In(o).Correct(ctx, officetest.Operator, m, officetest.Key(all[k]), cells, nil, false)
		require.NoError(t, err, k)
		require.True(t, r.Written)
	}
	m = officetest.February(t, o)
	now := officetest.Found(m)
	for _, k := range []string{twice, back, posted} {
		require.NotContains(t, now, k)
	}
	require.Equal(t, "240.00", officetest.ReadingOf(m, "K1").Value(figure.AC).Text("EUR"), "150.00 + 90.00")
	require.NotEqual(t, standing.Act, officetest.ReadingOf(m, "K1").Standing[standing.Data])

	_, err = check.In(o).
		Correct(ctx, officetest.Operator, m, officetest.Key(all[back]), map[string]string{"percent": "50"}, nil, false)
	require.ErrorContains(t, err, "gone meanwhile")
}

// TestCorrectRefuses: what cannot be taken is said at its column, and nothing
// is written.
func TestCorrectRefuses(t *testing.T) {
	ctx := context.Background()
	o := officetest.CheckedOffice(t)
	m := officetest.February(t, o)
	f := officetest.Found(m)[back]
	rev, err := o.Revision(ctx, officetest.Operator)
	require.NoError(t, err)
	for text, want := range map[string]string{"35": "Nothing is changed yet", "140": "Percent:", "forty": "Percent:"} {
		_, err := check.In(o).
			Correct(ctx, officetest.Operator, m, officetest.Key(f), map[string]string{"percent": text}, nil, false)
		require.ErrorIs(t, err, office.ErrRefused, text)
		require.ErrorContains(t, err, want)
	}
	_, err = check.In(o).
		Correct(ctx, officetest.Operator, officetest.Moment(t, o, office.Ask{At: "2026-01"}), officetest.Key(f), map[string]string{"percent": "50"}, nil, false)
	require.ErrorIs(t, err, office.ErrRefused)
	for _, role := range []office.Role{office.Lead, office.Executive, office.Administrator} {
		_, err := check.In(o).
			Correct(ctx, office.Actor{Name: "x", Role: role}, m, officetest.Key(f), map[string]string{"percent": "50"}, nil, false)
		require.ErrorAs(t, err, new(*office.Denied))
		_, err = check.In(o).
			Answer(ctx, office.Actor{Name: "x", Role: role}, m, change.Unseen, []office.FindingKey{officetest.Key(f)}, check.Accept, "2026-04", "r")
		require.ErrorAs(t, err, new(*office.Denied))
	}
	after, err := o.Revision(ctx, officetest.Operator)
	require.NoError(t, err)
	require.Equal(t, rev, after)
}

// TestAnswers: many at once; an accepted finding does not count, is kept in the
// cut, and comes back when its values change.
func TestAnswers(t *testing.T) {
	ctx := context.Background()
	o := officetest.CheckedOffice(t)
	m := officetest.February(t, o)
	all := officetest.Found(m)
	before := officetest.ReadingOf(m, "K1").Value(figure.Errors).N
	require.Positive(t, before)
	for _, bad := range []struct{ answer, until, reason, want string }{
		{check.Accept, "", "r", "has an end"},
		{check.Accept, "2026-01", "r", "before the first"},
		{check.Accept, "soon", "r", "Until"},
		{check.Accept, "2026-06", " ", "needs a reason"},
		{check.SendBack, "", "", "needs a reason"},
	} {
		_, err := check.In(o).
			Answer(ctx, officetest.Operator, m, change.Unseen, []office.FindingKey{officetest.Key(all[twice])}, bad.answer, bad.until, bad.reason)
		require.ErrorIs(t, err, office.ErrRefused)
		require.ErrorContains(t, err, bad.want)
	}
	n, err := check.In(o).
		Answer(ctx, officetest.Operator, m, change.Unseen, []office.FindingKey{officetest.Key(all[twice]), officetest.Key(all[back]), {Project: "K1", Check: "gone"}}, check.Accept, "2026-03", "the yard told us")
	require.NoError(t, err)
	require.Equal(t, 2, n)
	_, err = check.In(o).
		Answer(ctx, officetest.Operator, m, change.Unseen, []office.FindingKey{officetest.Key(all[posted])}, check.SendBack, "", "One invoice or two?")
	require.NoError(t, err)
	m = officetest.February(t, o)
	now := officetest.Found(m)
	require.Equal(t, finding.Accepted, now[twice].State)
	require.Equal(t, "the yard told us", now[twice].Answer.Reason)
	require.Equal(t, officetest.Operator.Name, now[twice].Answer.By)
	require.Equal(t, finding.SentBack, now[posted].State)
	require.Less(t, officetest.ReadingOf(m, "K1").Value(figure.Errors).N, before)

	c, err := check.In(o).Checking(ctx, officetest.Operator, m, check.FindingFilter{State: "unexplained"})
	require.NoError(t, err)
	for _, f := range c.Found {
		require.NotContains(t, []string{twice, back, posted}, f.Project+" "+f.Check+" "+f.Record)
	}
	officetest.GatherMap(
		t,
		o,
		map[string]string{"costs.csv": "project,cost_code,kind,period,amount\nK1,10,actual,2026-02,110.00\n"},
	)
	require.Equal(
		t,
		finding.Back,
		officetest.Found(officetest.February(t, o))[twice].State,
		"another amount is another matter",
	)

	_, err = check.In(o).
		Answer(ctx, officetest.Operator, officetest.February(t, o), change.Unseen, []office.FindingKey{officetest.Key(all[back])}, check.Withdraw, "", "")
	require.NoError(t, err)
	require.Equal(t, finding.Open, officetest.Found(officetest.February(t, o))[back].State)

	p, err := o.ParsePeriod(ctx, officetest.Operator, "2026-02")
	require.NoError(t, err)
	_, err = closing.In(o).ClosePeriod(ctx, officetest.Operator, p)
	require.NoError(t, err)
	m = officetest.February(t, o)
	require.Equal(t, finding.Back, officetest.Found(m)[twice].State, "the cut keeps what was said")
	_, err = check.In(o).
		Answer(ctx, officetest.Operator, m, change.Unseen, []office.FindingKey{officetest.Key(all[back])}, check.Accept, "2026-06", "late")
	require.ErrorContains(t, err, "is closed")
	march := officetest.Moment(t, o, office.Ask{At: "2026-03", Own: true})
	require.Equal(t, 2, officetest.Found(march)[twice].Age, "found first a period ago")
}

// TestCauses: counted, summed, filtered, and written out.
func TestCauses(t *testing.T) {
	ctx := context.Background()
	o := officetest.CheckedOffice(t)
	m := officetest.February(t, o)
	c, err := check.In(o).Checking(ctx, officetest.Operator, m, check.FindingFilter{})
	require.NoError(t, err)
	require.Equal(t, "booked-twice", c.Causes[0].Check, "errors come first")
	sum := 0
	for _, x := range c.Causes {
		sum += x.Counts.Open()
		if x.Check == "posted-twice" {
			require.Equal(t, int64(7000), x.Worth)
			require.Equal(t, []string{"K2"}, x.Projects)
			require.Equal(t, []string{"Ben"}, x.Leads)
		}
	}
	require.Equal(t, c.Counts.Open(), sum)
	require.Len(t, c.Trend, 2)
	require.True(t, c.Trend[0].Known)
	for _, f := range []check.FindingFilter{{Check: "posted-twice"}, {Project: "K2"}, {Lead: "Ben"}, {Severity: "error"}, {Age: "new"}, {State: "open"}} {
		some, err := check.In(o).Checking(ctx, officetest.Operator, m, f)
		require.NoError(t, err)
		require.NotEmpty(t, some.Found, f)
		require.LessOrEqual(t, len(some.Found), len(c.All))
		require.Equal(t, c.Counts, some.Counts, "the counts are of all")
	}
	one, err := check.In(o).Check(ctx, officetest.Operator, "2026-02", "K2")
	require.NoError(t, err)
	for _, f := range one {
		require.Equal(t, "K2", f.Project)
	}
	_, err = check.In(o).Check(ctx, officetest.Operator, "2026-02", "nope")
	require.ErrorIs(t, err, office.ErrUnknownScope)
	var b strings.Builder
	for _, format := range []string{"table", "csv", "json"} {
		b.Reset()
		require.NoError(t, check.In(o).WriteFindings(ctx, &b, format, one))
		require.Contains(t, b.String(), "posted-twice", format)
	}
}

// TestPlanChangedInPlace: a plan that changes under its number after a close is
// found, before it is taken and after; put back, it is gone.
func TestPlanChangedInPlace(t *testing.T) {
	ctx := context.Background()
	o := officetest.CheckedOffice(t)
	change := map[string]string{
		"costs.csv": "project,cost_code,kind,period,version,amount\nK2,10,plan,2026-01,1,650.00\n",
	}
	const changed = "K2 plan-changed plan 1"
	r, err := entry.In(o).
		Gather(ctx, officetest.Operator, []entry.File{{Name: "costs.csv", Body: []byte(change["costs.csv"])}}, nil, entry.Options{DryRun: true, Effect: true})
	require.NoError(t, err)
	_, brought := r.Effects[0].Settles()
	require.Equal(t, "plan-changed", brought[0].Check, "told before it is taken")
	officetest.GatherMap(t, o, change)
	require.Equal(t, int64(5000), officetest.Found(officetest.February(t, o))[changed].Money)
	officetest.GatherMap(
		t,
		o,
		map[string]string{"costs.csv": "project,cost_code,kind,period,version,amount\nK2,10,plan,2026-01,1,600.00\n"},
	)
	f, still := officetest.Found(officetest.February(t, o))[changed]
	require.False(t, still, f.Text)
}

// TestChecksTravel: what is said about findings, checks and rules goes out with
// an export and comes back the same.
func TestChecksTravel(t *testing.T) {
	ctx := context.Background()
	o := officetest.CheckedOffice(t)
	m := officetest.February(t, o)
	_, err := check.In(o).
		Answer(ctx, officetest.Operator, m, change.Unseen, []office.FindingKey{officetest.Key(officetest.Found(m)[twice])}, check.Accept, "2026-04", "r")
	require.NoError(t, err)
	require.NoError(
		t,
		check.In(o).
			LeaveOut(ctx, officetest.Operator, m, change.Unseen, "K2", "posted-twice", "", "the ledger books two lines an invoice"),
	)
	officetest.GatherMap(t, o, map[string]string{
		"checks.csv":     "check,from,severity,limit,over,expression,title,says\nprogress-back,2026-02,error,,,,,\nours,2026-02,note,,project,ac > 100,Spends,{ac} is spent.\n",
		"dimensions.csv": "dimension,title,weight\nsafety,Safety,2\n",
		"policies.csv":   "policy,from,how\noverall,2026-02,worst\n",
		"rules.csv":      "dimension,reading,from,direction,watch,act,scope,title\nsafety,risk_exposure,2026-02,at least,5,10,,\ncost,ac / bac,2026-02,above,0.3,0.9,K1,Spent share\n",
	})
	want := officetest.Found(officetest.February(t, o))
	require.Equal(t, finding.Error, want[back].Severity)
	require.NotContains(t, want, posted)
	require.Equal(t, "340 EUR is spent.", want["K1 ours "].Text)
	dir := filepath.Join(t.TempDir(), "out")
	require.NoError(t, export.In(o).Export(ctx, officetest.Operator, dir))
	again := officetest.NewOffice(t)
	r := officetest.GatherPaths(t, again, entry.Options{}, dir)
	require.Empty(t, r.Refusals)
	got := officetest.Found(officetest.February(t, again))
	require.Equal(t, len(want), len(got))
	for k, f := range want {
		require.Equal(t, f.Text, got[k].Text, k)
		require.Equal(t, f.State, got[k].State, k)
		require.Equal(t, f.Severity, got[k].Severity, k)
	}
	a, b := officetest.ReadingOf(
		officetest.February(t, o),
		"K1",
	), officetest.ReadingOf(
		officetest.February(t, again),
		"K1",
	)
	require.Equal(t, a.Version, b.Version, "the rule set is the same one")
	require.Equal(t, a.Standing, b.Standing)
}

// TestLinksAcross: a change of the other project brings and settles the
// finding of this one.
func TestLinksAcross(t *testing.T) {
	o := officetest.CheckedOffice(t)
	const broken = "K2 link-overtaken link K1/A to A"
	officetest.GatherMap(t, o, map[string]string{
		"links.csv":    "project,from,to,type\nK2,K1/A,A,SS\n",
		"progress.csv": "project,activity,period,start,finish\nK1,A,2026-02,2026-01-05,2026-06-26\nK2,A,2026-02,2026-01-05,2026-06-26\n",
	})
	require.NotContains(t, officetest.Found(officetest.February(t, o)), broken)
	late := map[string]string{"progress.csv": "project,activity,period,actual_start\nK1,A,2026-02,2026-02-02\n"}
	r, err := entry.In(o).
		Gather(context.Background(), officetest.Operator, []entry.File{{Name: "progress.csv", Body: []byte(late["progress.csv"])}}, nil, entry.Options{DryRun: true, Effect: true})
	require.NoError(t, err)
	var brings []string
	for _, e := range r.Effects {
		if e.Code == "K2" {
			brings = e.Brings
		}
	}
	require.Len(t, brings, 1, "it is told before")
	require.Contains(t, brings[0], "was started on 5 Jan 2026, 20 working days before its link (SS) to A of K1 allows")
	officetest.GatherMap(t, o, late)
	require.Contains(t, officetest.Found(officetest.February(t, o)), broken)
	officetest.GatherMap(
		t,
		o,
		map[string]string{"progress.csv": "project,activity,period,actual_start\nK1,A,2026-02,2026-01-05\n"},
	)
	require.NotContains(t, officetest.Found(officetest.February(t, o)), broken)
}

// TestQuestions: a lead sees those of their own projects.
func TestQuestions(t *testing.T) {
	ctx := context.Background()
	o := officetest.CheckedOffice(t)
	m := officetest.February(t, o)
	all := officetest.Found(m)
	_, err := check.In(o).
		Answer(ctx, officetest.Operator, m, change.Unseen, []office.FindingKey{officetest.Key(all[back]), officetest.Key(all[posted])}, check.SendBack, "", "Why?")
	require.NoError(t, err)
	m = officetest.February(t, o)
	require.Len(t, m.Questions(officetest.Operator), 2)
	lead := officetest.Admitted(t, o, "ben", office.Lead, "K2")
	list := m.Questions(lead)
	require.Len(t, list, 1)
	require.Equal(t, "K2", list[0].Project)
}

// TestFindingsOfCuts: a closed period keeps what was found and said, and its
// inputs give the same again.
func TestFindingsOfCuts(t *testing.T) {
	ctx := context.Background()
	o := officetest.CheckedOffice(t)
	m := officetest.February(t, o)
	_, err := check.In(o).
		Answer(ctx, officetest.Operator, m, change.Unseen, []office.FindingKey{officetest.Key(officetest.Found(m)[twice])}, check.Accept, "2026-06", "r")
	require.NoError(t, err)
	officetest.GatherMap(
		t,
		o,
		map[string]string{"costs.csv": "project,cost_code,kind,period,version,amount\nK2,10,plan,2026-01,1,650.00\n"},
	)
	want := officetest.Found(officetest.February(t, o))
	p, err := o.ParsePeriod(ctx, officetest.Operator, "2026-02")
	require.NoError(t, err)
	_, err = closing.In(o).ClosePeriod(ctx, officetest.Operator, p)
	require.NoError(t, err)
	closed := officetest.February(t, o)
	require.Equal(t, want, officetest.Found(closed), "what the cut keeps")
	for _, id := range []figure.ID{figure.Errors, figure.Warnings} { // computed anew from its inputs
		for _, code := range []string{"K1", "K2"} {
			tr, err := trail.In(o).Trail(ctx, officetest.Operator, closed, false, code, id)
			require.NoError(t, err)
			require.Empty(t, tr.Drift, code)
		}
	}
	original := officetest.Moment(t, o, office.Ask{At: "2026-02", Against: "original"}) // from the cut's inputs
	for k, f := range want {
		require.Equal(t, f.Since, officetest.Found(original)[k].Since, k)
		require.Equal(t, f.State, officetest.Found(original)[k].State, k)
	}
}

// TestTwoCorrectTheSame: who comes second sees what the first put there, and
// chooses; what only the first changed stays.
func TestTwoCorrectTheSame(t *testing.T) {
	ctx := context.Background()
	o := officetest.CheckedOffice(t)
	m := officetest.February(t, o)
	f := officetest.Found(m)[back]
	seen := map[string]string{"percent": "35"}
	mira := office.Actor{Name: "Mira Stenholt", Role: office.Analyst}
	_, err := check.In(o).Correct(ctx, mira, m, officetest.Key(f), map[string]string{"percent": "38"}, seen, false)
	require.NoError(t, err)

	m = officetest.February(t, o) // the second still has the form as it was
	_, err = check.In(o).
		Correct(ctx, officetest.Operator, m, officetest.Key(f), map[string]string{"percent": "39"}, seen, false)
	require.ErrorIs(t, err, office.ErrRefused)
	require.ErrorContains(t, err, "Percent was changed meanwhile by Mira Stenholt")
	require.ErrorContains(t, err, "it says 38 now. Yours, 39, is still in the form")
	_, err = check.In(o).
		Correct(ctx, officetest.Operator, m, officetest.Key(f), map[string]string{"percent": "38"}, seen, false)
	require.ErrorContains(t, err, "Nothing is changed yet", "the same value is theirs")
	_, err = check.In(o).
		Correct(ctx, officetest.Operator, m, officetest.Key(f), map[string]string{"percent": "35"}, seen, false)
	require.ErrorContains(t, err, "Nothing is changed yet", "what the second did not touch stays the first's")
	require.Equal(
		t,
		"K1 progress A, stated 2026-02 percent: 35 → 38",
		officetest.Wrote(officetest.Batches(t, o, history.Ask{Project: "K1", Table: "progress", Who: "mira"})[0].Rows)[0],
	)
	_, err = check.In(o).
		Correct(ctx, officetest.Operator, officetest.February(t, o), officetest.Key(f), map[string]string{"percent": "39"}, map[string]string{"percent": "38"}, false)
	require.NoError(t, err, "the second chose to put theirs in its place")
}
