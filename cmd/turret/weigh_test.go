package main

import (
	"context"
	"encoding/json"
	"math"
	"path/filepath"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/exception"
	"turret/internal/core/figure"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
	"turret/internal/demo"
	"turret/internal/office"
	"turret/internal/office/weigh"
)

// printed are readings as the command prints them, by project.
type printed map[string]map[string]any

// number gives a figure; NaN where it is not known.
func (p printed) number(project, name string) float64 {
	if f, ok := p[project][name].(float64); ok {
		return f
	}
	return math.NaN()
}

func printedAt(t *testing.T, db, period, currency string) printed {
	t.Helper()
	code, out, errs := cli("readings", "--db", db, "--period", period, "--currency", currency, "--json")
	require.Equal(t, done, code, errs)
	var rows []map[string]any
	require.NoError(t, json.Unmarshal([]byte(out), &rows))
	p := make(printed)
	for _, r := range rows {
		if r["kind"] == "project" {
			p[r["code"].(string)] = r
		}
	}
	return p
}

// demoOffice makes the demonstration, and gives it with its file.
func demoOffice(t *testing.T) (*office.Office, string) {
	t.Helper()
	db := filepath.Join(t.TempDir(), "demo.db")
	o, err := demo.Make(context.Background(), db)
	require.NoError(t, err)
	t.Cleanup(func() { o.Close() })
	return o, db
}

// TestExceptionsAreWhatReadingsSay: every list of exceptions is found again,
// plainly, in what the command readings prints of a period and of those before.
func TestExceptionsAreWhatReadingsSay(t *testing.T) {
	ctx := context.Background()
	o, db := demoOffice(t)
	at := make(map[string]printed)
	periods := []string{
		"2026-11",
		"2026-10",
		"2026-09",
		"2026-08",
		"2026-07",
		"2026-06",
		"2026-05",
		"2026-04",
		"2026-03",
	}
	for _, p := range periods {
		at[p] = printedAt(t, db, p, "project")
	}
	total := 0
	for first := range 5 {
		m, err := o.Moment(ctx, me(), office.Ask{At: periods[first]})
		require.NoError(t, err)
		e, err := weigh.In(o).Exceptions(ctx, me(), m, weigh.ExceptionAsk{})
		require.NoError(t, err)
		got := make(map[exception.Kind][]string)
		for _, p := range e.Projects {
			for _, c := range p.Cases {
				got[c.Kind] = append(got[c.Kind], p.Code)
			}
		}
		want := make(map[exception.Kind][]string)
		for code := range at[periods[first]] {
			r, _ := m.Find(code)
			for _, k := range plainly(at, periods[first:], code, r) {
				want[k] = append(want[k], code)
			}
		}
		for _, r := range exception.Rules {
			slices.Sort(got[r.Kind])
			slices.Sort(want[r.Kind])
			require.Equal(t, want[r.Kind], got[r.Kind], "%s at %s", r.Title, periods[first])
			total += len(got[r.Kind])
		}
	}
	require.Greater(t, total, 80, "the demonstration has something to find")
}

// TestMapAndDriversAreWhatReadingsSay: the places of the map, the means of drivers
// and what came of forecasts are what the command readings prints.
func TestMapAndDriversAreWhatReadingsSay(t *testing.T) {
	ctx := context.Background()
	o, db := demoOffice(t)
	m, err := o.Moment(ctx, me(), office.Ask{At: "2026-11"})
	require.NoError(t, err)
	now := printedAt(t, db, "2026-11", "reporting")
	inOwn := printedAt(t, db, "2026-11", "project")
	over := func(code string) float64 { return inOwn.number(code, "eac_computed")/inOwn.number(code, "bac") - 1 }

	plan, err := weigh.In(o).Map(ctx, me(), m, weigh.MapAsk{})
	require.NoError(t, err)
	require.Len(t, plan.Marks, 24)
	for _, k := range plan.Marks {
		require.InDelta(t, over(k.Code)*100, k.X, 1e-6, k.Code)
		require.Equal(t, now.number(k.Code, "finish_slip"), k.Y, k.Code)
		require.InDelta(t, now.number(k.Code, "bac")/1000, k.Size, 1e-6, k.Code)
	}

	d, err := weigh.In(o).Drivers(ctx, me(), m, weigh.DriversAsk{By: "lead"})
	require.NoError(t, err)
	costs, slips, money := make(map[string][]float64), make(map[string][]float64), make(map[string]float64)
	for _, k := range plan.Marks { // the demonstration has both outcomes of every project
		costs[k.Lead] = append(costs[k.Lead], over(k.Code))
		slips[k.Lead] = append(slips[k.Lead], now.number(k.Code, "finish_slip"))
		money[k.Lead] += now.number(k.Code, "bac")
	}
	require.Len(t, d.Now.Values, len(costs))
	for _, v := range d.Now.Values {
		require.Equal(t, len(costs[v.Value]), v.Count, v.Value)
		require.InDelta(t, mean(costs[v.Value]), v.Groups[0].Mean, 1e-9, v.Value)
		require.InDelta(t, mean(slips[v.Value]), v.Groups[1].Mean, 1e-9, v.Value)
		require.InDelta(t, money[v.Value]*100, float64(v.Money), 0.5, v.Value)
	}

	f, err := weigh.In(o).Forecasts(ctx, me(), m, "FR-01", 3)
	require.NoError(t, err)
	own := inOwn.number("FR-01", "ac")
	before := printedAt(t, db, "2026-08", "project").number("FR-01", "ac")
	last := f.Pairs[len(f.Pairs)-1]
	require.Equal(t, []string{"Aug 2026", "Nov 2026"}, []string{last.Made, last.Through})
	require.InDelta(t, (own-before)*100, float64(last.Came), 0.5)
}

