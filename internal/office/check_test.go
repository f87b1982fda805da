package office_test

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
	"turret/internal/office/trail"
)

// checked is a portfolio with one fault of each kind of place: a total beside
// the ledger, a percentage that went back, and two invoices alike.
var checked = map[string]string{
	"programmes.csv": "programme,name\nQ,Quays\n",
	"cost_codes.csv": "cost_code,name\n10,Works\n20,Fees\n",
	"projects.csv":   "project,name,programme,lead,currency\nK1,North quay,Q,Ada,EUR\nK2,South quay,Q,Ben,EUR\n",
	"activities.csv": "project,activity,name,baseline_start,baseline_finish\nK1,A,Piles,2026-01-05,2026-06-26\nK2,A,Piles,2026-01-05,2026-06-26\n",
	"costs.csv": `project,cost_code,kind,period,version,amount
K1,10,plan,2026-01,1,300.00
K1,10,plan,2026-04,1,300.00
K2,10,plan,2026-01,1,600.00
K1,10,actual,2026-02,,100.00
K1,10,forecast,2026-03,2026-02,350.00
K2,10,forecast,2026-03,2026-02,400.00
K1,10,forecast,2026-02,2026-01,400.00
K2,10,forecast,2026-02,2026-01,500.00
`,
	"postings.csv": `posting,date,period,project,cost_code,amount,supplier,text
L1,2026-01-20,2026-01,K1,10,150.00,Yard,One
L2,2026-02-20,2026-02,K1,10,90.00,Yard,Two
L3,2026-02-21,2026-02,K2,20,70.00,Firm,Survey
L4,2026-02-21,2026-02,K2,20,70.00,Firm,Survey
`,
	"progress.csv": "project,activity,period,percent,actual_start\nK1,A,2026-01,40,2026-01-05\nK1,A,2026-02,35,\nK2,A,2026-01,10,2026-01-05\nK2,A,2026-02,20,\n",
}

func checkedOffice(t testing.TB) *office.Office {
	t.Helper()
	o := newOffice(t)
	gatherMap(t, o, checked)
	p, err := o.ParsePeriod(context.Background(), operator, "2026-01")
	require.NoError(t, err)
	_, err = closing.In(o).ClosePeriod(context.Background(), operator, p)
	require.NoError(t, err)
	return o
}

func gatherMap(t testing.TB, o *office.Office, files map[string]string) *entry.Report {
	t.Helper()
	var list []entry.File
	for name, body := range files {
		list = append(list, entry.File{Name: name, Body: []byte(body)})
	}
	r, err := entry.In(o).Gather(context.Background(), operator, list, nil, entry.Options{})
	require.NoError(t, err)
	require.Empty(t, r.Refusals)
	return r
}

func found(m *office.Moment) map[string]office.Finding {
	out := make(map[string]office.Finding)
	for _, f := range m.Findings() {
		out[f.Project+" "+f.Check+" "+f.Record] = f
	}
	return out
}

func key(f office.Finding) office.FindingKey {
	return office.FindingKey{Project: f.Project, Check: f.Check, Record: f.Record}
}

func readingOf(m *office.Moment, code string) *office.Reading {
	r, _ := m.Find(code)
	return r
}

func february(t *testing.T, o *office.Office) *office.Moment {
	t.Helper()
	return moment(t, o, office.Ask{At: "2026-02"})
}

const (
	twice  = "K1 booked-twice cost code 10, opex, 2026-02"
	back   = "K1 progress-back activity A"
	posted = "K2 posted-twice posting L4"
)