func mean(list []float64) (sum float64) {
	for _, x := range list {
		sum += x / float64(len(list))
	}
	return sum
}

// plainly finds the kinds of exceptions of a project by the usual limits.
func plainly(at map[string]printed, periods []string, code string, r *office.Reading) (out []exception.Kind) {
	n := func(back int, name string) float64 { return at[periods[back]].number(code, name) }
	if r.State == portfolio.Cancelled || r.State == portfolio.Proposed {
		return nil
	}
	add := func(k exception.Kind, is bool) {
		if is {
			out = append(out, k)
		}
	}
	over := n(0, "eac_computed")/n(0, "bac") - 1
	add(exception.Over, over >= 0.05)
	add(exception.Under, over <= -0.05)
	if r.State != portfolio.Active {
		return out
	}
	step := func(back int, name string) float64 {
		was := n(back+1, name)
		if math.IsNaN(was) {
			was = 0 // before it began
		}
		return n(back, name) - was
	}
	add(
		exception.Masked,
		step(0, "ac") > 0 && step(0, "ev")/step(0, "ac") < 0.90 && n(0, "cpi") >= 0.95 ||
			step(0, "pv") != 0 && step(0, "ev")/step(0, "pv") < 0.90 && n(0, "spi") >= 0.95,
	)
	worse := false
	for _, f := range []func(back int) float64{
		func(b int) float64 { return -n(b, "cpi") }, func(b int) float64 { return -n(b, "spi_t") }, func(b int) float64 { return n(b, "eac_computed")/n(b, "bac") - 1 },
	} {
		worse = worse || f(0) > f(1) && f(1) > f(2) && f(2) > f(3) && f(0)-f(3) >= 0.02
	}
	add(exception.Worsening, worse)
	spent, earned := n(0, "ac")-n(2, "ac"), n(0, "ev")-n(2, "ev")
	add(exception.Idle, spent > 0 && spent/n(0, "bac") >= 0.01 && earned/spent < 0.10)
	low, high := n(0, "eac_stated"), n(0, "eac_stated")
	for b := 1; b <= 4; b++ {
		low, high = min(low, n(b, "eac_stated")), max(high, n(b, "eac_stated"))
	}
	age := r.Value(figure.ForecastAge)
	add(
		exception.Unmoved,
		age.Known && age.N >= 4 ||
			(high-low)/n(0, "bac") <= 0.005 && math.Abs(n(0, "eac_computed")-n(4, "eac_computed"))/n(0, "bac") >= 0.02,
	)
	after := n(0, "eac_computed") > n(0, "eac_stated")
	for b := range 3 {
		rise, beyond := n(b, "eac_stated")-n(b+1, "eac_stated"), n(b, "ac")-n(b+1, "ac")-(n(b, "ev")-n(b+1, "ev"))
		after = after && rise > 0 && beyond > 0 && rise <= 1.25*beyond
	}
	add(exception.After, after)
	f := n(0, "earned_share")
	doubtful := f >= 0.15 && f <= 0.95 && math.Abs(n(0, "tcpi_eac")-n(0, "cpi")) > 0.10 &&
		n(0, "eac_stated") < n(0, "eac_computed")
	x := standing.Result{HasStated: r.HasSaid, Stated: r.Stated}
	x.Computed[standing.Overall] = r.Computed[standing.Overall]
	add(exception.Hopeful, doubtful || x.Disagrees())
	return out
}