// TestCorrect mends findings at their cells: told first, then done.
func TestCorrect(t *testing.T) {
	ctx := context.Background()
	o := checkedOffice(t)
	m := february(t, o)
	all := found(m)
	for _, k := range []string{twice, back, posted} {
		require.Contains(t, all, k)
	}
	require.Equal(t, standing.Act, readingOf(m, "K1").Standing[standing.Data], "an error is open")
	for k, want := range map[string]map[string]string{twice: {"amount": "100.00"}, back: {"percent": "35"}, posted: {"amount": "70.00"}} {
		f := all[k]
		cells, err := check.In(o).Mendable(ctx, operator, m, &f)
		require.NoError(t, err)
		got := make(map[string]string)
		for _, c := range cells {
			got[c.Column] = c.Value
		}
		for column, v := range want {
			require.Equal(t, v, got[column], k)
		}
	}
	r, err := check.In(o).Correct(ctx, operator, m, key(all[twice]), map[string]string{"amount": ""}, nil, true)
	require.NoError(t, err)
	require.False(t, r.Written)
	require.Len(t, r.Effects, 1)
	settled, brought := r.Effects[0].Settles()
	require.ElementsMatch(t, []string{"booked-twice", "totals-differ"}, []string{settled[0].Check, settled[1].Check})
	require.Empty(t, brought)
	require.Contains(t, found(february(t, o)), twice, "nothing is done yet")

	for k, cells := range map[string]map[string]string{twice: {"amount": ""}, back: {"percent": "45"}, posted: {"amount": "0"}} {
		m = february(t, o)
		r, err = check.In(o).Correct(ctx, operator, m, key(all[k]), cells, nil, false)
		require.NoError(t, err, k)
		require.True(t, r.Written)
	}
	m = february(t, o)
	now := found(m)
	for _, k := range []string{twice, back, posted} {
		require.NotContains(t, now, k)
	}
	require.Equal(t, "240.00", readingOf(m, "K1").Value(figure.AC).Text("EUR"), "150.00 + 90.00")
	require.NotEqual(t, standing.Act, readingOf(m, "K1").Standing[standing.Data])

	_, err = check.In(o).Correct(ctx, operator, m, key(all[back]), map[string]string{"percent": "50"}, nil, false)
	require.ErrorContains(t, err, "gone meanwhile")
}

// TestCorrectRefuses: what cannot be taken is said at its column, and nothing
// is written.
func TestCorrectRefuses(t *testing.T) {
	ctx := context.Background()
	o := checkedOffice(t)
	m := february(t, o)
	f := found(m)[back]
	rev, err := o.Revision(ctx, operator)
	require.NoError(t, err)
	for text, want := range map[string]string{"35": "Nothing is changed yet", "140": "Percent:", "forty": "Percent:"} {
		_, err := check.In(o).Correct(ctx, operator, m, key(f), map[string]string{"percent": text}, nil, false)
		require.ErrorIs(t, err, office.ErrRefused, text)
		require.ErrorContains(t, err, want)
	}
	_, err = check.In(o).Correct(ctx, operator, moment(t, o, office.Ask{At: "2026-01"}), key(f), map[string]string{"percent": "50"}, nil, false)
	require.ErrorIs(t, err, office.ErrRefused)
	for _, role := range []office.Role{office.Lead, office.Executive, office.Administrator} {
		_, err := check.In(o).Correct(ctx, office.Actor{Name: "x", Role: role}, m, key(f), map[string]string{"percent": "50"}, nil, false)
		require.ErrorAs(t, err, new(*office.Denied))
		_, err = check.In(o).Answer(ctx, office.Actor{Name: "x", Role: role}, m, change.Unseen, []office.FindingKey{key(f)}, check.Accept, "2026-04", "r")
		require.ErrorAs(t, err, new(*office.Denied))
	}
	after, err := o.Revision(ctx, operator)
	require.NoError(t, err)
	require.Equal(t, rev, after)
}

// TestAnswers: many at once; an accepted finding does not count, is kept in the
// cut, and comes back when its values change.
func TestAnswers(t *testing.T) {
	ctx := context.Background()
	o := checkedOffice(t)
	m := february(t, o)
	all := found(m)
	before := readingOf(m, "K1").Value(figure.Errors).N
	require.Positive(t, before)
	for _, bad := range []struct{ answer, until, reason, want string }{
		{check.Accept, "", "r", "has an end"},
		{check.Accept, "2026-01", "r", "before the first"},
		{check.Accept, "soon", "r", "Until"},
		{check.Accept, "2026-06", " ", "needs a reason"},
		{check.SendBack, "", "", "needs a reason"},
	} {
		_, err := check.In(o).Answer(ctx, operator, m, change.Unseen, []office.FindingKey{key(all[twice])}, bad.answer, bad.until, bad.reason)
		require.ErrorIs(t, err, office.ErrRefused)
		require.ErrorContains(t, err, bad.want)
	}
	n, err := check.In(o).Answer(ctx, operator, m, change.Unseen, []office.FindingKey{key(all[twice]), key(all[back]), {Project: "K1", Check: "gone"}}, check.Accept, "2026-03", "the yard told us")
	require.NoError(t, err)
	require.Equal(t, 2, n)
	_, err = check.In(o).Answer(ctx, operator, m, change.Unseen, []office.FindingKey{key(all[posted])}, check.SendBack, "", "One invoice or two?")
	require.NoError(t, err)
	m = february(t, o)
	now := found(m)
	require.Equal(t, finding.Accepted, now[twice].State)
	require.Equal(t, "the yard told us", now[twice].Answer.Reason)
	require.Equal(t, operator.Name, now[twice].Answer.By)
	require.Equal(t, finding.SentBack, now[posted].State)
	require.Less(t, readingOf(m, "K1").Value(figure.Errors).N, before)

	c, err := check.In(o).Checking(ctx, operator, m, check.FindingFilter{State: "unexplained"})
	require.NoError(t, err)
	for _, f := range c.Found {
		require.NotContains(t, []string{twice, back, posted}, f.Project+" "+f.Check+" "+f.Record)
	}
	gatherMap(t, o, map[string]string{"costs.csv": "project,cost_code,kind,period,amount\nK1,10,actual,2026-02,110.00\n"})
	require.Equal(t, finding.Back, found(february(t, o))[twice].State, "another amount is another matter")

	_, err = check.In(o).Answer(ctx, operator, february(t, o), change.Unseen, []office.FindingKey{key(all[back])}, check.Withdraw, "", "")
	require.NoError(t, err)
	require.Equal(t, finding.Open, found(february(t, o))[back].State)

	p, err := o.ParsePeriod(ctx, operator, "2026-02")
	require.NoError(t, err)
	_, err = closing.In(o).ClosePeriod(ctx, operator, p)
	require.NoError(t, err)
	m = february(t, o)
	require.Equal(t, finding.Back, found(m)[twice].State, "the cut keeps what was said")
	_, err = check.In(o).Answer(ctx, operator, m, change.Unseen, []office.FindingKey{key(all[back])}, check.Accept, "2026-06", "late")
	require.ErrorContains(t, err, "is closed")
	march := moment(t, o, office.Ask{At: "2026-03"})
	require.Equal(t, 2, found(march)[twice].Age, "found first a period ago")
}

// TestCauses: counted, summed, filtered, and written out.
func TestCauses(t *testing.T) {
	ctx := context.Background()
	o := checkedOffice(t)
	m := february(t, o)
	c, err := check.In(o).Checking(ctx, operator, m, check.FindingFilter{})
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
		some, err := check.In(o).Checking(ctx, operator, m, f)
		require.NoError(t, err)
		require.NotEmpty(t, some.Found, f)
		require.LessOrEqual(t, len(some.Found), len(c.All))
		require.Equal(t, c.Counts, some.Counts, "the counts are of all")
	}
	one, err := check.In(o).Check(ctx, operator, "2026-02", "K2")
	require.NoError(t, err)
	for _, f := range one {
		require.Equal(t, "K2", f.Project)
	}
	_, err = check.In(o).Check(ctx, operator, "2026-02", "nope")
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
	o := checkedOffice(t)
	change := map[string]string{"costs.csv": "project,cost_code,kind,period,version,amount\nK2,10,plan,2026-01,1,650.00\n"}
	const changed = "K2 plan-changed plan 1"
	r, err := entry.In(o).Gather(ctx, operator, []entry.File{{Name: "costs.csv", Body: []byte(change["costs.csv"])}}, nil, entry.Options{DryRun: true, Effect: true})
	require.NoError(t, err)
	_, brought := r.Effects[0].Settles()
	require.Equal(t, "plan-changed", brought[0].Check, "told before it is taken")
	gatherMap(t, o, change)
	require.Equal(t, int64(5000), found(february(t, o))[changed].Money)
	gatherMap(t, o, map[string]string{"costs.csv": "project,cost_code,kind,period,version,amount\nK2,10,plan,2026-01,1,600.00\n"})
	f, still := found(february(t, o))[changed]
	require.False(t, still, f.Text)
}

// TestChecksTravel: what is said about findings, checks and rules goes out with
// an export and comes back the same.
func TestChecksTravel(t *testing.T) {
	ctx := context.Background()
	o := checkedOffice(t)
	m := february(t, o)
	_, err := check.In(o).Answer(ctx, operator, m, change.Unseen, []office.FindingKey{key(found(m)[twice])}, check.Accept, "2026-04", "r")
	require.NoError(t, err)
	require.NoError(t, check.In(o).LeaveOut(ctx, operator, m, change.Unseen, "K2", "posted-twice", "", "the ledger books two lines an invoice"))
	gatherMap(t, o, map[string]string{
		"checks.csv":     "check,from,severity,limit,over,expression,title,says\nprogress-back,2026-02,error,,,,,\nours,2026-02,note,,project,ac > 100,Spends,{ac} is spent.\n",
		"dimensions.csv": "dimension,title,weight\nsafety,Safety,2\n",
		"policies.csv":   "policy,from,how\noverall,2026-02,worst\n",
		"rules.csv":      "dimension,reading,from,direction,watch,act,scope,title\nsafety,risk_exposure,2026-02,at least,5,10,,\ncost,ac / bac,2026-02,above,0.3,0.9,K1,Spent share\n",
	})
	want := found(february(t, o))
	require.Equal(t, finding.Error, want[back].Severity)
	require.NotContains(t, want, posted)
	require.Equal(t, "340 EUR is spent.", want["K1 ours "].Text)
	dir := filepath.Join(t.TempDir(), "out")
	require.NoError(t, export.In(o).Export(ctx, operator, dir))
	again := newOffice(t)
	r := gatherPaths(t, again, entry.Options{}, dir)
	require.Empty(t, r.Refusals)
	got := found(february(t, again))
	require.Equal(t, len(want), len(got))
	for k, f := range want {
		require.Equal(t, f.Text, got[k].Text, k)
		require.Equal(t, f.State, got[k].State, k)
		require.Equal(t, f.Severity, got[k].Severity, k)
	}
	a, b := readingOf(february(t, o), "K1"), readingOf(february(t, again), "K1")
	require.Equal(t, a.Version, b.Version, "the rule set is the same one")
	require.Equal(t, a.Standing, b.Standing)
}

// TestLinksAcross: a change of the other project brings and settles the
// finding of this one.
func TestLinksAcross(t *testing.T) {
	o := checkedOffice(t)
	const broken = "K2 link-broken link K1/A to A"
	gatherMap(t, o, map[string]string{
		"links.csv":    "project,from,to,type\nK2,K1/A,A,SS\n",
		"progress.csv": "project,activity,period,start,finish\nK1,A,2026-02,2026-01-05,2026-06-26\nK2,A,2026-02,2026-01-05,2026-06-26\n",
	})
	require.NotContains(t, found(february(t, o)), broken)
	late := map[string]string{"progress.csv": "project,activity,period,actual_start\nK1,A,2026-02,2026-02-02\n"}
	r, err := entry.In(o).Gather(context.Background(), operator, []entry.File{{Name: "progress.csv", Body: []byte(late["progress.csv"])}}, nil, entry.Options{DryRun: true, Effect: true})
	require.NoError(t, err)
	var brings []string
	for _, e := range r.Effects {
		if e.Code == "K2" {
			brings = e.Brings
		}
	}
	require.Len(t, brings, 1, "it is told before")
	require.Contains(t, brings[0], "A of K1 its start on 2 Feb 2026")
	gatherMap(t, o, late)
	require.Contains(t, found(february(t, o)), broken)
	gatherMap(t, o, map[string]string{"progress.csv": "project,activity,period,actual_start\nK1,A,2026-02,2026-01-05\n"})
	require.NotContains(t, found(february(t, o)), broken)
}

// TestQuestions: a lead sees those of their own projects.
func TestQuestions(t *testing.T) {
	ctx := context.Background()
	o := checkedOffice(t)
	m := february(t, o)
	all := found(m)
	_, err := check.In(o).Answer(ctx, operator, m, change.Unseen, []office.FindingKey{key(all[back]), key(all[posted])}, check.SendBack, "", "Why?")
	require.NoError(t, err)
	m = february(t, o)
	require.Len(t, m.Questions(operator), 2)
	lead := admitted(t, o, "ben", office.Lead, "K2")
	list := m.Questions(lead)
	require.Len(t, list, 1)
	require.Equal(t, "K2", list[0].Project)
}

// TestFindingsOfCuts: a closed period keeps what was found and said, and its
// inputs give the same again.
func TestFindingsOfCuts(t *testing.T) {
	ctx := context.Background()
	o := checkedOffice(t)
	m := february(t, o)
	_, err := check.In(o).Answer(ctx, operator, m, change.Unseen, []office.FindingKey{key(found(m)[twice])}, check.Accept, "2026-06", "r")
	require.NoError(t, err)
	gatherMap(t, o, map[string]string{"costs.csv": "project,cost_code,kind,period,version,amount\nK2,10,plan,2026-01,1,650.00\n"})
	want := found(february(t, o))
	p, err := o.ParsePeriod(ctx, operator, "2026-02")
	require.NoError(t, err)
	_, err = closing.In(o).ClosePeriod(ctx, operator, p)
	require.NoError(t, err)
	closed := february(t, o)
	require.Equal(t, want, found(closed), "what the cut keeps")
	for _, id := range []figure.ID{figure.Errors, figure.Warnings} { // computed anew from its inputs
		for _, code := range []string{"K1", "K2"} {
			tr, err := trail.In(o).Trail(ctx, operator, closed, false, code, id)
			require.NoError(t, err)
			require.Empty(t, tr.Drift, code)
		}
	}
	original := moment(t, o, office.Ask{At: "2026-02", Against: "original"}) // from the cut's inputs
	for k, f := range want {
		require.Equal(t, f.Since, found(original)[k].Since, k)
		require.Equal(t, f.State, found(original)[k].State, k)
	}
}

// TestTwoCorrectTheSame: who comes second sees what the first put there, and
// chooses; what only the first changed stays.
func TestTwoCorrectTheSame(t *testing.T) {
	ctx := context.Background()
	o := checkedOffice(t)
	m := february(t, o)
	f := found(m)[back]
	seen := map[string]string{"percent": "35"}
	mira := office.Actor{Name: "Mira Stenholt", Role: office.Analyst}
	_, err := check.In(o).Correct(ctx, mira, m, key(f), map[string]string{"percent": "38"}, seen, false)
	require.NoError(t, err)

	m = february(t, o) // the second still has the form as it was
	_, err = check.In(o).Correct(ctx, operator, m, key(f), map[string]string{"percent": "39"}, seen, false)
	require.ErrorIs(t, err, office.ErrRefused)
	require.ErrorContains(t, err, "Percent was changed meanwhile by Mira Stenholt")
	require.ErrorContains(t, err, "it says 38 now. Yours, 39, is still in the form")
	_, err = check.In(o).Correct(ctx, operator, m, key(f), map[string]string{"percent": "38"}, seen, false)
	require.ErrorContains(t, err, "Nothing is changed yet", "the same value is theirs")
	_, err = check.In(o).Correct(ctx, operator, m, key(f), map[string]string{"percent": "35"}, seen, false)
	require.ErrorContains(t, err, "Nothing is changed yet", "what the second did not touch stays the first's")
	require.Equal(t, "K1 progress A, stated 2026-02 percent: 35 → 38", wrote(batches(t, o, history.Ask{Project: "K1", Table: "progress", Who: "mira"})[0].Rows)[0])
	_, err = check.In(o).Correct(ctx, operator, february(t, o), key(f), map[string]string{"percent": "39"}, map[string]string{"percent": "38"}, false)
	require.NoError(t, err, "the second chose to put theirs in its place")
}
